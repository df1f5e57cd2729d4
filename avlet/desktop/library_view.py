"""The library on the desk: categories, search, thumbnails. It follows its folder by itself."""

from PyQt6.QtCore import QFileSystemWatcher, QMimeData, QPoint, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QDrag, QIcon, QPixmap
from PyQt6.QtWidgets import QButtonGroup, QLabel, QLineEdit, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from avlet.desktop.cut_session import CutSession
from avlet.desktop.cut_view import MIME
from avlet.desktop.flow import flowing
from avlet.errors import StorageError
from avlet.storage.library import Entry, scan, signature

_THUMB = QSize(112, 63)
_ALL = "All"


class LibraryView(QWidget):
    """Lists the packages of the cut's library folder; ``chosen`` tells a package's file name on a double click."""

    chosen = pyqtSignal(str)

    def __init__(self, session: CutSession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setProperty("role", "panel")
        self.entries: list[Entry] = []
        self._category = _ALL
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 12, 8, 8)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Find a template…")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(self._show)
        layout.addWidget(self.search)
        self._chips = flowing()
        layout.addWidget(self._chips)
        self._group = QButtonGroup(self)
        self.list = _Packages()
        self.list.itemActivated.connect(self._activated)
        layout.addWidget(self.list, 1)
        self.hint = QLabel()
        self.hint.setWordWrap(True)
        self.hint.setProperty("role", "small")
        layout.addWidget(self.hint)
        self._watcher = QFileSystemWatcher(self)
        self._watcher.directoryChanged.connect(lambda _: self._timer.start(250))
        self._watcher.fileChanged.connect(lambda _: self._timer.start(250))
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.rescan)
        self._poll = QTimer(self)
        self._poll.timeout.connect(self._look)
        self._poll.start(2000)
        self._signature: object = None
        session.library_changed.connect(self.reload)
        self.reload()

    def _look(self) -> None:
        """Some file systems tell of no changes, so look now and then."""
        if self.isVisible() and signature(self.session.library) != self._signature:
            self.rescan()

    def rescan(self) -> None:
        """The folder has changed: read it again, and have open titles read their templates again."""
        self.session.forget_templates()

    def reload(self) -> None:
        """Read the folder and show it."""
        folder = self.session.library
        self._signature = signature(folder)
        try:
            self.entries = scan(folder)
        except StorageError as error:
            self.entries = []
            self.hint.setText(str(error))
        watched = self._watcher.directories() + self._watcher.files()
        if watched:
            self._watcher.removePaths(watched)
        if folder.is_dir():
            self._watcher.addPath(str(folder))
            for entry in self.entries:
                self._watcher.addPath(str(entry.path))
        self._show_chips()
        self._show()

    def _show_chips(self) -> None:
        names = [_ALL, *sorted({e.category for e in self.entries if not e.fault})]
        layout = self._chips.layout()
        assert layout is not None
        if [b.text() for b in self._group.buttons()] == names:
            return
        for button in self._group.buttons():
            self._group.removeButton(button)
            button.deleteLater()
        if self._category not in names:
            self._category = _ALL
        for name in names:
            button = QPushButton(name)
            button.setProperty("role", "pill")
            button.setCheckable(True)
            button.setChecked(name == self._category)
            button.clicked.connect(lambda _=False, n=name: self.show_category(n))
            self._group.addButton(button)
            layout.addWidget(button)

    def show_category(self, name: str) -> None:
        self._category = name
        self._show()

    def _show(self) -> None:
        self.list.clear()
        for entry in self.entries:
            wanted = self._category in (_ALL, entry.category) or bool(entry.fault)
            if wanted and entry.matches(self.search.text()):
                self.list.addItem(_item(entry))
        if not self.entries:
            self.hint.setText(f"No templates yet. Build one and press “Hand over…”; it is written to {self.session.library}.")
        elif not self.list.count():
            self.hint.setText("No template has these words.")
        else:
            self.hint.setText("Drag onto the words track, or double-click to put it at the playhead.")

    def _activated(self, item: QListWidgetItem) -> None:
        if item.flags() & Qt.ItemFlag.ItemIsDragEnabled:
            self.chosen.emit(item.data(Qt.ItemDataRole.UserRole))


def _item(entry: Entry) -> QListWidgetItem:
    item = QListWidgetItem(entry.name if not entry.fault else f"⚠ {entry.name}")
    item.setData(Qt.ItemDataRole.UserRole, entry.path.name)
    item.setSizeHint(QSize(_THUMB.width() + 8, _THUMB.height() + 30))
    picture = QPixmap(_THUMB * 2)
    picture.fill(Qt.GlobalColor.darkGray)
    if entry.thumbnail:
        loaded = QPixmap()
        if loaded.loadFromData(entry.thumbnail):
            picture = loaded
    item.setIcon(QIcon(picture))
    if entry.fault:
        item.setToolTip(entry.fault)
        item.setFlags(Qt.ItemFlag.ItemIsEnabled)
    else:
        item.setToolTip(f"{entry.name} – {entry.category}" + (f"\n{', '.join(entry.keywords)}" if entry.keywords else ""))
    return item


class _Packages(QListWidget):
    """Packages as pictures in a grid, to be dragged onto the cut."""

    def __init__(self) -> None:
        super().__init__()
        self.setViewMode(QListWidget.ViewMode.IconMode)
        self.setIconSize(_THUMB)
        self.setResizeMode(QListWidget.ResizeMode.Adjust)
        self.setMovement(QListWidget.Movement.Static)
        self.setSpacing(2)
        self.setUniformItemSizes(True)
        self.setDragEnabled(True)
        self.setWordWrap(True)
        self.setFrameShape(QListWidget.Shape.NoFrame)
        self.setStyleSheet(
            "QListWidget { background: transparent; outline: none; } QListWidget::item { border-radius: 5px; padding: 3px; }"
            "QListWidget::item:hover { background: #2E3438; } QListWidget::item:selected { background: #3B4449; color: #E9EBEC; }"
        )
        self.setAccessibleName("Templates")

    def startDrag(self, actions: Qt.DropAction) -> None:
        item = self.currentItem()
        if item is None:
            return
        data = QMimeData()
        data.setData(MIME, item.data(Qt.ItemDataRole.UserRole).encode())
        drag = QDrag(self)
        drag.setMimeData(data)
        drag.setPixmap(item.icon().pixmap(_THUMB))
        drag.setHotSpot(QPoint(8, 8))
        drag.exec(Qt.DropAction.CopyAction)
