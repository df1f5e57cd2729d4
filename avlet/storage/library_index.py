"""What is known of a library's packages, kept in a small database, so that thousands of them are there at once."""

import contextlib
import io
import sqlite3
import threading
from collections.abc import Container, Iterable, Sequence
from pathlib import Path

import msgspec
from PIL import Image

from avlet.limits import MOST_SIDE
from avlet.storage.library import Entry, Stamp

_VERSION = 2
_SMALL = (224, 126)
"""px: how large thumbnails are kept, twice as large as they are shown."""
_TABLE = """CREATE TABLE IF NOT EXISTS packages (
    path TEXT PRIMARY KEY, changed INTEGER NOT NULL, size INTEGER NOT NULL, entry BLOB NOT NULL, small BLOB
)"""
_MOST_SMALL_PIXELS = 4096 * 4096
"""px of a thumbnail in all; nothing that is larger is unpacked."""


class _Kept(msgspec.Struct, array_like=True):
    name: str
    category: str
    keywords: tuple[str, ...]
    fault: str
    version: int
    note: str


class LibraryIndex:
    """Entries and small thumbnails by path and time of change. It may be used from several threads.

    Nothing hangs on it: without a file, or with one that is damaged, everything is looked up again.
    """

    def __init__(self, file: Path | None = None) -> None:
        self._lock = threading.Lock()
        self._known: dict[str, dict[str, tuple[Stamp, Entry]]] = {}
        self._database = _opened(file)

    def entries(self, folders: Sequence[Path]) -> dict[str, tuple[Stamp, Entry]]:
        found: dict[str, tuple[Stamp, Entry]] = {}
        for folder in map(str, folders):
            if folder not in self._known:
                self._known[folder] = self._read(folder)
            found |= self._known[folder]
        return found

    def _read(self, folder: str) -> dict[str, tuple[Stamp, Entry]]:
        """What the database has of a folder."""
        within, found, decode = f"{_key(folder)}/", {}, msgspec.msgpack.Decoder(_Kept).decode
        with self._lock, contextlib.suppress(sqlite3.Error, msgspec.DecodeError, UnicodeDecodeError):
            words = "SELECT path, changed, size, entry FROM packages WHERE path >= ? AND path < ?"
            for key, changed, size, data in self._database.execute(words, (within, f"{within[:-1]}0")):
                place, kept = _place(key), decode(data)
                entry = Entry(place, kept.name, kept.category, kept.keywords, kept.fault, kept.version, kept.note)
                found[place] = (changed, size), entry
        return found

    def keep(self, entry: Entry, stamp: Stamp) -> None:
        kept = msgspec.msgpack.encode(_Kept(entry.name, entry.category, entry.keywords, entry.fault, entry.version, entry.note))
        self._known.setdefault(str(entry.path.parent), {})[entry.place] = stamp, entry
        self._do("INSERT OR REPLACE INTO packages VALUES (?, ?, ?, ?, NULL)", (_key(entry.place), *stamp, kept))

    def small(self, place: str) -> bytes | None:
        """A package's small thumbnail, a PNG; empty where it has none, None where it was not made yet."""
        row = self._row("SELECT small FROM packages WHERE path = ?", (_key(place),))
        return None if row is None else row[0]

    def make_small(self, entry: Entry) -> bytes:
        """Make a package's small thumbnail and keep it; empty where it has none that can be shown."""
        made = small_png(entry.thumbnail()) if not entry.fault else b""
        self._do("UPDATE packages SET small = ? WHERE path = ?", (made, _key(entry.place)))
        return made

    def forget_all_but(self, folders: Iterable[Path], places: Container[str]) -> None:
        """Forget packages of some folders that are gone from there, so that the file does not grow for ever."""
        for folder in map(str, folders):
            for place in [place for place in self._known.get(folder, ()) if place not in places]:
                del self._known[folder][place]
                self._do("DELETE FROM packages WHERE path = ?", (_key(place),))

    def flush(self) -> None:
        """Write down what was found."""
        with self._lock, contextlib.suppress(sqlite3.Error):
            self._database.commit()

    def close(self) -> None:
        """Write down what was found, and let go of the file."""
        self.flush()
        with self._lock:
            self._database.close()

    def _row(self, words: str, values: tuple[object, ...]) -> tuple[bytes] | None:
        with self._lock:
            try:
                row: tuple[bytes] | None = self._database.execute(words, values).fetchone()
            except sqlite3.Error:
                return None
        return row

    def _do(self, words: str, values: tuple[object, ...]) -> None:
        with self._lock, contextlib.suppress(sqlite3.Error):
            self._database.execute(words, values)


def _key(place: str) -> str:
    """A path as the database takes it, also one whose name is no UTF-8."""
    return place if place.isascii() else place.encode(errors="surrogateescape").decode("latin-1")


def _place(key: str) -> str:
    """The path that a key stands for."""
    return key if key.isascii() else key.encode("latin-1").decode(errors="surrogateescape")


def small_png(picture: bytes | None) -> bytes:
    """A picture made small; empty for none, and for one that is damaged or would unpack to too much."""
    if not picture:
        return b""
    try:
        with Image.open(io.BytesIO(picture), formats=("PNG",)) as image:
            if image.width * image.height > _MOST_SMALL_PIXELS or max(image.size) > MOST_SIDE:
                return b""
            small = image.convert("RGB")
        small.thumbnail(_SMALL)
        out = io.BytesIO()
        small.save(out, "PNG")
        return out.getvalue()
    except (OSError, ValueError, SyntaxError, MemoryError, Image.DecompressionBombError):
        return b""


def _opened(file: Path | None) -> sqlite3.Connection:
    """The database; one in memory where there is no file, or none that can be used."""
    for name in (file, None):
        try:
            if name is not None:
                name.parent.mkdir(parents=True, exist_ok=True)
            made = sqlite3.connect(name or ":memory:", timeout=0.2, check_same_thread=False)
            if made.execute("PRAGMA user_version").fetchone()[0] != _VERSION:
                made.execute("DROP TABLE IF EXISTS packages")
                made.execute(f"PRAGMA user_version = {_VERSION}")
            made.execute("PRAGMA synchronous = OFF")
            made.execute(_TABLE)
            made.commit()
            return made
        except (sqlite3.Error, OSError):
            if name is not None:
                with contextlib.suppress(OSError):
                    name.replace(name.with_name(f"{name.name}.damaged"))
    raise AssertionError("a database in memory can always be made")
