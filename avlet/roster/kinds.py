"""What may be written of a row: films with alpha, a still, a film over a plate."""

from dataclasses import dataclass

from avlet.errors import AnswerError
from avlet.media.films import FILMS, Film


@dataclass(frozen=True)
class Kind(Film):
    """A kind of file: a film of the table, or a still."""

    @property
    def id(self) -> str:
        """Its word on the command line and in tables."""
        return self.name

    @property
    def codec(self) -> str | None:
        """The film that it is written as, by its name; None for a still."""
        return self.id if self.is_film else None

    @property
    def coded(self) -> str:
        """How it is coded, in a delivery list."""
        return self.id if self.suffix == ".mov" else self.suffix[1:]

    @property
    def is_film(self) -> bool:
        """Whether it lasts."""
        return self.suffix != ".png"


KINDS = (
    *(Kind(**vars(film)) for film in FILMS if not film.over),
    Kind("still", "still, PNG", "still", ".png", names=("picture", "still png")),
    *(Kind(**vars(film)) for film in FILMS if film.over),
)
"""All films, those with alpha first, and a still."""


def kind_named(words: str) -> Kind:
    """A kind by its id or by words for it; raises ``AnswerError`` that lists all."""
    wanted = words.strip().casefold()
    for kind in KINDS:
        if wanted in (kind.id, kind.words.casefold(), *kind.names):
            return kind
    raise AnswerError(f"“{words.strip()[:60]}” is no kind of file. There are: {', '.join(kind.id for kind in KINDS)}.")


def kinds_in(words: str) -> tuple[Kind, ...]:
    """Kinds from a cell, with commas, semicolons, plus or *and* between them; raises ``AnswerError``."""
    plain = words.replace(";", ",").replace("+", ",").replace(" and ", ",").replace("\n", ",")
    found = tuple(dict.fromkeys(kind_named(word) for word in plain.split(",") if word.strip()))
    if not found:
        raise AnswerError(f"“{words.strip()[:60]}” names no kind of file. There are: {', '.join(kind.id for kind in KINDS)}.")
    return found
