"""Which frames of a cut lie across its view, and where."""

from avlet.desktop.desk.cut_shown import LEFT

RIGHT = 12
_LEAST = 25
"""Frames: nothing is shown larger than so many across the view."""


class CutScale:
    """Frames ``first`` to ``first + shown`` lie across a view of ``width`` px; the whole cut until somebody zooms in."""

    def __init__(self) -> None:
        self.width, self.fitting, self.first = 100, 100, 0
        self._zoomed: int | None = None

    @property
    def shown(self) -> int:
        """How many frames lie across the view."""
        return self._zoomed if self._zoomed is not None else self.fitting

    @property
    def _room(self) -> int:
        return max(1, self.width - LEFT - RIGHT)

    def x_of(self, frame: float) -> float:
        """Where a frame begins, in px of the view."""
        return LEFT + (frame - self.first) / self.shown * self._room

    def frame_at(self, x: float) -> int:
        """The frame at a place of the view, in px."""
        return self.first + round((x - LEFT) / self._room * self.shown)

    def fit(self, width: int, frames: int) -> None:
        """A view of so many px, over a cut with room for so many frames."""
        self.width, self.fitting = width, frames
        if self._zoomed is not None and self._zoomed >= frames:
            self._zoomed = None
        self.scroll(0)

    def zoom(self, factor: float, x: float) -> None:
        """Show ``factor`` as many frames; what lies at a place of the view stays there."""
        frame, share = self.frame_at(x), (x - LEFT) / self._room
        wanted = max(_LEAST, round(self.shown * factor))
        self._zoomed = None if wanted >= self.fitting else wanted
        self.first = round(frame - share * self.shown)
        self.scroll(0)

    def scroll(self, frames: int) -> bool:
        """Go on by so many frames, or back, as far as there is something; whether that goes anywhere."""
        before, self.first = self.first, max(0, min(self.fitting - self.shown, self.first + frames))
        return self.first != before

    def reveal(self, frame: int) -> bool:
        """Bring a frame into the view when it lies outside; whether anything moved."""
        if self.first <= frame < self.first + self.shown:
            return False
        return self.scroll(frame - self.shown // 10 - self.first)
