"""Arrange: the resting layout, how everything sits once it has arrived."""

import functools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from types import MappingProxyType

import msgspec

from avlet.document.cards.wires import Measure
from avlet.document.looks.forms import FreeForm, path_fault
from avlet.document.looks.pictures import read_picture
from avlet.document.parts import (
    ACTION_SAFE,
    EDGE_SHARES,
    FRAME,
    FRAME_AREAS,
    TITLE_SAFE,
    AnyPart,
    CounterPart,
    CreditsPart,
    EchoPart,
    Edge,
    GroupPart,
    LampPart,
    PatternPart,
    PictureFile,
    PicturePart,
    Place,
    ShapePart,
    TextBox,
    TextPart,
    TypesetPart,
)
from avlet.document.template import Frame
from avlet.geometry import Axis, Box
from avlet.layout.bind import Bound, with_measures
from avlet.layout.copies import Copies, filling_copies, own_copies
from avlet.layout.graph import order
from avlet.layout.own_sizes import OWN_SIZES
from avlet.layout.pages import Page, dealt
from avlet.text.figures import Figures, figures_of
from avlet.text.fonts import Face, FontBook
from avlet.text.setting import Setting, faces_used, named_faces, set_text
from avlet.text.strip import Strip, strip_of

ACTION_SHARE = 0.93
TITLE_SHARE = 0.90
"""SMPTE ST 2046-1: safe action is 93 % and safe title 90 % of the picture's width and height."""


@dataclass(frozen=True, eq=False)
class RestPart:
    """One part at rest: its box in px of the frame, its set words or copies if it has any, and what is to be said about it.

    ``present`` is False when it is hidden, or vanishes because what it is there for is empty; ``by_itself`` says the same
    without regard to the groups that it is in. ``standing_in`` is what an echo with words of its own shows: its original with
    those, where that rests. ``figures`` are the numbers of a counter; its setting is the last of them. ``strip`` is the list of credits,
    ``pages`` how it is dealt out, ``frame`` the frame that it moves through.
    """

    part: AnyPart
    box: Box
    setting: Setting | None
    copies: Copies | None = None
    present: bool = True
    by_itself: bool = True
    notes: tuple[str, ...] = ()
    standing_in: "RestPart | None" = None
    figures: Figures | None = None
    strip: Strip | None = None
    pages: tuple[Page, ...] = ()
    frame: Box | None = None

    @functools.cached_property
    def reach(self) -> float:
        """How far beyond its outline it may paint, in px."""
        return self.part.reach

    @property
    def units(self) -> Setting | Copies | None:
        """What moves can take one at a time; None where there is only the whole."""
        return self.setting or self.copies

    @property
    def words(self) -> Setting | None:
        """The set words that it shows: of a text, or of an echo with words of its own."""
        return self.standing_in.setting if self.standing_in is not None else self.setting

    @property
    def ink(self) -> Box | None:
        """What it paints at rest, without regard to mattes; None if that is nothing."""
        if self.strip is not None:
            box, (low, high) = self.box, self.strip.extent
            return None if box.empty or high <= low else Box(box.x + low, box.y, high - low, box.h) if self.strip.axis == 1 else box
        drawn = self.words or self.copies
        if drawn is None or (self.copies is not None and self.copies.filled):
            return None if self.box.empty else self.box
        ink = drawn.ink_box
        return ink.moved(self.box.x, self.box.y) if ink else None

    def edge(self, edge: Edge, axis: Axis) -> float:
        """Where an edge, middle or baseline lies along an axis, in px of the frame."""
        return self.box[axis] + edge_offset(edge, axis, self.box[axis + 2], self.words)

    def fitted(self, kind: TextBox) -> Box:
        """The box that other parts fit around."""
        return self.words.box(kind).moved(self.box.x, self.box.y) if self.words else self.box


@dataclass(frozen=True, eq=False)
class Rest:
    """The resting layout of all parts, back to front by id."""

    bound: Bound
    parts: Mapping[str, RestPart]

    @property
    def frame(self) -> Frame:
        """Picture size and rate."""
        return self.bound.template.frame

    def measure(self, part_id: str, what: Measure) -> float:
        """One measure of a part: of its box in px of the frame, or how many lines, words or letters it has."""
        part = self.parts[part_id]
        if what in ("lines", "words", "letters"):
            unit = {"lines": "line", "words": "word", "letters": "character"}[what]
            counted = part.words or part.copies
            return float(counted.counts[unit]) if counted else 0.0  # type: ignore[index]
        if what in ("slots", "final"):
            figures = part.figures
            return 0.0 if figures is None else figures.slots.width if what == "slots" else float(figures.count.end)
        box = part.box
        return {"width": box.w, "height": box.h, "left": box.x, "top": box.y, "right": box.right, "bottom": box.bottom}[what]


