"""The files that were opened last."""

from pathlib import Path

import msgspec

from avlet.storage.atomic import write_whole
from avlet.storage.reading import is_there, read_own

MOST = 12


def recent_files(state: Path) -> list[Path]:
    """Files opened last, newest first, as far as they are still there."""
    names = read_own(state / "recent.json", list[str], [])
    return [Path(name) for name in names if is_there(Path(name))]


def remember(state: Path, path: Path) -> None:
    """Put a file at the top of the list."""
    path = path.resolve()
    names = [str(path), *(str(p) for p in recent_files(state) if p != path)]
    write_whole(state / "recent.json", msgspec.json.encode(names[:MOST]))
