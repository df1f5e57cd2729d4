"""A gradient as a strip: its colours with a handle for each stop."""

from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QLinearGradient, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from avlet.desktop.widgets.colour_panel import ColourPanel
from avlet.desktop.widgets.theme import qcolor
from avlet.document.looks.paints import Stop

_EDGE, _FAR = 8.0, 26.0


KEYS: tuple[tuple[str, str], ...] = (
    ("Left", "The chosen stop to the left"), ("Right", "The chosen stop to the right"), ("Del", "Remove the chosen stop"),
)  # fmt: skip
"""What the keys do in a gradient, in words."""


class GradientStrip(QWidget):
    """Drag a stop to move it, click between stops to add one, double-click to change its colour, drag it away to remove it."""

    changed = pyqtSignal(tuple)
    finished = pyqtSignal()

    def __init__(self, stops: tuple[Stop, ...], parent: QWidget | None = None, fixed: bool = False) -> None:
        super().__init__(parent)
        self.stops = list(stops)
        self.fixed = fixed
        self.chosen = 0
        self._held = False
        self._away = False
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip("Double-click a stop to change its colour" if fixed else self.__doc__ or "")
        self.setAccessibleName("Gradient")

    def sizeHint(self) -> QSize:
        return QSize(160, 36)

    def minimumSizeHint(self) -> QSize:
        return QSize(100, 36)

    def show_stops(self, stops: tuple[Stop, ...]) -> None:
        """Show stops without telling of them; a drag that is going on is left alone."""
        if not self._held and tuple(self.stops) != stops:
            self.stops = list(stops)
            self.chosen = min(self.chosen, len(stops) - 1)
            self.update()

    def x_of(self, at: float) -> float:
        """Where a place of the gradient, 0…100 %, lies."""
        return _EDGE + at / 100 * (self.width() - 2 * _EDGE)

    def _at(self, x: float) -> float:
        return round(max(0.0, min(100.0, (x - _EDGE) / max(1.0, self.width() - 2 * _EDGE) * 100)), 1)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        strip = QRectF(_EDGE, 4, self.width() - 2 * _EDGE, 14)
        for column in range(int(strip.width() // 7) + 1):
            tint = QColor("#8A9094") if column % 2 else QColor("#A4AAAE")
            painter.fillRect(QRectF(strip.x() + column * 7, strip.y(), 7, 14).intersected(strip), tint)
        gradient = QLinearGradient(strip.left(), 0, strip.right(), 0)
        for stop in sorted(self.stops, key=lambda s: s.at):
            gradient.setColorAt(stop.at / 100, qcolor(stop.colour))
        painter.fillRect(strip, gradient)
        for index, stop in enumerate(self.stops):
            if self._away and index == self.chosen:
                continue
            x = self.x_of(stop.at)
            painter.setPen(QPen(QColor("#FFFFFF") if index == self.chosen else QColor("#B8C0C4"), 2 if index == self.chosen else 1.2))
            painter.setBrush(qcolor(stop.colour[:7]))
            painter.drawEllipse(QPointF(x, 26), 5.5, 5.5)
            painter.drawLine(QPointF(x, 18), QPointF(x, 20))

    def _stop_at(self, point: QPointF) -> int | None:
        near = [(abs(self.x_of(s.at) - point.x()), i) for i, s in enumerate(self.stops)]
        distance, index = min(near)
        return index if distance <= 8 else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        found = self._stop_at(event.position())
        if found is None and len(self.stops) < 64 and not self.fixed:
            at = self._at(event.position().x())
            self.stops.append(Stop(at, self.colour_at(at)))
            found = len(self.stops) - 1
            self._tell()
        self.chosen = found or 0
        self._held = True
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if not self._held or self.fixed:
            return
        self._away = len(self.stops) > 2 and not -_FAR < event.position().y() < self.height() + _FAR
        self.stops[self.chosen] = Stop(self._at(event.position().x()), self.stops[self.chosen].colour)
        self._tell()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._held = False
        if self._away:
            self._away = False
            self.remove_chosen()
        self.finished.emit()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        panel = ColourPanel(self.stops[self.chosen].colour, self)
        panel.changed.connect(self.recolour)
        panel.closed.connect(self.finished)
        panel.move(self.mapToGlobal(QPoint(0, self.height())))
        panel.show()

    def keyPressEvent(self, event: object) -> None:
        key = event.key()  # type: ignore[attr-defined]
        if self.fixed:
            return
        if key == Qt.Key.Key_Delete:
            self.remove_chosen()
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            step = -1 if key == Qt.Key.Key_Left else 1
            stop = self.stops[self.chosen]
            self.stops[self.chosen] = Stop(max(0.0, min(100.0, stop.at + step)), stop.colour)
            self._tell()

    def recolour(self, colour: str) -> None:
        """Give the chosen stop another colour."""
        self.stops[self.chosen] = Stop(self.stops[self.chosen].at, colour)
        self._tell()

    def remove_chosen(self) -> None:
        """Take the chosen stop away; two always stay."""
        if len(self.stops) > 2:
            del self.stops[self.chosen]
            self.chosen = 0
            self._tell()

    def colour_at(self, at: float) -> str:
        """The colour that the gradient has at a place now."""
        ordered = sorted(self.stops, key=lambda s: s.at)
        before = next((s for s in reversed(ordered) if s.at <= at), ordered[0])
        after = next((s for s in ordered if s.at >= at), ordered[-1])
        share = 0.0 if after.at == before.at else (at - before.at) / (after.at - before.at)
        a, b = qcolor(before.colour), qcolor(after.colour)
        mixed = [round(x + (y - x) * share) for x, y in zip(a.getRgb(), b.getRgb(), strict=True)]
        words = "#{:02X}{:02X}{:02X}".format(*mixed[:3])
        return words if mixed[3] == 255 else f"{words}{mixed[3]:02X}"

    def _tell(self) -> None:
        self.update()
        self.changed.emit(tuple(self.stops))
