"""What the recipe shows when several parts are selected: their names, and ways to align and spread them."""

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QLabel, QVBoxLayout, QWidget

from avlet.desktop.recipe.look_rows import LookRow
from avlet.desktop.recipe.sentences import Sentence
from avlet.desktop.sessions.template_session import Session
from avlet.document.cards import carding
from avlet.document.editing.alignment import AxisName, aligned, spread
from avlet.document.metadata import Property, properties
from avlet.document.parts import AnyPart
from avlet.document.targets import path_words, type_of
from avlet.errors import AvletError
from avlet.geometry import Box

_WAYS: tuple[tuple[str, AxisName, float], ...] = (
    ("left edges", "across", 0.0), ("middles across", "across", 0.5), ("right edges", "across", 1.0),
    ("top edges", "down", 0.0), ("middles down", "down", 0.5), ("bottom edges", "down", 1.0),
)  # fmt: skip


_LABEL = 110
"""How wide the labels of rows are, in px."""


class SeveralParts(QWidget):
    """Names, align, spread."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(10)
        title = QLabel(f"{len(session.selection)} parts")
        title.setProperty("role", "title")
        layout.addWidget(title)
        names = QLabel(", ".join(session.template.name_of(i) for i in session.selection))
        names.setWordWrap(True)
        names.setProperty("role", "muted")
        layout.addWidget(names)
        for words in ("Align", "Spread evenly"):
            heading = QLabel(words)
            heading.setProperty("role", "place")
            layout.addWidget(heading)
            say = Sentence(session, "follow")
            if words == "Align":
                for name, axis, share in _WAYS:
                    say.button(name, partial(self.align, axis, share), name)
            else:
                say.button("across", lambda: self.spread("across"), "spread across")
                say.button("down", lambda: self.spread("down"), "spread down")
            layout.addWidget(say.widget)
        self._rows(layout)
        heading = QLabel("On the card")
        heading.setProperty("role", "rose")
        layout.addWidget(heading)
        say = Sentence(session, "card")
        for path, words in self.common():
            say.button(words, partial(self.put_on_card, path), f"one field for {path}")
        layout.addWidget(say.widget)
        hint = QLabel("Dragging moves them together. Ctrl+D copies them with their relations; Delete removes them.")
        hint.setWordWrap(True)
        hint.setProperty("role", "small")
        layout.addWidget(hint)

    def _rows(self, layout: QVBoxLayout) -> None:
        """What all of them have, to be set on all at once; shown as the foremost has it."""
        first = self.session.bound_part
        if first is None:
            return
        heading = QLabel("All of them")
        heading.setProperty("role", "section")
        layout.addWidget(heading)
        hint = QLabel(f"Shown as {first.name} has it; a change goes to all.")
        hint.setProperty("role", "small")
        layout.addWidget(hint)
        for prop in self._shared(first):
            if prop.path != "text":
                layout.addWidget(LookRow(self.session, first.id, prop, _LABEL, self.session.also))

    def common(self) -> list[tuple[str, str]]:
        """Path and words of the properties that all selected parts have, and that one field could drive."""
        template = self.session.template
        first = next(p for p in template.parts if p.id in self.session.selection)
        free = [p for p in self._shared(first) if not any(template.wire_to(f"{i}/{p.path}") for i in self.session.selection)]
        return [(p.path, path_words(first, p.path, p.type.label)) for p in free if p.type.name != "style"]

    def _shared(self, first: AnyPart) -> list[Property]:
        """The properties of a part that all selected parts have, of the same kind."""
        others = [i for i in self.session.selection if i != first.id]
        shown = [p for p in properties(first) if p.type.group in ("look", "words", "size")]
        return [p for p in shown if all(self._has(f"{i}/{p.path}", p) for i in others)]

    def _has(self, target: str, prop: Property) -> bool:
        try:
            return type_of(self.session.template, target).kind == prop.type.kind
        except LookupError:
            return False

    def put_on_card(self, path: str) -> None:
        """One field that drives a property of all selected parts."""
        targets = [f"{i}/{path}" for i in self.session.selection]
        self.session.edit("One field for several", lambda t: carding.put_all_on_card(t, targets)[0])

    def align(self, axis: AxisName, share: float) -> None:
        """Bring edges or middles of what is selected onto one line."""
        self._place("Align", lambda boxes, chosen: aligned(self.session.template, boxes, chosen, axis, share, self.session.shown))

    def spread(self, axis: AxisName) -> None:
        """Make the room between what is selected equal."""
        self._place("Spread", lambda boxes, chosen: spread(self.session.template, boxes, chosen, axis, self.session.shown))

    def _place(self, label: str, gaps: Callable[[dict[str, Box], list[str]], dict[str, float]]) -> None:
        boxes = {i: r.box for i, r in self.session.scene().rest.parts.items()}
        try:
            values = gaps(boxes, list(self.session.selection))
        except AvletError as error:
            self.session.refused.emit(str(error))
            return
        self.session.write(values, None, label)
