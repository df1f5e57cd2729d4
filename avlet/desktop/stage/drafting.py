"""The drafting overlay: the selected part's box, with paddings and gaps as dimension lines whose numbers can be changed."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen

from avlet.desktop.widgets.theme import SEAGLASS, SMALL, font, qcolor
from avlet.document.editing.resizing import Sides
from avlet.document.parts import EDGE_SHARES, FRAME_AREAS, CreditsPart, Place
from avlet.geometry import Axis, Box
from avlet.layout.areas import frame_area
from avlet.layout.bodies.rolling_list import RollingList
from avlet.layout.rest import Rest, RestPart
from avlet.numbers.exact import in_figures

_FOOT = 0.965
_NUMBER, _OFF = 16.0, 8.0
"""px: how high a number is, and how far from a part one stands that lies outside of it."""


@dataclass(frozen=True)
class Dimension:
    """One number on the drawing: the property that it shows, its line in frame px, and which way a drag makes it grow."""

    target: str
    value: float
    start: tuple[float, float]
    end: tuple[float, float]
    across: bool
    grows: int


def dimensions(rest: Rest, part_id: str) -> list[Dimension]:
    """The paddings and gaps of a part, as lines between what it follows and itself."""
    part = rest.parts[part_id]
    return [*_paddings(rest, part), *_gaps(rest, part), *_column_gaps(rest, part)]


def column_axis(part: RestPart) -> float | None:
    """Where roles and names of credits meet, in px of the frame; None where they do not."""
    credits, body = part.part, part.body
    if not isinstance(credits, CreditsPart) or not isinstance(body, RollingList) or body.strip.axis == 0 or credits.lies != "side by side":
        return None
    return part.box.x + credits.width * (1 - credits.axis / 100 if body.strip.rtl else credits.axis / 100)


def _column_gaps(rest: Rest, part: RestPart) -> list[Dimension]:
    """How far roles and names keep from where they meet, measured at the frame's foot."""
    axis, credits, body = column_axis(part), part.part, part.body
    if axis is None or not isinstance(credits, CreditsPart) or not isinstance(body, RollingList):
        return []
    y, way = rest.frame.height * _FOOT, 1 if body.strip.rtl else -1
    role, name = axis + way * credits.role_gap, axis - way * credits.name_gap
    return [
        Dimension(f"{credits.id}/role_gap", credits.role_gap, (min(role, axis), y), (max(role, axis), y), True, way),
        Dimension(f"{credits.id}/name_gap", credits.name_gap, (min(name, axis), y), (max(name, axis), y), True, -way),
    ]


def fitted_box(rest: Rest, part: RestPart) -> Box | None:
    """The joint box that a part fits around."""
    fit = part.part.fitted
    if fit is None:
        return None
    around = [rest.parts[i] for i in fit.around if i in rest.parts]
    shown = [p for p in around if p.present] or around
    areas = [frame_area(i, rest.frame) for i in fit.around if i in FRAME_AREAS]
    return Box.union([*(p.fitted(fit.box) for p in shown), *areas])


def _paddings(rest: Rest, part: RestPart) -> list[Dimension]:
    fit, inner = part.part.fitted, fitted_box(rest, part)
    if fit is None or inner is None:
        return []
    box, at = part.box, part.part.id
    (mx, my), found = inner.middle, []
    if part.part.fits_along(0):
        found += [
            Dimension(f"{at}/fit.left", fit.left, (box.x, my), (box.x + fit.left, my), True, -1),
            Dimension(f"{at}/fit.right", fit.right, (box.right - fit.right, my), (box.right, my), True, 1),
        ]
    if part.part.fits_along(1):
        found += [
            Dimension(f"{at}/fit.top", fit.top, (mx, box.y), (mx, box.y + fit.top), False, -1),
            Dimension(f"{at}/fit.bottom", fit.bottom, (mx, box.bottom - fit.bottom), (mx, box.bottom), False, 1),
        ]
    return found


