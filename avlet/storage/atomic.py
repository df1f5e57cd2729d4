"""Writing that either happens whole or not at all."""

import contextlib
import os
import tempfile
from collections.abc import Iterator
from pathlib import Path

from avlet.errors import StorageError


@contextlib.contextmanager
def replacing(path: Path) -> Iterator[Path]:
    """A temporary file beside ``path`` that takes its place when the block ends without an error.

    Raises ``StorageError`` in words when the disk is full or the folder cannot be written; then ``path`` is untouched.
    """
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        handle, name = tempfile.mkstemp(prefix=f".{path.name}.", suffix=".part", dir=path.parent)
        os.close(handle)
    except OSError as error:
        raise _cannot_write(path, error) from None
    temporary = Path(name)
    try:
        yield temporary
        with temporary.open("rb") as file:
            os.fsync(file.fileno())
        temporary.chmod(0o644)
        temporary.replace(path)
    except OSError as error:
        raise _cannot_write(path, error) from None
    finally:
        temporary.unlink(missing_ok=True)


def write_whole(path: Path, data: bytes) -> None:
    """Write ``data`` to ``path``, whole or not at all."""
    with replacing(path) as temporary:
        temporary.write_bytes(data)


def _cannot_write(path: Path, error: OSError) -> StorageError:
    reason = error.strerror or str(error)
    return StorageError(f"Could not write “{path}”: {reason}. What was there before is unchanged; choose another place or make room.")
