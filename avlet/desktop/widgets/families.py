"""Choosing a family: each shown in its own face, found while typing, marked where it may not travel."""

from collections.abc import Callable

from PyQt6.QtCore import QByteArray, QSize, Qt
from PyQt6.QtGui import QFont, QFontDatabase
from PyQt6.QtWidgets import QComboBox, QCompleter, QWidget

from avlet.text.fonts import FontBook

_MARK = "  ⃠ stays here"


class FamilyBox(QComboBox):
    """Lists the families of a book when it is opened; ``chosen`` is told the one that is picked or typed."""

    def __init__(self, book: FontBook, family: str, chosen: Callable[[str], object], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.book, self.family, self._chosen = book, family, chosen
        self.setEditable(True)
        self.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.setMinimumContentsLength(10)
        self.setMaxVisibleItems(16)
        self.addItem(family)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.textActivated.connect(self._take)
        edit = self.lineEdit()
        assert edit is not None
        edit.editingFinished.connect(self._typed)
        edit.setToolTip("Type to find a family. Marked ones may not travel with the template.")

    def fill(self) -> None:
        """List every family, each in its own face. The machine's fonts are looked for only now."""
        if self.count() > 1:
            return
        names = self.book.families()
        self.clear()
        for name in names:
            face, _ = self.book.find(name, "Regular")
            self.addItem(name if face.may_embed else name + _MARK)
            shown = QFont(name)
            shown.setPixelSize(15)
            self.setItemData(self.count() - 1, shown, Qt.ItemDataRole.FontRole)
            self.setItemData(self.count() - 1, QSize(220, 26), Qt.ItemDataRole.SizeHintRole)
            self.setItemData(self.count() - 1, "" if face.may_embed else "Its licence does not let it travel.", Qt.ItemDataRole.ToolTipRole)
            if face.given is not None and name not in QFontDatabase.families():
                QFontDatabase.addApplicationFontFromData(QByteArray(face.data))
        completer = QCompleter(names, self)
        completer.setFilterMode(Qt.MatchFlag.MatchContains)
        completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self.setCompleter(completer)
        self.setCurrentText(self.family)

    def showPopup(self) -> None:
        self.fill()
        super().showPopup()

    def focusInEvent(self, event: object) -> None:
        self.fill()
        super().focusInEvent(event)  # type: ignore[arg-type]

    def wheelEvent(self, event: object) -> None:
        event.ignore()  # type: ignore[attr-defined]

    def _take(self, words: str) -> None:
        name = words.removesuffix(_MARK)
        if name != self.family and name in self.book.families():
            self.family = name
            self._chosen(name)

    def _typed(self) -> None:
        """A typed name counts when it is a family's; else the box goes back to what it was."""
        typed = self.currentText().removesuffix(_MARK).casefold()
        match = next((name for name in self.book.families() if name.casefold() == typed), None)
        if match is None:
            self.setCurrentText(self.family)
        else:
            self._take(match)
