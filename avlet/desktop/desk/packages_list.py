"""The packages of a library as pictures in a grid; the one under the pointer moves."""

import io

from PIL import Image, UnidentifiedImageError
from PyQt6.QtCore import QEvent, QMimeData, QObject, QPoint, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QDrag, QIcon, QImage, QPixmap
from PyQt6.QtWidgets import QListWidget, QListWidgetItem

from avlet.desktop.desk.cut_view import MIME
from avlet.storage.library import Entry

_THUMB = QSize(112, 63)
_PATH = Qt.ItemDataRole.UserRole + 1


def package_item(entry: Entry, favourite: bool) -> QListWidgetItem:
    """A package as it stands in the list."""
    sign = "⚠ " if entry.fault else "★ " if favourite else ""
    item = QListWidgetItem(sign + entry.name)
    item.setData(Qt.ItemDataRole.UserRole, entry.path.name)
    item.setData(_PATH, entry)
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
        version = f", version {entry.version}" if entry.version else ""
        keywords = f"\n{', '.join(entry.keywords)}" if entry.keywords else ""
        note = f"\n{entry.note}" if entry.note else ""
        item.setToolTip(f"{entry.name} – {entry.category}{version}{keywords}{note}")
    return item


def preview_frames(data: bytes) -> list[tuple[QPixmap, int]]:
    """The pictures of an animated preview, each with how long it shows, in ms; none of one that is damaged."""
    found = []
    try:
        with Image.open(io.BytesIO(data), formats=("WEBP",)) as image:
            for number in range(min(getattr(image, "n_frames", 1), 200)):
                image.seek(number)
                rgb = image.convert("RGB")
                picture = QImage(rgb.tobytes(), rgb.width, rgb.height, rgb.width * 3, QImage.Format.Format_RGB888)
                found.append((QPixmap.fromImage(picture.copy()), max(20, int(image.info.get("duration", 80)))))
    except (OSError, ValueError, UnidentifiedImageError):
        return []
    return found


class PackagesList(QListWidget):
    """Packages as pictures in a grid, to be dragged onto the cut; the one under the pointer moves."""

    menu_wanted = pyqtSignal(str, QPoint)

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
        self.setMouseTracking(True)
        self.itemEntered.connect(self.play)
        viewport = self.viewport()
        assert viewport is not None
        viewport.installEventFilter(self)
        self._frames: list[tuple[QPixmap, int]] = []
        self._playing: QListWidgetItem | None = None
        self._still = QIcon()
        self._at = 0
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._next)

    def play(self, item: QListWidgetItem) -> None:
        """Let a package's preview move."""
        if item is self._playing:
            return
        self.stop()
        entry = item.data(_PATH)
        data = entry.preview() if entry is not None and not entry.fault else None
        self._frames = preview_frames(data) if data else []
        if self._frames:
            self._playing, self._still, self._at = item, item.icon(), 0
            self._next()

    def _next(self) -> None:
        if self._playing is None:
            return
        picture, milliseconds = self._frames[self._at]
        self._playing.setIcon(QIcon(picture))
        self._at = (self._at + 1) % len(self._frames)
        self._timer.start(milliseconds)

    def stop(self) -> None:
        """Show the still picture again."""
        self._timer.stop()
        if self._playing is not None:
            self._playing.setIcon(self._still)
        self._playing, self._frames = None, []

    def clear(self) -> None:
        self._playing = None
        self._timer.stop()
        super().clear()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.Leave:
            self.stop()
        return super().eventFilter(watched, event)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        assert event is not None
        item = self.itemAt(event.pos())
        if item is not None:
            self.menu_wanted.emit(item.data(Qt.ItemDataRole.UserRole), event.globalPos())

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
