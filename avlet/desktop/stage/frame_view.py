"""A view of a frame: background, the painted title over it, zoom and panning. The stage and the desk's picture build on it."""

import time
from typing import NamedTuple

import skia
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from avlet.desktop.stage.backgrounds import Background, image_over
from avlet.desktop.stage.frame_cache import FrameCache
from avlet.desktop.stage.hurry import Hurry
from avlet.desktop.widgets.theme import RAIL
from avlet.document.parts import ACTION_SAFE, TITLE_SAFE
from avlet.document.template import Frame
from avlet.geometry import Box
from avlet.layout.areas import frame_area
from avlet.media.placing import Placed
from avlet.motion.posed import Pose
from avlet.paint.painter import canvas_over, new_pixels, paint_pose
from avlet.paint.spaces import rough_edges

MARGIN = 14
"""px round the picture when it is fitted into the view."""


class Laid(NamedTuple):
    """A pose in px of its own frame, and where that lies on the picture; spread over all of it where nothing says so."""

    pose: Pose
    frame: Frame
    lies: Placed | None = None


class FrameView(QWidget):
    """Shows a pose of a frame over a background. Positions in *frame px* are the template's; *view px* are the widget's."""

    zoom_changed = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(200, 120)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.background = Background()
        self.seconds = 0.0
        self.safe_areas = True
        self._frame_shape = Frame()
        self._poses: tuple[Laid, ...] = ()
        self._zoom: float | None = None
        self._pan = QPointF(0, 0)
        self._pixels = new_pixels(1, 1)
        self._pan_from: QPointF | None = None
        self.cache = FrameCache()
        self.seconds_a_frame = 0.0
        self.hurry = Hurry(self)
        self.hurry.rested.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(680, 400)

    # What it shows

    def show_frame(self, shape: Frame, poses: tuple[Laid, ...], seconds: float) -> None:
        """Show poses on a picture of ``shape`` at a moment of the background's time."""
        self._frame_shape, self._poses, self.seconds = shape, poses, seconds
        self.update()

    # Zoom

    @property
    def scale(self) -> float:
        """View px in one frame px."""
        return self._fitting() if self._zoom is None else self._zoom

    @property
    def fits(self) -> bool:
        """Whether the whole picture is fitted into the view."""
        return self._zoom is None

    def _fitting(self) -> float:
        shape = self._frame_shape
        return max(0.01, min((self.width() - 2 * MARGIN) / shape.width, (self.height() - 2 * MARGIN) / shape.height))

    def zoom_to(self, zoom: float | None, around: QPointF | None = None) -> None:
        """Set the zoom; None fits the picture. ``around`` is the view point that stays where it is."""
        around = around or QPointF(self.width() / 2, self.height() / 2)
        held = self.to_frame(around)
        self._zoom = None if zoom is None else max(0.05, min(16.0, zoom))
        self._pan = QPointF(0, 0)
        if self._zoom is not None:
            self._pan = around - self.to_view(held.x(), held.y())
        self.zoom_changed.emit()
        self.update()

    def zoom_to_box(self, box: Box) -> None:
        """Show a box of the frame as large as it fits, in the middle."""
        zoom = min((self.width() - 80) / max(box.w, 1.0), (self.height() - 80) / max(box.h, 1.0), 8.0)
        self._zoom, self._pan = max(0.05, zoom), QPointF(0, 0)
        self._pan = QPointF(self.width() / 2, self.height() / 2) - self.to_view(*box.middle)
        self.zoom_changed.emit()
        self.update()

    def picture_area(self) -> QRectF:
        """Where the picture lies in the view."""
        width, height = self._frame_shape.width * self.scale, self._frame_shape.height * self.scale
        x, y = (self.width() - width) / 2 + self._pan.x(), (self.height() - height) / 2 + self._pan.y()
        return QRectF(round(x), round(y), width, height) if self.fits else QRectF(x, y, width, height)

    def to_view(self, x: float, y: float) -> QPointF:
        area = self.picture_area()
        return QPointF(area.x() + x * self.scale, area.y() + y * self.scale)

    def to_frame(self, point: QPointF) -> QPointF:
        area = self.picture_area()
        return QPointF((point.x() - area.x()) / self.scale, (point.y() - area.y()) / self.scale)

    def box_in_view(self, box: Box) -> QRectF:
        corner = self.to_view(box.x, box.y)
        return QRectF(corner.x(), corner.y(), box.w * self.scale, box.h * self.scale)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        step = event.angleDelta().y() / 120
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom_to(self.scale * 1.2**step, event.position())
            event.accept()
        elif self._zoom is not None:
            self._pan += QPointF(event.angleDelta().x(), event.angleDelta().y()) / 2
            self.update()
            event.accept()
        else:
            event.ignore()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if event.button() == Qt.MouseButton.MiddleButton and self._zoom is not None:
            self._pan_from = event.position() - self._pan
            self.setCursor(Qt.CursorShape.ClosedHandCursor)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._pan_from is not None:
            self._pan = event.position() - self._pan_from
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._pan_from is not None:
            self._pan_from = None
            self.unsetCursor()

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(RAIL))
        area = self.picture_area()
        painter.save()
        painter.setClipRect(area)
        self.background.draw(painter, area, self.seconds)
        painter.restore()
        self._paint_title(painter, area)
        if self.safe_areas:
            self._paint_safe_areas(painter)
        self.paint_over(painter)
        painter.end()

    def _paint_title(self, painter: QPainter, area: QRectF) -> None:
        """Paint only what of the picture is in view, at the screen's own resolution."""
        ratio = self.devicePixelRatioF()
        seen = area.intersected(QRectF(self.rect())).toAlignedRect()
        width, height = round(seen.width() * ratio), round(seen.height() * ratio)
        if width < 1 or height < 1 or not self._poses:
            return
        if self.hurry.share < 1:
            ratio *= self.hurry.share
            width, height = max(1, round(seen.width() * ratio)), max(1, round(seen.height() * ratio))
        key = self.picture_key()
        full = None if key is None else (*key, width, height, area.x() - seen.x(), area.y() - seen.y(), area.width())
        frame = self._poses[0].pose.frame
        rough = self.hurry.rough
        kept = self.cache.get(full, frame) if full is not None else None
        if kept is not None:
            painter.drawImage(QRectF(seen), image_over(kept))
            return
        begun = time.perf_counter()
        if self._pixels.shape != (height, width, 4):
            self._pixels = new_pixels(width, height)
        self._pixels[...] = 0
        surface = canvas_over(self._pixels)
        canvas = surface.getCanvas()
        canvas.translate((area.x() - seen.x()) * ratio, (area.y() - seen.y()) * ratio)
        for pose, shape, lies in self._poses:
            canvas.save()
            if lies is None:
                canvas.scale(area.width() / shape.width * ratio, area.height() / shape.height * ratio)
            else:
                canvas.clipRect(skia.Rect.MakeWH(area.width() * ratio, area.height() * ratio))
                canvas.scale(area.width() / self._frame_shape.width * ratio, area.height() / self._frame_shape.height * ratio)
                canvas.translate(lies.x, lies.y)
                canvas.scale(lies.scale, lies.scale)
            canvas.clipRect(skia.Rect.MakeWH(shape.width, shape.height))
            with rough_edges(rough):
                self.paint_title(canvas, pose)
            canvas.restore()
        surface.flushAndSubmit()
        taken = time.perf_counter() - begun
        self.seconds_a_frame = taken / self.hurry.share**2
        self.hurry.took(taken)
        if full is not None and not rough:
            self.cache.put(full, frame, self._pixels)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, width < seen.width())
        painter.drawImage(QRectF(seen), image_over(self._pixels))

    def picture_key(self) -> tuple[object, ...] | None:
        """What a picture of one frame hangs on besides the view, so that it may be kept; None keeps nothing."""
        return None

    def paint_title(self, canvas: skia.Canvas, pose: Pose) -> None:
        """Paint a pose on a canvas in px of its own frame."""
        paint_pose(canvas, pose)

    def _paint_safe_areas(self, painter: QPainter) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for name, dashes in ((ACTION_SAFE, [2.0, 5.0]), (TITLE_SAFE, [5.0, 4.0])):
            for tint in (QColor(0, 0, 0, 90), QColor(255, 255, 255, 150)):
                pen = QPen(tint, 1)
                pen.setDashPattern(dashes)
                if tint.red():
                    pen.setDashOffset(0.5)
                painter.setPen(pen)
                painter.drawRect(self.box_in_view(frame_area(name, self._frame_shape)))

    def give_up(self) -> bool:
        """Let go of what is being dragged, which is where it was then; whether anything was."""
        return False

    def paint_over(self, painter: QPainter) -> None:
        """What a subclass draws over the picture."""
