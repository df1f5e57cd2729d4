"""A list of things to tick, and a button that does something with those that are."""

from collections.abc import Sequence
from typing import NamedTuple

from PyQt6.QtWidgets import QCheckBox, QDialog, QDialogButtonBox, QLabel, QVBoxLayout, QWidget


class Ticked(NamedTuple):
    """One thing: what it is called, what it says, what pointing at it tells, whether it is ticked, and whether it can be."""

    label: str
    words: str
    tip: str
    ticked: bool
    offered: bool = True


class TickDialog(QDialog):
    """``taken`` are the labels of what is ticked; the button that goes on waits until something is."""

    def __init__(self, title: str, heading: str, rows: Sequence[Ticked], going_on: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.setMinimumWidth(380)
        layout = QVBoxLayout(self)
        words = QLabel(heading)
        words.setWordWrap(True)
        layout.addWidget(words)
        self.boxes: dict[str, QCheckBox] = {}
        for row in rows:
            box = QCheckBox(row.words)
            box.setAccessibleName(f"{going_on} {row.label}")
            box.setChecked(row.ticked and row.offered)
            box.setEnabled(row.offered)
            box.setToolTip(row.tip)
            box.toggled.connect(lambda _: self._follow())
            self.boxes[row.label] = box
            layout.addWidget(box)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        go_on = buttons.addButton(going_on, QDialogButtonBox.ButtonRole.AcceptRole)
        assert go_on is not None
        self.go_on = go_on
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        layout.addWidget(buttons)
        self._follow()

    @property
    def taken(self) -> list[str]:
        return [label for label, box in self.boxes.items() if box.isChecked()]

    def _follow(self) -> None:
        self.go_on.setEnabled(bool(self.taken))
