"""What the window says for a while, over the foot of the bench: it moves nothing, goes by itself, and with a click."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QLabel, QWidget

_SHOWN_MS = 9_000


class Message(QLabel):
    """Words over the lower edge of a widget. They belong to what is open when they are said, and go when something else is."""

    def __init__(self, over: QWidget, opened: Callable[[], tuple[Any, ...]]) -> None:
        super().__init__(over.parentWidget())
        self.over, self._opened = over, opened
        self._about: tuple[Any, ...] = ()
        self.setProperty("role", "message")
        self.setAccessibleName("Message")
        self.setWordWrap(True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setToolTip("A click takes it away")
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.hide)
        over.installEventFilter(self)
        self.hide()

    def say(self, words: str) -> None:
        """Show words for a while."""
        self._about = self._opened()
        self.setText(words)
        self._place()
        self.show()
        self.raise_()
        self._timer.start(_SHOWN_MS)

    def follow(self) -> None:
        """Another document may be open now: what was said of the one before goes with it."""
        if self.isVisible() and any(one is not other for one, other in zip(self._about, self._opened(), strict=True)):
            self.hide()

    def _place(self) -> None:
        area = self.over.geometry()
        height = max(self.heightForWidth(area.width()), self.fontMetrics().height() + 16)
        self.setGeometry(area.x(), area.bottom() + 1 - height, area.width(), height)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() in (QEvent.Type.Resize, QEvent.Type.Move) and self.isVisible():
            self._place()
        return False

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.hide()