def _gaps(rest: Rest, part: RestPart) -> list[Dimension]:
    found = []
    axes: tuple[tuple[Axis, str, Place | None], ...] = ((0, "across", part.part.across), (1, "down", part.part.down))
    for axis, name, place in axes:
        if place is not None:
            mine = part.edge(place.mine, axis)
            theirs = mine - place.gap
            side = part.box.middle[1 - axis]
            start, end = ((theirs, side), (mine, side)) if axis == 0 else ((side, theirs), (side, mine))
            found.append(Dimension(f"{part.part.id}/{name}.gap", place.gap, start, end, axis == 0, 1))
    return found


def anchor_edge(rest: Rest, place: Place, axis: Axis) -> float:
    """Where the edge lies, in px of the frame, that a place stands on."""
    other = rest.parts.get(place.on)
    return other.edge(place.theirs, axis) if other else anchor_box(rest, place).edge(EDGE_SHARES[place.theirs], axis)


def anchor_box(rest: Rest, place: Place) -> Box:
    """The box of what a part is placed on."""
    return frame_area(place.on, rest.frame) if place.on in FRAME_AREAS or place.on not in rest.parts else rest.parts[place.on].box


def _sources(rest: Rest, part: RestPart) -> list[RestPart]:
    """What a part is matted by, an echo of, or made of as a group; members of a space are seen elsewhere than they are laid out."""
    found = [m.inside for m in part.part.mattes]
    if part.part.copied is not None:
        found.append(part.part.copied)
    if part.part.holds and not part.part.has_depth:
        found += [i for i, other in rest.parts.items() if other.part.group == part.part.id]
    return [rest.parts[i] for i in found if i in rest.parts]


