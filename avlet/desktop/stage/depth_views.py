"""A space from above and from the side, to scale: members, camera and lights are dragged there, moved by keys, or typed."""

import itertools
import math
from collections.abc import Callable, Iterator

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from avlet.arrays import Floats
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.stage.depth_items import ABOVE, CAMERA, SIDE, SUN, Figure, Hold, Item, choose, chosen_in, figures_of, items_of, space_of
from avlet.desktop.widgets.numbers import NumberBox
from avlet.desktop.widgets.theme import GROUND, LINE, MARIGOLD, MUTED, PANEL, SEAGLASS, SMALL, STRONG, TEXT, font
from avlet.document.parts import BallPart, LampPart, SpacePart
from avlet.motion.camera import position, turned
from avlet.paint.scene import Scene

_HEAD, _EDGE = 30, 12
_LEAST_DEPTH, _ROOM = 200.0, 1.08
"""px of depth that are shown at least before the sheet and behind it; how much more than what is there."""
_STEP, _DRAG_BEGINS = 10.0, 3.0
_LATER = 200
"""ms that the views wait while something is dragged elsewhere."""
_TURN = {CAMERA: 0.5, SUN: 1.0}
"""Degrees for each px of the screen."""
_names = {ABOVE: "From above", SIDE: "From the side"}
_gestures = itertools.count()


KEYS: tuple[tuple[str, str], ...] = (
    ("Right", "The next member, light or the camera"), ("Left", "The one before"), ("Up", "Further away, or round and up"),
    ("Down", "Nearer, or round and down"), ("Shift+Up", "Along the view; the camera further away"),
    ("Shift+Down", "Along the view; the camera nearer"),
)  # fmt: skip
"""What the keys do in both views of a space, in words."""


