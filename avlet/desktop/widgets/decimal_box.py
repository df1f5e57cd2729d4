"""A box for an exact number: shown and typed as a language writes it, never a float."""

from collections.abc import Callable, Sequence
from decimal import Decimal
from functools import partial

from PyQt6.QtCore import QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QWheelEvent
from PyQt6.QtWidgets import QMenu, QWidget

from avlet.desktop.widgets.numbers import DraggedBox, NumberBox
from avlet.desktop.widgets.theme import font
from avlet.numbers.exact import MOST_DECIMALS, decimals_of, exact, plain
from avlet.numbers.typed import AmbiguousNumberError, evaluate, read_number
from avlet.numbers.written import How, write

_TIP = "Drag sideways, turn the wheel, or type a number as you write it, or a sum such as 1920/2"


class DecimalBox(DraggedBox):
    """Shows a number that is kept as plain text. ``value_changed`` tells each new one, ``finished`` that typing is over.

    What reads as one of two numbers is asked, not guessed. ``languages`` are other ones whose writing counts beside the person's own,
    and ``other`` reads what is written otherwise than as a number, such as a clock.
    """

    value_changed = pyqtSignal(str)

    def __init__(self, value: str, step: str = "1", languages: Sequence[str] = (), parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.step, self.languages = step, tuple(languages)
        self.other: Callable[[str], Decimal | None] = lambda words: None
        self._value = self._start = value
        self.menu: QMenu | None = None
        self.setFont(font(figures=True))
        self.setToolTip(_TIP)
        self.editingFinished.connect(self._typed)
        self.textEdited.connect(lambda _: self.setProperty("wrong", False))
        self.show_value(value)

    @property
    def value(self) -> str:
        return self._value

    def show_value(self, value: str) -> None:
        """Show a number without telling of it; what is being typed is left alone."""
        self._value = value
        if not (self.hasFocus() and self.isModified()):
            number = exact(value)
            self.setText(write(number, How(language=NumberBox.language, most_decimals=min(9, decimals_of(number)))).words)
            self.setFixedWidth(max(34, self.fontMetrics().horizontalAdvance(self.text()) + 18))

    def _take(self, number: Decimal) -> None:
        try:
            value = plain(exact(number))
        except ValueError as error:
            self._wrong(f"It {error}.")
            return
        self._wrong("")
        self.setModified(False)
        changed = value != self._value
        self.show_value(value)
        if changed:
            self.value_changed.emit(value)

    def _typed(self) -> None:
        if not self.isModified():
            return
        words = self.text()
        languages = (NumberBox.language, *self.languages)
        try:
            read = self.other(words)
            number = read_number(words, languages) if read is None else read
        except AmbiguousNumberError as asked:
            self._wrong(str(asked))
            self._ask(asked.readings)
            return
        except ValueError as error:
            try:
                number = exact(round(evaluate(words, languages), 9))
            except ValueError:
                self._wrong(str(error))
                return
        self._take(number)
        self.finished.emit()

    def _ask(self, readings: tuple[Decimal, Decimal]) -> None:
        """Which of two numbers was meant."""
        self.menu = QMenu(self)
        for reading in readings:
            words = write(reading, How(language=NumberBox.language, grouping=False, most_decimals=decimals_of(reading))).words
            action = self.menu.addAction(words)
            assert action is not None
            action.triggered.connect(partial(self._answer, reading))
        self.menu.popup(self.mapToGlobal(QPoint(0, self.height() + 2)))

    def _answer(self, reading: Decimal, _: bool = False) -> None:
        self._take(reading)
        self.finished.emit()

    def _wrong(self, words: str) -> None:
        self.setProperty("wrong", bool(words))
        self.setToolTip(words or _TIP)
        self.setStyle(self.style())

    def _turn(self, steps: int) -> None:
        self.setModified(False)
        self._take(exact(self._value) + steps * exact(self.step))

    def begin_drag(self) -> None:
        self._start = self._value

    def drag_by(self, steps: int, fine: bool) -> None:
        step = exact(self.step) / (10 if fine and decimals_of(exact(self.step)) < MOST_DECIMALS else 1)
        self.setModified(False)
        self._take(exact(self._start) + steps * step)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        turns = round(event.angleDelta().y() / 120)
        if turns:
            self._turn(turns)
            event.accept()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        match event.key():
            case Qt.Key.Key_Up | Qt.Key.Key_Down:
                self._turn(1 if event.key() == Qt.Key.Key_Up else -1)
            case Qt.Key.Key_Escape:
                self.setModified(False)
                self._wrong("")
                self.show_value(self._value)
                self.clearFocus()
            case Qt.Key.Key_Return | Qt.Key.Key_Enter:
                self._typed()
                if not self.isModified():
                    self.selectAll()
            case _:
                super().keyPressEvent(event)
