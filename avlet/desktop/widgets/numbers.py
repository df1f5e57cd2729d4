"""A box for a number: typed (with arithmetic), dragged sideways, or turned with the wheel."""

from fractions import Fraction
from typing import ClassVar

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QWheelEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from avlet.desktop.widgets.theme import font
from avlet.numbers.lengths import frames_in, is_time
from avlet.numbers.typed import evaluate, marks

_DRAG_BEGINS = 4
_TIP = "Drag sideways, turn the wheel, or type a number or a sum such as 1920/2"
_TIP_OF_TIMES = "Drag sideways, turn the wheel, or type frames, a sum such as 100/2, seconds (5 s), minutes (10 min) or timecode"


KEYS: tuple[tuple[str, str], ...] = (
    ("Up", "A step more"), ("Down", "A step less"), ("Return", "Take what is typed, and stay"), ("Tab", "The next number of the sentence"),
    ("Shift+Tab", "Back through all that is there"), ("Esc", "Leave the number as it was"),
)  # fmt: skip
"""What the keys do in a number, in words."""


class DraggedBox(QLineEdit):
    """A line that a sideways drag changes by steps, and a click without one lets be typed into. ``finished`` tells that a drag is over."""

    finished = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._pressed: QPointF | None = None
        self._dragging = False
        self.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        self.setCursor(Qt.CursorShape.SizeHorCursor)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)  # a press may begin a drag; a click gives the focus once it is over

    def focusNextPrevChild(self, forwards: bool) -> bool:
        """Tab goes on to the next number of the sentence, past the words between; Shift+Tab goes back through all that is there."""
        layout = self.parentWidget().layout() if forwards and self.parentWidget() is not None else None  # type: ignore[union-attr]
        if layout is not None and (at := layout.indexOf(self)) >= 0:
            for number in range(at + 1, layout.count()):
                item = layout.itemAt(number)
                other = item.widget() if item is not None else None
                if isinstance(other, DraggedBox) and other.isVisible() and other.isEnabled():
                    other.setFocus(Qt.FocusReason.TabFocusReason)
                    return True
        return super().focusNextPrevChild(forwards)

    def begin_drag(self) -> None:
        """Remember what is dragged from."""
        raise NotImplementedError

    def drag_by(self, steps: int, fine: bool) -> None:
        """Show what lies so many steps from there; ``fine`` ones with Shift."""
        raise NotImplementedError

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if event.button() == Qt.MouseButton.LeftButton and not self.hasFocus():
            self._pressed, self._dragging = event.globalPosition(), False
            self.begin_drag()
            event.accept()
        else:
            super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._pressed is None:
            super().mouseMoveEvent(event)
            return
        moved = event.globalPosition().x() - self._pressed.x()
        if abs(moved) >= _DRAG_BEGINS or self._dragging:
            self._dragging = True
            self.drag_by(round(moved / 2), bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._pressed is None:
            super().mouseReleaseEvent(event)
            return
        self._pressed = None
        if self._dragging:
            self._dragging = False
            self.finished.emit()
        else:
            self.setFocus(Qt.FocusReason.MouseFocusReason)
            self.selectAll()


class NumberBox(DraggedBox):
    """Shows a number. ``value_changed`` tells each new value, and ``finished`` that a drag, a turn or typing is over.

    ``language`` is whose writing of numbers counts, everywhere.
    """

    language: ClassVar[str] = "en"
    value_changed = pyqtSignal(float)

    def __init__(
        self, value: float, low: float | None = None, high: float | None = None, step: float = 1, whole: bool = False,
        parent: QWidget | None = None,
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self.low, self.high, self.step, self.whole = low, high, step, whole
        self.rate: Fraction | None = None
        self._value = value
        self._start = value
        self.setFont(font(figures=True))
        self.setToolTip(_TIP)
        self.editingFinished.connect(self._typed)
        self.textEdited.connect(lambda _: self.setProperty("wrong", False))
        self.show_value(value)

    @property
    def value(self) -> float:
        return self._value

    def show_value(self, value: float) -> None:
        """Show a value without telling of it; what is being typed is left alone."""
        self._value = value
        if not (self.hasFocus() and self.isModified()):
            self.setText(f"{value:.2f}".rstrip("0").rstrip(".").replace(".", marks(self.language)[0]))
            width = self.fontMetrics().horizontalAdvance(self.text()) + 18
            self.setFixedWidth(max(34, width))

    def _take(self, value: float) -> None:
        value = round(value) if self.whole else round(value, 3)
        value = value if self.low is None else max(self.low, value)
        value = value if self.high is None else min(self.high, value)
        if value != self._value:
            self.show_value(value)
            self.value_changed.emit(float(value))

    def takes_times(self, rate: Fraction) -> "NumberBox":
        """It holds frames at a rate: seconds, minutes and timecode are typed into it as well."""
        self.rate = rate
        self.setToolTip(_TIP_OF_TIMES)
        return self

    def _read(self, words: str) -> float:
        if self.rate is not None and is_time(words):
            return float(frames_in(words, self.rate, (self.language,)))
        return evaluate(words, (self.language,))

    def _typed(self) -> None:
        if not self.isModified():
            return
        try:
            value = self._read(self.text())
        except ValueError as error:
            self._wrong(str(error))
            return
        self._wrong("")
        self.setModified(False)
        self._take(value)
        self.show_value(self._value)
        self.finished.emit()

    def _wrong(self, words: str) -> None:
        self.setProperty("wrong", bool(words))
        self.setToolTip(words or (_TIP if self.rate is None else _TIP_OF_TIMES))
        self.setStyle(self.style())

    def begin_drag(self) -> None:
        self._start = self._value

    def drag_by(self, steps: int, fine: bool) -> None:
        self._take(self._start + steps * self.step * (0.1 if fine else 1.0))

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        turns = event.angleDelta().y() / 120
        if turns:
            self.setModified(False)
            self._take(self._value + turns * self.step)
            event.accept()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        match event.key():
            case Qt.Key.Key_Up | Qt.Key.Key_Down:
                self.setModified(False)
                self._take(self._value + (self.step if event.key() == Qt.Key.Key_Up else -self.step))
            case Qt.Key.Key_Escape:
                self.setModified(False)
                self._wrong("")
                self.show_value(self._value)
                self.clearFocus()
            case Qt.Key.Key_Return | Qt.Key.Key_Enter:
                self._typed()
                self.selectAll()
            case _:
                super().keyPressEvent(event)
