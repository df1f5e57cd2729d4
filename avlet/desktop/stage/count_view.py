"""The count of the selected counter as a curve: its value over the frames, where figures are added, how fast it is now."""

from decimal import Decimal

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QSizePolicy, QVBoxLayout, QWidget

from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.decimal_box import DecimalBox
from avlet.desktop.widgets.theme import MARIGOLD, MUTED, SMALL, font
from avlet.document.editing import counting, edits
from avlet.motion.counting import CountedPart, counters_of
from avlet.numbers.exact import about, exact, plain

_TOP, _BOTTOM, _LEFT, _RIGHT = 8.0, 18.0, 14.0, 70.0
_NEAR = 9.0


class CountView(QWidget):
    """Shown while a counter is selected. Its begin and its landing are dragged; anywhere else a drag moves the playhead."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 6, 16, 0)
        layout.setSpacing(2)
        row = QHBoxLayout()
        title = QLabel("The count")
        title.setProperty("role", "strong")
        row.addWidget(title)
        row.addSpacing(10)
        self.now = DecimalBox("0")
        self.now.setProperty("chip", "time")
        self.now.setAccessibleName("The number at the playhead; another one goes to where it shows")
        self.now.value_changed.connect(self.go_to_number)
        row.addWidget(self.now)
        row.addSpacing(6)
        self.facts = QLabel()
        self.facts.setProperty("role", "muted")
        row.addWidget(self.facts, 1)
        layout.addLayout(row)
        self.curve = _Curve(self)
        layout.addWidget(self.curve)
        for signal in (session.changed, session.selection_changed, session.answers_changed):
            signal.connect(self.follow)
        session.frame_changed.connect(lambda _: self.follow())
        self.follow()

    @property
    def counted(self) -> CountedPart | None:
        """The selected counter, as it counts on the stage."""
        selected = self.session.selected
        return (
            counters_of(self.session.scene().choreography.movers).get(selected) if selected is not None and not self.session.also else None
        )

    def follow(self) -> None:
        """Show the selected counter's curve, or nothing."""
        counted = self.counted
        self.curve.setVisible(counted is not None)
        if counted is None:
            return
        self.now.step = counted.part.step
        self.now.languages = (counted.part.writing.language,)
        self.now.show_value(plain(counted.value(counted.moment(self.time_now()))))
        self.facts.setText(self._said(counted))
        self.curve.update()

    def time_now(self) -> float:
        """The playhead in designed frames."""
        return self.session.scene().spans.since_begin(self.session.frame)

    def _said(self, counted: CountedPart) -> str:
        scene, time = self.session.scene(), self.time_now()
        spans = scene.spans
        speed = counted.speed(time) * float(counted.figures.count.step) * spans.pace
        moves = f"{speed:,.3g} a frame now" if counted.times.begin < time < counted.times.land else "it stands still now"
        land = counted.times.land / spans.pace
        rests = max(0.0, spans.length - 1 - spans.way_out - land)
        seen = f"lands at {about(land)}, seen at rest for {about(rests)} frames ({rests / float(scene.rest.frame.fps):.2f} s)"
        return f"at frame {self.session.frame} · {moves} · {seen}"

    def go_to_number(self, words: str) -> None:
        """Put the playhead where a number shows first, or where the count comes nearest to it."""
        counted = self.counted
        if counted is None:
            return
        wanted, spans = exact(words), self.session.scene().spans
        frames = range(spans.length)
        up = counted.figures.count.end >= counted.figures.count.start
        values = [counted.value(counted.moment(spans.since_begin(f))) for f in frames]
        reached = next((f for f in frames if (values[f] >= wanted) == up or values[f] == wanted), spans.length - 1)
        self.session.go_to(reached)
        self.now.setModified(False)
        self.follow()


