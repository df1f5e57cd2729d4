"""A time that is shown as timecode and typed as frames, seconds or timecode."""

from fractions import Fraction

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from avlet.desktop.widgets.numbers import NumberBox
from avlet.desktop.widgets.theme import STRONG, font
from avlet.numbers.lengths import frames_in, is_timecode
from avlet.numbers.timecode import DROP_RATES, timecode


class TimeBox(QLineEdit):
    """Shows a frame as timecode, counted from ``start``. ``typed`` tells the frame that somebody typed, ``refused`` why it is none.

    Frames and seconds are counted from the first frame, timecode from the one that it begins with.
    """

    typed = pyqtSignal(int)
    refused = pyqtSignal(str)

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(name)
        self.setToolTip(f"{name}: type frames (125), seconds (5 s) or timecode")
        self.setFont(font(STRONG, figures=True))
        self.setFixedWidth(104)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._frame, self._rate, self._start, self._drop = 0, Fraction(25), 0, True
        self.returnPressed.connect(self._take)

    def show_frame(self, frame: int, rate: Fraction, start: int = 0, drop: bool = True) -> None:
        """Show a frame; what is being typed is left alone."""
        self._frame, self._rate, self._start, self._drop = frame, rate, start, drop
        if not (self.hasFocus() and self.isModified()):
            self._show()

    def _show(self) -> None:
        self.setText(timecode(self._frame + self._start, self._rate, self._drop and self._rate in DROP_RATES))
        self.setModified(False)

    def _take(self) -> None:
        words = self.text()
        try:
            frame = frames_in(words, self._rate, (NumberBox.language, "en")) - (self._start if is_timecode(words) else 0)
        except ValueError as error:
            self.refused.emit(str(error))
            self.selectAll()
            return
        if frame < 0:
            self.refused.emit(f"{words.strip()} lies before the beginning, which is {timecode(self._start, self._rate)}.")
            self.selectAll()
            return
        self.setModified(False)
        self.typed.emit(frame)
        self._show()
        self.selectAll()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_Escape and self.isModified():
            self._show()
            self.selectAll()
            return
        super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        if self.isModified():  # what was not confirmed is not taken
            self._show()
