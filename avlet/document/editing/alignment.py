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
    n = _INDEX[axis]
    line = joint[n] + joint[n + 2] * share
    return _moved_by(template, {i: line - boxes[i][n] - boxes[i][n + 2] * share for i in part_ids}, axis, shown)


def spread(template: Template, boxes: Mapping[str, Box], part_ids: list[str], axis: AxisName, shown: Shown) -> dict[str, float]:
    """The gaps that make the room between parts equal; the outermost two stay."""
    if len(part_ids) < 3:
        raise DocumentError("Select at least three parts to spread them.")
    n, wanted = _INDEX[axis], dict[str, float]()
    ordered = sorted(part_ids, key=lambda i: boxes[i][n] + boxes[i][n + 2] / 2)
    first, last = boxes[ordered[0]], boxes[ordered[-1]]
    room = last[n] + last[n + 2] - first[n] - sum(boxes[i][n + 2] for i in ordered)
    gap, at = room / (len(ordered) - 1), first[n]
    for part_id in ordered:
        wanted[part_id] = at - boxes[part_id][n]
        at += boxes[part_id][n + 2] + gap
    return _moved_by(template, wanted, axis, shown)


def _moved_by(template: Template, wanted: Mapping[str, float], axis: AxisName, shown: Shown) -> dict[str, float]:
    """The gaps with which each part moves by as much as is wanted of it, those it hangs on included: none is moved twice."""
    changes: dict[str, float] = {}

    def moves(part_id: str) -> float:
        """How far a part moves by the changes so far."""
        return sum(changes.get(at, 0.0) for at in _hangs_on(template, part_id, axis))

    for part_id in sorted(wanted, key=lambda i: len(_hangs_on(template, i, axis))):
        for at in leaders(template, [part_id], axis):
            if at not in changes:
                place = getattr(template.part(at), axis)
                changes[at] = wanted[part_id] - moves(place.on)
    values: dict[str, float] = {}
    for at, by in changes.items():
        if abs(by) > 1e-9:
            _add_to_gap(values, at, axis, by, shown)
    return values


def _hangs_on(template: Template, part_id: str, axis: str) -> list[str]:
    """All whose gaps move a part along an axis: its leader, that of what this is placed on, and so on."""
    found: dict[str, None] = {}
    first, *_ = [*without_groups(template, [part_id]), part_id]
    at = leader(template, first, axis)
    while at is not None and at not in found:
        found[at] = None
        place = getattr(template.part(at), axis)
        at = leader(template, place.on, axis) if place is not None else None
    return list(found)
