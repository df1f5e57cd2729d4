"""There is time to read: words against the frames in which all of them stand there."""

from collections.abc import Iterator

from avlet.document.parts import CreditsPart
from avlet.review.checks.base import Check, Finding
from avlet.review.looked import Looked

_ID = "reading"
WORDS_A_MINUTE = 160.0
"""The slower end of 160 to 180 (BBC subtitle guidelines, from memory)."""
LETTERS_A_WORD = 5.0
"""What writing without blanks is counted by (common practice, no source)."""


def seconds_to_read(words: int, letters: int) -> float:
    """How long words are read; scripts that part no words by their letters."""
    return max(words, letters / LETTERS_A_WORD / 2) * 60 / WORDS_A_MINUTE


def run(looked: Looked) -> Iterator[Finding]:
    """All words that can be read together, against the time that they can."""
    texts = [(i, rest) for i, rest in looked.texts if not isinstance(rest.part, CreditsPart) and looked.legible_frames[i]]
    if not texts:
        return
    words = sum(rest.words.counts["word"] for _, rest in texts if rest.words is not None)
    letters = sum(rest.words.counts["character"] for _, rest in texts if rest.words is not None)
    together = set.intersection(*(set(looked.legible_frames[i]) for i, _ in texts))
    first, last = (min(together), max(together)) if together else (looked.rest_frame, looked.rest_frame)
    have = looked.lasts(together) / float(looked.scene.template.frame.fps)
    needed = seconds_to_read(words, letters)
    if needed > have:
        said = f"{words} words" if words != 1 else "1 word"
        told = f"{said}, {have:.1f} s to read: they are read once in {needed:.1f} s."
        yield Finding(_ID, "to look at", texts[0][0], told, "too short to read", needed, have, "s", first, last)


CHECK = Check(
    _ID,
    "Reading",
    "There is time to read it once",
    "160 words a minute",
    "BBC subtitle guidelines (160–180 words a minute), from memory",
    run,
)
