"""Making one file of a roster, wherever that is: the same function and the same bytes in a process here or on a cluster."""

import contextlib
import dataclasses
import functools
import hashlib
import os
import pickle
import tempfile
import threading
from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass
from importlib.metadata import PackageNotFoundError, version
from pathlib import Path
from typing import Any

import msgspec

from avlet import __version__
from avlet.document.template import Template
from avlet.errors import StorageError
from avlet.media.drawing import Drawing
from avlet.media.render import Progress, png_bytes, render
from avlet.paint.scene import Scene
from avlet.review.samples import said_of
from avlet.storage.atomic import sweep, write_whole
from avlet.storage.embedding import faces_used
from avlet.storage.reading import read_whole
from avlet.text.fonts import BUNDLED, Face, FontBook, bundled_fonts

_ENGINE = ("skia-python", "uharfbuzz", "pyicu", "av", "numpy", "pillow")
_MOST_KEPT = 64
"""Templates that a worker keeps."""


FONTS = "fonts"


@functools.cache
def fonts_digest() -> str:
    """A digest of the fonts that ship, by their names and their bytes."""
    told = hashlib.sha256()
    for file in sorted(font for font in BUNDLED.rglob("*") if font.suffix in (".ttf", ".otf")):
        told.update(file.name.encode())
        told.update(hashlib.sha256(file.read_bytes()).digest())
    return told.hexdigest()[:16]


def versions() -> dict[str, str]:
    """What decides the bytes of a film: this program's version, its fonts, and versions of what it draws and codes with."""
    found = {"avlet": __version__, FONTS: fonts_digest()}
    for name in _ENGINE:
        with contextlib.suppress(PackageNotFoundError):
            found[name] = version(name)
    return found


@dataclass(frozen=True)
class Source:
    """A template with its fonts, as it travels: once to each worker. ``mark`` names what is in it."""

    mark: str
    data: bytes = dataclasses.field(repr=False)

    @classmethod
    def of(cls, template: Template, book: FontBook) -> "Source":
        """A template that is ready to travel, also to another machine: with the files of all fonts that do not ship."""
        made, ships = Drawing.of(Scene(template, book), (16, 16)), set(bundled_fonts().faces)
        more = (face for face in faces_used(template, book) if face not in ships and face not in made.own_faces)
        own = tuple(map(_with_file, made.own_faces))
        named = tuple(map(_with_file, dict.fromkeys((*made.named_faces, *more))))
        drawing = dataclasses.replace(made, own_faces=own, named_faces=named, answers={}, _made=None)
        mark = hashlib.sha256(msgspec.json.encode((versions(), template, made.aliases)))
        for face in (*own, *named):
            mark.update(f"{face.full_name} {face.index} {face.location}".encode())
            mark.update(hashlib.sha256(face.data).digest())
        return cls(mark.hexdigest(), pickle.dumps(drawing))


def _with_file(face: Face) -> Face:
    """A face that has its file with it."""
    base = face.base_face
    return dataclasses.replace(face, given=face.data, base_face=None if base is None else dataclasses.replace(base, given=base.data))


@dataclass(frozen=True)
class Job:
    """One file that is to be made of a source. ``folder`` and ``token`` tell a worker whether it sees where the file belongs.

    ``kind`` is the id of a :class:`~avlet.roster.kinds.Kind`; ``codec`` and ``plate`` are the render's.
    """

    number: int
    source: str
    answers: Mapping[str, Any]
    length: int | None
    suffix: str
    codec: str | None
    plate: str | None
    at: int | None
    name: str
    folder: str
    token: str

    @property
    def mark(self) -> str:
        """What its bytes follow from, as one name."""
        told = (self.source, dict(self.answers), self.length, self.suffix, self.codec, self.plate, self.at)
        return hashlib.sha256(msgspec.json.encode(told)).hexdigest()


@dataclass(frozen=True)
class Made:
    """A file that is whole. ``said`` is what is to be said of the title, ``data`` its bytes where the worker does not see the folder."""

    number: int
    width: int
    height: int
    frames: int
    rate: str
    size: int
    sha256: str
    said: tuple[str, ...]
    data: bytes | None = dataclasses.field(default=None, repr=False)


_kept: OrderedDict[str, tuple[Drawing, FontBook]] = OrderedDict()
_one_at_a_time = threading.Lock()
"""A worker of a cluster may have several threads; what draws keeps things that are one process's."""


def knows(mark: str) -> bool:
    """Whether this process has a source."""
    return mark in _kept


def learn(source: Source) -> None:
    """Keep a source for the jobs that name it."""
    if source.mark not in _kept:
        drawing: Drawing = pickle.loads(source.data)
        _kept[source.mark] = drawing, drawing.book()
        while len(_kept) > _MOST_KEPT:
            _kept.popitem(last=False)


def make(job: Job, progress: Progress = lambda done, total: True) -> Made:
    """Make a file. It appears under its name only when it is whole. Raises ``AvletError`` in words."""
    with _one_at_a_time:
        return _make(job, progress)


def _make(job: Job, progress: Progress) -> Made:
    base, book = _kept[job.source]
    _kept.move_to_end(job.source)
    scene = Scene(base.template, book, job.answers, job.length)
    if sees(job.folder, job.token):
        path = Path(job.folder) / job.name
        _write(scene, job, path, progress)
        return _made(scene, job, path, False)
    sweep(Path(tempfile.gettempdir()))
    with tempfile.TemporaryDirectory(prefix=f"avlet-{os.getpid()}-") as folder:
        path = Path(folder) / f"film{job.suffix}"
        _write(scene, job, path, progress)
        return _made(scene, job, path, True)


def _write(scene: Scene, job: Job, path: Path, progress: Progress) -> None:
    if job.suffix == ".png":
        at = scene.spans.middle if job.at is None else job.at
        write_whole(path, png_bytes(scene.picture(max(0, min(scene.length - 1, at)))))
        progress(1, 1)
        return
    render(Drawing.of(scene, plate=job.plate), path, job.codec, progress, workers=0)


def _made(scene: Scene, job: Job, path: Path, with_data: bool) -> Made:
    frame = scene.template.frame
    frames = 1 if job.suffix == ".png" else scene.length
    size, sha256 = measured(path)
    data = path.read_bytes() if with_data else None
    return Made(job.number, frame.width, frame.height, frames, frame.rate, size, sha256, tuple(said_of(scene)), data)


def measured(path: Path) -> tuple[int, str]:
    """A file's size in bytes and its SHA-256 (FIPS 180-4)."""
    with path.open("rb") as file:
        return os.fstat(file.fileno()).st_size, hashlib.file_digest(file, "sha256").hexdigest()


def token_file(folder: Path, token: str) -> Path:
    """A file that shows who sees a folder."""
    return folder / f".avlet-roster-{token}"


def sees(folder: str, token: str) -> bool:
    """Whether a folder is there for this process, and is the same: another machine may have one of the same name."""
    try:
        return read_whole(token_file(Path(folder), token), 100).decode() == token
    except (OSError, ValueError):
        return False


def put_in_place(job: Job, made: Made) -> None:
    """Write what a worker sent under its name; raises ``StorageError``."""
    if made.data is not None:
        if hashlib.sha256(made.data).hexdigest() != made.sha256:
            raise StorageError(f"“{job.name}” did not come whole from its worker. Render again: what is finished stays.")
        write_whole(Path(job.folder) / job.name, made.data)
