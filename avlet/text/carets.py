"""Carets: where in a set text the places between its typed letters are, in any script, wrapped or marked."""

import functools
import itertools
import unicodedata
from typing import NamedTuple

import numpy as np

from avlet.document.parts import TextPart
from avlet.geometry import Box
from avlet.text.marking import shown_letters
from avlet.text.setting import Setting
from avlet.text.units import grapheme_starts


class Place(NamedTuple):
    """One letter as it is set, or the end of a line, which is as wide as nothing.

    ``typed`` … ``after`` is where it stands in the typed text; ``left`` and ``right`` are px from the text's corner.
    """

    typed: int
    after: int
    line: int
    left: float
    right: float
    rtl: bool = False

    @property
    def caret(self) -> float:
        """Where a caret stands before it."""
        return self.right if self.rtl else self.left


class Carets:
    """The places of a set text, in the order that it was typed in."""

    def __init__(self, places: list[Place], setting: Setting) -> None:
        self.places = places
        height = setting.line_box.h / max(1, len(setting.lines))
        first = setting.lines[0].baseline
        self.tops = [line.baseline - first for line in setting.lines]
        self.height = height

    def at(self, typed: int) -> Place:
        """The place that a caret at an index of the typed text stands before."""
        return next((p for p in reversed(self.places) if p.typed <= typed), self.places[0])

    def box(self, typed: int) -> Box:
        """Where the caret is: a box of no width."""
        place = self.at(typed)
        return Box(place.caret, self.tops[place.line], 0.0, self.height)

    def nearest(self, x: float, y: float) -> int:
        """The index of the typed text that is nearest to a point, in px from the text's corner."""
        line = min(range(len(self.tops)), key=lambda n: abs(self.tops[n] + self.height / 2 - y))
        return min((p for p in self.places if p.line == line), key=lambda p: abs(p.caret - x), default=self.places[-1]).typed

    def beside(self, typed: int, step: int) -> int:
        """The index one letter on, or back with a ``step`` of −1."""
        number = self.places.index(self.at(typed)) + step
        return self.places[max(0, min(len(self.places) - 1, number))].typed

    def above(self, typed: int, lines: int, x: float | None = None) -> int | None:
        """The index so many ``lines`` above, or below when that is under 0, at the same ``x``; None beyond the first and last."""
        place = self.at(typed)
        line = place.line - lines
        if not 0 <= line < len(self.tops):
            return None
        return self.nearest(place.caret if x is None else x, self.tops[line] + self.height / 2)

    def ends_of_line(self, typed: int) -> tuple[int, int]:
        """The indices at the begin and at the end of the line that a caret is in."""
        line = self.at(typed).line
        there = [p.typed for p in self.places if p.line == line]
        return there[0], there[-1]

    def stretch(self, start: int, end: int) -> list[Box]:
        """Boxes over the letters from one index up to another, one or more a line."""
        found = []
        chosen = [p for p in self.places if start <= p.typed < end]
        for line, several in itertools.groupby(chosen, key=lambda p: p.line):
            spans = sorted((p.left, p.right) for p in several)
            merged = [spans[0]]
            for left, right in spans[1:]:
                if left <= merged[-1][1] + 0.5:
                    merged[-1] = (merged[-1][0], max(right, merged[-1][1]))
                else:
                    merged.append((left, right))
            found += [Box(left, self.tops[line], max(right - left, self.height / 8), self.height) for left, right in merged]
        return found


@functools.lru_cache(maxsize=16)
def carets_of(part: TextPart, setting: Setting) -> Carets:
    """The places of a text that is set so."""
    paragraphs = _typed_places(part)
    places: list[Place] = []
    number = begin = 0
    for line, (text, ends) in enumerate(zip(setting.texts, setting.ends, strict=True)):
        typed = paragraphs[number]
        if text.within is not None:
            begin = text.within[1]
        edges = _edges(setting, line)
        whole = setting.lines[line]
        starts = grapheme_starts(text.text)
        shown = min(len(typed) - 1 - begin, len(text.text))
        for a, b in itertools.pairwise(starts):
            if a < shown:
                left, right, rtl = edges[a]
                at, after = typed[begin + a][0], typed[begin + min(b, shown) - 1][1]
                if places and places[-1].typed == at:  # a letter that is set as two, as ß is in capitals
                    before = places.pop()
                    left, right = min(before.left, left), max(before.right, right)
                places.append(Place(at, after, line, left, right, rtl))
        if ends or (begin + shown < len(typed) - 1 and not _goes_on(setting, line, begin + shown)):
            last = places[-1] if places and places[-1].line == line else None
            x = whole.left if last is None else last.left if last.rtl else last.right
            places.append(Place(*typed[begin + shown], line, x, x))
        begin += len(text.text)
        if ends:
            number, begin = number + 1, 0
    return Carets(places, setting)


def _goes_on(setting: Setting, line: int, begin: int) -> bool:
    """Whether the next line begins where this one ends, with nothing left out between."""
    following = setting.texts[line + 1] if line + 1 < len(setting.texts) else None
    return following is not None and following.within is not None and following.within[1] <= begin


def _typed_places(part: TextPart) -> list[list[tuple[int, int]]]:
    """For each paragraph: from where to where in the typed text each of its set code points stands, and its end."""
    found: list[list[tuple[int, int]]] = [[]]
    for shown, _, at, end in shown_letters(part):
        for char in shown:
            found[-1].append((at, end))
            if char == "\n":
                found.append([])
    found[-1].append((len(part.text), len(part.text)))
    return found


def _edges(setting: Setting, line: int) -> dict[int, tuple[float, float, bool]]:
    """Left and right edge of each grapheme of a line, by the code point it begins with, and whether it reads from the right."""
    text, whole = setting.texts[line].text, setting.lines[line]
    own = np.flatnonzero(setting.rows == line)
    starts = list(grapheme_starts(text))[:-1]
    if not len(own):
        return dict.fromkeys(starts, (whole.left, whole.left, False))
    order = own[np.argsort(setting.x[own], kind="stable")]
    pens = setting.x[order]
    rights = np.append(pens[1:], max(whole.left + whole.width, float(pens[-1])))
    spans: dict[int, tuple[float, float]] = {}
    for glyph, left, right in zip(order, pens.tolist(), rights.tolist(), strict=True):
        cluster = int(setting.clusters[glyph])
        known = spans.get(cluster)
        spans[cluster] = (left, right) if known is None else (min(known[0], left), max(known[1], right))
    clusters = sorted(spans)
    found = {}
    for number, cluster in enumerate(clusters):
        end = clusters[number + 1] if number + 1 < len(clusters) else len(text)
        rtl = _reads_from_the_right(text, spans, clusters, number)
        inside = [s for s in starts if cluster <= s < end]
        left, right = spans[cluster]
        for n, start in enumerate(inside):
            a, b = (len(inside) - 1 - n, len(inside) - n) if rtl else (n, n + 1)
            width = (right - left) / len(inside)
            found[start] = (left + a * width, left + b * width, rtl)
    return {start: found.get(start, (whole.left, whole.left, False)) for start in starts}


def _reads_from_the_right(text: str, spans: dict[int, tuple[float, float]], clusters: list[int], number: int) -> bool:
    """By the letter itself where it has a direction, else by where its neighbours stand."""
    kind = unicodedata.bidirectional(text[clusters[number]])
    if kind in ("R", "AL", "L", "EN", "AN"):
        return kind in ("R", "AL")
    if len(clusters) == 1:
        return False
    here, there = (number - 1, number) if number else (number, number + 1)
    return spans[clusters[there]][0] < spans[clusters[here]][0]
