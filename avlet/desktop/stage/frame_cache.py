"""Frames that are already drawn, kept in memory up to a limit, and drawn ahead by worker processes where drawing is slow."""

from collections.abc import Callable, Iterable
from concurrent.futures import Future
from typing import ClassVar

import numpy as np
from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from avlet.errors import AvletError
from avlet.media.drawing import Drawing, Painter, Pool, draw_with, result_of, workers_for
from avlet.paint.painter import Pixels

_LOOK = 20


class FrameCache:
    """Drawn frames of one document at one size. Anything else lets go of all of them.

    ``most_bytes`` is the memory that those of one view may take.
    """

    most_bytes: ClassVar[int] = 256 * 1024 * 1024

    def __init__(self) -> None:
        self._key: object = None
        self._kept: dict[int, Pixels] = {}
        self._bytes = 0

    @property
    def frames(self) -> set[int]:
        """The frames that are kept."""
        return set(self._kept)

    @property
    def bytes(self) -> int:
        """How much memory they take."""
        return self._bytes

    def clear(self) -> None:
        self._key, self._kept, self._bytes = None, {}, 0

    def get(self, key: object, frame: int) -> Pixels | None:
        """A frame that was drawn for the same ``key``."""
        return self._kept.get(frame) if key == self._key else None

    def put(self, key: object, frame: int, pixels: Pixels) -> None:
        """Keep a frame; nothing is pushed out for it once the memory is full, so that a loop does not chase its own tail."""
        if key != self._key:
            self.clear()
            self._key = key
        if frame not in self._kept and self._bytes + pixels.nbytes <= self.most_bytes:
            self._kept[frame] = pixels.copy()
            self._bytes += pixels.nbytes


def pixels_of(painter: Painter, frame: int) -> bytes:
    """A frame's pixels, as a worker hands them back."""
    return painter.paint(frame).tobytes()


class AheadDrawing(QObject):
    """Draws frames in worker processes while the window stays quick. ``drawn`` tells each frame as it is done."""

    drawn = pyqtSignal(int, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool: Pool | None = None
        self._waiting: dict[int, Future[bytes]] = {}
        self._shape = (0, 0, 4)
        self._timer = QTimer(self)
        self._timer.setInterval(_LOOK)
        self._timer.timeout.connect(self._collect)

    @property
    def busy(self) -> bool:
        """Whether frames are being drawn."""
        return bool(self._waiting)

    def start(self, drawing: Drawing, frames: Iterable[int], start_pool: Callable[..., Pool] = Pool) -> None:
        """Draw frames in this order; what was being drawn before is dropped."""
        self.stop()
        wanted = list(frames)
        if not wanted:
            return
        self._shape = (drawing.height, drawing.width, 4)
        self._pool = start_pool(workers_for(1000, None), drawing, [])
        self._waiting = {frame: self._pool.submit(draw_with, pixels_of, frame) for frame in wanted}
        self._timer.start()

    def stop(self) -> None:
        """Drop what is not yet drawn, and the processes."""
        self._timer.stop()
        self._waiting = {}
        if self._pool is not None:
            self._pool.shutdown(wait=False, cancel_futures=True)
            self._pool = None

    def _collect(self) -> None:
        for frame in [f for f, future in self._waiting.items() if future.done()]:
            future = self._waiting.pop(frame)
            try:
                pixels = np.frombuffer(result_of(future), np.uint8).reshape(self._shape)
            except AvletError:
                self.stop()
                return
            self.drawn.emit(frame, pixels)
        if not self._waiting:
            self.stop()
