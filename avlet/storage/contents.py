"""What a file holds, as one name: whether somebody else has changed it is known by that, and not by its time."""

import hashlib
from pathlib import Path

GONE = ""
"""There is no such file, or it cannot be read."""


def content_of(path: Path) -> str:
    """A name for what a file, or a package that is a folder, holds: its SHA-256 (FIPS 180-4); ``GONE`` where there is none."""
    try:
        if path.is_dir():
            return _of_folder(path)
        if not path.is_file():
            return GONE
        with path.open("rb") as file:
            return hashlib.file_digest(file, "sha256").hexdigest()
    except (OSError, ValueError):
        return GONE


def _of_folder(path: Path) -> str:
    """Hidden files, and what is just being written, do not count."""
    told = hashlib.sha256()
    for item in sorted(path.rglob("*")):
        inside = item.relative_to(path)
        if item.is_file() and not item.is_symlink() and not any(piece.startswith(".") for piece in inside.parts):
            told.update(f"{inside.as_posix()}\0".encode(errors="surrogateescape"))
            with item.open("rb") as file:
                told.update(hashlib.file_digest(file, "sha256").digest())
    return told.hexdigest()
