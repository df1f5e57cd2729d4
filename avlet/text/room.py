"""Room: what happens to a text that is too long, one remedy after another, and what is said of it."""

import functools
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

import icu

from avlet.document.parts import Room
from avlet.text.marking import StyledLine
from avlet.text.units import code_points_at, grapheme_starts

ELLIPSIS = "…"
SOFT_HYPHEN = "\u00ad"
_ROUNDS = 18
"""Halvings when a size or width is searched for: to a quarter of a millionth of the text's size."""
_SLACK = 1e-6


class Shape(NamedTuple):
    """How to measure: the width of a line in em, the text's size in px, its line height as a share of that, px between paragraphs."""

    width: Callable[[StyledLine], float]
    size: float
    leading: float
    paragraph: float = 0.0

    def height(self, ends: Sequence[bool], shrink: float) -> float:
        """How high lines are in px, each of which ends a typed one or not."""
        return len(ends) * self.size * shrink * self.leading + sum(ends[:-1]) * self.paragraph


@dataclass(frozen=True)
class Fitted:
    """A text made to fit. ``ends`` says for each line whether it ends a typed one; ``remarks`` what was done."""

    lines: tuple[StyledLine, ...]
    ends: tuple[bool, ...]
    shrink: float = 1.0
    squeeze: float = 1.0
    remarks: tuple[str, ...] = ()
    overflows: bool = False


def make_room(room: Room | None, typed: list[StyledLine], shape: Shape) -> Fitted:
    """Apply the remedies of a room, in its order, until the text fits."""
    fitted = Fitted(tuple(typed), (True,) * len(typed))
    if room is None:
        return fitted
    maker = _Maker(room, typed, shape)
    for remedy in room.remedies:
        if maker.fits(fitted):
            break
        fitted = {"wrap": maker.wrap, "shrink": maker.shrink, "squeeze": maker.squeeze, "ellipsis": maker.ellipsis}[remedy](fitted)
    if not maker.fits(fitted):
        return replace(fitted, remarks=(*fitted.remarks, "is too long for its room"), overflows=True)
    return fitted


