"""How the folded ruler is drawn: spans, rows with their bars and keys, ties."""

import math

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPainterPath, QPen, QPolygonF

from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.icons import pixmap
from avlet.desktop.widgets.theme import BASE, MARIGOLD, MUTED, SMALL, TEXT, font
from avlet.document.editing.timing import MoveAt, move_at
from avlet.document.parts import CreditsPart
from avlet.document.template import Mark
from avlet.motion.folded_time import FoldedTime
from avlet.motion.rolling import Offer
from avlet.motion.ruler_rows import KEY_LANE, LANE, Bar, Lane, Row, RunLane
from avlet.numbers.exact import about

NAMES, HEAD, RIGHT = 150, 52, 16
MARK_HIGH = 16
"""How high the flags of marks are, at the top."""
_LONGEST_FLAG = 160.0
KeyAt = tuple[str, str, int]
"""A key: its part, its property's path, its number."""


def bar_area(time: FoldedTime, row: Row, bar: Bar) -> QRectF:
    """Where a bar lies on the ruler."""
    left, right = time.x_of(bar.start), time.x_of(bar.end)
    return QRectF(left, HEAD + row.lane_top(bar.lane), max(4.0, right - left), LANE - 2)


def page_edges(time: FoldedTime, row: Row) -> list[float]:
    """Where one page of credits ends and the next begins, on the ruler."""
    return [time.x_of(window.last + 1) for window in row.pages[:-1]]


def mark_flags(time: FoldedTime, marks: tuple[Mark, ...]) -> list[tuple[Mark, QRectF, str]]:
    """The flag of each mark on the ruler's head, with as much of its name as there is room for before the next one."""
    metrics, lefts = QFontMetricsF(font(SMALL)), [time.x_of(mark.frame) for mark in marks]
    flags = []
    for mark, left, following in zip(marks, lefts, [*lefts, math.inf][1:], strict=True):
        room = min(_LONGEST_FLAG, max(0.0, following - left - 8))
        words = metrics.elidedText(mark.name, Qt.TextElideMode.ElideRight, room) if room > 0 else ""
        flags.append((mark, QRectF(left - 1, 1, metrics.horizontalAdvance(words) + 8, MARK_HIGH - 1), words))
    return flags


def offer_areas(time: FoldedTime, row: Row) -> list[tuple[QRectF, Offer]]:
    """Where the lengths at which a roll moves whole px are offered."""
    left = time.x_of(0) + 150
    return [(QRectF(left + n * 104, HEAD + row.list_top, 98, LANE - 2), offer) for n, offer in enumerate(row.offers)]


