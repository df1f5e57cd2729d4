"""The library: a folder of handed-over templates. Broken ones are listed with their reason."""

from dataclasses import dataclass
from pathlib import Path

import msgspec

from avlet.document.naming import slug
from avlet.document.template import FORMAT, Template
from avlet.errors import AvletError, StorageError
from avlet.storage.archive import read_one
from avlet.storage.package import SUFFIX, TEMPLATE, THUMBNAIL, save_template
from avlet.text.fonts import FontBook

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
    """One package of a library. ``fault`` says why it cannot be used, and is empty for a good one."""

    path: Path
    name: str
    category: str = OTHERS
    keywords: tuple[str, ...] = ()
    thumbnail: bytes | None = None
    fault: str = ""

    def matches(self, words: str) -> bool:
        """Whether every word that was typed stands in its name, category or keywords."""
        text = " ".join((self.name, self.category, *self.keywords)).casefold()
        return all(word in text for word in words.casefold().split())


def scan(folder: Path) -> list[Entry]:
    """Every package of a library, by name. A folder that is not there is an empty library."""
    try:
        paths = [p for p in folder.iterdir() if p.suffix == SUFFIX and not p.name.startswith(".")]
    except FileNotFoundError:
        return []
    except OSError as error:
        raise StorageError(f"The library “{folder}” cannot be read: {error.strerror}.") from None
    return sorted((_entry(p) for p in paths), key=lambda e: e.name.casefold())


def _entry(path: Path) -> Entry:
    try:
        data = read_one(path, TEMPLATE)
        if data is None:
            return Entry(path, path.stem, fault="It has no template.json, so it is not a template.")
        heading = msgspec.json.decode(data, type=_Heading)
        if heading.format > FORMAT:
            return Entry(path, heading.name, fault="It was made with a newer Avlet. Update Avlet to use it.")
        return Entry(path, heading.name, heading.category or OTHERS, heading.keywords, read_one(path, THUMBNAIL))
    except (msgspec.DecodeError, UnicodeDecodeError):
        return Entry(path, path.stem, fault="Its template.json is damaged. Hand it over again.")
    except (AvletError, OSError) as error:
        return Entry(path, path.stem, fault=str(error))


def signature(folder: Path) -> tuple[tuple[str, int], ...]:
    """Changes whenever a package of the library does."""
    try:
        found = []
        for path in sorted(folder.iterdir()):
            if path.suffix == SUFFIX:
                inside = path / TEMPLATE if path.is_dir() else path
                found.append((path.name, inside.stat().st_mtime_ns if inside.exists() else 0))
        return tuple(found)
    except OSError:
        return ()


def package_path(template: Template, folder: Path) -> Path:
    """Where a template's package stands in a library."""
    return folder / f"{slug(template.name)}{SUFFIX}"


def hand_over(template: Template, book: FontBook, folder: Path) -> Path:
    """Write a template's package, with thumbnail and fonts, into a library. Replaces an earlier one of the same name."""
    path = package_path(template, folder)
    save_template(template, path, book)
    return path