def faces_of(rest: Rest, book: FontBook) -> list[Face]:
    """The faces of all texts of a layout, as their files have them: those that they name, and those that stood in for some letters."""
    found: dict[Face, None] = {}
    for one in rest.parts.values():
        part, setting = (one.standing_in or one).part, one.words
        if isinstance(part, TypesetPart) and setting:
            found.update(dict.fromkeys(faces_used(part, setting, book)))
        elif one.strip is not None:
            found.update(dict.fromkeys(face.base for face in (*(book.find(*n)[0] for n in named_faces(part)), *one.strip.standing_in)))
    return list(found)


def frame_area(name: str, frame: Frame) -> Box:
    """The frame or one of its safe areas."""
    whole = Box(0, 0, frame.width, frame.height)
    return whole.inset({FRAME: 1.0, ACTION_SAFE: ACTION_SHARE, TITLE_SAFE: TITLE_SHARE}[name])


def edge_offset(edge: Edge, axis: Axis, size: float, setting: Setting | None) -> float:
    """How far an edge, middle or baseline lies from the start of a box of ``size`` px."""
    if edge == "baseline" and setting is not None and axis == 1:
        return setting.lines[0].baseline
    return size * EDGE_SHARES[edge]


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
    parts = {part.id: part for part in bound.parts}
    said = spoken(parts)
    settings = {i: _set_again(before.get(i), text, book) for i, text in said.items()}
    counted = {p.id: figures_of(p, bound.template.frame.fps, book) for p in bound.parts if isinstance(p, CounterPart)}
    settings |= {i: figures.rest for i, figures in counted.items()}
    copies = {p.id: own_copies(p) for p in bound.parts if isinstance(p, PatternPart) and p.fit is None}
    listed = [p for p in bound.parts if isinstance(p, CreditsPart)]
    strips = {p.id: strip_of(p, book) for p in listed}
    room, whole = frame_area(TITLE_SAFE, bound.template.frame).h, frame_area(FRAME, bound.template.frame)
    pages = {p.id: dealt(strips[p.id], p.blocks, room) if p.movement.how == "pages" else () for p in listed}
    layout = _Layout(parts, settings, copies, bound.template.frame, strips, pages)
    for node in order(parts, bound.hangs_on):
        if node.what == "size":
            layout.work_out_size(node.part, node.axis)
        else:
            layout.work_out_position(node.part, node.axis)
    rest = {}
    for part in bound.parts:
        setting, box = settings.get(part.id), layout.box(part.id)
        if isinstance(part, PatternPart) and part.fit is not None:
            copies[part.id] = filling_copies(part, box.w, box.h)
        many = copies.get(part.id)
        notes = _notes(part, part if isinstance(part, CounterPart) else said.get(part.id), setting, many)
        if part.id in counted:
            notes = (*notes, *(f"{part.name}: {fault}" for fault in counted[part.id].faults))
        if isinstance(part, TypesetPart) or setting is None:
            strip = strips.get(part.id)
            notes = (*notes, *list_notes(part, strip, pages[part.id], room)) if isinstance(part, CreditsPart) and strip else notes
            there, figures = layout.presence(part.id), counted.get(part.id)
            rest[part.id] = RestPart(
                part, box, setting, many, *there, notes, None, figures, strip, pages.get(part.id, ()), whole if strip else None
            )
        else:
            rest[part.id] = _echoing(part, said[part.id], setting, layout, notes)
    return Rest(bound, MappingProxyType(rest))


def _echoing(part: AnyPart, text: TextPart, setting: Setting, layout: "_Layout", notes: tuple[str, ...]) -> RestPart:
    """An echo with words of its own, and what stands in for its original."""
    box, original = layout.box(part.id), layout.box(text.id)
    stands = RestPart(text, Box(original.x, original.y, box.w, box.h), setting, None, *layout.presence(text.id))
    return RestPart(part, box, None, None, *layout.presence(part.id), notes, stands)


