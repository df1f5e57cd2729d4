"""Taking a colour from what a window shows."""

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

_RADIUS = 26


class ColourPicker(QWidget):
    """Lies over a window until the next click, and shows the colour under the pointer; ``picked`` tells it. Escape gives up."""

    picked = pyqtSignal(str)

    def __init__(self, window: QWidget) -> None:
        shown: QImage = window.grab().toImage()
        super().__init__(window)
        self._image = shown
        self._at = QPointF(-100, -100)
        self.setGeometry(window.rect())
        self.setMouseTracking(True)
        self.setCursor(Qt.CursorShape.CrossCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Click a colour of the picture")
        self.show()
        self.raise_()
        self.setFocus(Qt.FocusReason.OtherFocusReason)

    def colour_at(self, point: QPointF) -> str:
        """``#RRGGBB`` of what the window shows at a point."""
        ratio = self._image.devicePixelRatio()
        x = min(max(0, int(point.x() * ratio)), self._image.width() - 1)
        y = min(max(0, int(point.y() * ratio)), self._image.height() - 1)
        return QColor(self._image.pixel(x, y)).name().upper()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor("#FFFFFF"), 2))
        painter.setBrush(QColor(self.colour_at(self._at)))
        painter.drawEllipse(QRectF(self._at.x() + 14, self._at.y() + 14, _RADIUS, _RADIUS))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self._at = event.position()
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        colour = self.colour_at(event.position())
        self._leave()
        if event.button() == Qt.MouseButton.LeftButton:
            self.picked.emit(colour)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_Escape:
            self._leave()

    def _leave(self) -> None:
        self.hide()
        self.deleteLater()
