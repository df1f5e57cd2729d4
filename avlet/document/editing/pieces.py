"""Pieces that travel: parts with all that belongs to them, out of one template and into another or the same.

A piece is a template of its own: the parts with their members, the relations and wires among them, the fields that drive them, and what
they use of the house. Its fields bring their samples along. What hangs on something left behind stands where it stood, and is said.
"""

import io
import tokenize
from collections.abc import Callable, Container, Iterable, Mapping
from typing import Any, NamedTuple

import msgspec

from avlet.document.cards.card import Card, Sample, Section
from avlet.document.cards.wire_plans import inputs
from avlet.document.cards.wires import Formula, Wire, underscored
from avlet.document.editing.converting import Conversion, converted
from avlet.document.editing.edits import led_by, let_go, prune_wires
from avlet.document.editing.grouping import grouped
from avlet.document.editing.naming import free_id
from avlet.document.editing.path_moves import with_paths_moved
from avlet.document.editing.reframing import retimed_to
from avlet.document.editing.timing import shifted_by
from avlet.document.faults.checking import check
from avlet.document.fields import ColourField, Field
from avlet.document.house import PALETTE, HouseEntry, styles_named
from avlet.document.parts import AnyPart, CounterPart, members_of
from avlet.document.targets import house_entries
from avlet.document.template import TEMPLATE, Template
from avlet.document.time.keys import Key
from avlet.document.time.moves import Move
from avlet.errors import DocumentError

replace = msgspec.structs.replace
Boxes = Mapping[str, tuple[float, float, float, float]]
"""The resting box of each part: x, y, width and height in px."""


class Piece(NamedTuple):
    """What travels, and what it had to leave behind, in sentences."""

    template: Template
    said: tuple[str, ...] = ()


class Joined(NamedTuple):
    """A template with a piece in it: the ids of its outermost parts, and what is to be said."""

    template: Template
    parts: tuple[str, ...]
    said: tuple[str, ...] = ()


# Out of a template


def piece_of(template: Template, part_ids: Iterable[str], boxes: Boxes, here: Container[str] = ()) -> Piece:
    """Parts with all that belongs to them. An echo brings what it copies along.

    ``here`` are the ids of parts that are where the piece goes, because that is the template it came from: what hangs on those still does.
    """
    wanted = _with_what_they_hold(template, part_ids)
    if not wanted:
        raise DocumentError("Select the parts that are to be copied.")
    reached = wanted | {part.id for part in template.parts if part.id in here}
    said: dict[str, None] = {}
    parts = []
    led = template
    for part in (p for p in template.parts if p.id in wanted):
        going = replace(part, group=None) if part.group is not None and part.group not in reached else part
        for other in sorted(_hangs_on(going) - reached):
            if template.part(other) is not None:
                said[f"{part.name} followed {template.name_of(other)}, which stays behind: it stands where it stood."] = None
                going = let_go(going, other, boxes[part.id])
        led = with_paths_moved(led, part, going)
        parts.append(led.part(part.id) or going)
    wires = [wire for wire in led.wires if _owner(wire.target) in wanted]
    wires = _travelling(template, reached, wires, said)
    entries = _house_of(template, wires)
    wires += [w for w in led.wires if _owner(w.target) == PALETTE and w.target.partition("/")[2] in entries and w not in wires
              and all(_comes_along(source, reached) for source in inputs(template, w))]  # fmt: skip
    entries |= _house_of(template, wires)
    styles = {style for part in parts for _, style in styles_named(part)}
    fields = _fields_of(template, wires)
    sections = [replace(s, fields=tuple(f for f in s.fields if f.id in fields)) for s in template.card.sections]
    made = replace(
        template, parts=tuple(parts), wires=tuple(wires), card=Card("", tuple(s for s in sections if s.fields)),
        palette=tuple(e for e in template.palette if e.id in entries), gradients=tuple(e for e in template.gradients if e.id in entries),
        text_styles=tuple(s for s in template.text_styles if s.id in styles), marks=(),
        samples=tuple(replace(s, answers={i: a for i, a in s.answers.items() if i in fields}) for s in template.samples),
    )  # fmt: skip
    return Piece(made if here else check(prune_wires(made)), tuple(said))


