"""Wheels: slots of a number whose figures roll, at a moment or over the time that a frame is exposed."""

import dataclasses
import unicodedata
from collections import defaultdict
from collections.abc import Callable, Sequence
from typing import NamedTuple, Protocol

import numpy as np

from avlet.arrays import Floats, Ints
from avlet.numbers.written import Written, is_digit
from avlet.text.numerals import Figure
from avlet.text.setting import Glyph, Passing, Setting, Wheel

_SAME = 6
"""Digits to which two shares of a turn are told apart."""


class Stretch(NamedTuple):
    """A stretch of time in which the number after ``step`` steps turns into the next one, evenly.

    ``weight`` is its share of the whole time, ``begin`` and ``end`` are shares of the turn; both 0 while the number stands.
    """

    step: int
    weight: float
    begin: float
    end: float


class SetNumbers(Protocol):
    """A counter's settings, as far as wheels need them."""

    @property
    def slotted(self) -> bool:
        """Whether all figures take as much room as the widest."""

    @property
    def ten(self) -> Sequence[Figure]:
        """The ten figures by themselves."""

    @property
    def first_slot(self) -> int:
        """The number of the first slot among the units by letter."""

    @property
    def window(self) -> tuple[float, float]:
        """From where to where a wheel is seen, in px down from the corner."""

    @property
    def soft_edge(self) -> float:
        """How much of the window is soft at its top and at its bottom, in px."""

    def placed(self, written: Written) -> Setting:
        """A number where it stands."""

    def noughts(self, written: Written) -> Written:
        """The same with noughts for all its figures."""

    def slot_of(self, written: Written, index: int) -> int:
        """Which slot a place of a number is."""


def rolled(numbers: SetNumbers, stretches: Sequence[Stretch], words: Callable[[int], Written], upward: bool) -> Setting:
    """A counter over a time: what stands all the while as in any number, the rest on wheels. ``words`` writes a number of steps."""
    steps = sorted({one.step for one in stretches} | {one.step + 1 for one in stretches if one.end > 0})
    written = {step: words(step) for step in steps}
    longest = max(written.values(), key=lambda said: len(said.words))
    top, bottom = numbers.window
    seen = _Passed(numbers, (-1.0 if upward else 1.0) * (bottom - top))
    alike: dict[tuple[str, str], list[Stretch]] = defaultdict(list)
    patterns = {step: numbers.noughts(said).words if numbers.slotted else said.words for step, said in written.items()}
    for one in stretches:
        alike[patterns[one.step], patterns[one.step + 1 if one.end > 0 else one.step]].append(one)
    for (low, high), several in alike.items():
        pairs = [(written[one.step], written[one.step + 1 if one.end > 0 else one.step]) for one in several]
        if low == high:
            seen.add_alike(several, pairs)
        else:
            for one, pair in zip(several, pairs, strict=True):
                seen.add(one, *pair)
    base = numbers.placed(longest)
    ink, wheels = base.ink.copy(), []
    for slot, passing in seen.by_slot():
        if _stands(passing):
            continue
        rows = np.flatnonzero((base.unit_of["character"] == numbers.first_slot + slot) & (base.accent == 0))
        for row in rows:
            ink[row, [1, 3]] = top, bottom
        units = {name: int(of[rows[0]]) for name, of in base.unit_of.items()} if len(rows) else {}
        drawn = tuple(one for one in passing if one.glyphs)
        wheels.append(Wheel(units, tuple(rows.tolist()), top, bottom, numbers.soft_edge, drawn))
    return dataclasses.replace(base, ink=ink, turning=tuple(wheels))


