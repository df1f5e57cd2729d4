"""Threads that were drawn by hand, remembered for tables with the same heads and cards with the same fields."""

import contextlib
from collections.abc import Sequence
from pathlib import Path

import msgspec

from avlet.document.template import Template
from avlet.errors import StorageError
from avlet.roster.sheet import Head
from avlet.roster.threads import Thread, targets_of
from avlet.storage.atomic import write_whole
from avlet.storage.reading import read_own

FILE = "threads.json"
_MOST = 100


class Drawn(msgspec.Struct, frozen=True):
    """The heads of a table, in order and without regard to case, and to which target each leads, empty for none."""

    heads: tuple[str, ...]
    targets: tuple[str, ...]


class Remembered:
    """All that was drawn on this machine, the latest last. A file that cannot be written forgets when Avlet ends."""

    def __init__(self, folder: Path | None) -> None:
        self._path = folder / FILE if folder is not None else None
        known: tuple[Drawn, ...] = () if self._path is None else read_own(self._path, tuple[Drawn, ...], ())
        self._known = [one for one in known if len(one.heads) == len(one.targets)][-_MOST:]

    def threads(self, heads: Sequence[Head], template: Template) -> tuple[Thread, ...] | None:
        """The threads that were drawn for these heads, the latest first that this card still has a target of; None where there are none."""
        here, wanted = {target.id for target in targets_of(template)}, _heads(heads)
        for one in reversed(self._known):
            if one.heads == wanted:
                found = tuple(Thread(n, target) for n, target in enumerate(one.targets) if target in here)
                if found:
                    return found
        return None

    def keep(self, heads: Sequence[Head], threads: Sequence[Thread]) -> None:
        """Remember threads as somebody has just drawn them."""
        by_column = {thread.column: thread.target for thread in threads}
        drawn = Drawn(_heads(heads), tuple(by_column.get(n, "") for n in range(len(heads))))
        self._known = [*[one for one in self._known if not _replaces(drawn, one)][-_MOST + 1 :], drawn]
        if self._path is not None:
            with contextlib.suppress(StorageError):
                write_whole(self._path, msgspec.json.encode(self._known))


def _heads(heads: Sequence[Head]) -> tuple[str, ...]:
    return tuple(head.words.strip().casefold() for head in heads)


def _replaces(new: Drawn, old: Drawn) -> bool:
    """Whether one says the same of all that the other led to, and more: then that need not be remembered beside it."""
    return new.heads == old.heads and all(mine == theirs for mine, theirs in zip(new.targets, old.targets, strict=True) if theirs)
