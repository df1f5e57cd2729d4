"""What stands beside a label on the card: the editor that suits a field's kind."""

from collections.abc import Callable, Sequence
from fractions import Fraction
from functools import partial
from pathlib import Path
from typing import Any

import msgspec
from PyQt6 import sip
from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from avlet.desktop.credits.list_dialog import ListDialog
from avlet.desktop.credits.list_port import ListPort
from avlet.desktop.widgets.asking import lasting
from avlet.desktop.widgets.colour_button import ColourButton
from avlet.desktop.widgets.decimal_box import DecimalBox
from avlet.desktop.widgets.flow import flowing
from avlet.desktop.widgets.gradients import GradientStrip
from avlet.desktop.widgets.numbers import NumberBox
from avlet.desktop.widgets.quiet_combo import QuietCombo
from avlet.desktop.widgets.switch import Switch
from avlet.desktop.widgets.theme import qcolor
from avlet.document.cards.typed_answers import as_counted, style_asked
from avlet.document.editing.counting import languages_of
from avlet.document.fields import (
    BaseField,
    ChoiceField,
    ColourField,
    Field,
    FontField,
    GradientField,
    House,
    LengthField,
    NoteField,
    NumberField,
    PictureField,
    SwitchField,
    TextField,
    stops_of,
    words_of,
)
from avlet.document.fields.credits import CreditsField, blocks_of
from avlet.document.fields.credits import answer_of as list_answer
from avlet.document.fields.number import answer_of
from avlet.document.fields.text import ALIGNED, WEIGHTS
from avlet.document.lists.blocks import Blocks, lines_of
from avlet.document.template import Template
from avlet.errors import AnswerError
from avlet.numbers.exact import exact, plain
from avlet.storage.answer_files import NAMED_FILES
from avlet.text.fonts import bundled_fonts

Told = Callable[[Any], object]
PICTURES = "Pictures (*.png *.jpg *.jpeg *.webp *.svg)"


