"""The folded ruler: spans, moves as bars with a line for each unit, ties, keys, marks and the playhead."""

from PyQt6.QtCore import QMimeData, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QApplication, QSizePolicy, QWidget

from avlet.desktop.folded_time import FoldedTime
from avlet.desktop.icons import pixmap
from avlet.desktop.ruler_rows import KEY_LANE, LANE, Bar, Lane, Row, edges, rows_of
from avlet.desktop.session import Session
from avlet.desktop.theme import BASE, MARIGOLD, MUTED, SMALL, TEXT, font
from avlet.document import edits, keying, timing
from avlet.document.keys import Key
from avlet.document.parts import kind_of
from avlet.document.template import Template
from avlet.document.timing import MoveAt, move_at
from avlet.paint.scene import Scene

NAMES, HEAD, RIGHT = 150, 52, 16
_SNAP = 7.0
KEYS_MIME = "application/x-avlet-keys"
KeyAt = tuple[str, str, int]
"""A key: its part, its property's path, its number."""


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
        self._held: tuple[str, object] | None = None
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
        return FoldedTime(self.session.scene().spans, NAMES, self.width() - RIGHT, self.folded)

    @property
    def rows(self) -> list[Row]:
        template, scene = self.session.template, self.session.scene()
        if self._kept is None or self._kept[0] is not template or self._kept[1] is not scene:
            self._kept = (template, scene, rows_of(template, scene))
        return self._kept[2]

    def _follow(self) -> None:
        self.chosen = tuple(at for at in self.chosen if move_at(self.session.template, at) is not None)
        template = self.session.template
        self.keys = tuple(
            k for k in self.keys if (p := template.part(k[0])) and (keyed := keying.keyed_of(p, k[1])) and k[2] < len(keyed.keys)
        )
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
        if (chosen, keys) != (self.chosen, self.keys):
            self.chosen, self.keys = chosen, keys
            self.chosen_changed.emit()
            self.update()

    def sizeHint(self) -> QSize:
        return QSize(900, self.minimumHeight())

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        time, rows = self.time, self.rows
        for row in rows:
            self._paint_row(painter, time, row)
        self._paint_ties(painter, time, rows)
        self._paint_spans(painter, time)
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

    def _paint_spans(self, painter: QPainter, time: FoldedTime) -> None:
        spans, template = time.spans, self.session.template
        painter.setFont(font(SMALL))
        ends = (
            (time.left, time.hold_begin, "way in", spans.way_in, template.fits_in, template.plays_in),
            (time.hold_end, time.x_of(time.last), "way out", spans.way_out, template.fits_out, template.plays_out),
        )
        for left, right, words, frames, fits, plays in ends:
            area = QRectF(left, 18, max(0.0, right - left), 22)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor("#5A4727" if plays else "#33383B"))
            painter.drawRoundedRect(area, 3, 3)
            painter.setPen(QColor("#F2C987" if plays else MUTED))
            said = f"{words} · {frames} frames" + (" · as needed" if fits else "") if plays else f"{words} does not play"
            metrics = painter.fontMetrics()
            shown = said if metrics.horizontalAdvance(said) < area.width() - 12 or not plays else f"{frames}"
            shown = metrics.elidedText(shown, Qt.TextElideMode.ElideRight, int(area.width()) - 10)
            painter.drawText(area.adjusted(8, 0, -4, 0), Qt.AlignmentFlag.AlignVCenter, shown)
        self._paint_hold(painter, time)
        for mark in template.marks:
            x = time.x_of(mark.frame)
            painter.setPen(QPen(QColor("#FFFFFF"), 1))
            painter.drawLine(QPointF(x, 12), QPointF(x, 44))
            painter.drawText(QPointF(x + 3, 14), mark.name)

    def _paint_hold(self, painter: QPainter, time: FoldedTime) -> None:
        left, right = time.hold_begin, time.hold_end
        painter.setPen(QPen(QColor("#8A9398"), 1.2))
        if time.is_folded:
            count = 10
            points = [QPointF(left + (right - left) * n / count, 29 + (5 if n % 2 else -5) * (0 < n < count)) for n in range(count + 1)]
            painter.drawPolyline(QPolygonF(points))
        else:
            painter.drawLine(QPointF(left, 29), QPointF(right, 29))
        fps = float(self.session.template.frame.fps)
        words = f"hold {time.spans.hold / fps:.2f} s" + (" · folded" if time.is_folded else "")
        painter.setPen(QColor(MUTED))
        painter.drawText(QRectF(left - 40, 39, right - left + 80, 13), Qt.AlignmentFlag.AlignCenter, words)

    def _paint_row(self, painter: QPainter, time: FoldedTime, row: Row) -> None:
        y = HEAD + row.top
        selected = row.part.id in self.session.selection
        if selected:
            painter.fillRect(QRectF(0, y, self.width(), row.height), QColor("#2B3135"))
        painter.setPen(QPen(QColor("#343A3F"), 1))
        painter.drawLine(QPointF(0, y + row.height - 0.5), QPointF(self.width(), y + row.height - 0.5))
        painter.setFont(font(BASE))
        ink = TEXT if row.part.shown else MUTED
        indent = 10 + row.depth * 12
        painter.drawPixmap(QPointF(indent, y + 9), pixmap(kind_of(row.part), ink, 14))
        painter.setPen(QColor(ink))
        name = painter.fontMetrics().elidedText(row.part.name, Qt.TextElideMode.ElideRight, NAMES - indent - 30)
        painter.drawText(QRectF(indent + 21, y + 5, NAMES, LANE + 4), Qt.AlignmentFlag.AlignVCenter, name)
        arrived = [bar.end for bar in row.bars if bar.at.where == "way_in" and not bar.mirrored]
        leaving = [bar.start for bar in row.bars if bar.mirrored or bar.at.where != "way_in"]
        left, right = time.x_of(max(arrived, default=0.0)), time.x_of(min(leaving, default=float(time.last)))
        painter.fillRect(QRectF(left, y + row.lane_top(0) - row.top + LANE / 2 - 3, max(0.0, right - left), 6), QColor("#3E454A"))
        for bar in row.bars:
            self._paint_bar(painter, time, row, bar)
        for number, lane in enumerate(row.keys):
            self._paint_lane(painter, time, row, number, lane)

    def bar_area(self, time: FoldedTime, row: Row, bar: Bar) -> QRectF:
        """Where a bar lies."""
        left, right = time.x_of(bar.start), time.x_of(bar.end)
        return QRectF(left, HEAD + row.lane_top(bar.lane), max(4.0, right - left), LANE - 2)

    def _paint_bar(self, painter: QPainter, time: FoldedTime, row: Row, bar: Bar) -> None:
        area = self.bar_area(time, row, bar)
        chosen = bar.at in self.chosen and not bar.mirrored
        style = Qt.PenStyle.DotLine if bar.mirrored else Qt.PenStyle.SolidLine
        painter.setPen(QPen(QColor("#FFFFFF" if chosen else MARIGOLD), 1.6 if chosen else 1.1, style))
        painter.setBrush(QColor(244, 178, 62, 26 if bar.mirrored else 52))
        painter.drawRoundedRect(area, 3, 3)
        painter.setPen(QPen(QColor(244, 178, 62, 130 if bar.mirrored else 255), 1.3))
        count = len(bar.lines)
        for n, (begin, end) in enumerate(bar.lines):
            y = area.top() + 2.5 + (area.height() - 5) * (n + 0.5) / count
            painter.drawLine(QPointF(max(area.left() + 1, time.x_of(begin)), y), QPointF(min(area.right() - 1, time.x_of(end)), y))

    def _paint_ties(self, painter: QPainter, time: FoldedTime, rows: list[Row]) -> None:
        """A thread from what a start waits for to the bar that waits."""
        areas = {bar.at: (row, bar) for row in rows for bar in row.bars if not bar.mirrored}
        for at, (row, bar) in areas.items():
            move = move_at(self.session.template, at)
            if move is None or move.tie is None:
                continue
            others = [(r, b) for a, (r, b) in areas.items() if a.part == move.tie.on and a.where == at.where]
            if not others:
                continue
            other_row, first = min(others, key=lambda pair: pair[1].start)
            end = max(b.end for _, b in others)
            from_frame = first.start if move.tie.how == "after its start" else end
            to_frame = bar.end if move.tie.how == "ending with it" else bar.start
            start = QPointF(time.x_of(from_frame), HEAD + other_row.lane_top(first.lane) + LANE / 2 - 1)
            stop = QPointF(time.x_of(to_frame), HEAD + row.lane_top(bar.lane) + LANE / 2 - 1)
            path = QPainterPath(start)
            path.cubicTo(start + QPointF(-16, (stop.y() - start.y()) / 2), stop + QPointF(-26, 0), stop)
            painter.setPen(QPen(QColor("#FFE2A6"), 1.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(path)
            painter.setBrush(QColor("#FFE2A6"))
            painter.drawEllipse(start, 2.6, 2.6)
            painter.drawEllipse(stop, 2.6, 2.6)

    def _paint_lane(self, painter: QPainter, time: FoldedTime, row: Row, number: int, lane: Lane) -> None:
        y = HEAD + row.key_top(number) + KEY_LANE / 2
        painter.setFont(font(SMALL - 1))
        painter.setPen(QColor(MUTED))
        painter.drawText(QRectF(31 + row.depth * 12, y - 8, NAMES - 40, 16), Qt.AlignmentFlag.AlignVCenter, lane.label)
        painter.setPen(QPen(QColor("#4A5358"), 1))
        if lane.times:
            painter.drawLine(QPointF(time.x_of(min(lane.times)), y), QPointF(time.x_of(max(lane.times)), y))
        for n, at in enumerate(lane.times):
            chosen = (lane.part, lane.keyed.path, n) in self.keys
            painter.setBrush(QColor("#FFFFFF" if chosen else MARIGOLD))
            painter.setPen(QPen(QColor(0, 0, 0, 150), 1))
            x, size = time.x_of(at), 4.6
            if lane.keyed.keys[n].to_next == "held":
                painter.drawRect(QRectF(x - 3.4, y - 3.4, 6.8, 6.8))
            else:
                painter.drawPolygon(QPolygonF([QPointF(x, y - size), QPointF(x + size, y), QPointF(x, y + size), QPointF(x - size, y)]))

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
        if edge:
            self._held = ("span", edge)
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
        elif abs(point.x() - self._pressed.x()) >= 2 or self._caught is not None:
            if kind == "bar":
                self._drag_bar(*what, point)  # type: ignore[misc]
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
        keys = bytes(data.data(KEYS_MIME))
        return self.session.edit("Paste keys", lambda t: keying.pasted_keys(t, part, keys))

    def remove_chosen(self) -> None:
        """Remove the chosen keys, or else the chosen moves."""
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
        edge = self._span_edge(point) or (found is not None and found[1] != "body" and not found[0].mirrored) or self.key_at(point)
        self.setCursor(Qt.CursorShape.SizeHorCursor if edge else Qt.CursorShape.ArrowCursor)
        words = ""
        if found is not None:
            bar = found[0]
            words = f"{self.session.template.name_of(bar.at.part)}: frame {bar.start:g} to {bar.end:g}"
            words += "\nmirrors the way in" if bar.mirrored else "\nDrag to move, drag an end to stretch; Ctrl chooses several"
        elif self.time.hold_begin < point.x() < self.time.hold_end and point.y() < HEAD:
            words = "Click to open or fold the hold"
        self.setToolTip(words)

    # Dragging

    def _go(self, point: QPointF) -> None:
        self.session.go_to(max(0, min(self.session.template.length - 1, round(self.time.frame_at(point.x())))))

    def _drag_span(self, name: str, point: QPointF) -> None:
        template, time = self._start, self._start_time or self.time
        step = (point.x() - self._pressed.x()) / max(time.scale, 1e-6)
        value = getattr(template, name) + (step if name == "way_in" else -step)
        other = template.way_out if name == "way_in" else template.way_in
        value = max(0, min(round(value), template.length - other))
        fits = "fits_in" if name == "way_in" else "fits_out"
        self.session.edit(name.replace("_", " "), lambda t: edits.replace(t, **{name: value, fits: False}), ("span", self._gesture))

    def _snapped(self, frames: list[float]) -> float:
        """How much further to move so that one of ``frames`` catches on an edge; 0 when none is near."""
        time = self.time
        places = edges(self.rows, time.spans, frozenset(self.chosen))
        places += [float(self.session.frame), *(float(mark.frame) for mark in self.session.template.marks)]
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
            first = edits.replace(timing.shifted_by(move, by), frames=max(1, move.frames - by))
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
