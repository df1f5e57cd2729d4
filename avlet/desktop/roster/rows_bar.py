"""Above the rows of a roster: which of them are shown, in which order, and at which moment."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QSlider, QWidget

from avlet.desktop.roster.roster_session import WORST_FIRST, RosterSession
from avlet.desktop.roster.rows_view import RowsView
from avlet.desktop.widgets.buttons import flat_switch
from avlet.desktop.widgets.quiet_combo import QuietCombo
from avlet.document.metadata import brief
from avlet.roster.looking import Verdict

_ONLY: dict[Verdict, str] = {
    "cannot be rendered": "those that cannot be rendered", "breaks": "those that break", "to look at": "those to look at",
    "holds": "those that hold",
}  # fmt: skip


class MomentSlider(QSlider):
    """A moment as percent of each row's time; ``left`` by a double click, or by the key 0."""

    left = pyqtSignal()

    def __init__(self) -> None:
        super().__init__(Qt.Orientation.Horizontal)
        self.setAccessibleName("The moment at which rows are shown")
        self.setToolTip("Show all rows at another moment; a double click, or 0, shows them at rest")
        self.setRange(0, 100)
        self.setValue(50)
        self.setMinimumWidth(70)
        self.setMaximumWidth(150)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        self.left.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_0:
            self.left.emit()
        else:
            super().keyPressEvent(event)


class RowsBar(QWidget):
    """Choices and a search over the rows. ``looked_for`` tells that other words are searched."""

    looked_for = pyqtSignal()

    def __init__(self, session: RosterSession, view: RowsView) -> None:
        super().__init__()
        self.session, self.view = session, view
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 0, 14, 6)
        self.only = QuietCombo()
        self.only.setAccessibleName("Which rows are shown")
        self.only.addItem("all rows", None)
        for verdict, words in _ONLY.items():
            self.only.addItem(words, verdict)
        self.only.gives_way(12)
        self.only.activated.connect(lambda _: view.show_only(self.only.currentData()))
        row.addWidget(self.only)
        self.sort = QuietCombo()
        self.sort.setAccessibleName("Order of rows")
        self.sort.gives_way(9)
        self.sort.activated.connect(lambda _: view.sort_by(self.sort.currentData()))
        row.addWidget(self.sort)
        self.search = QLineEdit()
        self.search.setAccessibleName("Rows with these words")
        self.search.setPlaceholderText("Search rows")
        self.search.setClearButtonEnabled(True)
        self.search.setMinimumWidth(80)
        self.search.setMaximumWidth(150)
        self.search.textChanged.connect(self._look_for)
        row.addWidget(self.search)
        row.addStretch(1)
        self.moment_words = QLabel("at rest")
        self.moment_words.setProperty("role", "muted")
        row.addWidget(self.moment_words)
        self.moment = MomentSlider()
        self.moment.valueChanged.connect(self._show_moment)
        self.moment.left.connect(self.show_rest)
        row.addWidget(self.moment)
        self.whole = flat_switch("frame", "Show the whole frame in each picture", view.show_whole, False)
        row.addWidget(self.whole)

    def _look_for(self, words: str) -> None:
        self.view.look_for(words)
        self.looked_for.emit()

    def show_orders(self) -> None:
        """The orders that there are: the table's own, worst first, by each column."""
        roster, chosen = self.session.roster, self.view.order
        heads = [head.words for head in roster.sheet.heads] if roster is not None else []
        offered: list[tuple[str, int | None]] = [("as in the table", None), ("worst first", WORST_FIRST)]
        offered += [(f"by {brief(words)}", column) for column, words in enumerate(heads)]
        if offered == [(self.sort.itemText(n), self.sort.itemData(n)) for n in range(self.sort.count())]:
            return
        self.sort.clear()
        for words, order in offered:
            self.sort.addItem(words, order)
        at = next((n for n, (_, order) in enumerate(offered) if order == chosen), 0)
        self.sort.setCurrentIndex(at)
        if offered[at][1] != chosen:
            self.view.sort_by(offered[at][1])

    def _show_moment(self, value: int) -> None:
        self.moment_words.setText(f"at {value} % of their time")
        self.session.show_moment(value / 100)

    def show_rest(self) -> None:
        """Show rows as they are once they have arrived."""
        self.moment.setValue(50)
        self.moment_words.setText("at rest")
        self.session.show_moment(None)
