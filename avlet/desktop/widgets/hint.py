"""A line of words that gives way: what has no room ends in an ellipsis, and is whole under the pointer."""

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QLabel, QStyle, QStyleOption


class Hint(QLabel):
    """Asks for the room that its words need, and does with less."""

    def __init__(self, words: str = "", role: str = "small", least: int = 0) -> None:
        super().__init__(words)
        self._least = least
        self.setProperty("role", role)

    def minimumSizeHint(self) -> QSize:
        return QSize(self._least, super().minimumSizeHint().height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, option = QPainter(self), QStyleOption()
        option.initFrom(self)
        style = self.style()
        if style is not None:
            style.drawPrimitive(QStyle.PrimitiveElement.PE_Widget, option, painter, self)
        area = self.contentsRect()
        painter.setFont(self.font())
        painter.setPen(self.palette().color(self.foregroundRole()))
        shown = painter.fontMetrics().elidedText(self.text(), Qt.TextElideMode.ElideRight, area.width())
        painter.drawText(area, int(self.alignment()), shown)
        if not self.toolTip() or self.toolTip() == self._told:
            self._told = self.text() if shown != self.text() else ""
            self.setToolTip(self._told)

    _told = ""
