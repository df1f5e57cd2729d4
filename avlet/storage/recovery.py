"""Unsaved work, kept beside the person's other state, and found again after a crash."""

import os
import time
import uuid
from dataclasses import dataclass
from pathlib import Path

import msgspec

from avlet.document.template import Template
from avlet.errors import StorageError
from avlet.storage.atomic import write_whole
from avlet.storage.template_json import decode, encode_as_it_is


class _Kept(msgspec.Struct):
    process: int
    begun: float
    saved_at: float
    path: str | None
    template: msgspec.Raw


@dataclass(frozen=True)
class Lost:
    """Work that was not saved when an earlier Avlet ended. ``path`` is the file it belongs to, if it had one.

    Where it cannot be opened, ``template`` is None and ``fault`` says why; ``data`` is what can be kept as a file either way.
    """

    file: Path
    path: Path | None
    template: Template | None
    kept_at: float
    data: bytes
    fault: str = ""


class Recovery:
    """Keeps one window's unsaved work."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.file = folder / f"{uuid.uuid4().hex}.json"
        self._kept: Template | None = None

    def keep(self, template: Template, path: Path | None) -> None:
        """Write the work down, if it has changed since; raises ``StorageError``."""
        if template is self._kept:
            return
        kept = _Kept(
            os.getpid(), _begun(os.getpid()), time.time(), str(path.absolute()) if path else None, msgspec.Raw(encode_as_it_is(template))
        )
        write_whole(self.file, msgspec.json.encode(kept))
        self._kept = template

    def forget(self) -> None:
        """The work is saved, or not wanted."""
        self.file.unlink(missing_ok=True)
        self._kept = None


def _begun(process: int) -> float:
    """When a process began, in ticks since the machine started; 0 if there is no such process. Numbers are used again."""
    try:
        stat = Path(f"/proc/{process}/stat").read_text()
        return float(stat.rpartition(")")[2].split()[19])
    except (OSError, IndexError, ValueError):
        return 0.0


def lost_work(folder: Path) -> list[Lost]:
    """Work of earlier Avlets that are not running any more, newest first; what cannot be opened among it."""
    found = (_lost(file) for file in (folder.glob("*.json") if folder.is_dir() else ()))
    return sorted((lost for lost in found if lost is not None), key=lambda lost: -lost.kept_at)


def _lost(file: Path) -> Lost | None:
    """What a file of kept work holds; None while the Avlet that keeps it runs."""
    try:
        data = file.read_bytes()
        written_at = file.stat().st_mtime
    except OSError:
        return None
    try:
        kept = msgspec.json.decode(data, type=_Kept)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        return Lost(file, None, None, written_at, data, f"What was kept is damaged ({error}).")
    if kept.begun and kept.begun == _begun(kept.process):
        return None
    path, inside = Path(kept.path) if kept.path else None, bytes(kept.template)
    try:
        return Lost(file, path, decode(inside, "What was kept"), kept.saved_at, inside)
    except StorageError as error:
        return Lost(file, path, None, kept.saved_at, inside, str(error))
