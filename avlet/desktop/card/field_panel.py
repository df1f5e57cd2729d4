"""The chosen field of the card: label, hint, what may be answered, when it is shown, and its wires."""

from collections.abc import Callable
from typing import Any, get_args

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QDialog,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QMenu,
    QMessageBox,
    QPlainTextEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from avlet.desktop.card.field_editors import FieldEditor
from avlet.desktop.card.wire_editor import WireEditor
from avlet.desktop.card.wire_menus import fill_targets
from avlet.desktop.dialogs.languages_dialog import LanguagesDialog
from avlet.desktop.recipe.sentences import Sentence, Ticked
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.asking import lasting
from avlet.desktop.widgets.colour_button import ColourButton
from avlet.desktop.widgets.decimal_box import DecimalBox
from avlet.desktop.widgets.numbers import NumberBox
from avlet.desktop.widgets.switch import Switch
from avlet.document.cards import carding
from avlet.document.cards.wire_sources import rows_needed
from avlet.document.editing.counting import leads_to_languages, with_languages
from avlet.document.editing.naming import free_id
from avlet.document.fields import (
    BaseField,
    ChoiceField,
    ColourField,
    Condition,
    Field,
    FontChoice,
    FontField,
    Formatting,
    GradientField,
    LengthField,
    NoteField,
    NumberField,
    Option,
    Swatch,
    SwitchField,
    TextField,
)
from avlet.document.metadata import is_number
from avlet.errors import DocumentError
from avlet.numbers.exact import exact, plain

replace = carding.replace


