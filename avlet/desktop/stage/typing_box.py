"""Typing on the stage: a box over a text part, in its own face and size."""

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QFocusEvent, QFont, QKeyEvent, QTextOption
from PyQt6.QtWidgets import QFrame, QPlainTextEdit, QWidget

from avlet.document.parts import TextPart
from avlet.text.marking import marked_for

_ALIGN = {
    "start": Qt.AlignmentFlag.AlignLeft, "middle": Qt.AlignmentFlag.AlignHCenter, "end": Qt.AlignmentFlag.AlignRight,
}  # fmt: skip


class TypingBox(QPlainTextEdit):
    """Words being typed. ``typed`` tells each change; ``left`` that Esc, Ctrl+Enter or a click elsewhere ended it."""

    typed = pyqtSignal(str)
    left = pyqtSignal()
    accent_wanted = pyqtSignal(int)

    def __init__(self, part: TextPart, scale: float, parent: QWidget) -> None:
        super().__init__(part.text, parent)
        self.part_id = part.id
        self.setFrameShape(QFrame.Shape.NoFrame)
        face = QFont(part.family)
        face.setStyleName(part.style)
        face.setPixelSize(max(11, min(64, round(part.size * scale))))
        self.setFont(face)
        self.setStyleSheet(
            f'QPlainTextEdit {{ font-family: "{part.family}"; font-size: {face.pixelSize()}px; background: #101416; color: #FFFFFF; '
            "border: 2px solid #6CC7B0; border-radius: 4px; padding: 0 2px; }"
        )
        option = QTextOption(_ALIGN.get(part.align, Qt.AlignmentFlag.AlignLeft))
        option.setWrapMode(QTextOption.WrapMode.NoWrap)
        document = self.document()
        assert document is not None
        document.setDefaultTextOption(option)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setToolTip(
            "Esc or Ctrl+Enter leaves; Enter starts a new line; Alt+1 and Alt+2 give marked words an accent, Alt+0 takes it away"
        )
        self.textChanged.connect(lambda: self.typed.emit(self.toPlainText()))

    def place(self, box: QRectF, room: QRectF) -> None:
        """Stand just above the words, so that the stage can be seen while typing."""
        lines = self.toPlainText().count("\n") + 1
        height = self.fontMetrics().lineSpacing() * lines + 14
        widest = max((self.fontMetrics().horizontalAdvance(line) for line in self.toPlainText().split("\n")), default=0)
        width = max(160.0, widest + 40.0)
        left = min(
            max(room.left() + 4, box.center().x() - width / 2 if width > box.width() + 60 else box.left() - 8), room.right() - width - 4
        )
        top = box.top() - height - 10
        if top < room.top() + 4:
            top = min(box.bottom() + 10, room.bottom() - height - 4)
        self.setGeometry(round(max(4.0, left)), round(top), round(min(width, room.width() - 8)), round(height))

    def mark(self, accent: int) -> None:
        """Give the marked words an accent, or none with 0. ``accent_wanted`` tells of it first, so that the text has one."""
        cursor = self.textCursor()
        start, end = cursor.selectionStart(), cursor.selectionEnd()
        if start == end:
            return
        if accent:
            self.accent_wanted.emit(accent)
        words = marked_for(self.toPlainText(), start, end, accent)
        self.setPlainText(words)
        cursor.setPosition(start)
        self.setTextCursor(cursor)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """Cut, copy and paste, and the accents for the marked words."""
        menu = self.createStandardContextMenu()
        if menu is None or event is None:
            return
        menu.addSeparator()
        for words, accent in (("First accent\tAlt+1", 1), ("Second accent\tAlt+2", 2), ("No accent\tAlt+0", 0)):
            action = menu.addAction(words)
            assert action is not None
            action.setEnabled(self.textCursor().hasSelection())
            action.triggered.connect(lambda _=False, a=accent: self.mark(a))
        menu.popup(event.globalPos())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        accent = {Qt.Key.Key_0: 0, Qt.Key.Key_1: 1, Qt.Key.Key_2: 2}.get(Qt.Key(event.key()))
        if accent is not None and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.mark(accent)
        elif event.key() == Qt.Key.Key_Escape or (enter and event.modifiers() & Qt.KeyboardModifier.ControlModifier):
            self.left.emit()
        else:
            super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        if event is not None and event.reason() in (Qt.FocusReason.MouseFocusReason, Qt.FocusReason.TabFocusReason):
            self.left.emit()
