"""The list: its lines on paper, what proofreading says of them, files, find and replace."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QFrame, QHBoxLayout, QLabel, QMenu, QPushButton, QVBoxLayout, QWidget

from avlet.desktop.credits.find_bar import FindBar
from avlet.desktop.credits.list_files import ListFiles
from avlet.desktop.credits.list_model import FIRST, SECOND, ListModel, kinds
from avlet.desktop.credits.list_port import ListPort
from avlet.desktop.credits.list_table import ListTable
from avlet.desktop.widgets.asking import lasting
from avlet.desktop.widgets.theme import style_sheet
from avlet.document.lists.blocks import BLOCK_KINDS, Blocks, Names, Pictures, lines_of, put_block
from avlet.document.lists.lines import Line, block_added
from avlet.document.parts import PictureFile
from avlet.document.parts.credits import empty_of
from avlet.text.fonts import FontBook

PICTURES = "Pictures (*.png *.jpg *.jpeg *.webp *.svg)"


class ListPanel(QFrame):
    """Edits the list that ``port`` gives, which may be another one later. ``visited`` tells which line the person goes to."""

    visited = pyqtSignal(object)
    refused = pyqtSignal(str)

    def __init__(self, book: FontBook, folder: Callable[[], Path | None], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setProperty("role", "list")
        self.setStyleSheet(style_sheet("list"))
        self.port: ListPort | None = None
        self._counted: tuple[Blocks, int] = ((), 0)
        self.model = ListModel(book, self._put, self)
        self.table = ListTable(self.model)
        self.files = ListFiles(lambda: self.port, folder, self)
        self.search = FindBar(self.model, lambda: self.table.currentIndex().row())
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 8, 10, 6)
        layout.setSpacing(6)
        layout.addLayout(self._heading())
        layout.addWidget(self.search)
        layout.addWidget(self.table, 1)
        self.empty = QLabel("The list is empty. Press Return for a line, paste lines from a spreadsheet, or open a list file.")
        self.empty.setWordWrap(True)
        layout.addWidget(self.empty)
        self.model.proofread_again.connect(self._say)
        self.model.reshaped.connect(self._say)
        self.model.reshaped.connect(self.search.follow)
        for source in (self.table, self.files):
            source.refused.connect(self.refused)
        self.table.visited.connect(self.visited)
        self.table.find_wanted.connect(self.search.begin)
        self.table.picture_wanted.connect(self.choose_pictures)
        self.search.gone.connect(self.table.setFocus)
        self.search.went.connect(self._go_to)
        self.files.news.connect(self._say_news)

    def _heading(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(6)
        title = QLabel("The list")
        title.setProperty("role", "heading")
        row.addWidget(title)
        row.addSpacing(8)
        self.lines = QLabel()
        row.addWidget(self.lines)
        self.look = QPushButton()
        self.look.setProperty("role", "link")
        self.look.setToolTip("Go to the next line that proofreading has something to say of")
        self.look.clicked.connect(self.next_remark)
        row.addWidget(self.look)
        row.addStretch(1)
        self.news = QPushButton()
        self.news.setProperty("role", "link")
        self.news.setToolTip("See what has changed in the file that the list follows, and take it row by row")
        self.news.clicked.connect(self.files.ask)
        self.news.setAccessibleName("What is new in the list file")
        self.news.hide()
        row.addWidget(self.news)
        for words, tip, fill in (("+ ▾", "Add a block", self._fill_add), ("List ▾", "Open, write, follow a file, find", self._fill_files)):
            button = QPushButton(words)
            button.setToolTip(tip)
            button.setAccessibleName(tip)
            menu = QMenu(button)
            menu.aboutToShow.connect(partial(self._filled, menu, fill))
            button.setMenu(menu)
            row.addWidget(button)
        return row

    @staticmethod
    def _filled(menu: QMenu, fill: Callable[[QMenu], None]) -> None:
        menu.clear()
        fill(menu)

    def _fill_add(self, menu: QMenu) -> None:
        for kind in kinds():
            action = menu.addAction(kind.capitalize())
            assert action is not None
            action.triggered.connect(lambda _=False, k=kind: self.add(k))

    def _fill_files(self, menu: QMenu) -> None:
        follows = self.port is not None and self.port.link is not None
        for words, action, offered in (
            ("Open a list file…", self.files.open, True), ("Write the list…", self.files.write, True),
            ("Follow a list file…", self.files.follow, follows),
            ("Follow no file", self.files.follow_none, follows and self.files.linked is not None), ("", None, True),
            ("Find and replace\tCtrl+F", self.search.begin, True), ("Empty it for the next film", self.empty_it, bool(self.model.blocks)),
        ):  # fmt: skip
            if action is None:
                menu.addSeparator()
                continue
            entry = menu.addAction(words)
            assert entry is not None
            entry.setEnabled(offered)
            entry.triggered.connect(lambda _=False, a=action: a())

    # What it shows

    def show_list(self, port: ListPort | None) -> None:
        """Edit another list."""
        self.port = port
        self.follow()
        self.files.look()

    def follow(self) -> None:
        """Show the list as it is now."""
        self.model.take(self.port.blocks() if self.port is not None else ())
        self.empty.setVisible(not self.model.lines)
        self._say()

    def _put(self, blocks: Blocks, label: str, gesture: object) -> bool:
        if self.port is None or not self.port.put(blocks, label, gesture):
            return False
        self.follow()
        return True

    def _say(self) -> None:
        if self._counted[0] is not self.model.blocks:
            self._counted = self.model.blocks, lines_of(self.model.blocks)
        count, found = self._counted[1], len(self.model.remarks)
        self.lines.setText(f"{count:,} line{'' if count == 1 else 's'}")
        self.look.setText(f"{found} to look at" if found else "nothing to look at")
        self.look.setEnabled(bool(found))

    def _say_news(self, count: int) -> None:
        linked = self.files.linked
        self.news.setVisible(linked is not None)
        self.news.setEnabled(count > 0)
        if linked is not None:
            gone = "" if linked.exists() else " (not there)"
            self.news.setText(f"{count} new in {linked.name}" if count else f"follows {linked.name}{gone}")

    # What is done

    def next_remark(self) -> None:
        """Go to the next line that has a remark."""
        rows = self.model.to_look_at
        here = self.table.currentIndex().row()
        if rows:
            self.table.setFocus()
            self.table.choose([next((row for row in rows if row > here), rows[0])], 3)

    def _go_to(self, row: int, column: int) -> None:
        self.table.port.update()
        if row >= 0:
            self.table.choose([row], column)
            line = self.model.line(row)
            if line is not None:
                self.visited.emit(line)

    def add(self, kind: str) -> None:
        """A block below the current line."""
        row = self.table.currentIndex().row()
        blocks, line = block_added(self.model.blocks, self.model.line(row), BLOCK_KINDS[kind]())
        self.table.setFocus()
        if self.table.change(blocks, f"List: add {kind}", [line]):
            if kind == "picture":
                self.choose_pictures(line)
            else:
                self.table.edit_cell(self.model.row_of(line), SECOND if isinstance(blocks[line.block], Names) else FIRST)

    def empty_it(self) -> None:
        """Take all names away; headings and roles stay."""
        self._put(empty_of(self.model.blocks), "List: empty it for the next film", None)

    def choose_pictures(self, line: Line) -> None:
        """Ask for the pictures of a block."""
        names, _ = QFileDialog.getOpenFileNames(lasting(self), "Pictures, all in one row", "", PICTURES)
        if names:
            self.take_pictures(line, [Path(name) for name in names])

    def take_pictures(self, line: Line, paths: list[Path]) -> None:
        """Show these files in a block, in a row."""
        block = self.model.blocks[line.block]
        if not isinstance(block, Pictures):
            return
        try:
            pictures = tuple(PictureFile(path.name, path.read_bytes()) for path in paths)
        except OSError as error:
            self.refused.emit(f"“{error.filename}” cannot be read: {error.strerror}.")
            return
        made = Pictures(pictures=pictures, height=block.height, meant=block.meant)
        self._put(put_block(self.model.blocks, line.block, made), "List: pictures", None)

    def leave(self) -> None:
        """It is put away: what is being typed stands."""
        if self.table.state() == self.table.State.EditingState:
            self.table.setFocus(Qt.FocusReason.OtherFocusReason)
        if self.port is not None:
            self.port.done()
