"""The one dependency graph of sizes and places, and circles in words."""

import itertools
from collections.abc import Mapping
from graphlib import CycleError, TopologicalSorter
from typing import Literal, NamedTuple

from avlet.document.metadata import type_at
from avlet.document.parts import FRAME_AREAS, AnyPart
from avlet.errors import RelationError
from avlet.geometry import AXES, Axis

NODE_KINDS: tuple[Literal["size", "at"], Literal["size", "at"]] = ("size", "at")


class Node(NamedTuple):
    """What is worked out in one step: a part's size or position along one axis (0 across, 1 down)."""

    part: str
    axis: Axis
    what: Literal["size", "at"]


HangsOn = Mapping[str, frozenset[tuple[str, str]]]
"""By the target of a wire that hangs on the resting layout: the parts and measures that it hangs on."""

_AXES: dict[str, tuple[Axis, Literal["size", "at"]]] = {
    "width": (0, "size"), "height": (1, "size"), "left": (0, "at"), "right": (0, "at"), "top": (1, "at"), "bottom": (1, "at"),
}  # fmt: skip


def order(parts: Mapping[str, AnyPart], hangs_on: HangsOn | None = None) -> list[Node]:
    """Every node after those that it needs; raises ``RelationError`` naming the circle.

    The order hangs on the relations and measured wires alone, so it is kept while only numbers change.
    """
    links = _links(hangs_on or {}, parts)
    key = tuple(_relations(part) for part in parts.values()), links
    if key not in _kept:
        if len(_kept) >= _MOST_KEPT:
            _kept.clear()
        _kept[key] = _order(parts, links)
    return _kept[key]


_kept: dict[object, list[Node]] = {}
_MOST_KEPT = 64


def _relations(part: AnyPart) -> tuple[object, ...]:
    """All that the order hangs on."""
    fit, across, down = part.fitted, part.across, part.down
    return (
        part.id, type(part), part.group, fit and (fit.around, fit.axes), across and across.on, down and down.on,
        getattr(part, "direction", None), getattr(part, "of", None),
    )  # fmt: skip


Links = tuple[tuple[Node, tuple[Node, ...]], ...]


def _links(hangs_on: HangsOn, parts: Mapping[str, AnyPart]) -> Links:
    """For each node that a measured wire has a say in: the nodes that it waits for."""
    found = []
    for target, measures in hangs_on.items():
        owner, _, path = target.partition("/")
        changed = _changed_by(parts[owner], path) if owner in parts else []
        nodes: set[Node] = set()
        for part_id, what in measures if changed else ():
            if part_id in parts:
                axis_what = _AXES.get(what)
                nodes |= {Node(part_id, *axis_what)} if axis_what else {Node(part_id, 0, "size"), Node(part_id, 1, "size")}
                if what in ("right", "bottom"):
                    nodes.add(Node(part_id, _AXES[what][0], "size"))
        found += [(waiting, tuple(sorted(nodes))) for waiting in changed]
    return tuple(sorted(found))


_NAMED: dict[str, Axis] = {"across": 0, "down": 1}


def _changed_by(part: AnyPart, path: str) -> list[Node]:
    """The nodes of a part that one of its properties has a say in; none for what is only painted, or for time."""
    kind = type_at(part, path)
    if kind.changes not in ("setting", "layout"):
        return []
    placed = _NAMED.get(path.partition(".")[0])
    if placed is not None:
        return [Node(part.id, placed, "at")]
    axes = AXES if not kind.along else (_NAMED[kind.along],)
    return [Node(part.id, axis, how) for axis in axes for how in NODE_KINDS]


def _order(parts: Mapping[str, AnyPart], links: Links = ()) -> list[Node]:
    members: dict[str, list[str]] = {}
    for part in parts.values():
        if part.group is not None:
            members.setdefault(part.group, []).append(part.id)
    graph = {
        Node(part.id, axis, what): _needs(part, axis, what, parts, members.get(part.id, []))
        for part in parts.values()
        for axis in AXES
        for what in NODE_KINDS
    }
    for waiting, nodes in links:
        graph[waiting].extend(nodes)
    try:
        return list(TopologicalSorter(graph).static_order())
    except CycleError as error:
        raise RelationError(_in_words(error.args[1], parts, links)) from None


def _needs(part: AnyPart, axis: Axis, what: str, parts: Mapping[str, AnyPart], members: list[str]) -> list[Node]:
    if part.holds:
        return [Node(i, axis, w) for i in members for w in ("size", "at")]
    if part.copied is not None and what == "size":
        return [Node(part.copied, axis, "size")] if part.copied in parts else []
    fit = part.fitted
    around = [i for i in fit.around if i in parts] if fit else []
    if what == "size":
        if not part.fits_along(axis):
            return []
        axes = AXES if part.is_round else (axis,)
        needs = [Node(i, along, "size") for i in around for along in axes]
        return needs if len(around) == 1 else needs + [Node(i, along, "at") for i in around for along in axes]
    needs = [Node(part.id, axis, "size")]
    place = part.across if axis == 0 else part.down
    if place is None:
        return needs + [Node(i, axis, w) for i in around for w in ("size", "at")]
    if place.on in FRAME_AREAS or place.on not in parts:
        return needs
    return [*needs, Node(place.on, axis, "size"), Node(place.on, axis, "at")]


def _in_words(circle: list[Node], parts: Mapping[str, AnyPart], links: Links) -> str:
    """A circle as sentences: *Plate fits around Name, Name is placed on Plate*. graphlib lists it needed first."""
    said: dict[str, None] = {}
    for needed, node in itertools.pairwise(circle):
        wired = any(waiting == node and needed in nodes for waiting, nodes in links)
        if needed.part == node.part and not wired:
            continue
        place = parts[node.part].across if node.axis == 0 else parts[node.part].down
        name, other = parts[node.part].name, parts[needed.part].name
        if wired:
            how = "is wired to a measure of"
        elif parts[node.part].holds:
            how = "holds"
        elif parts[node.part].copied is not None and node.what == "size":
            how = "is an echo of"
        else:
            how = "fits around" if node.what == "size" or place is None else "is placed on"
        said[f"{name} {how} {other}"] = None
    return f"These run in a circle: {', '.join(said)}. Place or size one of them by hand."
