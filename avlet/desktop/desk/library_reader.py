"""Reads a library beside what goes on: its entries, and their small pictures when they are looked at."""

import threading
from collections.abc import Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from avlet.storage.library import Entry, Stamp, scan_all, signature
from avlet.storage.library_index import LibraryIndex


@dataclass(frozen=True)
class Found:
    """What was found in some folders so far; with ``said``, what is to be said of them, and ``stamps`` that is all."""

    turn: int
    entries: list[Entry]
    said: list[str] | None = None
    stamps: dict[str, Stamp] = field(default_factory=dict)


class LibraryReader(QObject):
    """Tells what is in some folders by ``found``, and by ``pictured`` the path of a package whose picture was made.

    ``changes`` says that something has changed there since.
    """

    found = pyqtSignal(object)
    pictured = pyqtSignal(object)
    changes = pyqtSignal()

    def __init__(self, index: LibraryIndex, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.index = index
        self._reading = ThreadPoolExecutor(1, "library")
        self._drawing = ThreadPoolExecutor(1, "thumbnails")
        self._asked: set[str] = set()
        self._turn = 0
        self._last: Future[None] | None = None
        self._closed = threading.Event()
        self._stamps: dict[str, Stamp] = {}

    def read(self, folders: Sequence[Path], wait: float = 0.0) -> Found | None:
        """Read some folders; all of it when that takes no longer than ``wait`` seconds, else it is told later.

        What was begun before is let go.
        """
        self._turn += 1
        reading = self._reading.submit(self._read, self._turn, list(folders))
        try:
            return reading.result(wait)
        except TimeoutError:
            reading.add_done_callback(self._tell)
            return None

    def _tell(self, reading: "Future[Found | None]") -> None:
        done = None if reading.cancelled() else reading.result()
        if done is not None and not self._closed.is_set():
            self.found.emit(done)

    def _read(self, turn: int, folders: list[Path]) -> Found | None:
        def so_far(entries: list[Entry]) -> None:
            if turn != self._turn or self._closed.is_set():
                raise InterruptedError
            self.found.emit(Found(turn, entries))

        if turn != self._turn or self._closed.is_set():
            return None
        try:
            scan = scan_all(folders, self.index, so_far)
            self.index.forget_all_but(folders, scan.stamps)
        except InterruptedError:
            return None
        finally:
            self.index.flush()
        self._stamps = scan.stamps
        return Found(turn, scan.entries, scan.said, scan.stamps)

    def is_current(self, found: Found) -> bool:
        """Whether what was found belongs to what was asked for last."""
        return found.turn == self._turn

    def look(self, folders: Sequence[Path]) -> None:
        """Look whether anything has changed since, and tell that by ``changes``."""
        if self._last is None or self._last.done():
            self._last = self._reading.submit(self._look, list(folders))

    def _look(self, folders: list[Path]) -> None:
        if not self._closed.is_set() and signature(folders) != self._stamps:
            self.changes.emit()

    def small(self, entry: Entry) -> bytes | None:
        """A package's small picture; None while it is being made."""
        kept = self.index.small(entry.place)
        if kept is None and entry.place not in self._asked and not self._closed.is_set():
            self._asked.add(entry.place)
            self._drawing.submit(self._draw, entry)
        return kept

    def _draw(self, entry: Entry) -> None:
        if not self._closed.is_set():
            self.index.make_small(entry)
            self._asked.discard(entry.place)
            self.pictured.emit(entry.place)

    def close(self) -> None:
        """Ends its threads."""
        self._closed.set()
        for pool in (self._reading, self._drawing):
            pool.shutdown(wait=True, cancel_futures=True)
        self.index.close()
