"""Typing on the stage: words in their own place, as the engine sets them; Avlet draws caret and selection over them."""

import math
import re
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer, QVariant, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QContextMenuEvent,
    QFocusEvent,
    QInputMethodEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QTextCursor,
    QTransform,
)
from PyQt6.QtWidgets import QApplication, QFrame, QPlainTextEdit, QWidget

from avlet.desktop.widgets.menus import pop_up
from avlet.desktop.widgets.theme import SEAGLASS, SMALL, font
from avlet.document.parts import TextPart
from avlet.geometry import Box
from avlet.motion.posed import Pose
from avlet.paint.scene import Scene
from avlet.text.carets import Carets, carets_of
from avlet.text.marking import marked_for

_ROUND = 6.0
"""View px of room round the words."""
_EMPTY_MARK = re.compile(r"\{[12]:\}")
_BOXED = (
    f"QPlainTextEdit {{ background: #101416; color: #FFFFFF; border: 2px solid {SEAGLASS}; border-radius: 4px; padding: 0 2px; "
    "font-size: 20px; }"
)
_IN_PLACE = "QPlainTextEdit { background: transparent; color: transparent; border: none; padding: 0; }"


class Shown(NamedTuple):
    """How the words stand on the stage: what is set there, the places of its letters, its box, and the way from px of that to the view.

    ``words`` are those that are set; where they are not the ones that are being typed, as a formula or a refusal makes them others,
    the box shows what is typed by itself.
    """

    words: str
    carets: Carets
    box: Box
    to_view: QTransform


def shown_words(pose: Pose, part_id: str, to_view: QTransform) -> Shown | None:
    """How a text stands in a pose; ``to_view`` leads from px of the frame to the view. None for what is no text."""
    posed = pose.parts.get(part_id)
    if posed is None or posed.rest.body.setting is None or not isinstance(posed.rest.part, TextPart):
        return None
    box = posed.rest.box
    own = QTransform.fromTranslate(box.x, box.y)
    if posed.matrix is not None:
        own *= QTransform(*posed.matrix[0].T.ravel().tolist())
    part = posed.rest.part
    return Shown(part.text, carets_of(part, posed.rest.body.setting), box, own * to_view)


def when_at_rest(scene: Scene, part_id: str, frame: int) -> int:
    """The frame to type a part's words in: this one if it stands still and is to be seen, else the one in which it has arrived."""
    posed = scene.pose(frame).parts[part_id]
    if posed.still and posed.most_opacity * 100 >= posed.rest.part.opacity > 0:
        return frame
    arrived = scene.choreography.timings[part_id].arrives[1] / scene.spans.pace
    return max(0, min(scene.length - 1, math.ceil(max(arrived, scene.spans.way_in) - 1e-6)))


