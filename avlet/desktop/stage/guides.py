"""Rulers along the stage, and guides that are drawn out of them."""

from typing import Literal, NamedTuple

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from avlet.desktop.sessions.template_session import Session
from avlet.desktop.stage.frame_view import FrameView
from avlet.desktop.widgets.theme import MUTED, PANEL, SEAGLASS, font
from avlet.document.template import Guides
from avlet.numbers.exact import in_figures

THICK = 18
_NEAR = 4.0
_CLOSEST = 4.0
"""View px between the lines of a grid that is drawn."""
_STEPS = (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000)


class Held(NamedTuple):
    """A guide being dragged: along which axis it lies, and its number among them; None for a new one."""

    axis: Literal[0, 1]
    number: int | None


class Rulers:
    """The rulers of one stage. A drag out of a ruler makes a guide; dragged back onto it, a guide is gone."""

    def __init__(self, view: FrameView, session: Session) -> None:
        self.view, self.session = view, session
        self.shown = False
        self.held: Held | None = None
        self.at = 0.0

    @property
    def guides(self) -> Guides:
        return self.session.template.guides

    def press(self, point: QPointF) -> bool:
        """Take hold of a guide, or begin one on a ruler; False when there is neither under the point."""
        if self.shown and point.y() < THICK <= point.x():
            self.held = Held(1, None)
        elif self.shown and point.x() < THICK <= point.y():
            self.held = Held(0, None)
        else:
            self.held = self._guide_at(point)
        if self.held is not None:
            self.move(point)
        return self.held is not None

    def move(self, point: QPointF) -> None:
        """Drag what is held to a whole px of the frame."""
        assert self.held is not None
        frame = self.view.to_frame(point)
        self.at = float(round(frame.x() if self.held.axis == 0 else frame.y()))
        self.view.update()

    def release(self, point: QPointF) -> None:
        """Leave the guide there, or take it away when it was dragged back onto its ruler or out of the view."""
        assert self.held is not None
        axis, number = self.held
        self.held = None
        lines = list(self.guides.across if axis == 0 else self.guides.down)
        if number is not None:
            del lines[number]
        along = point.x() if axis == 0 else point.y()
        end = self.view.width() if axis == 0 else self.view.height()
        kept = THICK <= along <= end
        if kept:
            lines.append(self.at)
        if not kept and number is None:
            self.view.update()
            return
        sorted_lines, present = tuple(sorted(set(lines))), self.guides
        across, down = (sorted_lines, present.down) if axis == 0 else (present.across, sorted_lines)
        self.session.edit("Guides", lambda t: t.with_guides(Guides(across, down, present.grid)))

    def let_go(self) -> None:
        """Let go of what is held, and leave it where it was."""
        self.held = None
        self.view.update()

    def cursor(self, point: QPointF) -> Qt.CursorShape | None:
        """What the pointer says over a guide or ruler."""
        if self.shown and (point.x() < THICK or point.y() < THICK):
            return Qt.CursorShape.SplitVCursor if point.y() < THICK else Qt.CursorShape.SplitHCursor
        found = self._guide_at(point)
        return None if found is None else Qt.CursorShape.SplitHCursor if found.axis == 0 else Qt.CursorShape.SplitVCursor

    def _guide_at(self, point: QPointF) -> Held | None:
        if not self.shown:
            return None
        for axis, lines in ((0, self.guides.across), (1, self.guides.down)):
            for number, at in enumerate(lines):
                view = self.view.to_view(at, at)
                if abs((view.x() - point.x()) if axis == 0 else (view.y() - point.y())) <= _NEAR:
                    return Held(0 if axis == 0 else 1, number)
        return None

    # Painting

    def draw(self, painter: QPainter) -> None:
        """The guides, and over them the rulers with px of the frame."""
        if not self.shown:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        self._draw_grid(painter)
        tint = QColor(SEAGLASS)
        painter.setPen(QPen(tint, 1))
        for axis, lines in ((0, self.guides.across), (1, self.guides.down)):
            for number, at in enumerate(lines):
                if self.held != (axis, number):
                    painter.drawLine(self._line(axis, at))
        if self.held is not None:
            painter.setPen(QPen(QColor("#FFFFFF"), 1))
            painter.drawLine(self._line(self.held.axis, self.at))
        width, height = self.view.width(), self.view.height()
        painter.fillRect(QRectF(0, 0, width, THICK), QColor(PANEL))
        painter.fillRect(QRectF(0, 0, THICK, height), QColor(PANEL))
        painter.setFont(font(9, figures=True))
        self._ticks(painter, 0, width)
        self._ticks(painter, 1, height)
        painter.fillRect(QRectF(0, 0, THICK, THICK), QColor(PANEL))
        if self.held is not None:
            place = self.view.to_view(self.at, self.at)
            painter.setPen(QColor("#FFFFFF"))
            words = place + QPointF(4, THICK + 12) if self.held.axis == 0 else QPointF(THICK + 4, place.y() - 4)
            painter.drawText(words, f"{in_figures(self.at)}")

    def _draw_grid(self, painter: QPainter) -> None:
        """The grid's lines over the frame, unless they would run together."""
        frame, grid = self.session.template.frame, self.guides.grid
        if grid * self.view.scale < _CLOSEST:
            return
        corner, end = self.view.to_view(0, 0), self.view.to_view(frame.width, frame.height)
        painter.setPen(QPen(QColor(255, 255, 255, 54), 1))
        bare = Guides(grid=grid)
        for x in bare.lines(0, frame.width):
            at = self.view.to_view(x, 0).x()
            painter.drawLine(QLineF(at, corner.y(), at, end.y()))
        for y in bare.lines(1, frame.height):
            at = self.view.to_view(0, y).y()
            painter.drawLine(QLineF(corner.x(), at, end.x(), at))

    def _line(self, axis: int, at: float) -> QLineF:
        view = self.view.to_view(at, at)
        return QLineF(view.x(), 0, view.x(), self.view.height()) if axis == 0 else QLineF(0, view.y(), self.view.width(), view.y())

    def _ticks(self, painter: QPainter, axis: int, length: int) -> None:
        scale = self.view.scale
        step = next((s for s in _STEPS if s * scale >= 50), _STEPS[-1])
        origin = self.view.to_view(0, 0)
        zero = origin.x() if axis == 0 else origin.y()
        painter.setPen(QColor(MUTED))
        n = int((THICK - zero) // (step * scale))
        while zero + n * step * scale < length:
            at = zero + n * step * scale
            if axis == 0:
                painter.drawLine(QLineF(at, THICK - 7, at, THICK))
                painter.drawText(QPointF(at + 3, THICK - 6), f"{n * step}")
            else:
                painter.drawLine(QLineF(THICK - 7, at, THICK, at))
                painter.save()
                painter.translate(THICK - 8, at + 3)
                painter.rotate(90)
                painter.drawText(QPointF(0, 3), f"{n * step}")
                painter.restore()
            n += 1
