"""A new template: the gallery in a window of its own, from which a start is chosen in any frame."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from avlet.desktop.gallery.gallery import Gallery
from avlet.storage.package import Opened

_SIDE = 20
"""px round what is shown."""


class StartDialog(QDialog):
    """Shows the gallery; ``chosen`` is the start that was pressed, in its frame."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.chosen: Opened | None = None
        self.setWindowTitle("New template")
        self.resize(1180, 700)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(_SIDE, 18, _SIDE, 18)
        layout.setSpacing(12)
        title = QLabel("New template")
        title.setProperty("role", "title")
        layout.addWidget(title)
        self.gallery = Gallery()
        self.gallery.start_wanted.connect(self._take)
        self.gallery.for_one()
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(self.gallery)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        layout.addWidget(area, 1)
        self.said = QLabel()
        self.said.setWordWrap(True)
        self.said.hide()
        self.gallery.told.connect(self._say)
        layout.addWidget(self.said)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        for button in buttons.findChildren(QPushButton):
            button.setAutoDefault(False)  # Return is for the tile that has the keyboard
        buttons.rejected.connect(self.reject)
        layout.addWidget(buttons)
        self.gallery.refresh_own()
        self.gallery.begin()
        self.gallery.tiles[0].setFocus()

    def _take(self, opened: Opened) -> None:
        self.chosen = opened
        self.accept()

    def _say(self, words: str) -> None:
        self.said.setText(words)
        self.said.show()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.gallery.fit(self.width() - 2 * _SIDE - 16)
