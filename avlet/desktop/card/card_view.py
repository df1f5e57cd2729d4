"""The card as an editor gets it: paper-light, live, with nothing on it that could break the title."""

from collections.abc import Callable, Mapping
from functools import partial
from typing import Any

from PyQt6.QtCore import QEvent, QMimeData, QObject, QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QDrag,
    QDragEnterEvent,
    QDragMoveEvent,
    QDropEvent,
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
)
from PyQt6.QtWidgets import QApplication, QFrame, QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from avlet.desktop.card.field_editors import FieldEditor
from avlet.desktop.widgets.asking import is_behind_a_dialog
from avlet.desktop.widgets.theme import PAPER_ROSE, style_sheet
from avlet.document.cards.answers import shown_fields
from avlet.document.fields import Field, NoteField
from avlet.document.template import Template

MIME = "application/x-avlet-field"
_WAIT = 60
"""ms until it is looked again whether a dialog has closed."""


class FieldRow(QFrame):
    """One field or note of a card: its label, its editor, and what is wrong with the answer."""

    def __init__(self, field: Field, editor: FieldEditor | None, arranged: bool) -> None:
        super().__init__()
        self.field, self.editor, self.arranged = field, editor, arranged
        self.setProperty("role", "field")
        self.setObjectName(f"row {field.id}")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(4, 2, 4, 2)
        layout.setSpacing(3)
        row = QHBoxLayout()
        row.setSpacing(8)
        self.label = QLabel(field.label)
        self.label.setWordWrap(True)
        self.label.setContentsMargins(0, 5, 0, 0)
        row.addWidget(self.label, 0, Qt.AlignmentFlag.AlignTop)
        if editor is not None:
            self.label.setFixedWidth(84)
            row.addWidget(editor, 1)
        layout.addLayout(row)
        if isinstance(field, NoteField):
            self.label.setProperty("role", "section")
            words = QLabel(field.words)
            words.setWordWrap(True)
            words.setProperty("role", "hint")
            layout.addWidget(words)
        self.wrong = QLabel()
        self.wrong.setProperty("role", "wrong")
        self.wrong.setWordWrap(True)
        self.wrong.hide()
        layout.addWidget(self.wrong)
        if arranged:
            self.label.setCursor(Qt.CursorShape.OpenHandCursor)
            self.label.setToolTip("Click to change the field; drag to put it elsewhere")

    def choose(self, chosen: bool) -> None:
        """Show it as the chosen one."""
        if bool(self.property("chosen")) != chosen:
            self.setProperty("chosen", chosen)
            style = self.style()
            assert style is not None
            style.unpolish(self)
            style.polish(self)


KEYS: tuple[tuple[str, str], ...] = (("Alt+Up", "The chosen field further up the card"), ("Alt+Down", "Further down"))
"""What the keys do on the card while it is arranged, in words."""
_ARROWS = (Qt.Key.Key_Up, Qt.Key.Key_Down)
_BY_KEYBOARD = (Qt.FocusReason.TabFocusReason, Qt.FocusReason.BacktabFocusReason, Qt.FocusReason.ShortcutFocusReason)


