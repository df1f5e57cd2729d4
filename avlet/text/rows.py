"""Rows of credits: each block as lines of type at their places, without setting any type that is certain to fit."""

import math
from collections.abc import Iterator
from functools import lru_cache
from typing import NamedTuple

import icu

from avlet.document.lists.blocks import Block, Gap, Heading, Names, PageBreak, Pictures, Role, RuleLine, Words, words_in
from avlet.document.looks.pictures import read_picture
from avlet.document.parts import Align, BlockStyle, CreditsPart, PictureFile, Room, TextPart
from avlet.geometry import Box
from avlet.text.fonts import Face, FontBook
from avlet.text.runs import reads_right_to_left
from avlet.text.setting import Setting, set_text

NAME, ROLE, HEADING, WORDS = range(4)
"""Numbers of the styles, as :data:`avlet.document.parts.credits.STYLES` has them."""
_SURE = 1.25
"""A line whose letters take up this much less than its room, one by one, is certain to fit: no kerning widens words that far."""
_SIMPLE = 0x530
"""Latin, Greek and Cyrillic letters lie below: each takes its own room, whatever stands beside it."""
_STANDS = {"start": 0.0, "middle": 0.5, "end": 1.0}


class Piece(NamedTuple):
    """Words in one style. Their line box stands in a column from ``x``, ``width`` px wide, at a share of what is left over there.

    ``y`` is where it begins below the row's top; ``room`` the widest that it may be, 0 without limit.
    """

    style: int
    text: str
    x: float
    width: float
    stands: float
    y: float
    room: float = 0.0


class Extra(NamedTuple):
    """A picture, or a rule where there is none, in a box from the row's left top corner."""

    box: Box
    picture: PictureFile | None = None


class Row(NamedTuple):
    """What stands side by side: ``height`` px high, ``y`` px below the top of its block."""

    y: float
    height: float
    pieces: tuple[Piece, ...] = ()
    extras: tuple[Extra, ...] = ()


class BlockRows(NamedTuple):
    """The rows of one block, how high it is in all, what became of words that were too long, and from where to where they reach across."""

    rows: tuple[Row, ...]
    height: float
    remarks: tuple[str, ...] = ()
    left: float = math.inf
    right: float = -math.inf


class Metrics(NamedTuple):
    """Of a style, in px: from line to line, and from a line box's top to its first baseline."""

    face: Face
    exact: bool
    step: float
    first: float


