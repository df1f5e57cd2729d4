"""Units: what a move takes one at a time. Grapheme clusters and words by ICU (UAX #29)."""

from functools import lru_cache

import icu

_ROOT = icu.Locale.getRoot()
_LETTER_STATUS = 100
"""ICU's word status from which a stretch between two word boundaries holds letters or figures (``UBRK_WORD_NUMBER``)."""


def utf16_length(text: str) -> int:
    """How many UTF-16 units ICU counts for a text."""
    return len(text) + sum(ord(c) > 0xFFFF for c in text)


def code_points_at(text: str) -> list[int]:
    """For each UTF-16 index (and the end), the code point index: ICU's positions in Python's terms."""
    if utf16_length(text) == len(text):
        return list(range(len(text) + 1))
    found: list[int] = []
    for index, char in enumerate(text):
        found.extend([index] * (2 if ord(char) > 0xFFFF else 1))
    return [*found, len(text)]


@lru_cache(maxsize=4096)
def grapheme_starts(line: str) -> tuple[int, ...]:
    """Code point indices where grapheme clusters begin, and the end (UAX #29, extended clusters)."""
    if line.isascii() and "\r" not in line:
        return tuple(range(len(line) + 1))
    breaker = icu.BreakIterator.createCharacterInstance(_ROOT)
    breaker.setText(line)
    to_code_point = code_points_at(line)
    return (0, *(to_code_point[i] for i in breaker))


@lru_cache(maxsize=4096)
def word_numbers(line: str) -> tuple[int, ...]:
    """For each code point the number of its word, from 0; −1 for blanks.

    Word boundaries are those of UAX #29. Punctuation belongs to the word before it, or to the first word of the line.
    """
    breaker = icu.BreakIterator.createWordInstance(_ROOT)
    breaker.setText(line)
    to_code_point = code_points_at(line)
    numbers: list[int] = []
    word, start, after_blank = -1, 0, True
    opened = False
    for index in breaker:
        end = to_code_point[index]
        segment = line[start:end]
        if segment.isspace():
            numbers.extend([-1] * (end - start))
            after_blank = True
        else:
            is_word = breaker.getRuleStatus() >= _LETTER_STATUS
            if after_blank or (is_word and not opened):
                word += 1
            opened = not is_word if after_blank else opened and not is_word
            numbers.extend([word] * (end - start))
            after_blank = False
        start = end
    return tuple(numbers)
