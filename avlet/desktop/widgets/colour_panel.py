"""The panel of a colour: sliders, a value, the house's colours, swatches."""

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QLinearGradient, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from avlet.desktop.widgets.colour_picker import ColourPicker
from avlet.desktop.widgets.theme import LINE, PANEL, qcolor

SWATCHES = (
    "#FFFFFF", "#EAE2D0", "#A5AEB3", "#58656C", "#20282C", "#000000",
    "#20435C", "#2F6B7E", "#6CC7B0", "#3B4A2E", "#8A8A55", "#F4B23E",
    "#C9785F", "#8C3B3B", "#6B4F72", "#26304F", "#E58FA0", "#F4E9D2",
)  # fmt: skip
"""Colours of the demo's world, as starting points."""

_CHANNELS = ("Hue", "Saturation", "Brightness", "Opacity")


def house_of(widget: QWidget | None) -> list[tuple[str, str]]:
    """Names and values of the house's colours, from the window that a widget lies in: the one that has ``house_colours``."""
    while widget is not None:
        told = getattr(widget, "house_colours", None)
        if callable(told):
            return list(told())
        widget = widget.parentWidget()
    return []


class ColourPanel(QFrame):
    """Sliders for hue, saturation, brightness and opacity, a box for the value, the house's colours, and swatches to start from.

    A colour may also be picked from what the window shows, with the next click; the panel is closed by then.
    """

    changed = pyqtSignal(str)
    closed = pyqtSignal()

    def __init__(self, colour: str, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setStyleSheet(f"ColourPanel {{ background: {PANEL}; border: 1px solid {LINE}; border-radius: 6px; }}")
        colour_now = qcolor(colour)
        hue, saturation, value, alpha = colour_now.getHsvF()
        self._values = [max(0.0, hue or 0.0), saturation or 0.0, value or 0.0, alpha if alpha is not None else 1.0]
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 12, 12, 12)
        grid = QGridLayout()
        self._bars = []
        for row, name in enumerate(_CHANNELS):
            bar = _Bar(self._values, row)
            bar.moved.connect(self._moved)
            grid.addWidget(QLabel(name), row, 0)
            grid.addWidget(bar, row, 1)
            self._bars.append(bar)
        layout.addLayout(grid)
        self.value = QLineEdit(colour.upper())
        self.value.setAccessibleName("Colour value")
        self.value.editingFinished.connect(self._typed)
        typed = QHBoxLayout()
        typed.addWidget(self.value, 1)
        pick = QPushButton("Pick")
        pick.setToolTip("Take a colour from the picture with the next click")
        pick.clicked.connect(lambda _=False: self.pick())
        typed.addWidget(pick)
        layout.addLayout(typed)
        self.fault = QLabel()
        self.fault.setProperty("role", "small")
        self.fault.setWordWrap(True)
        self.fault.hide()
        layout.addWidget(self.fault)
        house = house_of(parent)
        if house:
            layout.addWidget(QLabel("House"))
            layout.addLayout(self._swatches(house))
        layout.addLayout(self._swatches([(swatch, swatch) for swatch in SWATCHES]))

    def _swatches(self, colours: Sequence[tuple[str, str]]) -> QGridLayout:
        """Colours to click, by name and value."""
        grid = QGridLayout()
        grid.setSpacing(4)
        for index, (name, colour) in enumerate(colours):
            button = QPushButton()
            button.setFixedSize(30, 20)
            button.setToolTip(name)
            button.setAccessibleName(name)
            button.setStyleSheet(f"background: {qcolor(colour).name()}; border: 1px solid {LINE}; border-radius: 3px;")
            button.clicked.connect(lambda _=False, c=colour: self.choose(c))
            grid.addWidget(button, index // 6, index % 6)
        return grid

    def pick(self) -> ColourPicker | None:
        """Close, and take the colour that is clicked next."""
        self.hide()
        parent = self.parentWidget()
        window = parent.window() if parent is not None else None
        if window is None:
            return None
        picker = ColourPicker(window)
        picker.picked.connect(self.choose)
        picker.picked.connect(lambda _: self.closed.emit())
        return picker

    def choose(self, colour: str) -> None:
        """Take a colour, as if its swatch had been clicked."""
        made = qcolor(colour)
        hue, saturation, value, alpha = made.getHsvF()
        self._values[:] = [hue if hue is not None and hue >= 0 else self._values[0], saturation or 0.0, value or 0.0, alpha or 0.0]
        self._tell()

    def _moved(self) -> None:
        self._tell()

    def _typed(self) -> None:
        words = self.value.text().strip()
        words = words if words.startswith("#") else f"#{words}"
        if len(words) in (4, 7, 9) and all(c in "0123456789abcdefABCDEF" for c in words[1:]):
            self.choose(words if len(words) > 4 else "#" + "".join(2 * c for c in words[1:]))
        elif self.value.text() != self._words():
            self._wrong(f"“{self.value.text().strip()[:20]}” is no colour. Type #RRGGBB, such as #2F6A78, or #RRGGBBAA.")

    def _wrong(self, words: str) -> None:
        """Mark what was typed as wrong, and say why under it; nothing for what is right."""
        self.value.setProperty("wrong", bool(words))
        self.value.setStyle(self.value.style())
        self.value.setToolTip(words)
        self.fault.setText(words)
        self.fault.setVisible(bool(words))
        self.adjustSize()

    def _words(self) -> str:
        """The colour as it is written."""
        words = QColor.fromHsvF(*self._values[:3]).name().upper()
        return words + f"{round(self._values[3] * 255):02X}" if self._values[3] < 0.998 else words

    def _tell(self) -> None:
        words = self._words()
        self._wrong("")
        self.value.setText(words)
        for bar in self._bars:
            bar.update()
        self.changed.emit(words)

    def hideEvent(self, event: object) -> None:
        self.closed.emit()


class _Bar(QWidget):
    """One channel as a strip of the colours that it leads to."""

    moved = pyqtSignal()

    def __init__(self, values: list[float], channel: int) -> None:
        super().__init__()
        self.values, self.channel = values, channel
        self.setFixedSize(150, 16)
        self.setAccessibleName(_CHANNELS[channel])

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        strip = QRectF(0, 3, self.width(), 10)
        gradient = QLinearGradient(0, 0, self.width(), 0)
        for i in range(13):
            at = list(self.values)
            at[self.channel] = i / 12
            if self.channel == 0:
                at[1:] = [max(at[1], 0.5), max(at[2], 0.6), 1.0]
            gradient.setColorAt(i / 12, QColor.fromHsvF(min(at[0], 0.999), *at[1:]))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#3A4146"))
        painter.drawRoundedRect(strip, 3, 3)
        painter.setBrush(gradient)
        painter.drawRoundedRect(strip, 3, 3)
        x = 4 + self.values[self.channel] * (self.width() - 8)
        painter.setBrush(QColor("white"))
        painter.setPen(QColor(0, 0, 0, 160))
        painter.drawRoundedRect(QRectF(x - 3, 0.5, 6, 15), 2, 2)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.values[self.channel] = max(0.0, min(1.0, (event.position().x() - 4) / (self.width() - 8)))
        if self.channel == 0:
            self.values[0] = min(self.values[0], 0.999)
        self.update()
        self.moved.emit()
