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
        self.way = 1
        """How fast it plays, as a multiple of the rate; below 0 backwards."""
        self.clock: Callable[[], int | None] = lambda: None
        """Nanoseconds since it began by another clock, such as that of the sound; None where the machine's own counts."""
        self.dropped = 0
        self.stretch: Callable[[], tuple[int, int]] = lambda: (0, length())
        """The first frame to play, and the one before which it goes back to that."""

    @property
    def playing(self) -> bool:
        return self._timer.isActive()

    def play(self, frame: int, way: int = 1) -> None:
        """Start from a frame; where there is nothing left to play on that ``way`` from the other end of the stretch."""
        first, end = self.stretch()
        if way > 0:
            self._begin = frame if first <= frame < end - 1 else first
        else:
            self._begin = frame if first < frame < end else end - 1
        self.way = way
        self._last, self.dropped = -1, 0
        self._clock.restart()
        self._timer.start(max(4, int(500 / float(self._rate()))))
        self.playing_changed.emit(True)

    @property
    def begun(self) -> int:
        """The frame that it began with."""
        return self._begin

    def restart(self) -> None:
        """Begin to count anew from the frame that it began with."""
        self._last = -1
        self._clock.restart()

    def stop(self) -> None:
        if self.playing:
            self._timer.stop()
            self.playing_changed.emit(False)

    def wind(self, frame: int, way: int) -> None:
        """Play on (1) or back (−1); a second time in the same direction twice as fast, up to four times."""
        faster = max(-4, min(4, self.way * 2)) if self.playing and self.way * way > 0 else way
        self.play(frame, faster)

    def toggle(self, frame: int) -> None:
        if self.playing:
            self.stop()
        else:
            self.play(frame)

    def _tick(self) -> None:
        told = self.clock() if self.way == 1 else None
        due = int((self._clock.nsecsElapsed() if told is None else told) * self._rate() / 1_000_000_000)
        if due == self._last:
            return
        self.dropped += max(0, due - self._last - 1) if self._last >= 0 else 0
        self._last = due
        first, end = self.stretch()
        frame = self._begin + due * self.way
        if not first <= frame < end and (not self.loop or self.way < 0):
            self.stop()
            self.frame_due.emit(end - 1 if self.way > 0 else first)
            return
        self.frame_due.emit(first + (frame - first) % max(1, end - first))
