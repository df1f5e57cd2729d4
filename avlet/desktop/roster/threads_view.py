"""Columns on the left, fields on the right, threads between: drawn by dragging, or by keys."""

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QMenu, QSizePolicy, QToolTip, QWidget

from avlet.desktop.roster.roster_session import RosterSession
from avlet.desktop.widgets.menus import pop_up
from avlet.desktop.widgets.theme import BASE, LINE, MUTED, PAPER, PAPER_MUTED, PAPER_TEXT, ROSE, TEXT, font
from avlet.roster.threads import Target, targets_of

_TALL, _STEP = 27, 35
_NEAR = 10.0


KEYS: tuple[tuple[str, str], ...] = (
    ("Up", "The column above"), ("Down", "The column below"), ("Return", "Choose what the column leads to"),
    ("Right", "Choose what the column leads to"), ("Del", "Let the column lead to nothing"),
)  # fmt: skip
"""What the keys do among the threads of a roster, in words."""


class ThreadsView(QWidget):
    """Up and Down go from column to column, Return offers what it may lead to, Delete lets its thread go."""

    def __init__(self, session: RosterSession) -> None:
        super().__init__()
        self.session = session
        self.column = 0
        self._dragged: int | None = None
        self._at = QPointF()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Threads from columns to fields")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        session.changed.connect(self.show_again)
        session.session.changed.connect(self.show_again)

    # What there is

    @property
    def heads(self) -> tuple[str, ...]:
        """The columns' heads."""
        roster = self.session.roster
        return tuple(head.words for head in roster.sheet.heads) if roster is not None else ()

    @property
    def targets(self) -> tuple[Target, ...]:
        """What columns may lead to."""
        return targets_of(self.session.session.template)

    def target_of(self, column: int) -> str | None:
        """What a column leads to."""
        roster = self.session.roster
        return next((t.target for t in roster.threads if t.column == column), None) if roster is not None else None

    def show_again(self) -> None:
        """Other columns, fields or threads."""
        self.column = max(0, min(self.column, len(self.heads) - 1))
        self.updateGeometry()
        self._say()
        self.update()

    def _say(self) -> None:
        """Tell those who hear it what is chosen."""
        if self.heads:
            label = next((t.label for t in self.targets if t.id == self.target_of(self.column)), "nothing")
            self.setAccessibleDescription(f"{self.heads[self.column]} leads to {label}")

    def sizeHint(self) -> QSize:
        return QSize(240, max(1, len(self.heads), len(self.targets)) * _STEP + 2)

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    # Where

    @property
    def _wide(self) -> float:
        return (self.width() - 46) / 2

    def column_area(self, column: int) -> QRectF:
        """A column's box."""
        return QRectF(1, 1 + column * _STEP, self._wide, _TALL)

    def target_area(self, place: int) -> QRectF:
        """The box of something that columns may lead to."""
        return QRectF(self.width() - self._wide - 1, 1 + place * _STEP, self._wide, _TALL)

    def column_at(self, point: QPointF) -> int | None:
        return next((n for n in range(len(self.heads)) if self.column_area(n).contains(point)), None)

    def target_at(self, point: QPointF) -> Target | None:
        near = (-_NEAR, -3, _NEAR, 3)
        return next((t for n, t in enumerate(self.targets) if self.target_area(n).adjusted(*near).contains(point)), None)

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        places = {target.id: n for n, target in enumerate(self.targets)}
        for column in range(len(self.heads)):
            leads_to = self.target_of(column)
            start = self.column_area(column)
            if self._dragged == column:
                self._thread(painter, start, self._at)
            elif leads_to in places:
                end = self.target_area(places[leads_to])
                self._thread(
                    painter, start, QPointF(end.left(), end.center().y()), 2.2 if column == self.column and self.hasFocus() else 1.6
                )
        led = {self.target_of(column) for column in range(len(self.heads))}
        under = self.target_at(self._at) if self._dragged is not None else None
        painter.setFont(font(BASE))
        for column, head in enumerate(self.heads):
            area = self.column_area(column)
            painter.setPen(QPen(QColor(ROSE if column == self.column and self.hasFocus() else PAPER), 2))
            painter.setBrush(QColor(PAPER))
            painter.drawRoundedRect(area, 4, 4)
            painter.setPen(QColor(PAPER_TEXT if self.target_of(column) else PAPER_MUTED))
            self._words(painter, area, head)
        for place, target in enumerate(self.targets):
            area = self.target_area(place)
            own = target.id.startswith("@")
            painter.setPen(QPen(QColor(ROSE if target.id in led or target == under else LINE), 2 if target == under else 1, self._pen(own)))
            painter.setBrush(QColor("#33292C" if target.id in led else "#00000000"))
            painter.drawRoundedRect(area, 4, 4)
            painter.setPen(QColor(TEXT if target.id in led else MUTED))
            self._words(painter, area, target.label)

    @staticmethod
    def _pen(own: bool) -> Qt.PenStyle:
        """What is no field of the card is drawn with dashes."""
        return Qt.PenStyle.DashLine if own else Qt.PenStyle.SolidLine

    @staticmethod
    def _thread(painter: QPainter, start: QRectF, end: QPointF, wide: float = 1.6) -> None:
        begin = QPointF(start.right(), start.center().y())
        path = QPainterPath(begin)
        half = max(16.0, (end.x() - begin.x()) / 2)
        path.cubicTo(begin + QPointF(half, 0), end - QPointF(half, 0), end)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(ROSE), wide))
        painter.drawPath(path)

    @staticmethod
    def _words(painter: QPainter, area: QRectF, words: str) -> None:
        room = area.adjusted(8, 0, -6, 0)
        shown = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(room.width()))
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, shown)

    # Hands

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        column = self.column_at(event.position())
        if column is None:
            target = self.target_at(event.position())
            column = next((n for n in range(len(self.heads)) if target is not None and self.target_of(n) == target.id), None)
        if column is not None:
            self.column = column
            self._dragged, self._at = column, event.position()
            self._say()
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._dragged is not None:
            self._at = event.position()
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        dragged, self._dragged = self._dragged, None
        if dragged is not None:
            target = self.target_at(event.position())
            if target is not None:
                self.session.tie(dragged, target.id)
            elif self.column_at(event.position()) is None:
                self.session.tie(dragged, None)
        self.update()

    def contextMenuEvent(self, event: object) -> None:
        self.offer()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        self._dragged = None
        self.offer()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        key = event.key()
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.heads:
            self.column = max(0, min(len(self.heads) - 1, self.column + (1 if key == Qt.Key.Key_Down else -1)))
            self._say()
            self.update()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Right):
            self.offer()
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.session.tie(self.column, None)
        else:
            super().keyPressEvent(event)

    def menu(self) -> QMenu:
        """What the chosen column may lead to."""
        menu = QMenu(self)
        present = self.target_of(self.column)
        for target in (*self.targets, Target("", "Nothing")):
            action = menu.addAction(target.label)
            assert action is not None
            action.setCheckable(True)
            action.setChecked(target.id == (present or ""))
            action.triggered.connect(lambda _=False, t=target.id or None: self.session.tie(self.column, t))
        return menu

    def offer(self) -> None:
        """Offer what the chosen column may lead to."""
        if self.heads:
            pop_up(self.menu(), self.mapToGlobal(self.column_area(self.column).bottomRight().toPoint()))

    def event(self, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.ToolTip:
            column = self.column_at(event.pos().toPointF())  # type: ignore[attr-defined]
            target = self.target_at(event.pos().toPointF())  # type: ignore[attr-defined]
            words = self.heads[column] if column is not None else target.label if target is not None else ""
            QToolTip.showText(event.globalPos(), words, self)  # type: ignore[attr-defined]
            return True
        return super().event(event)
