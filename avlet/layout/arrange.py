"""Arrange: the resting layout, how everything sits once it has arrived."""

import functools
from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from avlet.document.forms import FreeForm, path_fault
from avlet.document.parts import (
    ACTION_SAFE,
    FRAME,
    TITLE_SAFE,
    AnyPart,
    Edge,
    PicturePart,
    Place,
    RulePart,
    ShapePart,
    TextBox,
    TextPart,
    fit_of,
    reach,
)
from avlet.document.pictures import read_picture
from avlet.document.template import Frame
from avlet.geometry import Box
from avlet.layout.bind import Bound
from avlet.layout.graph import Axis, fits_along, order
from avlet.text.fonts import FontBook
from avlet.text.setting import Setting, set_text

ACTION_SHARE = 0.93
TITLE_SHARE = 0.90
"""SMPTE ST 2046-1: safe action is 93 % and safe title 90 % of the picture's width and height."""

_SHARES: dict[Edge, float] = {"start": 0.0, "middle": 0.5, "end": 1.0}


@dataclass(frozen=True, eq=False)
class RestPart:
    """One part at rest: its box in px of the frame, its set words if it has any, and what is to be said about it.

    ``present`` is False when it is hidden, or vanishes because what it is there for is empty.
    """

    part: AnyPart
    box: Box
    setting: Setting | None
    present: bool = True
    notes: tuple[str, ...] = ()

    @functools.cached_property
    def reach(self) -> float:
        """How far beyond its outline it may paint, in px."""
        return reach(self.part)

    @property
    def ink(self) -> Box | None:
        """What it paints at rest, without regard to mattes; None if that is nothing."""
        if self.setting is None:
            return None if self.box.empty else self.box
        ink = self.setting.ink_box
        return ink.moved(self.box.x, self.box.y) if ink else None

    def fitted(self, kind: TextBox) -> Box:
        """The box that other parts fit around."""
        return self.setting.box(kind).moved(self.box.x, self.box.y) if self.setting else self.box


@dataclass(frozen=True, eq=False)
class Rest:
    """The resting layout of all parts, back to front by id."""

    bound: Bound
    parts: Mapping[str, RestPart]

    @property
    def frame(self) -> Frame:
        """Picture size and rate."""
        return self.bound.template.frame


def frame_area(name: str, frame: Frame) -> Box:
    """The frame or one of its safe areas."""
    whole = Box(0, 0, frame.width, frame.height)
    return whole.inset({FRAME: 1.0, ACTION_SAFE: ACTION_SHARE, TITLE_SAFE: TITLE_SHARE}[name])


def arrange(bound: Bound, book: FontBook) -> Rest:
    """Work out every size and place. Raises ``RelationError`` when they run in a circle."""
    parts = {part.id: part for part in bound.parts}
    settings = {p.id: set_text(p, book) for p in bound.parts if isinstance(p, TextPart)}
    layout = _Layout(parts, settings, bound.template.frame)
    for node in order(parts):
        if node.what == "size":
            layout.work_out_size(node.part, node.axis)
        else:
            layout.work_out_position(node.part, node.axis)
    rest = {}
    for part in bound.parts:
        setting = settings.get(part.id)
        rest[part.id] = RestPart(part, layout.box(part.id), setting, layout.there(part.id), _notes(part, setting))
    return Rest(bound, MappingProxyType(rest))