def spoken(parts: Mapping[str, AnyPart]) -> dict[str, TextPart]:
    """By part: the text whose words it shows. That is a text itself; for an echo with words of its own, its original with those."""
    found = {}
    for part in parts.values():
        if isinstance(part, TextPart):
            found[part.id] = part
        elif isinstance(part, EchoPart) and part.words and isinstance(original := parts.get(part.of), TextPart):
            found[part.id] = msgspec.structs.replace(original, text=part.words, name=part.name)
    return found


def _set_again(known: RestPart | None, text: TextPart, book: FontBook) -> Setting:
    """The words of a text, from a layout before where they are the same there."""
    if known is not None and known.words is not None and (known.standing_in or known).part == text:
        return known.words
    return set_text(text, book)


class _Layout:
    """Sizes and positions as they become known, per part and axis."""

    def __init__(
        self, parts: Mapping[str, AnyPart], settings: Mapping[str, Setting], copies: Mapping[str, Copies], frame: Frame,
        strips: Mapping[str, Strip], pages: Mapping[str, tuple[Page, ...]],
    ) -> None:  # fmt: skip
        self.parts, self.strips, self.pages = parts, strips, pages
        self.settings = settings
        self.copies = copies
        self.members: dict[str, list[str]] = {}
        for part in parts.values():
            if part.group is not None:
                self.members.setdefault(part.group, []).append(part.id)
        self.frame = frame
        self.sizes: dict[tuple[str, Axis], float] = {}
        self.positions: dict[tuple[str, Axis], float] = {}

    def box(self, part_id: str) -> Box:
        at, size = self.positions, self.sizes
        return Box(*(float(v) for v in (at[part_id, 0], at[part_id, 1], size[part_id, 0], size[part_id, 1])))

    def presence(self, part_id: str) -> tuple[bool, bool]:
        """Whether a part is there, and whether it would be if its groups were shown."""
        there = self.there(part_id)
        return there, there or (self.parts[part_id].group is not None and self.there(part_id, grouped=False))

    def there(self, part_id: str, asked: frozenset[str] = frozenset(), grouped: bool = True) -> bool:
        """Whether a part is there: shown, and, if it fits around others, at least one of those is there with something in it."""
        part = self.parts[part_id]
        if not part.shown or (grouped and not self._group_shown(part.group)):
            return False
        if isinstance(part, GroupPart):
            return any(self.there(i, asked | {part_id}, grouped) for i in self.members.get(part_id, []) if i not in asked)
        if isinstance(part, EchoPart):
            return part.of in asked or self.parts[part.of].shown is False or self.there(part.of, asked | {part_id})
        fit = part.fitted
        if fit is None or not fit.vanishes or any(i in FRAME_AREAS for i in fit.around):
            return True
        around = [i for i in fit.around if i in self.parts and i not in asked]
        return any(self._filled(i) and self.there(i, asked | {part_id}, grouped) for i in around) or not around

    def _group_shown(self, group: str | None) -> bool:
        while group is not None and group in self.parts:
            if not self.parts[group].shown:
                return False
            group = self.parts[group].group
        return True

    def _filled(self, part_id: str) -> bool:
        """Whether there is something in a part: a group is empty when all its members are, an echo when its original is."""
        part = self.parts[part_id]
        if isinstance(part, GroupPart):
            return any(self._filled(i) for i in self.members.get(part_id, []))
        if isinstance(part, EchoPart) and part_id not in self.settings:
            return self._filled(part.of)
        if part_id in self.strips:
            return bool(self.strips[part_id].rows)
        setting = self.settings.get(part_id)
        return setting is None or setting.ink_box is not None

    def work_out_size(self, part_id: str, axis: Axis) -> None:
        part = self.parts[part_id]
        if part.fits_along(axis):
            low, high = self._fitted_span(part, axis)
            self.sizes[part_id, axis] = max(0.0, high - low)
        else:
            self.sizes[part_id, axis] = OWN_SIZES[type(part)](self, part, axis)

    def joint(self, part_id: str, axis: Axis) -> tuple[float, float]:
        """Low and high edge of a group: of the members that are there, or of all when none is; nothing at 0 without any.

        Lamps, which are not seen, take no room beside others.
        """
        inside = self.members.get(part_id, [])
        members = [i for i in inside if not isinstance(self.parts[i], LampPart)] or inside
        seen = [i for i in members if self.there(i) and self._filled(i)] or members
        edges = [self._edges(i, axis, "line box") for i in seen] or [(0.0, 0.0)]
        return min(low for low, _ in edges), max(high for _, high in edges)

    def work_out_position(self, part_id: str, axis: Axis) -> None:
        part = self.parts[part_id]
        place = part.across if axis == 0 else part.down
        size = self.sizes[part_id, axis]
        if isinstance(part, GroupPart):
            self.positions[part_id, axis] = self.joint(part_id, axis)[0]
        elif place is None:
            low, high = self._fitted_span(part, axis)
            self.positions[part_id, axis] = low if part.fits_along(axis) else (low + high - size) / 2
        else:
            self.positions[part_id, axis] = self._placed(part_id, place, axis)

    def _placed(self, part_id: str, place: Place, axis: Axis) -> float:
        """Where a part begins by a place. One that closes up behind, or before, what is empty has the place of that instead."""
        on = self.parts.get(place.on)
        if on is not None and place.closes and {place.mine, place.theirs} == {"start", "end"} and self._empty(on.id):
            theirs = on.across if axis == 0 else on.down
            if theirs is not None:
                return self._placed(part_id, theirs, axis)
        own = edge_offset(place.mine, axis, self.sizes[part_id, axis], self.settings.get(part_id))
        return self._anchor(place, axis) + place.gap - own

    def _empty(self, part_id: str) -> bool:
        return not (self.there(part_id) and self._filled(part_id))

    def _anchor(self, place: Place, axis: Axis) -> float:
        """Where the edge is that a place stands on."""
        if place.on not in self.parts:
            area = frame_area(place.on, self.frame)
            return area[axis] + area[axis + 2] * EDGE_SHARES[place.theirs]
        if place.closes and self._empty(place.on):
            return self._closed_up(place.on, axis)
        offset = edge_offset(place.theirs, axis, self.sizes[place.on, axis], self.settings.get(place.on))
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
        shown = [i for i in around if i in FRAME_AREAS or (self.there(i) and self._filled(i))] or around
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
        setting = self.settings.get(part_id)
        if setting is None:
            return at, at + self.sizes[part_id, axis]
        box = setting.box(kind)
        return at + box[axis], at + box[axis] + box[axis + 2]


