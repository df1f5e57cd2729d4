"""The parts, front to back as they lie on the frame, with threads between a part and what it follows."""

from PyQt6.QtCore import QItemSelection, QItemSelectionModel, QModelIndex, QPoint, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QContextMenuEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QFrame,
    QLineEdit,
    QListView,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QWidget,
)

from avlet.desktop.build.part_menu import PartMenu
from avlet.desktop.build.parts_model import PIECES, ROW, PartsModel
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.icons import pixmap
from avlet.desktop.widgets.menus import pop_up
from avlet.desktop.widgets.theme import BASE, MARIGOLD, MUTED, ROSE, SEAGLASS, TEXT, font
from avlet.document.editing.grouping import moved_to
from avlet.document.parts import AnyPart, GroupPart

GUTTER, INDENT, EYE = 34, 14, 32
"""px left of the rows for the threads, of each step inwards, and of the eye at their right."""


class PartsList(QListView):
    """One row a part. A click selects, a drag reorders, the eye hides; threads show who follows whom."""

    zoom_wanted = pyqtSignal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.parts = PartsModel(session, self)
        self.setModel(self.parts)
        self.setItemDelegate(_PartRow(self))
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setEditTriggers(QAbstractItemView.EditTrigger.EditKeyPressed | QAbstractItemView.EditTrigger.DoubleClicked)
        self.setMouseTracking(True)
        self.setStyleSheet("QListView { background: transparent; } QListView::item { padding: 0; }")
        self.setAccessibleName("Parts, front to back")
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._drag: int | None = None
        self._drop: int | None = None
        self._into: tuple[str | None, str | None] = (None, None)
        self._following = False
        session.selection_changed.connect(self._show_selection)
        self.parts.modelReset.connect(self._show_selection)
        chosen = self.selectionModel()
        assert chosen is not None
        chosen.selectionChanged.connect(self._take_selection)
        self._show_selection()

    @property
    def rows(self) -> list[AnyPart]:
        """The part of each row: the front one on top, members under their group, a space again for each of its pieces."""
        return self.parts.rows

    def sizeHint(self) -> QSize:
        return QSize(206, ROW * max(5, len(self.rows)))

    # What is selected is the session's

    def _show_selection(self) -> None:
        chosen = self.selectionModel()
        if chosen is None or self._following:
            return
        self._following = True
        picked = QItemSelection()
        for part_id in self.session.selection:
            row = self.parts.row_of(part_id, self.session.piece)
            if row >= 0:
                picked.select(self.parts.index(row), self.parts.index(row))
        chosen.select(picked, QItemSelectionModel.SelectionFlag.ClearAndSelect)
        row = self.parts.row_of(self.session.selected, self.session.piece)
        if row >= 0:
            chosen.setCurrentIndex(self.parts.index(row), QItemSelectionModel.SelectionFlag.NoUpdate)
        self._following = False

    def _take_selection(self, *_: object) -> None:
        """What keys and clicks have selected here; the row that they went to last counts foremost."""
        chosen = self.selectionModel()
        if chosen is None or self._following:
            return
        rows = [index.row() for index in chosen.selectedIndexes()]
        last = self.currentIndex().row()
        if last in rows and self.parts.piece(last):
            self._following = True
            self.session.select_piece(self.rows[last].id, self.parts.piece(last))
            self._following = False
            return
        rows = [row for row in rows if not self.parts.piece(row)]
        ids = [self.rows[row].id for row in rows if row != last] + [self.rows[row].id for row in rows if row == last]
        kept = [i for i in self.session.selection if i in ids[:-1]]
        self._following = True
        self.session.select_all([*kept, *(i for i in ids if i not in kept)])
        self._following = False

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self.viewport())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self.rows:
            painter.setPen(QColor(MUTED))
            area = QRectF(self.rect()).adjusted(12, 8, -10, 0)
            words = "Nothing yet.\n\nT   words\nS   a shape round what is selected\nP   a picture\nR   a rule under what is selected"
            painter.drawText(area, Qt.TextFlag.TextWordWrap, words)
        self._paint_threads(painter, self.rows)
        if self._drop is not None:
            y = self._top(self._drop) - 1
            painter.setPen(QPen(QColor(TEXT), 2))
            painter.drawLine(QPointF(GUTTER + (INDENT if self._into[0] else 0), y), QPointF(self.width() - 8, y))

    def _top(self, row: int) -> float:
        """Where a row begins in the viewport."""
        bar = self.verticalScrollBar()
        return row * ROW - (bar.value() if bar is not None else 0)

    def _paint_threads(self, painter: QPainter, rows: list[AnyPart]) -> None:
        """A curve in the gutter from each part to what it follows, or runs with, wider apart the further it reaches."""
        place = {part.id: row for row, part in enumerate(rows) if not self.parts.piece(row)}
        for part in (rows[row] for row in place.values()):
            for other, hows in part.follows().items():
                if other not in place:
                    continue
                chosen = self.session.selected in (part.id, other)
                self._thread(painter, place[part.id], place[other], chosen, hows == {"matte"})
            for counter in {run.counter for run in part.runs} & place.keys() - {part.id}:
                self._thread(painter, place[part.id], place[counter], self.session.selected in (part.id, counter), False, MARIGOLD)

    def _thread(self, painter: QPainter, row: int, led_by: int, chosen: bool, only_matte: bool, colour: str = SEAGLASS) -> None:
        start = QPointF(GUTTER - 4, self._top(row) + ROW / 2 + 3)
        end = QPointF(GUTTER - 4, self._top(led_by) + ROW / 2 - 3)
        reach = min(26.0, 9.0 + 5.0 * abs(row - led_by))
        path = QPainterPath(start)
        path.cubicTo(start - QPointF(reach, 0), end - QPointF(reach, 0), end)
        tint = QColor(colour)
        tint.setAlphaF(1.0 if chosen else 0.45)
        pen = QPen(tint, 1.8 if chosen else 1.3)
        if only_matte:
            pen.setDashPattern([3, 2.5])
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(path)
        painter.setBrush(tint)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(end, 2.6, 2.6)

    def _target(self, drop: int, inwards: bool) -> tuple[str | None, str | None]:
        """The group that a row dropped above row ``drop`` joins, and the part that it comes to lie in front of.

        Between the members of a group it joins that group; below its last one only when it is held further in.
        """
        rows = [part for row, part in enumerate(self.rows) if not self.parts.piece(row)]
        drop -= sum(bool(self.parts.piece(row)) for row in range(drop))
        above, below = (rows[drop - 1] if drop else None), (rows[drop] if drop < len(rows) else None)
        group = below.group if below is not None else None
        if isinstance(above, GroupPart) and inwards:
            group = above.id
        elif above is not None and above.group is not None and inwards:
            group = above.group
        siblings = [p for p in rows[drop:] if p.group == group]
        return group, siblings[0].id if siblings else None

    # Mouse

    def _over_eye(self, point: QPointF) -> AnyPart | None:
        row = self.indexAt(point.toPoint()).row()
        width = self.viewport().width() if self.viewport() is not None else self.width()  # type: ignore[union-attr]
        return self.rows[row] if row >= 0 and not self.parts.piece(row) and point.x() > width - EYE else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        hidden = self._over_eye(event.position())
        if event.button() == Qt.MouseButton.LeftButton and hidden is not None:
            self.session.write({f"{hidden.id}/shown": not hidden.shown})
            return
        row = self.indexAt(event.position().toPoint()).row()
        if row < 0:
            self.session.select(None)
            return
        more = bool(event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier))
        if event.button() == Qt.MouseButton.LeftButton or self.rows[row].id not in self.session.selection:
            super().mousePressEvent(event)
        if event.button() == Qt.MouseButton.LeftButton and not more and not self.parts.piece(row):
            self._drag = row

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._drag is None or not event.buttons() & Qt.MouseButton.LeftButton:
            super().mouseMoveEvent(event)
            return
        drop = max(0, min(len(self.rows), round((event.position().y() - self._top(0)) / ROW)))
        inwards = event.position().x() > GUTTER + 26
        target = self._target(drop, inwards)
        same = drop in (self._drag, self._drag + 1) and target[0] == self.rows[self._drag].group
        self._drop, self._into = (None if same else drop), target
        self._repaint()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        super().mouseReleaseEvent(event)
        if self._drag is not None and self._drop is not None:
            part, (group, over) = self.rows[self._drag], self._into
            self.session.edit(f"Reorder {part.name}", lambda t: moved_to(t, part.id, group, over))
        self._drag = self._drop = None
        self._repaint()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._over_eye(event.position()) is None:
            super().mouseDoubleClickEvent(event)

    def _repaint(self) -> None:
        viewport = self.viewport()
        if viewport is not None:
            viewport.update()

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        assert event is not None
        by_hand = event.reason() == QContextMenuEvent.Reason.Mouse
        row = (self.indexAt(event.pos()) if by_hand else self.currentIndex()).row()
        if row >= 0 and not self.parts.piece(row):
            menu = PartMenu(self.session, self, self.zoom_wanted.emit, lambda: self.edit(self.parts.index(row)))
            at = event.globalPos() if by_hand else self.viewport().mapToGlobal(self.visualRect(self.currentIndex()).center())  # type: ignore[union-attr]
            pop_up(menu, at + QPoint(2, 2))