class TypingBox(QPlainTextEdit):
    """Words being typed. ``typed`` tells each change; ``left`` that Esc, Ctrl+Enter or a click elsewhere ended it."""

    typed = pyqtSignal(str)
    left = pyqtSignal()
    accent_wanted = pyqtSignal(int)

    def __init__(self, part_id: str, words: str, parent: QWidget) -> None:
        super().__init__(words, parent)
        self.part_id = part_id
        self.shown: Shown | None = None
        self.in_place = True
        self._lit = True
        self._preedit = ""
        self._column: float | None = None
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setAccessibleName("Words of the title")
        self.setCursorWidth(0)
        self.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setToolTip(
            "Esc or Ctrl+Enter leaves; Enter starts a new line; Alt+1 and Alt+2 give marked words an accent, Alt+0 takes it away"
        )
        self.setStyleSheet(_IN_PLACE)
        self.textChanged.connect(self._tell)
        self.cursorPositionChanged.connect(self._light)
        self._blink = QTimer(self)
        self._blink.timeout.connect(self._turn)
        self._blink.start(max(200, QApplication.cursorFlashTime() // 2))

    def _tell(self) -> None:
        words = self.toPlainText()
        empty = _EMPTY_MARK.search(words)
        if empty is not None:
            cursor = self.textCursor()
            cursor.setPosition(empty.start())
            cursor.setPosition(empty.end(), QTextCursor.MoveMode.KeepAnchor)
            cursor.removeSelectedText()  # and this is told of in its turn
            return
        self.typed.emit(words)

    # Where it stands

    def show_as(self, shown: Shown, room: QRectF) -> None:
        """Lie over the words as they are set; beside them, with what is typed in it, where they are set otherwise."""
        self.shown = shown
        in_place = shown.words == self.toPlainText()
        if in_place != self.in_place:
            self.in_place = in_place
            self.setStyleSheet(_IN_PLACE if in_place else _BOXED)
            self.setCursorWidth(0 if in_place else 1)
        area = shown.to_view.mapRect(QRectF(0, 0, shown.box.w, shown.box.h)).adjusted(-_ROUND, -_ROUND, _ROUND, _ROUND)
        if in_place:
            self.setGeometry(area.toAlignedRect())
        else:
            self._stand_beside(area, room)
        self.viewport().update()  # type: ignore[union-attr]

    def _stand_beside(self, words: QRectF, room: QRectF) -> None:
        lines = self.toPlainText().count("\n") + 1
        width = max(160.0, *(self.fontMetrics().horizontalAdvance(line) + 40.0 for line in self.toPlainText().split("\n")))
        height = self.fontMetrics().lineSpacing() * lines + 14.0
        left = max(room.left() + 4, min(words.left(), room.right() - width - 4))
        top = words.top() - height - 4 if words.top() - height - 4 > room.top() else min(words.bottom() + 4, room.bottom() - height - 4)
        self.setGeometry(round(left), round(top), round(min(width, room.width() - 8)), round(height))

    def _to_own(self) -> QTransform:
        """From px of the text to px of this box."""
        assert self.shown is not None
        return self.shown.to_view * QTransform.fromTranslate(-self.x(), -self.y())

    def caret(self) -> QRectF:
        """Where the caret stands, in px of this box."""
        if self.shown is None:
            return QRectF()
        box = self.shown.carets.box(self.textCursor().position())
        return self._to_own().mapRect(QRectF(box.x, box.y, 0.01, box.h))

    def index_at(self, point: QPointF) -> int:
        """Between which letters a point of this box is."""
        assert self.shown is not None
        back, _ = self._to_own().inverted()
        at = back.map(point)
        return self.shown.carets.nearest(at.x(), at.y())

    # Painting

    def _turn(self) -> None:
        self._lit = not self._lit
        self.viewport().update()  # type: ignore[union-attr]

    def _light(self) -> None:
        """The caret shows at once where it goes."""
        self._lit = True
        self.viewport().update()  # type: ignore[union-attr]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if not self.in_place or self.shown is None:
            super().paintEvent(event)
            return
        painter = QPainter(self.viewport())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        carets, cursor = self.shown.carets, self.textCursor()
        painter.setTransform(self._to_own())
        line = QPen(QColor(SEAGLASS), 1.0, Qt.PenStyle.DotLine)
        line.setCosmetic(True)
        painter.setPen(line)
        painter.drawRect(QRectF(0, 0, self.shown.box.w, self.shown.box.h))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(108, 199, 176, 110))
        for box in carets.stretch(cursor.selectionStart(), cursor.selectionEnd()):
            painter.drawRect(QRectF(*box))
        if self._lit and self.hasFocus():
            caret = carets.box(cursor.position())
            for colour, width in (("#101416", 3.0), ("#FFFFFF", 1.5)):
                pen = QPen(QColor(colour), width)
                pen.setCosmetic(True)
                painter.setPen(pen)
                painter.drawLine(QPointF(caret.x, caret.y), QPointF(caret.x, caret.bottom))
        if self._preedit:
            self._paint_preedit(painter)

    def _paint_preedit(self, painter: QPainter) -> None:
        """What an input method is still composing."""
        painter.resetTransform()
        painter.setFont(font(SMALL))
        at = self.caret()
        area = QRectF(at.x(), at.bottom() - 20, painter.fontMetrics().horizontalAdvance(self._preedit) + 8.0, 18)
        painter.fillRect(area, QColor("#101416"))
        painter.setPen(QColor("#FFFFFF"))
        painter.drawText(area, Qt.AlignmentFlag.AlignCenter, self._preedit)

    # Input

    def inputMethodEvent(self, event: QInputMethodEvent | None) -> None:
        self._preedit = event.preeditString() if event is not None else ""
        super().inputMethodEvent(event)
        self.viewport().update()  # type: ignore[union-attr]

    def inputMethodQuery(self, query: Qt.InputMethodQuery) -> QVariant:  # type: ignore[override]
        if query == Qt.InputMethodQuery.ImCursorRectangle and self.in_place and self.shown is not None:
            return QVariant(self.caret())
        return super().inputMethodQuery(query)  # type: ignore[no-any-return]

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if not self.in_place or event.button() != Qt.MouseButton.LeftButton:
            super().mousePressEvent(event)
            return
        self._go(self.index_at(event.position()), bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if not self.in_place:
            super().mouseMoveEvent(event)
        elif event.buttons() & Qt.MouseButton.LeftButton:
            self._go(self.index_at(event.position()), True)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if not self.in_place:
            super().mouseDoubleClickEvent(event)
            return
        self._go(self.index_at(event.position()), False)
        cursor = self.textCursor()
        cursor.select(QTextCursor.SelectionType.WordUnderCursor)
        self.setTextCursor(cursor)

    def _go(self, index: int, further: bool) -> None:
        cursor = self.textCursor()
        keep = QTextCursor.MoveMode.KeepAnchor if further else QTextCursor.MoveMode.MoveAnchor
        cursor.setPosition(max(0, min(index, len(self.toPlainText()))), keep)
        self.setTextCursor(cursor)

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
        pop_up(menu, event.globalPos())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        accent = {Qt.Key.Key_0: 0, Qt.Key.Key_1: 1, Qt.Key.Key_2: 2}.get(Qt.Key(event.key()))
        if accent is not None and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.mark(accent)
        elif event.key() == Qt.Key.Key_Escape or (enter and event.modifiers() & Qt.KeyboardModifier.ControlModifier):
            self.left.emit()
        elif not (self.in_place and self.shown is not None and self._step(event, self.shown.carets)):
            self._column = None
            super().keyPressEvent(event)

    def _step(self, event: QKeyEvent, carets: Carets) -> bool:
        """Arrows, Home, End, Backspace and Delete go by what is set: over marks at once, and along its own lines."""
        if event.modifiers() & ~(Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.KeypadModifier):
            return False
        key, further = Qt.Key(event.key()), bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        cursor = self.textCursor()
        at = cursor.position()
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            if self._column is None:
                self._column = carets.at(at).caret
            up = 1 if key == Qt.Key.Key_Up else -1
            beyond = 0 if up == 1 else len(self.toPlainText())
            above = carets.above(at, up, self._column)
            column = self._column
            self._go(beyond if above is None else above, further)
            self._column = column
            return True
        self._column = None
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            step = (1 if key == Qt.Key.Key_Right else -1) * (-1 if carets.at(at).rtl else 1)
            ends = (cursor.selectionStart(), cursor.selectionEnd())
            self._go(ends[step == 1] if ends[0] != ends[1] and not further else carets.beside(at, step), further)
        elif key in (Qt.Key.Key_Home, Qt.Key.Key_End):
            self._go(carets.ends_of_line(at)[key == Qt.Key.Key_End], further)
        elif key in (Qt.Key.Key_Backspace, Qt.Key.Key_Delete) and not cursor.hasSelection() and not further:
            gone = carets.at(carets.beside(at, -1)) if key == Qt.Key.Key_Backspace else carets.at(at)
            if key == Qt.Key.Key_Backspace and carets.at(at).typed == gone.typed:
                return True  # nothing stands before the first letter
            cursor.setPosition(gone.typed)
            cursor.setPosition(min(gone.after, len(self.toPlainText())), QTextCursor.MoveMode.KeepAnchor)
            cursor.removeSelectedText()
        else:
            return False
        return True

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        if event is not None and event.reason() in (Qt.FocusReason.MouseFocusReason, Qt.FocusReason.TabFocusReason):
            self.left.emit()
