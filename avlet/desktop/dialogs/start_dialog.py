"""A new template: its frame, and where to start from, each start shown as it would be."""

from fractions import Fraction

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QIcon, QPixmap
from PyQt6.QtWidgets import QComboBox, QDialog, QDialogButtonBox, QHBoxLayout, QLabel, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from avlet.desktop.recipe.template_facts import FRAMES, RATES
from avlet.desktop.widgets.numbers import NumberBox
from avlet.document.starts import STARTS
from avlet.document.template import Frame, Template
from avlet.limits import MOST_SIDE
from avlet.numbers.timecode import rate_words
from avlet.storage.thumbnail import kept_thumbnail_png
from avlet.text.fonts import bundled_fonts

_OWN = "own size"
_PICTURE = QSize(208, 117)


class StartDialog(QDialog):
    """Shows the starting points in the chosen frame."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("New template")
        self.resize(1010, 520)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 18, 20, 18)
        layout.setSpacing(12)
        title = QLabel("New template")
        title.setProperty("role", "title")
        layout.addWidget(title)
        row = QHBoxLayout()
        row.addWidget(QLabel("Frame"))
        self.size_box = QComboBox()
        self.size_box.setAccessibleName("Frame")
        self.size_box.addItems([*FRAMES, _OWN])
        row.addWidget(self.size_box)
        self.width_box, self.height_box = NumberBox(1920, 16, MOST_SIDE, 2, True), NumberBox(1080, 16, MOST_SIDE, 2, True)
        for box, name in ((self.width_box, "Width of the frame"), (self.height_box, "Height of the frame")):
            box.setAccessibleName(name)
            row.addWidget(box)
            box.setVisible(False)
            box.value_changed.connect(self._show)
        row.addWidget(QLabel("at"))
        self.rate = QComboBox()
        self.rate.setAccessibleName("Rate")
        for rate in RATES:
            self.rate.addItem(f"{rate_words(Fraction(rate))} frames a second", rate)
        self.rate.setCurrentIndex(RATES.index("25/1"))
        row.addWidget(self.rate)
        row.addStretch(1)
        layout.addLayout(row)
        self.starts = QListWidget()
        self.starts.setViewMode(QListWidget.ViewMode.IconMode)
        self.starts.setIconSize(_PICTURE)
        self.starts.setResizeMode(QListWidget.ResizeMode.Adjust)
        self.starts.setMovement(QListWidget.Movement.Static)
        self.starts.setSpacing(6)
        self.starts.setFrameShape(QListWidget.Shape.NoFrame)
        self.starts.setStyleSheet(
            "QListWidget { background: transparent; outline: none; }"
            "QListWidget::item { border-radius: 6px; padding: 4px; color: #E9EBEC; }"
            "QListWidget::item:hover { background: #2E3438; } QListWidget::item:selected { background: #43504C; }"
        )
        self.starts.setAccessibleName("Starting points")
        layout.addWidget(self.starts, 1)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        buttons.addButton("Start", QDialogButtonBox.ButtonRole.AcceptRole)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        layout.addWidget(buttons)
        self.starts.itemDoubleClicked.connect(self.accept)
        self.size_box.currentTextChanged.connect(self._show)
        self._show()
        self.starts.setCurrentRow(1)

    @property
    def frame_(self) -> Frame:
        """The chosen frame."""
        width, height = FRAMES.get(self.size_box.currentText(), (int(self.width_box.value), int(self.height_box.value)))
        return Frame(width, height, self.rate.currentData() or "25/1")

    def _show(self) -> None:
        """Draw each start in the chosen frame."""
        own = self.size_box.currentText() == _OWN
        self.width_box.setVisible(own)
        self.height_box.setVisible(own)
        chosen = max(0, self.starts.currentRow())
        self.starts.clear()
        for name, start in STARTS.items():
            item = QListWidgetItem(name)
            picture = QPixmap()
            picture.loadFromData(kept_thumbnail_png(start(self.frame_), bundled_fonts()))
            scaled = picture.scaled(_PICTURE * 2, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
            item.setIcon(QIcon(scaled))
            item.setSizeHint(QSize(_PICTURE.width() + 14, _PICTURE.height() + 32))
            self.starts.addItem(item)
        self.starts.setCurrentRow(chosen)

    def template(self) -> Template:
        """The chosen start in the chosen frame."""
        item = self.starts.currentItem()
        return STARTS[item.text() if item else "Empty frame"](self.frame_)
