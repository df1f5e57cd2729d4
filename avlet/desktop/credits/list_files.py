"""List files: opened, written, followed; what has changed in one that is followed is taken row by row."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QObject, QTimer, pyqtSignal
from PyQt6.QtWidgets import QDialog, QFileDialog, QWidget

from avlet.desktop.credits.list_port import ListPort
from avlet.desktop.credits.table_dialog import TableDialog
from avlet.desktop.dialogs.tick_dialog import TickDialog, Ticked
from avlet.desktop.widgets.asking import lasting
from avlet.document.fields.credits import blocks_in_file
from avlet.document.lists.blocks import Block, Blocks, Names, Pictures, Role, words_in
from avlet.document.lists.listing import Change, changes_between, csv_of, rows_from, with_changes
from avlet.document.tables import as_csv
from avlet.errors import AnswerError, AvletError
from avlet.storage.answer_files import NAMED_FILES
from avlet.storage.atomic import write_whole
from avlet.storage.reading import read_named_file
from avlet.storage.table_files import table_in_file

LISTS = "Lists (*.csv *.tsv *.txt *.xlsx *.ods)"
WRITTEN = "CSV (*.csv);;Tab-separated (*.tsv)"
_MOST_SHOWN = 200
_SETTLES = 300
"""ms after a file was touched until it is read: it may be written in several goes."""


class ListFiles(QObject):
    """The files of one list. ``news`` tells how many changes a followed file has."""

    refused = pyqtSignal(str)
    news = pyqtSignal(int)

    def __init__(self, port: Callable[[], ListPort | None], folder: Callable[[], Path | None], owner: QWidget) -> None:
        super().__init__(owner)
        self.port, self.folder, self.owner = port, folder, owner
        self.changes: list[Change] = []
        self._watcher = QFileSystemWatcher(self)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.look)
        self._watcher.fileChanged.connect(self._touched)
        self._watcher.directoryChanged.connect(self._touched)

    def _touched(self, _: str) -> None:
        self._timer.start(_SETTLES)

    # Open and write

    def open(self) -> None:
        """Ask for a list file and take what is in it."""
        name, _ = QFileDialog.getOpenFileName(lasting(self.owner), "Open a list", self._start(), LISTS)
        if name:
            self.take(Path(name))

    def take(self, path: Path) -> bool:
        """Show what a file has, and take it as a list."""
        port = self.port()
        if port is None:
            return False
        try:
            table = table_in_file(path)
        except AvletError as error:
            self.refused.emit(str(error))
            return False
        if not table.rows:
            self.refused.emit(f"“{path.name}” has no rows. The list stays as it is.")
            return False
        present = port.blocks()
        dialog = TableDialog(path.name, table, False, self._pictures(path), self.owner)
        dialog.below.setEnabled(bool(present))
        if dialog.exec() != QDialog.DialogCode.Accepted:
            return False
        new = dialog.blocks if dialog.instead.isChecked() else (*present, *dialog.blocks)
        return port.put(new, f"List: open {path.name}", None)

    @staticmethod
    def _pictures(path: Path) -> Callable[[str], bytes]:
        def load(name: str) -> bytes:
            try:
                return read_named_file(str(path.parent / name))
            except AnswerError:
                return b""

        return load

    def _start(self) -> str:
        folder = self.folder()
        return str(folder) if folder is not None else ""

    def write(self) -> None:
        """Ask for a name and write the list as a table."""
        name, chosen = QFileDialog.getSaveFileName(lasting(self.owner), "Write the list", str(Path(self._start()) / "list.csv"), WRITTEN)
        if name:
            path = Path(name)
            if path.suffix.lower() not in (".csv", ".tsv"):
                path = path.with_name(path.name + (".tsv" if chosen.startswith("Tab") else ".csv"))
            self.write_to(path)

    def write_to(self, path: Path) -> bool:
        """Write the list as a table; pictures by the names of their files, which are put beside it."""
        port = self.port()
        if port is None:
            return False
        blocks = port.blocks()
        words = as_csv(rows_from(blocks), "\t") if path.suffix.lower() == ".tsv" else csv_of(blocks)
        try:
            write_whole(path, words.encode())
            for block in blocks:
                for picture in block.pictures if isinstance(block, Pictures) else ():
                    beside = path.parent / Path(picture.name).name
                    if picture.data and not beside.exists():
                        write_whole(beside, picture.data)
        except (OSError, AvletError) as error:
            self.refused.emit(f"“{path.name}” was not written: {getattr(error, 'strerror', None) or error}.")
            return False
        return True

    # Follow

    def follow(self) -> None:
        """Ask for a file that the list is to follow."""
        name, _ = QFileDialog.getOpenFileName(lasting(self.owner), "Follow a list file", self._start(), LISTS)
        if name:
            self.follow_file(Path(name))

    def follow_file(self, path: Path) -> None:
        """Let the list follow a file: by its name alone where it lies beside the template."""
        port, folder = self.port(), self.folder()
        if port is not None and port.link is not None:
            near = folder is not None and path.parent.resolve() == folder.resolve()
            port.link(path.name if near else str(path))
            self.look()

    def follow_none(self) -> None:
        """Let the list stand by itself."""
        port = self.port()
        if port is not None and port.link is not None:
            port.link("")
            self.look()

    @property
    def linked(self) -> Path | None:
        """The file that the list follows."""
        port = self.port()
        name = port.linked() if port is not None and port.linked is not None else ""
        folder = self.folder()
        return None if not name else Path(name) if folder is None else folder / name

    def look(self) -> None:
        """See whether the file that is followed has changed."""
        path, port = self.linked, self.port()
        watched = [*self._watcher.files(), *self._watcher.directories()]
        wanted = [] if path is None else [str(p) for p in (path, path.parent) if p.exists()]
        if set(watched) != set(wanted):
            if watched:
                self._watcher.removePaths(watched)
            if wanted:
                self._watcher.addPaths(wanted)
        self.changes = []
        if path is not None and port is not None and path.exists():
            try:
                self.changes = changes_between(port.blocks(), blocks_in_file(str(path), NAMED_FILES))
            except AvletError as error:
                self.refused.emit(str(error))
        self.news.emit(len(self.changes))

    def ask(self) -> None:
        """Show each change of the followed file, and take those that are ticked."""
        self.look()
        port, path = self.port(), self.linked
        if port is None or path is None or not self.changes:
            return
        changes = self.changes
        rows = [Ticked(str(n), _words_of(change), "", True) for n, change in enumerate(changes[:_MOST_SHOWN])]
        more = len(changes) - len(rows)
        heading = f"{path.name} differs from the list in {len(changes)} places." + (f" The first {_MOST_SHOWN}:" if more else "")
        dialog = TickDialog(f"What is new in {path.name}", heading, rows, "Take", self.owner)
        if dialog.exec() == QDialog.DialogCode.Accepted:
            taken = [changes[int(label)] for label in dialog.taken]
            port.put(with_changes(port.blocks(), taken), f"List: take over from {path.name}", None)
            self.look()


def _words_of(change: Change) -> str:
    old, new = _brief(change.old), _brief(change.new)
    if not old:
        return f"new: {new}"
    return f"gone: {old}" if not new else f"{old}  →  {new}"


def _brief(blocks: Blocks) -> str:
    words = "; ".join(_block_words(block) for block in blocks)
    return words if len(words) <= 90 else f"{words[:89]}…"


def _block_words(block: Block) -> str:
    match block:
        case Role(role=role, names=names):
            return f"{role or '–'}: {', '.join(names)}"
        case Names(names=names):
            return ", ".join(names)
    return " ".join(words_in(block)) or block.kind