class _PartRow(QStyledItemDelegate):
    """Draws one row: what kind of part it is, its name, a sign for wires, whether it is shown and locked."""

    def __init__(self, view: PartsList) -> None:
        super().__init__(view)
        self.view = view

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(180, ROW)

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        assert painter is not None
        part = self.view.rows[index.row()]
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = QRectF(option.rect).adjusted(GUTTER - 6, 0, -6, -2)
        selected = bool(option.state & QStyle.StateFlag.State_Selected)
        hovered = bool(option.state & QStyle.StateFlag.State_MouseOver)
        if selected or hovered:
            painter.setPen(QPen(QColor(MUTED), 1) if option.state & QStyle.StateFlag.State_HasFocus else Qt.PenStyle.NoPen)
            painter.setBrush(QColor("#363E42" if selected else "#2C3236"))
            painter.drawRoundedRect(area, 5, 5)
        piece = self.view.parts.piece(index.row())
        ink = TEXT if part.shown and not piece else MUTED
        indent = self.view.parts.depth(index.row()) * INDENT
        painter.drawPixmap(QPointF(area.x() + 8 + indent, area.y() + 7), pixmap(piece or part.kind, ink, 16))
        painter.setFont(font(BASE))
        painter.setPen(QColor(ink))
        words = area.adjusted(32 + indent, 0, -30, 0)
        name = painter.fontMetrics().elidedText(PIECES.get(piece, part.name), Qt.TextElideMode.ElideRight, int(words.width()))
        painter.drawText(words, Qt.AlignmentFlag.AlignVCenter, name)
        if any(w.target.startswith(f"{part.id}/{piece}") for w in self.view.session.template.wires):
            at = min(words.x() + painter.fontMetrics().horizontalAdvance(name) + 9, words.right() - 4)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(ROSE))
            painter.drawEllipse(QPointF(at, area.center().y() + 0.5), 3, 3)
        if not piece and (selected or hovered or not part.shown):
            painter.drawPixmap(QPointF(area.right() - 25, area.y() + 7), pixmap("eye" if part.shown else "eye off", MUTED, 16))
        if part.locked and not piece:
            painter.drawPixmap(QPointF(area.right() - 43, area.y() + 8), pixmap("lock", MUTED, 14))
        painter.restore()

    def createEditor(self, parent: QWidget | None, option: QStyleOptionViewItem, index: QModelIndex) -> QWidget | None:
        editor = QLineEdit(parent)
        editor.setAccessibleName("Name of the part")
        return editor

    def updateEditorGeometry(self, editor: QWidget | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        if editor is not None:
            editor.setGeometry(option.rect.adjusted(GUTTER + 20 + self.view.parts.depth(index.row()) * INDENT, 3, -8, -5))
