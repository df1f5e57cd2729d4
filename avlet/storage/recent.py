"""The files that were opened last."""

from pathlib import Path

import msgspec

from avlet.storage.atomic import write_whole

MOST = 12


def recent_files(state: Path) -> list[Path]:
    """Files opened last, newest first, as far as they are still there."""
    try:
        names = msgspec.json.decode((state / "recent.json").read_bytes(), type=list[str])
    except (OSError, msgspec.DecodeError):
        return []
    return [Path(name) for name in names if Path(name).exists()]


def remember(state: Path, path: Path) -> None:
    """Put a file at the top of the list."""
    path = path.resolve()
    names = [str(path), *(str(p) for p in recent_files(state) if p != path)]
    write_whole(state / "recent.json", msgspec.json.encode(names[:MOST]))
