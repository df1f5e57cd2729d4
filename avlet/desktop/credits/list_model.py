"""A list of credits as a table model: a line a row, its kind, its two cells, and what proofreading says of it."""

import contextlib
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QObject, Qt, QTimer, pyqtSignal

from avlet.document.lists.blocks import BLOCK_KINDS, Blocks, Names, Role
from avlet.document.lists.lines import LEFT, RIGHT, Line, cell, facts_of, joined, lines_in, may_type, put_cell
from avlet.review.proofreading import Remark, proofread
from avlet.text.fonts import FontBook

KIND, FIRST, SECOND, SAID = range(4)
"""The columns."""
SIDES = {FIRST: LEFT, SECOND: RIGHT}
_WAIT, _SHORT = 250, 300
"""ms after a change until a list is proofread; one of fewer blocks at once, a longer one beside what goes on."""
Put = Callable[[Blocks, str, object], bool]


class ListModel(QAbstractTableModel):
    """Shows a list that somebody else keeps: ``put`` takes another one, with what it is called for undo and a gesture."""

    proofread_again = pyqtSignal()
    reshaped = pyqtSignal()
    _read = pyqtSignal(object, object)

    def __init__(self, book: FontBook, put: Put, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.book, self._put = book, put
        self.blocks: Blocks = ()
        self.lines: list[Line] = []
        self.remarks: dict[Line, list[Remark]] = {}
        self.found: set[Line] = set()
        self.marked: Line | None = None
        self._first: dict[int, int] = {}
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._proofread_aside)
        self._aside = ThreadPoolExecutor(1)
        self._read.connect(self._take_remarks)

    # What it holds

    def take(self, blocks: Blocks) -> None:
        """Show another list. Rows that stay where they are keep what is selected."""
        if blocks is self.blocks:
            return
        lines = lines_in(blocks)
        if len(lines) == len(self.lines):
            before, self.blocks, same = self.blocks, blocks, lines == self.lines
            self.lines = lines
            self._first = {line.block: row for row, line in reversed(list(enumerate(lines)))} if not same else self._first
            rows = [r for r, line in enumerate(lines) if not same or blocks[line.block] is not before[line.block]]
            if rows:
                self.dataChanged.emit(self.index(rows[0], 0), self.index(rows[-1], SAID))
        else:
            self.beginResetModel()
            self.blocks, self.lines = blocks, lines
            self._first = {line.block: row for row, line in reversed(list(enumerate(lines)))}
            self.remarks = {}
            self.endResetModel()
            self.reshaped.emit()
        self._timer.start(_WAIT)

    def put(self, blocks: Blocks, label: str, gesture: object = None) -> bool:
        """Let the list be another one."""
        return blocks is not self.blocks and self._put(blocks, label, gesture)

    def row_of(self, line: Line) -> int:
        """The row of a line."""
        return self._first.get(line.block, 0) + line.number

    def line(self, row: int) -> Line | None:
        """The line of a row."""
        return self.lines[row] if 0 <= row < len(self.lines) else None

    def mark(self, line: Line | None) -> None:
        """The line that is in the middle of the picture."""
        if line != self.marked:
            rows = [self.row_of(one) for one in (self.marked, line) if one is not None]
            self.marked = line
            for row in rows:
                if row < len(self.lines):
                    self.dataChanged.emit(self.index(row, KIND), self.index(row, SAID))

    # Proofreading

    def proofread(self) -> None:
        """Read the list through for what is to be looked at."""
        self._timer.stop()
        self._take_remarks(self.blocks, proofread(self.blocks, self.book))

    def _proofread_aside(self) -> None:
        """Read the list through beside what the person does: a long one takes longer than a key."""
        blocks = self.blocks
        if len(blocks) < _SHORT:
            self.proofread()
            return

        def read() -> None:
            remarks = proofread(blocks, self.book)
            with contextlib.suppress(RuntimeError):  # the list may be closed by now
                self._read.emit(blocks, remarks)

        self._aside.submit(read)

    def _take_remarks(self, blocks: Blocks, remarks: list[Remark]) -> None:
        if blocks is not self.blocks:
            return
        self.remarks = {}
        for remark in remarks:
            self.remarks.setdefault(self._line_of(remark), []).append(remark)
        if self.lines:
            self.dataChanged.emit(self.index(0, SAID), self.index(len(self.lines) - 1, SAID))
        self.proofread_again.emit()

    def _line_of(self, remark: Remark) -> Line:
        block = self.blocks[remark.block]
        number = remark.place - isinstance(block, Role) if isinstance(block, Role | Names) else 0
        return Line(remark.block, max(0, number))

    @property
    def to_look_at(self) -> list[int]:
        """The rows with remarks."""
        return sorted(self.row_of(line) for line in self.remarks)

    # As Qt asks for it

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self.lines)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        return 4

    def words(self, row: int, column: int) -> str:
        """What a cell says."""
        line = self.lines[row]
        block = self.blocks[line.block]
        if column == KIND:
            return block.kind if line.number == 0 else ""
        if column == SAID:
            return " · ".join(r.words for r in self.remarks.get(line, ()))
        words = cell(block, line.number, SIDES[column])
        return words or (facts_of(block) if column == FIRST and line.number == 0 else "")

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if not index.isValid() or index.row() >= len(self.lines):
            return None
        line, column = self.lines[index.row()], index.column()
        block = self.blocks[line.block]
        if role == Qt.ItemDataRole.EditRole and column in SIDES:
            return cell(block, line.number, SIDES[column])
        words = self.words(index.row(), column)
        if role == Qt.ItemDataRole.DisplayRole:
            return words
        if role == Qt.ItemDataRole.ToolTipRole:
            return words if column == SAID else None
        if role == Qt.ItemDataRole.AccessibleTextRole:
            name = ("kind", "role" if isinstance(block, Role) else block.kind, "name", "to look at")[column]
            return f"{name}: {words or 'empty'}"
        return None

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if role == Qt.ItemDataRole.DisplayRole and orientation == Qt.Orientation.Horizontal:
            return ("Kind", "Role, heading or words", "Name", "To look at")[section]
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        flags = Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsEnabled
        if index.isValid() and index.row() < len(self.lines) and index.column() in SIDES:
            line = self.lines[index.row()]
            if may_type(self.blocks[line.block], SIDES[index.column()]):
                flags |= Qt.ItemFlag.ItemIsEditable
        return flags

    def type(self, row: int, column: int, words: str, gesture: object) -> bool:
        """Let a cell have other words, as they are typed."""
        line = self.line(row)
        if line is None:
            return False
        return self.put(put_cell(self.blocks, line, SIDES[column], words), "List: words", gesture)

    def settle(self, row: int, column: int) -> None:
        """What was typed in a cell is done: a role that was emptied lets its names go on with the role above."""
        line = self.line(row)
        if line is not None and column == FIRST and line.number == 0:
            self.put(joined(self.blocks, line.block), "List: goes on with the role above")


def kinds() -> Sequence[str]:
    """The kinds of block, in the order in which they are offered."""
    return tuple(BLOCK_KINDS)
