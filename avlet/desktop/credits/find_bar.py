"""Finding words in a list, and putting others in their place."""

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QPushButton, QWidget

from avlet.desktop.credits.list_model import FIRST, SECOND, ListModel
from avlet.document.lists.blocks import Names, Role, found_words, replaced_words
from avlet.document.lists.lines import Line


class FindBar(QWidget):
    """Two boxes and what to do with them. ``gone`` tells that it is put away, ``went`` to which row and column it goes."""

    gone = pyqtSignal()
    went = pyqtSignal(int, int)

    def __init__(self, model: ListModel, present: Callable[[], int], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.model, self.present = model, present
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        self.wanted, self.new = QLineEdit(), QLineEdit()
        for box, words in ((self.wanted, "Find"), (self.new, "Put instead")):
            box.setPlaceholderText(words)
            box.setAccessibleName(words)
            box.installEventFilter(self)
            row.addWidget(box, 1)
        self.count = QLabel()
        self.count.setMinimumWidth(64)
        row.addWidget(self.count)
        for words, action in (("Next", self.next), ("Replace", self.replace), ("Replace all", self.replace_all), ("×", self.leave)):
            button = QPushButton(words)
            button.setAccessibleName("Put the search away" if words == "×" else words)
            button.clicked.connect(lambda _=False, a=action: a())
            row.addWidget(button)
        self.wanted.textChanged.connect(lambda _: self.follow())
        self.hide()

    def begin(self) -> None:
        """Show it, to type what is sought."""
        self.show()
        self.wanted.setFocus()
        self.wanted.selectAll()
        self.follow()

    def leave(self) -> None:
        """Put it away."""
        self.hide()
        self.model.found = set()
        self.gone.emit()

    def _places(self) -> list[tuple[int, int, int, int]]:
        """Row, column, and block and place of each cell with what is sought, in the list's order."""
        found = []
        for index, place in found_words(self.model.blocks, self.wanted.text()):
            block = self.model.blocks[index]
            named = isinstance(block, Names) or (isinstance(block, Role) and place > 0)
            number = place - isinstance(block, Role) if named else 0
            found.append((self.model.row_of(Line(index, number)), SECOND if named else FIRST, index, place))
        return found

    def follow(self) -> None:
        """Show where what is sought stands."""
        if not self.isVisible():
            return
        places = self._places()
        self.model.found = {self.model.lines[row] for row, *_ in places if row < len(self.model.lines)}
        self.count.setText(f"{len(places):,} found" if self.wanted.text() else "")
        self.went.emit(-1, -1)

    def next(self, way: int = 1) -> None:
        """Go to the next place."""
        places = self._places()
        after = [p for p in places if p[0] > self.present()] if way > 0 else [p for p in places if p[0] < self.present()][::-1]
        if places:
            row, column, *_ = (after or (places if way > 0 else places[::-1]))[0]
            self.went.emit(row, column)

    def replace(self) -> None:
        """Put the other words where one stands now, and go on."""
        place = next((p for p in self._places() if p[0] == self.present()), None)
        if place is not None:
            self.model.put(
                replaced_words(self.model.blocks, self.wanted.text(), self.new.text(), (place[2], place[3])), "List: replace words"
            )
        self.follow()
        self.next()

    def replace_all(self) -> None:
        """Put the other words everywhere."""
        many = len(self._places())
        self.model.put(replaced_words(self.model.blocks, self.wanted.text(), self.new.text()), f"List: replace words in {many} places")
        self.follow()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                if watched is self.new:
                    self.replace()
                else:
                    self.next(-1 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1)
                return True
            if event.key() == Qt.Key.Key_Escape:
                self.leave()
                return True
        return super().eventFilter(watched, event)
