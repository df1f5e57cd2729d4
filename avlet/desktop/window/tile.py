"""A tile: a template as it is drawn, large, which plays while the pointer or the keyboard is on it."""

import time
from collections.abc import Callable

from PyQt6.QtCore import QEvent, QSize, Qt, QTimer
from PyQt6.QtGui import QColor, QEnterEvent, QFocusEvent, QIcon, QImage, QPixmap
from PyQt6.QtWidgets import QToolButton, QWidget

from avlet.document.template import Frame, Template
from avlet.paint.painter import new_pixels
from avlet.paint.scene import Scene
from avlet.storage.thumbnail import GROUND, kept_thumbnail_png, landed_frame, tile_view
from avlet.text.fonts import FontBook, bundled_fonts

PICTURE = QSize(140, 79)
_TICK = 40
"""ms from one picture of a tile that plays to the next."""


class Tile(QToolButton):
    """A start, in a frame. Its picture comes when it is asked for; pressing it is the same as everywhere else."""

    def __init__(self, name: str, label: str, start: Callable[[Frame], Template], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.name, self.start = name, start
        self.template: Template | None = None
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

    def show_in(self, frame: Frame, book: FontBook | None = None) -> None:
        """Draw it as it is in a frame, and say what it is."""
        self.stop()
        self._scene = None
        self.template = self.start(frame)
        self._still = QPixmap()
        self._still.loadFromData(kept_thumbnail_png(self.template, book or bundled_fonts()))
        self.setIcon(QIcon(self._still))
        self.setToolTip(told_of(self.template))

    def found_by(self, words: str) -> bool:
        """Whether all of some words are in its name, its category, its keywords or what is said of it."""
        said = [self.name]
        if (template := self.template) is not None:
            said += [template.category, *template.keywords, template.card.note, *(f.label for f in template.card.fields)]
        whole = " ".join(said).lower()
        return all(word in whole for word in words.lower().split())

    def play(self) -> None:
        """Play it from its first frame, again and again."""
        if self.template is None or not self.template.parts or self.playing:
            return
        if self._scene is None:
            self._scene = Scene(self.template, bundled_fonts())
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
