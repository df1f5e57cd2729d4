"""Handles on the stage: points of the selected part that are dragged to turn it, to set its anchor, to aim its gradient."""

import math
from collections.abc import Callable
from typing import Any, Literal, NamedTuple

from msgspec import structs
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from avlet.desktop.widgets.theme import SEAGLASS
from avlet.document.looks.paints import Linear, Radial, Stop, Sweep
from avlet.document.parts import AnyPart, LampPart, PaintedPart, TypesetPart
from avlet.geometry import Box
from avlet.paint.brushes import linear_ends

Point = tuple[float, float]
Values = dict[str, Any]
"""What is to be written, by whole paths."""
Change = Callable[[Point, bool], Values]
"""What to write for the place in frame px that a handle was dragged to; the switch asks for whole steps."""

TURN_STEP = 15.0
TURN_REACH = 30.0
"""View px that the turn handle stands above the box."""


class Handle(NamedTuple):
    """A point that can be dragged: where it is in px of the frame, how it looks, what a drag writes, and at which frame if not now."""

    name: str
    at: Point
    look: Literal["turn", "anchor", "end", "stop"]
    change: Change
    colour: str = ""
    frame: float | None = None


def handles_of(part: AnyPart, box: Box, ink: Box | None, scale: float) -> list[Handle]:
    """The handles of a part whose resting box is ``box``; ``scale`` is view px in one frame px."""
    if isinstance(part, LampPart):
        return []
    found = [_turn(part, box, scale), _anchor(part, box)]
    if isinstance(part, PaintedPart):
        gradient = gradient_handles(part, (ink or box) if isinstance(part, TypesetPart) else box)
        found += [_with_the_part(handle, part, anchor_of(part, box)) for handle in gradient]
    return found


def _with_the_part(handle: Handle, part: AnyPart, anchor: Point) -> Handle:
    """A handle that stands where the part's own turn and scale have brought it."""
    scale = (part.scale_x / 100, part.scale_y / 100)
    if part.turn == 0 and scale == (1.0, 1.0):
        return handle

    def there(point: Point) -> Point:
        grown = (anchor[0] + (point[0] - anchor[0]) * scale[0], anchor[1] + (point[1] - anchor[1]) * scale[1])
        return _turned(grown, anchor, part.turn)

    def back(point: Point) -> Point:
        x, y = _turned(point, anchor, -part.turn)
        return anchor[0] + (x - anchor[0]) / max(scale[0], 1e-6), anchor[1] + (y - anchor[1]) / max(scale[1], 1e-6)

    return handle._replace(at=there(handle.at), change=lambda to, stepped: handle.change(back(to), stepped))


def _turned(point: Point, about: Point, degrees: float) -> Point:
    angle = math.radians(degrees)
    x, y = point[0] - about[0], point[1] - about[1]
    return about[0] + x * math.cos(angle) - y * math.sin(angle), about[1] + x * math.sin(angle) + y * math.cos(angle)


def anchor_of(part: AnyPart, box: Box) -> Point:
    """The point of the frame that a part is turned and scaled about."""
    return box.edge(part.anchor_x / 100, 0), box.edge(part.anchor_y / 100, 1)


def _turn(part: AnyPart, box: Box, scale: float) -> Handle:
    anchor = anchor_of(part, box)
    rest = (box.middle[0], box.y - TURN_REACH / scale)
    base = math.degrees(math.atan2(rest[1] - anchor[1], rest[0] - anchor[0]))

    def change(at: Point, stepped: bool) -> Values:
        turn = math.degrees(math.atan2(at[1] - anchor[1], at[0] - anchor[0])) - base
        turn = (turn + 180) % 360 - 180
        return {f"{part.id}/turn": round(turn / TURN_STEP) * TURN_STEP if stepped else round(turn, 1)}

    return Handle("turn", _turned(rest, anchor, part.turn), "turn", change)


def _anchor(part: AnyPart, box: Box) -> Handle:
    def change(at: Point, stepped: bool) -> Values:
        x, y = ((at[n] - box[n]) / max(box[n + 2], 1e-6) * 100 for n in (0, 1))
        if stepped:
            x, y = (max(0.0, min(100.0, round(v / 50) * 50.0)) for v in (x, y))
        x, y = (max(-1000.0, min(1000.0, round(v, 1))) for v in (x, y))
        return {f"{part.id}/anchor_x": x, f"{part.id}/anchor_y": y}

    return Handle("anchor", anchor_of(part, box), "anchor", change)


def gradient_handles(part: PaintedPart, box: Box) -> list[Handle]:
    """The ends and stops of the fill's gradient, where it has one."""
    fill, at = part.fill, f"{part.id}/fill"
    match fill:
        case Linear():
            line = linear_ends(fill.angle, box)
            middle = box.middle

            def aim(to: Point, stepped: bool) -> Values:
                angle = math.degrees(math.atan2(to[1] - middle[1], to[0] - middle[0]))
                return {f"{at}.angle": round(angle / TURN_STEP) * TURN_STEP if stepped else round(angle, 1)}

            return [Handle("gradient end", line[1], "end", aim), *_stops(part, line)]
        case Radial():
            centre = (box.edge(fill.centre_x / 100, 0), box.edge(fill.centre_y / 100, 1))
            reach = math.hypot(box.w, box.h) / 2
            end = (centre[0] + reach * fill.radius / 100, centre[1])

            def widen(to: Point, stepped: bool) -> Values:
                share = math.dist(to, centre) / max(reach, 1e-6) * 100
                return {f"{at}.radius": max(1.0, min(1000.0, round(share / 5) * 5.0 if stepped else round(share, 1)))}

            ends = [Handle("gradient centre", centre, "end", _centre(at, box)), Handle("gradient end", end, "end", widen)]
            return [*ends, *_stops(part, (centre, end))]
        case Sweep():
            centre = (box.edge(fill.centre_x / 100, 0), box.edge(fill.centre_y / 100, 1))
            end = _turned((centre[0] + math.hypot(box.w, box.h) / 4, centre[1]), centre, fill.angle)

            def swing(to: Point, stepped: bool) -> Values:
                angle = math.degrees(math.atan2(to[1] - centre[1], to[0] - centre[0]))
                return {f"{at}.angle": round(angle / TURN_STEP) * TURN_STEP if stepped else round(angle, 1)}

            return [Handle("gradient centre", centre, "end", _centre(at, box)), Handle("gradient end", end, "end", swing)]
    return []


