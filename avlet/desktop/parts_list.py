"""The parts, front to back as they lie on the frame, with threads between a part and what it follows."""

from PyQt6.QtCore import QMimeData, QPoint, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QContextMenuEvent, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QApplication, QInputDialog, QLineEdit, QMenu, QMessageBox, QSizePolicy, QWidget

from avlet.desktop.icons import pixmap
from avlet.desktop.session import Session
from avlet.desktop.theme import BASE, MUTED, ROSE, SEAGLASS, TEXT, font
from avlet.document import edits
from avlet.document.parts import AnyPart, followed_by, kind_of

ROW, TOP, GUTTER = 32, 4, 34
PART_MIME = "application/x-avlet-part"


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
        session.changed.connect(self._relayout)
        session.selection_changed.connect(self.update)
        self._relayout()

    @property
    def rows(self) -> list[AnyPart]:
        """The parts as listed: the front one on top."""
        return list(reversed(self.session.template.parts))

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
        for row, part in enumerate(rows):
            self._paint_row(painter, row, part)
        self._paint_threads(painter, rows)
        if self._drop is not None:
            y = TOP + self._drop * ROW - 1
            painter.setPen(QPen(QColor(TEXT), 2))
            painter.drawLine(QPointF(GUTTER, y), QPointF(self.width() - 8, y))

    def _paint_row(self, painter: QPainter, row: int, part: AnyPart) -> None:
        area = self._row_area(row)
        selected = part.id in self.session.selection
        if selected or row == self._hover:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor("#363E42" if selected else "#2C3236"))
            painter.drawRoundedRect(area, 5, 5)
        ink = TEXT if part.shown else MUTED
        painter.drawPixmap(QPointF(area.x() + 8, area.y() + 7), pixmap(kind_of(part), ink, 16))
        painter.setFont(font(BASE))
        painter.setPen(QColor(ink))
        words = area.adjusted(32, 0, -30, 0)
        name = painter.fontMetrics().elidedText(part.name, Qt.TextElideMode.ElideRight, int(words.width()))
        painter.drawText(words, Qt.AlignmentFlag.AlignVCenter, name)
        if any(w.target.startswith(f"{part.id}/") for w in self.session.template.wires):
            at = min(words.x() + painter.fontMetrics().horizontalAdvance(name) + 9, words.right() - 4)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(ROSE))
            painter.drawEllipse(QPointF(at, area.center().y() + 0.5), 3, 3)
        if selected or row == self._hover or not part.shown:
            painter.drawPixmap(QPointF(area.right() - 25, area.y() + 7), pixmap("eye" if part.shown else "eye off", MUTED, 16))

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
            self.session.set_value(f"{part.id}/shown", not part.shown)
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
            self._drop = None if drop in (self._drag, self._drag + 1) else drop
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._drag is not None and self._drop is not None:
            part, count = self.rows[self._drag], len(self.rows)
            row = self._drop - (1 if self._drop > self._drag else 0)
            self.session.edit(f"Reorder {part.name}", lambda t: edits.move_part(t, part.id, count - 1 - row))
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
            menu.addAction("Remove", lambda: remove_selected(self.session, self))
            menu.popup(event.globalPos() + QPoint(2, 2))

    def rename(self, part: AnyPart) -> None:
        name, sure = QInputDialog.getText(self, "Rename", "Name of the part:", QLineEdit.EchoMode.Normal, part.name)
        if sure:
            self.session.edit(f"Rename {part.name}", lambda t: edits.rename_part(t, part.id, name))

    def _sentence(self, part: AnyPart) -> str:
        """What a part follows, in words."""
        verbs = {"fit": "fits around", "place": "is placed on", "matte": "shows inside"}
        follows = followed_by(part).items()
        said = [f"{verbs[how]} {self.session.template.name_of(other)}" for other, hows in follows for how in sorted(hows)]
        return f"{part.name} {', '.join(said)}" if said else f"{part.name} follows nothing"


def duplicate_selected(session: Session) -> None:
    """Copy what is selected, just in front of it, and select the copies."""
    chosen = session.selection
    made: list[str] = []

    def change(t: edits.Template) -> edits.Template:
        new, copies = edits.duplicate_parts(t, chosen)
        made[:] = copies
        return new

    if chosen and session.edit(f"Duplicate {_names(session, chosen)}", change):
        session.select_all(made)


def _names(session: Session, part_ids: tuple[str, ...]) -> str:
    return session.template.name_of(part_ids[0]) if len(part_ids) == 1 else f"{len(part_ids)} parts"


def copy_selected(session: Session) -> None:
    """Put the selected part on the clipboard."""
    clipboard = QApplication.clipboard()
    if session.selected and clipboard is not None:
        data = QMimeData()
        data.setData(PART_MIME, edits.copied(session.template, session.selected))
        clipboard.setMimeData(data)


def paste_part(session: Session) -> None:
    """Take a part from the clipboard, from this template or another."""
    clipboard = QApplication.clipboard()
    data = clipboard.mimeData() if clipboard is not None else None
    if data is None or not data.hasFormat(PART_MIME):
        return
    made: list[str] = []

    def change(t: edits.Template) -> edits.Template:
        new, part_id = edits.pasted(t, bytes(data.data(PART_MIME)))
        made.append(part_id)
        return new

    if session.edit("Paste", change):
        session.select(made[-1])


def remove_selected(session: Session, parent: QWidget) -> None:
    """Remove what is selected; when other parts follow it, they are listed first and then stay where they are."""
    chosen = session.selection
    if not chosen:
        return
    behind = {p.id: p.name for i in chosen for p in edits.followers(session.template, i) if p.id not in chosen}
    words = _names(session, chosen)
    if behind:
        names = ", ".join(behind.values())
        question = f"{names} follow{'s' if len(behind) == 1 else ''} {words}.\nRemove and leave the rest where it is?"
        buttons = QMessageBox.StandardButton.Yes | QMessageBox.StandardButton.Cancel
        if QMessageBox.question(parent, f"Remove {words}", question, buttons) != QMessageBox.StandardButton.Yes:
            return
    boxes = {i: tuple(r.box) for i, r in session.scene().rest.parts.items()}
    session.edit(f"Remove {words}", lambda t: edits.remove_parts(t, chosen, boxes))  # type: ignore[arg-type]
