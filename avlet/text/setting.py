"""Setting: a text part's glyphs in px, with its units and its three boxes."""

import functools
from dataclasses import dataclass
from typing import Generic, NamedTuple, TypeVar

import numpy as np

from avlet.arrays import Floats, Ints, distinct, renumbered
from avlet.document.metadata import facts_of
from avlet.document.parts import AnyPart, Change, CreditsPart, PictureFile, TextBox, TextPart, TypesetPart
from avlet.document.time.moves import Unit
from avlet.geometry import Box
from avlet.giving_back import kept_to_be_quick
from avlet.numbers.exact import in_figures
from avlet.text.equal_room import in_equal_room, widest_letter
from avlet.text.fonts import Face, FontBook
from avlet.text.marking import StyledLine, styled_lines
from avlet.text.room import Fitted, Shape, make_room
from avlet.text.runs import reads_right_to_left
from avlet.text.shaping import ShapedLine, shape_line
from avlet.text.units import grapheme_starts, word_numbers

_Part = TypeVar("_Part")
_UNTRACKED = ("-liga", "-clig")
"""Switched off in tracked words, as is usual: joined letters would stand closer than the others."""


@dataclass(frozen=True)
class Line:
    """One set line: its baseline, left edge and width in px from the text's corner."""

    baseline: float
    left: float
    width: float


class Glyph(NamedTuple):
    """One glyph where it is drawn: px from the text's corner, and px to the em."""

    face: Face
    number: int
    x: float
    y: float
    scale: float


class Turn(NamedTuple):
    """A figure that changes into the next one: ``share`` of the way from ``low`` to ``high``, seen from ``top`` to ``bottom``.

    ``units`` says which unit of each kind it is, ``rows`` which glyphs of the setting it stands for.
    """

    units: dict[Unit, int]
    rows: tuple[int, ...]
    low: tuple[Glyph, ...]
    high: tuple[Glyph, ...]
    top: float
    bottom: float
    share: float
    how: Change


class Passing(NamedTuple):
    """Glyphs that pass through a wheel's window: for ``weight`` of the time, from ``begin`` to ``end`` px down from where they rest."""

    glyphs: tuple[Glyph, ...]
    weight: float
    begin: float
    end: float


class Wheel(NamedTuple):
    """A slot whose figures roll, over a time or at a moment: what passes in it, seen from ``top`` to ``bottom`` with ``soft`` px at both.

    ``units`` says which unit of each kind it is, ``rows`` which glyphs of the setting it stands for.
    """

    units: dict[Unit, int]
    rows: tuple[int, ...]
    top: float
    bottom: float
    soft: float
    passing: tuple[Passing, ...]


class Placed(NamedTuple):
    """A picture, or a rule where there is none, among the glyphs: which row of the arrays stands for it, and its box."""

    row: int
    box: Box
    picture: PictureFile | None = None


NO_GLYPH = -1
"""Stands among a setting's glyphs for what is placed there: its ink is the box."""


