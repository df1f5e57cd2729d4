"""The proof sheet: rows down, moments across; what is drawn fills each cell, and what does not hold is marked on it."""

import time
from collections import OrderedDict

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, QTimer
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QAbstractScrollArea, QToolTip

from avlet.desktop.proof.proof_model import ProofModel
from avlet.desktop.widgets.theme import BASE, GROUND, MARIGOLD, MUTED, SMALL, TEXT, font
from avlet.geometry import Box
from avlet.paint.painter import canvas_over, new_pixels
from avlet.paint.views import view_round
from avlet.review.proof_sheet import Cell, draw_cell, marks, moments_of
from avlet.review.views import rest_box

_NAME, _HEAD, _GAP, _BUDGET = 112, 26, 7, 0.012
_MOST_KEPT = 260


KEYS: tuple[tuple[str, str], ...] = (
    ("Up", "The row above"), ("Down", "The row below"), ("Left", "The moment before"), ("Right", "The moment after"),
    ("Home", "The first moment"), ("End", "The last moment"), ("Return", "Show the part of the chosen finding on Build"),
)  # fmt: skip
"""What the keys do in the sheet of a proof, in words."""


class SheetView(QAbstractScrollArea):
    """The arrows go from cell to cell; Return shows the part on Build."""

    def __init__(self, model: ProofModel) -> None:
        super().__init__()
        self.model = model
        self.whole = False
        """Whether cells show the whole frame."""
        self.setAccessibleName("The proof sheet: rows down, moments across")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFrameShape(QAbstractScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._kept: OrderedDict[tuple[int, int], QImage] = OrderedDict()
        self._painting = QTimer(self)
        self._painting.timeout.connect(self._paint_some)
        viewport = self.viewport()
        assert viewport is not None
        viewport.setMouseTracking(True)
        model.changed.connect(self.show_again)
        model.chosen_changed.connect(self._reveal)

    def show_again(self) -> None:
        """Other rows, another template, or another way of showing."""
        self._kept.clear()
        self._measure()
        self._touch()

    def show_whole(self, on: bool) -> None:
        self.whole = on
        self.show_again()

    # Where

    @property
    def cell_width(self) -> float:
        viewport = self.viewport()
        return max(40.0, ((viewport.width() if viewport else 600) - _NAME - 16 - _GAP * len(self.model.moments)) / len(self.model.moments))

    @property
    def _step(self) -> float:
        return self.cell_width * 9 / 16 + _GAP

    def cell_area(self, row: int, moment: int) -> QRectF:
        """A cell, in px of the viewport."""
        bar = self.verticalScrollBar()
        y = _HEAD + row * self._step - (bar.value() if bar else 0)
        return QRectF(_NAME + moment * (self.cell_width + _GAP), y, self.cell_width, self.cell_width * 9 / 16)

    def cell_at(self, point: QPointF) -> tuple[int, int] | None:
        """The row and moment at a point."""
        moment = int((point.x() - _NAME) // (self.cell_width + _GAP))
        bar = self.verticalScrollBar()
        row = int((point.y() - _HEAD + (bar.value() if bar else 0)) // self._step)
        inside = 0 <= moment < len(self.model.moments) and 0 <= row < len(self.model.rows) and point.y() >= _HEAD
        return (row, moment) if inside and self.cell_area(row, moment).contains(point) else None

    def _measure(self) -> None:
        bar, viewport = self.verticalScrollBar(), self.viewport()
        if bar is not None and viewport is not None:
            bar.setRange(0, max(0, round(_HEAD + len(self.model.rows) * self._step) - viewport.height()))
            bar.setPageStep(viewport.height())
            bar.setSingleStep(round(self._step / 2))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._kept.clear()
        self._measure()
        super().resizeEvent(event)

    def _reveal(self) -> None:
        area, viewport, bar = self.cell_area(self.model.row, 0), self.viewport(), self.verticalScrollBar()
        if viewport is not None and bar is not None:
            if area.top() < _HEAD:
                bar.setValue(round(bar.value() + area.top() - _HEAD))
            elif area.bottom() > viewport.height():
                bar.setValue(round(bar.value() + area.bottom() - viewport.height() + _GAP))
        self._touch()

    def _touch(self) -> None:
        viewport = self.viewport()
        if viewport is not None:
            viewport.update()

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        viewport = self.viewport()
        assert viewport is not None
        painter = QPainter(viewport)
        painter.fillRect(viewport.rect(), QColor(GROUND))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        missing = False
        for row, one in enumerate(self.model.rows):
            area = self.cell_area(row, 0)
            if area.bottom() < _HEAD or area.top() > viewport.height():
                continue
            painter.setFont(font(BASE))
            painter.setPen(QColor(TEXT if row == self.model.row else MUTED))
            name = painter.fontMetrics().elidedText(one.name, Qt.TextElideMode.ElideRight, _NAME - 20)
            painter.drawText(QRectF(14, area.top(), _NAME - 18, area.height()), Qt.AlignmentFlag.AlignVCenter, name)
            missing |= self._paint_row(painter, row)
        painter.fillRect(QRectF(0, 0, viewport.width(), _HEAD - 2), QColor(GROUND))
        self._paint_heads(painter)
        if missing and not self._painting.isActive():
            self._painting.start(0)

    def _paint_heads(self, painter: QPainter) -> None:
        scene = self.model.scene(self.model.row) if self.model.rows else ""
        frames = moments_of(scene, self.model.moments) if not isinstance(scene, str) else ()
        painter.setFont(font(SMALL, figures=True))
        painter.setPen(QColor(MUTED))
        for moment, name in enumerate(self.model.moments):
            area = self.cell_area(0, moment)
            words = f"frame {name}" if isinstance(name, int) else f"{name} · {frames[moment]}" if frames else name
            painter.drawText(QRectF(area.left(), 4, area.width(), _HEAD - 8), Qt.AlignmentFlag.AlignCenter, words)

    def _paint_row(self, painter: QPainter, row: int) -> bool:
        """Paint the cells of a row that are drawn; whether some are not yet."""
        scene, missing = self.model.scene(row), False
        for moment in range(len(self.model.moments)):
            area = self.cell_area(row, moment)
            image = self._kept.get((row, moment))
            painter.setPen(Qt.PenStyle.NoPen)
            if image is None:
                painter.setBrush(QColor("#2B3033" if not isinstance(scene, str) else "#4A2B2E"))
                painter.drawRoundedRect(area, 3, 3)
                missing |= not isinstance(scene, str)
            else:
                painter.drawImage(area, image)
            if (row, moment) == (self.model.row, self.model.moment):
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(QPen(QColor("#FFFFFF" if self.hasFocus() else MARIGOLD), 2))
                painter.drawRoundedRect(area.adjusted(-2, -2, 2, 2), 4, 4)
        if isinstance(scene, str):
            painter.setPen(QColor(TEXT))
            whole = self.cell_area(row, 0).united(self.cell_area(row, len(self.model.moments) - 1))
            painter.drawText(whole.adjusted(10, 0, -10, 0), Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap, scene)
        return missing

    def _paint_some(self) -> None:
        """Draw cells that are looked at, for a moment, so that the window is never held up."""
        viewport, end = self.viewport(), time.monotonic() + _BUDGET
        tall = viewport.height() if viewport is not None else 0
        for row in range(len(self.model.rows)):
            area = self.cell_area(row, 0)
            if area.bottom() < _HEAD or area.top() > tall:
                continue
            for moment in range(len(self.model.moments)):
                if (row, moment) not in self._kept and not isinstance(self.model.scene(row), str):
                    self._kept[row, moment] = self.drawn(row, moment, self.cell_width)
                    if time.monotonic() > end:
                        self._touch()
                        return
        while len(self._kept) > _MOST_KEPT:
            self._kept.popitem(last=False)
        self._painting.stop()
        self._touch()

    def cell(self, row: int, moment: int, ratio: float = 16 / 9) -> Cell:
        """What a cell shows, and what is marked on it."""
        scene = self.model.scene(row)
        assert not isinstance(scene, str)
        frame = moments_of(scene, self.model.moments)[moment]
        name = self.model.rows[row].name
        found = tuple(f for f in self.model.findings if f.sample == name and f.level != "told" and marks(f, frame))
        view = view_round(None if self.whole else rest_box(scene), scene.template.frame, ratio)
        return Cell(self.model.rows[row], frame, view, found)

    def drawn(self, row: int, moment: int, width: float) -> QImage:
        """A cell's picture, so wide in px of the screen."""
        scene, cell, ratio = self.model.scene(row), self.cell(row, moment), self.devicePixelRatioF()
        assert not isinstance(scene, str)
        wide, high = max(2, round(width * ratio)), max(2, round(width * ratio * 9 / 16))
        pixels = new_pixels(wide, high)
        surface = canvas_over(pixels)
        draw_cell(surface.getCanvas(), scene, cell, Box(0, 0, wide, high))
        surface.flushAndSubmit()
        return QImage(pixels.tobytes(), wide, high, wide * 4, QImage.Format.Format_RGBA8888_Premultiplied).copy()

    # Choosing

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        found = self.cell_at(event.position())
        if found is not None:
            self.model.choose(*found)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        steps = {Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0), Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1)}
        step = steps.get(Qt.Key(event.key())) if event.key() in {int(k) for k in steps} else None
        if event.key() in (Qt.Key.Key_Home, Qt.Key.Key_End):
            self.model.choose(self.model.row, 0 if event.key() == Qt.Key.Key_Home else len(self.model.moments) - 1)
        elif step is not None:
            self.model.choose(self.model.row + step[0], self.model.moment + step[1])
            row = self.model.rows[self.model.row]
            self.setAccessibleDescription(f"{row.name}, {self.model.moments[self.model.moment]}")
        else:
            super().keyPressEvent(event)

    def viewportEvent(self, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.ToolTip:
            found = self.cell_at(event.pos().toPointF())  # type: ignore[attr-defined]
            if found is not None and not isinstance(self.model.scene(found[0]), str):
                words = "\n".join(dict.fromkeys(f.words for f in self.cell(*found).marked))
                QToolTip.showText(event.globalPos(), words or self.model.rows[found[0]].name, self)  # type: ignore[attr-defined]
                return True
        return super().viewportEvent(event)