class FieldPanel(QWidget):
    """Changes one field of the session's card."""

    def __init__(self, session: Session, field: Field) -> None:
        super().__init__()
        self.session, self.field = session, field
        self.start: FieldEditor | None = None
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(9)
        heading = QHBoxLayout()
        title = QLabel(field.label)
        title.setProperty("role", "title")
        title.setWordWrap(True)
        kind = QLabel(field.kind)
        kind.setProperty("role", "muted")
        heading.addWidget(title, 1)
        heading.addWidget(kind, 0, Qt.AlignmentFlag.AlignTop)
        self.column.addLayout(heading)
        self.form = QFormLayout()
        self.form.setLabelAlignment(Qt.AlignmentFlag.AlignLeft)
        self.form.setHorizontalSpacing(12)
        self.form.setVerticalSpacing(7)
        self.column.addLayout(self.form)
        self._line("Label", "label", field.label)
        if isinstance(field, NoteField):
            words = QPlainTextEdit(field.words)
            words.setFixedHeight(66)
            words.setObjectName("field words")
            words.textChanged.connect(lambda: self._change(("words", field.id), words=words.toPlainText()))
            self.form.addRow("Words", words)
        else:
            self._line("Hint", "hint", field.hint)
        ends = _ENDS.get(type(field))
        if ends is not None:
            ends(self, field)
        if field.asks:
            self._start()
        self._condition()
        if field.asks:
            self._wires()
        off = QPushButton("Take off the card…")
        off.setObjectName("take off the card")
        off.clicked.connect(self.take_off)
        self.column.addWidget(off, 0, Qt.AlignmentFlag.AlignLeft)

    @property
    def _now(self) -> Field:
        """The field as it is in the document."""
        return self.session.template.card.field(self.field.id) or self.field

    def _change(self, gesture: object = None, **changes: Any) -> None:
        at = self.field.id
        self.session.edit(f"{self.field.label}: {', '.join(changes)}", lambda t: carding.change_field(t, at, **changes), gesture)

    def _line(self, words: str, name: str, value: str) -> None:
        line = QLineEdit(value)
        line.setObjectName(f"field {name}")
        line.setCursorPosition(0)
        line.editingFinished.connect(lambda: self._change(**{name: line.text().strip() or value}) if line.text() != value else None)
        self.form.addRow(words, line)

    def _number_row(self, words: str, name: str, value: float | None, whole: bool = False, low: float | None = None) -> None:
        row = QHBoxLayout()
        box = NumberBox(value if value is not None else 0.0, low, None, 1, whole)
        box.setObjectName(f"field {name}")
        box.value_changed.connect(lambda v: self._change(("limit", name), **{name: v}))
        box.finished.connect(self.session.history.close_gesture)
        row.addWidget(box)
        if value is None:
            none = QLabel("no limit yet")
            none.setProperty("role", "small")
            row.addWidget(none)
        row.addStretch(1)
        self.form.addRow(words, row)

    # What may be answered

    def _number_ends(self, field: NumberField) -> None:
        self._number_row("From", "low", field.low)
        self._number_row("To", "high", field.high)
        self._number_row("Step", "step", field.step, low=0.001)
        self._line("Unit", "unit", field.unit)
        self._switch("Figure only", "figure_only", field.figure_only)

    def _length_ends(self, field: LengthField) -> None:
        self._number_row("From", "low", field.low, whole=True, low=0)
        self._number_row("To", "high", field.high, whole=True, low=0)

    def _gradient_ends(self, field: GradientField) -> None:
        self._switch("Colours only", "places_fixed", field.places_fixed)

    def _switch(self, words: str, name: str, on: bool) -> None:
        switch = Switch(on)
        switch.setObjectName(f"field {name}")
        switch.toggled.connect(lambda v: self._change(**{name: v}))
        self.form.addRow(words, switch)

    def _text(self, field: TextField) -> None:
        self._switch("Several lines", "several_lines", field.several_lines)
        longest = NumberBox(field.longest, 1, 100_000, 1, whole=True)
        longest.setObjectName("field longest")
        longest.value_changed.connect(lambda v: self._change(("longest",), longest=int(v)))
        self.form.addRow("Longest", longest)
        shown = ", ".join(field.may) or "nothing else"
        say = Sentence(self.session, "card")
        say.several(shown, self._formats, lambda may: self._change(may=may), "field may")
        self.form.addRow("Also changes", say.widget)

    def _formats(self) -> list[Ticked]:
        present = self._now
        return [(may, may, isinstance(present, TextField) and may in present.may) for may in get_args(Formatting)]

    def _colour(self, field: ColourField) -> None:
        choices: list[tuple[str, Any]] = [
            ("any colour", "any"),
            ("its own swatches", "swatches"),
            ("of the house palette", "house palette"),
        ]
        shown = next(name for name, value in choices if value == field.may_be)
        self.form.addRow("May be", Sentence(self.session, "card").choice(shown, choices, self.set_may_be, "field may be").widget)
        if field.may_be != "swatches":
            return
        for swatch in field.swatches:
            row = QHBoxLayout()
            name = QLineEdit(swatch.name)
            name.setObjectName(f"swatch {swatch.id}")
            name.editingFinished.connect(lambda s=swatch, n=name: self._put_swatch(s, name=n.text().strip() or s.name))
            colour = ColourButton(swatch.colour)
            colour.changed.connect(lambda c, s=swatch: self._put_swatch(s, colour=c))
            colour.finished.connect(self.session.history.close_gesture)
            row.addWidget(name, 1)
            row.addWidget(colour)
            row.addWidget(self._remove("swatches", swatch, len(field.swatches) > 1))
            self.form.addRow("", row)
        add = QPushButton("+ swatch")
        add.clicked.connect(self.add_swatch)
        self.form.addRow("", add)

    def set_may_be(self, may_be: str) -> None:
        """Which colours it takes; a first swatch is made of the colour that it answers now."""
        field = self._now
        assert isinstance(field, ColourField)
        present = next((s.colour for s in field.swatches if s.id == field.default), None)
        palette = self.session.template.palette
        present = present or next((c.colour for c in palette if c.id == field.default), field.default)
        if may_be == "any":
            self._change(may_be="any", default=present)
        elif may_be == "swatches":
            swatches = field.swatches or (Swatch("first", "First", present),)
            self._change(may_be="swatches", swatches=swatches, default=swatches[0].id)
        elif not palette:
            self.session.refused.emit("The house palette is empty. Add a colour to it first: it is shown when no field is chosen.")
        else:
            near = next((c.id for c in palette if c.colour.upper() == present.upper()), palette[0].id)
            self._change(may_be="house palette", default=near)

    def add_swatch(self) -> None:
        """One more colour to choose from."""
        field = self._now
        assert isinstance(field, ColourField)
        name = f"Swatch {len(field.swatches) + 1}"
        swatch = Swatch(free_id(name, {s.id for s in field.swatches}), name, "#6CC7B0")
        self._change(swatches=(*field.swatches, swatch))

    def _put_swatch(self, swatch: Swatch, **changes: Any) -> None:
        present = self.session.template.card.field(self.field.id)
        assert isinstance(present, ColourField)
        made = tuple(replace(s, **changes) if s.id == swatch.id else s for s in present.swatches)
        if made != present.swatches:
            self._change(("swatch", swatch.id), swatches=made)

    def _remove(self, name: str, entry: Any, may: bool) -> QPushButton:
        button = QPushButton("×")
        button.setFixedWidth(26)
        button.setEnabled(may)
        button.setAccessibleName("Remove")
        key = "name" if isinstance(entry, FontChoice) else "id"

        def remove() -> None:
            present = self._now
            left = tuple(e for e in getattr(present, name) if getattr(e, key) != getattr(entry, key))
            default = present.start if present.start != getattr(entry, key) else getattr(left[0], key)
            self._change(**{name: left, "default": default})

        button.clicked.connect(remove)
        return button

    def _options(self, field: ChoiceField) -> None:
        for option in field.options:
            row = QHBoxLayout()
            name = QLineEdit(option.name)
            name.setObjectName(f"option {option.id}")
            name.editingFinished.connect(lambda o=option, n=name: self._rename_option(o, n.text().strip()))
            row.addWidget(name, 1)
            row.addWidget(self._remove("options", option, len(field.options) > 1))
            self.form.addRow("Options" if option is field.options[0] else "", row)
        languages = leads_to_languages(self.session.template, field.id)
        add = QPushButton("Languages…" if languages else "+ option")
        add.setObjectName("choose languages" if languages else "add option")
        add.clicked.connect(self.choose_languages if languages else self.add_option)
        self.form.addRow("", add)

    def choose_languages(self) -> None:
        """Which languages are offered, chosen in one place."""
        field = self._now
        assert isinstance(field, ChoiceField)
        dialog = LanguagesDialog(tuple(option.id for option in field.options), lasting(self))
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self.session.edit(f"{field.label}: languages", lambda t: with_languages(t, field.id, dialog.taken))

    def add_option(self) -> None:
        """One more option to choose."""
        field = self._now
        assert isinstance(field, ChoiceField)
        name = f"Option {len(field.options) + 1}"
        self._change(options=(*field.options, Option(free_id(name, {o.id for o in field.options}), name)))

    def _rename_option(self, option: Option, name: str) -> None:
        field = self.session.template.card.field(self.field.id)
        assert isinstance(field, ChoiceField)
        if name and name != option.name:
            self._change(options=tuple(replace(o, name=name) if o.id == option.id else o for o in field.options))

    def _fonts(self, field: FontField) -> None:
        for face in field.fonts:
            row = QHBoxLayout()
            row.addWidget(QLabel(face.name), 1)
            row.addWidget(self._remove("fonts", face, len(field.fonts) > 1))
            self.form.addRow("Fonts" if face is field.fonts[0] else "", row)
        add = QPushButton("+ font")
        menu = QMenu(add)
        menu.aboutToShow.connect(lambda: self._fill_fonts(menu))
        add.setMenu(menu)
        self.form.addRow("", add)

    def _fill_fonts(self, menu: QMenu) -> None:
        menu.clear()
        book = self.session.book
        for family in book.families():
            under = menu.addMenu(family)
            assert under is not None
            for style in book.styles(family):
                action = under.addAction(style)
                assert action is not None
                action.triggered.connect(lambda _=False, f=family, s=style: self.add_font(FontChoice(f, s)))

    def add_font(self, face: FontChoice) -> None:
        """One more font to choose."""
        field = self._now
        assert isinstance(field, FontField)
        if face not in field.fonts:
            self._change(fonts=(*field.fonts, face))

    def _start(self) -> None:
        template = self.session.template
        editor = FieldEditor(self.field, self.field.start, template.palette, template)
        editor.main.setObjectName("field start")
        self.start = editor
        editor.answered.connect(lambda value: self._change(("start",), default=value))
        editor.finished.connect(self.session.history.close_gesture)
        self.form.addRow("Starts as", editor)

    def show_start(self) -> None:
        """Follow what the field answers to start with, where that was not typed here."""
        if self.start is not None:
            self.start.show_list(self._now.start)
        if self.start is not None and isinstance(self.start.main, DecimalBox):
            self.start.main.show_value(plain(exact(self._now.start)))
        if self.start is not None and isinstance(self.start.main, NumberBox) and is_number(self._now.start):
            self.start.main.show_value(float(self._now.start))

    # When it is shown

    def _condition(self) -> None:
        field, template = self.field, self.session.template
        others = [f for f in template.card.fields if f.id != field.id and rows_needed(f, None)]
        say = Sentence(self.session, "card")
        shown = field.shown_if
        other = template.card.field(shown.field) if shown is not None else None
        choices: list[tuple[str, Any]] = [("always", None), *((f"if {f.label} is …", f.id) for f in others)]
        say.choice(f"if {other.label} is" if other else "always", choices, self._set_condition, "shown if")
        if shown is not None and other is not None:
            rows = [(name, other.option_of(key)) for key, name in rows_needed(other, None)]
            words = " or ".join(name for name, value in rows if value in shown.answers)

            def ticked() -> list[Ticked]:
                present = self._now.shown_if
                return [(name, str(n), present is not None and value in present.answers) for n, (name, value) in enumerate(rows)]

            def chosen(numbers: tuple[str, ...]) -> None:
                answers = tuple(rows[int(n)][1] for n in sorted(numbers))
                if answers:
                    self._change(shown_if=Condition(other.id, answers))

            say.several(words, ticked, chosen, "shown if answers")
        self.form.addRow("Shown", say.widget)

    def _set_condition(self, field_id: str | None) -> None:
        if field_id is None:
            self._change(shown_if=None)
            return
        other = carding.field_of(self.session.template, field_id)  # the menu may be older than the card
        rows = rows_needed(other, None)
        if not rows:
            raise DocumentError(f"“{other.label}” is no choice any more, so nothing can be shown by it.")
        self._change(shown_if=Condition(field_id, (other.option_of(rows[0][0]),)))

    # Wires

    def _wires(self) -> None:
        heading = QLabel("Wires")
        heading.setProperty("role", "rose")
        self.column.addWidget(heading)
        wires = self.session.template.wires_from(self.field.id)
        for wire in wires:
            self.column.addWidget(WireEditor(self.session, wire.target))
        if not wires:
            none = QLabel("It changes nothing yet. Wire it to a property:")
            none.setProperty("role", "small")
            self.column.addWidget(none)
        add = QPushButton("+ wire to a property…")
        add.setProperty("chip", "card")
        add.setObjectName("add wire")
        menu = QMenu(add)
        menu.aboutToShow.connect(lambda: fill_targets(menu, self.session.template, self.field.id, self.wire_to))
        add.setMenu(menu)
        self.column.addWidget(add, 0, Qt.AlignmentFlag.AlignLeft)
        if isinstance(self.field, ChoiceField | SwitchField):
            record = QPushButton("● Change things on the stage for this option")
            record.setObjectName("record option")
            record.setCheckable(True)
            record.setChecked(self.session.recording == self.field.id)
            record.setProperty("role", "recording")
            record.setToolTip("What you change counts only for the option that is chosen on the card")
            record.toggled.connect(lambda on: self.session.record(self.field.id if on else None))
            self.column.addWidget(record, 0, Qt.AlignmentFlag.AlignLeft)

    def wire_to(self, target: str) -> None:
        """Wire the field to a property."""
        self.session.edit("Wire", lambda t: carding.wire_up(t, self.field.id, target))

    def take_off(self) -> None:
        """Say what it leaves behind, then take it off."""
        said = carding.left_behind(self.session.template, self.field.id)
        if said:
            buttons = QMessageBox.StandardButton
            words = f"Take “{self.field.label}” off the card?\n\n" + "\n".join(said)
            if QMessageBox.question(lasting(self), "Off the card", words, buttons.Ok | buttons.Cancel) != buttons.Ok:
                return
        at = self.field.id
        self.session.edit("Off the card", lambda t: carding.remove_field(t, at))


_ENDS: dict[type[BaseField], Callable[[FieldPanel, Any], None]] = {
    TextField: FieldPanel._text, NumberField: FieldPanel._number_ends, LengthField: FieldPanel._length_ends,
    ColourField: FieldPanel._colour, ChoiceField: FieldPanel._options, FontField: FieldPanel._fonts,
    GradientField: FieldPanel._gradient_ends,
}  # fmt: skip
"""What of each kind of field may be answered, and how far."""