class _Passed:
    """What passes in each slot, added up over stretches; ``pitch`` is how far a figure goes in one turn, down in px."""

    def __init__(self, numbers: SetNumbers, pitch: float) -> None:
        self._numbers, self._pitch = numbers, pitch
        self._drawn = _Drawn(numbers)
        self._found: dict[int, dict[tuple[int, float, float], Passing]] = defaultdict(dict)

    def by_slot(self) -> list[tuple[int, list[Passing]]]:
        """The slots in order, with what passes in each."""
        return [(slot, list(kinds.values())) for slot, kinds in sorted(self._found.items())]

    def add(self, one: Stretch, low: Written, high: Written) -> None:
        """A stretch between two numbers of any form."""
        ends = [{self._numbers.slot_of(said, n): n for n in range(len(said.words))} for said in (low, high)]
        begin, end = round(one.begin, _SAME), round(one.end, _SAME)
        for slot in {*ends[0], *ends[1]}:
            before, after = (places.get(slot) for places in ends)
            if before is not None and after is not None and low.words[before] == high.words[after]:
                self._put(slot, low, before, one.weight, 0.0, 0.0)
                continue
            if before is not None:
                self._put(slot, low, before, one.weight, begin, end)
            if after is not None:
                self._put(slot, high, after, one.weight, begin - 1.0, end - 1.0)

    def add_alike(self, several: Sequence[Stretch], pairs: Sequence[tuple[Written, Written]]) -> None:
        """Stretches between numbers of one form: as that many letters, each in the same slot, slot after slot."""
        like, count = pairs[0][0], len(pairs)
        letters = np.array([[[ord(c) for c in said.words] for said in pair] for pair in pairs])
        weights = np.array([one.weight for one in several])
        turns, turn_of = np.unique(np.round([(one.begin, one.end) for one in several], _SAME), axis=0, return_inverse=True)
        turn_of, whole = turn_of.reshape(count), len(turns) + 1
        for index in range(len(like.words)):
            slot = self._numbers.slot_of(like, index)
            low, high = letters[:, 0, index], letters[:, 1, index]
            turning = low != high
            for of, changes, back in ((low, True, 0.0), (high, False, 1.0)):
                rows = np.flatnonzero(turning) if not changes else np.arange(count)
                keys = of[rows] * whole + np.where(turning[rows], turn_of[rows] + 1, 0)
                for key, total in _totals(keys, weights[rows]):
                    letter, turn = divmod(key, whole)
                    begin, end = (turns[turn - 1] - back).tolist() if turn else (0.0, 0.0)
                    said = Written(like.words[:index] + chr(letter) + like.words[index + 1 :], like.point)
                    self._put(slot, said, index, total, begin, end)

    def _put(self, slot: int, written: Written, index: int, weight: float, begin: float, end: float) -> None:
        drawn = self._drawn(written, index, slot)
        key = id(drawn), begin, end
        known = self._found[slot].get(key)
        passing = Passing(drawn, weight, begin * self._pitch, end * self._pitch)
        self._found[slot][key] = passing if known is None else known._replace(weight=known.weight + weight)


def _totals(keys: Ints, weights: Floats) -> list[tuple[int, float]]:
    """The sum of weights by key."""
    found, place = np.unique(keys, return_inverse=True)
    return list(zip(found.tolist(), np.bincount(place.reshape(-1), weights, len(found)).tolist(), strict=True))


def _stands(passing: list[Passing]) -> bool:
    """Whether a slot shows the same all the time."""
    return len(passing) == 1 and passing[0].weight > 1 - 1e-6 and passing[0].begin == passing[0].end == 0


class _Drawn:
    """The glyphs of a slot of any number; where figures have slots, without setting each number by itself."""

    def __init__(self, numbers: SetNumbers) -> None:
        self._numbers = numbers
        self._known: dict[tuple[str, int, str], tuple[Glyph, ...]] = {}
        self._patterns: dict[str, str] = {}

    def __call__(self, written: Written, index: int, slot: int) -> tuple[Glyph, ...]:
        letter, said = written.words[index], written.words
        if self._numbers.slotted:
            if said not in self._patterns:
                self._patterns[said] = self._numbers.noughts(written).words
            said = self._patterns[said]
        key = said, index, letter
        if key not in self._known:
            self._known[key] = self._of(written, letter, slot)
        return self._known[key]

    def _of(self, written: Written, letter: str, slot: int) -> tuple[Glyph, ...]:
        numbers = self._numbers
        if not numbers.slotted or not is_digit(letter):
            return drawn_in(numbers.placed(written), numbers.first_slot + slot)
        nought, figure = numbers.ten[0], numbers.ten[unicodedata.digit(letter)]
        shift = (nought.advance - figure.advance) / 2
        noughts = drawn_in(numbers.placed(numbers.noughts(written)), numbers.first_slot + slot)
        return tuple(glyph._replace(number=figure.glyph, x=glyph.x + shift) for glyph in noughts)


def drawn_in(setting: Setting, unit: int) -> tuple[Glyph, ...]:
    """The glyphs of one slot."""
    rows = np.flatnonzero((setting.unit_of["character"] == unit) & (setting.accent == 0) & ~np.isnan(setting.ink[:, 0])).tolist()
    return tuple(
        Glyph(setting.faces[n], int(setting.glyphs[n]), float(setting.x[n]), float(setting.y[n]), float(setting.scale[n])) for n in rows
    )
