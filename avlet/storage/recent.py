"""The files that were opened last."""

from pathlib import Path

import msgspec

from avlet.errors import StorageError
from avlet.limits import MOST_SIDE
from avlet.storage.archive import read_one
from avlet.storage.atomic import write_whole
from avlet.storage.library_index import small_png
from avlet.storage.package import SUFFIX, THUMBNAIL
from avlet.storage.reading import is_there, read_own

MOST = 12


def recent_files(state: Path) -> list[Path]:
    """Files opened last, newest first, as far as they are still there."""
    names = read_own(state / "recent.json", list[str], [])
    return [Path(name) for name in names if is_there(Path(name))]


def picture_of(path: Path) -> bytes:
    """The picture that a template has of itself, made small; empty for what has none, or cannot be read."""
    if path.suffix.lower() != SUFFIX:
        return b""
    try:
        return small_png(read_one(path, THUMBNAIL, MOST_SIDE * MOST_SIDE))
    except StorageError:
        return b""


def recent_paths(state: Path) -> list[Path]:
    """The same, with those that are no longer there."""
    return [Path(name) for name in read_own(state / "recent.json", list[str], [])]


def forget(state: Path, path: Path) -> None:
    """Take a file from the list."""
    names = [str(one) for one in recent_paths(state) if one != path]
    write_whole(state / "recent.json", msgspec.json.encode(names))


def remember(state: Path, path: Path) -> None:
    """Put a file at the top of the list."""
    path = path.resolve()
    names = [str(path), *(str(p) for p in recent_files(state) if p != path)]
    write_whole(state / "recent.json", msgspec.json.encode(names[:MOST]))