class FieldEditor(QWidget):
    """One field's editor. ``answered`` tells what is answered, whether or not the field takes it; ``finished`` that a drag is over.

    ``main`` is the widget that is typed into or clicked. Of ``template`` come its rate, and the writing of its counters: numbers may be
    typed as they write them.
    """

    answered = pyqtSignal(object)
    finished = pyqtSignal()
    refused = pyqtSignal(str)

    def __init__(self, field: Field, value: Any, palette: House = (), template: Template | None = None) -> None:
        super().__init__()
        self.languages = languages_of(template) if template is not None else ()
        self.rate = template.frame.fps if template is not None else Fraction(25)
        self.counted = style_asked(template, field.id) if template is not None else "number"
        self.field, self.value, self.house = field, value, palette
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(4)
        self.row = QHBoxLayout()
        self.row.setSpacing(6)
        self.column.addLayout(self.row)
        self.main: Any = self._build()

    def _tell(self, value: Any) -> None:
        self.value = value
        self.answered.emit(value)

    def _build(self) -> QWidget:
        return _EDITORS[type(self.field)](self, self.field)

    def _switch(self, field: SwitchField) -> QWidget:
        switch = Switch(self.value, paper=True)
        switch.toggled.connect(self._tell)
        self.row.addWidget(switch)
        self.row.addStretch(1)
        return switch

    def _colour(self, field: ColourField) -> QWidget:
        if field.may_be != "any":
            return self._combo([(s.id, s.name, swatch_icon(s.colour), None) for s in field.offered(self.house)])
        button = ColourButton(self.value)
        button.changed.connect(self._tell)
        button.finished.connect(self.finished)
        self.row.addWidget(button, 1)
        return button

    def _choice(self, field: ChoiceField) -> QWidget:
        return self._combo([(o.id, o.name, None, None) for o in field.options])

    def _font(self, field: FontField) -> QWidget:
        return self._combo([(f.name, f.name, None, QFont(f.family)) for f in field.fonts])

    def _figure(self, field: NumberField) -> QWidget:
        if field.figure_only:
            return self._exact(field)
        return self._number(float(self.value), field.low, field.high, field.step, field.unit, slider=not field.figure_only)

    def _frames(self, field: LengthField) -> QWidget:
        return self._number(float(self.value), field.low, field.high, 1.0, "frames", slider=False)

    def _nothing(self, field: NoteField) -> QWidget:
        return QWidget()

    # Words

    def _text(self, field: TextField) -> QWidget:
        words = words_of(self.value)
        if field.several_lines:
            box = QPlainTextEdit(words)
            box.setPlaceholderText(field.hint)
            box.setTabChangesFocus(True)
            box.setFixedHeight(14 + 17 * max(2, min(4, words.count("\n") + 1)))
            box.textChanged.connect(lambda: self._say(box.toPlainText()))
            main: QWidget = box
        else:
            line = QLineEdit(words)
            line.setCursorPosition(0)
            line.setPlaceholderText(field.hint)
            line.textEdited.connect(self._say)
            line.editingFinished.connect(self.finished)
            main = line
        self.row.addWidget(main, 1)
        if field.may:
            self._formatting(field)
        return main

    def _say(self, words: str) -> None:
        self._tell({**self.value, "text": words} if isinstance(self.value, dict) else words)

    def _format(self, key: str, given: Any) -> None:
        """Change one thing of the formatting; ``None`` leaves that to the template again."""
        made = dict(self.value) if isinstance(self.value, dict) else {"text": self.value}
        made.pop(key, None)
        if given is not None:
            made[key] = given
        self._tell(made if set(made) != {"text"} else made["text"])

    def _formatting(self, field: TextField) -> None:
        given = self.value if isinstance(self.value, dict) else {}
        host = flowing()
        row = host.layout()
        assert row is not None
        if "alignment" in field.may:
            row.addWidget(self._format_combo("align", list(ALIGNED.items()), given.get("align"), "aligned"))
        if "font" in field.may:
            families = [(name, name) for name in bundled_fonts().families()]
            row.addWidget(self._format_combo("family", families, given.get("family"), "font"))
            row.addWidget(self._format_combo("style", [(s, s.lower()) for s in WEIGHTS], given.get("style"), "weight"))
        if "size" in field.may:
            size = NumberBox(float(given.get("size", 0.0)), 0, 4000, 1)
            size.setToolTip("Size in px; 0 leaves it to the template")
            size.setAccessibleName(f"{field.label}: size in px")
            size.value_changed.connect(lambda v: self._format("size", v if v >= 1 else None))
            size.finished.connect(self.finished)
            together = QWidget()
            side_by_side = QHBoxLayout(together)
            side_by_side.setContentsMargins(0, 0, 0, 0)
            side_by_side.setSpacing(4)
            for widget in (QLabel("size"), size, QLabel("px")):
                side_by_side.addWidget(widget)
            row.addWidget(together)
        self.column.addWidget(host)

    def _format_combo(self, key: str, choices: Sequence[tuple[str, str]], given: str | None, usual: str) -> QComboBox:
        combo = quiet_combo()
        combo.addItem(f"{usual} …", None)
        combo.setItemData(0, "As the designer made it", Qt.ItemDataRole.ToolTipRole)
        for value, name in choices:
            combo.addItem(name, value)
        combo.setCurrentIndex(max(0, combo.findData(given)))
        combo.setAccessibleName(f"{self.field.label}: {usual}")
        combo.activated.connect(lambda index: self._format(key, combo.itemData(index)))
        return combo

    # Numbers

    def _number(self, value: float, low: float | None, high: float | None, step: float, unit: str, slider: bool) -> NumberBox:
        box = NumberBox(value, low, high, step, whole=unit == "frames")
        if unit == "frames":
            box.takes_times(self.rate)
        behind = QLabel(self._unit(value, unit))

        def changed(given: float) -> None:
            behind.setText(self._unit(given, unit))
            self._tell(int(given) if unit == "frames" else given)

        box.value_changed.connect(changed)
        box.finished.connect(self.finished)
        if slider and low is not None and high is not None and high > low:
            self._slider(box, low, high, step)
        self.row.addWidget(box)
        self.row.addWidget(behind)
        if self.row.count() == 2:
            self.row.addStretch(1)
        return box

    def _exact(self, field: NumberField) -> DecimalBox:
        """A number that is typed as the person or the title writes it."""
        box = DecimalBox(plain(exact(self.value)), plain(exact(field.step)), self.languages)
        box.other = partial(as_counted, self.counted, self.rate)
        box.value_changed.connect(lambda words: self._tell(answer_of(exact(words))))
        box.finished.connect(self.finished)
        self.row.addWidget(box)
        self.row.addWidget(QLabel(field.unit))
        self.row.addStretch(1)
        return box

    def _unit(self, value: float, unit: str) -> str:
        return f"frames, {float(value / self.rate):.2f} s" if unit == "frames" else unit

    def _slider(self, box: NumberBox, low: float, high: float, step: float) -> None:
        slider = QSlider(Qt.Orientation.Horizontal)
        slider.setRange(0, max(1, round((high - low) / step)))
        slider.setValue(round((box.value - low) / step))
        slider.setAccessibleName(self.field.label)

        def slid(at: int) -> None:
            if round((box.value - low) / step) != at:
                box.show_value(min(high, low + at * step))
                self._tell(box.value)

        slider.valueChanged.connect(slid)
        slider.sliderReleased.connect(self.finished)
        box.value_changed.connect(lambda v: slider.setValue(round((v - low) / step)))
        self.row.addWidget(slider, 1)

    # Choices, gradients, pictures

    def _combo(self, choices: list[tuple[str, str, QIcon | None, QFont | None]]) -> QComboBox:
        combo = quiet_combo()
        for index, (value, name, icon, face) in enumerate(choices):
            combo.addItem(icon, name, value) if icon is not None else combo.addItem(name, value)
            if face is not None:
                combo.setItemData(index, face, Qt.ItemDataRole.FontRole)
        combo.setCurrentIndex(max(0, combo.findData(self.value)))
        combo.activated.connect(lambda index: self._tell(combo.itemData(index)))
        self.row.addWidget(combo, 1)
        return combo

    def _gradient(self, field: GradientField) -> GradientStrip:
        strip = GradientStrip(stops_of(self.value), fixed=field.places_fixed)
        strip.changed.connect(lambda stops: self._tell([msgspec.to_builtins(s) for s in stops]))
        strip.finished.connect(self.finished)
        self.row.addWidget(strip, 1)
        return strip

    def _list(self, field: CreditsField) -> QPushButton:
        button = QPushButton()
        button.clicked.connect(self.open_list)
        self.row.addWidget(button, 1)
        self._say_list(button)
        return button

    def _say_list(self, button: QPushButton) -> None:
        count = lines_of(blocks_of(self.value))
        button.setText(f"{count:,} line{'' if count == 1 else 's'} · edit…")

    def show_list(self, value: Any) -> None:
        """Follow a list that was changed elsewhere."""
        if isinstance(self.field, CreditsField) and value != self.value:
            self.value = value
            self._say_list(self.main)

    def open_list(self) -> None:
        """Edit the list in a window of its own."""
        ListDialog(self.field.label, self.list_port(), bundled_fonts(), lambda: None, self.window()).exec()

    def list_port(self) -> ListPort:
        """The list that is answered, to be edited."""

        def put(blocks: Blocks, label: str, gesture: object) -> bool:
            if sip.isdeleted(self):  # the card was built anew
                return False
            self._tell(list_answer(blocks))
            self._say_list(self.main)
            return True

        def done() -> None:
            if not sip.isdeleted(self):
                self.finished.emit()

        return ListPort(lambda: blocks_of(self.value), put, done)

    def _picture(self, field: PictureField) -> QPushButton:
        button = QPushButton(self.value["name"].partition("-")[2] or self.value["name"] or "Choose a picture…")
        button.clicked.connect(lambda: self._choose(button))
        self.row.addWidget(button, 1)
        return button

    def _choose(self, button: QPushButton) -> None:
        name, _ = QFileDialog.getOpenFileName(lasting(self), self.field.label, "", PICTURES)
        if name:
            self.take_picture(Path(name))
            button.setText(self.value["name"] or button.text())

    def take_picture(self, path: Path) -> None:
        """Answer with a picture's file."""
        try:
            self._tell(self.field.read(str(path), self.house, NAMED_FILES))
        except AnswerError as error:
            self.refused.emit(str(error))


_EDITORS: dict[type[BaseField], Callable[[FieldEditor, Any], QWidget]] = {
    TextField: FieldEditor._text, NumberField: FieldEditor._figure, LengthField: FieldEditor._frames, SwitchField: FieldEditor._switch,
    ChoiceField: FieldEditor._choice, ColourField: FieldEditor._colour, GradientField: FieldEditor._gradient,
    FontField: FieldEditor._font, PictureField: FieldEditor._picture, CreditsField: FieldEditor._list, NoteField: FieldEditor._nothing,
}  # fmt: skip
"""What builds the editor of each kind of field."""


def quiet_combo() -> QComboBox:
    """A choice that gives way where room is short."""
    combo = QuietCombo()
    combo.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    combo.setMinimumContentsLength(6)
    return combo


def swatch_icon(colour: str) -> QIcon:
    """A small square of a colour."""
    picture = QPixmap(QSize(28, 28))
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QColor("#8A8478"))
    painter.setBrush(qcolor(colour))
    painter.drawRoundedRect(1, 1, 26, 26, 6, 6)
    painter.end()
    return QIcon(picture)