class _Maker:
    def __init__(self, room: Room, typed: list[StyledLine], shape: Shape) -> None:
        self.room, self.typed, self.shape = room, typed, shape
        self.wrapping = False

    def fits(self, fitted: Fitted) -> bool:
        """Whether a text keeps to the room's width, height and number of lines."""
        room, size = self.room, self.shape.size * fitted.shrink
        if room.lines and len(fitted.lines) > room.lines:
            return False
        if room.height and self.shape.height(fitted.ends, fitted.shrink) > room.height + _SLACK:
            return False
        return not room.width or all(self.shape.width(line) * size * fitted.squeeze <= room.width + _SLACK for line in fitted.lines)

    def wrap(self, fitted: Fitted) -> Fitted:
        """Break lines where Unicode allows it (UAX #14), evenly if asked for."""
        if not self.room.width:
            return fitted
        self.wrapping = True
        return self._wrapped(fitted)

    def _wrapped(self, fitted: Fitted) -> Fitted:
        limit = self.room.width / (self.shape.size * fitted.shrink * fitted.squeeze)
        lines: list[StyledLine] = []
        ends: list[bool] = []
        for line in self.typed:
            pieces = break_line(line, limit, self.shape.width)
            if self.room.balanced and len(pieces) > 1:
                pieces = self._balanced(line, limit, len(pieces))
            lines += pieces
            ends += [False] * (len(pieces) - 1) + [True]
        done = replace(fitted, lines=tuple(lines), ends=tuple(ends))
        remarks = [r for r in fitted.remarks if not r.startswith("wraps")]
        if len(lines) > len(self.typed):
            remarks.append(f"wraps onto {len(lines)} lines")
        return replace(done, remarks=tuple(remarks))

    def _balanced(self, line: StyledLine, limit: float, count: int) -> list[StyledLine]:
        """The narrowest breaking that needs no more lines."""
        low, high = 0.0, limit
        for _ in range(_ROUNDS):
            middle = (low + high) / 2
            pieces = break_line(line, middle, self.shape.width)
            if len(pieces) <= count and all(self.shape.width(p) <= limit for p in pieces):
                high = middle
            else:
                low = middle
        return break_line(line, high, self.shape.width)

    def shrink(self, fitted: Fitted) -> Fitted:
        """Make it smaller, no more than needed, and not below the smallest size."""
        share, done = self._search(self.room.smallest_size / 100, lambda share: self._again(replace(fitted, shrink=share)))
        return replace(done, remarks=(*done.remarks, f"shrinks to {share * 100:.0f} %"))

    def squeeze(self, fitted: Fitted) -> Fitted:
        """Make it narrower, no more than needed, and not below the smallest width."""
        share, done = self._search(self.room.smallest_width / 100, lambda share: self._again(replace(fitted, squeeze=share)))
        return replace(done, remarks=(*done.remarks, f"is squeezed to {share * 100:.0f} %"))

    def _again(self, fitted: Fitted) -> Fitted:
        return self._wrapped(fitted) if self.wrapping else fitted

    def _search(self, least: float, made: Callable[[float], Fitted]) -> tuple[float, Fitted]:
        """The largest share from ``least`` to 1 that fits; ``least`` when none does."""
        low, high = least, 1.0
        if not self.fits(made(low)):
            return low, made(low)
        for _ in range(_ROUNDS):
            middle = (low + high) / 2
            low, high = (middle, high) if self.fits(made(middle)) else (low, middle)
        return low, made(low)

    def ellipsis(self, fitted: Fitted) -> Fitted:
        """Leave out what is too much at the end of the last line that has room, and say so with three dots."""
        size = self.shape.size * fitted.shrink * fitted.squeeze
        limit = self.room.width / size if self.room.width else float("inf")
        most = len(fitted.lines)
        if self.room.lines:
            most = min(most, self.room.lines)
        if self.room.height:
            while most > 1 and self.shape.height(fitted.ends[:most], fitted.shrink) > self.room.height + _SLACK:
                most -= 1
        kept = list(fitted.lines[:most])
        cut = most < len(fitted.lines)
        lines = [
            line if self.shape.width(line) <= limit and not (cut and i == most - 1) else self._cut(line, limit)
            for i, line in enumerate(kept)
        ]
        if lines == list(fitted.lines):
            return fitted
        return replace(fitted, lines=tuple(lines), ends=fitted.ends[:most], remarks=(*fitted.remarks, "ends in an ellipsis"))

    def _cut(self, line: StyledLine, limit: float) -> StyledLine:
        """The longest beginning of a line that fits with the dots behind it."""
        starts = grapheme_starts(line.text)
        low, high = 0, len(starts) - 1
        while low < high:
            middle = (low + high + 1) // 2
            low, high = (middle, high) if self.shape.width(self._dotted(line, starts[middle])) <= limit else (low, middle - 1)
        return self._dotted(line, starts[low])

    @staticmethod
    def _dotted(line: StyledLine, end: int) -> StyledLine:
        return line.cut(0, end).trimmed().with_end(ELLIPSIS)


@functools.lru_cache(maxsize=2048)
def break_places(text: str) -> tuple[int, ...]:
    """Code point indices before which a line may be broken (UAX #14), the end included."""
    breaker = icu.BreakIterator.createLineInstance(icu.Locale.getRoot())
    breaker.setText(text)
    to_code_point = code_points_at(text)
    return tuple(to_code_point[i] for i in breaker)


def break_line(line: StyledLine, limit: float, width: Callable[[StyledLine], float]) -> list[StyledLine]:
    """Break a line so that each piece is at most ``limit`` wide, as full as can be; a single long word stays whole."""
    if not line.text or width(line) <= limit:
        return [line]
    pieces: list[StyledLine] = []
    start = last = 0
    for place in break_places(line.text):
        if last > start and width(_piece(line, start, place)) > limit:
            piece = _piece(line, start, last)
            pieces += [piece] if piece.text else []  # blanks alone make no line
            start = last
        last = place
    pieces.append(_piece(line, start, len(line.text)))
    return pieces


def _piece(line: StyledLine, start: int, end: int) -> StyledLine:
    """A stretch of a line as a line of its own: without blanks at its end, and with a hyphen where it ends at a soft one."""
    piece = line.cut(start, end).trimmed()
    if end < len(line.text) and piece.text.endswith(SOFT_HYPHEN):
        return piece.cut(0, len(piece.text) - 1).with_end("-")
    return piece
