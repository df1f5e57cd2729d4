"""A choice that the wheel does not turn by accident."""

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtWidgets import QComboBox, QSizePolicy


class QuietCombo(QComboBox):
    """Leaves the wheel to what it lies in."""

    def __init__(self) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def gives_way(self, letters: int) -> None:
        """Do with the room of so many letters where there is not enough for the longest entry."""
        self.setMinimumWidth(letters * 7 + 34)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)

    def minimumSizeHint(self) -> QSize:
        hint = super().minimumSizeHint()
        return QSize(self.minimumWidth(), hint.height()) if self.minimumWidth() else hint

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            event.ignore()
