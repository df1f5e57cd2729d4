"""Placing a title on the picture of the desk by hand: it is dragged, and scaled by its corners, about the point in which it stands."""

import itertools
from collections.abc import Iterator
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from avlet.desktop.stage.gestures import DRAG_BEGINS, Hand
from avlet.desktop.widgets.theme import ROSE, SMALL, font
from avlet.document.cut import Title, place_title
from avlet.document.parts import FRAME_AREAS
from avlet.geometry import Box
from avlet.layout.areas import frame_area
from avlet.layout.snapping import Caught, snap
from avlet.media.placing import anchor_of, placed, rest_box
from avlet.numbers.exact import in_figures
from avlet.paint.scene import Scene

if TYPE_CHECKING:
    from avlet.desktop.desk.desk_picture import DeskPicture

_SNAP, _HANDLE, _REACH = 6.0, 7.0, 9.0
"""View px: within which a title catches, how large a corner is drawn, and how near to it a press takes it."""
_numbers = itertools.count()


def title_box(picture: "DeskPicture", title: Title) -> Box | None:
    """Where a title rests on the cut, in px of the cut; None where it cannot be shown."""
    scene = picture.session.scene_of(title)
    if isinstance(scene, str):
        return None
    return placed(title, scene.template, scene.book, picture.session.cut.frame).box(rest_box(scene))


def shown_titles(picture: "DeskPicture") -> Iterator[tuple[Title, Box]]:
    """The titles that show at the playhead and where they rest, the uppermost first."""
    for title in reversed(picture.session.cut.titles_at(picture.session.frame)):
        box = title_box(picture, title)
        if box is not None:
            yield title, box


def chosen_box(picture: "DeskPicture") -> tuple[Title, Box] | None:
    """The selected title, where it shows at the playhead."""
    chosen = picture.session.title
    return next(((title, box) for title, box in shown_titles(picture) if chosen is not None and title.id == chosen.id), None)


def corners(area: QRectF) -> tuple[QPointF, QPointF, QPointF, QPointF]:
    """The corners of an area."""
    return area.topLeft(), area.topRight(), area.bottomLeft(), area.bottomRight()


class Placing:
    """A press on a title that is dragged to another place. ``caught`` are the lines that it has caught on."""

    def __init__(self, picture: "DeskPicture", hand: Hand, title: Title, box: Box) -> None:
        self.picture, self.session, self.begun, self.before, self.box = picture, picture.session, hand.at, title, box
        self.number, self.dragged = next(_numbers), False
        self.caught: tuple[Caught, ...] = ()

    def drag(self, hand: Hand) -> None:
        """The hand has moved."""
        if not self.dragged and (hand.at - self.begun).manhattanLength() >= DRAG_BEGINS:
            self.dragged = True
        if self.dragged:
            self.pull(hand)
            self.picture.update()

    def pull(self, hand: Hand) -> None:
        """Move the title with the hand, by whole px; Shift keeps to one axis, Alt catches on nothing."""
        moved = (hand.at - self.begun) / self.picture.scale
        dx, dy = moved.x(), moved.y()
        if hand.in_steps:
            dx, dy = (dx, 0.0) if abs(dx) >= abs(dy) else (0.0, dy)
        self.caught = ()
        if not hand.freely:
            found = snap(self.box.moved(dx, dy), self._others(), self._lines(), _SNAP / self.picture.scale)
            dx, dy = dx + found.dx, dy + found.dy
            self.caught = tuple(mark for mark in found.caught if isinstance(mark, Caught))
        self.write(self.before.x + dx, self.before.y + dy, self.before.scale)

    def write(self, x: float, y: float, scale: float) -> None:
        """Place the title; all of one drag is one step of undo."""
        self.session.edit("Place a title", lambda c: place_title(c, self.before.id, x, y, scale), ("placing", self.number))

    def _others(self) -> list[Box]:
        return [box for title, box in shown_titles(self.picture) if title.id != self.before.id]

    def _lines(self) -> tuple[list[float], list[float]]:
        areas = [frame_area(name, self.session.cut.frame) for name in FRAME_AREAS]
        across, down = ([area.edge(share, axis) for area in areas for share in (0.0, 0.5, 1.0)] for axis in (0, 1))
        return across, down

    def release(self) -> None:
        """The hand lets go."""
        self.session.history.close_gesture()

    def cancel(self) -> None:
        """Give up: the title is where it was."""
        if self.dragged and self.session.history.in_gesture:
            self.session.undo()
            self.session.history.close_gesture()


