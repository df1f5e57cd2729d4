"""The chosen row as a moving picture: it plays at the template's rate, by a press on it or Space among the rows."""

from fractions import Fraction

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QHideEvent, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from avlet.desktop.roster.roster_session import RosterSession
from avlet.desktop.sessions.player import Player
from avlet.desktop.widgets.theme import LINE, MUTED, SMALL, TEXT, font
from avlet.geometry import Box
from avlet.paint.painter import canvas_over, new_pixels
from avlet.paint.scene import Scene
from avlet.paint.views import view_round
from avlet.review.awkward import Row
from avlet.review.proof_sheet import Cell, draw_cell
from avlet.review.views import rest_box

GROUND_OF_NONE = "#3A3033"
"""Where there is no picture, as the row cannot be rendered."""


def row_image(scene: Scene | str, frame: int, wide: int, high: int, whole: bool) -> QImage:
    """A frame of a row on a quiet plate: what is drawn, large, or the whole frame; plain ground where it has no picture."""
    if isinstance(scene, str):
        empty = QImage(wide, high, QImage.Format.Format_RGBA8888_Premultiplied)
        empty.fill(QColor(GROUND_OF_NONE))
        return empty
    view = view_round(None if whole else rest_box(scene), scene.template.frame, wide / high)
    pixels = new_pixels(wide, high)
    surface = canvas_over(pixels)
    draw_cell(surface.getCanvas(), scene, Cell(Row(""), frame, view, ()), Box(0, 0, wide, high))
    surface.flushAndSubmit()
    return QImage(pixels.tobytes(), wide, high, wide * 4, QImage.Format.Format_RGBA8888_Premultiplied).copy()


class RowPicture(QWidget):
    """Shows what the rows show of it, larger; while it plays its own frames."""

    def __init__(self, session: RosterSession) -> None:
        super().__init__()
        self.session = session
        self.frame: int | None = None
        """The frame that is played; None while it rests."""
        self.player = Player(self._length, self._rate, self)
        self.player.frame_due.connect(self._show)
        self.player.playing_changed.connect(lambda _: self._say())
        self.setFixedSize(252, 142)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setToolTip("A press, or Space, plays this row")
        self._say()
        for signal in (session.changed, session.selection_changed):
            signal.connect(self.rest)
        session.frame_changed.connect(lambda _: self.update())

    def _scene(self) -> Scene | str:
        return self.session.scene(self.session.row)

    def _length(self) -> int:
        scene = self._scene()
        return 1 if isinstance(scene, str) else scene.length

    def _rate(self) -> Fraction:
        return self.session.session.template.frame.fps

    def _say(self) -> None:
        self.setAccessibleName("The chosen row, playing" if self.player.playing else "The chosen row")

    def _show(self, frame: int) -> None:
        self.frame = frame
        self.update()

    def play_or_rest(self) -> None:
        """Play the chosen row from its first frame, or let it rest."""
        if self.player.playing:
            self.rest()
        elif not isinstance(self._scene(), str):
            self.player.play(0)

    def rest(self) -> None:
        """Stop, and show what the rows show."""
        if self.player.playing:
            self.player.stop()
        self.frame = None
        self.update()

    def hideEvent(self, event: QHideEvent | None) -> None:
        self.rest()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.play_or_rest()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return):
            self.play_or_rest()
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, scene, ratio = QPainter(self), self._scene(), self.devicePixelRatioF()
        frame = 0 if isinstance(scene, str) else self.session.frame_of(scene) if self.frame is None else min(self.frame, scene.length - 1)
        image = row_image(scene, frame, round(self.width() * ratio), round(self.height() * ratio), False)
        painter.drawImage(QRectF(self.rect()), image)
        painter.setPen(QColor(TEXT if self.hasFocus() else LINE))
        painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        if not isinstance(scene, str):
            painter.setFont(font(SMALL, figures=True))
            painter.setPen(QColor(MUTED))
            words = f"{frame} of {scene.length}" if self.player.playing else "▶ Space"
            painter.drawText(self.rect().adjusted(6, 4, -6, -4), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignBottom, words)
