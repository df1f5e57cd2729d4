"""Reading files that may be anything: whole, never more than is allowed, never from what has no end."""

import contextlib
import errno
import os
import stat
from pathlib import Path
from typing import TypeVar

import msgspec

from avlet.document.metadata import brief
from avlet.errors import AnswerError, StorageError
from avlet.limits import MOST_FILE, MOST_VALUES

T = TypeVar("T")
UNREADABLE = (OSError, ValueError, msgspec.DecodeError, RecursionError)
"""What reading and decoding a file that may be anything raises; bytes that are no UTF-8 are a ``ValueError``."""


def read_whole(path: Path, most: int = MOST_FILE) -> bytes:
    """A file's bytes; raises ``OSError`` with a reason in words, also for devices, pipes and what is too large."""
    descriptor = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    kind = os.fstat(descriptor).st_mode
    if not stat.S_ISREG(kind):
        os.close(descriptor)
        raise OSError(errno.EINVAL, "it is a folder" if stat.S_ISDIR(kind) else "it is a device or a pipe, and no file")
    with open(descriptor, "rb") as file:
        data = file.read(most + 1)
    if len(data) > most:
        raise OSError(errno.EFBIG, f"it has more than {most // 1024**2:,} MB")
    return data


def read_named_file(path: str) -> bytes:
    """The bytes of a file that a person or an answer names; raises ``AnswerError`` in words."""
    try:
        return read_whole(Path(path))
    except (OSError, ValueError) as error:
        reason = getattr(error, "strerror", None) or "that is no path"
        raise AnswerError(f"“{brief(path)}” cannot be read: {reason}.") from None


def refuse_crowded(data: bytes, where: str) -> None:
    """Raise ``StorageError`` for JSON of so many values that decoding it would fill the memory."""
    values = data.count(b",") + data.count(b"[") + data.count(b"{")
    if values > MOST_VALUES:
        raise StorageError(f"“{where}” has {values:,} values, at most {MOST_VALUES:,} are possible. It may not be what it says.")


def read_own(path: Path, kind: type[T], otherwise: T) -> T:
    """A small file of the person's own, decoded from JSON; ``otherwise`` where there is none.

    One that is damaged is put aside as ``NAME.damaged``, so that nothing is written over it.
    """
    try:
        data = read_whole(path)
    except (OSError, ValueError):
        return otherwise
    try:
        return msgspec.json.decode(data, type=kind)
    except UNREADABLE:
        with contextlib.suppress(OSError):
            path.replace(path.with_name(f"{path.name}.damaged"))
        return otherwise


def is_there(path: Path) -> bool:
    """Whether there is something at a path, also where the path itself is none, or may not be looked at."""
    try:
        return path.exists()
    except (OSError, ValueError):
        return False
