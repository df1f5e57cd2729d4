"""Which of the copied answers a title is given."""

from collections.abc import Mapping
from typing import Any

from PyQt6.QtWidgets import QWidget

from avlet.desktop.dialogs.tick_dialog import TickDialog, Ticked


def brief(value: Any) -> str:
    """An answer on one line."""
    words = value.get("text", "") if isinstance(value, Mapping) else value
    shown = "yes" if words is True else "no" if words is False else str(words)
    shown = " / ".join(shown.split("\n"))
    return shown if len(shown) <= 48 else f"{shown[:47]}…"


class PasteAnswersDialog(TickDialog):
    """One box a field: what is copied, and what it takes the place of."""

    def __init__(self, copied: Mapping[str, Any], present: Mapping[str, Any], titles: int, parent: QWidget | None = None) -> None:
        where = "this title" if titles == 1 else f"{titles} titles"
        rows = []
        for label, value in copied.items():
            there = label in present
            tip = f"Now: {brief(present[label])}" if there else "This title's card does not ask for it."
            rows.append(Ticked(label, f"{label}: {brief(value)}", tip, there and present[label] != value, there))
        super().__init__("Give answers", f"Answers that {where} will take:", rows, "Give", parent)
