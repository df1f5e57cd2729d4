"""A window with a list, for a field of the card and an answer on the desk."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QLabel, QVBoxLayout, QWidget

from avlet.desktop.credits.list_panel import ListPanel
from avlet.desktop.credits.list_port import ListPort
from avlet.text.fonts import FontBook


class ListDialog(QDialog):
    """Edits a list in a window of its own; every change is taken at once."""

    def __init__(
        self, title: str, port: ListPort, book: FontBook, folder: Callable[[], Path | None], parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.resize(860, 560)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 8)
        self.panel = ListPanel(book, folder)
        layout.addWidget(self.panel, 1)
        self.said = QLabel()
        self.said.setWordWrap(True)
        self.said.setProperty("role", "message")
        self.said.hide()
        layout.addWidget(self.said)
        self.panel.refused.connect(self._say)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.setContentsMargins(10, 0, 10, 0)
        buttons.rejected.connect(self.reject)
        close = buttons.button(QDialogButtonBox.StandardButton.Close)
        assert close is not None
        close.setAutoDefault(False)
        layout.addWidget(buttons)
        self.panel.show_list(port)
        self.panel.table.setFocus()

    def _say(self, words: str) -> None:
        self.said.setText(words)
        self.said.show()

    def reject(self) -> None:
        """What is being typed stands; then it closes."""
        self.panel.leave()
        super().reject()
