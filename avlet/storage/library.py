"""The library: folders of handed-over templates. Broken packages are listed with their reason."""

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path, PurePath

import msgspec

from avlet.document.template import FORMAT
from avlet.errors import AvletError, StorageError
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

    ``version`` is 0 for a package that was saved but never handed over; ``note`` is its author's.
    """

    path: Path
    name: str
    category: str = OTHERS
    keywords: tuple[str, ...] = ()
    thumbnail: bytes | None = None
    fault: str = ""
    version: int = 0
    note: str = ""

    def matches(self, words: str) -> bool:
        """Whether every word that was typed stands in its name, category, keywords or note."""
        text = " ".join((self.name, self.category, *self.keywords, self.note)).casefold()
        return all(word in text for word in words.casefold().split())

    def preview(self) -> bytes | None:
        """Its animated preview, if it has one."""
        try:
            return read_one(self.path, PREVIEW)
        except StorageError:
            return None


def scan(folder: Path) -> list[Entry]:
    """Every package of a library, by name. A folder that is not there is an empty library."""
    try:
        paths = [p for p in folder.iterdir() if p.suffix == SUFFIX and not p.name.startswith(".")]
    except FileNotFoundError:
        return []
    except OSError as error:
        raise StorageError(f"The library “{folder}” cannot be read: {error.strerror}.") from None
    return sorted((_entry(p) for p in paths), key=lambda e: e.name.casefold())


def scan_all(folders: Sequence[Path]) -> tuple[list[Entry], list[str]]:
    """The packages of several folders, and what is to be said of folders that cannot be read.

    Where two have a package of one file name, the first folder's counts.
    """
    found: dict[str, Entry] = {}
    said: list[str] = []
    for folder in folders:
        try:
            for entry in scan(folder):
                found.setdefault(entry.path.name, entry)
        except StorageError as error:
            said.append(str(error))
        if folder is not folders[0] and not folder.is_dir():
            said.append(f"The shared library “{folder}” is not there any more. Its templates come back when it does.")
    return sorted(found.values(), key=lambda e: e.name.casefold()), said


def is_file_name(words: str) -> bool:
    """Whether words name a file in a folder, and nothing outside of it."""
    return bool(words) and PurePath(words).name == words and words not in (".", "..") and "\0" not in words and len(words.encode()) <= 255


def find_package(folders: Sequence[Path], file_name: str) -> Path:
    """Where a package stands: in the first folder that has it, else where the first folder would have it."""
    return next((folder / file_name for folder in folders if (folder / file_name).exists()), folders[0] / file_name)


def _entry(path: Path) -> Entry:
    try:
        data = read_one(path, TEMPLATE)
        if data is None:
            return Entry(path, path.stem, fault="It has no template.json, so it is not a template.")
        heading = msgspec.json.decode(data, type=_Heading)
        if heading.format > FORMAT:
            return Entry(path, heading.name, fault="It was made with a newer Avlet. Update Avlet to use it.")
        manifest = read_manifest(read_one(path, MANIFEST))
        version, note = (manifest.version, manifest.note) if manifest is not None else (0, "")
        category = heading.category or OTHERS
        return Entry(path, heading.name, category, heading.keywords, read_one(path, THUMBNAIL), "", version, note)
    except (msgspec.DecodeError, UnicodeDecodeError):
        return Entry(path, path.stem, fault="Its template.json is damaged. Hand it over again.")
    except (AvletError, OSError) as error:
        return Entry(path, path.stem, fault=str(error))


def name_in(path: Path) -> str | None:
    """The name of the template in a package; None if that cannot be read."""
    entry = _entry(path)
    return None if entry.fault else entry.name


def signature(folders: Sequence[Path]) -> tuple[tuple[str, int], ...]:
    """Changes whenever a package of one of the folders does."""
    found = []
    for folder in folders:
        try:
            for path in sorted(folder.iterdir()):
                if path.suffix == SUFFIX:
                    inside = path / TEMPLATE if path.is_dir() else path
                    found.append((str(path), inside.stat().st_mtime_ns if inside.exists() else 0))
        except OSError:
            found.append((str(folder), -1))
    return tuple(found)


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
