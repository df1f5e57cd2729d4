"""A strip of frames: the stage at eight moments of the chosen move."""

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from avlet.desktop.sessions.template_session import Session
from avlet.desktop.stage.backgrounds import image_over
from avlet.desktop.widgets.theme import MARIGOLD, MUTED, SMALL, font
from avlet.geometry import Box
from avlet.paint.painter import new_pixels
from avlet.paint.views import shown_box, view_round

MOMENTS, GAP = 8, 6


class MomentsStrip(QWidget):
    """Shows the whole title from a move's first frame to its last. A click goes to a moment."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.start, self.end = 0.0, 1.0
        self.setFixedHeight(78)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Eight moments of the move")
        session.changed.connect(self.update)
        session.answers_changed.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(640, 78)

    def show_move(self, start: float, end: float) -> None:
        """Show the frames from ``start`` to ``end``."""
        self.start, self.end = start, end
        self.update()

    def frames(self) -> list[int]:
        """The eight frames."""
        last = self.session.length() - 1
        return [max(0, min(last, round(self.start + (self.end - self.start) * n / (MOMENTS - 1)))) for n in range(MOMENTS)]

    def _cell(self, number: int) -> QRectF:
        width = (self.width() - GAP * (MOMENTS - 1)) / MOMENTS
        return QRectF(number * (width + GAP), 0, width, self.height() - 15)

    def _window(self, cell: QRectF) -> Box:
        """What of the frame a cell shows: all that can be seen in any of the moments, in the cell's own proportions."""
        scene = self.session.scene()
        seen = [box for frame in dict.fromkeys(self.frames()) if (box := shown_box(scene, frame)) is not None]
        return view_round(Box.union(seen), self.session.template.frame, cell.width() / max(1.0, cell.height()))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(font(SMALL - 1, figures=True))
        scene, ratio = self.session.scene(), self.devicePixelRatioF()
        window = self._window(self._cell(0))
        for number, frame in enumerate(self.frames()):
            cell = self._cell(number)
            pixels = new_pixels(max(1, round(cell.width() * ratio)), max(1, round(cell.height() * ratio)))
            scene.paint(frame, pixels, view=window)
            painter.fillRect(cell, QColor("#58656C"))
            painter.drawImage(cell, image_over(pixels))
            here = frame == self.session.frame
            painter.setPen(QPen(QColor("#FFFFFF" if here else MARIGOLD), 1.6) if here else QPen(QColor("#3A4045"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(cell)
            painter.setPen(QColor(MUTED))
            painter.drawText(QRectF(cell.x(), cell.bottom() + 2, cell.width(), 12), Qt.AlignmentFlag.AlignCenter, str(frame))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        for number, frame in enumerate(self.frames()):
            if self._cell(number).adjusted(0, 0, GAP, 20).contains(event.position()):
                self.session.go_to(frame)
                return
