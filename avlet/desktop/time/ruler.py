"""The folded ruler: spans, moves as bars with a line for each unit, ties, keys, marks and the playhead."""

from typing import Any

from PyQt6.QtCore import QEvent, QMimeData, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QApplication, QSizePolicy, QWidget

from avlet.desktop.sessions.template_session import Session
from avlet.desktop.time import ruler_keys
from avlet.desktop.time.mark_hands import MarkHands
from avlet.desktop.time.ruler_picture import HEAD, NAMES, RIGHT, KeyAt, RulerPicture, bar_area, offer_areas, page_edges
from avlet.desktop.widgets.theme import MUTED
from avlet.document.editing import edits, keying, timing
from avlet.document.editing.timing import MoveAt, move_at
from avlet.document.template import Mark, Template
from avlet.document.time.keys import Key
from avlet.motion.folded_time import FoldedTime
from avlet.motion.rolling import Offer
from avlet.motion.ruler_rows import KEY_LANE, LANE, Bar, Row, edges, rows_of, within_the_hold
from avlet.numbers.exact import in_figures
from avlet.paint.scene import Scene

_SNAP = 7.0
KEYS_MIME = "application/x-avlet-keys"


class Ruler(QWidget):
    """Everything that happens in time, on one sheet. ``chosen_changed`` tells that another move or other keys are chosen."""

    chosen_changed = pyqtSignal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.folded = True
        self.chosen: tuple[MoveAt, ...] = ()
        self.keys: tuple[KeyAt, ...] = ()
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Ruler: way in, hold, way out, and every move")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.marks = MarkHands(self)
        self._held: tuple[str, Any] | None = None
        self._pressed = QPointF()
        self._start: Template = session.template
        self._start_rows: list[Row] = []
        self._start_time: FoldedTime | None = None
        self._gesture = 0
        self._caught: float | None = None
        self._kept: tuple[Template, Scene, list[Row]] | None = None
        session.changed.connect(self._follow)
        session.answers_changed.connect(self._follow)
        session.frame_changed.connect(lambda _: self.update())
        session.selection_changed.connect(self._follow_selection)
        self._follow()

    # What it shows

    @property
    def time(self) -> FoldedTime:
        scene = self.session.scene()
        return FoldedTime(scene.spans, NAMES, self.width() - RIGHT, self.folded and not self.pages, *within_the_hold(scene.choreography))

    @property
    def pages(self) -> bool:
        """Whether there are pages of credits to see: nothing is folded then."""
        return any(row.pages for row in self.rows)

    @property
    def rows(self) -> list[Row]:
        template, scene = self.session.template, self.session.scene()
        if self._kept is None or self._kept[0] is not template or self._kept[1] is not scene:
            self._kept = (template, scene, rows_of(template, scene.choreography))
        return self._kept[2]

    def _follow(self) -> None:
        self.chosen = tuple(at for at in self.chosen if move_at(self.session.template, at) is not None)
        template = self.session.template
        self.keys = tuple(
            k for k in self.keys if (p := template.part(k[0])) and (keyed := keying.keyed_of(p, k[1])) and k[2] < len(keyed.keys)
        )
        self.marks.follow()
        rows = self.rows
        self.setMinimumHeight(round(HEAD + (rows[-1].top + rows[-1].height if rows else 60) + 8))
        self.update()

    def _follow_selection(self) -> None:
        """A part that is selected elsewhere brings its first move here."""
        part = self.session.part
        if part is not None and not any(at.part in self.session.selection for at in self.chosen):
            first = MoveAt(part.id, "way_in", 0) if part.way_in else None
            self.choose((first,) if first else ())
        self.update()

    def choose(self, chosen: tuple[MoveAt, ...], keys: tuple[KeyAt, ...] = ()) -> None:
        """Choose moves or keys."""
        self.marks.chosen = None
        if (chosen, keys) != (self.chosen, self.keys):
            self.chosen, self.keys = chosen, keys
            self.chosen_changed.emit()
            self.update()

    def sizeHint(self) -> QSize:
        return QSize(900, self.minimumHeight())

    # Keys

    def event(self, event: QEvent | None) -> bool:
        """Its own keys mean moves here, whatever they mean elsewhere."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and ruler_keys.takes(event):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and ruler_keys.takes(event):
            ruler_keys.press(self, event)
        else:
            super().keyPressEvent(event)

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        time, rows = self.time, self.rows
        picture = RulerPicture(painter, self.session, time, float(self.width()), self.chosen, self.keys, self.marks.chosen)
        for row in rows:
            picture.row(row)
        picture.ties(rows)
        picture.spans()
        if not rows:
            painter.setPen(QColor(MUTED))
            painter.drawText(
                QRectF(NAMES, HEAD, self.width() - NAMES, 60),
                Qt.AlignmentFlag.AlignCenter,
                "Nothing moves yet. Add parts on the Build bench.",
            )
        if self._caught is not None:
            painter.setPen(QPen(QColor("#FFFFFF"), 1, Qt.PenStyle.DashLine))
            x = time.x_of(self._caught)
            painter.drawLine(QPointF(x, 4), QPointF(x, self.height()))
        x = time.x_of(self.session.frame)
        painter.setPen(QPen(QColor("#E9EBEC"), 1.4))
        painter.drawLine(QPointF(x, 6), QPointF(x, self.height()))
        painter.setBrush(QColor("#FFFFFF"))
        painter.drawEllipse(QPointF(x, 7), 5, 5)

    def bar_area(self, time: FoldedTime, row: Row, bar: Bar) -> QRectF:
        """Where a bar lies."""
        return bar_area(time, row, bar)

    # What lies where

    def key_at(self, point: QPointF) -> KeyAt | None:
        """The key under a point."""
        time = self.time
        for row in self.rows:
            for number, lane in enumerate(row.keys):
                y = HEAD + row.key_top(number) + KEY_LANE / 2
                for n, at in enumerate(lane.times):
                    if abs(point.x() - time.x_of(at)) <= 6 and abs(point.y() - y) <= 7:
                        return lane.part, lane.keyed.path, n
        return None

    def bar_at(self, point: QPointF) -> tuple[Bar, str] | None:
        """The bar under a point, and whether it is held by its ``start``, its ``end`` or its ``body``."""
        time = self.time
        for row in self.rows:
            for bar in row.bars:
                area = self.bar_area(time, row, bar)
                if area.adjusted(-4, 0, 4, 0).contains(point):
                    edge = min(6.0, area.width() / 3)
                    if point.x() > area.right() - edge:
                        return bar, "end"
                    return bar, "start" if point.x() < area.left() + edge else "body"
        return None

    def page_at(self, point: QPointF) -> tuple[Row, int] | None:
        """The edge under a point between a page of credits and the next one."""
        row, time = self.row_at(point), self.time
        if row is None or not 0 <= point.y() - HEAD - row.list_top < LANE:
            return None
        near = [(abs(x - point.x()), n) for n, x in enumerate(page_edges(time, row))]
        return (row, min(near)[1]) if near and min(near)[0] <= 5 else None

    def offer_at(self, point: QPointF) -> Offer | None:
        """The length under a point at which a roll moves whole px."""
        row = self.row_at(point)
        found = offer_areas(self.time, row) if row is not None else []
        return next((offer for area, offer in found if area.contains(point)), None)

    def row_at(self, point: QPointF) -> Row | None:
        return next((r for r in self.rows if HEAD + r.top <= point.y() < HEAD + r.top + r.height), None)

    def _span_edge(self, point: QPointF) -> str | None:
        if not 14 <= point.y() <= 44:
            return None
        time = self.time
        if abs(point.x() - time.hold_begin) < 5:
            return "way_in"
        return "way_out" if abs(point.x() - time.hold_end) < 5 else None

    # Mouse and keys

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        point, more = event.position(), bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        self._pressed, self._start, self._gesture = point, self.session.template, self._gesture + 1
        self._start_rows, self._start_time = self.rows, self.time
        key, found, edge = self.key_at(point), self.bar_at(point), self._span_edge(point)
        page, offer, mark = self.page_at(point), self.offer_at(point), self.marks.at(point)
        if mark is not None:
            self.marks.press(mark)
            self._held = ("mark", mark)
        elif edge:
            self._held = ("span", edge)
        elif page is not None:
            self.session.select(page[0].part.id)
            self._held = ("page", page)
        elif offer is not None:
            self.session.edit("Length", lambda t: edits.replace(t, length=offer.length))
        elif key is not None:
            keys = tuple(k for k in self.keys if k != key) if more and key in self.keys else (*self.keys, key) if more else self.keys
            self.session.select(key[0])
            self.choose((), keys if more or key in self.keys else (key,))
            self._held = ("key", key)
        elif found is not None:
            self._press_bar(*found, more)
        elif point.y() < HEAD or point.x() < NAMES:
            self._press_head(point, more)
        else:
            row = self.row_at(point)
            self.session.select(row.part.id if row else None, more)
            self._held = ("frame", None)
            self._go(point)

    def _press_bar(self, bar: Bar, held: str, more: bool) -> None:
        if more:
            chosen = tuple(at for at in self.chosen if at != bar.at) if bar.at in self.chosen else (*self.chosen, bar.at)
        else:
            chosen = self.chosen if bar.at in self.chosen else (bar.at,)
        self.choose(chosen)
        if bar.at.part not in self.session.selection:
            self.session.select(bar.at.part, more)
        self._held = None if bar.mirrored else ("bar", (bar, held))

    def _press_head(self, point: QPointF, more: bool) -> None:
        if point.y() >= HEAD:
            row = self.row_at(point)
            self.session.select(row.part.id if row else None, more)
            return
        if self.time.hold_begin + 6 < point.x() < self.time.hold_end - 6 and point.y() > 14:
            self.folded = not self.folded
            self.update()
            return
        self._held = ("frame", None)
        self._go(point)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        point = event.position()
        if self._held is None:
            self._show_cursor(point)
            return
        kind, what = self._held
        if kind == "frame":
            self._go(point)
        elif kind == "span":
            self._drag_span(str(what), point)
        elif kind == "page":
            row, number = what
            self._drag_page(row, number, point)
        elif abs(point.x() - self._pressed.x()) >= 2 or self._caught is not None:
            if kind == "bar":
                bar, held = what
                self._drag_bar(bar, held, point)
            elif kind == "mark":
                moved = self._moved(point, what.frame)
                self.marks.drag(what.frame + moved + self._snapped([what.frame + moved], what), ("mark", self._gesture))
            else:
                self._drag_keys(point)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._held, self._caught = None, None
        self.session.history.close_gesture()
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """A double click on a lane of keys adds one there."""
        assert event is not None
        point = event.position()
        row = self.row_at(point)
        if row is None or point.x() < NAMES or self.key_at(point) is not None:
            return
        for number, lane in enumerate(row.keys):
            if 0 <= point.y() - HEAD - row.key_top(number) < KEY_LANE:
                frame = round(self.time.frame_at(point.x()))
                self.session.key(lane.part, lane.keyed.path, frame)

    def copy_keys(self) -> None:
        """Put the chosen keys on the clipboard."""
        clipboard = QApplication.clipboard()
        if clipboard is not None and self.keys:
            data = QMimeData()
            data.setData(KEYS_MIME, keying.copied_keys(self.session.template, self.keys))
            clipboard.setMimeData(data)

    def paste_keys(self) -> bool:
        """Put keys from the clipboard on the selected part; False when there are none."""
        clipboard = QApplication.clipboard()
        data = clipboard.mimeData() if clipboard is not None else None
        part = self.session.selected
        if data is None or not data.hasFormat(KEYS_MIME) or part is None:
            return False
        keys = data.data(KEYS_MIME).data()
        return self.session.edit("Paste keys", lambda t: keying.pasted_keys(t, part, keys))

    def remove_chosen(self) -> None:
        """Remove the chosen mark, else the chosen keys, else the chosen moves."""
        if self.marks.remove():
            return
        if self.keys:
            self.remove_keys()
            return
        chosen = sorted(self.chosen, key=lambda at: -at.number)
        self.choose(())

        def change(t: Template) -> Template:
            for at in chosen:
                t = timing.put_move(t, at, None)
            return t

        if chosen:
            self.session.edit("Remove moves", change)

    def remove_keys(self) -> None:
        """Remove the chosen keys."""
        chosen = self.keys
        self.choose(self.chosen)

        def change(t: Template) -> Template:
            for part, path in dict.fromkeys(k[:2] for k in chosen):
                t = keying.changed_keys(t, part, path, [k[2] for k in chosen if k[:2] == (part, path)], lambda _: None)
            return t

        self.session.edit("Remove keys", change)

    def _show_cursor(self, point: QPointF) -> None:
        found = self.bar_at(point)
        edge = (
            self._span_edge(point)
            or self.page_at(point)
            or (found is not None and found[1] != "body" and not found[0].mirrored)
            or self.key_at(point)
            or self.marks.at(point)
        )
        self.setCursor(Qt.CursorShape.SizeHorCursor if edge else Qt.CursorShape.ArrowCursor)
        words = ""
        if (mark := self.marks.at(point)) is not None:
            words = f"{mark.name}: frame {mark.frame}\nDrag to move; I or O brings it to the playhead, Del takes it away"
        elif found is not None:
            bar = found[0]
            words = f"{self.session.template.name_of(bar.at.part)}: frame {in_figures(bar.start)} to {in_figures(bar.end)}"
            words += "\nmirrors the way in" if bar.mirrored else "\nDrag to move, drag an end to stretch; Ctrl chooses several"
        elif self.page_at(point) is not None:
            words = "Drag to change how long the page before stays"
        elif (offer := self.offer_at(point)) is not None:
            words = f"{offer.speed} px a frame in {offer.length} frames: click to make it so long"
        elif self.time.hold_begin < point.x() < self.time.hold_end and point.y() < HEAD:
            words = "Click to open or fold the hold"
        self.setToolTip(words)

    # Dragging

    def _go(self, point: QPointF) -> None:
        self.session.go_to(max(0, min(self.session.length() - 1, round(self.time.frame_at(point.x())))))

    def _drag_span(self, name: str, point: QPointF) -> None:
        template, time = self._start, self._start_time or self.time
        step = (point.x() - self._pressed.x()) / max(time.scale, 1e-6)
        value = getattr(template, name) + (step if name == "way_in" else -step)
        other = template.way_out if name == "way_in" else template.way_in
        value = max(0, min(round(value), template.length - other))
        fits = "fits_in" if name == "way_in" else "fits_out"
        self.session.edit(name.replace("_", " "), lambda t: edits.replace(t, **{name: value, fits: False}), ("span", self._gesture))

    def _drag_page(self, row: Row, number: int, point: QPointF) -> None:
        """Let the page before an edge stay longer or shorter; the pages that are not set by hand share what is left."""
        first = row.pages[number].first
        frames = max(1, min(round(self.time.frame_at(point.x())) - first, self.session.length() - first - 1))
        self.session.change(
            f"{row.part.id}/movement", lambda movement: movement.staying(number, frames),
            f"{row.part.name}: page {number + 1}", ("page", self._gesture),
        )  # fmt: skip

    def _snapped(self, frames: list[float], held: Mark | None = None) -> float:
        """How much further to move so that one of ``frames`` catches on an edge or a mark that is not held; 0 when none is near."""
        time = self.time
        places = edges(self.rows, time.spans, frozenset(self.chosen))
        places += [float(self.session.frame), *(float(mark.frame) for mark in self._start.marks if mark != held)]
        near = min(((abs(p - f) * time.scale, p - f, p) for p in places for f in frames), default=(1e9, 0.0, 0.0))
        caught = near[0] <= _SNAP
        self._caught = near[2] if caught else None
        return near[1] if caught else 0.0

    def _moved(self, point: QPointF, anchor: float) -> float:
        """How many frames further what was at ``anchor`` is, now that the mouse is at ``point``; folds do not blur that."""
        time = self._start_time or self.time
        return time.frame_at(time.x_of(anchor) + point.x() - self._pressed.x()) - anchor

    def _drag_bar(self, bar: Bar, held: str, point: QPointF) -> None:
        moved = self._moved(point, bar.end if held == "end" else bar.start)
        pace = self.time.spans.pace
        move = move_at(self._start, bar.at)
        if move is None:
            return
        if held == "end":
            by = (moved + self._snapped([bar.end + moved])) * pace
            share = (bar.end - bar.start) * pace
            frames = max(1, round(move.frames * (share + by) / share)) if share > 0 else max(1, round(move.frames + by))
            target, start = bar.at, self._start
            longer = edits.replace(move, frames=frames)
            self.session.edit("Length of a move", lambda _: timing.put_move(start, target, longer), ("bar", self._gesture))
            return
        by = round((moved + self._snapped([bar.start + moved, bar.end + moved])) * pace)
        chosen, start = (self.chosen if bar.at in self.chosen else (bar.at,)), self._start
        if held == "start":
            first = edits.replace(timing.brought(start, bar.at, by), frames=max(1, move.frames - by))
            self.session.edit("Begin of a move", lambda _: timing.put_move(start, bar.at, first), ("bar", self._gesture))
        else:
            self.session.edit("Move in time", lambda _: timing.shifted(start, chosen, by), ("bar", self._gesture))

    def _drag_keys(self, point: QPointF) -> None:
        spans, start, chosen = self.time.spans, self._start, self.keys
        lanes = {(lane.part, lane.keyed.path): lane for row in self._start_rows for lane in row.keys}
        held = self._held[1] if self._held else None
        moved = 0.0
        if isinstance(held, tuple) and held[:2] in lanes:
            moved = self._moved(point, lanes[held[:2]].times[held[2]])
            moved += self._snapped([lanes[held[:2]].times[held[2]] + moved])

        def shift(part: str, path: str, t: Template) -> Template:
            times = lanes[part, path].times
            numbers = [k[2] for k in chosen if k[:2] == (part, path)]
            fixed = iter(numbers)

            def change(key: Key) -> Key:
                tied, at = keying.anchored(round(times[next(fixed)] + moved), spans.length, spans.way_in, spans.way_out)
                return edits.replace(key, tied=tied, at=at)

            return keying.changed_keys(t, part, path, numbers, change)

        def whole(_: Template) -> Template:
            t = start
            for part, path in dict.fromkeys(k[:2] for k in chosen if k[:2] in lanes):
                t = shift(part, path, t)
            return t

        self.session.edit("Move keys", whole, ("keys", self._gesture))
