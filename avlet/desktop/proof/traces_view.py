"""The chosen row over time, on the folded ruler; a click goes to the moment."""

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from avlet.arrays import Floats
from avlet.desktop.proof.proof_model import ProofModel
from avlet.desktop.widgets.theme import BASE, LINE, MARIGOLD, MUTED, SEAGLASS, SMALL, STRONG, TEXT, font
from avlet.motion.folded_time import FoldedTime
from avlet.review.proof_sheet import moments_of
from avlet.review.traces import Traces

_NAME, _HEAD, _RIGHT = 112, 34, 16
HEIGHT = 250


class TracesView(QWidget):
    """How much shows, the fastest unit, contrast, px outside of title-safe."""

    def __init__(self, model: ProofModel) -> None:
        super().__init__()
        self.model = model
        self.setFixedHeight(HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("The chosen row over time")
        for signal in (model.traced, model.chosen_changed, model.changed):
            signal.connect(self.update)

    def _time(self, traces: Traces) -> FoldedTime:
        return FoldedTime(traces.spans, _NAME, self.width() - _RIGHT)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self.model.rows:
            return
        painter.setPen(QColor(TEXT))
        painter.setFont(font(STRONG))
        painter.drawText(QRectF(14, 8, 400, 20), Qt.AlignmentFlag.AlignVCenter, f"{self.model.rows[self.model.row].name}, over time")
        painter.setPen(QColor(MUTED))
        painter.setFont(font(SMALL))
        said = QRectF(self.width() - 300, 8, 300 - _RIGHT, 20)
        traces = self.model.traces
        if traces is None:
            painter.drawText(said, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, "measuring …")
            return
        folded = self._time(traces).is_folded
        painter.drawText(
            said, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, "folded hold · a click goes there" if folded else ""
        )
        rows = (
            ("shows", traces.frames, traces.shows, MARIGOLD, f"{traces.shows.max(initial=0):.0%} at most"),
            ("fastest", traces.frames, traces.fastest, MARIGOLD, f"{traces.fastest.max(initial=0):.0f} px a frame"),
            ("contrast", traces.contrast_at, np.log(np.maximum(traces.contrast, 1.0)), TEXT, _least(traces)),
            ("outside", traces.frames, traces.outside, SEAGLASS, f"{traces.outside.max(initial=0):.0f} px"),
        )
        tall = (self.height() - _HEAD - 8) / len(rows)
        for number, (name, frames, values, colour, words) in enumerate(rows):
            self._paint_trace(painter, traces, name, frames, values, colour, words, QRectF(0, _HEAD + number * tall, self.width(), tall))
        scene = self.model.scene(self.model.row)
        if not isinstance(scene, str):
            x = self._time(traces).x_of(self.model.frame)
            painter.setPen(QPen(QColor("#FFFFFF"), 1.5))
            painter.drawLine(QPointF(x, _HEAD - 4), QPointF(x, self.height() - 6))

    def _paint_trace(
        self, painter: QPainter, traces: Traces, name: str, frames: Floats, values: Floats, colour: str, words: str, area: QRectF
    ) -> None:
        time, foot = self._time(traces), area.bottom() - 8
        painter.setPen(QColor(MUTED))
        painter.setFont(font(BASE))
        painter.drawText(QRectF(14, area.top(), _NAME - 20, area.height() / 2 + 4), Qt.AlignmentFlag.AlignBottom, name)
        painter.setFont(font(SMALL, figures=True))
        painter.drawText(QRectF(14, area.center().y() + 4, _NAME - 20, 16), Qt.AlignmentFlag.AlignTop, words)
        painter.setPen(QPen(QColor(LINE), 1))
        painter.drawLine(QPointF(_NAME, foot), QPointF(self.width() - _RIGHT, foot))
        most = float(values.max(initial=0.0))
        high = area.height() - 18
        points = [QPointF(time.x_of(f), foot - (v / most * high if most > 0 else 0.0)) for f, v in zip(frames, values, strict=True)]
        hot = MARIGOLD if name == "outside" and most > 0.5 else colour
        painter.setPen(QPen(QColor(hot), 1.8))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF(points))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        traces, scene = self.model.traces, self.model.scene(self.model.row) if self.model.rows else ""
        if traces is None or isinstance(scene, str):
            return
        frame, frames = self._time(traces).frame_at(event.position().x()), moments_of(scene, self.model.moments)
        self.model.choose(self.model.row, min(range(len(frames)), key=lambda n: abs(frames[n] - frame)))


def _least(traces: Traces) -> str:
    return f"{traces.contrast.min():.1f} : 1 at least" if len(traces.contrast) else "no words"
