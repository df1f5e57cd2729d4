"""What may be written of a row: films with alpha, a still, a film over a plate."""

from dataclasses import dataclass

from avlet.errors import AnswerError


@dataclass(frozen=True)
class Kind:
    """A kind of file. ``tail`` parts two kinds of one ending; ``names`` are other words for it in a table or on the command line."""

    id: str
    words: str
    short: str
    suffix: str
    codec: str | None = None
    over: bool = False
    tail: str = ""
    names: tuple[str, ...] = ()

    @property
    def is_film(self) -> bool:
        """Whether it lasts."""
        return self.suffix != ".png"


KINDS = (
    Kind("prores", "ProRes 4444 with alpha", "ProRes 4444", ".mov", "prores", names=("prores 4444", "film", "mov", "alpha film")),
    Kind("png", "PNG film with alpha", "PNG film", ".mov", "png", tail="png", names=("png film", "png mov")),
    Kind("qtrle", "run-length film with alpha", "run-length", ".mov", "qtrle", tail="rle", names=("run-length", "rle")),
    Kind("webm", "WebM with alpha", "WebM", ".webm", names=("vp9",)),
    Kind("still", "still, PNG", "still", ".png", names=("picture", "still png")),
    Kind("over", "over a plate, MP4", "over a plate", ".mp4", over=True, names=("mp4", "over a plate", "over plate")),
)


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
