"""The chosen row's cells, to be put right where they stand."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QLineEdit, QScrollArea, QVBoxLayout, QWidget

from avlet.desktop.roster.roster_session import RosterSession
from avlet.desktop.roster.row_picture import RowPicture
from avlet.desktop.widgets.theme import ROSE
from avlet.roster.answering import Answered

_COLUMNS = 2


class RowPanel(QWidget):
    """One box a cell, with the column's head before it; line breaks are typed as ``\\n``."""

    def __init__(self, session: RosterSession) -> None:
        super().__init__()
        self.session = session
        self.boxes: list[QLineEdit] = []
        self._heads: tuple[str, ...] = ()
        self.setProperty("role", "panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 8, 14, 10)
        row.setSpacing(14)
        self.picture = RowPicture(session)
        row.addWidget(self.picture)
        column = QVBoxLayout()
        column.setContentsMargins(0, 0, 0, 0)
        row.addLayout(column, 1)
        column.setSpacing(4)
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.words.setTextFormat(Qt.TextFormat.PlainText)
        column.addWidget(self.words)
        holder = QWidget()
        self._grid = QGridLayout(holder)
        self._grid.setContentsMargins(0, 0, 4, 0)
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(4)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(holder)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        column.addWidget(area, 1)
        self.setFixedHeight(168)
        session.changed.connect(self.show_again)
        session.selection_changed.connect(self.show_again)
        session.looked.connect(self._show_words)

    def show_again(self) -> None:
        """Another row, or other cells."""
        roster, plan = self.session.roster, self.session.plan
        self.setVisible(roster is not None and plan is not None)
        if roster is None or plan is None:
            return
        heads = tuple(head.words for head in roster.sheet.heads)
        if heads != self._heads:
            self._make_boxes(heads)
        line = roster.sheet.lines[self.session.row]
        answered = plan.answered(self.session.row, plan.roster.languages[0])
        for column, (box, cell) in enumerate(zip(self.boxes, line.cells, strict=True)):
            words = cell.replace("\n", "\\n")
            if box.text() != words and not (box.hasFocus() and box.isModified()):
                box.setText(words)
            fault = _fault(answered, column)
            box.setProperty("wrong", "true" if fault else "false")
            box.setToolTip(fault)
            style = box.style()
            if style is not None:
                style.unpolish(box)
                style.polish(box)
        self._show_words()

    def _make_boxes(self, heads: tuple[str, ...]) -> None:
        while self._grid.count():
            item = self._grid.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.deleteLater()
        self._heads, self.boxes = heads, []
        for column, head in enumerate(heads):
            box = QLineEdit()
            box.setAccessibleName(head)
            box.editingFinished.connect(lambda c=column, b=box: self._put(c, b))
            label = QLabel(head)
            label.setProperty("role", "muted")
            row, side = divmod(column, _COLUMNS)
            self._grid.addWidget(label, row, side * 2)
            self._grid.addWidget(box, row, side * 2 + 1)
            self._grid.setColumnStretch(side * 2 + 1, 1)
            self.boxes.append(box)

    def _put(self, column: int, box: QLineEdit) -> None:
        if box.isModified():
            box.setModified(False)
            self.session.put_cell(self.session.row, column, box.text().replace("\\n", "\n").strip())

    def _show_words(self) -> None:
        plan = self.session.plan
        if plan is None:
            return
        said = self.session.said.get(self.session.row)
        number = plan.rows[self.session.row].number
        chosen = f" · one of {len(self.session.chosen):,} chosen" if self.session.chosen else ""
        self.words.setText(f"Row {number}{chosen}" + (f" · {said.verdict}. {' '.join(said.words)}" if said is not None else ""))
        wrong = said is not None and said.verdict == "cannot be rendered"
        self.words.setStyleSheet(f"color: {ROSE};" if wrong else "")

    def begin(self) -> None:
        """To the first cell that is wrong, or the first of all."""
        wrong = next((box for box in self.boxes if box.property("wrong") == "true"), None)
        box = wrong or (self.boxes[0] if self.boxes else None)
        if box is not None:
            box.setFocus()
            box.selectAll()


def _fault(answered: Answered, column: int) -> str:
    return next((fault.words for fault in answered.faults if fault.column == column), "")
