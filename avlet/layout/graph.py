"""The one dependency graph of sizes and places, and circles in words."""

import itertools
from collections.abc import Mapping
from graphlib import CycleError, TopologicalSorter
from typing import Literal, NamedTuple

from avlet.document.parts import FRAME_AREAS, AnyPart, EchoPart, GroupPart, RulePart, fit_of
from avlet.errors import RelationError

Axis = Literal[0, 1]


class Node(NamedTuple):
    """What is worked out in one step: a part's size or position along one axis (0 across, 1 down)."""

    part: str
    axis: Axis
    what: Literal["size", "at"]


def order(parts: Mapping[str, AnyPart]) -> list[Node]:
    """Every node after those that it needs; raises ``RelationError`` naming the circle.

    The order hangs on the relations alone, so it is kept while only numbers change.
    """
    key = tuple(_relations(part) for part in parts.values())
    if key not in _kept:
        if len(_kept) >= _MOST_KEPT:
            _kept.clear()
        _kept[key] = _order(parts)
    return _kept[key]


_kept: dict[object, list[Node]] = {}
_MOST_KEPT = 64


def _relations(part: AnyPart) -> tuple[object, ...]:
    """All that the order hangs on."""
    fit, across, down = fit_of(part), part.across, part.down
    return (
        part.id, type(part), part.group, fit and (fit.around, fit.axes), across and across.on, down and down.on,
        getattr(part, "direction", None), getattr(part, "of", None),
    )  # fmt: skip


def _order(parts: Mapping[str, AnyPart]) -> list[Node]:
    members: dict[str, list[str]] = {}
    for part in parts.values():
        if part.group is not None:
            members.setdefault(part.group, []).append(part.id)
    graph = {
        Node(part.id, axis, what): _needs(part, axis, what, parts, members.get(part.id, []))
        for part in parts.values()
        for axis in (0, 1)
        for what in ("size", "at")
    }
    try:
        return list(TopologicalSorter(graph).static_order())
    except CycleError as error:
        raise RelationError(_in_words(error.args[1], parts)) from None


def fits_along(part: AnyPart, axis: Axis) -> bool:
    """Whether the part's size along an axis comes from a fit. A rule's thickness never does."""
    fit = fit_of(part)
    if fit is None or fit.axes not in ("both ways", ("width", "height")[axis]):
        return False
    return not isinstance(part, RulePart) or (part.direction == "across") == (axis == 0)


def _needs(part: AnyPart, axis: Axis, what: str, parts: Mapping[str, AnyPart], members: list[str]) -> list[Node]:
    if isinstance(part, GroupPart):
        return [Node(i, axis, w) for i in members for w in ("size", "at")]
    if isinstance(part, EchoPart) and what == "size":
        return [Node(part.of, axis, "size")] if part.of in parts else []
    fit = fit_of(part)
    around = [i for i in fit.around if i in parts] if fit else []
    if what == "size":
        if not fits_along(part, axis):
            return []
        needs = [Node(i, axis, "size") for i in around]
        return needs if len(around) == 1 else needs + [Node(i, axis, "at") for i in around]
    needs = [Node(part.id, axis, "size")]
    place = part.across if axis == 0 else part.down
    if place is None:
        return needs + [Node(i, axis, w) for i in around for w in ("size", "at")]
    if place.on in FRAME_AREAS or place.on not in parts:
        return needs
    return [*needs, Node(place.on, axis, "size"), Node(place.on, axis, "at")]


def _in_words(circle: list[Node], parts: Mapping[str, AnyPart]) -> str:
    """A circle as sentences: *Plate fits around Name, Name is placed on Plate*. graphlib lists it needed first."""
    said: dict[str, None] = {}
    for needed, node in itertools.pairwise(circle):
        if needed.part == node.part:
            continue
        place = parts[node.part].across if node.axis == 0 else parts[node.part].down
        name, other = parts[node.part].name, parts[needed.part].name
        if isinstance(parts[node.part], GroupPart):
            how = "holds"
        elif isinstance(parts[node.part], EchoPart) and node.what == "size":
            how = "is an echo of"
        else:
            how = "fits around" if node.what == "size" or place is None else "is placed on"
        said[f"{name} {how} {other}"] = None
    return f"These run in a circle: {', '.join(said)}. Place or size one of them by hand."
