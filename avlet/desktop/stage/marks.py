"""What is marked on the stage: faults of the title at rest, and what a drag has caught on."""

from collections.abc import Callable, Iterable

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen

from avlet.desktop.widgets.theme import SMALL, WARNING, font
from avlet.geometry import Box
from avlet.layout.snapping import Caught, EqualGap
from avlet.paint.scene import Scene
from avlet.review.samples import findings


def draw_marks(painter: QPainter, scene: Scene, in_view: Callable[[Box], QRectF]) -> None:
    """A dashed box and a word for every part that does not hold: too long, past title-safe, without glyphs, without its font."""
    painter.setFont(font(SMALL))
    said: dict[str, list[str]] = {}
    for finding in findings(scene):
        said.setdefault(finding.part_id, []).append(finding.verdict)
    taken: list[QRectF] = []
    for part_id, words in said.items():
        rest = scene.rest.parts[part_id]
        area = in_view(rest.ink or rest.box)
        pen = QPen(QColor(WARNING), 1.4)
        pen.setDashPattern([4, 3])
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(area)
        _tag(painter, "⚠ " + ", ".join(words), QPointF(area.left(), area.bottom() + 4), taken)


def _tag(painter: QPainter, words: str, corner: QPointF, taken: list[QRectF]) -> None:
    """A word under a part, beside those that stand there already."""
    width = QFontMetricsF(painter.font()).horizontalAdvance(words) + 12
    room = painter.viewport()
    x = max(4.0, min(corner.x(), room.width() - width - 4))
    y = max(4.0, min(corner.y(), room.height() - 22.0))
    area = QRectF(x, y, width, 18)
    for _ in range(6):
        hit = next((other for other in taken if other.intersects(area)), None)
        if hit is None:
            break
        area.moveTop(hit.bottom() + 3 if hit.bottom() + 22 < room.height() else hit.top() - 21)
    taken.append(area)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(28, 22, 8, 235))
    painter.drawRoundedRect(area, 4, 4)
    painter.setPen(QColor(WARNING))
    painter.drawText(area, Qt.AlignmentFlag.AlignCenter, words)


def draw_caught(
    painter: QPainter, caught: Iterable[Caught | EqualGap], picture: QRectF, to_view: Callable[[float, float], QPointF]
) -> None:
    """Lines where a drag caught on an edge, and a measure over each of two gaps that are equal."""
    painter.setPen(QPen(QColor("#FFFFFF"), 1))
    painter.setFont(font(SMALL, figures=True))
    for mark in caught:
        if isinstance(mark, Caught):
            at = to_view(mark.at, mark.at)
            line = QLineF(at.x(), picture.top(), at.x(), picture.bottom())
            painter.drawLine(line if mark.axis == 0 else QLineF(picture.left(), at.y(), picture.right(), at.y()))
            continue
        ends = ((mark.start, mark.side), (mark.end, mark.side)) if mark.axis == 0 else ((mark.side, mark.start), (mark.side, mark.end))
        start, end = (to_view(*point) for point in ends)
        tick = QPointF(0, 4) if mark.axis == 0 else QPointF(4, 0)
        painter.drawLine(start, end)
        for point in (start, end):
            painter.drawLine(point - tick, point + tick)
        painter.drawText((start + end) / 2 + QPointF(-8, -5), f"{mark.end - mark.start:.0f}")


def draw_distance(painter: QPainter, step: QPointF, box: QRectF) -> None:
    """How far a part has been dragged, beside it."""
    painter.setFont(font(SMALL, figures=True))
    words = f"{step.x():+.0f}, {step.y():+.0f} px"
    width = QFontMetricsF(painter.font()).horizontalAdvance(words) + 12
    area = QRectF(box.right() + 10, box.bottom() + 10, width, 18)
    area.moveRight(min(area.right(), painter.viewport().width() - 4))
    area.moveBottom(min(area.bottom(), painter.viewport().height() - 4))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(16, 20, 22, 230))
    painter.drawRoundedRect(area, 4, 4)
    painter.setPen(QColor("#FFFFFF"))
    painter.drawText(area, Qt.AlignmentFlag.AlignCenter, words)
