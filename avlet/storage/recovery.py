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
from avlet.storage.template_json import decode, encode


class _Kept(msgspec.Struct):
    process: int
    begun: float
    saved_at: float
    path: str | None
    template: msgspec.Raw


@dataclass(frozen=True)
class Lost:
    """Work that was not saved when an earlier Avlet ended. ``path`` is the file it belongs to, if it had one."""

    file: Path
    path: Path | None
    template: Template
    kept_at: float


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
        kept = _Kept(os.getpid(), _begun(os.getpid()), time.time(), str(path) if path else None, msgspec.Raw(encode(template)))
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
    """Work of earlier Avlets that are not running any more, newest first. What cannot be read stays where it is."""
    found = []
    for file in folder.glob("*.json") if folder.is_dir() else ():
        try:
            kept = msgspec.json.decode(file.read_bytes(), type=_Kept)
            if kept.begun and kept.begun == _begun(kept.process):
                continue
            template = decode(bytes(kept.template), file.name)
            found.append(Lost(file, Path(kept.path) if kept.path else None, template, kept.saved_at))
        except (OSError, msgspec.DecodeError, StorageError):
            continue
    return sorted(found, key=lambda lost: -lost.kept_at)
