"""The ease of a move: a curve to bend, its speed under it, ready ones as small curves, and the notation to type."""

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QAbstractButton, QGridLayout, QLineEdit, QSizePolicy, QVBoxLayout, QWidget

from avlet.desktop.widgets.theme import MARIGOLD, MUTED, SMALL, TEXT, font
from avlet.document.time.eases import READY_EASES, CubicBezier, Ease, name_of_ease, notation, read_ease
from avlet.easing import ease_progress, speed

_POINTS = np.linspace(0.0, 1.0, 241)
_LOW, _HIGH = -0.3, 1.35


class EaseCurve(QWidget):
    """An ease as a curve. A ``cubic-bezier`` is bent by its two handles; any other becomes one when a handle is pulled."""

    changed = pyqtSignal(object)
    finished = pyqtSignal()

    def __init__(self, ease: Ease, px: float = 0.0, unit_frames: float = 0.0, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.ease, self.px, self.unit_frames = ease, px, unit_frames
        self._held: int | None = None
        self.setMouseTracking(True)
        self.setMinimumHeight(188)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Ease curve: drag a handle to bend it")
        self.setToolTip("Drag a handle to bend the ease. Below: how fast it goes.")

    def sizeHint(self) -> QSize:
        return QSize(240, 188)

    def show_ease(self, ease: Ease, px: float, unit_frames: float) -> None:
        """Follow the document, but for what is being dragged."""
        self.ease, self.px, self.unit_frames = ease, px, unit_frames
        self.update()

    def _area(self) -> QRectF:
        return QRectF(14, 10, self.width() - 28, self.height() - 62)

    def _at(self, x: float, y: float) -> QPointF:
        area = self._area()
        return QPointF(area.x() + x * area.width(), area.bottom() - (y - _LOW) / (_HIGH - _LOW) * area.height())

    def handles(self) -> list[QPointF]:
        """Where the two handles are."""
        if not isinstance(self.ease, CubicBezier):
            return []
        return [self._at(self.ease.x1, self.ease.y1), self._at(self.ease.x2, self.ease.y2)]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#17191B"))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0, 0, -1, -1), 6, 6)
        painter.setPen(QPen(QColor("#33383C"), 1))
        for y in (0.0, 1.0):
            painter.drawLine(self._at(0, y), self._at(1, y))
        if isinstance(self.ease, CubicBezier):
            painter.setPen(QPen(QColor("#8A9398"), 1))
            for end, handle in zip((self._at(0, 0), self._at(1, 1)), self.handles(), strict=True):
                painter.drawLine(end, handle)
        values = ease_progress(self.ease, _POINTS)
        painter.setPen(QPen(QColor(MARIGOLD), 2.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF([self._at(float(x), float(y)) for x, y in zip(_POINTS, values, strict=True)]))
        painter.setBrush(QColor(MARIGOLD))
        painter.setPen(QPen(QColor("#17191B"), 1.5))
        for handle in self.handles():
            painter.drawEllipse(handle, 5.5, 5.5)
        self._paint_speed(painter)

    def _paint_speed(self, painter: QPainter) -> None:
        """The speed below the curve, with its most in px a frame where the move travels."""
        rates = np.abs(speed(self.ease, _POINTS))
        top, bottom = self.height() - 44.0, self.height() - 8.0
        most = max(float(rates.max()), 1e-6)
        area = self._area()
        heights = bottom - rates / most * (bottom - top)
        points = [QPointF(area.x() + float(x) * area.width(), float(y)) for x, y in zip(_POINTS, heights, strict=True)]
        painter.setPen(QPen(QColor("#B98A3A"), 1.2))
        painter.setBrush(QColor(244, 178, 62, 40))
        painter.drawPolygon(QPolygonF([QPointF(area.x(), bottom), *points, QPointF(area.right(), bottom)]))
        painter.setFont(font(SMALL - 1, figures=True))
        painter.setPen(QColor(MUTED))
        words = f"fastest {self.fastest:.0f} px a frame" if self.fastest else f"fastest {most:.1f} × even"
        painter.drawText(QRectF(area.x(), top - 12, area.width(), 12), Qt.AlignmentFlag.AlignRight, words)

    @property
    def fastest(self) -> float:
        """px that a unit travels in its fastest frame; 0 when it does not travel."""
        if self.px <= 0 or self.unit_frames <= 0:
            return 0.0
        frames = np.arange(0.0, self.unit_frames + 1.0)
        steps = np.abs(np.diff(ease_progress(self.ease, frames / self.unit_frames)))
        return float(steps.max(initial=0.0)) * self.px

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        found = self.handles()
        if not found:
            self.ease = CubicBezier(0.25, 0.1, 0.25, 1.0)
            self.changed.emit(self.ease)
            found = self.handles()
        away = [(event.position() - handle).manhattanLength() for handle in found]
        self._held = int(np.argmin(away))
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._held is None or not isinstance(self.ease, CubicBezier):
            return
        area = self._area()
        x = min(1.0, max(0.0, (event.position().x() - area.x()) / area.width()))
        y = min(2.5, max(-1.5, _LOW + (area.bottom() - event.position().y()) / area.height() * (_HIGH - _LOW)))
        x, y, e = round(x, 2), round(y, 2), self.ease
        self.ease = CubicBezier(x, y, e.x2, e.y2) if self._held == 0 else CubicBezier(e.x1, e.y1, x, y)
        self.changed.emit(self.ease)
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._held = None
        self.finished.emit()


class SmallCurve(QAbstractButton):
    """A ready ease, drawn small with its name."""

    def __init__(self, name: str, ease: Ease) -> None:
        super().__init__()
        self.name, self.ease = name, ease
        self.setCheckable(True)
        self.setFixedHeight(30)
        self.setObjectName(f"ease {name}")
        self.setAccessibleName(f"Ease: {name}")
        self.setToolTip(notation(ease))
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def sizeHint(self) -> QSize:
        return QSize(120, 30)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(MARIGOLD), 1) if self.isChecked() or self.hasFocus() else Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#3A4146" if self.underMouse() else "#30363A"))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4)
        values = ease_progress(self.ease, _POINTS[::6])
        points = [QPointF(7 + float(x) * 22, 22 - float(y) * 14) for x, y in zip(_POINTS[::6], values, strict=True)]
        painter.setPen(QPen(QColor(MARIGOLD), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF(points))
        painter.setFont(font(SMALL))
        painter.setPen(QColor(TEXT))
        words = painter.fontMetrics().elidedText(self.name, Qt.TextElideMode.ElideRight, self.width() - 42)
        painter.drawText(QRectF(37, 0, self.width() - 40, self.height()), Qt.AlignmentFlag.AlignVCenter, words)


class EaseBox(QWidget):
    """Curve, notation and ready eases together. ``put`` is told each new ease, and whether the change is over."""

    def __init__(self, ease: Ease, px: float, unit_frames: float, kept: dict[str, Ease], put: Callable[[Ease, bool], object]) -> None:
        super().__init__()
        self._put = put
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.curve = EaseCurve(ease, px, unit_frames)
        self.curve.changed.connect(lambda new: put(new, False))
        self.curve.finished.connect(lambda: put(self.curve.ease, True))
        column.addWidget(self.curve)
        self.typed = QLineEdit(notation(ease))
        self.typed.setObjectName("ease notation")
        self.typed.setAccessibleName("Ease in CSS notation")
        self.typed.setToolTip("cubic-bezier(), steps(), linear(), spring(swings, damping), overshoot(%), bounce(n, %), or a name")
        self.typed.editingFinished.connect(self._take)
        column.addWidget(self.typed)
        grid = QGridLayout()
        grid.setSpacing(5)
        self.ready: list[SmallCurve] = []
        for index, (name, ready) in enumerate({**READY_EASES, **kept}.items()):
            button = SmallCurve(name, ready)
            button.clicked.connect(lambda _=False, e=ready: put(e, True))
            grid.addWidget(button, index // 2, index % 2)
            self.ready.append(button)
        column.addLayout(grid)
        self.show_ease(ease, px, unit_frames)

    def show_ease(self, ease: Ease, px: float, unit_frames: float) -> None:
        """Follow the document."""
        self.curve.show_ease(ease, px, unit_frames)
        if not self.typed.hasFocus():
            self.typed.setText(notation(ease))
        for button in self.ready:
            button.setChecked(name_of_ease(ease) == button.name or button.ease == ease)

    def _take(self) -> None:
        try:
            self._put(read_ease(self.typed.text()), True)
            self.typed.setProperty("wrong", False)
        except ValueError as error:
            self.typed.setProperty("wrong", True)
            self.typed.setToolTip(str(error))
        style = self.typed.style()
        if style is not None:
            style.polish(self.typed)
