"""The menu of a part, on the stage and in the list of parts: what can be done with what is selected."""

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QApplication, QMenu, QWidget

from avlet.desktop.build.new_parts import add_echo, count_with
from avlet.desktop.build.part_commands import (
    PARTS_MIME,
    copy_selected,
    duplicate_selected,
    group_selected,
    lend_copied,
    remove_selected,
    space_selected,
    take_apart,
    toggle_lock,
)
from avlet.desktop.sessions.template_session import Session
from avlet.document.cards import carding
from avlet.document.editing.ordering import cut_out, may_be_cut_out_of, to_back, to_front
from avlet.document.metadata import Property, properties
from avlet.document.parts import AnyPart

_KINDS = ("text", "decimal", "picture", "list", "colour", "gradient", "font", "form")
"""Kinds of property that the menu offers for the card, those first that editors ask for first."""
_NUMBERS = ("size", "opacity", "corner", "width", "height", "diameter", "thickness", "writing.most_decimals")
"""Numbers that it offers besides; all others have a dot, or a right click, where they stand."""
_MOST_OFFERED = 30
"""Parts that it may be cut out of: the nearest."""
_NOT_OF = ("way_in", "way_out", "sways", "keys", "runs", "mattes")


class PartMenu(QMenu):
    """Of the part that is selected last; what several can do, all that are selected do."""

    def __init__(self, session: Session, owner: QWidget, zoom: Callable[[], object], rename: Callable[[], object] | None = None) -> None:
        super().__init__(owner)
        self.session, self.owner = session, owner
        part = session.part
        if part is None:
            self._add("Nothing is selected", None)
            return
        if rename is not None:
            self._add("Rename\tF2", rename)
        self._order(part)
        self.addSeparator()
        self._looks(part)
        self.addSeparator()
        self._kinds(part)
        self.addSeparator()
        self._add("Show" if not part.shown else "Hide", lambda: session.write({f"{i}/shown": not part.shown for i in session.selection}))
        self._add("Unlock" if part.locked else "Lock", lambda: toggle_lock(session, part))
        self._add("Zoom to it\tZ", zoom)
        self._add("Remove\tDel", lambda: remove_selected(session, owner))

    def _add(self, words: str, chosen: Callable[[], object] | None, to: QMenu | None = None) -> None:
        action = (to or self).addAction(words)
        assert action is not None
        action.setEnabled(chosen is not None)
        if chosen is not None:
            action.triggered.connect(lambda _=False: chosen())

    def _order(self, part: AnyPart) -> None:
        session, chosen = self.session, self.session.selection
        self._add("To the front", lambda: session.edit(f"{part.name} to the front", lambda t: to_front(t, chosen)))
        self._add("To the back", lambda: session.edit(f"{part.name} to the back", lambda t: to_back(t, chosen)))
        self._add("Duplicate\tCtrl+D", lambda: duplicate_selected(session))
        self._add("Group\tCtrl+G", lambda: group_selected(session))
        if part.holds:
            self._add("Take apart\tCtrl+Shift+G", lambda: take_apart(session))

    def _looks(self, part: AnyPart) -> None:
        session = self.session
        self._add("Copy it, its look and moves\tCtrl+C", lambda: copy_selected(session))
        clipboard = QApplication.clipboard()
        data = clipboard.mimeData() if clipboard is not None else None
        copied = data is not None and data.hasFormat(PARTS_MIME)
        self._add("Take on of what was copied…\tCtrl+Shift+V", (lambda: lend_copied(session, self.owner)) if copied else None)
        offered = card_properties(session, part)
        if offered:
            card = QMenu("Put on the card", self)
            for prop in offered:
                self._add(carding.field_label(part, prop.path, prop.type.label), partial(self._put_on_card, f"{part.id}/{prop.path}"), card)
            self.addMenu(card)
        others = may_be_cut_out_of(session.template, part.id)
        if others and not part.lights:
            out_of = QMenu("Cut it out of", self)
            for other in others[:_MOST_OFFERED]:
                self._add(other.name, partial(self._cut_out, part, other), out_of)
            self.addMenu(out_of)

    def _put_on_card(self, target: str) -> None:
        self.session.edit("Put on the card", lambda t: carding.put_on_card(t, target)[0])

    def _cut_out(self, part: AnyPart, other: AnyPart) -> None:
        self.session.edit(f"Cut {part.name} out of {other.name}", lambda t: cut_out(t, part.id, other.id))

    def _kinds(self, part: AnyPart) -> None:
        session = self.session
        if part.kind in ("text", "counter"):
            self._add("Let it count" if part.kind == "text" else "Make words of it", lambda: count_with(session))
        self._add("Echo of it\tE", lambda: add_echo(session))
        self._add("Put it in a space\tD", lambda: space_selected(session))


def card_properties(session: Session, part: AnyPart) -> list[Property]:
    """The properties of a part that its menu offers for the card: those that nothing drives yet, words and colours first."""
    found = [p for p in properties(part) if not p.path.startswith(_NOT_OF) and session.template.wire_to(f"{part.id}/{p.path}") is None]
    first = [p for p in found if p.type.kind in _KINDS]
    numbers = [p for p in found if p.path in _NUMBERS and p not in first]
    return [*sorted(first, key=lambda p: _KINDS.index(p.type.kind)), *sorted(numbers, key=lambda p: _NUMBERS.index(p.path))]