def _centre(at: str, box: Box) -> Change:
    def change(to: Point, stepped: bool) -> Values:
        values: Values = {}
        for name, n in (("centre_x", 0), ("centre_y", 1)):
            share = (to[n] - box[n]) / max(box[n + 2], 1e-6) * 100
            share = round(share / 10) * 10.0 if stepped else round(share, 1)
            values[f"{at}.{name}"] = max(-200.0, min(300.0, share))
        return values

    return change


def _stops(part: PaintedPart, line: tuple[Point, Point]) -> list[Handle]:
    """The stops of a gradient along its line; each is dragged along it."""
    (x0, y0), (x1, y1) = line
    length = max((x1 - x0) ** 2 + (y1 - y0) ** 2, 1e-9)
    stops: tuple[Stop, ...] = part.fill.stops if isinstance(part.fill, Linear | Radial) else ()

    def slide(index: int) -> Change:
        def change(to: Point, stepped: bool) -> Values:
            share = ((to[0] - x0) * (x1 - x0) + (to[1] - y0) * (y1 - y0)) / length * 100
            share = max(0.0, min(100.0, round(share / 5) * 5.0 if stepped else round(share, 1)))
            moved = tuple(structs.replace(s, at=share) if n == index else s for n, s in enumerate(stops))
            return {f"{part.id}/fill.stops": moved}

        return change

    return [
        Handle(f"gradient stop {n}", (x0 + (x1 - x0) * s.at / 100, y0 + (y1 - y0) * s.at / 100), "stop", slide(n), s.colour)
        for n, s in enumerate(stops)
    ]


def draw_handles(painter: QPainter, found: list[Handle], to_view: Callable[[float, float], QPointF]) -> None:
    """Draw handles: a ring to turn by, a cross for the anchor, a line with its stops for a gradient."""
    ends = [h for h in found if h.name.startswith("gradient")]
    if len(ends) > 1:
        line = QLineF(to_view(*ends[0].at), to_view(*ends[1].at)) if ends[0].name == "gradient centre" else _span(ends, to_view)
        for tint, width in ((QColor(0, 0, 0, 140), 3.2), (QColor("#FFFFFF"), 1.4)):
            painter.setPen(QPen(tint, width))
            painter.drawLine(line)
    for handle in found:
        at = to_view(*handle.at)
        painter.setPen(QPen(QColor(0, 0, 0, 170), 1))
        if handle.look == "anchor":
            for tint, width in ((QColor(0, 0, 0, 150), 3.4), (QColor(SEAGLASS), 1.6)):
                painter.setPen(QPen(tint, width))
                painter.drawLine(at - QPointF(6, 0), at + QPointF(6, 0))
                painter.drawLine(at - QPointF(0, 6), at + QPointF(0, 6))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(at, 3.4, 3.4)
        elif handle.look == "turn":
            foot = next((to_view(*h.at) for h in found if h.look == "anchor"), at)
            stalk = QLineF(at, foot)
            stalk.setLength(min(stalk.length(), TURN_REACH))
            painter.setPen(QPen(QColor(SEAGLASS), 1.2))
            painter.drawLine(stalk)
            painter.setPen(QPen(QColor(0, 0, 0, 170), 1))
            painter.setBrush(QColor("#FFFFFF"))
            painter.drawEllipse(at, 4.5, 4.5)
            painter.setBrush(QColor(SEAGLASS))
            painter.drawEllipse(at, 2.0, 2.0)
        else:
            painter.setBrush(QColor(handle.colour[:7]) if handle.colour else QColor("#FFFFFF"))
            painter.setPen(QPen(QColor("#FFFFFF") if handle.colour else QColor(0, 0, 0, 170), 1.6))
            painter.drawEllipse(at, 5.0 if handle.look == "stop" else 4.0, 5.0 if handle.look == "stop" else 4.0)


def _span(ends: list[Handle], to_view: Callable[[float, float], QPointF]) -> QLineF:
    points = [to_view(*h.at) for h in ends]
    return QLineF(min(points, key=lambda p: QLineF(points[0], p).length() * -1), points[0])


def handle_at(found: list[Handle], point: QPointF, to_view: Callable[[float, float], QPointF], anchor: bool = False) -> Handle | None:
    """The handle under a point of the view; a stop comes before the end that it lies on.

    The anchor mostly lies where a part is taken hold of to be moved, so it is only found when it is asked for.
    """
    order = {"stop": 0, "end": 1, "turn": 2, "anchor": 3}
    near = [h for h in found if (anchor or h.look != "anchor") and QRectF(-7, -7, 14, 14).contains(point - to_view(*h.at))]
    return min(near, key=lambda h: order[h.look], default=None)
