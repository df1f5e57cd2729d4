"""A table that is opened as a list: which column means what, with its first rows to look at."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QLabel,
    QRadioButton,
    QVBoxLayout,
    QWidget,
)

from avlet.document.lists.blocks import Blocks, lines_of
from avlet.document.lists.listing import MEANINGS, LoadPicture, Recognised, blocks_from, no_pictures, recognised
from avlet.document.tables import Table
from avlet.errors import AnswerError

_SHOWN, _MOST_COLUMNS = 6, 8
_WORDS = {"section": "section", "role": "role", "name": "name", "words": "words", "picture": "picture"}


class TableDialog(QDialog):
    """``blocks`` is the list that the table makes; ``instead`` says whether it stands for the present one or comes below it."""

    def __init__(self, name: str, table: Table, below: bool, load: LoadPicture = no_pictures, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"Open {name}")
        self.table, self.load = table, load
        known = recognised(table)
        self.written = "kind" in known.columns
        self.known = known
        self.blocks: Blocks = ()
        layout = QVBoxLayout(self)
        layout.setSpacing(10)
        if self.written:
            layout.addWidget(QLabel("This list was written by Avlet; it is taken as it was."))
        else:
            layout.addWidget(QLabel("What each column means:"))
        grid = QGridLayout()
        grid.setHorizontalSpacing(14)
        grid.setVerticalSpacing(5)
        many = min(_MOST_COLUMNS, max((len(row) for row in table.rows), default=0))
        self.columns: list[QComboBox] = []
        by_column = {column: meaning for meaning, column in known.columns.items()}
        for column in range(0 if self.written else many):
            box = QComboBox()
            box.addItem("nothing", "")
            for meaning in MEANINGS:
                box.addItem(_WORDS[meaning], meaning)
            box.setCurrentIndex(max(0, box.findData(by_column.get(column, ""))))
            box.setAccessibleName(f"What column {column + 1} means")
            box.currentIndexChanged.connect(lambda _: self._follow())
            grid.addWidget(box, 0, column)
            self.columns.append(box)
        for number, row in enumerate(table.rows[:_SHOWN], 1):
            for column in range(many):
                cell = QLabel(_brief(row[column]) if column < len(row) else "")
                cell.setTextFormat(Qt.TextFormat.PlainText)
                cell.setProperty("role", "muted")
                grid.addWidget(cell, number, column)
        layout.addLayout(grid)
        self._choices(layout, known.heads, below)
        self._follow()

    def _choices(self, layout: QVBoxLayout, heads: bool, below: bool) -> None:
        """Whether there are heads, and where the list goes."""
        self.heads = QCheckBox("The first row says what the columns are")
        self.heads.setChecked(heads)
        self.heads.setVisible(not self.written)
        self.heads.toggled.connect(lambda _: self._follow())
        layout.addWidget(self.heads)
        self.instead = QRadioButton("Instead of the present list")
        self.below = QRadioButton("Below the present list")
        (self.below if below else self.instead).setChecked(True)
        layout.addWidget(self.instead)
        layout.addWidget(self.below)
        self.said = QLabel()
        self.said.setWordWrap(True)
        self.said.setProperty("role", "muted")
        layout.addWidget(self.said)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        take = buttons.addButton("Take the list", QDialogButtonBox.ButtonRole.AcceptRole)
        assert take is not None
        self.take = take
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        layout.addWidget(buttons)

    def _follow(self) -> None:
        """Make the list anew by what is chosen."""
        known = self.known
        if not self.written:
            columns: dict[str, int] = {}
            for number, box in enumerate(self.columns):
                if box.currentData():
                    columns.setdefault(box.currentData(), number)
            known = Recognised(columns, self.heads.isChecked())
        try:
            self.blocks = blocks_from(self.table, known, self.load)
            found = f"{lines_of(self.blocks):,} lines." if self.blocks else "This makes no list yet. Say which column has the names."
            self.said.setText(" ".join([*self.table.remarks, found]))
        except AnswerError as error:
            self.blocks = ()
            self.said.setText(str(error))
        self.take.setEnabled(bool(self.blocks))


def _brief(words: str) -> str:
    line = " ".join(words.split())
    return line if len(line) <= 28 else f"{line[:27]}…"
