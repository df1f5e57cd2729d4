"""The open template as the benches see it: its history, what is selected, which answers and which frame show."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import pyqtSignal

from avlet.desktop.sessions.history_session import HistorySession
from avlet.document import carding, edits, keying
from avlet.document.house import PALETTE
from avlet.document.metadata import get_at
from avlet.document.parts import AnyPart
from avlet.document.template import TEMPLATE, Template
from avlet.document.wires import Straight, Table, Wire
from avlet.errors import AvletError
from avlet.layout.bind import bind
from avlet.layout.graph import order
from avlet.motion.keyed import value_at
from avlet.paint.scene import Scene
from avlet.text.fonts import FontBook
from avlet.text.system_fonts import machine_fonts

AS_DESIGNED = ""
"""The answers source that stands for the card's starting answers."""


class Session(HistorySession[Template]):
    """One open template. Edits go through :meth:`edit`, which refuses in words and leaves the document untouched."""

    answers_changed = pyqtSignal()
    wire_wanted = pyqtSignal(str)

    def __init__(self, template: Template | None = None) -> None:
        super().__init__(template or Template())
        self.book: FontBook = machine_fonts()
        self.answers_from = AS_DESIGNED
        self.sides_apart: set[str] = set()
        self.recording: str | None = None
        self._scenes: dict[str, tuple[Template, Scene]] = {}

    @property
    def template(self) -> Template:
        """The present value of the document."""
        return self.history.value

    def length(self) -> int:
        return self.template.length

    def open(self, template: Template, book: FontBook, path: Path | None, saved: bool = True) -> None:
        """Take another document, with its hold on the stage."""
        frame = min((template.way_in + template.length - template.way_out) // 2, template.length - 1)
        self.take(template, path, saved, frame)
        self.book, self.answers_from = book, AS_DESIGNED
        self._scenes.clear()
        self.selection_changed.emit()
        self.recording = None
        self.answers_changed.emit()
        self.changed.emit()
        self.frame_changed.emit(self.frame)

    # Edits

    def edit(self, label: str, change: Callable[[Template], Template], gesture: object = None) -> bool:
        """Apply an edit. What does not hold together is refused: the reason is told and nothing changes."""
        try:
            new = change(self.template)
            for sample in new.samples:
                bound = bind(new, sample.answers)
                order({part.id: part for part in bound.parts}, bound.hangs_on)
            self._scenes.pop(self.answers_from, None)
            scene = Scene(new, self.book, self._answers(new, self.answers_from))
        except AvletError as error:
            self.refused.emit(str(error))
            return False
        self.history.push(new, label, gesture)
        self._scenes[self.answers_from] = (new, scene)
        self.announce()
        return True

    def set_value(self, target: str, value: Any, gesture: object = None) -> bool:
        """Give a property a value: its own, or, when it is wired, as what drives it.

        That is an answer of what is on the stage, the option's row of a table, or a colour of the house palette. While an option
        is :attr:`recording`, a property without a wire gets one from its field, with the value for that option only.
        """
        part_id, _, path = target.partition("/")
        part = self.template.part(part_id)
        label = f"{part.name if part else part_id}: {path.rpartition('.')[2].replace('_', ' ')}"
        wire = self.template.wire_to(target)
        if wire is None and part is not None and (keyed := keying.keyed_of(part, path)) is not None and keyed.how == "instead":
            frame = self.frame
            return self.edit(label, lambda t: keying.set_key(t, part_id, path, frame, value), gesture)
        if wire is None and self.recording is not None:
            return self._record(label, target, value, gesture)
        if wire is None:
            return self.edit(label, lambda t: edits.set_property(t, target, value), gesture)
        if isinstance(wire.map, Table):
            row = self._row_answer(wire)
            return self.edit(label, lambda t: carding.set_row(t, target, row, value), gesture)
        if wire.source.startswith(f"{PALETTE}/") and isinstance(wire.map, Straight):
            return self.set_value(wire.source, value, gesture)
        try:
            answer = carding.answer_for(self.template, wire, value, self.scene().bound.answers.get(wire.source))
        except AvletError as error:
            self.refused.emit(str(error))
            return False
        return self.answer(wire.source, answer, gesture, label)

    def _row_answer(self, wire: Wire) -> Any:
        """Which row of a wire's table counts on the stage."""
        if "/" not in wire.source:
            return self.scene().bound.answers[wire.source]
        owner, _, path = wire.source.partition("/")
        return get_at(self.scene().bound.template if owner == TEMPLATE else self.bound(owner), path)

    def _record(self, label: str, target: str, value: Any, gesture: object) -> bool:
        field_id = self.recording
        assert field_id is not None
        answer = self.scene().bound.answers[field_id]
        return self.edit(label, lambda t: carding.write_option(t, field_id, answer, target, value), gesture)

    def record(self, field_id: str | None) -> None:
        """Let changes on the stage write into what a field answers there, or no longer."""
        self.recording = field_id
        self.changed.emit()

    def answer(self, field_id: str, value: Any, gesture: object = None, label: str = "Answer") -> bool:
        """Answer a field for what is on the stage: a sample's answer, or the starting one."""
        if self.answers_from == AS_DESIGNED:
            return self.edit(label, lambda t: carding.set_starting_answer(t, field_id, value), gesture)
        sample = self.answers_from
        return self.edit(label, lambda t: carding.set_sample_answer(t, sample, field_id, value), gesture)

    def key(self, part_id: str, path: str, frame: int | None = None) -> bool:
        """Set a key of a property at a frame, the present one if none is named, with the value that it has there."""
        at = self.frame if frame is None else frame
        part = self.template.part(part_id)
        keyed = keying.keyed_of(part, path) if part is not None else None
        value = value_at(keyed, self.scene().spans, at) if keyed is not None else get_at(self.bound(part_id), path)
        return self.edit("Key", lambda t: keying.set_key(t, part_id, path, at, value))

    def bound(self, part_id: str) -> AnyPart:
        """A part with the values that the answers on the stage and its keys at the present frame give it."""
        posed = self.scene().pose(min(self.frame, self.template.length - 1)).parts[part_id]
        return posed.rest.part

    def announce(self) -> None:
        """Tell of a change, and let go of what is not there any more."""
        there = [i for i in self.selection if self.template.part(i) is not None]
        if len(there) != len(self.selection):
            self.select_all(there)
        if self.recording is not None and self.template.card.field(self.recording) is None:
            self.recording = None
        if self.answers_from and not any(s.id == self.answers_from for s in self.template.samples):
            self.show_answers(AS_DESIGNED)
        super().announce()
        if self.frame >= self.template.length:
            self.go_to(self.template.length - 1)

    # What shows

    @property
    def part(self) -> AnyPart | None:
        """The selected part, as it stands in the document."""
        return self.template.part(self.selected) if self.selected else None

    @property
    def bound_part(self) -> AnyPart | None:
        """The selected part with the values that the answers on the stage, and its keys at the present frame, give it."""
        if self.selected is None or self.selected not in self.scene().rest.parts:
            return None
        part = self.scene().rest.parts[self.selected].part
        return self.bound(self.selected) if part.keys else part

    def show_answers(self, source: str) -> None:
        """Put a sample's answers on the stage, or the starting ones."""
        if source != self.answers_from:
            self.answers_from = source
            self.history.close_gesture()
            self.answers_changed.emit()

    def scene(self, source: str | None = None) -> Scene:
        """The scene with a sample's answers; those on the stage when None. Kept until the document changes."""
        source = self.answers_from if source is None else source
        kept = self._scenes.get(source)
        if kept is None or kept[0] is not self.template:
            kept = (self.template, Scene(self.template, self.book, self._answers(self.template, source)))
            self._scenes[source] = kept
        return kept[1]

    @staticmethod
    def _answers(template: Template, source: str) -> dict[str, Any]:
        return next((s.answers for s in template.samples if s.id == source), {})
