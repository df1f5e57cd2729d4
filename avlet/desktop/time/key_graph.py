"""The keys of one property as a graph of its value, or of its speed: points to drag, slopes to bend."""

from typing import Literal

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.theme import MARIGOLD, MUTED, SMALL, font
from avlet.document.editing import edits, keying
from avlet.document.template import Template
from avlet.document.time.keys import Key, Keyed
from avlet.motion.keyed import key_time, value_at
from avlet.motion.spans import Spans
from avlet.numbers.exact import about

Held = tuple[Literal["key", "in", "out"], int]
_ARM = 34.0

KEYS: tuple[tuple[str, str], ...] = (
    ("Ctrl+Right", "The next key"), ("Ctrl+Left", "The key before"), ("Up", "Its value 1 more"), ("Down", "1 less"),
    ("Shift+Up", "10 more"), ("Shift+Down", "10 less"), ("Alt+Right", "A frame later"), ("Alt+Left", "A frame earlier"),
)  # fmt: skip
"""What the keys do in the graph of a property's keys, in words."""


def _wanted(event: QKeyEvent) -> tuple[str, int] | None:
    """What a key asks of the graph: to *choose* a key, to change its *value* or its *time*, and by how much."""
    held, key = event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier, event.key()
    step = 10 if held & Qt.KeyboardModifier.ShiftModifier else 1
    if key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and not held & ~Qt.KeyboardModifier.ShiftModifier:
        return "value", step if key == Qt.Key.Key_Up else -step
    if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
        way = 1 if key == Qt.Key.Key_Right else -1
        if held == Qt.KeyboardModifier.ControlModifier:
            return "choose", way
        if held & Qt.KeyboardModifier.AltModifier:
            return "time", way * step
    return None