def _with_what_they_hold(template: Template, part_ids: Iterable[str]) -> set[str]:
    wanted, todo = set(), [i for i in part_ids if template.part(i) is not None]
    while todo:
        part_id = todo.pop()
        if part_id in wanted:
            continue
        wanted.add(part_id)
        part = template.part(part_id)
        todo += members_of(template.parts, part_id, deep=True)
        if part is not None and part.copied is not None:
            todo.append(part.copied)
    return wanted


def _hangs_on(part: AnyPart) -> set[str]:
    """The ids of all that a part's relations, ties, runs and stances lead to."""
    found = {run.counter for run in part.runs}

    def note(on: str) -> str:
        found.add(on)
        return on

    led_by(part, _Noting(note))
    return found - {part.id}


class _Noting(dict[str, str]):
    """Gives every id back as it is, and tells of it."""

    def __init__(self, note: Callable[[str], str]) -> None:
        super().__init__()
        self._note = note

    def get(self, key: str, default: Any = None) -> Any:
        return self._note(key)

    def __getitem__(self, key: str) -> str:
        return self._note(key)

    def __contains__(self, key: object) -> bool:
        return True


def _owner(path: str) -> str:
    return path.partition("/")[0]


def _comes_along(source: str, wanted: set[str]) -> bool:
    return "/" not in source or _owner(source) in wanted or _owner(source) in (PALETTE, TEMPLATE)


def _travelling(template: Template, wanted: set[str], wires: Iterable[Wire], said: dict[str, None]) -> list[Wire]:
    """The wires whose sources come along; the others are told."""
    kept = []
    for wire in wires:
        left = [source for source in inputs(template, wire) if not _comes_along(source, wanted)]
        for source in left:
            name = template.name_of(_owner(wire.target))
            said[f"{name} was driven by {template.name_of(_owner(source))}, which stays behind: it keeps its own value."] = None
        if not left:
            kept.append(wire)
    return kept


def _house_of(template: Template, wires: Iterable[Wire]) -> set[str]:
    """The house colours and gradients that wires need; all of the palette where a field lets editors pick from it."""
    found: set[str] = set()
    for wire in wires:
        for source in inputs(template, wire):
            if source == f"{PALETTE}/":
                found |= {entry.id for entry in template.palette}
            elif _owner(source) == PALETTE:
                found.add(source.partition("/")[2])
    return found


def _fields_of(template: Template, wires: Iterable[Wire]) -> set[str]:
    """The fields that wires need, and those that decide whether these are shown."""
    todo = [source for wire in wires for source in inputs(template, wire) if "/" not in source]
    found: set[str] = set()
    while todo:
        field = template.card.field(todo.pop())
        if field is not None and field.id not in found:
            found.add(field.id)
            if field.shown_if is not None:
                todo.append(field.shown_if.field)
    return found


class Copied(msgspec.Struct, frozen=True):
    """What a clipboard holds: a template, which of its parts were copied, where all of them rested, and which window's document it is.

    The last part is the one that may lend something.
    """

    template: Template
    parts: tuple[str, ...]
    boxes: dict[str, tuple[float, float, float, float]]
    origin: str = ""

    @property
    def lender(self) -> AnyPart:
        """The part that was copied last."""
        part = self.template.part(self.parts[-1])
        assert part is not None
        return part

    def piece(self, template: Template, origin: str) -> Piece:
        """The piece as it goes into a template, which may be the one that it came from."""
        here = {part.id for part in template.parts} if self.origin and self.origin == origin else ()
        return piece_of(self.template, self.parts, self.boxes, here)


def copied_bytes(copied: Copied) -> bytes:
    """What was copied for a clipboard, pictures included."""
    return msgspec.json.encode(copied)


