"""The rows: each a live picture, its words, what is said of it, and how far its films are. Only what is in sight is drawn."""

import time
from collections import OrderedDict

from PyQt6.QtCore import QEvent, QPoint, QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QContextMenuEvent,
    QFont,
    QImage,
    QKeyEvent,
    QKeySequence,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
)
from PyQt6.QtWidgets import QAbstractScrollArea, QApplication, QToolTip

from avlet.desktop.roster.roster_session import WORST_FIRST, RosterSession
from avlet.desktop.roster.row_picture import row_image
from avlet.desktop.widgets.theme import BASE, CONTROL, GOOD, GROUND, LINE, MARIGOLD, MUTED, PANEL, ROSE, SMALL, STRONG, TEXT, font
from avlet.document.tables import as_csv
from avlet.roster.looking import Said, Verdict

_TALL, _GAP, _EDGE = 76, 8, 14
_PICTURE = (106, 60)
_BUDGET, _MOST_KEPT = 0.012, 160
COLOURS = {"holds": GOOD, "to look at": MARIGOLD, "breaks": MARIGOLD, "cannot be rendered": ROSE}


KEYS: tuple[tuple[str, str], ...] = (
    ("Up", "The row above"), ("Down", "The row below"), ("PgUp", "A page up"), ("PgDown", "A page down"), ("Home", "The first row"),
    ("End", "The last row"), ("Return", "Put the row's cells right; Esc comes back"), ("Space", "Play the row, or let it rest"),
    ("Shift+Up", "Choose the row above as well"), ("Shift+Down", "Choose the row below as well"),
    ("Ctrl+A", "Choose all rows that are shown"), ("Esc", "Choose one row alone"), ("Ctrl+C", "Copy the chosen rows under their heads"),
    ("Menu", "What can be done with the chosen rows"),
)  # fmt: skip
"""What the keys do among the rows of a roster, in words."""


