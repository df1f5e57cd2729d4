"""A space from above and from the side, to scale: members, camera and sun are dragged there, or moved by keys."""

import itertools
import math
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from avlet.arrays import Floats
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.theme import GROUND, LINE, MARIGOLD, MUTED, PANEL, SEAGLASS, SMALL, STRONG, TEXT, font
from avlet.document.edits import set_relations
from avlet.document.parts import PaintedPart, SpacePart
from avlet.document.solids import MOST_DEPTH, Stand
from avlet.motion.camera import position, resting_distance, turned
from avlet.motion.stands import corners_in_space

ABOVE, SIDE = 0, 1
_HEAD, _EDGE, _REACH = 24, 14, 9.0
_LEAST_DEPTH = 420.0
"""px of depth that are shown at least, before the sheet and behind it."""
_SUN = 0.42
"""How far from the middle the sun is drawn, as a share of the smaller side."""
_names = {ABOVE: "From above", SIDE: "From the side"}
_gestures = itertools.count()


@dataclass(frozen=True)
class Item:
    """Something that is drawn: a member by its id, ``camera`` or ``sun``; its words, and where it is in the view."""

    id: str
    words: str
    area: QRectF


class DepthViews(QWidget):
    """Both views side by side, shown while a space is selected."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 6, 12, 4)
        row.setSpacing(10)
        self.above, self.side = DepthView(session, ABOVE), DepthView(session, SIDE)
        row.addWidget(self.above)
        row.addWidget(self.side)
        self.setFixedHeight(186)
        for signal in (session.changed, session.selection_changed, session.answers_changed):
            signal.connect(self.follow)
        session.frame_changed.connect(lambda _: self.follow())

    @property
    def space(self) -> SpacePart | None:
        """The space that is selected alone."""
        part = self.session.part
        return part if isinstance(part, SpacePart) and not self.session.also else None

    def follow(self) -> None:
        """Show the space as it stands in the frame that is on the stage."""
        if self.space is not None:
            self.above.update()
            self.side.update()


class DepthView(QWidget):
    """One view. Left and Right choose what Up and Down move: nearer and farther, round and up."""

    def __init__(self, session: Session, axis: int) -> None:
        super().__init__()
        self.session, self.axis = session, axis
        self.chosen = "camera"
        self._held: Item | None = None
        self._begun = QPointF()
        self._gesture: object = None
        self._before = 0.0
        self._angles = (0.0, 0.0, 0.0)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(f"The space {_names[axis].lower()}")
        self.setToolTip("Drag members, the camera and the sun")

    # Where

    @property
    def space(self) -> SpacePart:
        """The space as it stands in this frame."""
        posed = self.session.scene().pose(self.session.frame).parts[str(self.session.selected)]
        assert isinstance(posed.rest.part, SpacePart)
        return posed.rest.part

    @property
    def area(self) -> QRectF:
        """Where the drawing is."""
        return QRectF(self.rect()).adjusted(_EDGE, _HEAD, -_EDGE, -8)

    def members(self) -> dict[str, Floats]:
        """The corners of each member's units in space, (k, 3) each."""
        pose = self.session.scene().pose(self.session.frame)
        standing = pose.standing_in(str(self.session.selected))
        return {p.rest.part.id: found.reshape(-1, 3) for _, p, _ in standing if len(found := corners_in_space(p))}

    def depth_shown(self) -> float:
        """px of depth from the sheet to the nearer end of the view; a third of it lies behind the sheet."""
        return max([_LEAST_DEPTH, *(1.3 * float(np.abs(points[:, 2]).max()) for points in self.members().values())])

    @property
    def scale(self) -> float:
        """px of the view for each px of the frame."""
        frame, area, deep = self.session.template.frame, self.area, self.depth_shown() * 4 / 3
        across = frame.width if self.axis == ABOVE else frame.height
        room = (area.width(), area.height()) if self.axis == ABOVE else (area.height(), area.width())
        return min(room[0] / (across * 1.1), room[1] / deep)

    def at(self, point: Floats) -> QPointF:
        """Where a point of space is in the view, kept within it."""
        frame, area, scale = self.session.template.frame, self.area, self.scale
        back = self.depth_shown() / 3
        if self.axis == ABOVE:
            x, y = area.center().x() + (point[0] - frame.width / 2) * scale, area.top() + (back + point[2]) * scale
        else:
            x, y = area.left() + (back + point[2]) * scale, area.center().y() + (point[1] - frame.height / 2) * scale
        return QPointF(min(max(x, area.left()), area.right()), min(max(y, area.top()), area.bottom()))

    def items(self) -> list[Item]:
        """All that can be taken hold of, front to back."""
        space, frame = self.space, self.session.template.frame
        found = []
        for part_id, points in self.members().items():
            area = QRectF(self.at(points.min(axis=0)), self.at(points.max(axis=0))).normalized()
            found.append(Item(part_id, self.session.template.name_of(part_id), area.adjusted(-1, -1, 1, 1)))
        eye = self.at(position(space.camera, frame))
        away = resting_distance(space.camera, frame) * space.camera.distance / 100
        found.append(Item("camera", f"camera · {away:,.0f} px away, {space.camera.angle:g}° wide", _round(eye, 5)))
        if space.sun.strength > 0:
            found.append(Item("sun", "sun", _round(self._sun_at(space), 6)))
        return found[::-1]

    def _sun_at(self, space: SpacePart) -> QPointF:
        a, b = math.radians(space.sun.round), math.radians(space.sun.up)
        to_sun = np.array([math.sin(a) * math.cos(b), -math.sin(b), math.cos(a) * math.cos(b)])
        far = _SUN * min(self.area.width(), self.area.height() * 2) / self.scale
        frame = self.session.template.frame
        return self.at(np.array([frame.width / 2, frame.height / 2, 0.0]) + to_sun * far)

    def item_at(self, point: QPointF) -> Item | None:
        """What lies at a point."""
        return next((item for item in self.items() if item.area.adjusted(-4, -4, 4, 4).contains(point)), None)

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if not isinstance(self.session.part, SpacePart):
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(QColor(GROUND))
        painter.setPen(QPen(QColor(TEXT if self.hasFocus() else PANEL), 1))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 6, 6)
        painter.setFont(font(STRONG))
        painter.setPen(QColor(TEXT))
        painter.drawText(QRectF(_EDGE, 4, 160, 18), Qt.AlignmentFlag.AlignVCenter, _names[self.axis])
        space, frame = self.space, self.session.template.frame
        middle = np.array([frame.width / 2, frame.height / 2, 0.0])
        half = np.array([frame.width / 2, 0.0, 0.0]) if self.axis == ABOVE else np.array([0.0, frame.height / 2, 0.0])
        painter.setPen(QPen(QColor(TEXT), 1.6))
        painter.drawLine(self.at(middle - half), self.at(middle + half))
        self._paint_cone(painter, space)
        if space.sun.strength > 0:
            painter.setPen(QPen(QColor(MARIGOLD), 1.6))
            painter.drawLine(self._sun_at(space), self.at(middle))
        self._paint_items(painter)

    def _paint_cone(self, painter: QPainter, space: SpacePart) -> None:
        """The borders of what the camera sees, from where it stands to behind the sheet."""
        frame = self.session.template.frame
        eye, back = position(space.camera, frame), turned(space.camera).T
        share = math.tan(math.radians(space.camera.angle) / 2) * (frame.width / frame.height if self.axis == ABOVE else 1.0)
        painter.setPen(QPen(QColor(SEAGLASS), 1))
        painter.save()
        painter.setClipRect(self.area)
        for way in (-share, share):
            ray = back @ np.array([way, 0.0, -1.0] if self.axis == ABOVE else [0.0, way, -1.0])
            painter.drawLine(self._free(eye), self._free(eye + ray * 20_000))
        painter.restore()

    def _free(self, point: Floats) -> QPointF:
        """Where a point of space is in the view, also beyond it."""
        frame, area, scale, back = self.session.template.frame, self.area, self.scale, self.depth_shown() / 3
        if self.axis == ABOVE:
            return QPointF(area.center().x() + (point[0] - frame.width / 2) * scale, area.top() + (back + point[2]) * scale)
        return QPointF(area.left() + (back + point[2]) * scale, area.center().y() + (point[1] - frame.height / 2) * scale)

    def _paint_items(self, painter: QPainter) -> None:
        template = self.session.template
        for item in reversed(self.items()):
            here = item.id == self.chosen and self.hasFocus()
            part = template.part(item.id) if item.id not in ("camera", "sun") else None
            fill = getattr(getattr(part, "fill", None), "colour", "#8B969C")[:7] if part is not None else ""
            colour = {"camera": SEAGLASS, "sun": MARIGOLD}.get(item.id, fill)
            painter.setPen(QPen(QColor(TEXT if here else LINE), 1.6 if here else 0.8))
            painter.setBrush(QColor(colour))
            if part is None:
                painter.drawEllipse(item.area)
            else:
                painter.drawRect(item.area)
            if item.id != "sun":
                painter.setPen(QColor(MUTED))
                painter.setFont(font(SMALL))
                self._label(painter, item)

    def _label(self, painter: QPainter, item: Item) -> None:
        wide = painter.fontMetrics().horizontalAdvance(item.words) + 4
        thin = min(item.area.width(), item.area.height()) < 6
        x = min(max(4.0, item.area.left() if thin else item.area.center().x() - wide / 2), self.width() - wide - 4.0)
        y = item.area.top() - 15 if thin or item.area.bottom() + 15 > self.height() - 2 else item.area.bottom() + 1
        painter.drawText(QRectF(x, y, wide, 14), Qt.AlignmentFlag.AlignCenter, item.words)

    # Hands

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self._held = self.item_at(event.position())
        if self._held is not None:
            self.chosen = self._held.id
            self._take(event.position())
        self.update()

    def _take(self, at: QPointF) -> None:
        space = self.space
        part = self.session.template.part(self.chosen)
        stand = part.stand if isinstance(part, PaintedPart) else None
        self._begun, self._gesture = at, ("depth", next(_gestures))
        self._before = stand.before if stand is not None else 0.0
        one = space.camera if self.chosen == "camera" else space.sun
        self._angles = (one.round, one.up, space.camera.distance)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._held is not None:
            moved = event.position() - self._begun
            away, along = (moved.y(), moved.x()) if self.axis == ABOVE else (moved.x(), moved.y())
            self.move_by(along, away / self.scale)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._held = None
        self.session.history.close_gesture()

    def move_by(self, along: float, nearer: float) -> None:
        """Move what is chosen: so many px of the view along it, so many px of the frame nearer to the viewer."""
        space_id, (round_, up, distance) = str(self.session.selected), self._angles
        if self.chosen in ("camera", "sun"):
            angle = along * (0.5 if self.chosen == "camera" else 1.0)
            path = f"{space_id}/{self.chosen}"
            values: dict[str, object] = (
                {f"{path}.round": round((round_ + angle + 180) % 360 - 180, 1)} if self.axis == ABOVE
                else {f"{path}.up": round(max(-89.0, min(89.0, up - angle)), 1)}
            )  # fmt: skip
            if self.chosen == "camera":
                rest = resting_distance(self.space.camera, self.session.template.frame)
                values[f"{path}.distance"] = round(max(10.0, min(1000.0, distance + nearer / rest * 100)), 1)
            self.session.write(values, self._gesture, f"{self.session.template.name_of(space_id)}: {self.chosen}")
            return
        before = round(max(-MOST_DEPTH, min(MOST_DEPTH, self._before + nearer)))
        part = self.session.template.part(self.chosen)
        if not isinstance(part, PaintedPart):
            return
        if part.stand is None:
            stand = Stand(before=float(before))
            self.session.edit(f"{part.name}: where it stands", lambda t: set_relations(t, part.id, stand=stand), self._gesture)
        else:
            self.session.write({f"{part.id}/stand.before": float(before)}, self._gesture, f"{part.name}: where it stands")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        items = [item.id for item in self.items()]
        here = items.index(self.chosen) if self.chosen in items else 0
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.chosen = items[(here + (1 if event.key() == Qt.Key.Key_Right else -1)) % len(items)]
            self.setAccessibleDescription(next(item.words for item in self.items() if item.id == self.chosen))
            self.update()
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            way = 1.0 if event.key() == Qt.Key.Key_Down else -1.0
            self._take(QPointF())
            self.move_by(way * 10 if self.chosen in ("camera", "sun") else 0.0, 0.0 if self.chosen in ("camera", "sun") else way * 10)
            self.session.history.close_gesture()
        else:
            super().keyPressEvent(event)


def _round(middle: QPointF, reach: float) -> QRectF:
    return QRectF(middle.x() - reach, middle.y() - reach, 2 * reach, 2 * reach)
