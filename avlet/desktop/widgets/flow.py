"""Words and chips that run on like a sentence and wrap where the panel ends."""

from PyQt6 import sip
from PyQt6.QtCore import QPoint, QRect, QSize, Qt
from PyQt6.QtWidgets import QLabel, QLayout, QLayoutItem, QSizePolicy, QWidget


class FlowLayout(QLayout):
    """Lays items side by side and wraps them, each line as high as its highest."""

    def __init__(self, parent: QWidget | None = None, gap: int = 5, line_gap: int = 5) -> None:
        super().__init__(parent)
        self._items: list[QLayoutItem] = []
        self._gap, self._line_gap = gap, line_gap
        self._heights: dict[int, int] = {}
        self.setContentsMargins(0, 0, 0, 0)

    def addItem(self, item: QLayoutItem | None) -> None:
        """Take an item. It goes with the layout: Qt leaves that to whoever keeps the items, and would keep each as long as the program."""
        if item is not None:
            sip.transferback(item)
            self._items.append(item)

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        if width not in self._heights:  # asked for again and again while a panel is laid out
            self._heights[width] = self._arrange(QRect(0, 0, width, 0), move=False)
        return self._heights[width]

    def invalidate(self) -> None:
        self._heights.clear()
        super().invalidate()

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._arrange(rect, move=True)

    def sizeHint(self) -> QSize:
        return self.minimumSize()

    def minimumSize(self) -> QSize:
        size = QSize()
        for item in self._items:
            size = size.expandedTo(item.minimumSize())
        return size

    def _arrange(self, rect: QRect, move: bool) -> int:
        y = rect.y()
        for line in self._lines(rect.width()):
            sizes = [item.sizeHint() for item in line]
            height = max(size.height() for size in sizes)
            x = rect.x()
            for number, (item, size) in enumerate(zip(line, sizes, strict=True) if move else ()):
                width = min(size.width(), rect.width())
                item.setGeometry(QRect(QPoint(x, y + (height - size.height()) // 2), QSize(width, size.height())))
                x += width + self._gap_before(line, number + 1)
            y += height + self._line_gap
        return max(0, y - rect.y() - self._line_gap)

    def _lines(self, width: int) -> list[list[QLayoutItem]]:
        lines: list[list[QLayoutItem]] = []
        x = 0
        for item in self._items:
            if item.isEmpty():  # hidden
                continue
            wide = item.sizeHint().width()
            if not lines or (x + wide > width and not _is_mark(item)):
                lines.append([])
                x = 0
            lines[-1].append(item)
            x += wide + self._gap
        return lines

    def _gap_before(self, line: list[QLayoutItem], index: int) -> int:
        """Nothing stands between a chip and the comma behind it."""
        return 0 if index < len(line) and _is_mark(line[index], alone=False) else self._gap


def _is_mark(item: QLayoutItem, alone: bool = True) -> bool:
    """Whether an item is, or with ``alone`` False begins with, a comma or the like: that hangs on what is before it."""
    label = item.widget()
    words = label.text() if isinstance(label, QLabel) else ""
    return words[:1] in tuple(",.;") and (not alone or len(words) == 1)


def flowing() -> QWidget:
    """An empty widget whose children flow."""
    widget = QWidget()
    policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
    policy.setHeightForWidth(True)
    widget.setSizePolicy(policy)
    FlowLayout(widget)
    return widget
