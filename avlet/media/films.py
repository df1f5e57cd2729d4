"""The table of films: what Avlet writes, under which names, and in which words. How each is coded stands in ``formats.py``."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Film:
    """A kind of film. ``name`` is its word on the command line and in tables, ``names`` are others for it there.

    ``tail`` parts two films of one ending in names of files. ``over`` says that it has no transparency, and is written over a plate.
    """

    name: str
    words: str
    short: str
    suffix: str
    over: bool = False
    tail: str = ""
    names: tuple[str, ...] = ()


FILMS = (
    Film("prores", "ProRes 4444 with alpha", "ProRes 4444", ".mov", names=("prores 4444", "film", "mov", "alpha film")),
    Film("png", "PNG film with alpha", "PNG film", ".mov", tail="png", names=("png film", "png mov")),
    Film("qtrle", "run-length film with alpha", "run-length", ".mov", tail="rle", names=("run-length", "rle")),
    Film("webm", "WebM with alpha", "WebM", ".webm", names=("vp9",)),
    Film("over", "over a plate, MP4", "over a plate", ".mp4", over=True, names=("mp4", "over a plate", "over plate", "h264")),
)
"""The first of an ending is what a file with that ending is written as."""
SUFFIXES = tuple(dict.fromkeys(film.suffix for film in FILMS))


def films_of(suffix: str) -> tuple[Film, ...]:
    """The films of an ending, such as ``.mov``; none for an ending that no film has."""
    return tuple(film for film in FILMS if film.suffix == suffix)


def film_named(words: str) -> Film | None:
    """A film by its name or by other words for it; None where there is none."""
    wanted = words.strip().casefold()
    return next((film for film in FILMS if wanted in (film.name, film.words.casefold(), *film.names)), None)


def names_of(suffix: str | None = None) -> str:
    """The names of all films, or of those of an ending, in words: *prores, png, qtrle*."""
    return ", ".join(film.name for film in (FILMS if suffix is None else films_of(suffix)))
