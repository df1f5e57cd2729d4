"""Lamps on the stage: they paint nothing, so a mark stands where each is seen while its space, or something in it, is selected."""

import math
from collections.abc import Callable

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from avlet.desktop.sessions.template_session import Session
from avlet.desktop.stage.depth_items import items_of, space_of
from avlet.desktop.widgets.theme import GROUND, TEXT
from avlet.document.parts import LampPart, SpacePart
from avlet.motion.camera import camera_matrix, projected

_REACH = 7.0


def lamps_seen(session: Session) -> dict[str, tuple[float, float]]:
    """Where the lamps of the space that is selected, or stood in, are seen in px of the frame: those before the camera, by id."""
    space = space_of(session)
    if space is None:
        return {}
    pose = session.scene().pose(min(session.frame, session.length() - 1))
    now = pose.parts[space.id].rest.part
    assert isinstance(now, SpacePart)
    matrix, found = camera_matrix(now.camera, session.template.frame), {}
    for item in items_of(session, space.id):
        if isinstance(item.part, LampPart) and not item.part.locked:
            x, y = projected(matrix, item.middle[None])[0].tolist()
            if not math.isnan(x):
                found[item.id] = x, y
    return found


def draw_lamps(painter: QPainter, session: Session, to_view: Callable[[float, float], QPointF]) -> None:
    """A ring of the lamp's colour with rays round it."""
    for part_id, (x, y) in lamps_seen(session).items():
        part, at = session.bound(part_id), to_view(x, y)
        assert isinstance(part, LampPart)
        painter.setPen(QPen(QColor(TEXT if part_id == session.selected else GROUND), 1.6))
        painter.setBrush(QColor(part.colour[:7]))
        painter.drawEllipse(at, _REACH, _REACH)
        painter.setPen(QPen(QColor(part.colour[:7]), 1.6, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        for n in range(8):
            way = QPointF(math.cos(n * math.pi / 4), math.sin(n * math.pi / 4))
            painter.drawLine(at + way * (_REACH + 3), at + way * (_REACH + 6))


def lamp_at(session: Session, point: QPointF, to_view: Callable[[float, float], QPointF]) -> str | None:
    """The lamp whose mark is at a point of the view."""
    for part_id, (x, y) in lamps_seen(session).items():
        away = to_view(x, y) - point
        if math.hypot(away.x(), away.y()) <= _REACH + 4:
            return part_id
    return None
