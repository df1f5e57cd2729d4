"""The menu of a property: keys, the card, wires, the house palette."""

from collections.abc import Callable, Sequence
from functools import partial

from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QInputDialog, QLineEdit, QMenu, QWidget

from avlet.desktop.card.wire_menus import fill_sources
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.asking import lasting
from avlet.document.cards import carding
from avlet.document.cards.wire_sources import source_words
from avlet.document.cards.wires import Straight
from avlet.document.editing import counting, edits, keying, sharing
from avlet.document.fields import TextField
from avlet.document.house import PALETTE
from avlet.document.parts import AnyPart
from avlet.document.targets import type_of, value_of, words_for
from avlet.document.template import Template
from avlet.document.usual import usual_value


class DotMenu(QMenu):
    """Keys, and the card, for one property."""

    def __init__(self, session: Session, target: str, field_label: str | None, parent: QWidget) -> None:
        super().__init__(parent)
        self.session, self.target, self.field_label = session, target, field_label
        self._fill()

    def _fill(self) -> None:
        template = self.session.template
        try:
            type_of(template, self.target)
        except LookupError:
            self._add("This is not there any more", None)
            return
        wire = template.wire_to(self.target)
        field = template.card.field(wire.source) if wire else None
        part_id, _, path = self.target.partition("/")
        part = template.part(part_id)
        if part is not None:
            self._usual(part, path)
        if part is not None and keying.may_be_keyed(part, path):
            self._add("Key it at this frame", lambda: self.session.key(part_id, path))
            if keying.keyed_of(part, path) is not None:
                self._add("No keys", lambda: self.session.edit("No keys", lambda t: keying.without_keys(t, part_id, path)))
        if wire is None:
            self._add("Put on the card", self.put_on_card)
            value = value_of(template, self.target)
            if type_of(template, self.target).kind == "gradient":
                for number in range(len(value)):
                    stop = f"{self.target}.{number}.colour"
                    self._add(f"Put only the colour of stop {number + 1} on the card", partial(self.put_all_on_card, [stop]))
            also = self._alike()
            if also:
                self._add(f"One field for it on all {len(also)} selected", lambda: self.put_all_on_card(also))
            sources = QMenu("Wire from", self)
            sources.aboutToShow.connect(lambda: fill_sources(sources, self.session.template, self.target, self.wire_from))
            self.addMenu(sources)
            if type_of(template, self.target).kind in ("colour", "gradient") and part_id != PALETTE:
                self._add("Into the house palette…", self.into_the_house)
                if type_of(template, self.target).kind == "colour" and len(same := sharing.of_the_same_colour(template, self.target)) > 1:
                    self._add(f"These {len(same)} have the same colour: make it one of the house…", partial(self.share_all, same))
        elif field is None:
            self._add(f"Wired to {source_words(template, wire.source)}", None)
            self._add("Change its wire…", self.open_wire)
            self._add("Take the wire off", lambda: self.session.edit("Wire off", lambda t: carding.unwired(t, self.target)))
        else:
            self._add(f"On the card as “{field.label}”", None)
            self._add("Change its label…", lambda: self._relabel(field.id, field.label))
            self._add("Change its hint…", lambda: self._rehint(field.id, field.hint))
            if isinstance(field, TextField):
                lines = not field.several_lines
                words = "Let it have several lines" if lines else "Keep it to one line"
                self._add(words, lambda: self._relined(field.id, lines))
            self._add("Change its wire…", self.open_wire)
            self._add("Take off the card", self.take_off)

    def _usual(self, part: AnyPart, path: str) -> None:
        """Back to what it is in a new part; and running with a counter, or no more."""
        session = self.session
        if (usual := usual_value(part, path)) is not None and session.shown(self.target) != usual:
            self._add("Back to usual", lambda: session.write({self.target: usual}, label=f"{part.name}: as usual"))
        if any(run.path == path for run in part.runs):
            self._add("Let it run no more", lambda: session.edit("Runs no more", lambda t: counting.run_no_more(t, part.id, path)))
        elif any(path == other for other, _ in counting.may_run(session.template, part.id)):
            counters = [p for p in session.template.parts if p.kind == "counter"]
            several = QMenu("Let it run with", self) if len(counters) > 1 else None
            for counter in counters:
                run = partial(counting.run_with, part_id=part.id, path=path, counter_id=counter.id)
                words = counter.name if several is not None else f"Let it run with {counter.name}"
                self._add(words, partial(session.edit, f"Runs with {counter.name}", run), several)
            if several is not None:
                self.addMenu(several)

    def _alike(self) -> list[str]:
        """The same property of all selected parts that have it free, if there are several."""
        path = self.target.partition("/")[2]
        found = []
        for part_id in self.session.selection:
            target = f"{part_id}/{path}"
            try:
                fits = type_of(self.session.template, target).kind == type_of(self.session.template, self.target).kind
            except LookupError:
                continue
            if fits and self.session.template.wire_to(target) is None:
                found.append(target)
        return found if len(found) > 1 else []

    def put_all_on_card(self, targets: list[str]) -> None:
        """One field that drives one or several properties."""
        self.session.edit("Put on the card", lambda t: carding.put_all_on_card(t, targets)[0])

    def wire_from(self, source: str) -> None:
        """Wire the property to a source, and show the wire if its map may need a hand."""
        if self.session.edit("Wire", lambda t: carding.wire_up(t, source, self.target)):
            made = self.session.template.wire_to(self.target)
            if made is not None and not isinstance(made.map, Straight):
                self.open_wire()

    def open_wire(self) -> None:
        """Ask for the small window in which the wire is changed."""
        self.session.wire_wanted.emit(self.target)

    def into_the_house(self) -> None:
        """Make a house colour or gradient of it, and follow that from now on."""
        name, sure = QInputDialog.getText(lasting(self), "House palette", "Its name:", text=words_for(self.session.template, self.target))
        if sure and name.strip():
            self.share(name.strip())

    def share_all(self, targets: Sequence[str]) -> None:
        """Make one house colour of all that have the same, once it has a name."""
        names = ", ".join(words_for(self.session.template, target) for target in targets[:6]) + (" …" if len(targets) > 6 else "")
        name, sure = QInputDialog.getText(lasting(self), "House palette", f"{names}\n\nThe name of their colour:")
        if sure and name.strip():
            self.session.edit("House palette", lambda t: sharing.share_colour(t, targets, name.strip())[0])

    def share(self, name: str) -> None:
        """A house colour or gradient of this name that the property follows."""
        value = value_of(self.session.template, self.target)

        def change(t: Template) -> Template:
            make = sharing.add_house_colour if isinstance(value, str) else sharing.add_house_gradient
            t, entry = make(t, name, value)
            return sharing.use_house(t, self.target, entry)

        self.session.edit("House palette", change)

    def _add(self, words: str, chosen: Callable[[], object] | None, to: QMenu | None = None) -> None:
        action = QAction(words, self)
        action.setEnabled(chosen is not None)
        if chosen is not None:
            action.triggered.connect(lambda _=False: chosen())
        (to or self).addAction(action)

    def put_on_card(self) -> None:
        """Put the property on the card."""
        self.session.edit("Put on the card", lambda t: carding.put_on_card(t, self.target, self.field_label)[0])

    def take_off(self) -> None:
        """Take it off the card, and say what that leaves behind."""
        wire = self.session.template.wire_to(self.target)
        said = carding.left_behind(self.session.template, wire.source) if wire is not None else []
        if self.session.edit("Take off the card", lambda t: carding.take_off_card(t, self.target)) and said:
            self.session.refused.emit("Off the card. " + " ".join(said))

    def _relined(self, field_id: str, several: bool) -> None:
        """Let a field have several lines or only one; refused while an answer has more."""
        self.session.edit("Lines of a field", lambda t: _with_field(t, field_id, several_lines=several))

    def _relabel(self, field_id: str, label: str) -> None:
        words, sure = QInputDialog.getText(lasting(self), "Label on the card", "The editor reads:", QLineEdit.EchoMode.Normal, label)
        if sure and words.strip():
            self.session.edit("Label of a field", lambda t: _with_field(t, field_id, label=words.strip()))

    def _rehint(self, field_id: str, hint: str) -> None:
        words, sure = QInputDialog.getText(lasting(self), "Hint on the card", "A hint for the editor:", QLineEdit.EchoMode.Normal, hint)
        if sure:
            self.session.edit("Hint of a field", lambda t: _with_field(t, field_id, hint=words.strip()))


def _with_field(template: Template, field_id: str, **changes: object) -> Template:
    field = template.card.field(field_id)
    return template if field is None else carding.put_field(template, edits.replace(field, **changes))
