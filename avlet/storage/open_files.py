"""Which files are open in which Avlet of this person on this machine, so that the same one opened twice is told at once."""

import contextlib
import os
import uuid
from pathlib import Path

import msgspec

from avlet.errors import StorageError
from avlet.storage.atomic import write_whole
from avlet.storage.processes import begun
from avlet.storage.reading import UNREADABLE, read_whole

_MOST = 1 << 20


class _Opened(msgspec.Struct):
    process: int
    begun: float
    paths: list[str]


class OpenFiles:
    """The files of one window, written down in a folder that all windows share."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.file = folder / f"{uuid.uuid4().hex}.json"
        self._paths: list[str] = []

    def are(self, paths: list[Path]) -> list[Path]:
        """Say which files are open here now; which of the new ones are open elsewhere as well."""
        named = sorted({str(path.absolute()) for path in paths})
        new = [name for name in named if name not in self._paths]
        if named == self._paths:
            return []
        self._paths = named
        with contextlib.suppress(StorageError):  # telling is not worth an error
            own = _Opened(os.getpid(), begun(os.getpid()), named)
            write_whole(self.file, msgspec.json.encode(own)) if named else self.file.unlink(missing_ok=True)
        elsewhere = {_real(name) for name in self._elsewhere()} if new else set()
        return [Path(name) for name in new if _real(name) in elsewhere]

    def close(self) -> None:
        """Nothing is open here any more."""
        self._paths = []
        with contextlib.suppress(OSError):
            self.file.unlink(missing_ok=True)

    def _elsewhere(self) -> list[str]:
        """The files of all others that still run; what is left of those that do not goes away."""
        found: list[str] = []
        for file in self.folder.glob("*.json"):
            if file == self.file:
                continue
            with contextlib.suppress(*UNREADABLE):
                other = msgspec.json.decode(read_whole(file, _MOST), type=_Opened)
                if other.begun and other.begun == begun(other.process):
                    found += other.paths
                else:
                    file.unlink(missing_ok=True)
        return found


def _real(name: str) -> str:
    return os.path.realpath(name)
