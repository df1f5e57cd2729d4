"""A tile: a template as it is drawn, large, which plays while the pointer or the keyboard is on it."""

import time
from collections.abc import Callable

from PyQt6.QtCore import QEvent, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QEnterEvent, QFocusEvent, QIcon, QImage, QKeyEvent, QPixmap
from PyQt6.QtWidgets import QToolButton, QWidget

from avlet.document.template import Frame, Template
from avlet.errors import AvletError
from avlet.paint.painter import new_pixels
from avlet.paint.scene import Scene
from avlet.storage.package import Opened
from avlet.storage.thumbnail import GROUND, kept_thumbnail_png, landed_frame, tile_view

PICTURE = QSize(140, 79)
_TICK = 40
"""ms from one picture of a tile that plays to the next."""
_ARROWS = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
Begin = Callable[[Frame], Opened]
"""Makes what a tile begins with, in a frame. Raises ``AvletError`` where it cannot be."""


class Tile(QToolButton):
    """A start, in a frame. Its picture comes when it is asked for; Return and Space press it.

    ``moved`` tells that an arrow wants another tile: how many across and how many down; ``unwanted`` that Delete was pressed.
    """

    moved = pyqtSignal(int, int)
    unwanted = pyqtSignal()

    def __init__(self, name: str, label: str, begin: Begin, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.name, self.label, self.begin = name, label, begin
        self.opened: Opened | None = None
        self.fault = ""
        self.setObjectName(f"start {name}")
        self.setAccessibleName(f"Start from {name}")
        self.setText(label)
        self.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
        self.setIconSize(PICTURE)
        self.setProperty("role", "tile")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._still = QPixmap(PICTURE * 2)
        self._still.fill(QColor(*GROUND))
        self.setIcon(QIcon(self._still))
        self._scene: Scene | None = None
        self._began = 0.0
        self._timer = QTimer(self)
        self._timer.setInterval(_TICK)
        self._timer.timeout.connect(self._next)

    @property
    def playing(self) -> bool:
        """Whether it plays now."""
        return self._timer.isActive()

    @property
    def template(self) -> Template | None:
        """What it shows; None before that is there, and of one that cannot be."""
        return self.opened.template if self.opened is not None else None

    def show_in(self, frame: Frame) -> None:
        """Draw it as it is in a frame, and say what it is, or why it cannot be."""
        self.stop()
        self._scene = None
        try:
            self.opened, self.fault = self.begin(frame), ""
        except AvletError as error:
            self.opened, self.fault = None, str(error)
            self.setText(f"⚠ {self.label}")
            self.setToolTip(self.fault)
            return
        picture = QPixmap()
        picture.loadFromData(kept_thumbnail_png(self.opened.template, self.opened.book))
        self.show_still(picture)
        self.setText(self.label)
        self.setToolTip(told_of(self.opened.template))

    def show_still(self, picture: QPixmap) -> None:
        """Show a picture of it at rest."""
        self._still = picture
        self.setIcon(QIcon(picture))

    def found_by(self, words: str) -> bool:
        """Whether all of some words are in its name, its category, its keywords or what is said of it."""
        said = [self.name]
        if (template := self.template) is not None:
            said += [template.category, *template.keywords, template.card.note, *(f.label for f in template.card.fields)]
        whole = " ".join(said).lower()
        return all(word in whole for word in words.lower().split())

    def play(self) -> None:
        """Play it from its first frame, again and again."""
        if self.opened is None or not self.opened.template.parts or self.playing:
            return
        if self._scene is None:
            self._scene = Scene(self.opened.template, self.opened.book)
            self._view = tile_view(self._scene, landed_frame(self._scene))
        self._began = time.monotonic()
        self._timer.start()

    def stop(self) -> None:
        """Show it at rest."""
        self._timer.stop()
        self.setIcon(QIcon(self._still))

    def _next(self) -> None:
        assert self._scene is not None
        if not (self.underMouse() or self.hasFocus()) or not self.isVisible():
            self.stop()
            return
        began, rate = time.monotonic(), float(self._scene.template.frame.fps)
        frame = int((began - self._began) * rate) % self._scene.length
        pixels = new_pixels(PICTURE.width() * 2, PICTURE.height() * 2)
        pixels[...] = (*GROUND, 255)
        self._scene.paint(frame, pixels, clear=False, view=self._view)
        image = QImage(pixels.tobytes(), pixels.shape[1], pixels.shape[0], QImage.Format.Format_RGBA8888_Premultiplied)
        self.setIcon(QIcon(QPixmap.fromImage(image)))
        self._timer.setInterval(max(_TICK, round((time.monotonic() - began) * 3000)))  # two thirds of the time are the window's

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        key = Qt.Key(event.key())
        if key in _ARROWS:
            self.moved.emit(*_ARROWS[key])
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.unwanted.emit()
        else:
            super().keyPressEvent(event)

    def enterEvent(self, event: QEnterEvent | None) -> None:
        super().enterEvent(event)
        self.play()

    def leaveEvent(self, event: QEvent | None) -> None:
        super().leaveEvent(event)
        if not self.hasFocus():
            self.stop()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self.play()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        if not self.underMouse():
            self.stop()


def told_of(template: Template) -> str:
    """What a template is for, how many answers its card asks, and how long it is."""
    fields = len(template.card.fields)
    seconds = float(template.length / template.frame.fps)
    asks = f"{fields} field{'s' if fields != 1 else ''} on its card" if fields else "no card yet"
    return f"{template.card.note or template.name} {asks.capitalize()}, {seconds:.0f} s."