class Scaling(Placing):
    """A press on a corner of a title: the drag scales it, by whole per cents; the point in which it stands stays."""

    def __init__(self, picture: "DeskPicture", hand: Hand, title: Title, box: Box) -> None:
        super().__init__(picture, hand, title, box)
        scene = self.session.scene_of(title)
        assert isinstance(scene, Scene)
        shares = anchor_of(scene.template, scene.book).shares
        self._still = picture.to_view(box.edge(shares[0], 0), box.edge(shares[1], 1))
        self._length = self._far(hand.at)

    def _far(self, at: QPointF) -> float:
        away = at - self._still
        return max(1.0, float((away.x() ** 2 + away.y() ** 2) ** 0.5))

    def pull(self, hand: Hand) -> None:
        share = self._far(hand.at) / self._length
        self.write(self.before.x, self.before.y, round(self.before.scale * share))


def begun(picture: "DeskPicture", hand: Hand) -> Placing | None:
    """What a press begins: a corner of the selected title, or the title under the hand, which is selected by it."""
    chosen = chosen_box(picture)
    if chosen is not None and any(_near(corner, hand.at) for corner in corners(picture.box_in_view(chosen[1]))):
        return Scaling(picture, hand, *chosen)
    for title, box in shown_titles(picture):
        if picture.box_in_view(box).adjusted(-2, -2, 2, 2).contains(hand.at):
            if title.id not in picture.session.selection:
                picture.session.select(title.id)
            return Placing(picture, hand, title, box)
    return None


def _near(corner: QPointF, at: QPointF) -> bool:
    return abs(corner.x() - at.x()) <= _REACH and abs(corner.y() - at.y()) <= _REACH


def cursor_at(picture: "DeskPicture", at: QPointF) -> Qt.CursorShape:
    """What the pointer looks like over a point of the view."""
    chosen = chosen_box(picture)
    if chosen is not None:
        area = picture.box_in_view(chosen[1])
        for corner, shape in zip(corners(area), _CORNERS, strict=True):
            if _near(corner, at):
                return shape
        if area.contains(at):
            return Qt.CursorShape.SizeAllCursor
    return Qt.CursorShape.ArrowCursor


_CORNERS = (Qt.CursorShape.SizeFDiagCursor, Qt.CursorShape.SizeBDiagCursor, Qt.CursorShape.SizeBDiagCursor, Qt.CursorShape.SizeFDiagCursor)


def place_words(title: Title) -> str:
    """Where a title was put, in words: *180 px right, 40 up · 90 %*; empty where its template has it."""
    said = []
    if title.x:
        said.append(f"{in_figures(abs(title.x))} px {'right' if title.x > 0 else 'left'}")
    if title.y:
        said.append(f"{in_figures(abs(title.y))}{'' if said else ' px'} {'down' if title.y > 0 else 'up'}")
    words = ", ".join(said)
    return " · ".join(filter(None, (words, f"{in_figures(title.scale)} %" if title.scale != 100 else "")))


def paint_placing(painter: QPainter, picture: "DeskPicture", caught: tuple[Caught, ...]) -> None:
    """The outline of the selected title with its corners, where it was put, and the lines that it has caught on."""
    frame, chosen = picture.session.cut.frame, chosen_box(picture)
    painter.setPen(QPen(QColor(ROSE), 1, Qt.PenStyle.DashLine))
    for mark in caught:
        ends = ((mark.at, 0.0), (mark.at, float(frame.height))) if mark.axis == 0 else ((0.0, mark.at), (float(frame.width), mark.at))
        painter.drawLine(picture.to_view(*ends[0]), picture.to_view(*ends[1]))
    if chosen is None:
        return
    title, box = chosen
    area = picture.box_in_view(box)
    painter.setPen(QPen(QColor(ROSE), 1.5))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(area)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor("#FFFFFF"))
    for corner in corners(area):
        painter.drawRect(QRectF(corner.x() - _HANDLE / 2, corner.y() - _HANDLE / 2, _HANDLE, _HANDLE))
    words = place_words(title)
    if words:
        painter.setFont(font(SMALL, figures=True))
        width = painter.fontMetrics().horizontalAdvance(words) + 12
        top = area.y() - 24 if area.y() >= 26 else area.bottom() + 6
        ground = QRectF(max(2.0, min(area.center().x() - width / 2, picture.width() - width - 2)), top, width, 18)
        painter.setBrush(QColor(20, 22, 24, 200))
        painter.drawRoundedRect(ground, 4, 4)
        painter.setPen(QColor(ROSE))
        painter.drawText(ground, Qt.AlignmentFlag.AlignCenter, words)
