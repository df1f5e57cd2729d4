"""Which numbers a counter's wheels pass in a time, and for how long each: what a frame shows of them while it is exposed."""

import itertools
import math
from collections import defaultdict
from collections.abc import Iterator, Sequence
from fractions import Fraction
from typing import NamedTuple

from avlet.text.wheels import Stretch

PIECES = 6
"""A time is taken in so many pieces, in each of which the count goes at one speed."""
_MOST_STEPS = 240
"""Numbers that are looked at in one time at most; where it passes more, some runs of ten among them."""
_RUNS, _TEN = 20, 10
"""So many runs, evenly over the time: each figure of the last places stands in equally many of their numbers."""
_APART = (1, 3, 7, 9)
"""A place's figure goes on by so much from run to run: they have no factor in common with ten, so that it comes to every one."""


class At(NamedTuple):
    """Where a count is at a moment: steps done, a fraction included, and which share of each step its wheels turn in, the last."""

    place: Fraction
    turns_for: float


def stretches_over(moments: Sequence[At], last: int | None) -> tuple[Stretch, ...]:
    """What is passed between evenly spaced ``moments``, as shares of the whole time; the same stretch once.

    ``last`` is the number of steps that the count has, where it does not pass its end.
    """
    weights: dict[tuple[int, float, float], float] = defaultdict(float)
    places = [max(Fraction(0), one.place if last is None else min(one.place, Fraction(last))) for one in moments]
    if sum(abs(other - one) for one, other in itertools.pairwise(places)) > _MOST_STEPS:
        turns_for = sum(one.turns_for for one in moments) / len(moments)
        for step in _runs(places):
            for part, low, high in _turning(0.0, 1.0, turns_for):
                weights[step, low, high] += part / (_RUNS * _TEN)
    else:
        pieces = len(moments) - 1
        for n in range(pieces):
            turns_for = (moments[n].turns_for + moments[n + 1].turns_for) / 2
            for step, share, begin, end in _passed(*sorted(places[n : n + 2])):
                for part, low, high in _turning(begin, end, turns_for):
                    weights[step, low, high] += share * part / pieces
    return tuple(Stretch(step, weight, low, high) for (step, low, high), weight in sorted(weights.items()))


def _passed(low: Fraction, high: Fraction) -> Iterator[tuple[int, float, float, float]]:
    """The steps between two places: each with its share of the way, and from where to where of it that goes."""
    first, way = math.floor(low), float(high - low)
    if low == high:
        yield first, 1.0, float(low - first), float(low - first)
        return
    for step in range(first, math.ceil(high)):
        begin, until = max(0.0, float(low - step)), min(1.0, float(high - step))
        yield step, (until - begin) / way, begin, until


def _runs(places: Sequence[Fraction]) -> Iterator[int]:
    """Steps that stand for all that are passed: some runs of ten, evenly over the time.

    Of the places that come round twice at least each figure is in equally many runs.
    """
    pieces, lowest, highest = len(places) - 1, math.floor(min(places)), math.ceil(max(places))
    round_way = _TEN * _TEN
    while 2 * _TEN * round_way <= highest - lowest:
        round_way *= _TEN
    for run in range(_RUNS):
        at = (run + 0.5) / _RUNS * pieces
        piece = min(int(at), pieces - 1)
        place = places[piece] + (places[piece + 1] - places[piece]) * Fraction(at - piece)
        begin, unit = math.floor(place / round_way) * round_way, _TEN
        for times in itertools.cycle(_APART):
            if unit >= round_way:
                break
            begin += run * times % _TEN * unit
            unit *= _TEN
        if begin < lowest:
            begin += round_way
        elif begin + _TEN > highest:
            begin -= round_way
        begin = max(lowest, min(begin, highest - _TEN))
        yield from range(begin, begin + _TEN)


def _turning(begin: float, end: float, turns_for: float) -> Iterator[tuple[float, ...]]:
    """A stretch of a step as what of it stands and what turns: shares of the stretch, and from where to where of the turn."""
    starts, way = 1.0 - turns_for, end - begin
    if way <= 0:
        at = min(1.0, max(0.0, (begin - starts) / turns_for)) if turns_for > 0 else 0.0
        yield 1.0, at, at
        return
    stands = min(max(starts - begin, 0.0), way)
    if stands > 0:
        yield stands / way, 0.0, 0.0
    if stands < way and turns_for > 0:
        turns = ((max(begin, starts) - starts) / turns_for, (end - starts) / turns_for)
        yield (way - stands) / way, *(min(1.0, max(0.0, turn)) for turn in turns)