class RulerPicture:
    """Draws one state of the ruler with a painter."""

    def __init__(
        self, painter: QPainter, session: Session, time: FoldedTime, width: float, chosen: tuple[MoveAt, ...], keys: tuple[KeyAt, ...],
        mark: Mark | None,
    ) -> None:  # fmt: skip
        self.painter, self.session, self.time, self.width = painter, session, time, width
        self.chosen, self.keys, self.mark = chosen, keys, mark

    def spans(self) -> None:
        painter, time = self.painter, self.time
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
        self._hold()
        for mark, area, words in mark_flags(time, template.marks):
            x = time.x_of(mark.frame)
            if mark == self.mark:
                painter.fillRect(area, QColor("#4A5258"))
            painter.setPen(QPen(QColor("#FFFFFF"), 1))
            painter.drawLine(QPointF(x, MARK_HIGH - 4), QPointF(x, 44))
            painter.drawText(QPointF(x + 3, 14), words)

    def _hold(self) -> None:
        painter, time = self.painter, self.time
        left, right = time.fold_begin, time.fold_end
        painter.setPen(QPen(QColor("#8A9398"), 1.2))
        painter.drawLine(QPointF(time.hold_begin, 29), QPointF(left, 29))
        painter.drawLine(QPointF(right, 29), QPointF(time.hold_end, 29))
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

    def row(self, row: Row) -> None:
        painter, time = self.painter, self.time
        y = HEAD + row.top
        selected = row.part.id in self.session.selection
        if selected:
            painter.fillRect(QRectF(0, y, self.width, row.height), QColor("#2B3135"))
        painter.setPen(QPen(QColor("#343A3F"), 1))
        painter.drawLine(QPointF(0, y + row.height - 0.5), QPointF(self.width, y + row.height - 0.5))
        painter.setFont(font(BASE))
        ink = TEXT if row.part.shown else MUTED
        indent = 10 + row.depth * 12
        painter.drawPixmap(QPointF(indent, y + 9), pixmap(row.part.kind, ink, 14))
        painter.setPen(QColor(ink))
        name = painter.fontMetrics().elidedText(row.part.name, Qt.TextElideMode.ElideRight, NAMES - indent - 30)
        painter.drawText(QRectF(indent + 21, y + 5, NAMES, LANE + 4), Qt.AlignmentFlag.AlignVCenter, name)
        arrived = [bar.end for bar in row.bars if bar.at.where == "way_in" and not bar.mirrored]
        leaving = [bar.start for bar in row.bars if bar.mirrored or bar.at.where != "way_in"]
        left, right = time.x_of(max(arrived, default=0.0)), time.x_of(min(leaving, default=float(time.last)))
        painter.fillRect(QRectF(left, y + row.lane_top(0) - row.top + LANE / 2 - 3, max(0.0, right - left), 6), QColor("#3E454A"))
        for bar in row.bars:
            self._bar(row, bar)
        self._pages(row)
        self._roll(row)
        for number, lane in enumerate(row.keys):
            self._lane(row, number, lane)
        for number, run in enumerate(row.runs, len(row.keys)):
            self._run(row, number, run)

    def _pages(self, row: Row) -> None:
        """Pages of credits side by side; the edges between them can be dragged."""
        painter, time, part = self.painter, self.time, row.part
        by_hand = {stay.page for stay in part.movement.stays} if isinstance(part, CreditsPart) else set()
        painter.setFont(font(SMALL - 1))
        for number, window in enumerate(row.pages):
            left, right = time.x_of(window.first), time.x_of(window.last + 1)
            area = QRectF(left, HEAD + row.list_top, max(1.0, right - left - 2), LANE - 2)
            painter.setPen(QPen(QColor(MARIGOLD), 1.6 if number in by_hand else 0.8))
            painter.setBrush(QColor(244, 178, 62, 60 if number in by_hand else 30))
            painter.drawRoundedRect(area, 3, 3)
            painter.setPen(QColor("#F2C987"))
            words = painter.fontMetrics().elidedText(f"{number + 1} · {window.frames}", Qt.TextElideMode.ElideRight, int(area.width()) - 4)
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, words)

    def _roll(self, row: Row) -> None:
        """How fast credits roll, and the lengths at which they move whole px."""
        if not row.speed:
            return
        painter, fps = self.painter, float(self.session.template.frame.fps)
        painter.setFont(font(SMALL - 1))
        painter.setPen(QColor("#F2C987"))
        area = QRectF(self.time.x_of(0) + 6, HEAD + row.list_top, 140, LANE - 2)
        painter.drawText(area, Qt.AlignmentFlag.AlignVCenter, f"{about(row.speed)} px a frame")
        for chip, offer in offer_areas(self.time, row):
            here = offer.length == self.session.length()
            painter.setPen(QPen(QColor(MARIGOLD), 1.6 if here else 0.8))
            painter.setBrush(QColor("#352E20"))
            painter.drawRoundedRect(chip, 3, 3)
            painter.setPen(QColor("#F2C987"))
            painter.drawText(chip, Qt.AlignmentFlag.AlignCenter, f"{offer.speed} px · {offer.length / fps:.1f} s")

    def _bar(self, row: Row, bar: Bar) -> None:
        painter, time = self.painter, self.time
        area = bar_area(time, row, bar)
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

    def ties(self, rows: list[Row]) -> None:
        """A thread from what a start waits for to the bar that waits."""
        painter, time = self.painter, self.time
        areas = {bar.at: (row, bar) for row in rows for bar in row.bars if not bar.mirrored}
        for at, (row, bar) in areas.items():
            move = move_at(self.session.template, at)
            if move is None or move.tie is None:
                continue
            where = "way_in" if move.tie.to == "its way in" else at.where
            others = [(r, b) for a, (r, b) in areas.items() if a.part == move.tie.on and a.where == where]
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

    def _run(self, row: Row, number: int, run: RunLane) -> None:
        """A count, or what runs with one: a wedge from where it begins to where it lands."""
        painter, time = self.painter, self.time
        y = HEAD + row.key_top(number) + KEY_LANE / 2
        painter.setFont(font(SMALL - 1))
        painter.setPen(QColor(MUTED))
        words = painter.fontMetrics().elidedText(run.label, Qt.TextElideMode.ElideRight, NAMES - 40)
        painter.drawText(QRectF(31 + row.depth * 12, y - 8, NAMES - 40, 16), Qt.AlignmentFlag.AlignVCenter, words)
        left, right = time.x_of(run.start), time.x_of(run.end)
        painter.setPen(QPen(QColor(MARIGOLD), 1))
        painter.setBrush(QColor(244, 178, 62, 70))
        painter.drawPolygon(QPolygonF([QPointF(left, y + 5), QPointF(right, y - 5), QPointF(right, y + 5)]))

    def _lane(self, row: Row, number: int, lane: Lane) -> None:
        painter, time = self.painter, self.time
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
