"""Marked words and case: from what was typed to code points that each have a style.

``{1:so}`` and ``{2:so}`` mark words for the first and second accent; ``{{`` is a brace. Marks mean something only in a
text that has accents.
"""

import itertools
import re
import unicodedata
from typing import NamedTuple

from avlet.document.parts import Case, TextPart
from avlet.text.fonts import Face, FontBook, is_ignorable
from avlet.text.units import grapheme_starts

_MARK = re.compile(r"\{\{|\{([12]):([^{}]*)\}")


class Style(NamedTuple):
    """A face and a size, as a share of the text's own size. ``accent`` is 0 for the text's own style."""

    face: Face
    scale: float
    accent: int = 0


class StyledLine(NamedTuple):
    """One line: its code points, and for each the number of its style in ``table``.

    ``within`` is the paragraph that it was broken out of and where it begins there, as directions are found paragraph by paragraph
    (UAX #9); None for a whole one.
    """

    text: str
    styles: tuple[int, ...]
    table: tuple[Style, ...]
    within: tuple[str, int] | None = None

    def cut(self, start: int, end: int) -> "StyledLine":
        """Code points ``start`` up to ``end``."""
        if (start, end) == (0, len(self.text)):
            return self
        whole, begin = self.within or (self.text, 0)
        return StyledLine(self.text[start:end], self.styles[start:end], self.table, (whole, begin + start))

    def trimmed(self) -> "StyledLine":
        """Without blanks at its end."""
        return self.cut(0, len(self.text.rstrip()))

    def with_end(self, end: str) -> "StyledLine":
        """With ``end`` appended in the style of its last code point."""
        last = self.styles[-1] if self.styles else 0
        return StyledLine(self.text + end, self.styles + (last,) * len(end), self.table)


def marked_for(text: str, start: int, end: int, accent: int) -> str:
    """A text whose stretch ``start`` … ``end`` is marked for an accent, or for none with 0; marks that it touches are undone.

    Where braces that were typed leave no room for a mark, the text stays as it is.
    """
    made = _marked_for(text, start, end, accent)
    return made if _words(made) == _words(text) else text


def _words(text: str) -> str:
    return "".join(words for words, _ in marked(text, 2))


def _marked_for(text: str, start: int, end: int, accent: int) -> str:
    for mark in reversed(list(_MARK.finditer(text))):
        if mark.group(1) is None or mark.end() <= start or mark.start() >= end:
            continue
        words, before = mark.group(2), mark.start()
        start, end = (_outside(at, mark) for at in (start, end))
        text = text[:before] + words + text[mark.end() :]
    words = text[start:end]
    inner = words.strip()
    if not accent or not inner:
        return text
    at = start + len(words) - len(words.lstrip())
    return f"{text[:at]}{{{accent}:{inner}}}{text[at + len(inner) :]}"


def _outside(at: int, mark: "re.Match[str]") -> int:
    """Where a place in a text is once the signs of a mark are gone."""
    if at <= mark.start():
        return at
    if at >= mark.end():
        return at - 4
    return max(mark.start(), min(at - 3, mark.start() + len(mark.group(2))))


def plain(text: str, face: Face) -> StyledLine:
    """A line in one style."""
    return StyledLine(text, (0,) * len(text), (Style(face, 1.0),))


def styled_lines(part: TextPart, book: FontBook) -> list[StyledLine]:
    """The typed lines of a text, with case and accents worked in."""
    heavier = part.weight / max(1.0, part.size)
    table = [Style(book.find(part.family, part.style)[0].at(part.places).drawn_as(part.slant, heavier), 1.0)]
    for number, accent in enumerate(part.accents, 1):
        table.append(Style(book.find(accent.family, accent.style)[0].drawn_as(part.slant, heavier), accent.size / 100, number))
    if part.case == "small capitals":
        share = part.small_capitals / 100
        table += [Style(style.face, style.scale * share, style.accent) for style in table]
    letters = shown_letters(part)
    text = "".join(letter.shown for letter in letters)
    styles = [letter.style for letter in letters for _ in letter.shown]
    lines, at = [], 0
    for line in text.split("\n"):
        lines.append(StyledLine(line, tuple(styles[at : at + len(line)]), tuple(table)))
        at += len(line) + 1
    return lines


