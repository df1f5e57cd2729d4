"""The titles that are served: what a library has, by names that are looked up and never joined to paths."""

import threading
from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from avlet.document.cards.answers import check_answers, find_field
from avlet.document.cards.typed_answers import read_typed
from avlet.document.fields import CreditsField
from avlet.document.lists.blocks import Blocks, pictures_in
from avlet.document.tables import Table, read_table
from avlet.errors import AnswerError, AvletError
from avlet.layout.other_frame import in_frame
from avlet.limits import MOST_FRAMES
from avlet.numbers.lengths import frames_in
from avlet.storage.library import Entry, Stamp, scan_all, stamps_in
from avlet.storage.package import Opened, open_template

Size = tuple[int, int]
"""Width and height of a frame, in px."""
_PASTED = "the page's list.tsv"
_MOST_OPEN = 64
"""Templates that are kept open."""


class NoTitleError(AvletError):
    """A title that the library does not have."""


class NoFiles:
    """Answers from a browser name no file of this machine."""

    def read(self, path: str) -> bytes:
        """Refused."""
        raise AnswerError("Answers from a browser name no files. Choose the picture on the page, or send its bytes.")

    def table(self, path: str) -> Table:
        """Refused."""
        raise AnswerError("Answers from a browser name no files. Paste the table on the page.")


class Pasted(NoFiles):
    """A table that was pasted, or typed over the list that a field begins with; its pictures are that list's own, or came with it."""

    def __init__(self, words: str, begun: Blocks = (), sent: Mapping[str, bytes] | None = None) -> None:
        self.words = words
        own = {picture.name: picture.data for picture in pictures_in(begun)}
        self._pictures = {name.strip(): data for name, data in (own | dict(sent or {})).items()}

    def read(self, path: str) -> bytes:
        """A picture by its name; no bytes where there is none of that name."""
        return self._pictures.get(path, b"")

    def table(self, path: str) -> Table:
        """What was pasted; raises ``StorageError`` for what is no table."""
        return read_table(self.words.encode(), path)


@dataclass(frozen=True)
class Asked:
    """A title as somebody wants it: which package, as it was when it was changed last, with checked answers, at a length or its own, in a
    frame of another size or its own.
    """

    place: str
    stamp: Stamp
    answers: Mapping[str, Any]
    length: int | None
    size: Size | None = None


class Titles:
    """The titles of one library. They are looked for anew whenever somebody asks; only what has changed is opened again."""

    def __init__(self, library: Path) -> None:
        self.library = library
        self._lock = threading.Lock()
        self._stamps: dict[str, Stamp] | None = None
        self._entries: dict[str, Entry] = {}
        self._open: OrderedDict[tuple[str, Stamp], Opened] = OrderedDict()
        self._other_sizes: OrderedDict[tuple[str, Stamp, Size], Opened] = OrderedDict()

    def entries(self) -> dict[str, Entry]:
        """All packages by the names that addresses have for them. Raises ``StorageError`` where the library cannot be read."""
        with self._lock:
            stamps = stamps_in(self.library)
            if stamps != self._stamps:
                found = scan_all([self.library])
                self._entries = {entry.path.stem: entry for entry in found.entries}
                self._stamps = stamps
            return dict(self._entries)

    def entry(self, name: str) -> Entry:
        """A package by its name; raises ``NoTitleError``, or ``StorageError`` for one that is damaged."""
        found = self.entries().get(name)
        if found is None:
            raise NoTitleError(f"There is no title “{name[:80]}” in this library.")
        if found.fault:
            raise NoTitleError(f"{found.name} cannot be shown. {found.fault}")
        return found

    def opened(self, name: str) -> tuple[Entry, Stamp, Opened]:
        """A package, when it was changed last, and its template."""
        entry = self.entry(name)
        stamp = (self._stamps or {}).get(entry.place, (0, 0))
        with self._lock:
            key = entry.place, stamp
            if key not in self._open:
                self._open[key] = open_template(entry.path)
                while len(self._open) > _MOST_OPEN:
                    self._open.popitem(last=False)
            self._open.move_to_end(key)
            return entry, stamp, self._open[key]

    def in_size(self, name: str, size: Size | None) -> tuple[Entry, Stamp, Opened]:
        """A package with its template in a frame of another size; raises ``AnswerError`` where it does not stand there."""
        entry, stamp, opened = self.opened(name)
        if size is None:
            return entry, stamp, opened
        key = entry.place, stamp, size
        with self._lock:
            found = self._other_sizes.get(key)
        if found is None:
            found = replace(opened, template=in_frame(opened.template, size))
            with self._lock:
                self._other_sizes[key] = found
                while len(self._other_sizes) > _MOST_OPEN:
                    self._other_sizes.popitem(last=False)
        return entry, stamp, found

    def asked(
        self,
        name: str,
        answers: Mapping[str, Any],
        typed: Mapping[str, str],
        length: int | str | None,
        size: Size | None = None,
        pictures: Mapping[str, bytes] | None = None,
    ) -> tuple[Opened, Asked]:
        """A title with answers, as plain data or as typed words, a length in frames or words, the size of its frame in px where that is
        another one, and pictures by the names that typed lists have for them; raises ``AnswerError`` in words.
        """
        entry, stamp, opened = self.in_size(name, size)
        template = opened.template
        taken = check_answers(template, answers)
        for field_id, words in typed.items():
            field = find_field(template, field_id)
            read = (
                field.read(_PASTED, (), Pasted(words, field.default, pictures))
                if isinstance(field, CreditsField)
                else read_typed(template, field, words, NoFiles())
            )
            taken[field.id] = field.checked(read, template.palette)
        frames: int | None
        try:
            frames = frames_in(length, template.frame.fps) if isinstance(length, str) else length
        except ValueError as error:
            raise AnswerError(str(error)) from None
        if frames is not None and not 1 <= frames <= MOST_FRAMES:
            raise AnswerError(f"A title lasts 1 to {MOST_FRAMES:,} frames, not {frames:,}.")
        return opened, Asked(entry.place, stamp, taken, frames, size)
