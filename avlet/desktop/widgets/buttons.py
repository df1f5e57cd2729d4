"""Small flat buttons with an icon, and a row to choose a folder."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QLineEdit, QPushButton, QToolButton, QWidget

from avlet.desktop.widgets.asking import lasting
from avlet.desktop.widgets.icons import icon, quiet


def flat_button(name: str, words: str, pressed: Callable[[], object] | None = None) -> QToolButton:
    """A button with an icon; ``words`` say what it does to those who point at it or cannot see it."""
    button = QToolButton()
    button.setProperty("role", "flat")
    button.setIcon(icon(name))
    button.setToolTip(words)
    button.setAccessibleName(words)
    if pressed is not None:
        button.clicked.connect(lambda _=False: pressed())
    return button


def flat_switch(name: str, words: str, switched: Callable[[bool], object], on: bool = True) -> QToolButton:
    """A button with an icon that stays on or off."""
    button = flat_button(name, words)
    button.setIcon(quiet(name))
    button.setCheckable(True)
    button.setChecked(on)
    button.toggled.connect(switched)
    return button


class FolderRow(QWidget):
    """A folder as text, and a button to choose another."""

    def __init__(self, folder: Path, title: str) -> None:
        super().__init__()
        self.title = title
        self.line = QLineEdit(str(folder))
        self.line.setAccessibleName(title)
        browse = QPushButton("Choose…")
        browse.clicked.connect(self._browse)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.line, 1)
        row.addWidget(browse)

    @property
    def folder(self) -> Path:
        """The folder, with ``~`` as the person's own."""
        return Path(self.line.text()).expanduser()

    def _browse(self) -> None:
        chosen = QFileDialog.getExistingDirectory(lasting(self), self.title, self.line.text())
        if chosen:
            self.line.setText(chosen)