@dataclass(frozen=True, eq=False)
class Setting:
    """A set text. Positions in px from the left top corner of its line box; arrays have one row for each glyph.

    ``unit_of[unit]`` numbers, for each glyph, the unit it belongs to in reading order; ``counts[unit]`` says how many
    there are. Blanks make no unit. A ligature is one character. ``scale`` is each glyph's size in px to the em,
    ``squeeze`` how much narrower all of them are, ``accent`` the number of each glyph's accent. ``rows`` numbers the line that each
    glyph is in, ``clusters`` the code point of that line that it begins with; ``texts`` are the lines as they are set, and ``ends``
    says whether each ends a typed one. ``turning`` are the figures of a counter that change just
    now, ``placed`` pictures and rules of credits. ``drawn`` says how letters differ from their face, in words.
    """

    size: float
    glyphs: Ints
    faces: tuple[Face, ...]
    x: Floats
    y: Floats
    ink: Floats
    scale: Floats
    squeeze: float
    accent: Ints
    unit_of: dict[Unit, Ints]
    counts: dict[Unit, int]
    lines: tuple[Line, ...]
    line_box: Box
    capitals: Box
    ink_box: Box | None
    cap_height: float
    lacking: tuple[str, ...]
    substitutes: tuple[str, ...]
    remarks: tuple[str, ...]
    overflows: bool
    rows: Ints
    clusters: Ints
    texts: tuple[StyledLine, ...]
    ends: tuple[bool, ...]
    turning: tuple[Turn | Wheel, ...] = ()
    placed: tuple[Placed, ...] = ()
    drawn: str = ""

    def box(self, kind: TextBox) -> Box:
        """One of the three boxes; a text without ink has an ink box of no size at its first baseline."""
        if kind == "line box":
            return self.line_box
        if kind == "capitals":
            return self.capitals
        return self.ink_box or Box(self.lines[0].left, self.lines[0].baseline, 0.0, 0.0)

    def unit_ink(self, unit: Unit) -> Floats:
        """The ink of each unit, shape (units, 4): left, top, right, bottom."""
        return _gather(self.unit_of[unit], self.counts[unit], self.ink)


def set_text(part: TextPart, book: FontBook) -> Setting:
    """Set the words of a text part with the faces of ``book``. What does not change the setting does not ask for another."""
    known = _met.get(id(part))
    if known is not None and known[0] is part and known[1] is book:
        return known[2]
    made = _kept(facts_of(part, "setting"), Carried(part), book)
    if len(_met) >= _MOST_MET:
        _met.clear()
    _met[id(part)] = part, book, made
    return made


_met: dict[int, tuple[TextPart, FontBook, Setting]] = {}
"""By identity: parts that nothing has changed since they were last set. They are held here, so that no other takes their place."""
_MOST_MET = 512


class Carried(Generic[_Part]):
    """Carries a part past a cache: equal to any other, as the key says all that matters."""

    def __init__(self, part: _Part) -> None:
        self.part = part

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Carried)

    def __hash__(self) -> int:
        return 0


@functools.lru_cache(maxsize=320)
def _kept(key: object, carried: "Carried[TextPart]", book: FontBook) -> Setting:
    return _set(carried.part, book)


kept_to_be_quick(_kept.cache_clear)


def _set(part: TextPart, book: FontBook) -> Setting:
    rtl = part.direction == "right to left" or (part.direction == "by itself" and reads_right_to_left(part.text))
    features = part.features if part.tracking == 0 and not part.equal_room else (*_UNTRACKED, *part.features)
    if part.equal_room:
        features = ("-kern", *features)

    typed = styled_lines(part, book)
    room = max((widest_letter(shape_line(line, book, rtl, features)) for line in typed), default=0.0) if part.equal_room else None

    def shape(line: StyledLine) -> ShapedLine:
        shaped = shape_line(line, book, rtl, features)
        return shaped if room is None else in_equal_room(shaped, room)

    def width(line: StyledLine) -> float:
        """In em of the text's size."""
        shaped = shape(line)
        return max(0.0, shaped.advance + tracked_gaps(shaped) * part.tracking / 1000)

    fitted = make_room(part.room, typed, Shape(width, part.size, part.leading / 100, part.paragraph))
    return _compose(part, book, fitted, [shape(line) for line in fitted.lines], rtl)


