"""The look as rows: a label, an editor for the property's kind, and the dot that says fixed or on the card."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QAction, QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QAbstractButton, QComboBox, QHBoxLayout, QInputDialog, QLabel, QLineEdit, QMenu, QPlainTextEdit, QWidget

from avlet.desktop.colours import ColourButton
from avlet.desktop.families import FamilyBox
from avlet.desktop.numbers import NumberBox
from avlet.desktop.session import Session
from avlet.desktop.switch import Switch
from avlet.desktop.theme import MARIGOLD, MUTED, ROSE
from avlet.document import edits, keying
from avlet.document.card import TextField
from avlet.document.metadata import Property, get_at


class Dot(QAbstractButton):
    """Hollow: fixed. Rose: on the card. Marigold: keyed. A click offers the others."""

    def __init__(self, session: Session, target: str, label: str, field_label: str | None = None) -> None:
        super().__init__()
        self.session, self.target, self.field_label = session, target, field_label
        self.setFixedSize(22, 22)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setObjectName(f"dot {target}")
        self.setAccessibleName(f"{label}: fixed, keyed or on the card")
        self.clicked.connect(self.open_menu)
        wire = session.template.wire_to(target)
        field = session.template.card.field(wire.source) if wire else None
        self.on_card = field is not None
        part_id, _, path = target.partition("/")
        part = session.template.part(part_id)
        self.keyed = keying.keyed_of(part, path) is not None if part is not None else False
        words = "It has keys; a change makes one at this frame." if self.keyed else "Fixed. Click to put it on the card or to key it."
        self.setToolTip(f"On the card as “{field.label}”" if field else words)

    def sizeHint(self) -> QSize:
        return QSize(22, 22)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ring = QRectF(5, 5, 12, 12)
        if self.on_card:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(ROSE))
            painter.drawEllipse(ring)
            painter.setBrush(QColor("#2A1016"))
            painter.drawRoundedRect(QRectF(8, 9.5, 6, 3), 1, 1)
        elif self.keyed:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(MARIGOLD))
            painter.drawPolygon(QPolygonF([QPointF(11, 5), QPointF(17, 11), QPointF(11, 17), QPointF(5, 11)]))
        else:
            painter.setPen(QPen(QColor("#FFFFFF") if self.underMouse() or self.hasFocus() else QColor(MUTED), 1.6))
            painter.drawEllipse(ring.adjusted(1, 1, -1, -1))

    def menu(self) -> QMenu:
        """What can be done with the property."""
        menu = QMenu(self)
        template = self.session.template
        wire = template.wire_to(self.target)
        field = template.card.field(wire.source) if wire else None
        part_id, _, path = self.target.partition("/")
        part = template.part(part_id)
        if part is not None and keying.may_be_keyed(part, path):
            self._add(menu, "Key it at this frame", lambda: self.session.key(part_id, path))
            if self.keyed:
                self._add(menu, "No keys", lambda: self.session.edit("No keys", lambda t: keying.without_keys(t, part_id, path)))
        if field is None:
            self._add(menu, "Put on the card", self.put_on_card)
        else:
            self._add(menu, f"On the card as “{field.label}”", None)
            self._add(menu, "Change its label…", lambda: self._relabel(field.id, field.label))
            self._add(menu, "Change its hint…", lambda: self._rehint(field.id, field.hint))
            if isinstance(field, TextField):
                lines = not field.several_lines
                words = "Let it have several lines" if lines else "Keep it to one line"
                self._add(menu, words, lambda: self._relined(field.id, lines))
            self._add(menu, "Take off the card", self.take_off)
        return menu

    @staticmethod
    def _add(menu: QMenu, words: str, chosen: Callable[[], object] | None) -> None:
        action = QAction(words, menu)
        action.setEnabled(chosen is not None)
        if chosen is not None:
            action.triggered.connect(chosen)
        menu.addAction(action)

    def open_menu(self) -> None:
        self.menu().popup(self.mapToGlobal(QPoint(0, self.height())))

    def put_on_card(self) -> None:
        self.session.edit("Put on the card", lambda t: edits.put_on_card(t, self.target, self.field_label)[0])

    def take_off(self) -> None:
        self.session.edit("Take off the card", lambda t: edits.take_off_card(t, self.target))

    def _relined(self, field_id: str, several: bool) -> None:
        """Let a field have several lines or only one; refused while an answer has more."""
        self.session.edit("Lines of a field", lambda t: _with_field(t, field_id, several_lines=several))

    def _relabel(self, field_id: str, label: str) -> None:
        words, sure = QInputDialog.getText(self, "Label on the card", "The editor reads:", QLineEdit.EchoMode.Normal, label)
        if sure and words.strip():
            self.session.edit("Label of a field", lambda t: _with_field(t, field_id, label=words.strip()))

    def _rehint(self, field_id: str, hint: str) -> None:
        words, sure = QInputDialog.getText(self, "Hint on the card", "A short hint for the editor:", QLineEdit.EchoMode.Normal, hint)
        if sure:
            self.session.edit("Hint of a field", lambda t: _with_field(t, field_id, hint=words.strip()))


def _with_field(template: edits.Template, field_id: str, **changes: object) -> edits.Template:
    field = template.card.field(field_id)
    return template if field is None else edits.put_field(template, edits.replace(field, **changes))


class LookRow(QWidget):
    """One property of the selected part."""

    def __init__(self, session: Session, part_id: str, prop: Property) -> None:
        super().__init__()
        self.session, self.prop, self.target = session, prop, f"{part_id}/{prop.path}"
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(6)
        label = QLabel(prop.type.label)
        label.setProperty("role", "muted")
        label.setFixedWidth(72)
        layout.addWidget(label)
        editor = self._editor()
        editor.setObjectName(self.target)
        editor.setAccessibleName(prop.type.label)
        layout.addWidget(editor, 0 if isinstance(editor, NumberBox | Switch) else 1)
        if prop.type.unit:
            unit = QLabel(prop.type.unit)
            unit.setProperty("role", "small")
            layout.addWidget(unit)
        if isinstance(editor, NumberBox | Switch):
            layout.addStretch(1)
        wireable = prop.type.kind in (*edits.FIELD_KINDS, "whole") and prop.path.rpartition(".")[2] not in ("family", "style")
        if wireable:
            layout.addWidget(Dot(session, self.target, prop.type.label), 0, Qt.AlignmentFlag.AlignTop)
        else:
            layout.addSpacing(28)

    def _set(self, value: object) -> None:
        self.session.set_value(self.target, value, ("row", id(self)))

    def _editor(self) -> QWidget:
        kind, value = self.prop.type, self.prop.value
        if kind.kind in ("number", "whole"):
            box = NumberBox(float(value), kind.low, kind.high, kind.step, kind.kind == "whole")
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
        combo = QComboBox()
        combo.addItems(choices if value in choices else [value, *choices])
        combo.setCurrentText(value)
        combo.textActivated.connect(self._set)
        combo.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        combo.wheelEvent = lambda event: event.ignore()  # type: ignore[method-assign,union-attr]
        return combo

    def _set_face(self, family: str) -> None:
        """Choose a family, with the style it has that is nearest to the present one."""
        part = self.session.bound_part
        assert part is not None
        at = self.target.removesuffix("family")
        present = get_at(part, self.prop.path.removesuffix("family") + "style")
        style = self.session.book.find(family, present)[0].style

        def change(t: edits.Template) -> edits.Template:
            return edits.set_property(edits.set_property(t, f"{at}family", family), f"{at}style", style)

        self.session.edit(f"{part.name}: family", change)

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
    elif isinstance(editor, QPlainTextEdit | Switch):
        blocked = editor.blockSignals(True)
        if isinstance(editor, Switch):
            editor.setChecked(value)
        elif editor.toPlainText() != value and not editor.hasFocus():
            editor.setPlainText(value)
        editor.blockSignals(blocked)
