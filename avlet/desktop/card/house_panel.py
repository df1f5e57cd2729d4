"""What the Card bench shows when no field is chosen: the house palette, gradients, text styles, and wires that begin at no field."""

from pathlib import Path

from PyQt6.QtWidgets import QDialog, QFileDialog, QHBoxLayout, QInputDialog, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from avlet.desktop.card.wire_editor import WireEditor
from avlet.desktop.dialogs.tick_dialog import TickDialog, Ticked
from avlet.desktop.recipe.dot import Dot
from avlet.desktop.recipe.look_rows import LookRow
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.asking import lasting
from avlet.desktop.widgets.colour_button import ColourButton
from avlet.desktop.widgets.gradients import GradientStrip
from avlet.document.cards.wires import Straight, Wire
from avlet.document.editing import sharing
from avlet.document.editing.house_taking import side_by_side, with_house_of
from avlet.document.house import PALETTE, HouseColour, HouseGradient, TextStyle, styles_named
from avlet.document.looks.paints import Linear
from avlet.document.metadata import Property, type_at
from avlet.document.parts import TypesetPart
from avlet.document.template import TEMPLATE
from avlet.errors import AvletError
from avlet.numbers.exact import in_figures
from avlet.storage.package import open_template

_LABEL = 130


class HousePanel(QWidget):
    """Changes what the template's parts share."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(8)
        title = QLabel("The house")
        title.setProperty("role", "title")
        self.column.addWidget(title)
        self._hint("Colours, gradients and text styles that parts share: change one, and all follow. Click a field to change the field.")
        take = QPushButton("Take on the house of…")
        take.setToolTip("Colours, gradients and text styles of another template, by name, side by side with those here")
        take.clicked.connect(self.take_on)
        self.column.addWidget(take)
        self._heading("Palette", "+ colour", self.add_colour)
        for colour in session.template.palette:
            self._colour(colour)
        self._heading("Gradients", "+ gradient", self.add_gradient)
        for gradient in session.template.gradients:
            self._gradient(gradient)
        self._heading("Text styles", "+ of the selected text", self.add_style)
        for style in session.template.text_styles:
            self._style(style)
        on_air = QLabel("On air")
        on_air.setProperty("role", "rose")
        self.column.addWidget(on_air)
        kind = type_at(session.template, "updates")
        self.column.addWidget(LookRow(session, TEMPLATE, Property("updates", kind, session.template.updates), _LABEL))
        others = [w for w in session.template.wires if "/" in w.source and not _follows_plainly(w)]
        if others:
            heading = QLabel("Wires that begin at no field")
            heading.setProperty("role", "rose")
            self.column.addWidget(heading)
            for wire in others:
                self.column.addWidget(WireEditor(session, wire.target, from_source=True))

    def take_on(self) -> None:
        """Choose another template, and what of its house is taken on."""
        name, _ = QFileDialog.getOpenFileName(lasting(self), "Take on the house of", "", "Templates (*.avlet template.json)")
        if name:
            path = Path(name)
            self.take_on_from(path.parent if path.name == "template.json" else path)

    def take_on_from(self, path: Path) -> None:
        """Show the house of a template beside the one here, and take on what is ticked."""
        try:
            other = open_template(path).template
        except AvletError as error:
            self.session.refused.emit(str(error))
            return
        rows = list(side_by_side(self.session.template, other))
        if not rows:
            self.session.refused.emit(f"{other.name} has no house: no colour, gradient or text style of its own.")
            return
        heading = f"What is taken on of the house of {other.name}. What is only here stays."
        ticks = [Ticked(row.key, row.words, "", row.differs, row.differs) for row in rows]
        dialog = TickDialog("Take on a house", heading, ticks, "Take on", lasting(self))
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self.session.edit(f"Take on the house of {other.name}", lambda t: with_house_of(t, other, set(dialog.taken)))

    def _hint(self, words: str) -> None:
        hint = QLabel(words)
        hint.setWordWrap(True)
        hint.setProperty("role", "small")
        self.column.addWidget(hint)

    def _heading(self, words: str, add: str, pressed: object) -> None:
        row = QHBoxLayout()
        label = QLabel(words)
        label.setProperty("role", "rose")
        row.addWidget(label, 1)
        button = QPushButton(add)
        button.setProperty("role", "pill")
        button.setObjectName(add)
        button.clicked.connect(lambda _=False: pressed())  # type: ignore[operator]
        row.addWidget(button)
        self.column.addLayout(row)

    def _entry(self, entry_id: str, name: str, uses: int, editor: QWidget, dot: QWidget | None, remove: object) -> None:
        row = QHBoxLayout()
        row.setSpacing(6)
        line = QLineEdit(name)
        line.setObjectName(f"name of {entry_id}")
        line.setToolTip(f"Used by {uses} properties" if uses != 1 else "Used by 1 property")
        line.editingFinished.connect(
            lambda: self.session.edit("Rename", lambda t: sharing.rename_house(t, entry_id, line.text())) if line.text() != name else None
        )
        row.addWidget(line, 1)
        row.addWidget(editor)
        if dot is not None:
            row.addWidget(dot)
        off = QPushButton("×")
        off.setFixedWidth(26)
        off.setAccessibleName(f"Remove {name}")
        off.setToolTip("Remove; what uses it keeps its look")
        off.clicked.connect(lambda _=False: remove())  # type: ignore[operator]
        row.addWidget(off)
        self.column.addLayout(row)

    def _uses(self, entry_id: str) -> int:
        return len(self.session.template.wires_from(f"{PALETTE}/{entry_id}"))

    def _colour(self, colour: HouseColour) -> None:
        target = f"{PALETTE}/{colour.id}"
        button = ColourButton(colour.colour)
        button.setObjectName(target)
        button.changed.connect(lambda c: self.session.write({target: c}, ("house", colour.id)))
        button.finished.connect(self.session.history.close_gesture)
        dot = Dot(self.session, target, colour.name, colour.name)
        remove = lambda: self.session.edit("Remove a house colour", lambda t: sharing.remove_house(t, colour.id))  # noqa: E731
        self._entry(colour.id, colour.name, self._uses(colour.id), button, dot, remove)

    def _gradient(self, gradient: HouseGradient) -> None:
        strip = GradientStrip(gradient.stops)
        strip.setObjectName(f"{PALETTE}/{gradient.id}")
        strip.setMinimumWidth(120)
        strip.changed.connect(lambda stops: self.session.write({f"{PALETTE}/{gradient.id}": stops}, ("house", gradient.id)))
        strip.finished.connect(self.session.history.close_gesture)
        remove = lambda: self.session.edit("Remove a gradient", lambda t: sharing.remove_house(t, gradient.id))  # noqa: E731
        self._entry(gradient.id, gradient.name, self._uses(gradient.id), strip, None, remove)

    def _style(self, style: TextStyle) -> None:
        users = [at for part in self.session.template.parts for at, named in styles_named(part) if named == style.id]
        facts = QLabel(f"{style.family} {style.style}, {in_figures(style.size)} px")
        facts.setProperty("role", "small")
        remove = lambda: self.session.edit("Remove a text style", lambda t: sharing.remove_style(t, style.id))  # noqa: E731
        self._entry(style.id, style.name, len(users), facts, None, remove)

    def add_colour(self) -> None:
        """A colour of the house, the selected part's if one is selected."""
        part = self.session.bound_part
        fill = getattr(part, "fill", None)
        colour = getattr(fill, "colour", "#20435C")
        name = f"Colour {len(self.session.template.palette) + 1}"
        self.session.edit("House colour", lambda t: sharing.add_house_colour(t, name, colour)[0])

    def add_gradient(self) -> None:
        """A gradient of the house, the selected part's if it has one."""
        stops = getattr(getattr(self.session.bound_part, "fill", None), "stops", Linear().stops)
        name = f"Gradient {len(self.session.template.gradients) + 1}"
        self.session.edit("House gradient", lambda t: sharing.add_house_gradient(t, name, stops)[0])

    def add_style(self) -> None:
        """A text style of the selected text, which takes it."""
        part = self.session.part
        if not isinstance(part, TypesetPart):
            self.session.refused.emit("Select a text on the stage first; its face and setting become the style.")
            return
        name, sure = QInputDialog.getText(lasting(self), "Text style", "Its name:", text=part.name)
        if sure and name.strip():
            self.session.edit("Text style", lambda t: sharing.share_style(t, part.id, name.strip())[0])


def _follows_plainly(wire: Wire) -> bool:
    """Whether a wire only takes a house colour or gradient as it is."""
    return wire.source.startswith(f"{PALETTE}/") and isinstance(wire.map, Straight)