def _compose(part: TextPart, book: FontBook, fitted: Fitted, shaped: list[ShapedLine], rtl: bool) -> Setting:
    face, exact = book.find(part.family, part.style)
    face = face.at(part.places).drawn_as(part.slant, part.weight / max(1.0, part.size))
    size, squeeze = part.size * fitted.shrink, fitted.squeeze
    step = size * part.leading / 100
    ascent, descent = face.ascent / face.upem * size, face.descent / face.upem * size
    first = (step - ascent - descent) / 2 + ascent
    spaced = [_track(line, size * squeeze, size * squeeze * part.tracking / 1000) for line in shaped]
    width = float(max(w for _, w in spaced))
    if part.align == "justified":
        width = max(width, part.room.width if part.room else 0.0)
        spaced = [
            pair if end else _justify(*pair, line.text, s.clusters, width)
            for pair, line, s, end in zip(spaced, fitted.lines, shaped, fitted.ends, strict=True)
        ]
    gaps = np.concatenate([[0.0], np.cumsum(fitted.ends[:-1])]) * part.paragraph
    lines = tuple(
        Line(first + n * step + float(gaps[n]), float(_slack(part.align, rtl) * (width - w)), float(w)) for n, (_, w) in enumerate(spaced)
    )
    x = np.concatenate([xs + line.left for (xs, _), line in zip(spaced, lines, strict=True)])
    y = np.concatenate([s.y * size + line.baseline - part.baseline for s, line in zip(shaped, lines, strict=True)])
    scale = np.concatenate([s.scale for s in shaped]) * size
    accents = np.concatenate(
        [np.array([line.table[i].accent for i in line.styles], np.int64)[s.clusters] for line, s in zip(fitted.lines, shaped, strict=True)]
    )
    if any(accent.baseline for accent in part.accents):
        y = y - np.array([0.0, *(accent.baseline for accent in part.accents)])[accents]
    ink = np.concatenate([s.ink for s in shaped]) * size * np.array([squeeze, 1.0, squeeze, 1.0]) + np.stack([x, y, x, y], axis=1)
    unit_of, counts = _units([line.text for line in fitted.lines], shaped, ink)
    caps = face.cap_height / face.upem * size
    lacking = tuple(dict.fromkeys(c for s in shaped for c in s.lacking))
    return Setting(
        size, np.concatenate([s.glyphs for s in shaped]), tuple(f for s in shaped for f in s.faces), x, y, ink, scale, squeeze,
        accents, unit_of, counts, lines, Box(0.0, 0.0, width, max(0.0, step * len(lines) + float(gaps[-1]))),
        Box.from_edges(0.0, first - caps - part.baseline, width, lines[-1].baseline - part.baseline), _ink_box(ink), caps, lacking,
        _substitutes(part, book, face, exact), fitted.remarks, fitted.overflows,
        np.repeat(np.arange(len(shaped)), [len(s.glyphs) for s in shaped]), np.concatenate([s.clusters for s in shaped]),
        fitted.lines, fitted.ends, drawn=_drawn_words(part, face, book),
    )  # fmt: skip


def _substitutes(part: TextPart, book: FontBook, face: Face, exact: bool) -> tuple[str, ...]:
    """Sentences on faces that stand in for others."""
    found = [] if exact else [f"{part.family} {part.style} is not here; {face.full_name} stands in for it."]
    for accent in part.accents:
        other, there = book.find(accent.family, accent.style)
        if not there:
            found.append(f"{accent.family} {accent.style} is not here; {other.full_name} stands in for it.")
    return tuple(found)


def _drawn_words(part: TextPart, face: Face, book: FontBook) -> str:
    """How letters are slanted and made heavier than their face has them; empty where they are not."""
    done = [f"slanted by {in_figures(part.slant)}°"] if part.slant else []
    done += [f"{in_figures(part.weight)} px heavier"] if part.weight else []
    if not done:
        return ""
    slanted = [style for style in book.styles(part.family) if book.find(part.family, style)[0].italic]
    own = f"; {part.family} has {slanted[0]}" if part.slant and slanted and not face.italic else ""
    return f"is {' and '.join(done)}, which {face.full_name} is not{own}"


def named_faces(part: AnyPart | TypesetPart) -> list[tuple[str, str]]:
    """Family and style of a text and of its accents, or of the styles of credits; nothing for what is not set in type."""
    if isinstance(part, CreditsPart):
        return [(style.family, style.style) for style in part.styles]
    return [(part.family, part.style), *((a.family, a.style) for a in part.accents)] if isinstance(part, TypesetPart) else []