def read_copied(data: bytes) -> Copied:
    """What is on a clipboard, held to the rules of templates. Raises ``DocumentError``."""
    try:
        copied = msgspec.json.decode(data, type=Copied)
    except (msgspec.DecodeError, RecursionError) as error:
        raise DocumentError(f"What was copied are no parts of a template ({error}).") from None
    check(copied.template)
    known = {part.id for part in copied.template.parts}
    if not copied.parts or not known.issuperset(copied.parts) or not known <= copied.boxes.keys():
        raise DocumentError("What was copied are no parts of a template. Copy them again.")
    return copied


# Into a template


def clashes(template: Template, piece: Template) -> list[str]:
    """The names of house colours, gradients and text styles that both have, with other values."""
    own = {entry.name.casefold(): entry for entry in _house(template)}
    return [e.name for e in _house(piece) if (mine := own.get(e.name.casefold())) is not None and _value(mine) != _value(e)]


def _house(template: Template) -> tuple[HouseEntry | Any, ...]:
    return (*house_entries(template), *template.text_styles)


def _value(entry: Any) -> Any:
    return {name: getattr(entry, name) for name in entry.__struct_fields__ if name not in ("id", "name")}, type(entry).__name__


def joined(template: Template, piece: Template, keep_theirs: bool = False, section: str = "", times: bool = False) -> Joined:
    """A piece put in front of all parts, under free ids. Its house is matched by name and value.

    Where names clash the piece follows what is here, or with ``keep_theirs`` keeps its own under another name. Its fields come as sections
    of the card whose names begin with ``section``. With ``times`` what drives its length and pace does so here. Raises ``DocumentError``
    where the two do not go together.
    """
    said: list[str] = []
    if piece.frame.fps != template.frame.fps:
        piece = retimed_to(piece, template.frame.rate)
        said.append("Its times were brought to this frame rate; its seconds stay.")
    names = _free_ids((part.id for part in piece.parts), {part.id for part in template.parts})
    fields = _free_ids((field.id for field in piece.card.entries), {field.id for field in template.card.entries})
    house, new = _matched(template, piece, keep_theirs)
    shown = {part.name for part in template.parts}
    parts = tuple(_named(led_by(p, names), names[p.id], f"{p.name} copy" if p.name in shown else p.name, house) for p in piece.parts)
    lead = _Leading(names, fields, house, {field.label.casefold() for field in template.card.entries})
    coming = [wire for wire in piece.wires if _owner(wire.target) != PALETTE and (times or _owner(wire.target) != TEMPLATE)]
    coming += [w for w in piece.wires if _owner(w.target) == PALETTE and house.get(w.target.partition("/")[2]) in new]
    wires = [lead.wire(wire) for wire in coming]
    idle = _fields_of(piece, piece.wires) - _fields_of(piece, coming)
    said += [f"“{field.label}” stays behind: what it drove is decided here." for field in piece.card.fields if field.id in idle]
    sections = tuple(
        replace(s, name=" · ".join(filter(None, (section, s.name if len(piece.card.sections) > 1 or not section else ""))),
                fields=tuple(lead.field(f) for f in s.fields if f.id not in idle)) for s in piece.card.sections
    )  # fmt: skip
    made = replace(
        template, parts=(*template.parts, *parts), wires=(*template.wires, *wires),
        card=replace(template.card, sections=_sections(template.card.sections, sections)),
        palette=(*template.palette, *(replace(e, id=house[e.id]) for e in piece.palette if house[e.id] in new)),
        gradients=(*template.gradients, *(replace(e, id=house[e.id]) for e in piece.gradients if house[e.id] in new)),
        text_styles=(*template.text_styles, *(replace(s, id=house[s.id]) for s in piece.text_styles if house[s.id] in new)),
        samples=tuple(_sampled(sample, piece.samples, {i: n for i, n in fields.items() if i not in idle}) for sample in template.samples),
    )  # fmt: skip
    made = _with_free_names(made, new)
    outer = tuple(names[p.id] for p in piece.parts if p.group is None)
    return Joined(check(made), outer, tuple(said))


