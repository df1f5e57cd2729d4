"""Another frame for a template: what its three ways come to, side by side, before one is chosen."""

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage, QPixmap
from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from avlet.document.template import Frame, Template
from avlet.errors import AvletError
from avlet.layout.other_frame import WAYS, Way, brought_to
from avlet.paint.painter import new_pixels
from avlet.paint.scene import Scene
from avlet.review.at_rest import rest_frame
from avlet.review.samples import Unheld, not_held, unheld_words
from avlet.storage.thumbnail import GROUND
from avlet.text.fonts import FontBook

_WIDE, _HIGH = 260, 240
"""px that a picture has at most."""
_BUTTONS: dict[Way, str] = {"keeps its sizes": "Keep sizes", "between both": "Between both", "scales as a whole": "Scale everything"}


class FrameDialog(QDialog):
    """``way`` is the one that was pressed; ``found`` is what does not hold by each. All pictures show the same answers, of a sample
    that does not hold by one of them where there is any."""

    def __init__(self, template: Template, frame: Frame, book: FontBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Another frame")
        self.way: Way | None = None
        self.found: dict[Way, list[Unheld]] = {}
        self.buttons: dict[Way, QPushButton] = {}
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 18, 20, 18)
        layout.setSpacing(14)
        title = QLabel(f"{template.name} in {frame.width} × {frame.height}")
        title.setProperty("role", "title")
        layout.addWidget(title)
        made: dict[Way, Template | str] = {}
        for way in WAYS:
            try:
                brought = made[way] = brought_to(template, frame, way, book)
            except AvletError as error:
                made[way] = str(error)
            else:
                self.found[way] = not_held(brought, book)
        answers = next((found[0].answers for found in self.found.values() if found), None)
        row = QHBoxLayout()
        row.setSpacing(20)
        for way, words in WAYS.items():
            row.addLayout(self._tile(made[way], book, way, words, answers))
        layout.addLayout(row)
        cancel = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        cancel.rejected.connect(self.reject)
        layout.addWidget(cancel)

    def _tile(self, made: Template | str, book: FontBook, way: Way, words: str, answers: dict[str, Any] | None) -> QVBoxLayout:
        """A way: its picture with some answers, its button, and what does not hold, or why it cannot be."""
        tile = QVBoxLayout()
        picture, button, told, found = QLabel(), QPushButton(_BUTTONS[way]), QLabel(words), QLabel()
        if isinstance(made, str):
            found.setText(made)
            button.setEnabled(False)
        else:
            picture.setPixmap(_picture(made, book, answers))
            found.setText(unheld_words(self.found[way]) or "Holds in all samples.")
        picture.setAlignment(Qt.AlignmentFlag.AlignCenter)
        picture.setMinimumHeight(_HIGH)
        picture.setAccessibleName(f"{_BUTTONS[way]}: how it looks")
        button.setAccessibleDescription(f"{words} {found.text()}")
        button.clicked.connect(lambda: self._choose(way))
        found.setProperty("role", "muted")
        for label in (told, found):
            label.setWordWrap(True)
            label.setFixedWidth(_WIDE)
            label.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.buttons[way] = button
        for widget in (picture, button, told, found):
            tile.addWidget(widget)
        tile.addStretch(1)
        return tile

    def _choose(self, way: Way) -> None:
        self.way = way
        self.accept()


def _picture(template: Template, book: FontBook, answers: dict[str, Any] | None) -> QPixmap:
    """All of the frame at rest."""
    frame = template.frame
    ratio = min(_WIDE / frame.width, _HIGH / frame.height)
    width, height = max(1, round(frame.width * ratio)), max(1, round(frame.height * ratio))
    pixels = new_pixels(width, height)
    pixels[...] = (*GROUND, 255)
    scene = Scene(template, book, answers)
    scene.paint(rest_frame(scene), pixels, clear=False)
    return QPixmap.fromImage(QImage(pixels.tobytes(), width, height, 4 * width, QImage.Format.Format_RGBA8888_Premultiplied).copy())