def faces_used(part: TypesetPart, setting: Setting, book: FontBook) -> list[Face]:
    """The faces of a set text as their files have them: those that it names, and those that stand in for some of its letters."""
    named = (book.find(*name)[0] for name in named_faces(part))
    return list(dict.fromkeys(face.base for face in (*named, *setting.faces)))


def _slack(align: str, rtl: bool) -> float:
    if align == "middle":
        return 0.5
    return 1.0 if (align == "end") != rtl else 0.0


def _track(line: ShapedLine, size: float, tracking: float) -> tuple[Floats, float]:
    """Pen positions and width of a line in px; tracking stands between clusters, not behind the last."""
    if tracking == 0 or not len(line.glyphs):
        return line.x * size, line.advance * size
    before = np.concatenate([[0.0], np.cumsum(line.ends)[:-1]])
    return line.x * size + before * tracking, max(0.0, line.advance * size + tracked_gaps(line) * tracking)


def tracked_gaps(line: ShapedLine) -> float:
    """Between how many clusters of a line tracking stands: not behind the last."""
    return float(line.ends[:-1].sum()) if len(line.ends) else 0.0


def _justify(x: Floats, width: float, text: str, clusters: Ints, wanted: float) -> tuple[Floats, float]:
    """Spread a line to ``wanted`` px over the blanks between its words, from left to right."""
    blanks = np.array([text[c].isspace() for c in clusters], np.float64)
    if width >= wanted or not blanks.sum():
        return x, width
    before = np.concatenate([[0.0], np.cumsum(blanks)[:-1]])
    return x + before * (wanted - width) / blanks.sum(), wanted


def _units(typed: list[str], shaped: list[ShapedLine], ink: Floats) -> tuple[dict[Unit, Ints], dict[Unit, int]]:
    """Number lines, words and characters in reading order, over all lines."""
    numbers: dict[Unit, list[Ints]] = {"line": [], "word": [], "character": []}
    for n, (line, shape) in enumerate(zip(typed, shaped, strict=True)):
        graphemes = np.searchsorted(grapheme_starts(line), shape.clusters, side="right") - 1
        words = np.asarray(word_numbers(line), np.int64)[shape.clusters] if line else np.zeros(0, np.int64)
        numbers["line"].append(np.full(len(shape.glyphs), n, np.int64))
        numbers["word"].append(np.where(words >= 0, words + n * 100_000, -1))
        numbers["character"].append(np.where(words >= 0, graphemes + n * 100_000, -1))
    seen = ~np.isnan(ink[:, 0])
    unit_of: dict[Unit, Ints] = {"whole": np.zeros(len(ink), np.int64)}
    counts: dict[Unit, int] = {"whole": 1}
    for unit, arrays in numbers.items():
        raw = np.concatenate(arrays)
        kept = distinct(raw[(seen | (unit != "line")) & seen.any()])
        unit_of[unit] = renumbered(raw, kept)
        counts[unit] = len(kept)
    return unit_of, counts


def _gather(unit_of: Ints, count: int, ink: Floats) -> Floats:
    """Union of the glyphs' ink for each unit; NaN rows where there is none."""
    edges = np.full((count, 4), [np.inf, np.inf, -np.inf, -np.inf])
    seen = (unit_of >= 0) & ~np.isnan(ink[:, 0])
    index = unit_of[seen]
    np.minimum.at(edges, index, np.where([True, True, False, False], ink[seen], np.inf))
    np.maximum.at(edges, index, np.where([False, False, True, True], ink[seen], -np.inf))
    edges[np.isinf(edges).any(axis=1)] = np.nan
    return edges


def _ink_box(ink: Floats) -> Box | None:
    seen = ink[~np.isnan(ink[:, 0])]
    if not len(seen):
        return None
    return Box.from_edges(float(seen[:, 0].min()), float(seen[:, 1].min()), float(seen[:, 2].max()), float(seen[:, 3].max()))
