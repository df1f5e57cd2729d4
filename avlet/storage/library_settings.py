"""What a person has set up of their library: shared folders, favourites, how often a template was used, answers to pick again."""

from pathlib import Path
from typing import Any

import msgspec

from avlet.storage.atomic import write_whole

FILE = "library.json"
MOST_FAVOURITES = 200


class FavouriteAnswers(msgspec.Struct, frozen=True):
    """Answers under a name, such as a person's name and role, by the label of their field."""

    name: str
    answers: dict[str, Any]


class LibrarySettings(msgspec.Struct, frozen=True):
    """``shared`` are folders that are only read; ``starred`` and ``uses`` go by a package's file name; ``folded`` are headings."""

    shared: tuple[str, ...] = ()
    starred: tuple[str, ...] = ()
    uses: dict[str, int] = {}
    answers: tuple[FavouriteAnswers, ...] = ()
    folded: tuple[str, ...] = ()


replace = msgspec.structs.replace


def read_settings(state: Path) -> LibrarySettings:
    """The settings; none when the file is not there or cannot be read."""
    try:
        return msgspec.json.decode((state / FILE).read_bytes(), type=LibrarySettings)
    except (OSError, msgspec.DecodeError):
        return LibrarySettings()


def write_settings(state: Path, settings: LibrarySettings) -> None:
    """Keep the settings; raises ``StorageError``."""
    write_whole(state / FILE, msgspec.json.format(msgspec.json.encode(settings), indent=1))


def starred(settings: LibrarySettings, file_name: str, on: bool) -> LibrarySettings:
    """A package made a favourite, or not any more."""
    others = tuple(name for name in settings.starred if name != file_name)
    return replace(settings, starred=(*others, file_name) if on else others)


def used(settings: LibrarySettings, file_name: str) -> LibrarySettings:
    """A package put on a cut once more."""
    return replace(settings, uses={**settings.uses, file_name: settings.uses.get(file_name, 0) + 1})


def with_answers(settings: LibrarySettings, name: str, answers: dict[str, Any]) -> LibrarySettings:
    """Answers to pick again; those of the same name are replaced."""
    others = tuple(a for a in settings.answers if a.name != name)
    return replace(settings, answers=(FavouriteAnswers(name, answers), *others)[:MOST_FAVOURITES])


def without_answers(settings: LibrarySettings, name: str) -> LibrarySettings:
    """Answers that are not to be offered any more."""
    return replace(settings, answers=tuple(a for a in settings.answers if a.name != name))
