"""Arrange: the resting layout, how everything sits once it has arrived."""

import math
from collections.abc import Mapping
from dataclasses import replace
from types import MappingProxyType

from avlet.document.parts import EDGE_SHARES, FRAME_AREAS, AnyPart, Place, TextBox, TextPart
from avlet.geometry import AXES, Axis, Box
from avlet.layout.areas import frame_area
from avlet.layout.bind import Bound, with_measures
from avlet.layout.bodies.table import BODIES
from avlet.layout.graph import order
from avlet.layout.rest import Rest, RestPart, edge_offset
from avlet.text.fonts import FontBook
from avlet.text.setting import Setting, set_text


def arrange(bound: Bound, book: FontBook) -> Rest:
    """Work out every size and place. Raises ``RelationError`` when they run in a circle.

    Wires that hang on measures are put to work on a first layout, and again on what that gives, until nothing changes: as often
    as they follow on each other.
    """
    rest = _arranged(bound, book, {})
    for _ in bound.measured:
        again = with_measures(bound, rest)
        if (again.parts, again.template) == (rest.bound.parts, rest.bound.template):
            return replace(rest, bound=again)  # nothing moves any more, but what a wire could not do is known only now
        rest = _arranged(again, book, rest.parts)
    return rest


def _arranged(bound: Bound, book: FontBook, before: Mapping[str, RestPart]) -> Rest:
    """The layout of parts as they are; words that were set ``before`` in the same way are taken over."""
    layout = _Layout(bound, book, before)
    for node in order(layout.parts, bound.hangs_on):
        if node.what == "size":
            layout.work_out_size(node.part, node.axis)
        else:
            layout.work_out_position(node.part, node.axis)
    return Rest(bound, MappingProxyType({part.id: layout.rest_of(part) for part in bound.parts}))