class RowSetter:
    """Sets blocks in the styles and columns of one part. What it is asked again it knows."""

    def __init__(self, part: CreditsPart, book: FontBook, rtl: bool) -> None:
        self.part, self.book, self.rtl = part, book, rtl
        self.styles = part.styles
        self.metrics = tuple(_metrics(style, book) for style in self.styles)
        self._known: dict[Block, BlockRows] = {}
        self._advances: dict[Face, dict[str, float]] = {}
        axis = part.width * part.axis / 100
        roles = (max(0.0, axis - part.role_gap - part.role_width) if part.role_width else 0.0, max(0.0, axis - part.role_gap))
        names = min(part.width, axis + part.name_gap)
        self._roles = roles[0], roles[1] - roles[0]
        self._names = names, min(part.width - names, part.name_width) if part.name_width else part.width - names

    @property
    def tallest(self) -> float:
        """How far letters may reach beyond their line, at most, in px."""
        return max(style.size for style in self.styles)

    def rows_of(self, block: Block) -> BlockRows:
        """The rows of a block."""
        known = self._known.get(block)
        if known is None:
            known = self._known[block] = self._made(block)
        return known

    def let_go(self, blocks: set[Block]) -> None:
        """Forget all blocks but these, once there are many others."""
        if len(self._known) > 2 * len(blocks) + 1000:
            self._known = {block: rows for block, rows in self._known.items() if block in blocks}

    def _made(self, block: Block) -> BlockRows:
        remarks: list[str] = []
        match block:
            case Heading():
                rows = [self._line(HEADING, block.text, remarks)]
            case Words():
                rows = [self._line(WORDS, block.text, remarks)]
            case Role():
                rows = list(self._role(block, remarks))
            case Names():
                rows = list(self._columns(block, remarks))
            case Pictures():
                rows = [self._pictures(block)]
            case RuleLine():
                box = Box((self.part.width - block.width) * self._side(), 0.0, block.width, block.thickness)
                rows = [Row(0.0, block.thickness, (), (Extra(box),))]
            case Gap():
                return BlockRows((), block.height)
            case PageBreak():
                return BlockRows((), 0.0)
        spans = [self.span(piece) for row in rows for piece in row.pieces]
        spans += [(extra.box.x, extra.box.right) for row in rows for extra in row.extras]
        left, right = min((s[0] for s in spans), default=math.inf), max((s[1] for s in spans), default=-math.inf)
        return BlockRows(tuple(rows), rows[-1].y + rows[-1].height, tuple(remarks), left, right)

    def span(self, piece: Piece) -> tuple[float, float]:
        """From where to where a piece reaches across, in px: of letters one by one where it is certain to fit."""
        width = self.sure_width(piece.style, piece.text)
        if "\n" in piece.text or width * _SURE > piece.room:
            width = float(self.setting(piece).line_box.w)
        left = piece.x + (piece.width - width) * piece.stands
        return left, left + width

    def _side(self) -> float:
        """Where headings and words stand, 0 left to 1 right."""
        share = _STANDS[self.part.others_lie]
        return 1.0 - share if self.rtl else share

    def _line(self, style: int, text: str, remarks: list[str]) -> Row:
        piece = Piece(style, text, 0.0, self.part.width, self._side(), 0.0, self.part.width)
        return Row(0.0, self._height(piece, remarks), (piece,))

    def _role(self, block: Role, remarks: list[str]) -> Iterator[Row]:
        part = self.part
        role, name = self.metrics[ROLE], self.metrics[NAME]
        if part.lies == "one above the other":
            y = 0.0
            for style, text in ((ROLE, block.role), *((NAME, n) for n in block.names)):
                if style == ROLE and not text:
                    continue
                piece = Piece(style, text, 0.0, part.width, self._side(), 0.0, part.width)
                height = self._height(piece, remarks)
                yield Row(y, height, (piece,))
                y += height
            if not (block.role or block.names):
                yield Row(0.0, name.step)
            return
        y = 0.0
        for number, words in enumerate(block.names or ("",)):
            led = number == 0 and bool(block.role)
            baseline = max(role.first, name.first) if led else name.first
            pieces = []
            if led:
                pieces.append(self._placed(ROLE, block.role, self._roles, part.roles_lie, True, baseline - role.first))
            if words:
                pieces.append(self._placed(NAME, words, self._names, part.names_lie, False, baseline - name.first))
            height = max([p.y + self._height(p, remarks) for p in pieces] or [name.step])
            yield Row(y, height, tuple(pieces))
            y += height + part.row_gap

    def _placed(self, style: int, text: str, column: tuple[float, float], lies: str, left: bool, y: float) -> Piece:
        """Words in one of the two columns: the one left of the axis, or the other one; mirrored where the list is."""
        x, width = column
        share = 0.5 if lies == "centred" else float((lies == "to the axis") == left)
        if self.rtl:
            x, share = self.part.width - x - width, 1.0 - share
        return Piece(style, text, x, width, share, y, max(1.0, width))

    def _columns(self, block: Names, remarks: list[str]) -> Iterator[Row]:
        part, count = self.part, block.columns
        names = sorted_names(block.names, block.sorted_in)
        width = max(1.0, (part.width - (count - 1) * part.column_gap) / count)
        rows = math.ceil(len(names) / count) or 1
        y, side = 0.0, self._side()
        for row in range(rows):
            pieces = []
            for column in range(count):
                number = column * rows + row if block.filled == "down" else row * count + column
                if number < len(names) and names[number]:
                    at = count - 1 - column if self.rtl else column
                    pieces.append(Piece(NAME, names[number], at * (width + part.column_gap), width, side, 0.0, width))
            height = max([self._height(p, remarks) for p in pieces] or [self.metrics[NAME].step])
            yield Row(y, height, tuple(pieces))
            y += height + part.row_gap

    def _pictures(self, block: Pictures) -> Row:
        sizes = []
        for picture in block.pictures:
            facts = read_picture(picture)
            sizes.append(block.height if facts.fault else block.height * facts.width / max(facts.height, 1e-6))
        total = sum(sizes) + self.part.column_gap * max(0, len(sizes) - 1)
        x, extras = (self.part.width - total) * self._side(), []
        order = list(zip(block.pictures, sizes, strict=True))
        for picture, width in reversed(order) if self.rtl else order:
            extras.append(Extra(Box(x, 0.0, width, block.height), picture))
            x += width + self.part.column_gap
        return Row(0.0, block.height, (), tuple(extras))

    # Type

    def _height(self, piece: Piece, remarks: list[str]) -> float:
        """How high a piece is: of one line where it is certain to fit, else as it is set."""
        step = self.metrics[piece.style].step
        if "\n" not in piece.text and self.sure_width(piece.style, piece.text) * _SURE <= piece.room:
            return step
        setting = self.setting(piece)
        if piece.style != WORDS:
            remarks += [f"“{piece.text[:60]}” {remark}" for remark in setting.remarks]
        return float(setting.line_box.h)

    def sure_width(self, style: int, text: str) -> float:
        """What the letters of a text take up one by one, in px; endless where that says nothing of how it is set."""
        one, face = self.styles[style], self.metrics[style].face
        known = self._advances.setdefault(face, {})
        if one.case in ("capitals", "small capitals"):
            text = text.upper()
        total = 0.0
        for char in text:
            advance = known.get(char)
            if advance is None:
                advance = known[char] = _advance(face, char)
            total += advance
        return total * one.size + max(0.0, one.tracking) / 1000 * one.size * len(text)

    def setting(self, piece: Piece) -> Setting:
        """A piece, set."""
        one = self.styles[piece.style]
        rtl = reads_right_to_left(piece.text)
        align: Align = "middle" if piece.stands == 0.5 else "end" if (piece.stands == 1.0) != rtl else "start"
        remedy = "wrap" if self.part.too_long == "wraps" or piece.style == WORDS else "shrink"
        room = Room(width=piece.room, remedies=("wrap",) if remedy == "wrap" else ("shrink", "wrap"), smallest_size=40.0)
        text = TextPart(
            id="line", name="line", text=piece.text, family=one.family, style=one.style, size=one.size, tracking=one.tracking,
            leading=one.leading, case=one.case, align=align, room=room if piece.room else None,
        )  # fmt: skip
        return set_text(text, self.book)

    def substitutes(self) -> list[str]:
        """Sentences on faces that stand in for others."""
        pairs = zip(self.styles, self.metrics, strict=True)
        found = [f"{s.family} {s.style} is not here; {m.face.full_name} stands in for it." for s, m in pairs if not m.exact]
        return list(dict.fromkeys(found))


