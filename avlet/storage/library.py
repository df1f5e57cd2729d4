"""The library: folders of handed-over templates. Broken packages are listed with their reason."""

import os
import stat
import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path, PurePath
from typing import Protocol

import msgspec

from avlet.document.template import FORMAT
from avlet.errors import AvletError, StorageError
from avlet.limits import MOST_DOCUMENT, MOST_THUMBNAIL
from avlet.storage.archive import read_files, read_one, write_zip
from avlet.storage.atomic import replacing
from avlet.storage.manifest import MANIFEST, read_manifest
from avlet.storage.package import SUFFIX, TEMPLATE, THUMBNAIL
from avlet.storage.preview import PREVIEW
from avlet.storage.reading import read_whole

OTHERS = "Others"
"""The category of templates that name none."""


class _Heading(msgspec.Struct):
    """The few things that the library shows, read without the rest."""

    name: str
    format: int = 1
    category: str = ""
    keywords: tuple[str, ...] = ()


@dataclass(frozen=True)
class Entry:
    """One package of a library. ``fault`` says why it cannot be used, and is empty for a good one.

    ``place`` is its path, in words, as there may be thousands; ``version`` is 0 for a package that was saved but never handed over;
    ``note`` is its author's.
    """

    place: str
    name: str
    category: str = OTHERS
    keywords: tuple[str, ...] = ()
    fault: str = ""
    version: int = 0
    note: str = ""

    @property
    def path(self) -> Path:
        """The file or folder that it is."""
        return Path(self.place)

    @property
    def file_name(self) -> str:
        """The last piece of its path."""
        return self.place.rpartition("/")[2]

    def matches(self, words: str) -> bool:
        """Whether every word that was typed stands in its name, category, keywords or note."""
        text = " ".join((self.name, self.category, *self.keywords, self.note)).casefold()
        return all(word in text for word in words.casefold().split())

    def preview(self) -> bytes | None:
        """Its animated preview, if it has one."""
        return self._picture(PREVIEW)

    def thumbnail(self) -> bytes | None:
        """Its picture at rest, if it has one."""
        return self._picture(THUMBNAIL)

    def _picture(self, name: str) -> bytes | None:
        try:
            return read_one(self.path, name, MOST_THUMBNAIL)
        except StorageError:
            return None


Stamp = tuple[int, int]
"""When a package was changed last, in ns, and how many bytes it has: of a folder, its ``template.json``."""


class Known(Protocol):
    """Remembers packages that were looked into already."""

    def entries(self, folders: Sequence[Path]) -> Mapping[str, tuple[Stamp, Entry]]:
        """What is known of the packages of some folders by place, and when each was changed last as it was looked into."""

    def keep(self, entry: Entry, stamp: Stamp) -> None:
        """Remember what was found in a package."""


@dataclass(frozen=True)
class Scan:
    """The packages of some folders by name, what is to be said of folders that cannot be read, and when each was changed last.

    ``stamps`` also has those that an earlier folder's package stands before.
    """

    entries: list[Entry]
    said: list[str]
    stamps: dict[str, Stamp]


def stamp_of(path: Path) -> Stamp:
    """When a package was changed last; nothing where there is none."""
    try:
        found = path.stat()
        found = (path / TEMPLATE).stat() if stat.S_ISDIR(found.st_mode) else found
    except (OSError, ValueError):
        return 0, 0
    return found.st_mtime_ns, found.st_size


def stamps_in(folder: Path) -> dict[str, Stamp]:
    """When each package of a library was changed last, by place. A folder that is not there is an empty library."""
    found: dict[str, Stamp] = {}
    try:
        with os.scandir(folder) as items:
            for item in items:
                if item.name.endswith(SUFFIX) and not item.name.startswith("."):
                    found[item.path] = _stamp(item)
    except FileNotFoundError:
        return {}
    except OSError as error:
        raise StorageError(f"The library “{folder}” cannot be read: {error.strerror}.") from None
    return found


def _stamp(item: os.DirEntry[str]) -> Stamp:
    try:
        if item.is_dir():
            return stamp_of(Path(item.path))
        facts = item.stat()
    except OSError:
        return 0, 0
    return facts.st_mtime_ns, facts.st_size


def scan(folder: Path) -> list[Entry]:
    """What is in each package of a library, by name."""
    return sorted((_entry(Path(p)) for p in stamps_in(folder)), key=_by_name)


