"""What a line of the table answers: each cell by its field, in the table's own writing."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import PurePath
from typing import Any

from avlet.document.cards.answers import check_answers
from avlet.document.cards.typed_answers import read_typed
from avlet.document.fields import Answer, Field, TextField
from avlet.document.metadata import brief
from avlet.document.tables import Table
from avlet.document.template import Template
from avlet.errors import AnswerError, AvletError
from avlet.limits import MOST_FRAMES
from avlet.numbers.lengths import EXAMPLES, frames_in
from avlet.numbers.typed import AmbiguousNumberError
from avlet.roster.kinds import Kind, kinds_in
from avlet.roster.sheet import Head, Line, Sheet
from avlet.roster.threads import LENGTH, OUTPUT, Thread
from avlet.storage.reading import read_whole
from avlet.storage.table_files import table_in

POINT, COMMA = ("en",), ("de",)
"""Languages that stand for decimal points and decimal commas."""
EITHER = (*POINT, *COMMA)
_MOST_FILES = 24
"""Files that are kept while rows are read: most rows share a few."""
_COMMA = re.compile(r"[-−]?(\d{1,3}(\.\d{3})+,\d+|\d{1,3}(\.\d{3}){2,}|\d+,(\d{1,2}|\d{4,}))")
_POINT = re.compile(r"[-−]?(\d{1,3}(,\d{3})+\.\d+|\d{1,3}(,\d{3}){2,}|\d+\.(\d{1,2}|\d{4,}))")


@dataclass(frozen=True)
class Fault:
    """A cell that cannot be taken: its column, and why, in words."""

    column: int
    words: str


@dataclass(frozen=True)
class Answered:
    """What a line says in one language. ``length`` is None for the designed one, ``kinds`` for those that all rows have."""

    answers: dict[str, Any]
    length: int | None = None
    kinds: tuple[Kind, ...] | None = None
    faults: tuple[Fault, ...] = ()


def writing_of(sheet: Sheet, columns: Sequence[int]) -> tuple[str, ...]:
    """How numbers are written in some columns: the languages that ambiguous ones are read by. Both where they disagree."""
    cells = [line.cells[column] for line in sheet.lines for column in columns]
    comma, point = any(map(_COMMA.fullmatch, cells)), any(map(_POINT.fullmatch, cells))
    if comma and point:
        return EITHER
    if not comma and not point:
        return COMMA if "semicolons" in sheet.kept_as else POINT
    return COMMA if comma else POINT


class Answering:
    """Reads lines of one table for one template. ``empty`` takes an empty cell for an empty text instead of the designed answer."""

    def __init__(self, template: Template, sheet: Sheet, threads: Sequence[Thread], empty: bool = False) -> None:
        self.template, self.sheet, self.empty = template, sheet, empty
        self.fields: dict[str, Field] = {f.id: f for f in template.card.fields}
        self.threads = tuple(t for t in threads if t.target in (LENGTH, OUTPUT) or t.target in self.fields)
        numeric = [t.column for t in self.threads if t.target in self.fields and self.fields[t.target].numeric]
        self.writing = writing_of(sheet, numeric) if numeric else POINT
        self._files: dict[str, bytes] = {}

    def of(self, line: Line, language: str = "") -> Answered:
        """What a line answers in a language: its own column where there is one, else that without a language."""
        answers: dict[str, Answer] = {}
        length: int | None = None
        kinds: tuple[Kind, ...] | None = None
        faults = []
        for thread in self._in(language):
            cell = line.cells[thread.column]
            try:
                if thread.target == LENGTH:
                    length = self._length(cell) if cell else None
                elif thread.target == OUTPUT:
                    kinds = kinds_in(cell) if cell else None
                elif cell or self._takes_nothing(thread.target):
                    answers[thread.target] = self._answer(self.fields[thread.target], cell)
            except AvletError as error:
                faults.append(Fault(thread.column, str(error)))
        return Answered(answers, length, kinds, tuple(faults))

    def _in(self, language: str) -> Iterator[Thread]:
        """The threads that count in a language."""
        heads = self.sheet.heads
        own = {t.target for t in self.threads if language and heads[t.column].language == language}
        plain = {t.target for t in self.threads if not heads[t.column].language}
        for thread in self.threads:
            spoken = heads[thread.column].language
            first = thread.target not in own | plain and spoken == self._first(thread.target)
            if (thread.target in own and spoken == language) or (thread.target not in own and (not spoken or first)):
                yield thread

    def _first(self, target: str) -> str:
        """The language of the first column that leads to a target."""
        return next(self.sheet.heads[t.column].language for t in self.threads if t.target == target)

    def _takes_nothing(self, target: str) -> bool:
        return self.empty and isinstance(self.fields[target], TextField)

    def _answer(self, field: Field, cell: str) -> Answer:
        read = read_typed(self.template, field, cell, self, self.writing)
        return check_answers(self.template, {field.id: read})[field.id]

    def read(self, path: str) -> bytes:
        """A file that a cell names, beside the table or sent with it; read once, however many rows name it."""
        if self.sheet.folder is None:
            return self._sent(path)
        if path not in self._files:
            if len(self._files) >= _MOST_FILES:
                self._files.clear()
            try:
                self._files[path] = read_whole(self.sheet.folder / path)
            except (OSError, ValueError) as error:
                reason = getattr(error, "strerror", None) or "that is no path"
                raise AnswerError(f"The file “{brief(path)}”, looked for beside the table, cannot be read: {reason}.") from None
        return self._files[path]

    def _sent(self, path: str) -> bytes:
        """A file that was sent with the table: folders before its name are those of somebody else's machine."""
        name = path.replace("\\", "/").rsplit("/", 1)[-1].strip()
        found = self.sheet.sent.get(name.casefold())
        if found is None:
            raise AnswerError(f"No file “{brief(name)}” came with the table. Add it under “Files that cells name”.")
        return found

    def table(self, path: str) -> Table:
        """The table in a file that a cell names, such as a list of credits."""
        return table_in(self.read(path), PurePath(path).name)

    def _length(self, cell: str) -> int:
        """A length in frames, as :func:`~avlet.numbers.lengths.frames_in` reads it."""
        try:
            frames = frames_in(cell, self.template.frame.fps, self.writing)
        except AmbiguousNumberError as error:
            raise AnswerError(f"“The length”: {error}") from None
        except ValueError as error:
            raise AnswerError(str(error)) from None
        if not 1 <= frames <= MOST_FRAMES:
            raise AnswerError(f"“{brief(cell)}” is no length: a title has from 1 to {MOST_FRAMES:,} frames. Write {EXAMPLES}.")
        return frames


def in_words(faults: Sequence[Fault], heads: Sequence[Head]) -> str:
    """Faults as one line: why, with the column before it where that is not called there."""

    def said(fault: Fault) -> str:
        head = heads[fault.column].words
        return fault.words if f"“{head}”" in fault.words else f"{head}: {fault.words}"

    return " ".join(map(said, faults))
