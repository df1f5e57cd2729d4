"""How lines of a list look, and the editors that open in them."""

from typing import Any

from PyQt6.QtCore import QEvent, QModelIndex, QObject, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QKeyEvent, QPainter, QPen
from PyQt6.QtWidgets import QApplication, QLineEdit, QPlainTextEdit, QStyledItemDelegate, QStyleOptionViewItem, QTableView, QWidget

from avlet.desktop.credits.list_model import FIRST, KIND, SAID, SECOND, ListModel
from avlet.desktop.widgets.theme import PAPER_LINE, PAPER_MUTED, PAPER_ROSE, PAPER_TEXT, SMALL, font
from avlet.document.lists.blocks import Gap, Heading, PageBreak, Pictures, Role, RuleLine, Words

_SIDE, _GAP = 10, 4
_MARK = QColor("#D08A1A")
_PX = {Pictures: ("", " px high"), RuleLine: (" px long", " px thick"), Gap: (" px", "")}


class ListDelegate(QStyledItemDelegate):
    """Paints each line as a slip of paper. What is typed is told with every key; ``left`` tells by which key an editor was left."""

    left = pyqtSignal(int, int, int)

    def __init__(self, view: QTableView, model: ListModel) -> None:
        super().__init__(view)
        self.view, self.model = view, model
        self._gesture = 0
        self._began: tuple[int, int, str] | None = None

    # Painting

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        assert painter is not None
        line = self.model.line(index.row())
        if line is None:
            return
        painter.save()
        painter.setClipRect(option.rect)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        row, column = self._slip(option.rect), index.column()
        chosen = bool(option.state & option.state.State_Selected)
        painter.setPen(QPen(QColor(PAPER_ROSE if chosen else PAPER_LINE), 1))
        painter.setBrush(QColor("#FBECE9" if chosen else "#FFFBEA" if line in self.model.found else "#FFFFFF"))
        painter.drawRoundedRect(row, 4, 4)
        if line == self.model.marked and column == KIND:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(_MARK)
            painter.drawRoundedRect(QRectF(row.x(), row.y(), 4, row.height()), 2, 2)
        current = index == self.view.currentIndex() and self.view.hasFocus()
        if current:
            painter.setPen(QPen(QColor(PAPER_ROSE), 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(option.rect).adjusted(2, 2.5, -2, -2.5), 3, 3)
        self._words(painter, option.rect, index, current)
        painter.restore()

    def _slip(self, cell: QRect) -> QRectF:
        """The whole row's slip of paper, of which a cell paints its part."""
        view = self.view
        left = view.columnViewportPosition(0)
        right = view.columnViewportPosition(SAID) + view.columnWidth(SAID)
        return QRectF(left + 1, cell.y() + 1.5, right - left - 2, cell.height() - 3)

    def _words(self, painter: QPainter, cell: QRect, index: QModelIndex, current: bool) -> None:
        line = self.model.lines[index.row()]
        block, column = self.model.blocks[line.block], index.column()
        words, face, colour = self.model.words(index.row(), column), font(), QColor(PAPER_TEXT)
        align, area = Qt.AlignmentFlag.AlignLeft, QRectF(cell).adjusted(_SIDE, 0, -_SIDE, 0)
        if column == KIND:
            face, colour = font(SMALL), QColor(PAPER_ROSE)
        elif column == SAID:
            face, colour = font(SMALL), QColor(PAPER_ROSE)
            words = f"▲ {words}" if words else ""
        elif isinstance(block, Role):
            face = font(weight=QFont.Weight.DemiBold) if column == SECOND else font()
            align = Qt.AlignmentFlag.AlignRight if column == FIRST else align
            if not words and (current or (column == SECOND and line.number == 0)):
                words, colour = ("role" if column == FIRST else "name"), QColor("#B5AEA2")
        elif isinstance(block, Heading | Words | PageBreak):
            area = self._across(index)
            face = font(weight=QFont.Weight.DemiBold) if isinstance(block, Heading) else font()
            words = self.model.words(index.row(), FIRST).replace("\n", " ↵ ")
            colour = QColor(PAPER_TEXT if not isinstance(block, PageBreak) else PAPER_MUTED)
            if not words:
                words, colour = block.kind, QColor("#B5AEA2")
        elif type(block) in _PX:
            words += _PX[type(block)][column == SECOND] if words else ""
        elif column == FIRST:
            colour = QColor(PAPER_MUTED)
        painter.setFont(face)
        painter.setPen(colour)
        shown = QFontMetricsF(face).elidedText(words, Qt.TextElideMode.ElideRight, area.width())
        painter.drawText(area, int(align | Qt.AlignmentFlag.AlignVCenter), shown)

    def _across(self, index: QModelIndex) -> QRectF:
        """Both cells of a line that has only one."""
        view = self.view
        first = view.visualRect(index.siblingAtColumn(FIRST))
        return QRectF(first.united(view.visualRect(index.siblingAtColumn(SECOND)))).adjusted(_SIDE, 0, -_SIDE, 0)

    # Typing

    def createEditor(self, parent: QWidget | None, option: QStyleOptionViewItem, index: QModelIndex) -> QWidget | None:
        line = self.model.line(index.row())
        if line is None:
            return None
        block, row, column = self.model.blocks[line.block], index.row(), index.column()
        before = str(self.model.data(index, Qt.ItemDataRole.EditRole) or "")
        self._gesture += 1
        self._began = row, column, before
        gesture = ("list", id(self), self._gesture)
        editor: QLineEdit | QPlainTextEdit
        if isinstance(block, Words):
            box = QPlainTextEdit(before, parent)
            box.setTabChangesFocus(True)
            box.textChanged.connect(lambda: self.model.type(row, column, box.toPlainText(), gesture))
            editor = box
        else:
            line_box = QLineEdit(before, parent)
            if isinstance(block, Role) and column == FIRST:
                line_box.setAlignment(Qt.AlignmentFlag.AlignRight)
            line_box.textEdited.connect(lambda words: self.model.type(row, column, words, gesture))
            editor = line_box
        editor.setProperty("role", "list")
        editor.setAccessibleName(f"{'Role' if column == FIRST and isinstance(block, Role) else 'Name' if column == SECOND else block.kind}")
        return editor

    def setEditorData(self, editor: QWidget | None, index: QModelIndex) -> None:
        """What is typed stands as it was typed; all of it is selected at the begin."""
        if isinstance(editor, QLineEdit) and not editor.isModified():
            editor.selectAll()

    def setModelData(self, editor: QWidget | None, model: object, index: QModelIndex) -> None:
        """It was taken with every key."""

    def updateEditorGeometry(self, editor: QWidget | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        assert editor is not None
        line = self.model.line(index.row())
        area = QRect(option.rect)
        if line is not None and isinstance(self.model.blocks[line.block], Heading | Words):
            area = self._across(index).toRect().adjusted(-_SIDE, 0, _SIDE, 0)
        area.adjust(1, 2, -1, -2)
        if isinstance(editor, QPlainTextEdit):
            area.setHeight(84)
            area.moveBottom(min(area.bottom(), self.view.rect().height() - 2))
        editor.setGeometry(area)

    def destroyEditor(self, editor: QWidget | None, index: QModelIndex) -> None:
        super().destroyEditor(editor, index)
        if self._began is not None:
            row, column, _ = self._began
            self._began = None
            self.model.settle(row, column)

    def eventFilter(self, editor: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and isinstance(editor, QLineEdit | QPlainTextEdit):
            key, shift = Qt.Key(event.key()), bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not (isinstance(editor, QPlainTextEdit) and shift):
                return self._leave(editor, Qt.Key.Key_Return)
            if key in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab):
                return self._leave(editor, key)
            if key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and isinstance(editor, QLineEdit):
                return self._leave(editor, key)
            if key == Qt.Key.Key_Escape:
                if self._began is not None:
                    row, column, before = self._began
                    self.model.type(row, column, before, ("list", id(self), self._gesture))
                return self._leave(editor, key)
        if event is not None and event.type() == QEvent.Type.FocusOut and isinstance(editor, QLineEdit | QPlainTextEdit):
            popup = QApplication.activePopupWidget()
            if popup is not None and popup.parent() is editor:
                return False
        return super().eventFilter(editor, event)

    def _leave(self, editor: Any, key: Qt.Key) -> bool:
        began = self._began
        self.closeEditor.emit(editor, QStyledItemDelegate.EndEditHint.NoHint)
        if began is not None:
            self.left.emit(int(key), began[0], began[1])
        return True
