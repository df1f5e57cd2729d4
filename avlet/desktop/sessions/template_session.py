"""The open template as the benches see it: its history, what is selected, which answers and which frame show."""

import re
import secrets
from collections.abc import Callable, Mapping, Sequence
from pathlib import Path
from typing import Any, NamedTuple

from PyQt6.QtCore import pyqtSignal

from avlet.desktop.sessions.history_session import HistorySession
from avlet.document.cards.wire_sources import table_rows
from avlet.document.cards.wires import row_of
from avlet.document.editing import edits, keying
from avlet.document.editing.edits import replace
from avlet.document.house import PALETTE
from avlet.document.metadata import get_at
from avlet.document.parts import AnyPart
from avlet.document.template import TEMPLATE, Template
from avlet.errors import AvletError
from avlet.layout.holding import hold
from avlet.motion.credits import leads_by_speed
from avlet.motion.keyed import value_at
from avlet.motion.writing import Standpoint, answered, written
from avlet.paint.scene import Scene
from avlet.text.fonts import FontBook
from avlet.text.system_fonts import machine_fonts

AS_DESIGNED = ""
"""The answers source that stands for the card's starting answers."""
TRIED = "\0tried"
"""The answers source that stands for what is being tried on the card: no part of the document."""


_PLACE = re.compile(r"^(?:parts|card|wires|samples|palette|gradients|text_styles)\b[^\s:]*: ")


def without_place(words: str) -> str:
    """A message without the place in the file that it begins with: on the screen the part is named."""
    return _PLACE.sub("", words)


class RecordedOptions(NamedTuple):
    """The options of a field that is recorded: their names, what answers each, and which is on the stage, -1 for none of them."""

    field: str
    label: str
    names: tuple[str, ...]
    answers: tuple[Any, ...]
    present: int


