"""The samples strip: the same template with other texts, always live, each with a word that says whether it holds."""

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QLabel, QSizePolicy, QVBoxLayout, QWidget

from avlet.desktop.sessions.template_session import AS_DESIGNED, Session
from avlet.desktop.stage.backgrounds import Background, image_over
from avlet.desktop.widgets.theme import GOOD, MARIGOLD, MUTED, SMALL, TEXT, font
from avlet.errors import AvletError
from avlet.paint.painter import new_pixels
from avlet.paint.scene import Scene
from avlet.review.samples import findings, verdict

GAP = 10
MOST_SHOWN = 6
_CAPTION = 20


def under_the_stage(transport: QWidget, samples: "SamplesStrip") -> tuple[QWidget, QVBoxLayout]:
    """What lies under a stage: a bar with the transport, and the samples under a heading, with room for more below them."""
    bar = QWidget()
    bar.setProperty("role", "panel")
    inside = QVBoxLayout(bar)
    inside.setContentsMargins(0, 0, 0, 0)
    inside.addWidget(transport)
    below = QVBoxLayout()
    below.setContentsMargins(16, 10, 16, 10)
    below.setSpacing(8)
    words = QLabel("Samples – the same template, other texts")
    words.setProperty("role", "small")
    below.addWidget(words)
    below.addWidget(samples)
    return bar, below


class SamplesStrip(QWidget):
    """Small live pictures of every sample at the stage's frame, or at rest while nothing of it would show."""

    def __init__(self, session: Session, background: Background, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.background = session, background
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMouseTracking(True)
        self.setAccessibleName("Samples")
        session.answers_changed.connect(self.update)
        session.changed.connect(self._follow)
        session.frame_changed.connect(lambda _: self.update())

    def sizeHint(self) -> QSize:
        return QSize(640, round(self._cell_width() * 9 / 16) + _CAPTION + 4)

    def heightForWidth(self, width: int) -> int:
        return self.sizeHint().height()

    def _follow(self) -> None:
        self.resizeEvent(None)
        self.update()

    def resizeEvent(self, event: object) -> None:
        self.setFixedHeight(min(150, round(self._cell_width() * self._ratio()) + _CAPTION + 6))

    def _ratio(self) -> float:
        frame = self.session.template.frame
        return min(frame.height / frame.width, 9 / 16)

    def _cell_width(self) -> float:
        return (max(self.width(), 320) - GAP * (self._shown - 1)) / self._shown

    @property
    def _shown(self) -> int:
        """How many samples lie side by side."""
        return max(4, min(MOST_SHOWN, len(self.session.template.samples)))

    def cells(self) -> list[tuple[str, str, QRectF]]:
        """Sample id, name and picture area of each cell."""
        width, frame = self._cell_width(), self.session.template.frame
        height = width * self._ratio()
        shown_width = min(width, height * frame.width / frame.height)
        found = []
        for index, sample in enumerate(self.session.template.samples[:MOST_SHOWN]):
            found.append((sample.id, sample.name, QRectF(index * (width + GAP), 0, shown_width, height)))
        return found

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        cells = self.cells()
        if not cells:
            painter.setPen(QColor(MUTED))
            painter.drawText(
                self.rect(), Qt.AlignmentFlag.AlignCenter, "No samples yet. Add words, and the shortest and longest show here."
            )
        for sample_id, name, area in cells:
            self._paint_cell(painter, sample_id, name, area)

    def _paint_cell(self, painter: QPainter, sample_id: str, name: str, area: QRectF) -> None:
        try:
            scene = self.session.scene(sample_id)
            self._paint_sample(painter, sample_id, name, area, scene)
        except AvletError as error:  # a painting never fails: what a sample cannot show is said in its place
            painter.fillRect(area, QColor("#58656C"))
            painter.setPen(QColor(MARIGOLD))
            painter.drawText(area.adjusted(8, 6, -8, -6), Qt.TextFlag.TextWordWrap, f"{name}: {error}")

    def _paint_sample(self, painter: QPainter, sample_id: str, name: str, area: QRectF, scene: Scene) -> None:
        painter.save()
        painter.setClipRect(area)
        painter.fillRect(area, QColor("#58656C"))
        if not self.background.moves:
            self.background.draw(painter, area, 0.0)
        ratio = self.devicePixelRatioF()
        pixels = new_pixels(max(1, round(area.width() * ratio)), max(1, round(area.height() * ratio)))
        scene.paint(min(self.session.frame, scene.length - 1), pixels)
        painter.drawImage(area, image_over(pixels))
        painter.restore()
        if sample_id == self.session.answers_from:
            painter.setPen(QPen(QColor("#FFFFFF"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(area.adjusted(1, 1, -1, -1))
        word = verdict(scene)
        good = word == "holds"
        y = area.bottom() + 6
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(GOOD if good else MARIGOLD))
        if good:
            painter.drawEllipse(QRectF(area.x() + 3, y + 3, 8, 8))
        else:
            painter.drawRect(QRectF(area.x() + 3, y + 3, 8, 8))
        painter.setFont(font(SMALL))
        painter.setPen(QColor(TEXT if good else MARIGOLD))
        words = painter.fontMetrics().elidedText(f"{name} – {word}", Qt.TextElideMode.ElideRight, int(area.width()) - 18)
        painter.drawText(QRectF(area.x() + 17, y, self._cell_width() - 17, 15), Qt.AlignmentFlag.AlignVCenter, words)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        for sample_id, _, area in self.cells():
            if area.adjusted(0, 0, 0, _CAPTION).contains(event.position()):
                chosen = self.session.answers_from == sample_id
                self.session.show_answers(AS_DESIGNED if chosen else sample_id)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        for sample_id, name, area in self.cells():
            if area.adjusted(0, 0, 0, _CAPTION).contains(event.position()):
                try:
                    found = [f.words for f in findings(self.session.scene(sample_id))]
                except AvletError as error:
                    found = [str(error)]
                self.setToolTip("\n".join(found) or f"{name} holds. Click to put it on the stage and type its words there.")
                return
        self.setToolTip("")
