"""Handing over: a template's package goes into a library as a new version; the ones before stay and can be gone back to."""

import contextlib
import shutil
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import msgspec
from filelock import FileLock, Timeout

from avlet.document.editing.naming import slug
from avlet.document.parts import CreditsPart
from avlet.document.template import Template
from avlet.errors import StorageError
from avlet.storage.archive import read_files, read_one, write_zip
from avlet.storage.atomic import sweep
from avlet.storage.library import name_in
from avlet.storage.manifest import MANIFEST, MOST_NOTE, manifest_of, read_manifest, written
from avlet.storage.package import SUFFIX, open_template, package_files, write_package
from avlet.storage.preview import PREVIEW, preview_webp
from avlet.text.fonts import FontBook

VERSIONS = "versions"
_LOCK = ".avlet-lock"
_PATIENCE = 5.0
"""Seconds to wait for another Avlet that writes the same library."""


@dataclass(frozen=True)
class HandedOver:
    """Where a package stands, which version it is, and whether it differs from the one before."""

    path: Path
    version: int
    changed: bool = True


@dataclass(frozen=True)
class Version:
    """One version of a package in a library; ``path`` is that of the present one or of one that was put by."""

    number: int
    path: Path
    note: str = ""
    present: bool = False


def package_path(template: Template, folder: Path) -> Path:
    """Where a template's package stands in a library: under its name, beside any other template whose name reads alike."""
    base, number = slug(template.name), 1
    while True:
        path = folder / (f"{base}{SUFFIX}" if number == 1 else f"{base}-{number}{SUFFIX}")
        if not path.exists() or name_in(path) == template.name:
            return path
        number += 1


def hand_over(template: Template, book: FontBook, folder: Path, note: str = "") -> HandedOver:
    """Write a template's package into a library as the next version. The same once more makes no new one.

    Raises ``StorageError`` when the library cannot be written, or another Avlet is writing it for too long.
    """
    template = _without_files(template)
    if len(note) > MOST_NOTE:
        raise StorageError(f"The note has {len(note):,} letters; at most {MOST_NOTE:,} are possible. Shorten it.")
    with writing(folder):
        coming = _coming(template, book, folder)
        if not coming.changed:
            return HandedOver(coming.path, coming.version, changed=False)
        if coming.before is not None:
            write_zip(kept_path(coming.path, max(1, coming.present)), coming.before)
        write_package(coming.path, {**coming.files, **handed_over_files(template, book, coming.version, note)})
    return HandedOver(coming.path, coming.version)


@dataclass(frozen=True)
class _Coming:
    """What handing over would write: the files, and those of the version that is there, by their names."""

    path: Path
    files: dict[str, bytes]
    before: dict[str, bytes] | None
    present: int
    version: int
    changed: bool


def _coming(template: Template, book: FontBook, folder: Path) -> _Coming:
    path = package_path(template, folder)
    files = package_files(template, book)
    before = read_files(path) if path.exists() else None
    present = _version_in(before) if before is not None else 0
    if before is not None and MANIFEST in before and all(before.get(name) == data for name, data in files.items()):
        return _Coming(path, files, before, present, present, changed=False)
    version = max([present, *(v.number for v in versions_of(path))]) + 1
    return _Coming(path, files, before, present, version if before is None else max(version, 2), changed=True)


def next_version(template: Template, book: FontBook, folder: Path) -> tuple[int, bool]:
    """The version that handing over would make, and whether it would be another than the library has; nothing is written."""
    coming = _coming(_without_files(template), book, folder)
    return coming.version, coming.changed


def remove(path: Path, with_versions: bool = False) -> list[Path]:
    """Take a package out of its library; what was taken away. Unless all versions go, the present one is kept among them."""
    with writing(path.parent):
        kept = [version.path for version in versions_of(path) if not version.present]
        if with_versions:
            gone = [path, *kept]
        else:
            files = read_files(path)
            write_zip(kept_path(path, max(1, _version_in(files))), files)
            gone = [path]
        for one in gone:
            _delete(one)
        if with_versions:
            with contextlib.suppress(OSError):
                (path.parent / VERSIONS / path.stem).rmdir()
    return gone