class Drafting:
    """Draws the overlay of one part and knows where its numbers are."""

    def __init__(self, to_view: Callable[[float, float], QPointF]) -> None:
        self._to_view = to_view
        self.labels: list[tuple[QRectF, Dimension]] = []
        self.grips: list[tuple[QRectF, Sides]] = []

    def draw(self, painter: QPainter, rest: Rest, part_id: str, now: Box | None) -> None:
        """Draw the drafting lines of a part; ``now`` is where it stands in this frame."""
        part = rest.parts[part_id]
        self.labels = []
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        inner = fitted_box(rest, part)
        if inner is not None:
            self._box(painter, inner, 1.0, [3.0, 3.0])
        for place in (part.part.across, part.part.down):
            if place is not None and place.on not in FRAME_AREAS:
                self._box(painter, anchor_box(rest, place), 1.0, [2.0, 4.0])
        for other in _sources(rest, part):
            self._box(painter, other.box, 1.0, [5.0, 2.0])
        self._box(painter, part.box, 1.8, None)
        axis = column_axis(part)
        if axis is not None:
            self._box(painter, Box(axis, 0.0, 0.0, float(rest.frame.height)), 1.0, [3.0, 4.0])
        if now is not None and not part.box.contains(now, 0.5):
            self._box(painter, now, 1.0, [1.0, 3.0])
        for dimension in dimensions(rest, part_id):
            self._dimension(painter, dimension, self._view(part.box))

    def handles(self, painter: QPainter, box: Box, sides: Sequence[Sides]) -> None:
        """Small squares to resize a part by."""
        self.grips = [(self._grip(box, side), side) for side in sides]
        for area, _ in self.grips:
            painter.setPen(QPen(QColor(0, 0, 0, 160), 1))
            painter.setBrush(QColor("#FFFFFF"))
            painter.drawRect(area)

    def _grip(self, box: Box, side: Sides) -> QRectF:
        at = self._to_view(box.x + box.w * (side[0] + 1) / 2, box.y + box.h * (side[1] + 1) / 2)
        return QRectF(at.x() - 3.5, at.y() - 3.5, 7, 7)

    def grip_at(self, point: QPointF) -> Sides | None:
        """The edges of the square under a point of the view."""
        return next((side for area, side in self.grips if area.adjusted(-3, -3, 3, 3).contains(point)), None)

    def outline(self, painter: QPainter, box: Box) -> None:
        """Only the box of a part that is selected beside others."""
        self._box(painter, box, 1.2, None)

    def _view(self, box: Box) -> QRectF:
        return QRectF(self._to_view(box.x, box.y), self._to_view(box.right, box.bottom))

    def _box(self, painter: QPainter, box: Box, width: float, dashes: list[float] | None) -> None:
        for tint, wide in ((QColor(0, 0, 0, 110), width + 1.6), (QColor(SEAGLASS), width)):
            pen = QPen(tint, wide)
            if dashes:
                pen.setDashPattern([d * width / wide for d in dashes])
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self._view(box))

    def _dimension(self, painter: QPainter, dimension: Dimension, part: QRectF) -> None:
        start, end = self._to_view(*dimension.start), self._to_view(*dimension.end)
        line = QLineF(start, end)
        for tint, wide in ((QColor(0, 0, 0, 120), 3.4), (QColor(SEAGLASS), 1.6)):
            painter.setPen(QPen(tint, wide))
            painter.drawLine(line)
            for point in (start, end):
                tick = QPointF(0, 4) if dimension.across else QPointF(4, 0)
                painter.drawLine(point - tick, point + tick)
        self._label(painter, dimension, line, part)

    def _label(self, painter: QPainter, dimension: Dimension, line: QLineF, part: QRectF) -> None:
        words = f"{in_figures(dimension.value)}" if abs(dimension.value) < 10_000 else f"{dimension.value:.0f}"
        painter.setFont(font(SMALL, figures=True))
        width = QFontMetricsF(painter.font()).horizontalAdvance(words) + 10
        area = self._label_area(dimension, line, part, width)
        for _ in range(4):
            if not any(area.intersects(other) for other, _ in self.labels):
                break
            area.translate(*((0, -18) if dimension.across else (width + 4, 0)))
        painter.setPen(QPen(qcolor(SEAGLASS), 1))
        painter.setBrush(QColor(20, 32, 30, 235))
        painter.drawRoundedRect(area, 4, 4)
        painter.setPen(QColor("#D9FFF4"))
        painter.drawText(area, Qt.AlignmentFlag.AlignCenter, words)
        self.labels.append((area, dimension))

    @staticmethod
    def _label_area(dimension: Dimension, line: QLineF, part: QRectF, width: float) -> QRectF:
        """Where a number stands: at its line, or outside of the part where a padding has no room for it, so that it covers no words."""
        middle, side = line.center(), dimension.target.rpartition(".")[2]
        room = width if dimension.across else _NUMBER
        if side.endswith("_gap"):  # of roles and of names, beside each other at the frame's foot
            x = min(line.x1(), line.x2()) - width - 5 if dimension.grows < 0 else max(line.x1(), line.x2()) + 5
            return QRectF(x, middle.y() - 8, width, _NUMBER)
        if side == "gap" or line.length() >= room + 2:
            beside = QRectF(middle.x() - width / 2, middle.y() - 22, width, _NUMBER)
            beside = beside if dimension.across else QRectF(middle.x() + 6, middle.y() - 8, width, _NUMBER)
            if side != "gap" or not beside.intersects(part):
                return beside
            if dimension.across:  # a line that leads into the part, such as from middle to middle: its number stands outside
                return QRectF(beside.x(), part.bottom() + _OFF, width, _NUMBER)
            return QRectF(part.right() + _OFF, beside.y(), width, _NUMBER)
        x = part.left() - width - _OFF if side == "left" else part.right() + _OFF
        y = {"top": part.top() - _NUMBER, "bottom": part.bottom()}.get(side, middle.y() - _NUMBER / 2)
        return QRectF(x, y, width, _NUMBER)

    def at(self, point: QPointF) -> tuple[QRectF, Dimension] | None:
        """The dimension whose number is under a point of the view; its line is not taken hold of, as a part may lie under it."""
        return next(((area, d) for area, d in reversed(self.labels) if area.contains(point)), None)
