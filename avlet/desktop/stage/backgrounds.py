"""What stands behind the picture on the stage: a moving plate, black, grey, white, checks."""

from pathlib import Path
from typing import Any

import numpy as np
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QImage, QPainter

from avlet.errors import StorageError
from avlet.media.footage import footage_at
from avlet.media.plates import PLATES, paint_plate
from avlet.paint.painter import new_pixels

BACKGROUNDS = (*PLATES, "black", "grey", "white", "checks")
"""Every background by name; the plates move."""

PLATE_HEIGHT = 360
"""Lines at which a moving plate is drawn on the screen: it is a ground to judge titles on, and leaves time for them."""

FOOTAGE_HEIGHT = 540
"""Lines at which a person's own film is shown on the desk."""

_FLAT = {"black": "#000000", "grey": "#58656C", "white": "#FFFFFF"}


def image_over(pixels: np.ndarray) -> QImage:
    """A Qt image over an array of premultiplied RGBA, without a copy. The array must outlive it."""
    height, width, _ = pixels.shape
    memory: Any = pixels.data  # PyQt takes any buffer; its types only tell of bytes
    return QImage(memory, width, height, pixels.strides[0], QImage.Format.Format_RGBA8888_Premultiplied)


class Background:
    """Draws one background; keeps the moving plate's last picture."""

    def __init__(self, name: str = PLATES[0]) -> None:
        self.name, self.file = name, ""
        self._pixels = new_pixels(16, 16)
        self._drawn: tuple[object, ...] = ()

    @property
    def moves(self) -> bool:
        return self.name in PLATES

    def show(self, name: str, file: str = "") -> None:
        """Show a background by name, or the film or still in ``file``."""
        self.name, self.file = name, file

    def draw(self, painter: QPainter, area: QRectF, seconds: float) -> None:
        """Fill ``area``, which has the shape of the template's frame, as at a moment in time."""
        if self.file:
            self._draw_footage(painter, area, seconds)
        elif self.name in _FLAT:
            painter.fillRect(area, QColor(_FLAT[self.name]))
        elif self.moves:
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.drawImage(area, self._plate(area, seconds))
        else:
            painter.fillRect(area, _checks())

    def _draw_footage(self, painter: QPainter, area: QRectF, seconds: float) -> None:
        footage = footage_at(Path(self.file))
        painter.fillRect(area, QColor("#000000"))
        height = min(FOOTAGE_HEIGHT, max(16, round(area.height())))
        width = max(16, round(height * area.width() / max(1.0, area.height())))
        try:
            if not isinstance(footage, str):
                self._pixels = footage.picture(seconds, width, height)
                painter.drawImage(area, image_over(self._pixels))
                self._drawn = ()
                return
        except StorageError as error:
            footage = str(error)
        painter.setPen(QColor("#FFD08A"))
        painter.drawText(area, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, str(footage))

    def _plate(self, area: QRectF, seconds: float) -> QImage:
        height = min(PLATE_HEIGHT, max(16, round(area.height())))
        width = max(16, round(height * area.width() / max(1.0, area.height())))
        key = (self.name, width, height, round(seconds, 3))
        if key != self._drawn:
            if self._pixels.shape != (height, width, 4):
                self._pixels = new_pixels(width, height)
            paint_plate(self.name, seconds, self._pixels)
            self._drawn = key
        return image_over(self._pixels)


def _checks() -> QBrush:
    tile = QImage(24, 24, QImage.Format.Format_RGB32)
    tile.fill(QColor("#8A9094"))
    painter = QPainter(tile)
    painter.fillRect(0, 0, 12, 12, QColor("#A4AAAE"))
    painter.fillRect(12, 12, 12, 12, QColor("#A4AAAE"))
    painter.end()
    return QBrush(tile)
