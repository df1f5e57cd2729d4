"""The packages of a library as pictures in a grid; the one under the pointer or the keyboard moves."""

import io
from collections import OrderedDict
from collections.abc import Sequence
from typing import Any

from PIL import Image, UnidentifiedImageError
from PyQt6.QtCore import QAbstractListModel, QEvent, QMimeData, QModelIndex, QObject, QPoint, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QDrag, QFocusEvent, QIcon, QImage, QPixmap
from PyQt6.QtWidgets import QListView

from avlet.desktop.desk.cut_view import MIME
from avlet.desktop.desk.library_reader import LibraryReader
from avlet.storage.library import Entry

_THUMB = QSize(112, 63)
_MOST_ICONS = 400
_MOST_PREVIEW = 1024, 200
"""px of a side, and pictures, of a preview that is played."""
Role = Qt.ItemDataRole


def preview_frames(data: bytes) -> list[tuple[QPixmap, int]]:
    """The pictures of an animated preview, each with how long it shows, in ms; none of one that is damaged."""
    found = []
    side, many = _MOST_PREVIEW
    try:
        with Image.open(io.BytesIO(data), formats=("WEBP",)) as image:
            if max(image.size) > side:
                return []
            for number in range(min(getattr(image, "n_frames", 1), many)):
                image.seek(number)
                rgb = image.convert("RGB")
                picture = QImage(rgb.tobytes(), rgb.width, rgb.height, rgb.width * 3, QImage.Format.Format_RGB888)
                found.append((QPixmap.fromImage(picture.copy()), max(20, int(image.info.get("duration", 80)))))
    except (OSError, ValueError, UnidentifiedImageError, Image.DecompressionBombError, MemoryError):
        return []
    return found


class PackagesModel(QAbstractListModel):
    """The packages that are shown, each with its picture, which is made when it is looked at."""

    def __init__(self, reader: LibraryReader, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.reader = reader
        self.entries: list[Entry] = []
        self.starred: frozenset[str] = frozenset()
        self._rows: dict[str, int] = {}
        self._icons: OrderedDict[str, QIcon] = OrderedDict()
        self.playing: tuple[str, QIcon] | None = None
        plain = QPixmap(_THUMB * 2)
        plain.fill(Qt.GlobalColor.darkGray)
        self._plain = QIcon(plain)
        reader.pictured.connect(self._pictured)

    def show_entries(self, entries: Sequence[Entry], starred: Sequence[str]) -> None:
        """Show others."""
        marks = frozenset(starred)
        if list(entries) == self.entries and marks == self.starred:
            return
        self.beginResetModel()
        self.entries, self.starred = list(entries), marks
        self._rows = {entry.place: row for row, entry in enumerate(self.entries)}
        self.endResetModel()

    def forget_picture(self, place: str) -> None:
        """A package has changed: its picture is made anew."""
        self._icons.pop(place, None)
        self.show_again(place)

    def show_again(self, place: str) -> None:
        """Paint one of them again."""
        row = self._rows.get(place)
        if row is not None:
            self.dataChanged.emit(self.index(row), self.index(row), [Role.DecorationRole])

    def _pictured(self, place: str) -> None:
        self.forget_picture(place)

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self.entries)

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        entry = self.entries[index.row()]
        plain = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemNeverHasChildren
        return plain if entry.fault else plain | Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsDragEnabled

    def data(self, index: QModelIndex, role: int = Role.DisplayRole) -> Any:
        if not index.isValid():
            return None
        entry = self.entries[index.row()]
        if role in (Role.DisplayRole, Role.AccessibleTextRole):
            return ("⚠ " if entry.fault else "★ " if entry.file_name in self.starred else "") + entry.name
        if role == Role.DecorationRole:
            return self._icon(entry)
        if role == Role.ToolTipRole:
            return entry.fault or _said_of(entry)
        if role == Role.SizeHintRole:
            return QSize(_THUMB.width() + 8, _THUMB.height() + 30)
        return entry if role == Role.UserRole else None

    def _icon(self, entry: Entry) -> QIcon:
        if self.playing is not None and self.playing[0] == entry.place:
            return self.playing[1]
        kept = self._icons.get(entry.place)
        if kept is None:
            small = self.reader.small(entry)
            picture = QPixmap()
            kept = QIcon(picture) if small and picture.loadFromData(small) else self._plain
            if small is None:
                return kept
            self._icons[entry.place] = kept
        self._icons.move_to_end(entry.place)
        while len(self._icons) > _MOST_ICONS:
            self._icons.popitem(last=False)
        return kept


