"""Which of the copied answers a title is given."""

from collections.abc import Mapping, Sequence
from typing import Any

from PyQt6.QtWidgets import QCheckBox, QDialog, QDialogButtonBox, QLabel, QVBoxLayout, QWidget


def brief(value: Any) -> str:
    """An answer on one line."""
    words = value.get("text", "") if isinstance(value, Mapping) else value
    shown = "yes" if words is True else "no" if words is False else str(words)
    shown = " / ".join(shown.split("\n"))
    return shown if len(shown) <= 48 else f"{shown[:47]}…"


class PasteAnswersDialog(QDialog):
    """One box a field: what is copied, and what it takes the place of. ``taken`` are the labels that are ticked."""

    def __init__(self, copied: Mapping[str, Any], present: Mapping[str, Any], titles: int, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Give answers")
        self.setMinimumWidth(380)
        layout = QVBoxLayout(self)
        where = "this title" if titles == 1 else f"{titles} titles"
        layout.addWidget(QLabel(f"Answers that {where} will take:"))
        self.boxes: dict[str, QCheckBox] = {}
        for label, value in copied.items():
            box = QCheckBox(f"{label}: {brief(value)}")
            box.setAccessibleName(f"Give {label}")
            there = label in present
            box.setChecked(there and present[label] != value)
            box.setEnabled(there)
            box.setToolTip(f"Now: {brief(present[label])}" if there else "This title's card does not ask for it.")
            box.toggled.connect(lambda _: self._follow())
            self.boxes[label] = box
            layout.addWidget(box)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        give = buttons.addButton("Give", QDialogButtonBox.ButtonRole.AcceptRole)
        assert give is not None
        self.give = give
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        layout.addWidget(buttons)
        self._follow()

    @property
    def taken(self) -> Sequence[str]:
        return [label for label, box in self.boxes.items() if box.isChecked()]

    def _follow(self) -> None:
        self.give.setEnabled(bool(self.taken))
