"""Writing that either happens whole or not at all."""

import contextlib
import errno
import os
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
        sweep(path.parent, f".{path.name}.", ".part")
        handle, name = tempfile.mkstemp(prefix=f".{path.name}.{os.getpid()}-", suffix=".part", dir=path.parent)
        os.close(handle)
    except (OSError, ValueError) as error:
        raise _cannot_write(asked, error) from None
    temporary = Path(name)
    try:
        yield temporary
        with temporary.open("rb") as file:
            os.fsync(file.fileno())
        temporary.chmod(mode)
        temporary.replace(path)
    except OSError as error:
        raise _cannot_write(asked, error) from None
    finally:
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


def sweep(folder: Path, begin: str, end: str = "") -> None:
    """Remove what a process that ended in the middle left in a folder: names with its number behind their beginning."""
    with contextlib.suppress(OSError):
        for item in folder.iterdir():
            name = item.name
            number = name[len(begin) :].partition("-")[0] if name.startswith(begin) and name.endswith(end) else ""
            if number.isascii() and number.isdigit() and not _runs(int(number)) and time.time() - item.lstat().st_mtime > _AGE:
                shutil.rmtree(item, ignore_errors=True) if item.is_dir() else item.unlink(missing_ok=True)


def _runs(process: int) -> bool:
    """Whether there is a process of a number on this machine."""
    return Path(f"/proc/{process}").exists()


def _cannot_write(path: Path, error: OSError | ValueError) -> StorageError:
    reason = getattr(error, "strerror", None) or str(error)
    return StorageError(f"Could not write “{path}”: {reason}. What was there before is unchanged; choose another place or make room.")
