"""Which languages an editor may choose between: a list to tick and to search, of all that numbers can be written in."""

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QLabel, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from avlet.numbers.languages import USUAL, by_name, language_name

_CODE = Qt.ItemDataRole.UserRole


class LanguagesDialog(QDialog):
    """``taken`` are the codes that are ticked, those that were before first, in their order."""

    def __init__(self, chosen: Sequence[str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Languages on the card")
        self.resize(340, 460)
        self._before = tuple(chosen)
        layout = QVBoxLayout(self)
        layout.addWidget(QLabel("The editor chooses between these:"))
        self.search = QLineEdit()
        self.search.setPlaceholderText("Search, or type a language and Return")
        self.search.setAccessibleName("Search languages")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(self._filter)
        self.search.returnPressed.connect(self._take_typed)
        layout.addWidget(self.search)
        self.list = QListWidget()
        self.list.setAccessibleName("Languages")
        for code in dict.fromkeys((*self._before, *sorted(USUAL, key=language_name))):
            self._add(code, code in self._before)
        self.list.itemChanged.connect(lambda _: self._count())
        layout.addWidget(self.list, 1)
        self.told = QLabel()
        self.told.setProperty("role", "muted")
        layout.addWidget(self.told)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        ok = buttons.button(QDialogButtonBox.StandardButton.Ok)
        assert ok is not None
        self.ok = ok
        ok.setText("Offer these")
        layout.addWidget(buttons)
        self._count()

    @property
    def taken(self) -> tuple[str, ...]:
        ticked = [item.data(_CODE) for item in self._items() if item.checkState() == Qt.CheckState.Checked]
        return tuple(sorted(ticked, key=lambda code: self._before.index(code) if code in self._before else len(self._before)))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Return in the search ticks what is found; only elsewhere it ends the dialog."""
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.focusWidget() is self.search:
            event.accept()
        else:
            super().keyPressEvent(event)

    def _items(self) -> list[QListWidgetItem]:
        return [item for n in range(self.list.count()) if (item := self.list.item(n)) is not None]

    def _add(self, code: str, ticked: bool) -> QListWidgetItem:
        item = QListWidgetItem(language_name(code))
        item.setData(_CODE, code)
        item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsUserCheckable)
        item.setCheckState(Qt.CheckState.Checked if ticked else Qt.CheckState.Unchecked)
        self.list.addItem(item)
        return item

    def _filter(self, words: str) -> None:
        wanted = words.strip().casefold()
        for item in self._items():
            item.setHidden(wanted not in item.text().casefold() and wanted != str(item.data(_CODE)).casefold())
        self._count()

    def _take_typed(self) -> None:
        """Tick the one language that is in sight, or what was typed where it is one."""
        shown = [item for item in self._items() if not item.isHidden()]
        code = by_name(self.search.text().strip())
        found = shown[0] if len(shown) == 1 else next((item for item in self._items() if item.data(_CODE) == code), None)
        if found is None and code is not None:
            found = self._add(code, False)
        if found is None:
            self.told.setText(f"“{self.search.text().strip()[:40]}” is no language that is known here.")
            return
        found.setCheckState(Qt.CheckState.Checked)
        self.search.clear()
        self.list.scrollToItem(found)

    def _count(self) -> None:
        taken = self.taken
        self.told.setText(", ".join(map(language_name, taken)) if taken else "Tick one at least.")
        self.told.setWordWrap(True)
        self.ok.setEnabled(bool(taken))
