"""The rows of a copied table as titles: where each column goes, what each row becomes, and which of them are made."""

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QHeaderView,
    QLabel,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from avlet.document.cut import Cut, Title
from avlet.document.template import Template
from avlet.errors import AvletError
from avlet.roster.sheet import Sheet
from avlet.roster.threads import OUTPUT, Thread, targets_of, with_thread
from avlet.roster.titles_in_rows import RowTitle, has_heads, sheet_of, threads_of, titles_in

_NOWHERE = "goes nowhere"
_SHOWN = {"new": "a new title", "there already": "there already, stays as it is"}
_LAST = Qt.ItemFlag.ItemIsUserCheckable | Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable


class TableTitlesDialog(QDialog):
    """*One title a row…*: nothing is done before it is seen. ``taken`` are the rows that become titles."""

    def __init__(self, rows: Sequence[Sequence[str]], template: Template, like: Title, cut: Cut, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("One title a row")
        self.resize(760, 480)
        self.table_rows, self.template, self.like, self.cut = rows, template, like, cut
        self.threads: tuple[Thread, ...] = ()
        self.sheet: Sheet | None = None
        self.rows: tuple[RowTitle, ...] = ()
        self.combos: list[QComboBox] = []
        self.heads = QCheckBox("The first row says what the columns are")
        self.heads.setChecked(has_heads(rows, template))
        self.heads.toggled.connect(lambda _: self._begin())
        self.list = QTableWidget()
        self.list.setAccessibleName("What goes where")
        self.list.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        side, top = self.list.verticalHeader(), self.list.horizontalHeader()
        assert side is not None and top is not None
        side.hide()
        top.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        top.setStretchLastSection(True)
        self.list.itemChanged.connect(lambda _: self._count())
        self.told = QLabel()
        self.told.setWordWrap(True)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        made = buttons.addButton("Make titles", QDialogButtonBox.ButtonRole.AcceptRole)
        assert made is not None
        self.make = made
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        layout = QVBoxLayout(self)
        layout.addWidget(QLabel(f"Each row becomes a title like the one that is selected, of {template.name}, behind it on its track."))
        layout.addWidget(self.heads)
        layout.addWidget(self.list, 1)
        layout.addWidget(self.told)
        layout.addWidget(buttons)
        self._begin()

    @property
    def taken(self) -> list[RowTitle]:
        """The rows that are ticked and can be read."""
        ticked = [self._box(n) for n in range(len(self.rows))]
        return [row for row, box in zip(self.rows, ticked, strict=True) if box is not None and box.checkState() == Qt.CheckState.Checked]

    def _box(self, number: int) -> QTableWidgetItem | None:
        return self.list.item(number + 1, self.list.columnCount() - 1)

    def _begin(self) -> None:
        """Columns and threads anew, for rows with or without heads."""
        headed = self.heads.isChecked()
        try:
            self.sheet = sheet_of(self.table_rows, headed)
        except AvletError as error:
            self.sheet, self.rows = None, ()
            self.list.clear()
            self.list.setRowCount(0)
            self.told.setText(str(error))
            self.make.setEnabled(False)
            return
        self.threads = threads_of(self.sheet, self.template, headed)
        self._lay_out(self.sheet)
        self._refresh()

    def _lay_out(self, sheet: Sheet) -> None:
        self.list.clear()
        self.list.setColumnCount(len(sheet.heads) + 1)
        self.list.setRowCount(len(sheet.lines) + 1)
        self.list.setHorizontalHeaderLabels([*(head.words for head in sheet.heads), "What becomes of it"])
        self.combos = []
        for column, head in enumerate(sheet.heads):
            box = QComboBox()
            box.setAccessibleName(f"{head.words} goes to")
            box.addItem(_NOWHERE, None)
            for target in targets_of(self.template):
                if target.id != OUTPUT:
                    box.addItem(f"→ {target.label}", target.id)
            box.activated.connect(lambda _, c=column, b=box: self._lead(c, b.currentData()))
            self.combos.append(box)
            self.list.setCellWidget(0, column, box)

    def _lead(self, column: int, target: str | None) -> None:
        """A column goes to another field; what went there before goes nowhere."""
        assert self.sheet is not None
        self.threads = with_thread(self.threads, self.sheet.heads, column, target)
        self._refresh()

    def _refresh(self) -> None:
        """What becomes of each row by the present threads; the ticks begin anew."""
        sheet = self.sheet
        assert sheet is not None
        leads = {thread.column: thread.target for thread in self.threads}
        for column, box in enumerate(self.combos):
            box.setCurrentIndex(max(0, box.findData(leads.get(column))))
        self.rows = titles_in(sheet, self.template, self.threads, self.like, self.cut)
        self.list.blockSignals(True)
        last = self.list.columnCount() - 1
        for number, (line, row) in enumerate(zip(sheet.lines, self.rows, strict=True), 1):
            for column, cell in enumerate(line.cells):
                item = QTableWidgetItem(cell)
                item.setToolTip(cell)
                if column not in leads:
                    item.setForeground(Qt.GlobalColor.gray)
                self.list.setItem(number, column, item)
            said = row.said or _SHOWN[row.becomes]
            item = QTableWidgetItem(said)
            item.setToolTip(said)
            item.setFlags(_LAST if not row.said else Qt.ItemFlag.ItemIsSelectable)
            item.setCheckState(Qt.CheckState.Checked if row.becomes == "new" and leads else Qt.CheckState.Unchecked)
            self.list.setItem(number, last, item)
        self.list.blockSignals(False)
        self.list.resizeColumnsToContents()
        for column in range(last):
            self.list.setColumnWidth(column, min(240, max(130, self.list.columnWidth(column))))
        self._count()

    def _count(self) -> None:
        taken = len(self.taken)
        becoming = [row.becomes for row in self.rows]
        there, wrong = becoming.count("there already"), becoming.count("cannot be read")
        said = [f"{becoming.count('new')} new"]
        said += [f"{there} already on the cut"] if there else []
        said += [f"{wrong} cannot be read and {'is' if wrong == 1 else 'are'} left out"] if wrong else []
        if not self.threads:
            said = ["No column goes anywhere yet: choose where in the first row"]
        remarks = self.sheet.remarks if self.sheet is not None else ()
        self.told.setText(" ".join([", ".join(said) + ".", *remarks]))
        self.make.setText(f"Make {taken} title{'' if taken == 1 else 's'}")
        self.make.setEnabled(taken > 0 and bool(self.threads))
