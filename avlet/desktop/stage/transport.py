"""The transport: play, the time, and the slim time bar with its three spans."""

import itertools

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QMenu, QSizePolicy, QToolButton, QWidget

from avlet.desktop.sessions.player import Player
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.stage.frame_cache import FrameCache
from avlet.desktop.widgets.buttons import flat_button, flat_switch
from avlet.desktop.widgets.icons import icon
from avlet.desktop.widgets.theme import MARIGOLD, SMALL, font
from avlet.desktop.widgets.time_box import TimeBox
from avlet.document.editing.edits import replace
from avlet.document.template import Template


class TimeBar(QWidget):
    """Way in, hold and way out on one line. Dragging goes to a frame; dragging the end of a span changes it."""

    def __init__(self, session: Session, cache: FrameCache | None = None, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.cache = session, cache
        self._held: str | None = None
        self.setMouseTracking(True)
        self.setMinimumWidth(160)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Time bar")
        session.changed.connect(self.update)
        session.frame_changed.connect(lambda _: self.update())

    def sizeHint(self) -> QSize:
        return QSize(400, 34)

    def x_of(self, frame: float) -> float:
        """Where a frame's begin lies."""
        return 8 + frame / max(1, self.session.length()) * (self.width() - 16)

    def frame_at(self, x: float) -> int:
        return round((x - 8) / max(1, self.width() - 16) * self.session.length())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        template, spans = self.session.template, self.session.scene().spans
        ends = (0, spans.way_in, template.length - spans.way_out, template.length)
        painter.setPen(Qt.PenStyle.NoPen)
        for index, (start, end) in enumerate(itertools.pairwise(ends)):
            hold = index == 1
            painter.setBrush(QColor("#4A5358" if hold else MARIGOLD))
            y, height = (14.5, 5) if hold else (13, 8)
            painter.drawRoundedRect(QRectF(self.x_of(start), y, max(0.0, self.x_of(end) - self.x_of(start)), height), 2, 2)
        painter.setFont(font(SMALL - 1))
        painter.setPen(QColor("#C7A263"))
        self._span_words(painter, f"way in {spans.way_in}", self.x_of(0), self.x_of(spans.way_in))
        self._span_words(painter, f"way out {spans.way_out}", self.x_of(template.length - spans.way_out), self.x_of(template.length))
        painter.setPen(QPen(QColor("#2A2108"), 2))
        for edge in (spans.way_in, template.length - spans.way_out):
            painter.drawLine(QPointF(self.x_of(edge), 11), QPointF(self.x_of(edge), 23))
        self._paint_kept(painter)
        x = self.x_of(self.session.frame + 0.5)
        painter.setPen(QPen(QColor(0, 0, 0, 150), 1))
        painter.setBrush(QColor("#FFFFFF"))
        painter.drawEllipse(QPointF(x, 17), 6.5, 6.5)

    def _paint_kept(self, painter: QPainter) -> None:
        """A fine line under the frames that are drawn already."""
        if self.cache is None:
            return
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#7F8B91"))
        width = max(1.0, (self.width() - 16) / max(1, self.session.length()))
        for frame in self.cache.frames:
            painter.drawRect(QRectF(self.x_of(frame), 8, width, 1.6))

    @staticmethod
    def _span_words(painter: QPainter, words: str, left: float, right: float) -> None:
        if painter.fontMetrics().horizontalAdvance(words) <= right - left + 24:
            painter.drawText(QRectF(left - 12, 22, right - left + 24, 12), Qt.AlignmentFlag.AlignCenter, words)

    def _edge_at(self, x: float, y: float) -> str | None:
        template = self.session.template
        if abs(x - self.x_of(self.session.frame + 0.5)) < 8:
            return None
        if abs(x - self.x_of(template.way_in)) < 5:
            return "way_in"
        return "way_out" if abs(x - self.x_of(template.length - template.way_out)) < 5 else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self._held = self._edge_at(event.position().x(), event.position().y()) or "frame"
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        x, template = event.position().x(), self.session.template
        if self._held is None:
            edge = self._edge_at(x, event.position().y())
            self.setCursor(Qt.CursorShape.SizeHorCursor if edge else Qt.CursorShape.ArrowCursor)
            self.setToolTip("Drag to change the span; only the hold stretches" if edge else "")
        elif self._held == "frame":
            self.session.go_to(self.frame_at(x) if self.frame_at(x) < template.length else template.length - 1)
        elif event.buttons():
            frame = max(0, min(self.frame_at(x), template.length))
            value = min(frame, template.length - template.way_out) if self._held == "way_in" else min(
                template.length - frame, template.length - template.way_in
            )  # fmt: skip
            held = self._held
            self.session.edit(held.replace("_", " "), lambda t: replace(t, **{held: value}), ("span", held))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._held and self._held != "frame":
            self.session.history.close_gesture()
        self._held = None


class Transport(QWidget):
    """Buttons, time and bar of the stage."""

    played = pyqtSignal(bool)

    def __init__(self, session: Session, cache: FrameCache | None = None, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.player = Player(session.length, lambda: session.template.frame.fps, self)
        self.player.frame_due.connect(session.go_to)
        self.player.playing_changed.connect(self._show_playing)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(12, 2, 12, 2)
        layout.setSpacing(6)
        self.button = flat_button("play", "Play or stop (Space)", self.toggle)
        layout.addWidget(self.button)
        self.loop = flat_switch("loop", "Play over and over; the arrow says what", lambda on: setattr(self.player, "loop", on))
        self.loop.setPopupMode(QToolButton.ToolButtonPopupMode.MenuButtonPopup)
        menu = QMenu(self.loop)
        menu.aboutToShow.connect(lambda: self._fill_loops(menu))
        self.loop.setMenu(menu)
        self.loop.setFixedWidth(42)
        self.looped = "all"
        self.player.stretch = self.stretch
        layout.addWidget(self.loop)
        self.time = TimeBox("The present time")
        self.time.typed.connect(self._go)
        self.time.refused.connect(session.refused)
        layout.addWidget(self.time)
        self.frames = QLabel()
        self.frames.setProperty("role", "small")
        self.frames.setFont(font(SMALL, figures=True))
        self.frames.setFixedWidth(96)
        layout.addWidget(self.frames)
        self.bar = TimeBar(session, cache)
        layout.addWidget(self.bar, 1)
        session.frame_changed.connect(lambda _: self._show_time())
        session.changed.connect(self._show_time)
        self._show_playing(False)
        self._show_time()

    def loops(self) -> dict[str, tuple[int, int]]:
        """What can be looked at over and over: all of it, the way in with as much again of the hold, the way out, between marks."""
        spans, length = self.session.scene().spans, self.session.length()
        found = {
            "all": (0, length), "way in": (0, min(length, spans.way_in + max(6, spans.way_in // 2))),
            "way out": (max(0, length - spans.way_out - max(6, spans.way_out // 2)), length),
        }  # fmt: skip
        for a, b in itertools.pairwise(self.session.template.marks):
            if b.frame > a.frame:
                found[f"{a.name} to {b.name}"] = (a.frame, min(length, b.frame + 1))
        return found

    def stretch(self) -> tuple[int, int]:
        """The frames that are played."""
        return self.loops().get(self.looped, (0, self.session.length()))

    def _fill_loops(self, menu: QMenu) -> None:
        menu.clear()
        for name in self.loops():
            action = menu.addAction(f"Play {name}")
            assert action is not None
            action.setCheckable(True)
            action.setChecked(name == self.looped)
            action.triggered.connect(lambda _=False, n=name: setattr(self, "looped", n))

    def toggle(self) -> None:
        self.player.toggle(self.session.frame)

    def _show_playing(self, playing: bool) -> None:
        self.button.setIcon(icon("pause" if playing else "play"))
        self.played.emit(playing)
        self._show_time()

    def _go(self, frame: int) -> None:
        self.player.stop()
        self.session.go_to(frame)

    def _show_time(self) -> None:
        template: Template = self.session.template
        rate = template.frame.fps
        self.time.show_frame(self.session.frame, rate, drop=template.drop_frame)
        words = f"{self.session.frame} · {float(self.session.frame / rate):.2f} s"
        if self.player.playing and self.player.dropped:
            words = f"{self.player.dropped} dropped"
        self.frames.setText(words)
        kept = "" if self.bar.cache is None else f"\n{len(self.bar.cache.frames)} frames are drawn, {self.bar.cache.bytes / 1e6:.0f} MB"
        self.frames.setToolTip(f"Frame {self.session.frame}, {float(self.session.frame / rate):.2f} s{kept}")
