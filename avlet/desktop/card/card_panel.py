"""The right side of the Card bench: the chosen field, or the house when none is chosen."""

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from avlet.desktop.card.field_panel import FieldPanel
from avlet.desktop.card.house_panel import HousePanel
from avlet.desktop.recipe.look_rows import show_in
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.gradients import GradientStrip
from avlet.desktop.widgets.kept_panel import KeptPanel
from avlet.document.cards import carding
from avlet.document.cards.wires import Range, Table, Wire
from avlet.document.fields import Field, NoteField
from avlet.document.house import PALETTE
from avlet.document.template import TEMPLATE


class CardPanel(KeptPanel):
    """Shows the field that is ``chosen``, or what the parts share."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent=parent)
        self.session = session
        self.chosen: str | None = None
        for signal in (session.changed, session.answers_changed, session.selection_changed):
            signal.connect(self.later)

    def subject(self) -> object:
        return self.chosen

    def shape(self) -> object:
        template = self.session.template
        field = template.card.field(self.chosen) if self.chosen else None
        owners = [(p.id, p.name) for p in template.parts]
        if field is None:
            names = [(e.id, e.name) for e in (*template.palette, *template.gradients)]
            wires = [_shape_of_wire(w) for w in template.wires]
            return names, template.text_styles, wires, owners, self.session.selected
        wires = [_shape_of_wire(w) for w in template.wires_from(field.id)]
        row = self.session.scene().bound.answers.get(field.id) if isinstance(_option_of(field), str) else None
        return without_start(field), wires, owners, template.palette, self.session.recording, row

    def build(self, layout: QVBoxLayout) -> None:
        field = self.session.template.card.field(self.chosen) if self.chosen else None
        layout.addWidget(FieldPanel(self.session, field) if field is not None else HousePanel(self.session))

    def show_values(self) -> None:
        template = self.session.template
        values: dict[str, object] = {f"{PALETTE}/{c.id}": c.colour for c in template.palette}
        values[f"{TEMPLATE}/updates"] = template.updates
        for wire in template.wires:
            if isinstance(wire.map, Table):
                values |= {f"row {key} of {wire.target}": value for key, value in wire.map.rows.items()}
            elif isinstance(wire.map, Range):
                names = ("from_low", "from_high", "to_low", "to_high")
                values |= {f"{name} of {wire.target}": getattr(wire.map, name) for name in names}
        for name, value in values.items():
            for editor in self.editors(name):
                show_in(editor, value)
        for gradient in template.gradients:
            for strip in self.editors(f"{PALETTE}/{gradient.id}"):
                if isinstance(strip, GradientStrip):
                    strip.show_stops(gradient.stops)
        for panel in self.findChildren(FieldPanel):
            panel.show_start()


def without_start(field: Field) -> Field:
    """A field apart from what it answers to start with."""
    return field if isinstance(field, NoteField) else carding.replace(field, default=None)


def _option_of(field: Field) -> object:
    """What a field with options answers to start with; nothing for one without."""
    return field.start if field.options_with(()) else None


def _shape_of_wire(wire: Wire) -> object:
    """What of a wire decides which editors it has: all but the numbers and values in its map."""
    if isinstance(wire.map, Table):
        return wire.source, wire.target, tuple(wire.map.rows)
    if isinstance(wire.map, Range):
        return wire.source, wire.target, wire.map.ease, wire.map.clamp
    return wire