class DepthViews(QWidget):
    """Both views side by side, shown while a space or something in one is selected."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 6, 12, 4)
        row.setSpacing(10)
        self.above, self.side = DepthView(session, ABOVE), DepthView(session, SIDE)
        row.addWidget(self.above)
        row.addWidget(self.side)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self._show)
        session.changed.connect(self.follow)
        for signal in (session.selection_changed, session.answers_changed):
            signal.connect(self._show)
        session.frame_changed.connect(lambda _: self._show())

    @property
    def space(self) -> SpacePart | None:
        """The space that is shown."""
        return space_of(self.session)

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._show()

    def follow(self) -> None:
        """Show the space as it stands in the frame that is on the stage: at once, or a little later while something else is dragged."""
        if self.session.history.in_gesture and not (self.above.held or self.side.held):
            if not self._later.isActive():
                self._later.start(_LATER)
        else:
            self._show()

    def _show(self) -> None:
        if self.space is not None and self.isVisible():
            self.above.follow()
            self.side.follow()


class Figures(QWidget):
    """Numbers in a row, each between its words. ``finished`` is called when one has been dragged or typed."""

    def __init__(self, finished: Callable[[], object]) -> None:
        super().__init__()
        self._finished = finished
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(4)
        self._shown: list[str] = []
        self._figures: list[Figure] = []
        self.boxes: list[NumberBox] = []

    def show_figures(self, figures: list[Figure]) -> None:
        """Show these numbers; boxes stay while they are of the same things."""
        self._figures = figures
        if [one.name for one in figures] == self._shown:
            for box, one in zip(self.boxes, figures, strict=True):
                box.show_value(one.value)
            return
        self._shown, self.boxes = [one.name for one in figures], []
        while (entry := self._row.takeAt(0)) is not None:
            if (gone := entry.widget()) is not None:
                gone.hide()
                gone.deleteLater()
        for number, one in enumerate(figures):
            self._words(one.before)
            box = NumberBox(one.value, one.low, one.high, one.step)
            box.setProperty("chip", "follow")
            box.setAccessibleName(one.name)
            box.value_changed.connect(lambda value, n=number, b=box: self._figures[n].put(value, ("figure", id(b))))
            box.finished.connect(self._finished)
            self._row.addWidget(box)
            self.boxes.append(box)
            self._words(one.after)

    def _words(self, words: str) -> None:
        if words:
            label = QLabel(words)
            label.setProperty("role", "small")
            self._row.addWidget(label)


class DepthView(QWidget):
    """One view. Left and Right choose what Up and Down move: nearer, or round and up; with Shift along the view, and the camera nearer."""

    def __init__(self, session: Session, axis: int) -> None:
        super().__init__()
        self.session, self.axis = session, axis
        self._hold: Hold | None = None
        self._begun = QPointF()
        self._far = False
        self._kept_range: tuple[float, float] | None = None
        self._known: tuple[Scene, int, str, list[Item]] | None = None
        self._measures: tuple[object, tuple[float, float, float]] | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(f"The space {_names[axis].lower()}")
        self.setToolTip("Drag members, the camera and the lights")
        self.figures = Figures(session.history.close_gesture)
        top = QHBoxLayout()
        heading = QLabel(_names[axis])
        heading.setFont(font(STRONG))
        top.addWidget(heading)
        top.addStretch(1)
        top.addWidget(self.figures)
        column = QVBoxLayout(self)
        column.setContentsMargins(_EDGE, 3, 8, 0)
        column.addLayout(top)
        column.addStretch(1)

    def follow(self) -> None:
        """Show what is there now, and the numbers of what is selected."""
        space = self.space
        self.figures.show_figures(figures_of(self.session, space, self.chosen, self.axis))
        item = next((one for one in self.items() if one.id == self.chosen), None)
        self.setAccessibleDescription(item.words if item is not None else "")
        self.update()

    @property
    def held(self) -> bool:
        """Whether the hand holds something here."""
        return self._hold is not None or any(box.hasFocus() for box in self.figures.boxes)

    # Where

    @property
    def space(self) -> SpacePart:
        """The space that is shown."""
        space = space_of(self.session)
        assert space is not None
        return space

    @property
    def chosen(self) -> str:
        """The item that is selected."""
        return chosen_in(self.session)

    @property
    def area(self) -> QRectF:
        """Where the drawing is."""
        return QRectF(self.rect()).adjusted(_EDGE, _HEAD, -_EDGE, -8)

    def items(self) -> list[Item]:
        """All that can be taken hold of, front to back."""
        scene, frame, space = self.session.scene(), self.session.frame, self.space.id
        if self._known is None or self._known[0] is not scene or self._known[1:3] != (frame, space):
            self._known = scene, frame, space, items_of(self.session, space)[::-1]
            self._measures = None
        return self._known[3]

    def _measured(self) -> tuple[float, float, float]:
        """From how far behind the sheet to how far before it is shown, in px, and px of the view for each px of the frame."""
        items, size = self.items(), (self.width(), self.height())
        if self._measures is None or self._measures[0] != (size, self._kept_range):
            z = [float(d) for item in items if item.id != SUN for d in item.points[..., 2].ravel()]
            there = min(-_LEAST_DEPTH, *(d * _ROOM for d in z)), max(_LEAST_DEPTH, *(d * _ROOM for d in z))
            back, front = self._kept_range or there  # while something is held as it was before
            frame, area = self.session.template.frame, self.area
            across = frame.width if self.axis == ABOVE else frame.height
            room = (area.width(), area.height()) if self.axis == ABOVE else (area.height(), area.width())
            scale = min(room[0] / (across * 1.1), room[1] / (front - back))
            self._measures = (size, self._kept_range), (back, front, scale)
        return self._measures[1]

    @property
    def scale(self) -> float:
        """px of the view for each px of the frame."""
        return self._measured()[2]

    def at(self, point: Floats) -> QPointF:
        """Where a point of space is in the view."""
        frame, area, (back, _, scale) = self.session.template.frame, self.area, self._measured()
        if self.axis == ABOVE:
            return QPointF(area.center().x() + (point[0] - frame.width / 2) * scale, area.top() + (point[2] - back) * scale)
        return QPointF(area.left() + (point[2] - back) * scale, area.center().y() + (point[1] - frame.height / 2) * scale)

    def shapes(self, item: Item) -> list[QPolygonF]:
        """What is drawn of an item: the outline of each of its units."""
        return [QPolygonF([self.at(point) for point in _round(unit, self.axis)]) for unit in item.points]

    def area_of(self, item: Item) -> QRectF:
        """Where an item is taken hold of."""
        if item.is_a_point:
            at, reach = self.at(item.middle), 6.0
            return QRectF(at.x() - reach, at.y() - reach, 2 * reach, 2 * reach)
        flat = item.points.reshape(-1, 3)
        return QRectF(self.at(flat.min(axis=0)), self.at(flat.max(axis=0))).normalized().adjusted(-1, -1, 1, 1)

    def item_at(self, point: QPointF) -> Item | None:
        """What lies at a point: what is selected first, then what is under it, else what is near."""
        items = sorted(self.items(), key=lambda item: item.id != self.chosen)
        for room in (0.0, 4.0):
            for item in items:
                if self.area_of(item).adjusted(-room, -room, room, room).contains(point):
                    return item
        return None

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if space_of(self.session) is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(QColor(GROUND))
        painter.setPen(QPen(QColor(TEXT if self.hasFocus() else PANEL), 1))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 6, 6)
        painter.setClipRect(QRectF(self.rect()).adjusted(1, _HEAD - 2, -1, -1))
        items, frame = self.items(), self.session.template.frame
        middle = np.array([frame.width / 2, frame.height / 2, 0.0])
        half = np.array([frame.width / 2, 0.0, 0.0]) if self.axis == ABOVE else np.array([0.0, frame.height / 2, 0.0])
        painter.setPen(QPen(QColor(LINE), 1, Qt.PenStyle.DotLine))
        painter.drawLine(self.at(middle - half), self.at(middle + half))
        self._paint_cone(painter)
        sun = next((item for item in items if item.id == SUN), None)
        if sun is not None:
            painter.setPen(QPen(QColor(MARIGOLD), 1.6))
            painter.drawLine(self.at(sun.middle), self.at(middle))
        for item in reversed(items):
            self._paint_item(painter, item)
        self._paint_words(painter, items)

    def _paint_cone(self, painter: QPainter) -> None:
        """The borders of what the camera sees, from where it stands to behind the sheet."""
        frame = self.session.template.frame
        bound = self.session.scene().pose(min(self.session.frame, self.session.length() - 1)).parts[self.space.id].rest.part
        assert isinstance(bound, SpacePart)
        eye, back = position(bound.camera, frame), turned(bound.camera).T
        share = math.tan(math.radians(bound.camera.angle) / 2) * (frame.width / frame.height if self.axis == ABOVE else 1.0)
        painter.setPen(QPen(QColor(SEAGLASS), 1))
        for way in (-share, share):
            ray = back @ np.array([way, 0.0, -1.0] if self.axis == ABOVE else [0.0, way, -1.0])
            painter.drawLine(self.at(eye), self.at(eye + ray * 20_000))

    def _paint_item(self, painter: QPainter, item: Item) -> None:
        chosen = item.id == self.chosen
        fill = getattr(getattr(item.part, "fill", None), "colour", "#8B969C")[:7]
        colour = {CAMERA: SEAGLASS, SUN: MARIGOLD}.get(item.id, item.part.colour[:7] if isinstance(item.part, LampPart) else fill)
        painter.setPen(QPen(QColor(TEXT if chosen else LINE), 1.6 if chosen else 0.8))
        painter.setBrush(QColor(colour))
        if item.is_a_point:
            painter.drawEllipse(self.at(item.middle), 5.5, 5.5)
            return
        for unit, shape in zip(item.points, self.shapes(item), strict=True):
            if isinstance(item.part, BallPart):
                reach = item.part.diameter / 2 * self.scale
                painter.drawEllipse(self.at(unit.mean(axis=0)), reach, reach)
            else:
                if min(shape.boundingRect().width(), shape.boundingRect().height()) < 2:
                    painter.setPen(QPen(QColor(TEXT if chosen else colour), 2.4 if chosen else 1.8))
                painter.drawPolygon(shape)

    def _paint_words(self, painter: QPainter, items: list[Item]) -> None:
        """What items are called, the chosen one first, as far as there is room."""
        painter.setFont(font(SMALL))
        taken = [self.area_of(item) for item in items]
        for item in sorted(items, key=lambda one: one.id != self.chosen):
            wide = painter.fontMetrics().horizontalAdvance(item.words) + 4
            words = next((area for area in self._beside(self.area_of(item), wide) if not any(area.intersects(o) for o in taken)), None)
            if words is not None:
                painter.setPen(QColor(TEXT if item.id == self.chosen else MUTED))
                painter.drawText(words, Qt.AlignmentFlag.AlignCenter, item.words)
                taken.append(words)

    def _beside(self, area: QRectF, wide: float) -> Iterator[QRectF]:
        """Where words can stand beside an area, within the view: right of it, left, below, above."""
        x = min(max(4.0, area.center().x() - wide / 2), self.width() - wide - 4.0)
        room = QRectF(2, _HEAD - 2, self.width() - 4, self.height() - _HEAD)
        beside = ((area.right() + 2, area.center().y() - 7), (area.left() - wide - 2, area.center().y() - 7),
                  (x, area.bottom() + 1), (x, area.top() - 15))  # fmt: skip
        yield from (at for at in (QRectF(left, top, wide, 14) for left, top in beside) if room.contains(at))

    # Hands

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        item = self.item_at(event.position())
        if item is not None and event.button() == Qt.MouseButton.LeftButton:
            choose(self.session, self.space, item.id)
            self._take(event.position())

    def _take(self, at: QPointF) -> None:
        self._kept_range, self._begun, self._far = self._measured()[:2], at, False
        self._hold = Hold(self.session, self.space, self.chosen, self.axis, ("depth", next(_gestures)))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._hold is None:
            return
        moved = event.position() - self._begun
        self._far = self._far or moved.manhattanLength() >= _DRAG_BEGINS
        if self._far:
            nearer, along = (moved.y(), moved.x()) if self.axis == ABOVE else (moved.x(), moved.y())
            if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                nearer, along = (nearer, 0.0) if abs(nearer) >= abs(along) else (0.0, along)
            self._hold.move(along / self.scale, nearer / self.scale, along * _TURN.get(self._hold.item, 0.0))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._let_go()

    def _let_go(self) -> None:
        self._hold = self._kept_range = None
        self.session.history.close_gesture()
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        items = [item.id for item in self.items()]
        here = items.index(self.chosen) if self.chosen in items else 0
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            choose(self.session, self.space, items[(here + (1 if event.key() == Qt.Key.Key_Right else -1)) % len(items)])
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and items:
            way = _STEP if event.key() == Qt.Key.Key_Down else -_STEP
            aside = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self._take(QPointF())
            assert self._hold is not None
            turns = self.chosen in _TURN
            self._hold.move(way if aside else 0.0, way if turns == aside else 0.0, 0.0 if aside else way / 2)
            self._let_go()
        else:
            super().keyPressEvent(event)


def _round(unit: Floats, axis: int) -> list[Floats]:
    """The corners of a unit that lie outermost as seen in a view, in order round it."""
    flat = unit[:, [0, 2]] if axis == ABOVE else unit[:, [2, 1]]
    order = np.lexsort((flat[:, 1], flat[:, 0]))

    def chain(numbers: list[int]) -> list[int]:
        found: list[int] = []
        for n in numbers:
            while len(found) > 1 and _turns(flat[found[-2]], flat[found[-1]], flat[n]) <= 0:
                found.pop()
            found.append(n)
        return found[:-1]

    around = chain(order.tolist()) + chain(order[::-1].tolist())
    return [unit[n] for n in around or [0]]


def _turns(a: Floats, b: Floats, c: Floats) -> float:
    return float((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]))
