"""Folded time: way in and way out at full size, the hold between them folded to a narrow strip, or laid out in full."""

from dataclasses import dataclass

from avlet.motion.spans import Spans

FOLD = 96.0
"""px that a folded hold takes."""


@dataclass(frozen=True)
class FoldedTime:
    """Where moments, in frames from the first to the last, lie between ``left`` and ``right`` px.

    A hold is folded only when that makes it narrower, and only between ``early`` frames and ``late`` frames before the last, where
    something leaves early or arrives late.
    """

    spans: Spans
    left: float
    right: float
    folded: bool = True
    early: float = 0.0
    late: float = 0.0

    @property
    def _tail(self) -> float:
        """Frames at the end that are never folded."""
        return max(float(self.spans.way_out), min(self.late, self.last - self.spans.way_in))

    @property
    def _head(self) -> float:
        """Frames at the beginning that are never folded."""
        return max(float(self.spans.way_in), min(self.early, self.last - self._tail))

    @property
    def _ends(self) -> float:
        return max(1.0, self._head + self._tail)

    @property
    def is_folded(self) -> bool:
        """Whether the hold is folded now."""
        return self.folded and self._hold * self._even > FOLD and self._head + self._tail > 0

    @property
    def last(self) -> int:
        """The last frame."""
        return max(1, self.spans.length - 1)

    @property
    def _hold(self) -> float:
        return max(0.0, self.last - self._head - self._tail)

    @property
    def _even(self) -> float:
        return max(1.0, self.right - self.left) / self.last

    @property
    def scale(self) -> float:
        """px of a frame in the way in and out."""
        return (self.right - self.left - FOLD) / self._ends if self.is_folded else self._even

    @property
    def _hold_scale(self) -> float:
        return FOLD / self._hold if self.is_folded else self._even

    @property
    def hold_begin(self) -> float:
        return self.left + self.spans.way_in * self.scale

    @property
    def fold_begin(self) -> float:
        """Where what may be folded begins, in px."""
        return self.left + self._head * self.scale

    @property
    def fold_end(self) -> float:
        """Where what may be folded ends, in px."""
        return self.fold_begin + self._hold * self._hold_scale

    @property
    def hold_end(self) -> float:
        return self.x_of(self.last - self.spans.way_out)

    def x_of(self, frame: float) -> float:
        """Where a frame begins, in px."""
        if frame <= self._head:
            return self.left + frame * self.scale
        if frame <= self.last - self._tail:
            return self.fold_begin + (frame - self._head) * self._hold_scale
        return self.fold_end + (frame - self.last + self._tail) * self.scale

    def frame_at(self, x: float) -> float:
        """The frame, with its fraction, that lies at ``x`` px."""
        if x <= self.fold_begin:
            return (x - self.left) / max(self.scale, 1e-9)
        if x <= self.fold_end:
            return self._head + (x - self.fold_begin) / max(self._hold_scale, 1e-9)
        return self.last - self._tail + (x - self.fold_end) / max(self.scale, 1e-9)
