"""A colour to click: a swatch with its value. A small panel to change it opens under it."""

from PyQt6.QtCore import QPoint, QRectF, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPaintEvent
from PyQt6.QtWidgets import QPushButton, QWidget

from avlet.desktop.widgets.colour_panel import ColourPanel
from avlet.desktop.widgets.theme import LINE, qcolor


class ColourButton(QPushButton):
    """Shows a colour ``#RRGGBB`` or ``#RRGGBBAA``; ``changed`` tells each new one, ``finished`` that choosing is over."""

    changed = pyqtSignal(str)
    finished = pyqtSignal()

    def __init__(self, colour: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._colour = colour
        self._panel: ColourPanel | None = None
        self.clicked.connect(self._open)
        self.show_colour(colour)

    @property
    def colour(self) -> str:
        return self._colour

    def show_colour(self, colour: str) -> None:
        self._colour = colour
        self.setText("      " + colour.upper())
        self.setAccessibleDescription(colour)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QColor(LINE))
        painter.setBrush(qcolor(self._colour))
        painter.drawRoundedRect(QRectF(8, self.height() / 2 - 7, 14, 14), 3, 3)

    def _open(self) -> None:
        self._panel = ColourPanel(self._colour, self)
        self._panel.changed.connect(self._take)
        self._panel.closed.connect(self.finished)
        self._panel.move(self.mapToGlobal(QPoint(0, self.height() + 3)))
        self._panel.show()

    def _take(self, colour: str) -> None:
        self.show_colour(colour)
        self.changed.emit(colour)
