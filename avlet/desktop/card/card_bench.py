"""The Card bench: the card as the editor gets it, the stage with samples and the card's measure, and the chosen field."""

from typing import Any

from PyQt6.QtCore import QRectF, Qt, QTimer
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPen, QShowEvent
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QInputDialog, QLabel, QMenu, QPushButton, QScrollArea, QVBoxLayout, QWidget

from avlet.desktop.card.card_measure_view import CardMeasure
from avlet.desktop.card.card_panel import CardPanel, without_start
from avlet.desktop.card.card_view import CardView
from avlet.desktop.card.wire_menus import fill_properties
from avlet.desktop.sessions.template_session import TRIED, Session
from avlet.desktop.stage.samples_strip import SamplesStrip, in_a_bar
from avlet.desktop.stage.stage import Stage
from avlet.desktop.stage.transport import Transport
from avlet.desktop.widgets.asking import lasting
from avlet.desktop.widgets.sides import Sides
from avlet.desktop.widgets.theme import ROSE
from avlet.document.cards import carding
from avlet.document.cards.wire_plans import inputs
from avlet.document.cards.wire_sources import source_words
from avlet.document.editing.naming import free_id
from avlet.document.fields import FIELD_TYPES
from avlet.document.targets import words_for
from avlet.review.card_measure import Remark

NEW_FIELDS: dict[str, Any] = {made[0]: made[1] for kind in FIELD_TYPES if (made := kind.example()) is not None}
"""Fields that are made before what they drive; any other kind comes from a property's dot."""

_LEAST_BELOW = 132
"""px of the samples and the measure that are in sight at least; the rest is scrolled to in a low window."""