def _metrics(style: BlockStyle, book: FontBook) -> Metrics:
    face, exact = book.find(style.family, style.style)
    step = style.size * style.leading / 100
    ascent, descent = face.ascent / face.upem * style.size, face.descent / face.upem * style.size
    return Metrics(face, exact, step, (step - ascent - descent) / 2 + ascent)


def _advance(face: Face, char: str) -> float:
    """How wide a letter is by itself, in em; endless for one that may be set otherwise, or that the face does not have."""
    code = ord(char)
    if code >= _SIMPLE and not 0x2000 <= code < 0x2070:
        return math.inf
    glyph = face.shaper.get_nominal_glyph(code)
    return math.inf if glyph is None else face.shaper.get_glyph_h_advance(glyph) / face.upem


@lru_cache(maxsize=64)
def sorted_names(names: tuple[str, ...], language: str) -> tuple[str, ...]:
    """Names in the order of a language (CLDR's collation, by ICU); as they stand where none is named."""
    if not language:
        return names
    collator = icu.Collator.createInstance(icu.Locale(language))
    return tuple(sorted(names, key=collator.getSortKey))


def list_reads_right_to_left(part: CreditsPart) -> bool:
    """Whether a list runs from right to left: as its part says, or by its first words that have a direction."""
    if part.direction != "by itself":
        return part.direction == "right to left"
    for block in part.blocks:
        for words in words_in(block):
            if any(icu.Char.charDirection(c) in _STRONG for c in words):
                return reads_right_to_left(words)
    return False


_STRONG = (icu.UCharDirection.LEFT_TO_RIGHT, icu.UCharDirection.RIGHT_TO_LEFT, icu.UCharDirection.RIGHT_TO_LEFT_ARABIC)