def _sections(own: tuple[Section, ...], more: tuple[Section, ...]) -> tuple[Section, ...]:
    """Sections with others behind them; those of one name are one, and empty ones are left out."""
    made = list(own)
    for section in (one for one in more if one.fields):
        at = next((n for n, one in enumerate(made) if one.name == section.name), None)
        if at is None:
            made.append(section)
        else:
            made[at] = replace(made[at], fields=(*made[at].fields, *section.fields))
    return tuple(made)


def _free_ids(ids: Iterable[str], taken: set[str]) -> dict[str, str]:
    """A free id for each."""
    made: dict[str, str] = {}
    for one in ids:
        made[one] = free_id(one, taken)
        taken.add(made[one])
    return made


def _matched(template: Template, piece: Template, keep_theirs: bool) -> tuple[dict[str, str], set[str]]:
    """For each house entry of a piece the id that it has here, and which of these are new."""
    own = {(type(e), e.name.casefold()): e for e in _house(template)}
    taken = {e.id for e in house_entries(template)} | {s.id for s in template.text_styles}
    ids: dict[str, str] = {}
    new: set[str] = set()
    for entry in _house(piece):
        mine = own.get((type(entry), entry.name.casefold()))
        if mine is not None and (_value(mine) == _value(entry) or not keep_theirs):
            ids[entry.id] = mine.id
            continue
        ids[entry.id] = free_id(entry.id, taken)
        taken.add(ids[entry.id])
        new.add(ids[entry.id])
    return ids, new


def _with_free_names(template: Template, new: set[str]) -> Template:
    """New house entries whose names are taken get a number behind theirs."""

    def renamed(entries: tuple[Any, ...]) -> tuple[Any, ...]:
        used = {e.name.casefold() for e in entries if e.id not in new}
        made = []
        for entry in entries:
            name, number = entry.name, 2
            while entry.id in new and name.casefold() in used:
                name, number = f"{entry.name} {number}", number + 1
            used.add(name.casefold())
            made.append(replace(entry, name=name) if name != entry.name else entry)
        return tuple(made)

    return replace(
        template, palette=renamed(template.palette), gradients=renamed(template.gradients), text_styles=renamed(template.text_styles)
    )


def _named(part: AnyPart, part_id: str, name: str, house: Mapping[str, str]) -> AnyPart:
    """A part under another id, its text styles under the ids that they have here."""
    made: AnyPart = replace(part, id=part_id, name=name)
    for path, style in styles_named(part):
        at = path.rpartition(".")[0]
        if at:
            made = replace(made, **{at: replace(getattr(made, at), text_style=house.get(style, ""))})
        else:
            made = replace(made, text_style=house.get(style, ""))
    return made


def _sampled(sample: Sample, theirs: Iterable[Sample], fields: Mapping[str, str]) -> Sample:
    """A sample with the answers that the piece's sample of that id, or of that name, gives its own fields."""
    found = next((s for s in theirs if s.id == sample.id), None) or next((s for s in theirs if s.name == sample.name), None)
    answers = {} if found is None else {fields[i]: answer for i, answer in found.answers.items() if i in fields}
    return replace(sample, answers={**sample.answers, **answers})


