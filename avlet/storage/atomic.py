"""Writing that either happens whole or not at all."""

import contextlib
import errno
import os
import re
import secrets
import shutil
import stat
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

from avlet.errors import StorageError

_AGE = 60.0
"""Seconds: what is younger may belong to another machine that shares the folder."""


@contextlib.contextmanager
def replacing(path: Path) -> Iterator[Path]:
    """A temporary file beside ``path`` that takes its place when the block ends without an error.

    A link stays, and what it leads to is written; a file keeps its permissions. Raises ``StorageError`` in words when the disk is full, the
    folder cannot be written, or the file is read-only; then ``path`` is untouched.
    """
    asked = path
    try:
        path = path.resolve() if path.is_symlink() else path
        mode = _mode_of(path)
        path.parent.mkdir(parents=True, exist_ok=True)
        sweep(path.parent)
    except (OSError, ValueError) as error:
        raise cannot_write(asked, error) from None
    temporary = path.parent / f".{path.name}.{os.getpid()}-{secrets.token_hex(4)}.part"
    try:  # from before it is there: an interruption may come at any moment
        try:
            temporary.open("xb").close()
        except ValueError as error:
            raise cannot_write(asked, error) from None
        yield temporary
        with temporary.open("rb") as file:
            os.fsync(file.fileno())
        temporary.chmod(mode)
        temporary.replace(path)
    except OSError as error:
        raise cannot_write(asked, error) from None
    finally:
        with contextlib.suppress(OSError, ValueError):  # of a name that cannot be
            temporary.unlink(missing_ok=True)


def write_whole(path: Path, data: bytes) -> None:
    """Write ``data`` to ``path``, whole or not at all."""
    with replacing(path) as temporary:
        temporary.write_bytes(data)


def _mode_of(path: Path) -> int:
    """The permissions that a file has, or that a new one gets; raises ``PermissionError`` for one that is read-only."""
    if not path.exists():
        mask = os.umask(0)
        os.umask(mask)
        return 0o666 & ~mask
    mode = stat.S_IMODE(path.stat().st_mode)
    if not mode & 0o222 or not os.access(path, os.W_OK):
        raise PermissionError(errno.EACCES, "it is read-only")
    return mode


_LEFT = re.compile(r"\..+\.(?P<process>\d+)-[A-Za-z0-9_]+(\.part)?|avlet-(?P<other>\d+)-.+")
"""Names of what is being written: beside what it will be, with the number of the process that writes it."""


def sweep(folder: Path) -> None:
    """Remove what processes that ended in the middle left in a folder: files and folders with such a one's number in their names.

    What is younger than a minute stays.
    """
    with contextlib.suppress(OSError):
        for item in folder.iterdir():
            found = _LEFT.fullmatch(item.name)
            number = int((found["process"] or found["other"])[:10]) if found else 0
            if number and not _runs(number) and time.time() - item.lstat().st_mtime > _AGE:
                shutil.rmtree(item, ignore_errors=True) if item.is_dir() and not item.is_symlink() else item.unlink(missing_ok=True)


@contextlib.contextmanager
def staging(folder: Path) -> Iterator[Path]:
    """A folder of one's own within another, for what will take its place there; it is gone at the end. Raises ``OSError``."""
    sweep(folder)
    made = Path(tempfile.mkdtemp(prefix=f".avlet.{os.getpid()}-", suffix=".part", dir=folder))
    try:
        yield made
    finally:
        shutil.rmtree(made, ignore_errors=True)


def cannot_write(path: Path, error: OSError | ValueError) -> StorageError:
    """What is said when something could not be written, and nothing was changed."""
    reason = getattr(error, "strerror", None) or str(error)
    return StorageError(f"Could not write “{path}”: {reason}. What was there before is unchanged; choose another place or make room.")


def _runs(process: int) -> bool:
    """Whether there is a process of a number on this machine."""
    return Path(f"/proc/{process}").exists()