class CardStage(Stage):
    """The stage of this bench: parts that a field drives are lit, and what drives a part is said when it is pointed at."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.drafting_on = False
        self.lit: set[str] = set()

    def light(self, parts: set[str]) -> None:
        """Light some parts."""
        if parts != self.lit:
            self.lit = parts
            self.update()

    def paint_over(self, painter: QPainter) -> None:
        super().paint_over(painter)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        rest = self.session.scene().rest.parts
        chosen = {self.session.selected} if self.session.selected else set()
        for part_id in (self.lit | chosen) & set(rest):
            found = rest[part_id]
            area = QRectF(self.box_in_view(found.ink or found.box)).adjusted(-3, -3, 3, 3)
            lit = part_id in self.lit
            painter.setPen(QPen(QColor(0, 0, 0, 160), 4 if lit else 3))
            painter.drawRoundedRect(area, 4, 4)
            painter.setPen(QPen(QColor(ROSE if lit else "#FFFFFF"), 2 if lit else 1))
            painter.drawRoundedRect(area, 4, 4)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        super().mouseMoveEvent(event)
        assert event is not None
        if event.buttons() == Qt.MouseButton.NoButton:
            found = self.part_at(event.position())
            self.setToolTip(driven_words(self.session, found) if found else "")


def driven_words(session: Session, part_id: str) -> str:
    """What drives a part: one line for each wire."""
    template = session.template
    lines = [template.name_of(part_id)]
    for wire in template.wires:
        if wire.target.startswith(f"{part_id}/"):
            lines.append(f"{words_for(template, wire.target).partition(': ')[2]} ← {source_words(template, wire.source)}")
    return "\n".join(lines) if len(lines) > 1 else f"{lines[0]}: nothing on the card changes it"


def driven_by(session: Session, field_id: str) -> set[str]:
    """The parts that a field drives, at first or through house colours and other wires."""
    template, found = session.template, set()
    sources, seen = [field_id], set()
    while sources:
        source = sources.pop()
        seen.add(source)
        for wire in template.wires:
            if source in inputs(template, wire):
                found.add(wire.target.partition("/")[0])
                if wire.target not in seen:
                    sources.append(wire.target)
    return found


class CardBench(QWidget):
    """Where a template's card is made."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.chosen: str | None = None
        self.card = CardView(arranged=True)
        self.stage = CardStage(session)
        self.transport = Transport(session, self.stage.cache)
        self.samples = SamplesStrip(session, self.stage.background)
        self.measure = CardMeasure(session)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        left, middle = self._left(), self._middle()
        self.panel = CardPanel(session)
        self.panel.setFixedWidth(330)
        self.sides = Sides(middle, left, self.panel, ("Card", "Field, wires, house"))
        layout.addWidget(self.sides)
        self._shown_card: object = None
        session.answers_changed.connect(self._show_tried)
        session.changed.connect(self._show_tried)
        self._show_tried()
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.refresh)
        for signal in (session.changed, session.answers_changed, session.selection_changed):
            signal.connect(lambda: self._timer.start(0))
        self.card.answered.connect(self._answered)
        self.card.finished.connect(session.history.close_gesture)
        self.card.refused.connect(session.refused)
        self.card.chosen.connect(self._choose)
        self.card.pointed.connect(self._point)
        self.card.moved.connect(self._move)
        self.card.section_moved.connect(self._move_section)
        self.measure.wanted.connect(self.go_to)
        self.transport.played.connect(self.stage.played)
        self.refresh()

    def _left(self) -> QWidget:
        left = QWidget()
        left.setProperty("role", "panel")
        left.setFixedWidth(318)
        column = QVBoxLayout(left)
        column.setContentsMargins(14, 10, 12, 12)
        heading = QHBoxLayout()
        words = QLabel("The card, as an editor gets it")
        words.setProperty("role", "muted")
        heading.addWidget(words, 1)
        add = QPushButton("+")
        add.setToolTip("Add a field, a note or a section")
        add.setAccessibleName("Add a field, a note or a section")
        menu = QMenu(add)
        properties = QMenu("A property of", menu)
        properties.aboutToShow.connect(lambda: fill_properties(properties, self.session.template, self.put_on_card))
        menu.addMenu(properties)
        menu.addSeparator()
        for name in NEW_FIELDS:
            action = menu.addAction(name)
            assert action is not None
            action.triggered.connect(lambda _=False, n=name: self.add_field(n))
        menu.addSeparator()
        section = menu.addAction("Section")
        assert section is not None
        section.triggered.connect(lambda _=False: self.add_section())
        add.setMenu(menu)
        self.add_menu = menu
        heading.addWidget(add)
        column.addLayout(heading)
        column.addWidget(self.card, 1)
        column.addWidget(self._trying())
        hint = QLabel(
            "Fill it in: the stage answers. Click a field to change it, drag its label elsewhere. + or a dot in the recipe puts more on it."
        )
        hint.setWordWrap(True)
        hint.setProperty("role", "small")
        column.addWidget(hint)
        return left

    def _trying(self) -> QWidget:
        """What is shown while answers are tried: two presses, to keep them or not."""
        self.tried = QWidget()
        row = QHBoxLayout(self.tried)
        row.setContentsMargins(0, 0, 0, 0)
        self.keep_tried = QPushButton("Start with these")
        self.keep_tried.setToolTip("Let the card start with what is filled in now")
        self.keep_tried.clicked.connect(self.session.keep_tried)
        self.drop_tried = QPushButton("Back to the start")
        self.drop_tried.setToolTip("Fill in again what the card starts with")
        self.drop_tried.clicked.connect(self.session.let_go_of_tried)
        for button in (self.keep_tried, self.drop_tried):
            button.setProperty("role", "pill")
            row.addWidget(button)
        row.addStretch(1)
        return self.tried

    def _show_tried(self) -> None:
        self.tried.setVisible(self.session.answers_from == TRIED)

    def _middle(self) -> QWidget:
        middle = QWidget()
        middle.setProperty("role", "ground")
        column = QVBoxLayout(middle)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.stage, 3)
        column.addWidget(in_a_bar(self.transport))
        inside = QWidget()
        inside.setProperty("role", "ground")
        below = QVBoxLayout(inside)
        below.setContentsMargins(16, 10, 16, 10)
        below.setSpacing(8)
        below.addWidget(self.samples.heading)
        below.addWidget(self.samples)
        below.addWidget(self.measure, 1)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setWidget(inside)
        area.setMinimumHeight(_LEAST_BELOW)
        column.addWidget(area, 2)
        return middle

    # Showing

    def refresh(self) -> None:
        """Follow the document, the answers on the stage and the chosen field; hidden, when it is shown."""
        if self.isVisible():
            if self.chosen is not None and self.session.template.card.field(self.chosen) is None:
                self.choose(None)
            self._show_card()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.refresh()

    def _show_card(self) -> None:
        template, answers = self.session.template, self.session.scene().bound.answers
        key = (template.name, template.card, template.palette, answers)
        if key == self._shown_card:
            return
        rest = self._shown_card[:3] if isinstance(self._shown_card, tuple) else None
        self._shown_card = key
        same = rest is not None and _without_starts(rest) == _without_starts(key[:3])
        focus = QApplication.focusWidget()
        typing = (focus is not None and self.card.isAncestorOf(focus)) or QApplication.activeModalWidget() is not None
        if same and (typing or QApplication.mouseButtons() != Qt.MouseButton.NoButton):
            self.card.show_lists(answers)
            return
        self.card.show_card(template, answers)
        self.card.choose(self.chosen)

    def choose(self, field_id: str | None) -> None:
        """Show a field on the right, or the house."""
        self.chosen = field_id
        if self.session.recording is not None and self.session.recording != field_id:
            self.session.record(None)
        self.panel.chosen = field_id
        self.panel.later()
        self.card.choose(field_id)
        self.stage.light(driven_by(self.session, field_id) if field_id else set())

    def _choose(self, what: str) -> None:
        if what.startswith("section "):
            self.rename_section(int(what.removeprefix("section ")))
        else:
            self.choose(what)

    def _point(self, field_id: str) -> None:
        """Light what a field drives while it is pointed at; then what the chosen one does."""
        at = field_id or self.chosen
        self.stage.light(driven_by(self.session, at) if at else set())

    def go_to(self, remark: Remark) -> None:
        """Where a remark of the measure leads."""
        if remark.kind == "field":
            self.choose(remark.place)
        elif remark.kind == "part":
            self.choose(None)
            self.session.select(remark.place)

    # Editing

    def _answered(self, field_id: str, value: Any) -> None:
        self.session.answer(field_id, value, ("card", field_id), f"Answer: {field_id}")

    def _move(self, field_id: str, section: int, place: int) -> None:
        self.session.edit("Order of the card", lambda t: carding.move_field(t, field_id, section, place))

    def _move_section(self, section: int, to: int) -> None:
        self.session.edit("Order of the card", lambda t: carding.move_section(t, section, to))

    def add_field(self, name: str) -> None:
        """A new field, not wired yet, behind the chosen one."""
        field = NEW_FIELDS[name]
        made = carding.replace(field, id=free_id(field.label, {f.id for f in self.session.template.card.entries}))
        if self.session.edit(f"Add {name.lower()}", lambda t: carding.add_field(t, made)):
            self.choose(made.id)

    def put_on_card(self, target: str) -> None:
        """Make a field for a property, already wired."""
        before = {f.id for f in self.session.template.card.entries}
        if self.session.edit("Put on the card", lambda t: carding.put_on_card(t, target)[0]):
            made = [f.id for f in self.session.template.card.entries if f.id not in before]
            self.choose(made[0] if made else None)

    def add_section(self) -> None:
        """A new section at the end of the card."""
        name, sure = QInputDialog.getText(lasting(self), "Section", "Its name on the card:", text="Look")
        if sure and name.strip():
            self.session.edit("Add a section", lambda t: carding.add_section(t, name.strip()))

    def rename_section(self, index: int) -> None:
        """Ask for a section's name; without one the section goes, its fields stay."""
        present = self.session.template.card.sections[index].name
        name, sure = QInputDialog.getText(lasting(self), "Section", "Its name on the card (empty: no heading):", text=present)
        if not sure:
            return
        if name.strip():
            self.session.edit("Rename a section", lambda t: carding.rename_section(t, index, name))
        else:
            self.session.edit("Remove a section", lambda t: carding.remove_section(t, index))

    def leave(self) -> None:
        """Another bench comes to the front."""
        self.transport.player.stop()
        self.stage.leave()


def _without_starts(key: tuple[Any, ...]) -> tuple[Any, ...]:
    """A card's shape apart from what its fields answer to start with."""
    name, card, palette = key
    fields = [[without_start(f) for f in section.fields] for section in card.sections]
    return name, card.note, [s.name for s in card.sections], fields, palette