class RowsView(QAbstractScrollArea):
    """The arrows go from row to row, Return to its cells. ``opened`` tells that somebody wants to change the chosen one, ``played``
    that it is to move.

    Ctrl with a click chooses a row as well, Shift all up to it.
    """

    opened = pyqtSignal()
    played = pyqtSignal()
    asked = pyqtSignal(QPoint)
    """The menu is wanted, at a place on the screen."""

    def __init__(self, session: RosterSession) -> None:
        super().__init__()
        self.session = session
        self.only: Verdict | None = None
        self.order: int | None = None
        self.words = ""
        self.whole = False
        """Whether pictures show the whole frame."""
        self.rows: list[int] = []
        self._anchor = -1
        """The row from which Shift chooses."""
        self._progress: dict[int, tuple[float, bool, str]] = {}
        self._kept: OrderedDict[int, QImage] = OrderedDict()
        self.setAccessibleName("Rows of the table")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFrameShape(QAbstractScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._painting = QTimer(self)
        self._painting.timeout.connect(self._paint_some)
        session.wanted_rows = self.in_sight
        session.changed.connect(self.show_again)
        session.frame_changed.connect(lambda _: self.show_again())
        session.selection_changed.connect(self.reveal)
        session.looked.connect(self._follow_looking)
        session.rendered.connect(self._follow_rendering)

    def show_again(self) -> None:
        """Other rows, another template or another moment."""
        self._kept.clear()
        self._progress = self.session.progress_of()
        self._arrange()

    def show_only(self, verdict: Verdict | None) -> None:
        """Show rows of one verdict alone, or all."""
        self.only = verdict
        self._arrange()
        self._to_a_shown_row()

    def sort_by(self, order: int | None) -> None:
        """Show rows by a column, worst first, or in the table's order."""
        self.order = order
        self._arrange()
        self.reveal()

    def look_for(self, words: str) -> None:
        """Show rows alone that have these words in them."""
        self.words = words
        self._arrange()
        self._to_a_shown_row()

    def show_whole(self, on: bool) -> None:
        """Show the whole frame in each picture, or what is drawn."""
        self.whole = on
        self.show_again()

    def _to_a_shown_row(self) -> None:
        if self.rows and self.session.row not in self.rows:
            self.session.choose(self.rows[0])
        self.reveal()

    def _follow_looking(self) -> None:
        if self.only is not None or self.order == WORST_FIRST:
            self._arrange()
        self._touch()

    def _follow_rendering(self) -> None:
        self._progress = self.session.progress_of()
        self._touch()

    def _arrange(self) -> None:
        self.rows = self.session.rows_shown(self.only, self.order, self.words)
        self._measure()
        self._touch()

    # Where

    def _measure(self) -> None:
        bar, viewport = self.verticalScrollBar(), self.viewport()
        if bar is not None and viewport is not None:
            bar.setRange(0, max(0, len(self.rows) * (_TALL + _GAP) + _GAP - viewport.height()))
            bar.setPageStep(viewport.height())
            bar.setSingleStep((_TALL + _GAP) // 2)

    def area(self, place: int) -> QRectF:
        """A row by its place in sight, in px of the viewport."""
        bar, viewport = self.verticalScrollBar(), self.viewport()
        assert bar is not None and viewport is not None
        return QRectF(_EDGE, _GAP + place * (_TALL + _GAP) - bar.value(), viewport.width() - 2 * _EDGE, _TALL)

    def _places(self) -> range:
        """The places that are in sight."""
        bar, viewport = self.verticalScrollBar(), self.viewport()
        assert bar is not None and viewport is not None
        first = max(0, (bar.value() - _GAP) // (_TALL + _GAP))
        return range(first, min(len(self.rows), first + viewport.height() // (_TALL + _GAP) + 2))

    def in_sight(self) -> list[int]:
        """The rows that are in sight."""
        return [self.rows[place] for place in self._places()]

    def place_at(self, point: QPointF) -> int | None:
        """The place of the row at a point."""
        return next((place for place in self._places() if self.area(place).contains(point)), None)

    def reveal(self) -> None:
        """Bring the chosen row into sight."""
        bar, viewport = self.verticalScrollBar(), self.viewport()
        if self.session.row in self.rows and bar is not None and viewport is not None:
            area = self.area(self.rows.index(self.session.row))
            if area.top() < _GAP:
                bar.setValue(round(bar.value() + area.top() - _GAP))
            elif area.bottom() > viewport.height() - _GAP:
                bar.setValue(round(bar.value() + area.bottom() - viewport.height() + _GAP))
        self._say()
        self._touch()

    def _say(self) -> None:
        """Tell those who hear it which row is chosen."""
        plan = self.session.plan
        if plan is not None and 0 <= self.session.row < len(plan.rows):
            said = self.session.said.get(self.session.row)
            words = f"Row {plan.rows[self.session.row].number}, {' · '.join(self.words_of(self.session.row))}"
            words += f", one of {len(self.session.chosen):,} chosen" if self.session.chosen else ""
            self.setAccessibleDescription(f"{words}: {said.verdict}" if said is not None else words)

    def _touch(self) -> None:
        viewport = self.viewport()
        if viewport is not None:
            viewport.update()

    # Painting

    def words_of(self, line: int) -> list[str]:
        """The words of a row's first two columns that lead somewhere, else of its first two."""
        roster, plan = self.session.roster, self.session.plan
        if roster is None or plan is None:
            return []
        heads, language = roster.sheet.heads, plan.roster.languages[0]
        led = [t.column for t in roster.threads if not t.target.startswith("@") and heads[t.column].language in ("", language)]
        cells = roster.sheet.lines[line].cells
        return [" / ".join(cells[column].split("\n")) for column in (led or list(range(len(heads))))[:2]]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        viewport = self.viewport()
        assert viewport is not None
        painter = QPainter(viewport)
        painter.fillRect(viewport.rect(), QColor(GROUND))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        missing = False
        for place in self._places():
            line = self.rows[place]
            self._paint_row(painter, line, self.area(place))
            missing |= line not in self._kept
        if missing and not self._painting.isActive():
            self._painting.start(0)

    def _paint_row(self, painter: QPainter, line: int, area: QRectF) -> None:
        plan = self.session.plan
        assert plan is not None
        here = line == self.session.row
        chosen = here or line in self.session.chosen
        painter.setPen(QPen(QColor(TEXT if here and self.hasFocus() else LINE if chosen else PANEL), 1.2))
        painter.setBrush(QColor(CONTROL if chosen else PANEL))
        painter.drawRoundedRect(area, 6, 6)
        painter.setPen(QColor(MUTED))
        painter.setFont(font(SMALL, figures=True))
        painter.drawText(QRectF(area.left(), area.top(), 38, area.height()), Qt.AlignmentFlag.AlignCenter, str(plan.rows[line].number))
        picture = QRectF(area.left() + 40, area.top() + 8, *_PICTURE)
        kept = self._kept.get(line)
        if kept is not None:
            painter.drawImage(picture, kept)
        else:
            painter.fillRect(picture, QColor("#3A3033" if line in plan.faulty else "#58656C"))
        left = picture.right() + 18
        third = max(120.0, (area.right() - left - 130) / 2)
        words = [*self.words_of(line), "", ""]
        self._line(painter, QRectF(left, area.top() + 17, third - 10, 20), words[0], STRONG, TEXT, True)
        self._line(painter, QRectF(left, area.top() + 40, third - 10, 18), words[1], BASE, MUTED)
        said = self.session.said.get(line)
        if said is not None:
            self._paint_said(painter, said, QRectF(left + third, area.top(), third - 4, area.height()))
        self._paint_progress(painter, line, QRectF(area.right() - 106, area.top(), 94, area.height()))

    def _paint_said(self, painter: QPainter, said: Said, area: QRectF) -> None:
        colour = COLOURS[said.verdict]
        mark = {"holds": "✓ ", "to look at": "○ ", "breaks": "▲ ", "cannot be rendered": "✕ "}[said.verdict]
        if said.verdict == "holds":
            self._line(painter, QRectF(area.left(), area.top() + 17, area.width(), 20), f"{mark}holds", BASE, colour, True)
            return
        first, *others = said.words or (said.short,)
        self._line(painter, QRectF(area.left(), area.top() + 10, area.width(), 18), f"{mark}{said.verdict}", BASE, colour, True)
        painter.setPen(QColor(TEXT))
        painter.setFont(font(SMALL))
        more = f" (and {len(others)} more)" if others else ""
        room = QRectF(area.left(), area.top() + 28, area.width(), 42)
        painter.drawText(room, Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap, first + more)

    def _paint_progress(self, painter: QPainter, line: int, area: QRectF) -> None:
        share, done, words = self._progress.get(line, (0.0, False, ""))
        if not (share or done or words):
            return
        bar = QRectF(area.left(), area.center().y() - 9, area.width(), 6)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#1A1D1F"))
        painter.drawRoundedRect(bar, 3, 3)
        painter.setBrush(QColor(ROSE if words else MARIGOLD))
        painter.drawRoundedRect(QRectF(bar.left(), bar.top(), bar.width() * (1.0 if words else share), 6), 3, 3)
        told = "left out" if words else "done" if done else f"{share:.0%}"
        self._line(painter, QRectF(area.left(), bar.bottom() + 4, area.width(), 16), told, SMALL, MUTED, right=True)

    @staticmethod
    def _line(painter: QPainter, area: QRectF, words: str, size: int, colour: str, strong: bool = False, right: bool = False) -> None:
        painter.setFont(font(size, QFont.Weight.DemiBold if strong else QFont.Weight.Normal))
        painter.setPen(QColor(colour))
        shown = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(area.width()))
        side = Qt.AlignmentFlag.AlignRight if right else Qt.AlignmentFlag.AlignLeft
        painter.drawText(area, Qt.AlignmentFlag.AlignVCenter | side, shown)

    def _paint_some(self) -> None:
        """Draw pictures that are in sight, for a little while."""
        end = time.monotonic() + _BUDGET
        for line in self.in_sight():
            if line not in self._kept:
                self._kept[line] = self.drawn(line)
                if time.monotonic() > end:
                    self._touch()
                    return
        while len(self._kept) > _MOST_KEPT:
            self._kept.popitem(last=False)
        self._painting.stop()
        self._touch()

    def drawn(self, line: int) -> QImage:
        """A row's picture, at the moment that is shown; plain ground where it has none."""
        scene, ratio = self.session.scene(line), self.devicePixelRatioF()
        frame = 0 if isinstance(scene, str) else self.session.frame_of(scene)
        return row_image(scene, frame, round(_PICTURE[0] * ratio), round(_PICTURE[1] * ratio), self.whole)

    # Hands

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._measure()
        super().resizeEvent(event)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        place = self.place_at(event.position())
        if place is None:
            return
        line, keys = self.rows[place], event.modifiers()
        if event.button() == Qt.MouseButton.RightButton:
            if line not in self.session.taken:
                self.session.choose(line)
        elif keys & Qt.KeyboardModifier.ControlModifier:
            self.session.choose_also(line)
            self._anchor = line
        elif keys & Qt.KeyboardModifier.ShiftModifier:
            self._choose_up_to(line)
        else:
            self.session.choose(line)
            self._anchor = line

    def _choose_up_to(self, line: int) -> None:
        """All rows that are shown between where choosing began and here."""
        begin = self._anchor if self._anchor in self.rows else self.session.row if self.session.row in self.rows else line
        first, last = sorted((self.rows.index(begin), self.rows.index(line)))
        self.session.choose_all(self.rows[first : last + 1], line)
        self._anchor = begin

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self.place_at(event.position()) is not None and not event.modifiers():
            self.opened.emit()

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        if event is not None and self.rows and event.reason() == QContextMenuEvent.Reason.Mouse:  # the menu key comes as a key
            self.asked.emit(event.globalPos())

    def event(self, event: QEvent | None) -> bool:
        """Copying and choosing all mean rows here, whatever they mean elsewhere."""
        own = (QKeySequence.StandardKey.SelectAll, QKeySequence.StandardKey.Copy)
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and any(map(event.matches, own)):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        here = self.rows.index(self.session.row) if self.session.row in self.rows else 0
        viewport = self.viewport()
        page = max(1, (viewport.height() if viewport is not None else _TALL) // (_TALL + _GAP))
        steps: dict[int, int] = {
            Qt.Key.Key_Up: here - 1, Qt.Key.Key_Down: here + 1, Qt.Key.Key_PageUp: here - page, Qt.Key.Key_PageDown: here + page,
            Qt.Key.Key_Home: 0, Qt.Key.Key_End: len(self.rows) - 1,
        }  # fmt: skip
        if event.key() in steps and self.rows:
            line = self.rows[max(0, min(len(self.rows) - 1, steps[event.key()]))]
            if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                self._choose_up_to(line)
            else:
                self.session.choose(line)
                self._anchor = line
        elif event.matches(QKeySequence.StandardKey.SelectAll):
            self.session.choose_all(self.rows)
        elif event.matches(QKeySequence.StandardKey.Copy):
            self.copy_chosen()
        elif event.key() == Qt.Key.Key_Escape and self.session.chosen:
            self.session.choose(self.session.row)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.opened.emit()
        elif event.key() == Qt.Key.Key_Space:
            self.played.emit()
        elif event.key() == Qt.Key.Key_Menu and self.rows:
            self.asked.emit(self.mapToGlobal(self.area(here).center().toPoint()))
        else:
            super().keyPressEvent(event)

    def copy_chosen(self) -> None:
        """The chosen rows under their heads, for the clipboard of spreadsheets."""
        roster, clipboard = self.session.roster, QApplication.clipboard()
        if roster is None or clipboard is None:
            return
        heads = tuple(head.words for head in roster.sheet.heads)
        clipboard.setText(as_csv((heads, *(roster.sheet.lines[line].cells for line in self.session.taken)), "\t"))

    def viewportEvent(self, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.ToolTip:
            place = self.place_at(event.pos().toPointF())  # type: ignore[attr-defined]
            if place is not None:
                line = self.rows[place]
                said, failed = self.session.said.get(line), self._progress.get(line, (0.0, False, ""))[2]
                words = "\n".join(filter(None, (*(said.words if said is not None else ()), failed)))
                QToolTip.showText(event.globalPos(), words, self)  # type: ignore[attr-defined]
                return True
        return super().viewportEvent(event)