def scan_all(folders: Sequence[Path], known: Known | None = None, so_far: Callable[[list[Entry]], None] | None = None) -> Scan:
    """What is in the packages of several folders. Where two have a package of one file name, the first folder's counts.

    ``known`` spares looking into those that did not change; ``so_far`` is told now and then what was found.
    """
    found: dict[str, Entry] = {}
    said: list[str] = []
    stamps: dict[str, Stamp] = {}
    before = known.entries(folders) if known is not None else {}
    told = time.monotonic()
    for folder in folders:
        try:
            here = stamps_in(folder)
        except StorageError as error:
            said.append(str(error))
            stamps[str(folder)] = (-1, 0)
            continue
        stamps.update(here)
        for place, stamp in here.items():
            file_name = place.rpartition("/")[2]
            if file_name in found:
                continue
            kept = before.get(place)
            if kept is not None and kept[0] == stamp != (0, 0):
                found[file_name] = kept[1]
                continue
            found[file_name] = _entry(Path(place))
            if known is not None:
                known.keep(found[file_name], stamp)
            if so_far is not None and time.monotonic() - told > _BETWEEN:
                so_far(sorted(found.values(), key=_by_name))
                told = time.monotonic()
        if folder is not folders[0] and not folder.is_dir():
            said.append(f"The shared library “{folder}” is not there any more. Its templates come back when it does.")
    return Scan(sorted(found.values(), key=_by_name), said, stamps)


_BETWEEN = 0.25
"""Seconds between telling what was found so far."""


def _by_name(entry: Entry) -> str:
    return entry.name.casefold()


def is_file_name(words: str) -> bool:
    """Whether words name a file in a folder, and nothing outside of it."""
    return bool(words) and PurePath(words).name == words and words not in (".", "..") and "\0" not in words and len(words.encode()) <= 255


def find_package(folders: Sequence[Path], file_name: str) -> Path:
    """Where a package stands: in the first folder that has it, else where the first folder would have it."""
    return next((folder / file_name for folder in folders if (folder / file_name).exists()), folders[0] / file_name)


def _entry(path: Path) -> Entry:
    try:
        data = read_one(path, TEMPLATE, MOST_DOCUMENT)
        if data is None:
            return Entry(str(path), path.stem, fault="It has no template.json, so it is not a template.")
        heading = msgspec.json.decode(data, type=_Heading)
        if heading.format > FORMAT:
            return Entry(str(path), heading.name, fault="It was made with a newer Avlet. Update Avlet to use it.")
        manifest = read_manifest(read_one(path, MANIFEST, MOST_THUMBNAIL))
        version, note = (manifest.version, manifest.note) if manifest is not None else (0, "")
        category = heading.category or OTHERS
        return Entry(str(path), heading.name, category, heading.keywords, "", version, note)
    except (msgspec.DecodeError, UnicodeDecodeError):
        return Entry(str(path), path.stem, fault="Its template.json is damaged. Hand it over again.")
    except (AvletError, OSError) as error:
        return Entry(str(path), path.stem, fault=str(error))


def name_in(path: Path) -> str | None:
    """The name of the template in a package; None if that cannot be read."""
    entry = _entry(path)
    return None if entry.fault else entry.name


def signature(folders: Sequence[Path]) -> dict[str, Stamp]:
    """The ``stamps`` of a scan alone: they change whenever a package of one of the folders does."""
    found: dict[str, Stamp] = {}
    for folder in folders:
        try:
            found.update(stamps_in(folder))
        except StorageError:
            found[str(folder)] = (-1, 0)
    return found


def import_package(path: Path, folder: Path) -> Path:
    """Copy a package into a library, as one file; refused if it is none, or if another of its name is there already."""
    target = folder / f"{path.stem}{SUFFIX}"
    if path.resolve().parent == folder.resolve():
        return path
    if target.exists():
        raise StorageError(f"The library has a “{target.name}” already. Rename the file, or hand it over as a new version.")
    entry = _entry(path)
    if entry.fault:
        raise StorageError(f"“{path.name}” was not taken into the library: {entry.fault}")
    if path.is_dir():
        write_zip(target, read_files(path))
        return target
    try:
        data = read_whole(path)
    except OSError as error:
        raise StorageError(f"“{path}” cannot be read: {error.strerror}.") from None
    with replacing(target) as temporary:
        temporary.write_bytes(data)
    return target
