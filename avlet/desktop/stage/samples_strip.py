"""The samples strip: the same template with other texts, always live, each with a word that says whether it holds."""

from weakref import WeakKeyDictionary

from PyQt6.QtCore import QPointF, QRectF, QSize, QSizeF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QSizePolicy, QVBoxLayout, QWidget

from avlet.desktop.sessions.template_session import AS_DESIGNED, Session
from avlet.desktop.stage.backgrounds import Background, image_over
from avlet.desktop.widgets.buttons import flat_switch
from avlet.desktop.widgets.theme import GOOD, MARIGOLD, MUTED, SMALL, TEXT, font
from avlet.errors import AvletError
from avlet.geometry import Box
from avlet.paint.painter import new_pixels
from avlet.paint.scene import Scene
from avlet.paint.views import view_round
from avlet.review.samples import findings, verdict
from avlet.review.views import rest_box

GAP = 10
MOST_SHOWN = 6
_CAPTION, _HIGHEST = 20, 420


def in_a_bar(transport: QWidget) -> QWidget:
    """The transport, in the bar under a stage."""
    bar = QWidget()
    bar.setProperty("role", "panel")
    inside = QVBoxLayout(bar)
    inside.setContentsMargins(0, 0, 0, 0)
    inside.addWidget(transport)
    return bar


def _head(samples: "SamplesStrip") -> None:
    """Fill what stands over samples."""
    heading = QHBoxLayout(samples.heading)
    heading.setContentsMargins(0, 0, 0, 0)
    words = QLabel("Samples – the same template, other texts")
    words.setProperty("role", "small")
    heading.addWidget(words)
    heading.addStretch(1)
    whole = flat_switch("frame", "Samples show the whole frame, or only what the titles take up", samples.show_whole, on=False)
    larger = flat_switch("larger", "Larger samples, two in a row", samples.show_larger, on=False)
    heading.addWidget(whole)
    heading.addWidget(larger)


class SamplesStrip(QWidget):
    """Small live pictures of every sample at the stage's frame, or at rest while nothing of it would show."""

    height_changed = pyqtSignal()

    def __init__(self, session: Session, background: Background, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.background = session, background
        self.whole = self.larger = False
        self.heading = QWidget()
        """What stands over the samples."""
        _head(self)
        self._seen: WeakKeyDictionary[Scene, Box | None] = WeakKeyDictionary()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMouseTracking(True)
        self.setAccessibleName("Samples")
        session.answers_changed.connect(self.update)
        session.changed.connect(self._follow)
        session.frame_changed.connect(lambda _: self.update())
        self.resizeEvent(None)  # a height from the first moment on, so that a bench that is not shown yet asks for no more

    def show_whole(self, whole: bool) -> None:
        """Show the whole frame, or only the box of what all samples draw, so that they can be compared."""
        self.whole = whole
        self.update()

    def show_larger(self, larger: bool) -> None:
        """Show two in a row, as large as there is room for, or all in one."""
        self.larger = larger
        self._follow()

    def sizeHint(self) -> QSize:
        return QSize(640, self.height())

    def heightForWidth(self, width: int) -> int:
        return self.sizeHint().height()

    def _follow(self) -> None:
        self.resizeEvent(None)
        self.update()

    def resizeEvent(self, event: object) -> None:
        lines = -(-len(self.session.template.samples[:MOST_SHOWN]) // self._shown) if self.larger else 1
        before = self.height()
        self.setFixedHeight(min(_HIGHEST if self.larger else 150, lines * (round(self._cell_width() * self._ratio()) + _CAPTION + 6)))
        if self.height() != before:
            self.height_changed.emit()

    def _ratio(self) -> float:
        frame = self.session.template.frame
        return min(frame.height / frame.width, 9 / 16)

    def _cell_width(self) -> float:
        return (max(self.width(), 320) - GAP * (self._shown - 1)) / self._shown

    @property
    def _shown(self) -> int:
        """How many samples lie side by side."""
        return 2 if self.larger else max(4, min(MOST_SHOWN, len(self.session.template.samples)))

    def cells(self) -> list[tuple[str, str, QRectF]]:
        """Sample id, name and picture area of each cell."""
        width, frame = self._cell_width(), self.session.template.frame
        samples = self.session.template.samples[:MOST_SHOWN]
        lines = -(-len(samples) // self._shown)
        height = min(width * self._ratio(), self.height() / max(1, lines) - _CAPTION - 6)
        shown_width = min(width, height * frame.width / frame.height)
        found = []
        for index, sample in enumerate(samples):
            line, place = divmod(index, self._shown)
            area = QRectF(place * (width + GAP), line * (height + _CAPTION + 6), shown_width, height)
            found.append((sample.id, sample.name, area))
        return found

    def view(self) -> Box:
        """What of the frame every sample shows: the joint box of what all of them draw at rest, or the whole."""
        frame = self.session.template.frame
        boxes = []
        for sample in () if self.whole else self.session.template.samples[:MOST_SHOWN]:
            try:
                boxes.append(self._seen_in(self.session.scene(sample.id)))
            except AvletError:
                continue
        return view_round(Box.union(box for box in boxes if box is not None), frame, frame.width / frame.height)

    def _seen_in(self, scene: Scene) -> Box | None:
        if scene not in self._seen:
            self._seen[scene] = rest_box(scene)
        return self._seen[scene]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        cells = self.cells()
        if not cells:
            painter.setPen(QColor(MUTED))
            painter.drawText(
                self.rect(), Qt.AlignmentFlag.AlignCenter, "No samples yet. Add words, and the shortest and longest show here."
            )
        view = self.view()
        for sample_id, name, area in cells:
            self._paint_cell(painter, sample_id, name, area, view)

    def _paint_cell(self, painter: QPainter, sample_id: str, name: str, area: QRectF, view: Box) -> None:
        try:
            scene = self.session.scene(sample_id)
            self._paint_sample(painter, sample_id, name, area, scene, view)
        except AvletError as error:  # a painting never fails: what a sample cannot show is said in its place
            painter.fillRect(area, QColor("#58656C"))
            painter.setPen(QColor(MARIGOLD))
            painter.drawText(area.adjusted(8, 6, -8, -6), Qt.TextFlag.TextWordWrap, f"{name}: {error}")

    def _paint_sample(self, painter: QPainter, sample_id: str, name: str, area: QRectF, scene: Scene, view: Box) -> None:
        painter.save()
        painter.setClipRect(area)
        painter.fillRect(area, QColor("#58656C"))
        if not self.background.moves:
            frame, scale = self.session.template.frame, area.width() / view.w
            corner = QPointF(area.x() - view.x * scale, area.y() - view.y * scale)
            self.background.draw(painter, QRectF(corner, QSizeF(frame.width * scale, frame.height * scale)), 0.0)
        ratio = self.devicePixelRatioF()
        pixels = new_pixels(max(1, round(area.width() * ratio)), max(1, round(area.height() * ratio)))
        scene.paint(min(self.session.frame, scene.length - 1), pixels, view=view)
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
