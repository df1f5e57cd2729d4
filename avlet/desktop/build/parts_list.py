"""The parts, front to back as they lie on the frame, with threads between a part and what it follows."""

from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QContextMenuEvent, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QInputDialog, QLineEdit, QMenu, QSizePolicy, QWidget

from avlet.desktop.build.new_parts import add_echo
from avlet.desktop.build.part_commands import duplicate_selected, group_selected, remove_selected, take_apart, toggle_lock
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.icons import pixmap
from avlet.desktop.widgets.theme import BASE, MUTED, ROSE, SEAGLASS, TEXT, font
from avlet.document import edits
from avlet.document.grouping import listed, moved_to
from avlet.document.parts import AnyPart, GroupPart, followed_by, kind_of

ROW, TOP, GUTTER, INDENT = 32, 4, 34, 14


class PartsList(QWidget):
    """One row a part. A click selects, a drag reorders, the eye hides; threads show who follows whom."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.setMouseTracking(True)
        self.setAccessibleName("Parts, front to back")
        self._hover = -1
        self._drag: int | None = None
        self._drop: int | None = None
        self._into: tuple[str | None, str | None] = (None, None)
        session.changed.connect(self._relayout)
        session.selection_changed.connect(self.update)
        self._relayout()

    @property
    def rows(self) -> list[AnyPart]:
        """The parts as listed: the front one on top, members under their group."""
        return [part for part, _ in listed(self.session.template)]

    def _relayout(self) -> None:
        self.setMinimumHeight(self.sizeHint().height())
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(206, TOP * 2 + ROW * max(5, len(self.rows)))

    def _row_area(self, row: int) -> QRectF:
        return QRectF(GUTTER - 6, TOP + row * ROW, self.width() - GUTTER - 2, ROW - 2)

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        rows = self.rows
        if not rows:
            painter.setPen(QColor(MUTED))
            area = QRectF(self.rect()).adjusted(12, 8, -10, 0)
            words = "Nothing yet.\n\nT   words\nS   a shape round what is selected\nP   a picture\nR   a rule under what is selected"
            painter.drawText(area, Qt.TextFlag.TextWordWrap, words)
        for row, (part, depth) in enumerate(listed(self.session.template)):
            self._paint_row(painter, row, part, depth)
        self._paint_threads(painter, rows)
        if self._drop is not None:
            y = TOP + self._drop * ROW - 1
            painter.setPen(QPen(QColor(TEXT), 2))
            painter.drawLine(QPointF(GUTTER + (INDENT if self._into[0] else 0), y), QPointF(self.width() - 8, y))

    def _paint_row(self, painter: QPainter, row: int, part: AnyPart, depth: int) -> None:
        area = self._row_area(row)
        selected = part.id in self.session.selection
        if selected or row == self._hover:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor("#363E42" if selected else "#2C3236"))
            painter.drawRoundedRect(area, 5, 5)
        ink = TEXT if part.shown else MUTED
        indent = depth * INDENT
        painter.drawPixmap(QPointF(area.x() + 8 + indent, area.y() + 7), pixmap(kind_of(part), ink, 16))
        painter.setFont(font(BASE))
        painter.setPen(QColor(ink))
        words = area.adjusted(32 + indent, 0, -30, 0)
        name = painter.fontMetrics().elidedText(part.name, Qt.TextElideMode.ElideRight, int(words.width()))
        painter.drawText(words, Qt.AlignmentFlag.AlignVCenter, name)
        if any(w.target.startswith(f"{part.id}/") for w in self.session.template.wires):
            at = min(words.x() + painter.fontMetrics().horizontalAdvance(name) + 9, words.right() - 4)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(ROSE))
            painter.drawEllipse(QPointF(at, area.center().y() + 0.5), 3, 3)
        if selected or row == self._hover or not part.shown:
            painter.drawPixmap(QPointF(area.right() - 25, area.y() + 7), pixmap("eye" if part.shown else "eye off", MUTED, 16))
        if part.locked:
            painter.drawPixmap(QPointF(area.right() - 43, area.y() + 8), pixmap("lock", MUTED, 14))

    def _paint_threads(self, painter: QPainter, rows: list[AnyPart]) -> None:
        """A curve in the gutter from each part to what it follows, wider apart the further it reaches."""
        place = {part.id: row for row, part in enumerate(rows)}
        for part in rows:
            for other, hows in followed_by(part).items():
                if other not in place:
                    continue
                chosen = self.session.selected in (part.id, other)
                self._thread(painter, place[part.id], place[other], chosen, hows == {"matte"})

    def _thread(self, painter: QPainter, row: int, led_by: int, chosen: bool, only_matte: bool) -> None:
        start = QPointF(GUTTER - 4, TOP + row * ROW + ROW / 2 + 3)
        end = QPointF(GUTTER - 4, TOP + led_by * ROW + ROW / 2 - 3)
        reach = min(26.0, 9.0 + 5.0 * abs(row - led_by))
        path = QPainterPath(start)
        path.cubicTo(start - QPointF(reach, 0), end - QPointF(reach, 0), end)
        tint = QColor(SEAGLASS)
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
        rows = self.rows
        above, below = (rows[drop - 1] if drop else None), (rows[drop] if drop < len(rows) else None)
        group = below.group if below is not None else None
        if isinstance(above, GroupPart) and inwards:
            group = above.id
        elif above is not None and above.group is not None and inwards:
            group = above.group
        siblings = [p for p in rows[drop:] if p.group == group]
        return group, siblings[0].id if siblings else None

    # Mouse and keys

    def _row_at(self, point: QPointF) -> int:
        row = int((point.y() - TOP) // ROW)
        return row if 0 <= row < len(self.rows) else -1

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        row = self._row_at(event.position())
        if row < 0:
            self.session.select(None)
            return
        part = self.rows[row]
        if event.button() == Qt.MouseButton.LeftButton and event.position().x() > self.width() - 32:
            self.session.write({f"{part.id}/shown": not part.shown})
            return
        more = bool(event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier))
        if event.button() == Qt.MouseButton.LeftButton or part.id not in self.session.selection:
            self.session.select(part.id, more)
        if event.button() == Qt.MouseButton.LeftButton and not more:
            self._drag = row

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        row = self._row_at(event.position())
        if row != self._hover:
            self._hover = row
            self.update()
            self.setToolTip(self._sentence(self.rows[row]) if row >= 0 else "")
        if self._drag is not None and event.buttons() & Qt.MouseButton.LeftButton:
            drop = max(0, min(len(self.rows), round((event.position().y() - TOP) / ROW)))
            inwards = event.position().x() > GUTTER + 26
            target = self._target(drop, inwards)
            same = drop in (self._drag, self._drag + 1) and target[0] == self.rows[self._drag].group
            self._drop, self._into = (None if same else drop), target
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._drag is not None and self._drop is not None:
            part, (group, over) = self.rows[self._drag], self._into
            self.session.edit(f"Reorder {part.name}", lambda t: moved_to(t, part.id, group, over))
        self._drag = self._drop = None
        self.update()

    def leaveEvent(self, event: object) -> None:
        self._hover = -1
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        row = self._row_at(event.position())
        if row >= 0 and event.position().x() <= self.width() - 32:
            self.rename(self.rows[row])

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        rows = [p.id for p in self.rows]
        at = rows.index(self.session.selected) if self.session.selected in rows else -1
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and rows:
            step = -1 if event.key() == Qt.Key.Key_Up else 1
            self.session.select(rows[max(0, min(len(rows) - 1, at + step))])
        elif event.key() == Qt.Key.Key_F2 and at >= 0:
            self.rename(self.rows[at])
        else:
            super().keyPressEvent(event)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        assert event is not None
        row = self._row_at(QPointF(event.pos()))
        if row >= 0:
            part = self.rows[row]
            menu = QMenu(self)
            menu.addAction("Rename…", lambda: self.rename(part))
            menu.addAction("Duplicate", lambda: duplicate_selected(self.session))
            menu.addAction("Group\tCtrl+G", lambda: group_selected(self.session))
            if isinstance(part, GroupPart):
                menu.addAction("Take apart\tCtrl+Shift+G", lambda: take_apart(self.session))
            menu.addAction("Echo\tE", lambda: add_echo(self.session))
            menu.addAction("Unlock" if part.locked else "Lock", lambda: toggle_lock(self.session, part))
            menu.addAction("Remove", lambda: remove_selected(self.session, self))
            menu.popup(event.globalPos() + QPoint(2, 2))

    def rename(self, part: AnyPart) -> None:
        name, sure = QInputDialog.getText(self, "Rename", "Name of the part:", QLineEdit.EchoMode.Normal, part.name)
        if sure:
            self.session.edit(f"Rename {part.name}", lambda t: edits.rename_part(t, part.id, name))

    def _sentence(self, part: AnyPart) -> str:
        """What a part follows, in words."""
        verbs = {"fit": "fits around", "place": "is placed on", "matte": "shows inside", "echo": "is an echo of"}
        follows = followed_by(part).items()
        said = [f"{verbs[how]} {self.session.template.name_of(other)}" for other, hows in follows for how in sorted(hows)]
        return f"{part.name} {', '.join(said)}" if said else f"{part.name} follows nothing"
