"""Drawing quicker while something is dragged, so that the picture follows the hand; as it is again when the hand rests."""

import math

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

SLOW, WANTED = 1 / 25, 1 / 33
"""Seconds that a picture may take before it is drawn smaller, and that it is to take then."""
SMALLEST = 0.2
"""Share of the width and height that is drawn at least."""
_REST = 160
"""ms without a change after which the hand rests."""


class Hurry(QObject):
    """How large a picture is drawn at present, as a share of its width and height, and how roughly. ``rested`` tells that it is to be
    drawn as it is.
    """

    rested = pyqtSignal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._on = self._slow = False
        self._share = 1.0
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_REST)
        self._timer.timeout.connect(self._rest)

    @property
    def share(self) -> float:
        """Of the width and the height."""
        return self._share if self._on else 1.0

    @property
    def rough(self) -> bool:
        """Whether all is left out that only makes edges smoother: from the first picture of a gesture that took too long."""
        return self._on and self._slow

    def follow(self, in_gesture: bool) -> None:
        """Something has changed, by a hand that goes on or at once."""
        self._on = in_gesture
        self._slow &= in_gesture
        self._timer.stop()

    def took(self, seconds: float) -> None:
        """A picture of the present share took so long: the next ones of a gesture are smaller or larger accordingly."""
        whole = seconds / self.share**2
        self._share = 1.0 if whole <= SLOW else max(SMALLEST, min(1.0, math.sqrt(WANTED / whole)))
        self._slow |= self._on and whole > SLOW
        if self._on and (self._share < 1 or self._slow):
            self._timer.start()

    def _rest(self) -> None:
        if self._on:
            self._on = False
            self.rested.emit()
