"""*Settings*: where the library is, how numbers are written, how often unsaved work is kept, how large the interface is, and more."""

from pathlib import Path

from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from avlet.desktop.widgets.numbers import NumberBox
from avlet.numbers.languages import USUAL, language_name, machine_language
from avlet.numbers.typed import marks
from avlet.storage.settings import (
    LARGEST_INTERFACE,
    LEAST_FRAMES_MB,
    LONGEST_JUMP,
    LONGEST_KEEPING,
    MOST_FRAMES_MB,
    SMALLEST_INTERFACE,
    Settings,
    replace,
)


class SettingsDialog(QDialog):
    """A person's own settings; ``taken`` are those chosen, to be kept and put to work by who asked."""

    def __init__(self, settings: Settings, library: Path, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Settings")
        self.setMinimumWidth(520)
        self.settings = settings
        layout = QVBoxLayout(self)
        form = QFormLayout()
        form.setVerticalSpacing(12)
        layout.addLayout(form)
        self.library = QLineEdit(str(library))
        self.library.setAccessibleName("Library folder")
        choose = QPushButton("Choose…")
        choose.setAccessibleName("Choose the library folder")
        choose.clicked.connect(self._choose)
        form.addRow("The library is in", _row(self.library, choose))
        self.language = QComboBox()
        self.language.setAccessibleName("Numbers are written as in")
        own = machine_language()
        self.language.addItem(f"this machine’s language · {language_name(own)} · {_example(own)}", "")
        for code in USUAL:
            self.language.addItem(f"{language_name(code)} · {_example(code)}", code)
        self.language.setCurrentIndex(max(0, self.language.findData(settings.numbers)))
        form.addRow("Numbers are written as in", self.language)
        self.keeping = self._number("Seconds between two times that unsaved work is kept", settings.keeps_every, 1, LONGEST_KEEPING)
        form.addRow("Unsaved work is kept every", _row(self.keeping, QLabel("seconds")))
        self.frames = self._number("Megabytes for drawn frames", settings.frames_mb, LEAST_FRAMES_MB, MOST_FRAMES_MB)
        form.addRow("Drawn frames may take", _row(self.frames, QLabel("MB of memory in each view")))
        self.jump = self._number("Frames that Shift with an arrow goes", settings.jump, 1, LONGEST_JUMP)
        form.addRow("Shift with an arrow goes", _row(self.jump, QLabel("frames; 5, 10, 15 and 20 are usual")))
        sizes = settings.interface, SMALLEST_INTERFACE, LARGEST_INTERFACE
        self.interface = self._number("Size of the interface in per cent", *sizes)
        words = QLabel(f"%, from {SMALLEST_INTERFACE} to {LARGEST_INTERFACE}; at the next start")
        form.addRow("Size of the interface", _row(self.interface, words))
        self.contrast = QCheckBox("Strong contrast, at the next start")
        self.contrast.setChecked(settings.strong_contrast)
        form.addRow("", self.contrast)
        self.fault = QLabel()
        self.fault.setProperty("role", "warning")
        self.fault.setWordWrap(True)
        self.fault.hide()
        layout.addWidget(self.fault)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        buttons.accepted.connect(self._finish)
        buttons.rejected.connect(self.reject)
        layout.addWidget(buttons)

    def _number(self, name: str, value: int, low: int, high: int) -> NumberBox:
        box = NumberBox(value, low, high, 1, whole=True)
        box.setProperty("chip", "plain")
        box.setAccessibleName(name)
        return box

    def _choose(self) -> None:
        folder = QFileDialog.getExistingDirectory(self, "Library folder", self.library.text())
        if folder:
            self.library.setText(folder)

    def _finish(self) -> None:
        """Go on if the library can be there; else say why not."""
        folder = Path(self.library.text().strip()).expanduser()
        if not self.library.text().strip() or not folder.is_dir():
            self.fault.setText(f"“{self.library.text().strip()}” is not a folder. Choose one, or make it first.")
            self.fault.show()
            self.library.setFocus()
            return
        self.accept()

    @property
    def taken(self) -> Settings:
        return replace(
            self.settings, library=str(Path(self.library.text().strip()).expanduser()), numbers=self.language.currentData(),
            keeps_every=round(self.keeping.value), frames_mb=round(self.frames.value),
            jump=round(self.jump.value), interface=round(self.interface.value), strong_contrast=self.contrast.isChecked(),
        )  # fmt: skip


def _row(*widgets: QWidget) -> QHBoxLayout:
    row = QHBoxLayout()
    row.setSpacing(8)
    for widget in widgets:
        row.addWidget(widget, 1 if isinstance(widget, QLineEdit) and not isinstance(widget, NumberBox) else 0)
    row.addStretch(0 if isinstance(widgets[0], QLineEdit) and not isinstance(widgets[0], NumberBox) else 1)
    return row


def _example(language: str) -> str:
    decimal, group = marks(language)
    return f"1{group}284{decimal}5"
