"""Playing at the frame rate: the clock decides which frame is due; frames that cannot be shown in time are counted."""

from collections.abc import Callable
from fractions import Fraction

from PyQt6.QtCore import QElapsedTimer, QObject, Qt, QTimer, pyqtSignal


class Player(QObject):
    """Plays a stretch of frames in a loop, telling which frame is due."""

    frame_due = pyqtSignal(int)
    playing_changed = pyqtSignal(bool)

    def __init__(self, length: Callable[[], int], rate: Callable[[], Fraction], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._length, self._rate = length, rate
        self._clock = QElapsedTimer()
        self._timer = QTimer(self)
        self._timer.setTimerType(Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._tick)
        self._begin = 0
        self._last = -1
        self.loop = True
        self.dropped = 0
        self.stretch: Callable[[], tuple[int, int]] = lambda: (0, length())
        """The first frame to play, and the one before which it goes back to that."""

    @property
    def playing(self) -> bool:
        return self._timer.isActive()

    def play(self, frame: int) -> None:
        """Start from a frame; from the first one of the stretch if that is its last or lies outside."""
        first, end = self.stretch()
        self._begin = frame if first <= frame < end - 1 else first
        self._last, self.dropped = -1, 0
        self._clock.restart()
        self._timer.start(max(4, int(500 / float(self._rate()))))
        self.playing_changed.emit(True)

    def stop(self) -> None:
        if self.playing:
            self._timer.stop()
            self.playing_changed.emit(False)

    def toggle(self, frame: int) -> None:
        if self.playing:
            self.stop()
        else:
            self.play(frame)

    def _tick(self) -> None:
        due = int(self._clock.nsecsElapsed() * self._rate() / 1_000_000_000)
        if due == self._last:
            return
        self.dropped += max(0, due - self._last - 1) if self._last >= 0 else 0
        self._last = due
        first, end = self.stretch()
        frame = self._begin + due
        if frame >= end and not self.loop:
            self.stop()
            self.frame_due.emit(end - 1)
            return
        self.frame_due.emit(first + (frame - first) % max(1, end - first))
