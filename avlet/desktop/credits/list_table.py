"""The table of a list: the keyboard, the clipboard, the menus of its lines."""

from collections.abc import Sequence
from functools import partial

import msgspec
from PyQt6.QtCore import QEvent, QItemSelection, QItemSelectionModel, QMimeData, QModelIndex, QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QAction, QContextMenuEvent, QKeyEvent, QKeySequence, QMouseEvent, QResizeEvent
from PyQt6.QtWidgets import QAbstractItemView, QApplication, QHeaderView, QMenu, QTableView, QWidget

from avlet.desktop.credits.list_delegate import ListDelegate
from avlet.desktop.credits.list_model import FIRST, KIND, SAID, SECOND, ListModel, kinds
from avlet.desktop.widgets.menus import pop_up
from avlet.document.lists.blocks import Blocks, Names, Role, put_block
from avlet.document.lists.lines import Line, line_added, lines_pasted, lines_removed, lines_shifted, lines_taken, lines_turned
from avlet.document.lists.listing import blocks_from, clipboard_of, recognised
from avlet.document.tables import Table, rows_of
from avlet.errors import AnswerError
from avlet.numbers.languages import USUAL, language_name
from avlet.review.proofreading import SEVERAL, Remark, meant, mended

BLOCKS_MIME = "application/x-avlet-blocks+json"
KEYS: tuple[tuple[str, str], ...] = (
    ("Return", "Another name, or a line below; on an empty name a new role"), ("Tab", "From role to name, and on to the next line"),
    ("F2", "Type in a cell"),
    ("Alt+Up", "Move the chosen lines up"), ("Alt+Down", "Move the chosen lines down"), ("Del", "Remove the chosen lines"),
    ("Ctrl+C", "Copy lines, also for a spreadsheet"), ("Ctrl+X", "Cut lines"), ("Ctrl+V", "Paste lines, also of a spreadsheet"),
    ("Ctrl+F", "Find and replace"), ("Menu", "What can be done with a line"),
)  # fmt: skip
"""What the keys do in a list, in words."""
ROW = 29
_ALT, _CTRL, _SHIFT = Qt.KeyboardModifier.AltModifier, Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