def _said_of(entry: Entry) -> str:
    version = f", version {entry.version}" if entry.version else ""
    keywords = f"\n{', '.join(entry.keywords)}" if entry.keywords else ""
    note = f"\n{entry.note}" if entry.note else ""
    return f"{entry.name} – {entry.category}{version}{keywords}{note}"


class PackagesList(QListView):
    """Packages as pictures in a grid, to be dragged onto the cut; the one under the pointer or the keyboard moves."""

    menu_wanted = pyqtSignal(str, QPoint)

    own_keys = frozenset((Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Return, Qt.Key.Key_Enter))
    """Pictures in a grid are gone through in both directions, and put on the cut."""

    def __init__(self, reader: LibraryReader) -> None:
        super().__init__()
        self.packages = PackagesModel(reader, self)
        self.setModel(self.packages)
        self.setViewMode(QListView.ViewMode.IconMode)
        self.setIconSize(_THUMB)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.setMovement(QListView.Movement.Static)
        self.setLayoutMode(QListView.LayoutMode.Batched)
        self.setBatchSize(200)
        self.setSpacing(2)
        self.setUniformItemSizes(True)
        self.setDragEnabled(True)
        self.setWordWrap(True)
        self.setFrameShape(QListView.Shape.NoFrame)
        self.setStyleSheet(
            "QListView { background: transparent; outline: none; } QListView::item { border-radius: 5px; padding: 3px; }"
            "QListView::item:hover { background: #2E3438; } QListView::item:selected { background: #3B4449; color: #E9EBEC; }"
        )
        self.setAccessibleName("Templates")
        self.setMouseTracking(True)
        self.entered.connect(lambda index: self.play(index.row()))
        self.packages.modelReset.connect(self.stop)
        viewport = self.viewport()
        assert viewport is not None
        viewport.installEventFilter(self)
        self._frames: list[tuple[QPixmap, int]] = []
        self._playing: str | None = None
        self._at = 0
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._next)

    def count(self) -> int:
        """How many are shown."""
        return len(self.packages.entries)

    def words(self) -> list[str]:
        """What is written under each, first to last."""
        return [self.packages.data(self.packages.index(row)) for row in range(self.count())]

    def play(self, row: int) -> None:
        """Let a package's preview move."""
        entry = self.packages.entries[row]
        if entry.place == self._playing:
            return
        self.stop()
        data = None if entry.fault else entry.preview()
        self._frames = preview_frames(data) if data else []
        if self._frames:
            self._playing, self._at = entry.place, 0
            self._next()

    def _next(self) -> None:
        if self._playing is None:
            return
        picture, milliseconds = self._frames[self._at]
        self.packages.playing = self._playing, QIcon(picture)
        self.packages.show_again(self._playing)
        self._at = (self._at + 1) % len(self._frames)
        self._timer.start(milliseconds)

    def stop(self) -> None:
        """Show the still picture again."""
        self._timer.stop()
        place, self._playing, self._frames, self.packages.playing = self._playing, None, [], None
        if place is not None:
            self.packages.show_again(place)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.Leave:
            self.stop()
        return super().eventFilter(watched, event)

    def currentChanged(self, current: QModelIndex, previous: QModelIndex) -> None:
        """Gone to with the keyboard, it moves as under the pointer."""
        super().currentChanged(current, previous)
        if current.isValid() and self.hasFocus():
            self.play(current.row())

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        if not self.underMouse():
            self.stop()

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        assert event is not None
        index = self.indexAt(event.pos()) if event.reason() == QContextMenuEvent.Reason.Mouse else self.currentIndex()
        if index.isValid():
            at = (
                event.globalPos() if event.reason() == QContextMenuEvent.Reason.Mouse else self.mapToGlobal(self.visualRect(index).center())
            )
            self.menu_wanted.emit(self.packages.entries[index.row()].path.name, at)

    def startDrag(self, actions: Qt.DropAction) -> None:
        index = self.currentIndex()
        if not index.isValid():
            return
        data = QMimeData()
        data.setData(MIME, self.packages.entries[index.row()].path.name.encode())
        drag = QDrag(self)
        drag.setMimeData(data)
        drag.setPixmap(self.packages.data(index, Role.DecorationRole).pixmap(_THUMB))
        drag.setHotSpot(QPoint(8, 8))
        drag.exec(Qt.DropAction.CopyAction)