def _delete(path: Path) -> None:
    try:
        if path.is_dir():
            shutil.rmtree(path)
        else:
            path.unlink()
    except OSError as error:
        raise StorageError(f"“{path}” cannot be removed: {error.strerror}.") from None


def _without_files(template: Template) -> Template:
    """A template that follows no file of this machine: who gets it has its list, not the file."""
    parts = tuple(msgspec.structs.replace(p, linked="") if isinstance(p, CreditsPart) and p.linked else p for p in template.parts)
    return msgspec.structs.replace(template, parts=parts)


def handed_over_files(template: Template, book: FontBook, version: int, note: str) -> dict[str, bytes]:
    """The files that a package has only once it is handed over."""
    return {MANIFEST: written(manifest_of(template, book, version, note)), PREVIEW: preview_webp(template, book)}


def _version_in(files: dict[str, bytes]) -> int:
    manifest = read_manifest(files.get(MANIFEST))
    return manifest.version if manifest is not None else 0


def kept_path(path: Path, version: int) -> Path:
    """Where a version that is no longer the present one is kept."""
    return path.parent / VERSIONS / path.stem / f"{version:04}{SUFFIX}"


def versions_of(path: Path) -> list[Version]:
    """All versions of a package, newest first."""
    found: dict[int, Version] = {}
    for kept in sorted((path.parent / VERSIONS / path.stem).glob(f"*{SUFFIX}")):
        if kept.stem.isdigit():
            found[int(kept.stem)] = Version(int(kept.stem), kept, _note(kept))
    if path.exists():
        manifest = read_manifest(_quietly(path, MANIFEST))
        number = manifest.version if manifest is not None else 1
        found[number] = Version(number, path, manifest.note if manifest is not None else "", present=True)
    return sorted(found.values(), key=lambda v: -v.number)


def _quietly(path: Path, name: str) -> bytes | None:
    try:
        return read_one(path, name)
    except StorageError:
        return None


def _note(path: Path) -> str:
    manifest = read_manifest(_quietly(path, MANIFEST))
    return manifest.note if manifest is not None else ""


def version_path(path: Path, version: int) -> Path:
    """The file of one version; the present one where that version is not kept, or none is asked for."""
    kept = kept_path(path, version)
    if version <= 0 or not kept.exists():
        return path
    manifest = read_manifest(_quietly(path, MANIFEST))
    return path if manifest is not None and manifest.version == version else kept


def bring_back(path: Path, version: int, note: str = "") -> HandedOver:
    """Make an earlier version the present one again, as a new version."""
    source = version_path(path, version)
    if source == path:
        return HandedOver(path, version, changed=False)
    opened = open_template(source)
    return hand_over(opened.template, opened.book, path.parent, note or f"Back to version {version}")


def sweep_library(folder: Path) -> None:
    """Remove what a process that ended in the middle left in a library, and beside the versions that it keeps."""
    for one in (folder, *(folder / VERSIONS).glob("*")):
        sweep(one)


@contextlib.contextmanager
def writing(folder: Path) -> Iterator[None]:
    """Only one Avlet writes a library at a time."""
    lock = FileLock(folder / _LOCK)
    try:
        folder.mkdir(parents=True, exist_ok=True)
        lock.acquire(timeout=_PATIENCE)
        sweep_library(folder)
    except Timeout:
        raise StorageError(f"Another Avlet is writing the library “{folder}”. Try again in a moment.") from None
    except OSError as error:
        raise StorageError(f"The library “{folder}” cannot be written: {error.strerror}. Choose another folder.") from None
    try:
        yield
    finally:
        lock.release()