class Session(HistorySession[Template]):
    """One open template. Every change goes through :meth:`edit` or :meth:`write`, which refuse in words and leave it untouched."""

    answers_changed = pyqtSignal()
    wire_wanted = pyqtSignal(str)
    handed_over = pyqtSignal()
    folds_changed = pyqtSignal()

    def __init__(self, template: Template | None = None) -> None:
        super().__init__(template or Template())
        self.book: FontBook = machine_fonts()
        self.answers_from = AS_DESIGNED
        self.tried: dict[str, Any] = {}
        """What is being tried on the card, by field: it shows on the stage, and changes nothing before it is kept."""
        self.sides_apart: set[str] = set()
        self.folded: set[str] = set()
        """Headings of recipes that are folded."""
        self.unfolded: frozenset[str] = frozenset()
        """Sentences of recipes that say only what is usual, and were opened to change that."""
        self.origin = secrets.token_hex(8)
        """A name for this document while it is open: what was copied from it knows it again."""
        self.recording: str | None = None
        self.piece = ""
        """Which of a selected space's own pieces is meant: ``camera``, ``sun`` or ``sky``; empty for all of it."""
        self._scenes: dict[str, tuple[Template, Scene]] = {}

    @property
    def template(self) -> Template:
        """The present value of the document."""
        return self.history.value

    def length(self) -> int:
        """How many frames the title on the stage has: those of the template, or of a list whose speed leads."""
        return self.scene().length

    def open(self, template: Template, book: FontBook, path: Path | None, saved: bool = True, content: str | None = None) -> None:
        """Take another document, with its hold on the stage; ``content`` as in ``take``."""
        self.take(template, path, saved, template.middle, content)
        self.book, self.answers_from, self.tried = book, AS_DESIGNED, {}
        self.origin = secrets.token_hex(8)
        self._scenes.clear()
        self.selection_changed.emit()
        self.recording = None
        self.answers_changed.emit()
        self.changed.emit()
        self.frame_changed.emit(self.frame)

    # What is selected

    def select(self, what: str | None, more: bool = False) -> None:
        before, whole, self.piece = self.selection, not self.piece, ""
        super().select(what, more)
        if not whole and self.selection == before:
            self.selection_changed.emit()

    def select_all(self, several: Sequence[str]) -> None:
        self.piece = ""
        super().select_all(several)

    def select_piece(self, space: str, piece: str) -> None:
        """Select a space, and of it its camera, its sun or its sky."""
        if (self.selection, self.piece) != ((space,), piece):
            self.selected, self.also, self.piece = space, (), piece
            self.history.close_gesture()
            self.selection_changed.emit()

    # Changes: all of them go through here

    def edit(self, label: str, change: Callable[[Template], Template], gesture: object = None) -> bool:
        """Apply an edit. What does not hold together, with each sample, is refused: the reason is told and nothing changes."""
        return self._take(label, change, gesture, recorded=False)

    def write(self, values: Mapping[str, Any], gesture: object = None, label: str = "", frame: float | None = None) -> bool:
        """Let properties, by their whole paths, be these values on the stage, by whatever drives them there.

        See :mod:`avlet.motion.writing`. ``frame`` is where keys are set, the present one if none is named.
        """
        at = self.standpoint(frame)
        said = label or self._label_of(values)
        return self._take(said, lambda t: written(t, values, at), gesture, recorded=True)

    def unfold(self, sentence: str) -> None:
        """Show a sentence that says only what is usual."""
        self.unfolded |= {sentence}
        self.selection_changed.emit()

    def change(self, target: str, change: Callable[[Any], Any], label: str = "", gesture: object = None) -> bool:
        """Change what stands at a path of a part, such as its room or its mattes, from what it is when this is called."""
        part_id, _, path = target.partition("/")
        said = label or f"{self.template.name_of(part_id)}: {path.rpartition('.')[2].replace('_', ' ')}"
        return self.edit(said, lambda t: edits.changed_struct(t, part_id, path, change), gesture)

    def _take(self, label: str, change: Callable[[Template], Template], gesture: object, recorded: bool) -> bool:
        before = self.template
        try:
            new, led = self._as_long_as_its_list(hold(change(before)))
            self.tried = {i: answer for i, answer in self.tried.items() if _starts_alike(before, new, i)}
            scene = Scene(new, self.book, self._answers(new, self.answers_from))
        except AvletError as error:
            self.refused.emit(without_place(str(error)))
            return False
        self.history.push(new, label, gesture)
        self._scenes = {self.answers_from: (new, scene)}
        self.announce()
        if led and new.length == before.length and new.parts == before.parts:
            self.refused.emit("The length comes from the list at its speed. Let the length lead (Pace, on the recipe of the credits).")
        if self.recording is not None and not recorded and new.parts != before.parts:
            self.refused.emit(f"{label}: this counts for every option. Values can be chosen by an option, what a part is made of cannot.")
        return True

    def _as_long_as_its_list(self, template: Template) -> tuple[Template, bool]:
        """A template whose credits lead it, as long as they make it; and whether that is another length than it had."""
        if not leads_by_speed(template):
            return template, False
        scene = Scene(template, self.book)
        return replace(template, length=scene.length), scene.length != template.length

    def _label_of(self, values: Mapping[str, Any]) -> str:
        """What is written, for undo: *Plate: fit left*, or *Plate: gap and 2 more*."""
        first, *more = values or ["nothing"]
        owner, _, path = first.partition("/")
        named = f"{self.template.name_of(owner)}: {path.rpartition('.')[2].replace('_', ' ')}"
        return f"{named} and {len(more)} more" if more else named

    def standpoint(self, frame: float | None = None) -> Standpoint:
        """What is on the stage: its layout with the answers that show, at the present frame unless another is named."""
        scene = self.scene()
        at = float(min(self.frame, self.length() - 1)) if frame is None else frame
        return Standpoint(scene.rest, scene.spans, at, self.answers_from if self.answers_from != TRIED else AS_DESIGNED, self.recording)

    def shown(self, target: str) -> Any:
        """What a property, by its whole path, is on the stage."""
        return self.standpoint().value(target)

    def holds(self, target: str) -> bool:
        """Whether what a path belongs to is still there: a control may be told of its last change when its part has gone."""
        owner = target.partition("/")[0]
        return owner in (TEMPLATE, PALETTE) or self.template.part(owner) is not None

    def record(self, field_id: str | None) -> None:
        """Let changes on the stage write into what a field answers there, or no longer."""
        self.recording = field_id
        self.changed.emit()

    def recorded_options(self) -> RecordedOptions | None:
        """The options of the field that is recorded, and which of them is on the stage; None where none is."""
        field = self.template.card.field(self.recording) if self.recording is not None else None
        if field is None:
            return None
        rows = table_rows(self.template, field.id)
        keys, answer = [key for key, _ in rows], row_of(self.scene().bound.answers[field.id])
        present = keys.index(answer) if answer in keys else -1
        return RecordedOptions(field.id, field.label, tuple(name for _, name in rows), tuple(map(field.option_of, keys)), present)

    def answer(self, field_id: str, value: Any, gesture: object = None, label: str = "Answer") -> bool:
        """Answer a field for what is on the stage: a sample's answer, or else what is only tried."""
        sample = self.answers_from
        if sample in (AS_DESIGNED, TRIED):
            return self.try_answer(field_id, value)
        return self.edit(label, lambda t: answered(t, field_id, value, sample), gesture)

    def try_answer(self, field_id: str, value: Any) -> bool:
        """Show an answer on the stage without keeping it; refused where the field does not take it."""
        return self._try({**self.tried, field_id: value})

    def try_all(self, answers: Mapping[str, Any]) -> bool:
        """Show these answers on the stage without keeping them: a sample's as that sample, what it starts with as that."""
        own = {sample.id: dict(sample.answers) for sample in self.template.samples}
        source = next((i for i, given in {AS_DESIGNED: {}, **own}.items() if given == dict(answers)), None)
        if source is not None:
            self.show_answers(source)
            return True
        return self._try(dict(answers))

    def _try(self, tried: dict[str, Any]) -> bool:
        try:
            scene = Scene(self.template, self.book, tried)
        except AvletError as error:
            self.refused.emit(without_place(str(error)))
            return False
        self.tried, self.answers_from = tried, TRIED
        self._scenes[TRIED] = (self.template, scene)
        self.answers_changed.emit()
        return True

    def keep_tried(self) -> bool:
        """Let the card start with what is being tried, as one edit."""
        tried = dict(self.tried)

        def change(t: Template) -> Template:
            for field_id, value in tried.items():
                t = answered(t, field_id, value, AS_DESIGNED)
            return t

        kept = self.edit("Start with what was tried", change)
        if kept:
            self.let_go_of_tried()
        return kept

    def let_go_of_tried(self) -> None:
        """Show the starting answers again."""
        self.tried = {}
        self.show_answers(AS_DESIGNED)

    def key(self, part_id: str, path: str, frame: int | None = None) -> bool:
        """Set a key of a property at a frame, the present one if none is named, with the value that it has there."""
        at = self.frame if frame is None else frame
        part = self.template.part(part_id)
        keyed = keying.keyed_of(part, path) if part is not None else None
        value = value_at(keyed, self.scene().spans, at) if keyed is not None else get_at(self.bound(part_id), path)
        return self.edit("Key", lambda t: keying.set_key(t, part_id, path, at, value))

    def bound(self, part_id: str) -> AnyPart:
        """A part with the values that the answers on the stage and its keys at the present frame give it."""
        return self.standpoint().part(part_id)

    def announce(self) -> None:
        """Tell of a change, and let go of what is not there any more."""
        there = [i for i in self.selection if self.template.part(i) is not None]
        if len(there) != len(self.selection):
            self.select_all(there)
        if self.recording is not None and self.template.card.field(self.recording) is None:
            self.recording = None
        if self.answers_from == TRIED:
            self.tried = {i: answer for i, answer in self.tried.items() if self.template.card.field(i) is not None}
        shown = bool(self.tried) if self.answers_from == TRIED else any(s.id == self.answers_from for s in self.template.samples)
        if self.answers_from and not shown:
            self.show_answers(AS_DESIGNED)
        super().announce()
        if self.frame >= self.length():
            self.go_to(self.length() - 1)

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
        return self.bound(self.selected)

    def show_answers(self, source: str) -> None:
        """Put a sample's answers on the stage, or the starting ones."""
        if source != self.answers_from:
            if source != TRIED:
                self.tried = {}
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

    def _answers(self, template: Template, source: str) -> dict[str, Any]:
        if source == TRIED:
            return {i: answer for i, answer in self.tried.items() if template.card.field(i) is not None}
        return next((s.answers for s in template.samples if s.id == source), {})


def _starts_alike(before: Template, after: Template, field_id: str) -> bool:
    """Whether a field is there still and starts with the same answer: what is typed on the stage counts more than what was tried."""
    one, other = before.card.field(field_id), after.card.field(field_id)
    return one is not None and other is not None and one.start == other.start