class CardView(QFrame):
    """Shows a template's card with answers. ``answered`` tells field id and value of each accepted answer.

    ``arranged``: the designer's, on which fields are chosen (``chosen``), pointed at (``pointed``) and dragged to other places
    (``moved``: id, section, place); sections are dragged by their headings (``section_moved``: which, to where). A field that the
    keyboard comes to is chosen. ``left`` tells that Escape was pressed.
    """

    answered = pyqtSignal(str, object)
    finished = pyqtSignal()
    refused = pyqtSignal(str)
    chosen = pyqtSignal(str)
    pointed = pyqtSignal(str)
    moved = pyqtSignal(str, int, int)
    section_moved = pyqtSignal(int, int)
    left = pyqtSignal()

    def __init__(self, parent: QWidget | None = None, arranged: bool = False) -> None:
        super().__init__(parent)
        self.arranged = arranged
        self.setProperty("role", "card")
        self.setStyleSheet(style_sheet("card"))
        self.inputs: dict[str, QWidget] = {}
        self.rows: dict[str, FieldRow] = {}
        self._template: Template | None = None
        self._answers: dict[str, Any] = {}
        self._wanted: Callable[[], None] | None = None
        self._chosen: str | None = None
        self._waiting = QTimer(self)
        self._waiting.setSingleShot(True)
        self._waiting.timeout.connect(self._go_on)
        self._pressed: QPointF | None = None
        self._drop: float | None = None
        self._sections: list[QWidget] = []
        self._outer = QVBoxLayout(self)
        self._outer.setContentsMargins(4, 8, 4, 8)
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._outer.addWidget(self._scroll)
        self.setAcceptDrops(arranged)
        self.show_nothing("")

    def show_nothing(self, words: str) -> None:
        """An empty card with a hint at the next step."""
        if self._waits_with(partial(self.show_nothing, words)):
            return
        body, layout = self._body()
        label = QLabel(words)
        label.setWordWrap(True)
        label.setProperty("role", "hint")
        layout.addWidget(label)
        layout.addStretch(1)
        self._put(body)
        self._template, self.inputs, self.rows = None, {}, {}

    def show_card(self, template: Template, answers: Mapping[str, Any]) -> None:
        """Show the fields with their answers, starting answers where there is none; while a dialog is open, once that has closed."""
        if self._waits_with(partial(self.show_card, template, dict(answers))):
            return
        body, layout = self._body()
        self.inputs, self.rows, self._sections = {}, {}, []
        self._template, self._answers = template, dict(answers)
        title = QLabel(template.name)
        title.setProperty("role", "title")
        layout.addWidget(title)
        if template.card.note:
            note = QLabel(template.card.note)
            note.setWordWrap(True)
            note.setProperty("role", "hint")
            layout.addWidget(note)
        for number, section in enumerate(template.card.sections):
            heading = QLabel(section.name)
            heading.setProperty("role", "section")
            heading.setObjectName(f"section {number}")
            heading.setContentsMargins(4, 8, 0, 0)
            self._sections.append(heading)
            if self.arranged:
                heading.installEventFilter(self)
                heading.setCursor(Qt.CursorShape.OpenHandCursor)
                heading.setToolTip("Drag the section elsewhere; double-click to rename it")
            layout.addWidget(heading)
            if not section.name and (number == 0 or not self.arranged):
                heading.hide()
            for field in section.fields:
                layout.addWidget(self._row(field, answers))
        if not template.card.entries:
            layout.addWidget(QLabel("Nothing to fill in."))
        layout.addStretch(1)
        self._put(body)
        self._show_conditions()
        self.choose(self._chosen)

    def _waits_with(self, wanted: Callable[[], None]) -> bool:
        """Whether a dialog is open that was perhaps asked for from this card: then what is wanted is done once it has closed."""
        waits = is_behind_a_dialog(self)
        self._wanted = wanted if waits else None
        if waits:
            self._waiting.start(_WAIT)
        else:
            self._waiting.stop()
        return waits

    def _go_on(self) -> None:
        """Do what waited for a dialog to close."""
        if self._wanted is not None:
            self._wanted()

    def _put(self, body: QWidget) -> None:
        bar = self._scroll.verticalScrollBar()
        at = bar.value() if bar else 0
        self._scroll.setWidget(body)
        if bar:
            bar.setValue(at)

    @staticmethod
    def _body() -> tuple[QWidget, QVBoxLayout]:
        body = QWidget()
        layout = QVBoxLayout(body)
        layout.setContentsMargins(10, 6, 8, 6)
        layout.setSpacing(4)
        return body, layout

    def _row(self, field: Field, answers: Mapping[str, Any]) -> FieldRow:
        assert self._template is not None
        editor = None
        if field.asks:
            template = self._template
            editor = FieldEditor(field, answers.get(field.id, field.start), template.palette, template)
            editor.answered.connect(lambda value: self._answer(field, value))
            editor.finished.connect(self.finished)
            editor.refused.connect(self.refused)
            editor.main.setObjectName(f"field {field.id}")
            editor.main.setAccessibleName(field.label)
            editor.main.setToolTip(field.hint)
            self.inputs[field.id] = editor.main
        row = FieldRow(field, editor, self.arranged)
        if editor is not None:
            row.label.setBuddy(editor.main)
        if self.arranged and editor is not None:
            editor.main.installEventFilter(self)
        if self.arranged:
            row.installEventFilter(self)
            row.label.installEventFilter(self)
        self.rows[field.id] = row
        return row

    def _answer(self, field: Field, value: Any) -> None:
        assert self._template is not None
        wrong = self.rows[field.id].wrong
        fault = field.fault(value, self._template.palette)
        wrong.setText(fault)
        wrong.setVisible(bool(fault))
        if not fault:
            self._answers[field.id] = value
            self.answered.emit(field.id, value)
            self._show_conditions()

    def show_lists(self, answers: Mapping[str, Any]) -> None:
        """Follow lists that were changed elsewhere."""
        for field_id, row in self.rows.items():
            if row.editor is not None and field_id in answers:
                row.editor.show_list(answers[field_id])

    def _show_conditions(self) -> None:
        """Hide what other answers hide; the designer sees it greyed."""
        if self._template is None:
            return
        shown = shown_fields(self._template, self._answers)
        for field_id, row in self.rows.items():
            if self.arranged:
                row.setProperty("hidden", field_id not in shown)
                row.label.setText(row.field.label + ("" if field_id in shown else " (hidden)"))
            else:
                row.setVisible(field_id in shown)

    def begin(self) -> None:
        """Bring the keyboard to the first field that shows."""
        first = next((widget for widget in self.inputs.values() if widget.isVisibleTo(self) and widget.isEnabled()), None)
        if first is not None:
            first.setFocus(Qt.FocusReason.TabFocusReason)

    def event(self, event: QEvent | None) -> bool:
        """Alt with the arrows means the order of fields here, whatever it means elsewhere."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and self._moves(event):
            event.accept()
            return True
        return super().event(event)

    def _moves(self, event: QKeyEvent) -> int:
        """By how many places a key moves the chosen field."""
        if not self.arranged or event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier != Qt.KeyboardModifier.AltModifier:
            return 0
        return {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0) if event.key() in _ARROWS else 0

    def _move_chosen(self, by: int) -> None:
        """The chosen field a place up or down, over the edge of its section into the next one."""
        sections = self._template.card.sections if self._template is not None else ()
        for number, section in enumerate(sections):
            place = next((n for n, field in enumerate(section.fields) if field.id == self._chosen), None)
            if place is None:
                continue
            if 0 <= place + by < len(section.fields):
                self.moved.emit(self._chosen, number, place + by + (by > 0))
            elif 0 <= number + by < len(sections):
                self.moved.emit(self._chosen, number + by, len(sections[number + by].fields) if by < 0 else 0)
            return

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        elif self._chosen is not None and (by := self._moves(event)):
            self._move_chosen(by)
        else:
            super().keyPressEvent(event)

    def choose(self, field_id: str | None) -> None:
        """Show which field is chosen."""
        self._chosen = field_id
        for one, row in self.rows.items():
            row.choose(one == field_id)

    # Arranging

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        assert event is not None
        if isinstance(event, QKeyEvent) and watched in self.inputs.values() and (by := self._moves(event)):
            if event.type() == QEvent.Type.KeyPress and self._chosen is not None:
                self._move_chosen(by)
            event.accept()
            return True
        if isinstance(event, QFocusEvent) and event.type() == QEvent.Type.FocusIn and event.reason() in _BY_KEYBOARD:
            found = next((field_id for field_id, widget in self.inputs.items() if widget is watched), None)
            if found is not None:
                self.chosen.emit(found)
        row = watched if isinstance(watched, FieldRow) else watched.parent() if watched is not None else None
        if isinstance(row, FieldRow):
            match event.type():
                case QEvent.Type.Enter:
                    self.pointed.emit(row.field.id)
                case QEvent.Type.Leave if watched is row:
                    self.pointed.emit("")
                case QEvent.Type.MouseButtonPress:
                    assert isinstance(event, QMouseEvent)
                    self._pressed = event.globalPosition()
                    self.chosen.emit(row.field.id)
                case QEvent.Type.MouseMove if self._pressed is not None:
                    assert isinstance(event, QMouseEvent)
                    if (event.globalPosition() - self._pressed).manhattanLength() > QApplication.startDragDistance():
                        self._pressed = None
                        self._begin_drag(row)
                        return True
                case QEvent.Type.MouseButtonRelease:
                    self._pressed = None
        elif isinstance(watched, QLabel):
            self._heading_event(watched, event)
        return super().eventFilter(watched, event)

    def _heading_event(self, heading: QLabel, event: QEvent) -> None:
        """A section's heading is dragged, or renamed by a double click."""
        if not isinstance(event, QMouseEvent):
            return
        match event.type():
            case QEvent.Type.MouseButtonPress:
                self._pressed = event.globalPosition()
            case QEvent.Type.MouseButtonDblClick:
                self._pressed = None
                self.chosen.emit(heading.objectName())
            case QEvent.Type.MouseMove if self._pressed is not None:
                if (event.globalPosition() - self._pressed).manhattanLength() > QApplication.startDragDistance():
                    self._pressed = None
                    self._carry(heading, heading.objectName())

    def _begin_drag(self, row: FieldRow) -> None:
        self._carry(row, row.field.id)

    def _carry(self, widget: QWidget, name: str) -> None:
        data = QMimeData()
        data.setData(MIME, name.encode())
        drag = QDrag(widget)
        drag.setMimeData(data)
        drag.setPixmap(widget.grab())
        drag.exec(Qt.DropAction.MoveAction)

    def place_at(self, y: float) -> tuple[int, int, float]:
        """Where a field that is let go at a height of the view goes: section, place in it, and the height of the line that says so."""
        assert self._template is not None
        best = (float("inf"), 0, 0, 0.0)
        for number, section in enumerate(self._template.card.sections):
            heading = self._sections[number]
            edges = [self._bottom(heading) if heading.isVisible() else None]
            edges += [self._bottom(self.rows[f.id]) for f in section.fields]
            if edges[0] is None:
                edges[0] = self._top(self.rows[section.fields[0].id]) if section.fields else 40.0
            for place, edge in enumerate(edges):
                assert edge is not None
                if abs(edge - y) < best[0]:
                    best = (abs(edge - y), number, place, edge)
        return best[1], best[2], best[3]

    def _top(self, widget: QWidget) -> float:
        return float(widget.mapTo(self, widget.rect().topLeft()).y())

    def _bottom(self, widget: QWidget) -> float:
        return float(widget.mapTo(self, widget.rect().bottomLeft()).y())

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        assert event is not None
        data = event.mimeData()
        if data is not None and data.hasFormat(MIME):
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent | None) -> None:
        assert event is not None
        self._drop = self.place_at(event.position().y())[2]
        event.acceptProposedAction()
        self.update()

    def dragLeaveEvent(self, event: object) -> None:
        self._drop = None
        self.update()

    def dropEvent(self, event: QDropEvent | None) -> None:
        assert event is not None
        data = event.mimeData()
        self._drop = None
        self.update()
        if data is not None and data.hasFormat(MIME) and self._template is not None:
            section, place, _ = self.place_at(event.position().y())
            event.acceptProposedAction()
            name = data.data(MIME).data().decode()
            if name.startswith("section "):
                self.section_moved.emit(int(name.removeprefix("section ")), section)
            else:
                self.moved.emit(name, section, place)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        if self._drop is not None:
            painter = QPainter(self)
            painter.setPen(QPen(QColor(PAPER_ROSE), 2))
            painter.drawLine(QPointF(12, self._drop + 2), QPointF(self.width() - 12, self._drop + 2))
            painter.drawEllipse(QRectF(8, self._drop - 1, 6, 6))
