"""The strip: a whole list laid out, row after row, as long as it is; type is set where it is looked at."""

import bisect
import functools
import itertools
import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import NamedTuple

import msgspec
import numpy as np

from avlet.arrays import Floats, Ints
from avlet.document.lists.blocks import Block, Gap, Heading, Names, PageBreak, Pictures, Role, RuleLine, Words
from avlet.document.looks.picture_file import PictureFile
from avlet.document.metadata import facts_of
from avlet.document.parts import CreditsPart
from avlet.geometry import Axis
from avlet.giving_back import kept_to_be_quick
from avlet.text.fonts import Face, FontBook
from avlet.text.rows import HEADING, NAME, ROLE, WORDS, BlockRows, Piece, Row, RowSetter, list_reads_right_to_left
from avlet.text.setting import Carried, Setting
from avlet.text.sheets import sheet_of

_TILE_ROWS, _TILE_PX = 16, 600.0
_BETWEEN = 0.6
"""How far a role stands before its names in a crawl, in em of the names."""
_MOST_TOLD = 3


class Tile(NamedTuple):
    """A stretch of rows that is drawn together: from row ``first`` to before ``last``, and from where to where along the strip, in px."""

    first: int
    last: int
    begin: float
    end: float


@dataclass(frozen=True, eq=False)
class Strip:
    """All rows of a list, in the order in which they lie along an ``axis``: down, or across for a crawl.

    ``begins`` and ``ends`` (rows,) are in px from the strip's start, ``block_of`` (rows,) the number of each row's block;
    ``length`` is how long it is, ``breadth`` how far its room reaches the other way, ``extent`` from where to where its words do.
    """

    setter: RowSetter
    axis: Axis
    rows: tuple[Row, ...]
    begins: Floats
    ends: Floats
    block_of: Ints
    length: float
    breadth: float
    rtl: bool
    remarks: tuple[str, ...]
    extent: tuple[float, float] = (0.0, 0.0)

    @functools.cached_property
    def _found(self) -> tuple[tuple[str, ...], tuple[Face, ...]]:
        """The letters that no face has, and the faces that stand in for others'."""
        setter = self.setter
        lacking: dict[str, None] = {}
        faces: dict[Face, None] = {}
        used: dict[int, set[str]] = {}
        for row in self.rows:
            for piece in row.pieces:
                used.setdefault(piece.style, set()).update(piece.text)
        for style, letters in used.items():
            own = setter.metrics[style].face
            for letter in sorted(letters):
                if ord(letter) in own.covered or letter.isspace():
                    continue
                face = setter.book.covering(letter, own)
                if face is None:
                    lacking[letter] = None
                elif face is not own:
                    faces[face] = None
        return tuple(lacking), tuple(faces)

    @functools.cached_property
    def pictures(self) -> tuple[PictureFile, ...]:
        """The pictures that it shows, each once."""
        return tuple(dict.fromkeys(extra.picture for row in self.rows for extra in row.extras if extra.picture is not None))

    @property
    def lacking(self) -> tuple[str, ...]:
        """The letters that no face here has."""
        return self._found[0]

    @property
    def standing_in(self) -> tuple[Face, ...]:
        """The faces that stand in for letters that the named ones do not have."""
        return self._found[1]

    @functools.cached_property
    def tiles(self) -> tuple[Tile, ...]:
        """The whole strip in stretches that follow each other."""
        begins, ends = self.begins.tolist(), self.ends.tolist()
        found, first = [], 0
        for at in range(1, len(begins) + 1):
            if at == len(begins) or at - first >= _TILE_ROWS or ends[at] - begins[first] > _TILE_PX:
                found.append(Tile(first, at, begins[first], max(ends[first:at])))
                first = at
        return tuple(found)

    @functools.cached_property
    def _tile_ends(self) -> list[float]:
        return [tile.end for tile in self.tiles]

    def tiles_between(self, low: float, high: float) -> tuple[Tile, ...]:
        """The tiles that meet a stretch of the strip, in px from its start."""
        first = bisect.bisect_left(self._tile_ends, low)
        return tuple(itertools.takewhile(lambda tile: tile.begin <= high, self.tiles[first : first + 10_000]))

    def sheet(self, first: int, last: int) -> Setting:
        """Some rows set together, in px from the first one's begin along the axis and from the part's edge across it."""
        begin = float(self.begins[first])
        offsets = ((float(at) - begin, 0.0) if self.axis == 0 else (0.0, float(at) - begin) for at in self.begins[first:last])
        long = float(self.ends[first:last].max()) - begin
        size = (long, self.breadth) if self.axis == 0 else (self.breadth, long)
        return sheet_of(self.setter, list(zip(self.rows[first:last], offsets, strict=True)), size)

    def row_at(self, place: float) -> int | None:
        """The row at a place along the strip, or the nearest to it; None for an empty list."""
        if not len(self.begins):
            return None
        after = int(np.searchsorted(self.begins, place, side="right"))
        near = [n for n in (after - 1, after) if 0 <= n < len(self.begins)]
        return min(near, key=lambda n: max(self.begins[n] - place, place - self.ends[n], 0.0))

    def span_of(self, block: int) -> tuple[float, float] | None:
        """From where to where a block reaches; None for one without rows."""
        first, last = self.rows_of(block)
        return (float(self.begins[first:last].min()), float(self.ends[first:last].max())) if last > first else None

    def rows_of(self, block: int) -> tuple[int, int]:
        """The rows of a block: from the first to before the last."""
        where = np.flatnonzero(self.block_of == block)
        return (int(where[0]), int(where[-1]) + 1) if len(where) else (0, 0)


