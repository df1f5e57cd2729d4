"""The look as rows: a label, an editor for the property's kind, and the dot that says fixed or on the card."""

from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QContextMenuEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QLineEdit, QPlainTextEdit, QWidget

from avlet.desktop.recipe.dot import Dot
from avlet.desktop.recipe.dot_menu import DotMenu
from avlet.desktop.recipe.plain import UNITS
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.colour_button import ColourButton
from avlet.desktop.widgets.decimal_box import DecimalBox
from avlet.desktop.widgets.families import FamilyBox
from avlet.desktop.widgets.menus import pop_up
from avlet.desktop.widgets.numbers import NumberBox
from avlet.desktop.widgets.quiet_combo import QuietCombo
from avlet.desktop.widgets.switch import Switch
from avlet.document.metadata import Property, get_at

LABEL = 72
"""How wide the labels of rows are, in px."""


class LookRow(QWidget):
    """One property of the selected part, and of the parts ``also`` selected: what is set counts for all of them."""

    def __init__(self, session: Session, part_id: str, prop: Property, label_width: int = LABEL, also: Sequence[str] = ()) -> None:
        super().__init__()
        self.session, self.prop, self.target = session, prop, f"{part_id}/{prop.path}"
        self.part_ids = (part_id, *also)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(6)
        label = QLabel(prop.type.label)
        label.setProperty("role", "muted")
        label.setFixedWidth(label_width)
        label.setWordWrap(True)
        layout.addWidget(label)
        editor = self.editor = self._editor()
        editor.setObjectName(self.target)
        editor.setAccessibleName(prop.type.label)
        layout.addWidget(editor, 0 if isinstance(editor, NumberBox | Switch) else 1)
        if prop.type.unit:
            unit = QLabel(prop.type.unit)
            unit.setToolTip(UNITS.get(prop.type.unit, ""))
            unit.setProperty("role", "small")
            layout.addWidget(unit)
        if isinstance(editor, NumberBox | Switch):
            layout.addStretch(1)
        self.wireable = prop.path.rpartition(".")[2] != "style"
        if not isinstance(editor, QPlainTextEdit | FamilyBox):
            editor.setContextMenuPolicy(Qt.ContextMenuPolicy.NoContextMenu)
        if self.wireable and not also:
            layout.addWidget(Dot(session, self.target, prop.type.label), 0, Qt.AlignmentFlag.AlignTop)
        else:
            layout.addSpacing(28)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """What its dot offers, wherever the row is clicked."""
        if event is not None and self.wireable:
            pop_up(DotMenu(self.session, self.target, self.prop.type.label, self), event.globalPos())

    def _set(self, value: object) -> None:
        """Give the property a value; where that is not taken, the row goes on showing what is there. A part that has gone takes none."""
        if not self.session.holds(self.target):
            return
        values = {f"{part_id}/{self.prop.path}": value for part_id in self.part_ids}
        if not self.session.write(values, ("row", id(self))):
            show_in(self.editor, self.session.shown(self.target))

    def _editor(self) -> QWidget:
        kind, value = self.prop.type, self.prop.value
        if kind.kind in ("number", "whole"):
            box = NumberBox(float(value), kind.low, kind.high, kind.step, kind.kind == "whole")
            if kind.is_time:
                box.takes_times(self.session.template.frame.fps)
            box.setProperty("chip", "plain")
            box.value_changed.connect(self._set)
            box.finished.connect(self.session.history.close_gesture)
            return box
        if kind.kind == "colour":
            button = ColourButton(value)
            button.changed.connect(self._set)
            button.finished.connect(self.session.history.close_gesture)
            return button
        if kind.kind == "switch":
            switch = Switch(value)
            switch.toggled.connect(self._set)
            return switch
        if kind.kind == "choice":
            return self._combo(list(kind.choices), value)
        if self.prop.path.rpartition(".")[2] == "family":
            return FamilyBox(self.session.book, value, self._set_face)
        if self.prop.path.rpartition(".")[2] == "style":
            return self._combo(self._styles(), value)
        return self._words(value)

    def _styles(self) -> list[str]:
        book, part = self.session.book, self.session.bound_part
        return book.styles(get_at(part, self.prop.path.removesuffix("style") + "family"))

    def _combo(self, choices: list[str], value: str) -> QComboBox:
        combo = QuietCombo()
        combo.addItems(choices if value in choices else [value, *choices])
        combo.setCurrentText(value)
        combo.textActivated.connect(self._set)
        return combo

    def _set_face(self, family: str) -> None:
        """Choose a family, with the style it has that is nearest to the present one."""
        part = self.session.bound_part
        assert part is not None
        at = self.prop.path.removesuffix("family")
        present = get_at(part, f"{at}style")
        face = {"family": family, "style": self.session.book.find(family, present)[0].style}
        values = {f"{part_id}/{at}{name}": value for part_id in self.part_ids for name, value in face.items()}
        self.session.write(values, None, f"{part.name}: family")

    def _words(self, value: str) -> QPlainTextEdit:
        box = QPlainTextEdit(value)
        box.setFixedHeight(12 + 17 * max(2, min(4, value.count("\n") + 1)))
        box.setTabChangesFocus(True)
        box.textChanged.connect(lambda: self._set(box.toPlainText()))
        return box


def show_in(editor: QWidget, value: Any) -> None:
    """Show a value in an editor without telling of it; an editor that is being typed into is left alone."""
    if isinstance(editor, NumberBox):
        if editor.value != value:
            editor.show_value(float(value))
    elif isinstance(editor, ColourButton):
        editor.show_colour(value)
    elif isinstance(editor, DecimalBox):
        if editor.value != value:
            editor.show_value(str(value))
    elif isinstance(editor, QLineEdit):
        if editor.text() != str(value) and not editor.isModified():
            editor.setText(str(value))
    elif isinstance(editor, QPlainTextEdit | Switch):
        blocked = editor.blockSignals(True)
        if isinstance(editor, Switch):
            editor.setChecked(value)
        elif editor.toPlainText() != value and not editor.hasFocus():
            editor.setPlainText(value)
        editor.blockSignals(blocked)
    elif isinstance(editor, QComboBox) and (at := editor.findText(str(value))) >= 0:
        blocked = editor.blockSignals(True)
        editor.setCurrentIndex(at)
        editor.blockSignals(blocked)
