"""A file was changed by somebody else since it was opened: both are shown, and one says which is to stay."""

from collections.abc import Sequence
from enum import Enum

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage, QPixmap
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

_WIDTH = 360


class Choice(Enum):
    """What is to be done."""

    NOTHING = "nothing"
    OTHER = "keep mine as another file"
    THEIRS = "take theirs"
    OVER = "write over theirs"


class TheirsDialog(QDialog):
    """Shows what is here and what is in the file, side by side, and what differs."""

    def __init__(self, name: str, pictures: Sequence[tuple[str, QImage | None]], differs: Sequence[str], parent: QWidget | None) -> None:
        super().__init__(parent)
        self.choice = Choice.NOTHING
        self.setWindowTitle("Changed by somebody else")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(22, 18, 22, 18)
        layout.setSpacing(12)
        heading = QLabel(f"“{name}” was changed by somebody else since you opened it.")
        heading.setTextFormat(Qt.TextFormat.PlainText)
        heading.setProperty("role", "title")
        heading.setWordWrap(True)
        layout.addWidget(heading)
        sides = QHBoxLayout()
        sides.setSpacing(16)
        for words, image in pictures:
            side = QVBoxLayout()
            label = QLabel(words)
            label.setProperty("role", "muted")
            side.addWidget(label)
            if image is not None:
                picture = QLabel()
                picture.setPixmap(QPixmap.fromImage(image.scaledToWidth(_WIDTH, Qt.TransformationMode.SmoothTransformation)))
                picture.setAccessibleName(words)
                side.addWidget(picture)
            side.addStretch(1)
            sides.addLayout(side)
        layout.addLayout(sides)
        self.differs = QLabel("\n".join(f"• {one}" for one in differs) or "Nothing that is shown differs.")
        self.differs.setTextFormat(Qt.TextFormat.PlainText)
        self.differs.setWordWrap(True)
        layout.addWidget(self.differs)
        buttons = QHBoxLayout()
        buttons.addStretch(1)
        for choice, words in (
            (Choice.NOTHING, "Cancel"), (Choice.OVER, "Write over theirs"), (Choice.THEIRS, "Take theirs"),
            (Choice.OTHER, "Keep mine as another file…"),
        ):  # fmt: skip
            button = QPushButton(words)
            button.setAutoDefault(choice is Choice.OTHER)
            button.clicked.connect(lambda _=False, c=choice: self._choose(c))
            buttons.addWidget(button)
        button.setDefault(True)
        layout.addLayout(buttons)

    def _choose(self, choice: Choice) -> None:
        self.choice = choice
        self.accept()

    @classmethod
    def ask(cls, name: str, pictures: Sequence[tuple[str, QImage | None]], differs: Sequence[str], parent: QWidget | None) -> Choice:
        """Show it, and wait for the choice."""
        dialog = cls(name, pictures, differs, parent)
        dialog.exec()
        return dialog.choice
