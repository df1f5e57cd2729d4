"""Waveforms of the sounds on a cut, read one after another beside the window."""

from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QObject, pyqtSignal

from avlet.desktop.sessions.runner import Runner
from avlet.errors import AvletError
from avlet.media.sound import peaks_of

Peaks = NDArray[np.uint8]
_MOST_KEPT = 64


class PeaksRunner(Runner):
    """Reads the peaks of one file."""

    def __init__(self, path: Path) -> None:
        super().__init__()
        self.path = path
        self.peaks: Peaks | None = None

    def run(self) -> None:
        try:
            self.peaks = peaks_of(self.path, lambda: not self.stopping)
        except AvletError:
            self.peaks = np.zeros(0, np.uint8)  # why it cannot be heard is said where it should be heard


class Waveforms(QObject):
    """What is known of the sounds that were asked for. ``ready`` tells that there is more."""

    ready = pyqtSignal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._known: dict[Path, Peaks] = {}
        self._waiting: list[Path] = []
        self._runner: PeaksRunner | None = None

    def peaks(self, path: Path) -> Peaks | None:
        """The peaks of a file, 100 a second; None while they are being read."""
        found = self._known.get(path)
        if found is None and path not in self._waiting and (self._runner is None or self._runner.path != path):
            self._waiting.append(path)
            self._next()
        return found

    def _next(self) -> None:
        if self._runner is not None or not self._waiting:
            return
        self._runner = PeaksRunner(self._waiting.pop(0))
        self._runner.finished.connect(self._take)
        self._runner.begin()

    def _take(self) -> None:
        runner, self._runner = self._runner, None
        if runner is None or runner.stopping or runner.peaks is None:
            return
        self._known[runner.path] = runner.peaks
        while len(self._known) > _MOST_KEPT:
            del self._known[next(iter(self._known))]
        self.ready.emit()
        self._next()