class Letter(NamedTuple):
    """What is set of a typed letter: with its case, the number of its style, and from where to where it stands in the typed text."""

    shown: str
    style: int
    at: int
    end: int


def shown_letters(part: TextPart) -> list[Letter]:
    """The letters of a text as they are set, marks and controls gone."""
    small = len(part.accents) + 1
    pieces = marked_places(part.text, len(part.accents))
    printed = [(number, *one) for words, number, start in pieces for one in _printed(words, start, part.case)]
    typed = "".join(char for _, char, _, _ in printed) if part.case == "lower case" else ""
    found = []
    for place, (accent, char, at, end) in enumerate(printed):
        shown, number = _cased(char, part, accent, small)
        if char == "Σ" and part.case == "lower case" and _ends_a_word(typed, place):
            shown = "ς"
        found.append(Letter(shown, number, at, end))
    return found


_WITHIN_WORDS = "’'·"
_LINE_ENDS = re.compile("\r\n|[\r\x0b\x0c\x85\u2028\u2029]")
_CONTROLS = re.compile("[\x00-\x08\x0e-\x1f\x7f-\x9f]")
_PIECES = re.compile("\r\n|.", re.DOTALL)


def _printed(words: str, start: int, case: Case) -> list[tuple[str, int, int]]:
    """What is set of what was typed, each with from where to where: any end of a line is one, a tab is a blank, controls are nothing.

    Where case is changed, letters are one with their accents, so that both change together (NFC, UAX #15).
    """
    found = []
    for match in _PIECES.finditer(words):
        piece = match.group()
        shown = "\n" if _LINE_ENDS.fullmatch(piece) else " " if piece == "\t" else "" if _CONTROLS.fullmatch(piece) else piece
        if shown:
            found.append((shown, start + match.start(), start + match.end()))
    if case == "as typed" or not any(ord(char) > 127 for char, _, _ in found):
        return found
    text = "".join(char for char, _, _ in found)
    starts = grapheme_starts(text)
    pairs = itertools.pairwise(starts)
    return [(c, found[a][1], found[b - 1][2]) for a, b in pairs for c in unicodedata.normalize("NFC", text[a:b])]


def _ends_a_word(text: str, at: int) -> bool:
    """Whether a letter stands behind others of its word and before none (Unicode's Final_Sigma, table 3-17)."""
    before = next((c for c in reversed(text[:at]) if not is_ignorable(ord(c)) and c not in _WITHIN_WORDS), "")
    after = next((c for c in text[at + 1 :] if not is_ignorable(ord(c)) and c not in _WITHIN_WORDS), "")
    return before.lower() != before.upper() and after.lower() == after.upper()


def _cased(char: str, part: TextPart, number: int, small: int) -> tuple[str, int]:
    match part.case:
        case "capitals":
            return char.upper(), number
        case "lower case":
            return char.lower(), number
        case "small capitals" if char.upper() != char:
            return char.upper(), number + small
    return char, number


def marked(text: str, accents: int) -> list[tuple[str, int]]:
    """Stretches of a text with the number of their accent; the marks themselves are gone."""
    return [(words, number) for words, number, _ in marked_places(text, accents)]


def marked_places(text: str, accents: int) -> list[tuple[str, int, int]]:
    """The same, each with where it begins in the typed text."""
    if not accents or "{" not in text:
        return [(text, 0, 0)]
    pieces: list[tuple[str, int, int]] = []
    at = 0
    for found in _MARK.finditer(text):
        pieces.append((text[at : found.start()], 0, at))
        if found.group(1) is None:
            pieces.append(("{", 0, found.start()))
        else:
            number = int(found.group(1))
            pieces.append((found.group(2), number if number <= accents else 0, found.start(2)))
        at = found.end()
    pieces.append((text[at:], 0, at))
    return [piece for piece in pieces if piece[0]]