class _Curve(QWidget):
    """The curve itself."""

    def __init__(self, view: CountView) -> None:
        super().__init__(view)
        self.view = view
        self._held = ""
        self._gesture = 0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(64)
        self.setMouseTracking(True)
        self.setAccessibleName("The curve of the count")
        self.setToolTip("Drag the ends of the count, or the playhead anywhere else")

    def sizeHint(self) -> QSize:
        return QSize(400, 104)

    def x_of(self, time: float) -> float:
        """Where a moment, in designed frames, lies."""
        spans = self.view.session.scene().spans
        last = max(1.0, spans.since_begin(spans.length - 1))
        return _LEFT + (self.width() - _LEFT - _RIGHT) * time / last

    def _time_at(self, x: float) -> float:
        spans = self.view.session.scene().spans
        return (x - _LEFT) / max(1.0, self.width() - _LEFT - _RIGHT) * max(1.0, spans.since_begin(spans.length - 1))

    def _y_of(self, place: float, most: float) -> float:
        return self.height() - _BOTTOM - (self.height() - _TOP - _BOTTOM) * place / max(most, 1e-9)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        counted = self.view.counted
        if counted is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(font(SMALL))
        spans = self.view.session.scene().spans
        last, pixels = spans.since_begin(spans.length - 1), max(2, self.width() // 2)
        times = [last * n / pixels for n in range(pixels + 1)]
        places = [float(counted.moment(t).place) for t in times]
        steps = float(counted.figures.count.steps)
        most = max(steps, *places)
        self._spans(painter, last)
        self._figures(painter, counted, times, places)
        painter.setPen(QPen(QColor(MARIGOLD), 2.0))
        line = [QPointF(self.x_of(t), self._y_of(p, most)) for t, p in zip(times, places, strict=True)]
        painter.drawPolyline(QPolygonF(line))
        end = self._y_of(steps, most)
        words = counted.figures.final.words
        painter.drawText(QRectF(self.width() - _RIGHT + 6, end - 9, _RIGHT - 6, 18), Qt.AlignmentFlag.AlignVCenter, words)
        now = self.view.time_now()
        painter.setPen(QPen(QColor("#FFFFFF"), 1.0))
        painter.drawLine(QPointF(self.x_of(now), 2), QPointF(self.x_of(now), self.height() - _BOTTOM))
        for name, time in self._ends(counted):
            place = 0.0 if name == "begin" else steps
            painter.setBrush(QColor(MARIGOLD if self._held == name else "#1E2225"))
            painter.setPen(QPen(QColor(MARIGOLD), 2.0))
            painter.drawEllipse(QPointF(self.x_of(time), self._y_of(place, most)), 4.5, 4.5)

    def _spans(self, painter: QPainter, last: float) -> None:
        """Way in and way out, as a ground."""
        spans = self.view.session.scene().spans
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#2A2620"))
        height = self.height() - _BOTTOM
        painter.drawRect(QRectF(self.x_of(0), 0, self.x_of(spans.designed_in) - self.x_of(0), height))
        begin = self.x_of(last - spans.designed_out)
        painter.drawRect(QRectF(begin, 0, self.x_of(last) - begin, height))

    def _figures(self, painter: QPainter, counted: CountedPart, times: list[float], places: list[float]) -> None:
        """Where the number gets a figure more, or one less."""
        count, right = counted.figures.count, -40.0
        way = 1 if count.end >= count.start else -1
        for power in range(1, 16):
            for sign in (1, -1):
                edge = sign * Decimal(10) ** power
                at = float((edge - count.start) * way / count.step)
                if not 0 < at <= count.steps:
                    continue
                time = next((t for t, p in zip(times, places, strict=True) if p >= at), None)
                if time is None:
                    continue
                x = self.x_of(time)
                painter.setPen(QPen(QColor("#5A6268"), 1.0, Qt.PenStyle.DashLine))
                painter.drawLine(QPointF(x, 4), QPointF(x, self.height() - _BOTTOM))
                words = counted.figures.words(edge, False).words
                width = painter.fontMetrics().horizontalAdvance(words)
                if x - width / 2 > right:
                    painter.setPen(QColor(MUTED))
                    painter.drawText(QPointF(x - width / 2, self.height() - 5.0), words)
                    right = x + width / 2 + 6

    # Dragging

    @staticmethod
    def _ends(counted: CountedPart) -> list[tuple[str, float]]:
        found = [("begin", counted.times.begin)]
        return found if counted.part.count.pace == "in real time" else [*found, ("land", counted.times.land)]

    def end_at(self, point: QPointF) -> str:
        """Which end of the count lies under a point: *begin*, *land* or none."""
        counted = self.view.counted
        if counted is None:
            return ""
        near = [(abs(self.x_of(time) - point.x()), name) for name, time in self._ends(counted)]
        distance, name = min(near)
        return name if distance <= _NEAR else ""

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self._held, self._gesture = self.end_at(event.position()) or "playhead", self._gesture + 1
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if not self._held:
            self.setCursor(Qt.CursorShape.SizeHorCursor if self.end_at(event.position()) else Qt.CursorShape.ArrowCursor)
            return
        time, session = self._time_at(event.position().x()), self.view.session
        if self._held == "playhead":
            session.go_to(round(time / session.scene().spans.pace))
        else:
            self._drag(round(time))

    def _drag(self, time: int) -> None:
        """Put the held end at a moment, in whole designed frames."""
        session, counted = self.view.session, self.view.counted
        if counted is None:
            return
        part, times = counted.part, counted.times
        count, spans = part.count, session.scene().spans
        if self._held == "begin":
            by = time - times.begin
            if count.tie is not None:
                changes: dict[str, object] = {"tie": edits.replace(count.tie, frames=round(count.tie.frames + by))}
            else:
                changes = {"start": max(0, round(count.start + by))}
            if count.lands == "after" and count.pace == "eased":
                changes["frames"] = max(0, round(count.frames - by))
        elif count.lands == "after":
            changes = {"frames": max(0, round(time - times.begin))}
        else:
            changes = {"frames": max(0, round(spans.since_begin(spans.length - 1) - spans.designed_out - time))}
        words = "Begin of a count" if self._held == "begin" else "Landing of a count"
        session.edit(words, lambda t: counting.put_count(t, part.id, **changes), ("count", self._gesture))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._held in ("begin", "land"):
            self.view.session.history.close_gesture()
        self._held = ""
        self.update()