class _Layout:
    """Sizes and positions as they become known, per part and axis."""

    def __init__(self, parts: Mapping[str, AnyPart], settings: Mapping[str, Setting], frame: Frame) -> None:
        self.parts = parts
        self.settings = settings
        self.frame = frame
        self.sizes: dict[tuple[str, Axis], float] = {}
        self.positions: dict[tuple[str, Axis], float] = {}

    def box(self, part_id: str) -> Box:
        at, size = self.positions, self.sizes
        return Box(*(float(v) for v in (at[part_id, 0], at[part_id, 1], size[part_id, 0], size[part_id, 1])))

    def there(self, part_id: str, asked: frozenset[str] = frozenset()) -> bool:
        """Whether a part is there: shown, and, if it fits around others, at least one of those is there with something in it."""
        part = self.parts[part_id]
        if not part.shown:
            return False
        fit = fit_of(part)
        if fit is None or not fit.vanishes:
            return True
        around = [i for i in fit.around if i in self.parts and i not in asked]
        return any(self._filled(i) and self.there(i, asked | {part_id}) for i in around) or not around

    def _filled(self, part_id: str) -> bool:
        setting = self.settings.get(part_id)
        return setting is None or setting.ink_box is not None

    def work_out_size(self, part_id: str, axis: Axis) -> None:
        part = self.parts[part_id]
        if fits_along(part, axis):
            low, high = self._fitted_span(part, axis)
            self.sizes[part_id, axis] = max(0.0, high - low)
        else:
            self.sizes[part_id, axis] = self._own_size(part, axis)

    def work_out_position(self, part_id: str, axis: Axis) -> None:
        part = self.parts[part_id]
        place = part.across if axis == 0 else part.down
        size = self.sizes[part_id, axis]
        if place is None:
            low, high = self._fitted_span(part, axis)
            self.positions[part_id, axis] = low if fits_along(part, axis) else (low + high - size) / 2
        else:
            self.positions[part_id, axis] = self._anchor(place, axis) + place.gap - size * _SHARES[place.mine]

    def _anchor(self, place: Place, axis: Axis) -> float:
        """Where the edge is that a place stands on."""
        if place.on not in self.parts:
            area = frame_area(place.on, self.frame)
            return area[axis] + area[axis + 2] * _SHARES[place.theirs]
        if place.closes and not (self.there(place.on) and self._filled(place.on)):
            return self._closed_up(place.on, axis)
        return self.positions[place.on, axis] + self.sizes[place.on, axis] * _SHARES[place.theirs]

    def _closed_up(self, part_id: str, axis: Axis) -> float:
        """Where a part that is not there would have begun: its own placed edge, as if it had no size."""
        part = self.parts[part_id]
        place = part.across if axis == 0 else part.down
        if place is not None:
            return self._anchor(place, axis) + place.gap
        fit = fit_of(part)
        assert fit is not None
        return self._closed_up(fit.around[0], axis)

    def _own_size(self, part: AnyPart, axis: Axis) -> float:
        match part:
            case TextPart():
                return self.settings[part.id].line_box[axis + 2]
            case ShapePart() | PicturePart():
                return part.width if axis == 0 else part.height
            case RulePart():
                return part.length if (part.direction == "across") == (axis == 0) else part.width

    def _fitted_span(self, part: AnyPart, axis: Axis) -> tuple[float, float]:
        """Low and high edge of what a part fits around, padding included; parts that are switched off count only if all are.

        A single part's position may still be unknown: its size is all that is needed then.
        """
        fit = fit_of(part)
        assert fit is not None
        around = [i for i in fit.around if i in self.parts]
        shown = [i for i in around if self.there(i) and self._filled(i)] or around
        edges = [self._edges(i, axis, fit.box) for i in shown]
        before, after = (fit.left, fit.right) if axis == 0 else (fit.top, fit.bottom)
        low, high = min(low for low, _ in edges) - before, max(high for _, high in edges) + after
        least, most = (fit.least_width, fit.most_width) if axis == 0 else (fit.least_height, fit.most_height)
        high = max(low, high)  # padding below nothing leaves nothing
        size = max(high - low, least)
        spare = (min(size, most) if most else size) - (high - low)
        return low - spare / 2, high + spare / 2

    def _edges(self, part_id: str, axis: Axis, kind: TextBox) -> tuple[float, float]:
        at = self.positions.get((part_id, axis), 0.0)
        setting = self.settings.get(part_id)
        if setting is None:
            return at, at + self.sizes[part_id, axis]
        box = setting.box(kind)
        return at + box[axis], at + box[axis] + box[axis + 2]


def _notes(part: AnyPart, setting: Setting | None) -> tuple[str, ...]:
    notes: list[str] = []
    if setting is not None and isinstance(part, TextPart):
        notes += setting.substitutes
        notes += [f"{part.name} {remark}." for remark in setting.remarks]
        if setting.lacking:
            shown = " ".join(setting.lacking[:8])
            notes.append(f"No font here has glyphs for {shown}.")
    if isinstance(part, PicturePart) and (why := read_picture(part.picture).fault):
        notes.append(f"{part.name}: {why}")
    if isinstance(part, PicturePart):
        notes += [f"{part.name}: {words}" for words in read_picture(part.picture).left_out]
    if isinstance(part, ShapePart) and isinstance(part.form, FreeForm) and (fault := path_fault(part.form.path)):
        notes.append(fault)
    return tuple(notes)
