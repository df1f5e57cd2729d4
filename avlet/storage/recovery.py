"""Unsaved work, kept beside the person's other state, and found again after a crash."""

import os
import time
import uuid
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Generic, TypeVar

import msgspec

from avlet.document.metadata import brief
from avlet.document.template import Template
from avlet.errors import StorageError
from avlet.storage.atomic import write_whole
from avlet.storage.processes import begun
from avlet.storage.reading import read_whole, refuse_crowded
from avlet.storage.template_json import decode, encode_as_it_is

T = TypeVar("T")


class _Kept(msgspec.Struct):
    process: int
    begun: float
    saved_at: float
    path: str | None
    document: msgspec.Raw = msgspec.field(name="template")
    kind: str = "template"
    library: str | None = None
    content: str = ""


@dataclass(frozen=True)
class Lost:
    """Work that was not saved when an earlier Avlet ended: a template, or a cut over a ``library``. ``path`` is its file, if it had one.

    Where it cannot be opened, ``document`` is None and ``fault`` says why; ``data`` is what can be kept as a file either way.
    """

    file: Path
    path: Path | None
    document: Any
    kept_at: float
    data: bytes
    fault: str = ""
    kind: str = "template"
    library: Path | None = None
    content: str = ""
    """What its file held when it was opened (:mod:`avlet.storage.contents`)."""


class Recovery(Generic[T]):
    """Keeps one window's unsaved work of one kind; ``encode`` gives a document's JSON, for its own path if it has one."""

    def __init__(self, folder: Path, kind: str, encode: Callable[[T, Path | None], bytes]) -> None:
        self.folder, self.kind, self.encode = folder, kind, encode
        self.file = folder / f"{uuid.uuid4().hex}.json"
        self._kept: T | None = None

    @staticmethod
    def of_templates(folder: Path) -> "Recovery[Template]":
        """Keeps templates."""
        return Recovery(folder, "template", lambda template, _: encode_as_it_is(template))

    def keep(self, document: T, path: Path | None, library: Path | None = None, content: str = "") -> None:
        """Write the work down, if it has changed since; raises ``StorageError``."""
        if document is self._kept:
            return
        inside, places = msgspec.Raw(self.encode(document, path)), [str(p.absolute()) if p else None for p in (path, library)]
        kept = _Kept(os.getpid(), begun(os.getpid()), time.time(), places[0], inside, self.kind, places[1], content)
        write_whole(self.file, msgspec.json.encode(kept))
        self._kept = document

    def forget(self) -> None:
        """The work is saved, or not wanted."""
        self.file.unlink(missing_ok=True)
        self._kept = None


Reader = Callable[[bytes, Path | None], Any]
"""Makes a document of its JSON and the path that it belongs to; raises ``StorageError``."""
_TEMPLATES: Mapping[str, Reader] = {"template": lambda data, _: decode(data, "What was kept")}


def lost_work(folder: Path, others: Mapping[str, Reader] | None = None) -> list[Lost]:
    """Work of earlier Avlets that are not running any more, newest first; what cannot be opened among it.

    ``others`` read other kinds than templates.
    """
    readers = {**_TEMPLATES, **(others or {})}
    found = (_lost(file, readers) for file in (folder.glob("*.json") if folder.is_dir() else ()))
    return sorted((lost for lost in found if lost is not None), key=lambda lost: -lost.kept_at)


def _lost(file: Path, readers: Mapping[str, Reader]) -> Lost | None:
    """What a file of kept work holds; None while the Avlet that keeps it runs."""
    try:
        data = read_whole(file)
        written_at = file.stat().st_mtime
    except OSError:
        return None
    try:
        refuse_crowded(data, file.name)
        kept = msgspec.json.decode(data, type=_Kept)
    except (StorageError, msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        return Lost(file, None, None, written_at, data, f"What was kept is damaged ({error}).")
    if kept.begun and kept.begun == begun(kept.process):
        return None
    path, inside = Path(kept.path) if kept.path else None, bytes(kept.document)
    library = Path(kept.library) if kept.library else None
    reader = readers.get(kept.kind)
    if reader is None:
        fault = f"What was kept is a “{brief(kept.kind)}”, which this Avlet does not know."
        return Lost(file, path, None, kept.saved_at, inside, fault, kept.kind, library)
    try:
        return Lost(file, path, reader(inside, path), kept.saved_at, inside, "", kept.kind, library, kept.content)
    except StorageError as error:
        return Lost(file, path, None, kept.saved_at, inside, str(error), kept.kind, library)