class _Layout:
    """Sizes and positions as they become known, per part and axis."""

    def __init__(self, bound: Bound, book: FontBook, before: Mapping[str, RestPart]) -> None:
        self.parts = {part.id: part for part in bound.parts}
        self.frame, self.book, self._before = bound.template.frame, book, before
        self.bodies = {part.id: BODIES[type(part)](part, self) for part in bound.parts}
        self._members: dict[str, list[str]] = {}
        for part in bound.parts:
            if part.group is not None:
                self._members.setdefault(part.group, []).append(part.id)
        self.sizes: dict[tuple[str, Axis], float] = {}
        self.positions: dict[tuple[str, Axis], float] = {}

    def set_again(self, part_id: str, text: TextPart) -> Setting:
        """The words of a text, from a layout before where they are the same there."""
        known = self._before.get(part_id)
        if known is not None and known.words is not None and (known.body.standing_in or known).part == text:
            return known.words
        return set_text(text, self.book)

    def rest_of(self, part: AnyPart) -> RestPart:
        """A part at rest, once all is worked out."""
        body = self.bodies[part.id].settled(part, self)
        return RestPart(part, self.box(part.id), body, *self.presence(part.id), tuple(body.notes(part, self.frame)))

    def members(self, group: str) -> list[str]:
        """The ids of a group's members, back to front."""
        return self._members.get(group, [])

    def box(self, part_id: str) -> Box:
        """The box of a part, once its sizes and positions are worked out."""
        at, size = self.positions, self.sizes
        return Box(*(float(v) for v in (at[part_id, 0], at[part_id, 1], size[part_id, 0], size[part_id, 1])))

    def presence(self, part_id: str) -> tuple[bool, bool]:
        """Whether a part is there, and whether it would be if its groups were shown."""
        there = self.there(part_id)
        return there, there or (self.parts[part_id].group is not None and self.there(part_id, grouped=False))

    def there(self, part_id: str, asked: frozenset[str] = frozenset(), grouped: bool = True) -> bool:
        """Whether a part is there: shown, and kept there by what it is made of and by what it fits around, if it vanishes with that.

        Chains of such parts may be long: each link is one call of this.
        """
        part = self.parts[part_id]
        if not part.shown or (grouped and not self._group_shown(part.group)):
            return False
        if not self.bodies[part_id].there(part, self, asked, grouped):
            return False
        fit = part.fitted
        if fit is None or not fit.vanishes or any(i in FRAME_AREAS for i in fit.around):
            return True
        others, asked = [i for i in fit.around if i in self.parts and i not in asked], asked | {part_id}
        for other in others:
            if self.filled(other) and self.there(other, asked, grouped):
                return True
        return not others

    def hidden(self, part_id: str) -> bool:
        """Whether a part is switched off."""
        return not self.parts[part_id].shown

    def _group_shown(self, group: str | None) -> bool:
        while group is not None and group in self.parts:
            if not self.parts[group].shown:
                return False
            group = self.parts[group].group
        return True

    def filled(self, part_id: str) -> bool:
        """Whether there is something in a part."""
        return self.bodies[part_id].filled(self.parts[part_id], self)

    def work_out_size(self, part_id: str, axis: Axis) -> None:
        part = self.parts[part_id]
        if part.fits_along(axis):
            spans = [self._fitted_span(part, along) for along in (AXES if part.is_round else (axis,))]
            self.sizes[part_id, axis] = max(0.0, math.hypot(*(high - low for low, high in spans)))
        else:
            self.sizes[part_id, axis] = self.bodies[part_id].size(part, self, axis)

    def joint(self, part_id: str, axis: Axis) -> tuple[float, float]:
        """Low and high edge of a group: of the members that are there, or of all when none is; nothing at 0 without any.

        What is not seen takes no room beside others.
        """
        inside = self.members(part_id)
        members = [i for i in inside if self.bodies[i].takes_room] or inside
        seen = [i for i in members if self.there(i) and self.filled(i)] or members
        edges = [self._edges(i, axis, "line box") for i in seen] or [(0.0, 0.0)]
        return min(low for low, _ in edges), max(high for _, high in edges)

    def work_out_position(self, part_id: str, axis: Axis) -> None:
        part = self.parts[part_id]
        place = part.across if axis == 0 else part.down
        size = self.sizes[part_id, axis]
        begins = self.bodies[part_id].begins(part, self, axis)
        if begins is not None:
            self.positions[part_id, axis] = begins
        elif place is None:
            low, high = self._fitted_span(part, axis)
            self.positions[part_id, axis] = low if part.fits_along(axis) and not part.is_round else (low + high - size) / 2
        else:
            self.positions[part_id, axis] = self._placed(part_id, place, axis)

    def _placed(self, part_id: str, place: Place, axis: Axis) -> float:
        """Where a part begins by a place. One that closes up behind, or before, what is empty has the place of that instead."""
        on = self.parts.get(place.on)
        if on is not None and place.closes and {place.mine, place.theirs} == {"start", "end"} and self._empty(on.id):
            theirs = on.across if axis == 0 else on.down
            if theirs is not None:
                return self._placed(part_id, theirs, axis)
        own = edge_offset(place.mine, axis, self.sizes[part_id, axis], self.bodies[part_id].words)
        return self._anchor(place, axis) + place.gap - own

    def _empty(self, part_id: str) -> bool:
        return not (self.there(part_id) and self.filled(part_id))

    def _anchor(self, place: Place, axis: Axis) -> float:
        """Where the edge is that a place stands on."""
        if place.on not in self.parts:
            area = frame_area(place.on, self.frame)
            return area[axis] + area[axis + 2] * EDGE_SHARES[place.theirs]
        if place.closes and self._empty(place.on):
            return self._closed_up(place.on, axis)
        offset = edge_offset(place.theirs, axis, self.sizes[place.on, axis], self.bodies[place.on].words)
        return self.positions[place.on, axis] + offset

    def _closed_up(self, part_id: str, axis: Axis) -> float:
        """Where a part that is not there would have begun: its own placed edge, as if it had no size."""
        part = self.parts[part_id]
        place = part.across if axis == 0 else part.down
        if place is not None:
            return self._anchor(place, axis) + place.gap
        fit = part.fitted
        if fit is None or fit.around[0] not in self.parts:
            return self.positions[part_id, axis]
        return self._closed_up(fit.around[0], axis)

    def _fitted_span(self, part: AnyPart, axis: Axis) -> tuple[float, float]:
        """Low and high edge of what a part fits around, padding included; parts that are switched off count only if all are.

        A single part's position may still be unknown: its size is all that is needed then.
        """
        fit = part.fitted
        assert fit is not None
        around = [i for i in fit.around if i in self.parts or i in FRAME_AREAS]
        shown = [i for i in around if i in FRAME_AREAS or (self.there(i) and self.filled(i))] or around
        edges = [self._edges(i, axis, fit.box) for i in shown]
        before, after = (fit.left, fit.right) if axis == 0 else (fit.top, fit.bottom)
        low, high = min(low for low, _ in edges), max(high for _, high in edges)
        share = (fit.share_width if axis == 0 else fit.share_height) / 100
        if share != 1:
            low, high = (low + high) / 2 - (high - low) * share / 2, (low + high) / 2 + (high - low) * share / 2
        low, high = low - before, high + after
        least, most = (fit.least_width, fit.most_width) if axis == 0 else (fit.least_height, fit.most_height)
        high = max(low, high)  # padding below nothing leaves nothing
        size = max(high - low, least)
        spare = (min(size, most) if most else size) - (high - low)
        return low - spare / 2, high + spare / 2

    def _edges(self, part_id: str, axis: Axis, kind: TextBox) -> tuple[float, float]:
        if part_id in FRAME_AREAS:
            area = frame_area(part_id, self.frame)
            return area[axis], area[axis] + area[axis + 2]
        at = self.positions.get((part_id, axis), 0.0)
        setting = self.bodies[part_id].words
        if setting is None:
            return at, at + self.sizes[part_id, axis]
        box = setting.box(kind)
        return at + box[axis], at + box[axis] + box[axis + 2]
