"""Moving, aligning and spreading several parts: what follows others is moved through what leads it."""

from collections.abc import Callable, Iterable, Mapping
from typing import Any, Literal

from avlet.document.parts import GroupPart, members_of
from avlet.document.template import Template
from avlet.errors import DocumentError
from avlet.geometry import Box

AxisName = Literal["across", "down"]
_INDEX: dict[AxisName, int] = {"across": 0, "down": 1}


def leader(template: Template, part_id: str, axis: str) -> str | None:
    """The part whose gap along an axis moves ``part_id``: itself, or what it fits around, and so on."""
    seen: set[str] = set()
    while part_id not in seen:
        seen.add(part_id)
        part = template.part(part_id)
        if part is None:
            return None
        if getattr(part, axis) is not None:
            return part_id
        fit = part.fitted
        if fit is None or not fit.around:
            return None
        part_id = fit.around[0]
    return None


def without_groups(template: Template, part_ids: Iterable[str]) -> list[str]:
    """The parts, with members in the place of groups: those are what has a place."""
    found: dict[str, None] = {}
    for part_id in part_ids:
        if isinstance(template.part(part_id), GroupPart):
            found |= dict.fromkeys(without_groups(template, members_of(template.parts, part_id)))
        else:
            found[part_id] = None
    return list(found)


def leaders(template: Template, part_ids: Iterable[str], axis: str) -> list[str]:
    """What has to move along an axis so that all of ``part_ids`` do: none twice, and none that another of them takes along."""
    found = dict.fromkeys(at for at in (leader(template, i, axis) for i in without_groups(template, part_ids)) if at)
    return [at for at in found if not _taken_along(template, at, axis, set(found))]


def _taken_along(template: Template, part_id: str, axis: str, moving: set[str]) -> bool:
    """Whether a part is placed, over others or not, on one that moves anyway."""
    seen: set[str] = set()
    while part_id not in seen:
        seen.add(part_id)
        part = template.part(part_id)
        place = getattr(part, axis) if part else None
        on = leader(template, place.on, axis) if place is not None else None
        if on is None:
            return False
        if on in moving and on not in seen:
            return True
        part_id = on
    return False


Shown = Callable[[str], Any]
"""Tells what a property, by its whole path, is at present."""


def shifted(template: Template, part_ids: Iterable[str], dx: float, dy: float, shown: Shown) -> dict[str, float]:
    """The gaps that move parts by px, together."""
    ids, values = list(part_ids), dict[str, float]()
    for axis, by in (("across", dx), ("down", dy)):
        for at in leaders(template, ids, axis) if by else ():
            _add_to_gap(values, at, axis, by, shown)
    return values


def _add_to_gap(values: dict[str, float], part_id: str, axis: str, by: float, shown: Shown) -> None:
    target = f"{part_id}/{axis}.gap"
    values[target] = round(values.get(target, float(shown(target))) + by, 3)


def aligned(
    template: Template, boxes: Mapping[str, Box], part_ids: list[str], axis: AxisName, share: float, shown: Shown
) -> dict[str, float]:
    """The gaps that bring an edge (share 0 or 1) or the middle (0.5) of parts onto one line: that of their joint box."""
    joint = Box.union(boxes[i] for i in part_ids)
    if joint is None or len(part_ids) < 2:
        raise DocumentError("Select at least two parts to align them.")
    n, values = _INDEX[axis], dict[str, float]()
    line = joint[n] + joint[n + 2] * share
    for part_id in part_ids:
        box = boxes[part_id]
        _move_alone(values, template, part_id, axis, line - box[n] - box[n + 2] * share, shown)
    return values


def spread(template: Template, boxes: Mapping[str, Box], part_ids: list[str], axis: AxisName, shown: Shown) -> dict[str, float]:
    """The gaps that make the room between parts equal; the outermost two stay."""
    if len(part_ids) < 3:
        raise DocumentError("Select at least three parts to spread them.")
    n, values = _INDEX[axis], dict[str, float]()
    ordered = sorted(part_ids, key=lambda i: boxes[i][n] + boxes[i][n + 2] / 2)
    first, last = boxes[ordered[0]], boxes[ordered[-1]]
    room = last[n] + last[n + 2] - first[n] - sum(boxes[i][n + 2] for i in ordered)
    gap, at = room / (len(ordered) - 1), first[n]
    for part_id in ordered:
        _move_alone(values, template, part_id, axis, at - boxes[part_id][n], shown)
        at += boxes[part_id][n + 2] + gap
    return values


def _move_alone(values: dict[str, float], template: Template, part_id: str, axis: AxisName, by: float, shown: Shown) -> None:
    for at in leaders(template, [part_id], axis) if abs(by) > 1e-9 else ():
        _add_to_gap(values, at, axis, by, shown)