class KeyGraph(QWidget):
    """A graph over the title's whole time. Alt breaks a key's slopes apart, which else stay joined."""

    def __init__(self, session: Session, part_id: str, path: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.part_id, self.path = session, part_id, path
        self.shows: Literal["value", "speed"] = "value"
        self.chosen: int | None = None
        self._held: Held | None = None
        self._drawn_of: object = None
        self._drawn = np.zeros(2), np.zeros(2)
        self._gesture = 0
        self.setMouseTracking(True)
        self.setFixedHeight(196)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Graph of the keys")
        self.setToolTip("Drag a key or the end of its slope; Alt breaks the slopes apart; a double click makes a key.")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def sizeHint(self) -> QSize:
        return QSize(280, 196)

    @property
    def keyed(self) -> Keyed | None:
        part = self.session.template.part(self.part_id)
        return keying.keyed_of(part, self.path) if part is not None else None

    def _area(self) -> QRectF:
        return QRectF(12, 10, self.width() - 24, self.height() - 28)

    def _curve(self) -> tuple[np.ndarray, np.ndarray]:
        """Frames, and the value or its change per frame at each. Every place in the widget asks for it, so it is kept."""
        of = self.keyed, self.session.scene().spans, self.shows
        if of != self._drawn_of:
            self._drawn_of, self._drawn = of, self._curve_of(*of)
        return self._drawn

    def _curve_of(self, keyed: Keyed | None, spans: Spans, shows: str) -> tuple[np.ndarray, np.ndarray]:
        frames = np.linspace(0.0, spans.length - 1.0, 400)
        if keyed is None:
            return frames, np.zeros(400)
        values = np.array([float(value_at(keyed, spans, f)) for f in frames])
        return (frames, values) if shows == "value" else (frames, np.gradient(values, frames))

    def _range(self) -> tuple[float, float]:
        low, high = float(self._curve()[1].min()), float(self._curve()[1].max())
        spare = max((high - low) * 0.2, abs(high) * 0.05, 1.0)
        return low - spare, high + spare

    def place(self, frame: float, value: float) -> QPointF:
        """Where a value at a frame lies in the widget."""
        area, (low, high) = self._area(), self._range()
        length = max(1, self.session.scene().spans.length - 1)
        return QPointF(area.x() + frame / length * area.width(), area.bottom() - (value - low) / (high - low) * area.height())

    def _at(self, point: QPointF) -> tuple[float, float]:
        area, (low, high) = self._area(), self._range()
        length = max(1, self.session.scene().spans.length - 1)
        return (point.x() - area.x()) / area.width() * length, low + (area.bottom() - point.y()) / area.height() * (high - low)

    def _arms(self, number: int, key: Key) -> tuple[QPointF, QPointF]:
        """The ends of a key's slopes, before and after it."""
        spans, area, (low, high) = self.session.scene().spans, self._area(), self._range()
        at = self.place(key_time(key, spans), float(key.value))
        across, up = area.width() / max(1, spans.length - 1), area.height() / (high - low)

        def arm(slope: float | None, way: int) -> QPointF:
            direction = QPointF(across, -(slope if slope is not None else self._own_slope(number)) * up)
            length = max(1e-6, (direction.x() ** 2 + direction.y() ** 2) ** 0.5)
            return QPointF(at + direction * (way * _ARM / length))

        return arm(key.slope_in, -1), arm(key.slope_out, 1)

    def _own_slope(self, number: int) -> float:
        keyed, spans = self.keyed, self.session.scene().spans
        assert keyed is not None
        time = key_time(keyed.keys[number], spans)
        before, after = (float(value_at(keyed, spans, time + d)) for d in (-0.05, 0.05))
        return (after - before) / 0.1

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#17191B"))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0, 0, -1, -1), 6, 6)
        keyed, spans = self.keyed, self.session.scene().spans
        if keyed is None:
            return
        frames, values = self._curve()
        for edge in (spans.way_in, spans.length - 1 - spans.way_out):
            painter.setPen(QPen(QColor("#33383C"), 1))
            x = self.place(edge, 0).x()
            painter.drawLine(QPointF(x, 4), QPointF(x, self.height() - 4))
        painter.setPen(QPen(QColor(MARIGOLD), 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF([self.place(float(f), float(v)) for f, v in zip(frames, values, strict=True)]))
        x = self.place(self.session.frame, 0).x()
        painter.setPen(QPen(QColor("#FFFFFF"), 1))
        painter.drawLine(QPointF(x, 4), QPointF(x, self.height() - 4))
        if self.shows == "value":
            self._paint_keys(painter, keyed)
        painter.setFont(font(SMALL - 1, figures=True))
        painter.setPen(QColor(MUTED))
        low, high = float(values.min()), float(values.max())
        unit = " a frame" if self.shows == "speed" else ""
        painter.drawText(
            QRectF(14, self.height() - 17, self.width() - 28, 14), Qt.AlignmentFlag.AlignLeft, f"{about(low)} to {about(high)}{unit}"
        )

    def _paint_keys(self, painter: QPainter, keyed: Keyed) -> None:
        spans = self.session.scene().spans
        for number, key in enumerate(keyed.keys):
            at = self.place(key_time(key, spans), float(key.value))
            if number == self.chosen:
                painter.setPen(QPen(QColor("#8A9398"), 1))
                painter.setBrush(QColor("#8A9398"))
                for end in self._arms(number, key):
                    painter.drawLine(at, end)
                    painter.drawEllipse(end, 3.6, 3.6)
            painter.setPen(QPen(QColor("#17191B"), 1.4))
            painter.setBrush(QColor("#FFFFFF" if number == self.chosen else MARIGOLD))
            painter.drawEllipse(at, 5, 5)

    # Keys

    def event(self, event: QEvent | None) -> bool:
        """Its own keys mean keys of the graph here, whatever they mean elsewhere."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and _wanted(event) is not None:
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        wanted = _wanted(event) if event is not None else None
        keyed = self.keyed
        if wanted is None or keyed is None or not keyed.keys:
            super().keyPressEvent(event)
            return
        what, by = wanted
        last = len(keyed.keys) - 1
        if what == "choose" or self.chosen is None or self.chosen > last:
            self.chosen = (0 if by > 0 else last) if self.chosen is None else max(0, min(last, self.chosen + by))
            self.update()
            return
        number, spans = self.chosen, self.session.scene().spans

        def change(key: Key) -> Key:
            if what == "value":
                return edits.replace(key, value=round(float(key.value) + by, 4))
            frame = max(0, min(spans.length - 1, round(key_time(key, spans)) + by))
            tied, at = keying.anchored(frame, spans.length, spans.way_in, spans.way_out)
            return edits.replace(key, tied=tied, at=at)

        gesture = ("graph keys", id(self), number)
        self.session.edit("Key", lambda t: keying.changed_keys(t, self.part_id, self.path, [number], change), gesture)
        self.update()

    # Mouse

    def held_at(self, point: QPointF) -> Held | None:
        """What lies under a point: an end of the chosen key's slopes, or a key."""
        keyed, spans = self.keyed, self.session.scene().spans
        if keyed is None or self.shows == "speed":
            return None
        if self.chosen is not None and self.chosen < len(keyed.keys):
            before, after = self._arms(self.chosen, keyed.keys[self.chosen])
            for end, name in ((before, "in"), (after, "out")):
                if (point - end).manhattanLength() < 9:
                    return name, self.chosen  # type: ignore[return-value]
        near = [(n, self.place(key_time(k, spans), float(k.value))) for n, k in enumerate(keyed.keys)]
        found = next((n for n, at in near if (point - at).manhattanLength() < 10), None)
        return None if found is None else ("key", found)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self._gesture += 1
        self._held = self.held_at(event.position())
        if self._held is None:
            self.session.go_to(round(self._at(event.position())[0]))
        else:
            self.chosen = self._held[1]
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._held is None or not event.buttons():
            return
        frame, value = self._at(event.position())
        apart = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        what, number = self._held
        spans = self.session.scene().spans

        def change(key: Key) -> Key:
            if what == "key":
                tied, at = keying.anchored(max(0, min(spans.length - 1, round(frame))), spans.length, spans.way_in, spans.way_out)
                return edits.replace(key, tied=tied, at=at, value=round(value, 2))
            run = frame - key_time(key, spans)
            slope = round((value - float(key.value)) / run, 4) if abs(run) > 1e-6 else 0.0
            names = ("slope_in", "slope_out") if not apart else ("slope_in",) if what == "in" else ("slope_out",)
            return edits.replace(key, **dict.fromkeys(names, slope))

        def whole(t: Template) -> Template:
            return keying.changed_keys(t, self.part_id, self.path, [number], change)

        self.session.edit("Key", whole, ("graph", id(self), self._gesture))
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._held = None
        self.session.history.close_gesture()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self.held_at(event.position()) is None:
            frame = round(self._at(event.position())[0])
            self.session.key(self.part_id, self.path, frame)
            self.chosen = self._key_at(frame)
            self.update()

    def _key_at(self, frame: int) -> int | None:
        """The number of the key that stands at a frame."""
        keyed, spans = self.keyed, self.session.scene().spans
        return None if keyed is None else next((n for n, k in enumerate(keyed.keys) if round(key_time(k, spans)) == frame), None)
