"""What a person has set up: the library's folders and favourites, answers to pick again, how numbers are written, what is kept when."""

from pathlib import Path
from typing import Annotated, Any

import msgspec

from avlet.storage.atomic import write_whole
from avlet.storage.reading import read_own

FILE = "library.json"
MOST_FAVOURITES = 200
LONGEST_KEEPING = 600
LONGEST_JUMP = 1_000
LEAST_FRAMES_MB, MOST_FRAMES_MB = 32, 8192
SMALLEST_INTERFACE, LARGEST_INTERFACE = 90, 175
"""Per cent."""


class FavouriteAnswers(msgspec.Struct, frozen=True):
    """Answers under a name, such as a person's name and role, by the label of their field."""

    name: str
    answers: dict[str, Any]


class Settings(msgspec.Struct, frozen=True):
    """``shared`` are folders that are only read; ``starred`` and ``uses`` go by a package's file name; ``folded`` are headings.

    ``library`` is the person's own folder, ``renders`` the one that was rendered into last, ``numbers`` the language that numbers are
    written in (empty: where Avlet and the machine have them), ``keeps_every`` the seconds between two times that unsaved work is kept,
    ``frames_mb`` the memory of drawn frames, ``jump`` how many frames Shift with an arrow goes,
    ``interface`` the size of all that is drawn in per cent, and ``strong_contrast`` whether text and lines stand out more.
    """

    shared: tuple[str, ...] = ()
    starred: tuple[str, ...] = ()
    uses: dict[str, int] = {}
    answers: tuple[FavouriteAnswers, ...] = ()
    folded: tuple[str, ...] = ()
    library: str = ""
    renders: str = ""
    numbers: str = ""
    keeps_every: Annotated[int, msgspec.Meta(ge=1, le=LONGEST_KEEPING)] = 3
    frames_mb: Annotated[int, msgspec.Meta(ge=LEAST_FRAMES_MB, le=MOST_FRAMES_MB)] = 256
    jump: Annotated[int, msgspec.Meta(ge=1, le=LONGEST_JUMP)] = 5
    interface: Annotated[int, msgspec.Meta(ge=SMALLEST_INTERFACE, le=LARGEST_INTERFACE)] = 100
    strong_contrast: bool = False


replace = msgspec.structs.replace


def read_settings(state: Path) -> Settings:
    """The settings; none when the file is not there or cannot be read."""
    return read_own(state / FILE, Settings, Settings())


def write_settings(state: Path, settings: Settings) -> None:
    """Keep the settings; raises ``StorageError``."""
    write_whole(state / FILE, msgspec.json.format(msgspec.json.encode(settings), indent=1))


def starred(settings: Settings, file_name: str, on: bool) -> Settings:
    """A package made a favourite, or not any more."""
    others = tuple(name for name in settings.starred if name != file_name)
    return replace(settings, starred=(*others, file_name) if on else others)


def used(settings: Settings, file_name: str) -> Settings:
    """A package put on a cut once more."""
    return replace(settings, uses={**settings.uses, file_name: settings.uses.get(file_name, 0) + 1})


def with_answers(settings: Settings, name: str, answers: dict[str, Any]) -> Settings:
    """Answers to pick again; those of the same name are replaced."""
    others = tuple(a for a in settings.answers if a.name != name)
    return replace(settings, answers=(FavouriteAnswers(name, answers), *others)[:MOST_FAVOURITES])


def without_answers(settings: Settings, name: str) -> Settings:
    """Answers that are not to be offered any more."""
    return replace(settings, answers=tuple(a for a in settings.answers if a.name != name))