class ListTable(QTableView):
    """Shows and changes a list line by line. ``visited`` tells which line the person has gone to."""

    visited = pyqtSignal(object)
    refused = pyqtSignal(str)
    find_wanted = pyqtSignal()
    picture_wanted = pyqtSignal(object)

    own_keys = None
    """Words are typed here: all keys are its own."""

    def __init__(self, model: ListModel, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.lines = model
        self.setModel(model)
        self.delegate = ListDelegate(self, model)
        self.setItemDelegate(self.delegate)
        self.delegate.left.connect(self._left)
        self.setProperty("role", "list")
        self.setAccessibleName("The list of credits")
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setEditTriggers(
            QAbstractItemView.EditTrigger.AnyKeyPressed | QAbstractItemView.EditTrigger.EditKeyPressed
            | QAbstractItemView.EditTrigger.DoubleClicked | QAbstractItemView.EditTrigger.SelectedClicked
        )  # fmt: skip
        self.setShowGrid(False)
        self.setTabKeyNavigation(False)
        self.setWordWrap(False)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        for header in (self.horizontalHeader(), self.verticalHeader()):
            assert header is not None
            header.hide()
            header.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
            header.setMinimumSectionSize(10)
            header.setDefaultSectionSize(ROW)
        self._kept: tuple[int, int, list[int]] | None = None
        model.modelAboutToBeReset.connect(self._keep)
        model.modelReset.connect(self._restore)

    # Rows

    @property
    def port(self) -> QWidget:
        """What its lines are painted on."""
        port = self.viewport()
        assert port is not None
        return port

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        width = self.port.width()
        kind = 82
        first = round((width - kind) * 0.27)
        second = round((width - kind) * 0.33)
        for column, size in enumerate((kind, first, second, width - kind - first - second)):
            self.setColumnWidth(column, max(10, size))

    def _keep(self) -> None:
        index = self.currentIndex()
        self._kept = index.row(), index.column(), self.chosen_rows()

    def _restore(self) -> None:
        if self._kept is None:
            return
        row, column, rows = self._kept
        self._kept = None
        last = len(self.lines.lines) - 1
        if last >= 0 and row >= 0:
            self.choose([min(r, last) for r in rows] or [min(row, last)], column, min(row, last), follow=False)

    def chosen_rows(self) -> list[int]:
        """The rows that are selected."""
        selection = self.selectionModel()
        return sorted({index.row() for index in selection.selectedRows()}) if selection is not None else []

    def chosen_lines(self) -> list[Line]:
        """The lines that are selected."""
        return [self.lines.lines[row] for row in self.chosen_rows() if row < len(self.lines.lines)]

    def choose(self, rows: Sequence[int], column: int = FIRST, current: int | None = None, follow: bool = True) -> None:
        """Select some rows."""
        selection = self.selectionModel()
        if selection is None or not rows:
            return
        at = self.lines.index(rows[0] if current is None else current, max(0, column))
        picked = QItemSelection()
        first = before = rows[0]
        for row in [*rows[1:], -2]:
            if row != before + 1:
                picked.select(self.lines.index(first, 0), self.lines.index(before, SAID))
                first = row
            before = row
        selection.setCurrentIndex(at, QItemSelectionModel.SelectionFlag.NoUpdate)
        selection.select(picked, QItemSelectionModel.SelectionFlag.ClearAndSelect | QItemSelectionModel.SelectionFlag.Rows)
        if follow:
            self.scrollTo(at)

    def choose_lines(self, lines: Sequence[Line], column: int = FIRST) -> None:
        """Select some lines."""
        self.choose([self.lines.row_of(line) for line in lines], column)

    def show_line(self, line: Line) -> None:
        """Go to a line."""
        self.choose([self.lines.row_of(line)], max(FIRST, self.currentIndex().column()))

    def currentChanged(self, current: QModelIndex, previous: QModelIndex) -> None:
        super().currentChanged(current, previous)
        self.port.update()
        line = self.lines.line(current.row())
        if line is not None and self.hasFocus() and current.row() != previous.row():
            self.visited.emit(line)

    # Changes

    def change(self, blocks: Blocks, label: str, chosen: Sequence[Line] = ()) -> bool:
        """Let the list be another one, and select lines in it."""
        if not self.lines.put(blocks, label):
            return False
        if chosen:
            self.choose_lines(chosen, max(FIRST, self.currentIndex().column()))
        return True

    def add_line(self) -> None:
        """An empty line below the current one, to type in: another name where names stand, else a role."""
        blocks, line = line_added(self.lines.blocks, self.lines.line(self.currentIndex().row()))
        if self.change(blocks, "List: a line more", [line]):
            named = isinstance(blocks[line.block], Names) or line.number > 0
            self.edit_cell(self.lines.row_of(line), SECOND if named else FIRST)

    def _returned(self, row: int, column: int) -> None:
        """Return while typing: from a role to its name that is still empty, from an empty name to a role of its own, else a line more."""
        line = self.lines.line(row)
        block = self.lines.blocks[line.block] if line is not None else None
        name = block.names[line.number] if line is not None and isinstance(block, Role) and line.number < len(block.names) else None
        if column == FIRST and name is not None and not name.strip() and isinstance(block, Role) and block.role.strip():
            self.edit_cell(row, SECOND)
        elif column == SECOND and name is not None and not name.strip() and line is not None and line.number > 0:
            self.edit_cell(row, FIRST)
        else:
            self.add_line()

    def edit_cell(self, row: int, column: int) -> None:
        """Begin to type in a cell."""
        index = self.lines.index(row, column)
        self.choose([row], column)
        if index.flags() & Qt.ItemFlag.ItemIsEditable:
            self.edit(index)

    def remove_chosen(self) -> None:
        """Remove the lines that are selected."""
        rows = self.chosen_rows()
        if rows and self.lines.put(lines_removed(self.lines.blocks, self.chosen_lines()), f"List: remove {_many(len(rows))}"):
            last = len(self.lines.lines) - 1
            if last >= 0:
                self.choose([min(rows[0], last)], max(FIRST, self.currentIndex().column()))

    def shift_chosen(self, by: int) -> None:
        """Move the lines that are selected."""
        blocks, lines = lines_shifted(self.lines.blocks, self.chosen_lines(), by)
        if blocks is not self.lines.blocks:
            self.change(blocks, "List: move lines", lines)

    def turn_chosen(self, kind: str) -> None:
        """Make the blocks of the lines that are selected into another kind."""
        lines = self.chosen_lines()
        places = list(dict.fromkeys(Line(line.block) for line in lines))
        self.change(lines_turned(self.lines.blocks, lines, kind), f"List: into {kind}", places)

    def copy_chosen(self) -> None:
        """Put the lines that are selected on the clipboard, also as a spreadsheet takes them."""
        blocks, clipboard = lines_taken(self.lines.blocks, self.chosen_lines()), QApplication.clipboard()
        if blocks and clipboard is not None:
            data = QMimeData()
            data.setText(clipboard_of(blocks))
            data.setData(BLOCKS_MIME, msgspec.json.encode(blocks))
            clipboard.setMimeData(data)

    def paste(self) -> None:
        """Take lines from the clipboard: those of a list, or a table's."""
        clipboard = QApplication.clipboard()
        data = clipboard.mimeData() if clipboard is not None else None
        if data is None:
            return
        try:
            if data.hasFormat(BLOCKS_MIME):
                new = msgspec.json.decode(data.data(BLOCKS_MIME).data(), type=Blocks)
            else:
                table = Table(rows_of(data.text()))
                new = blocks_from(table, recognised(table))
        except (AnswerError, msgspec.DecodeError, msgspec.ValidationError, UnicodeDecodeError) as error:
            self.refused.emit(f"The clipboard has no list: {error}")
            return
        if not new:
            self.refused.emit("The clipboard has no lines. Copy some in a spreadsheet, or words, and paste again.")
            return
        blocks, lines = lines_pasted(self.lines.blocks, self.lines.line(self.currentIndex().row()), new)
        self.change(blocks, f"List: paste {_many(len(lines))}", lines)

    # Keys

    def event(self, event: QEvent | None) -> bool:
        """What the list does with a key goes before what the window does with it."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and self._action(event) is not None:
            event.accept()
            return True
        return super().event(event)

    def _action(self, event: QKeyEvent) -> object:
        key, held = Qt.Key(event.key()), event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
        pairs = (
            (QKeySequence.StandardKey.Copy, self.copy_chosen), (QKeySequence.StandardKey.Paste, self.paste),
            (QKeySequence.StandardKey.Cut, self.cut_chosen), (QKeySequence.StandardKey.SelectAll, self.selectAll),
            (QKeySequence.StandardKey.Find, self.find_wanted.emit),
        )  # fmt: skip
        for standard, action in pairs:
            if event.matches(standard):
                return action
        if held == _ALT and key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            return partial(self.shift_chosen, -1 if key == Qt.Key.Key_Up else 1)
        plain = held in (Qt.KeyboardModifier.NoModifier, _SHIFT)
        if plain and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            return self._enter
        if plain and key in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab):
            return partial(self._step, -1 if key == Qt.Key.Key_Backtab else 1, False)
        if plain and key == Qt.Key.Key_Delete:
            return self.remove_chosen
        return None

    def cut_chosen(self) -> None:
        """Copy the lines that are selected, and remove them."""
        self.copy_chosen()
        self.remove_chosen()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        action = self._action(event)
        if callable(action):
            action()
            event.accept()
            return
        if event.key() == Qt.Key.Key_Space and self.currentIndex().column() in (KIND, SAID):
            self._enter()
            return
        super().keyPressEvent(event)

    def _enter(self) -> None:
        """Return: a menu where one belongs to the cell, a picture's file, else a line below."""
        index = self.currentIndex()
        line = self.lines.line(index.row())
        if line is not None and index.column() == KIND:
            self._popup(self.kind_menu(), index)
        elif line is not None and index.column() == SAID and line in self.lines.remarks:
            self._popup(self.remark_menu(line), index)
        else:
            self.add_line()

    def _step(self, way: int, typing: bool) -> None:
        """To the next cell that takes words; out of the list behind its last one."""
        index, model = self.currentIndex(), self.lines
        cells = [(index.row(), c) for c in (FIRST, SECOND) if (c > index.column()) == (way > 0) and c != index.column()]
        cells = cells if way > 0 else cells[::-1]
        row = index.row() + way
        while 0 <= row < len(model.lines) and len(cells) < 12:
            cells += [(row, c) for c in ((FIRST, SECOND) if way > 0 else (SECOND, FIRST))]
            row += way
        for row, column in cells:
            if model.index(row, column).flags() & Qt.ItemFlag.ItemIsEditable:
                self.edit_cell(row, column) if typing else self.choose([row], column)
                return
        if not typing:
            self.focusNextPrevChild(way > 0)

    def _left(self, key: int, row: int, column: int) -> None:
        """An editor was left by a key."""
        self.setFocus()
        row = min(row, len(self.lines.lines) - 1)
        if row < 0:
            return
        self.choose([row], column)
        match Qt.Key(key):
            case Qt.Key.Key_Return:
                self._returned(row, column)
            case Qt.Key.Key_Tab:
                self._step(1, True)
            case Qt.Key.Key_Backtab:
                self._step(-1, True)
            case Qt.Key.Key_Up | Qt.Key.Key_Down:
                to = max(0, min(len(self.lines.lines) - 1, row + (1 if key == int(Qt.Key.Key_Down) else -1)))
                self.choose([to], column)

    # Menus

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        index = self.indexAt(event.position().toPoint())
        alone = not event.modifiers() & (_CTRL | _SHIFT)
        line = self.lines.line(index.row())
        if event.button() == Qt.MouseButton.LeftButton and alone and line is not None:
            if index.column() == SAID and line in self.lines.remarks:
                self.choose([index.row()], SAID)
                self._popup(self.remark_menu(line), index)
                return
            if index.column() == KIND and line.number == 0 and index.row() in self.chosen_rows():
                self.choose(self.chosen_rows(), KIND, index.row())
                self._popup(self.kind_menu(), index)
                return
        super().mousePressEvent(event)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        index = self.indexAt(event.position().toPoint())
        line = self.lines.line(index.row())
        if line is not None and self.lines.blocks[line.block].kind == "picture" and index.column() == FIRST:
            self.picture_wanted.emit(line)
            return
        super().mouseDoubleClickEvent(event)

    def _popup(self, menu: QMenu, index: QModelIndex) -> None:
        area = self.visualRect(index)
        pop_up(menu, self.port.mapToGlobal(QPoint(area.x() + 8, area.bottom())))

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        assert event is not None
        index = self.currentIndex()
        if event.reason() == QContextMenuEvent.Reason.Mouse:
            index = self.indexAt(self.port.mapFromGlobal(event.globalPos()))
            if index.isValid() and index.row() not in self.chosen_rows():
                self.choose([index.row()], max(FIRST, index.column()))
        if self.lines.line(index.row()) is None:
            return
        menu = self.line_menu(self.lines.lines[index.row()])
        self._popup(menu, index)

    def kind_menu(self) -> QMenu:
        """Kinds that the chosen blocks can be made into."""
        menu = QMenu(self)
        present = {self.lines.blocks[line.block].kind for line in self.chosen_lines()}
        for kind in kinds():
            _entry(menu, kind.capitalize(), partial(self.turn_chosen, kind), present == {kind})
        return menu

    def remark_menu(self, line: Line) -> QMenu:
        """What can be done about what proofreading says of a line."""
        menu = QMenu(self)
        self._fill_remarks(menu, line)
        return menu

    def _fill_remarks(self, menu: QMenu, line: Line) -> None:
        for remark in self.lines.remarks.get(line, ()):
            told = menu.addAction(remark.words)
            assert told is not None
            told.setEnabled(False)
            if remark.mend is not None:
                several = remark.mend.count("\n") + 1 if remark.sort.startswith(SEVERAL) else 1
                words = f"Make {several} names of it" if several > 1 else f"Make it “{remark.mend[:60]}”"
                _entry(menu, words, partial(self.mend, remark))
            _entry(menu, "It is meant so", partial(self.mean, remark))

    def mend(self, remark: Remark) -> None:
        """Put what is right in its place."""
        self.lines.put(mended(self.lines.blocks, remark), "List: mend")
        self.lines.proofread()

    def mean(self, remark: Remark) -> None:
        """It is right as it is."""
        self.lines.put(meant(self.lines.blocks, remark), "List: meant so")
        self.lines.proofread()

    def line_menu(self, line: Line) -> QMenu:
        """All that can be done with the chosen lines."""
        menu = QMenu(self)
        self._fill_remarks(menu, line)
        if line in self.lines.remarks:
            menu.addSeparator()
        block = self.lines.blocks[line.block]
        under = menu.addMenu("Make it")
        assert under is not None
        for kind in kinds():
            _entry(under, kind.capitalize(), partial(self.turn_chosen, kind), block.kind == kind)
        if isinstance(block, Names):
            self._names_menus(menu, line, block)
        if block.kind == "picture":
            _entry(menu, "Choose pictures…", lambda: self.picture_wanted.emit(line))
        menu.addSeparator()
        for words, action in (
            ("A line below\tReturn", self.add_line), ("Move up\tAlt+Up", partial(self.shift_chosen, -1)),
            ("Move down\tAlt+Down", partial(self.shift_chosen, 1)), ("Cut\tCtrl+X", self.cut_chosen),
            ("Copy\tCtrl+C", self.copy_chosen), ("Paste\tCtrl+V", self.paste), ("Remove\tDel", self.remove_chosen),
        ):  # fmt: skip
            _entry(menu, words, action)
        return menu

    def _names_menus(self, menu: QMenu, line: Line, block: Names) -> None:
        def change(**values: object) -> None:
            now = self.lines.blocks[line.block]
            self.lines.put(put_block(self.lines.blocks, line.block, msgspec.structs.replace(now, **values)), "List: names")

        columns, filled, order = menu.addMenu("Columns"), menu.addMenu("Filled"), menu.addMenu("Sorted")
        assert columns is not None and filled is not None and order is not None
        for count in range(1, 5):
            _entry(columns, str(count), partial(change, columns=count), block.columns == count)
        for way in ("down", "across"):
            _entry(filled, way.capitalize(), partial(change, filled=way), block.filled == way)
        _entry(order, "As they stand", partial(change, sorted_in=""), not block.sorted_in)
        for code in USUAL:
            _entry(order, language_name(code), partial(change, sorted_in=code), block.sorted_in == code)


def _many(count: int) -> str:
    return "a line" if count == 1 else f"{count} lines"


def _entry(menu: QMenu, words: str, action: object, ticked: bool = False) -> None:
    made = QAction(words, menu)
    made.setCheckable(ticked)
    made.setChecked(ticked)
    made.triggered.connect(lambda _=False: action() if callable(action) else None)
    menu.addAction(made)