def lacking_words(name: str, lacking: Sequence[str]) -> str:
    """What no font has, and where."""
    return f"No font here has glyphs for {' '.join(lacking[:8])} in {name}."


def list_notes(part: CreditsPart, strip: Strip, pages: Sequence[Page], room: float) -> tuple[str, ...]:
    """What is to be said of a list: faces and glyphs that are missing, lines and pages that are too long, pictures that cannot be shown."""
    said = [*strip.setter.substitutes(), *(f"{part.name}: {remark}." for remark in strip.remarks)]
    if lacking := strip.lacking:
        said.append(lacking_words(part.name, lacking))
    if not strip.rows:
        said.append(f"{part.name} has an empty list. Add a row, paste some from a spreadsheet, or open a list file.")
    high = sum(float(strip.ends[p.first : p.last].max() - strip.begins[p.first]) > room + 0.01 for p in pages)
    if high:
        said.append(f"{part.name}: {high} of {len(pages)} pages are higher than the safe area. Break them, or set them smaller.")
    for picture in strip.pictures:
        facts = read_picture(picture)
        said += [f"{part.name}: {words}" for words in ((facts.fault,) if facts.fault else ()) + facts.left_out]
    return tuple(said)


def _notes(part: AnyPart, text: TypesetPart | None, setting: Setting | None, copies: Copies | None) -> tuple[str, ...]:
    notes: list[str] = []
    if copies is not None and copies.remark:
        notes.append(f"{part.name} {copies.remark}.")
    if setting is not None and text is not None:
        notes += setting.substitutes
        notes += [f"{part.name} {remark}." for remark in setting.remarks]
        if setting.lacking:
            notes.append(lacking_words(part.name, setting.lacking))
    picture = getattr(part, "picture", None)
    if isinstance(picture, PictureFile):
        facts = read_picture(picture)
        notes += [f"{part.name}: {words}" for words in ((facts.fault,) if facts.fault else ()) + facts.left_out]
        if facts.intricate and isinstance(part, PicturePart) and part.outlined == "its drawing":
            notes.append(f"{part.name} has too many shapes for an outline of its own; it goes by its box. Simplify the drawing.")
    if isinstance(part, ShapePart | PatternPart) and isinstance(part.form, FreeForm) and (fault := path_fault(part.form.path)):
        notes.append(fault)
    return tuple(notes)
