"""A switch that slides between off and on."""

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QWidget

from avlet.desktop.widgets.theme import PAPER_ROSE


class Switch(QAbstractButton):
    """On or off, with its word beside it, so that it does not rest on colour alone."""

    def __init__(self, on: bool, paper: bool = False, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.paper = paper
        self.setCheckable(True)
        self.setChecked(on)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return QSize(68, 22)

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        track = QRectF(1, 3, 30, 16)
        on = QColor(PAPER_ROSE) if self.paper else QColor("#7FA79D")
        off = QColor("#BDB5A6") if self.paper else QColor("#4A5359")
        painter.setBrush(on if self.isChecked() else off)
        painter.setPen(QPen(QColor("#FFFFFF"), 1.2) if self.hasFocus() and not self.paper else Qt.PenStyle.NoPen)
        painter.drawRoundedRect(track, 8, 8)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#FFFFFF"))
        painter.drawEllipse(QRectF(17 if self.isChecked() else 3, 5, 12, 12))
        painter.setPen(QColor("#2B2B29") if self.paper else QColor("#E9EBEC"))
        painter.drawText(QRectF(38, 0, 32, 22), Qt.AlignmentFlag.AlignVCenter, "on" if self.isChecked() else "off")