def strip_of(part: CreditsPart, book: FontBook) -> Strip:
    """The strip of a part's list; the same list in the same setting is the same strip."""
    movement = part.movement
    how = (movement.separator, movement.apart) if movement.how == "crawls" else None
    for key, kept in _met:
        if key[0] is part.blocks and key[1] == (facts_of(_bare(part), "setting"), part.width, how) and key[2] is book:
            return kept
    rtl = list_reads_right_to_left(part)
    facts = facts_of(_bare(part), "setting"), part.width
    setter = _setter(facts, rtl, Carried(part), book)
    made = _crawled(part, setter, rtl) if movement.how == "crawls" else _stacked(part, setter, rtl)
    setter.let_go(set(part.blocks))
    _met.append(((part.blocks, (*facts, how), book), made))
    del _met[:-_MOST_MET]
    return made


_met: list[tuple[tuple[tuple[Block, ...], object, FontBook], Strip]] = []
_MOST_MET = 8


def _bare(part: CreditsPart) -> CreditsPart:
    return msgspec.structs.replace(part, blocks=())


@functools.lru_cache(maxsize=16)
def _setter(facts: object, rtl: bool, carried: "Carried[CreditsPart]", book: FontBook) -> RowSetter:
    return RowSetter(_bare(carried.part), book, rtl)


kept_to_be_quick(_setter.cache_clear)


def _gap(part: CreditsPart, before: Block | None, block: Block) -> float:
    """The room between two blocks; explicit gaps stand alone."""
    if before is None or isinstance(before, Gap | PageBreak) or isinstance(block, Gap | PageBreak):
        return 0.0
    if isinstance(before, Heading):
        return part.heading_gap
    if isinstance(block, Heading):
        return part.section_gap
    spaced = isinstance(before, Words | Pictures | RuleLine) or isinstance(block, Words | Pictures | RuleLine)
    return part.heading_gap if spaced else part.row_gap


def _stacked(part: CreditsPart, setter: RowSetter, rtl: bool) -> Strip:
    rows: list[Row] = []
    begins: list[float] = []
    ends: list[float] = []
    block_of: list[int] = []
    remarks: list[str] = []
    y, before, left, right = 0.0, None, math.inf, -math.inf
    for number, block in enumerate(part.blocks):
        made: BlockRows = setter.rows_of(block)
        y += _gap(part, before, block)
        for row in made.rows:
            rows.append(row)
            begins.append(y + row.y)
            ends.append(y + row.y + row.height)
            block_of.append(number)
        remarks += made.remarks
        left, right = min(left, made.left), max(right, made.right)
        y += made.height
        before = block
    return Strip(
        setter, 1, tuple(rows), np.array(begins), np.array(ends), np.array(block_of, np.int64), y, part.width, rtl, _told(remarks),
        (left, right) if right > left else (0.0, 0.0),
    )  # fmt: skip


def _told(remarks: list[str]) -> tuple[str, ...]:
    """The first few, and how many more there are."""
    more = len(remarks) - _MOST_TOLD
    return tuple(remarks) if more <= 0 else (*remarks[:_MOST_TOLD], f"{more} more lines are too long for their columns")


def _entries(part: CreditsPart, rtl: bool) -> Iterator[tuple[int, list[tuple[int, str]]]]:
    """What crawls: for each block that shows something its number, its words with their styles."""
    comma = "، " if rtl else ", "
    for number, block in enumerate(part.blocks):
        match block:
            case Heading(text=text):
                words = [(HEADING, text)]
            case Words(text=text):
                words = [(WORDS, text)]
            case Role(role=role, names=names):
                words = [(ROLE, role), (NAME, comma.join(n for n in names if n))]
            case Names(names=names):
                words = [(NAME, comma.join(n for n in names if n))]
            case _:
                continue
        words = [(style, " ".join(text.split())) for style, text in words if text.strip()]
        if words:
            yield number, words


def _crawled(part: CreditsPart, setter: RowSetter, rtl: bool) -> Strip:
    """All entries in one line, signs between them. It reads from its one end to the other; rows are those from left to right."""
    baseline = max(m.first for m in setter.metrics)
    height = max(baseline - m.first + m.step for m in setter.metrics)
    apart, sign = part.movement.apart, part.movement.separator.strip()
    between = setter.styles[NAME].size * _BETWEEN
    listed: list[tuple[float, float, Row, int]] = []

    def entry(words: list[tuple[int, str]]) -> tuple[Row, float]:
        x, pieces = 0.0, []
        for style, text in words:
            piece = Piece(style, text, x, 0.0, 0.0, baseline - setter.metrics[style].first)
            width = float(setter.setting(piece).line_box.w)
            pieces.append(piece._replace(width=width))
            x += width + between
        long = max(0.0, x - between)
        if rtl:
            pieces = [piece._replace(x=long - piece.x - piece.width) for piece in pieces]
        return Row(0.0, height, tuple(pieces)), long

    at = 0.0
    for number, words in _entries(part, rtl):
        if listed:
            at += apart
            if sign:
                row, long = entry([(NAME, sign)])
                listed.append((at, long, row, number))
                at += long + apart
        row, long = entry(words)
        listed.append((at, long, row, number))
        at += long
    if rtl:
        listed = [(at - begin - long, long, row, number) for begin, long, row, number in reversed(listed)]
    begins, ends = np.array([b for b, *_ in listed]), np.array([b + long for b, long, *_ in listed])
    return Strip(
        setter, 0, tuple(row for *_, row, _ in listed), begins, ends, np.array([n for *_, n in listed], np.int64), at, height, rtl, (),
        (0.0, height),
    )  # fmt: skip
