"""The card as an editor gets it: paper-light, live, with nothing on it that could break the title."""

from collections.abc import Mapping
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QLineEdit, QPlainTextEdit, QScrollArea, QSlider, QVBoxLayout, QWidget

from avlet.desktop.colours import ColourButton
from avlet.desktop.numbers import NumberBox
from avlet.desktop.switch import Switch
from avlet.document.fields import ColourField, Field, NumberField, SwitchField, TextField
from avlet.document.template import Template
from avlet.errors import AnswerError
from avlet.layout.answers import check_answer


class CardView(QFrame):
    """Shows a template's card with answers. ``answered`` tells field id and value of each accepted answer."""

    answered = pyqtSignal(str, object)
    finished = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setProperty("role", "card")
        self.inputs: dict[str, QWidget] = {}
        self._wrong: dict[str, QLabel] = {}
        self._outer = QVBoxLayout(self)
        self._outer.setContentsMargins(4, 8, 4, 8)
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._outer.addWidget(self._scroll)
        self.show_nothing("")

    def show_nothing(self, words: str) -> None:
        """An empty card with a hint at the next step."""
        body, layout = self._body()
        label = QLabel(words)
        label.setWordWrap(True)
        label.setProperty("role", "hint")
        layout.addWidget(label)
        layout.addStretch(1)
        self._scroll.setWidget(body)
        self.inputs = {}

    def show_card(self, template: Template, answers: Mapping[str, Any]) -> None:
        """Show the fields with their answers, starting answers where there is none."""
        body, layout = self._body()
        self.inputs, self._wrong = {}, {}
        title = QLabel(template.name)
        title.setProperty("role", "title")
        layout.addWidget(title)
        if template.card.note:
            note = QLabel(template.card.note)
            note.setWordWrap(True)
            note.setProperty("role", "hint")
            layout.addWidget(note)
        for section in template.card.sections:
            if section.name:
                heading = QLabel(section.name)
                heading.setProperty("role", "section")
                heading.setContentsMargins(0, 8, 0, 0)
                layout.addWidget(heading)
            for field in section.fields:
                self._add_field(layout, field, answers.get(field.id, field.default))
        if not template.card.fields:
            layout.addWidget(QLabel("Nothing to fill in."))
        layout.addStretch(1)
        self._scroll.setWidget(body)

    @staticmethod
    def _body() -> tuple[QWidget, QVBoxLayout]:
        body = QWidget()
        layout = QVBoxLayout(body)
        layout.setContentsMargins(12, 6, 10, 6)
        layout.setSpacing(6)
        return body, layout

    def _add_field(self, layout: QVBoxLayout, field: Field, value: Any) -> None:
        row = QHBoxLayout()
        label = QLabel(field.label)
        label.setFixedWidth(84)
        label.setWordWrap(True)
        row.addWidget(label, 0, Qt.AlignmentFlag.AlignTop)
        label.setContentsMargins(0, 5, 0, 0)
        editor = self._editor(field, value, row)
        editor.setObjectName(f"field {field.id}")
        editor.setAccessibleName(field.label)
        editor.setToolTip(field.hint)
        label.setBuddy(editor)
        self.inputs[field.id] = editor
        layout.addLayout(row)
        wrong = QLabel()
        wrong.setProperty("role", "wrong")
        wrong.setWordWrap(True)
        wrong.hide()
        self._wrong[field.id] = wrong
        layout.addWidget(wrong)

    def _editor(self, field: Field, value: Any, row: QHBoxLayout) -> QWidget:
        match field:
            case TextField(several_lines=True):
                words = QPlainTextEdit(value)
                words.setPlaceholderText(field.hint)
                words.setTabChangesFocus(True)
                words.setFixedHeight(14 + 17 * max(2, min(4, value.count("\n") + 1)))
                words.textChanged.connect(lambda: self._answer(field, words.toPlainText()))
                row.addWidget(words, 1)
                return words
            case TextField():
                line = QLineEdit(value)
                line.setCursorPosition(0)
                line.setPlaceholderText(field.hint)
                line.textEdited.connect(lambda text: self._answer(field, text))
                line.editingFinished.connect(self.finished)
                row.addWidget(line, 1)
                return line
            case NumberField():
                return self._number(field, float(value), row)
            case ColourField():
                button = ColourButton(value)
                button.changed.connect(lambda colour: self._answer(field, colour))
                button.finished.connect(self.finished)
                row.addWidget(button, 1)
                return button
            case SwitchField():
                switch = Switch(value, paper=True)
                switch.toggled.connect(lambda on: self._answer(field, on))
                row.addWidget(switch)
                row.addStretch(1)
                return switch

    def _number(self, field: NumberField, value: float, row: QHBoxLayout) -> QWidget:
        box = NumberBox(value, field.low, field.high, field.step)
        box.value_changed.connect(lambda v: self._answer(field, v))
        box.finished.connect(self.finished)
        if field.low is not None and field.high is not None and field.high > field.low:
            low, step = field.low, field.step
            slider = QSlider(Qt.Orientation.Horizontal)
            slider.setRange(0, max(1, round((field.high - low) / step)))
            slider.setValue(round((value - low) / step))
            slider.setAccessibleName(field.label)

            def slid(at: int) -> None:
                if round((box.value - low) / step) != at:
                    box.show_value(min(field.high or 0, low + at * step))
                    self._answer(field, box.value)

            slider.valueChanged.connect(slid)
            slider.sliderReleased.connect(self.finished)
            box.value_changed.connect(lambda v: slider.setValue(round((v - low) / step)))
            row.addWidget(slider, 1)
        row.addWidget(box)
        row.addWidget(QLabel(field.unit))
        if row.count() == 3:
            row.addStretch(1)
        return box

    def _answer(self, field: Field, value: Any) -> None:
        wrong = self._wrong[field.id]
        try:
            answer = check_answer(field, value)
        except AnswerError as error:
            wrong.setText(str(error))
            wrong.show()
            return
        wrong.hide()
        self.answered.emit(field.id, answer)
