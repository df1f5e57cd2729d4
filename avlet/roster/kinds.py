"""What may be written of a row: films with alpha, a still, a film over a plate."""

from dataclasses import dataclass

from avlet.errors import AnswerError
from avlet.media.films import FILMS


@dataclass(frozen=True)
class Kind:
    """A kind of file. ``tail`` parts two kinds of one ending; ``names`` are other words for it in a table or on the command line."""

    id: str
    words: str
    short: str
    suffix: str
    over: bool = False
    tail: str = ""
    names: tuple[str, ...] = ()

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
    *(Kind(f.name, f.words, f.short, f.suffix, f.over, f.tail, f.names) for f in FILMS if not f.over),
    Kind("still", "still, PNG", "still", ".png", names=("picture", "still png")),
    *(Kind(f.name, f.words, f.short, f.suffix, f.over, f.tail, f.names) for f in FILMS if f.over),
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