class _Leading:
    """Leads wires and fields of a piece to the ids that things have where it goes."""

    def __init__(self, parts: Mapping[str, str], fields: Mapping[str, str], house: Mapping[str, str], labels: set[str]) -> None:
        self._parts, self._fields, self._house, self._labels = parts, fields, house, labels

    def wire(self, wire: Wire) -> Wire:
        """A wire between the same things under their ids here."""
        kind = wire.map
        if isinstance(kind, Formula):
            kind = replace(kind, formula=self._formula(kind.formula))
        return replace(wire, source=self._path(wire.source), target=self._path(wire.target), map=kind)

    def _path(self, path: str) -> str:
        owner, slash, rest = path.partition("/")
        if not slash:
            return self._fields.get(owner, owner)
        return f"{PALETTE}/{self._house.get(rest, rest)}" if owner == PALETTE else f"{self._parts.get(owner, owner)}/{rest}"

    def field(self, field: Field) -> Field:
        """A field under its id here and a label of its own, with its condition, and answers that name house colours by theirs."""
        label, number = field.label, 2
        while label.casefold() in self._labels:
            label, number = f"{field.label} {number}", number + 1
        changes: dict[str, Any] = {"id": self._fields[field.id], "label": label}
        if field.shown_if is not None:
            changes["shown_if"] = replace(field.shown_if, field=self._fields.get(field.shown_if.field, field.shown_if.field))
        if isinstance(field, ColourField) and field.may_be == "house palette":
            changes["default"] = self._house.get(field.default, field.default)
        return replace(field, **changes)

    def _formula(self, formula: str) -> str:
        """A formula with the names of parts, fields and house entries as they are here; what is quoted stays."""
        parts = {underscored(old): underscored(new) for old, new in self._parts.items()}
        fields = {underscored(old): underscored(new) for old, new in self._fields.items()}
        house = {underscored(old): underscored(new) for old, new in self._house.items()}
        plain = formula.replace("×", "*").replace("÷", "/").replace("−", "-").strip()
        tokens = list(tokenize.generate_tokens(io.StringIO(plain).readline))
        made, at = [], 0
        for number, token in enumerate(tokens):
            if token.type != tokenize.NAME or token.start[0] != 1:
                continue
            dotted = number + 1 < len(tokens) and tokens[number + 1].string == "."
            after = number >= 2 and tokens[number - 1].string == "."
            table = (house if tokens[number - 2].string == PALETTE else {}) if after else parts if dotted else fields
            made += [plain[at : token.start[1]], table.get(token.string, token.string)]
            at = token.end[1]
        return "".join([*made, plain[at:]])


# All of another template


def inserted(template: Template, other: Template, at: int = 0, fitted: bool = False, keep_theirs: bool = False) -> Joined:
    """All of another template as a group, its card as a section, beginning at a frame.

    Its timing is kept, or with ``fitted`` its ends are made as long as those here. An empty template takes on its length and ends.
    """
    said: list[str] = []
    piece = other
    if other.frame.fps != template.frame.fps:
        piece = retimed_to(piece, template.frame.rate)
        said.append("Its times were brought to this frame rate; its seconds stay.")
    if fitted and piece.way_in and template.parts:
        piece = converted(piece, Conversion("frames", template.way_in / piece.way_in))
    empty = not template.parts
    if empty:
        times = ("length", "way_in", "way_out", "pace", "fits_in", "fits_out", "plays_in", "plays_out", "motion_blur", "updates")
        template = replace(template, **{name: getattr(piece, name) for name in times})
    elif piece.way_out > template.way_out or piece.way_in + at > template.way_in:
        way_in, way_out = max(template.way_in, piece.way_in + at), max(template.way_out, piece.way_out)
        template = replace(template, way_in=way_in, way_out=way_out, length=max(template.length, way_in + way_out))
        said.append(f"The way in is {way_in} frames now and the way out {way_out}, so that it has time for both.")
    if at:
        piece = replace(piece, parts=tuple(_later(part, at) for part in piece.parts))
    made = joined(template, piece, keep_theirs, other.name, times=empty)
    if not made.parts:
        return Joined(made.template, (), (*said, *made.said))
    whole, group = grouped(made.template, made.parts)
    named = tuple(replace(part, name=other.name) if part.id == group else part for part in whole.parts)
    return Joined(check(replace(whole, parts=named)), (group,), (*said, *made.said))


def _later(part: AnyPart, by: int) -> AnyPart:
    """A part that comes so many frames later, its keys and its count with it. Starts tied to others come later with those."""

    def moved(move: Move) -> Move:
        return move if move.tie is not None or move.counts_from == "the end" else shifted_by(move, by)

    def later(key: Key) -> Key:
        return replace(key, at=key.at + by) if key.tied == "start" else key

    keys = tuple(replace(keyed, keys=tuple(map(later, keyed.keys))) for keyed in part.keys)
    made: AnyPart = replace(part, way_in=tuple(map(moved, part.way_in)), keys=keys)
    if isinstance(made, CounterPart) and made.count.tie is None:
        made = replace(made, count=replace(made.count, start=made.count.start + by))
    return made
