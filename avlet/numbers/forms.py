"""Which numbers of a count to write so that every form that its language has for them is among them, however long the count is.

What stands beside a number (*kilometre*, *kilometres*, *th*) follows from its plural operands (UTS #35 part 3, Language Plural Rules):
whole digits and shown decimals, each modulo 100 at most. So the last hundred values near both ends of a count, those with fewer decimals
and those by the units of short forms taken by themselves, show all of them with as many figures as they ever have.
"""

import math
from collections.abc import Iterator
from fractions import Fraction

from avlet.numbers.exact import Count
from avlet.numbers.written import How

_PERIOD = 100
"""Values after which all classes of plural operands have come round, and a few more for the steps at the ends."""
_MORE = 4
WORDED = ("unit", "money", "ordinal", "short")
"""Styles in which words beside the number follow it."""


def classes(count: Count, how: How, over: int) -> set[int]:
    """Numbers of steps, each from 0 to all of them and ``over`` beyond, whose values show every form."""
    last = count.steps + over
    found: set[int] = set()
    for first in _near_the_ends(count.steps, over):
        found |= set(range(max(0, first), min(last, first + _PERIOD + _MORE) + 1))
    for decimals in range(how.most_decimals + 1):
        found |= set(_with_decimals(count, decimals, last))
        found |= set(_shown_at(count, Fraction(1, 10**decimals), last))
    if how.style == "short":
        for power in range(16):
            for decimals in range(how.most_decimals + 1):
                found |= set(_shown_at(count, Fraction(10) ** (power - decimals), last, _PERIOD if how.width == "in full" else 30))
    return found


def _near_the_ends(steps: int, over: int) -> tuple[int, ...]:
    return 0, max(0, steps - _PERIOD - _MORE), steps, max(0, steps + over - _PERIOD)


def _with_decimals(count: Count, decimals: int, last: int) -> Iterator[int]:
    """Steps after which the value has at most so many decimals, near both ends: a linear congruence of whole numbers."""
    places = max(0, -_exponent(count.start), -_exponent(count.step))
    if places <= decimals:
        return
    scale, modulus = 10**places, 10 ** (places - decimals)
    direction = 1 if count.end >= count.start else -1
    start, step = int(count.start * scale) % modulus, int(count.step * scale) * direction % modulus
    shared = math.gcd(step, modulus)
    if start % shared:
        return
    period = modulus // shared
    first = -start // shared * pow(step // shared, -1, period) % period if period > 1 else 0
    final = last - (last - first) % period
    for n in range(_PERIOD + _MORE):
        yield from (at for at in (first + n * period, final - n * period) if 0 <= at <= last)


def _exponent(value: object) -> int:
    return int(value.as_tuple().exponent)  # type: ignore[attr-defined]


def _shown_at(count: Count, unit: Fraction, last: int, most: int = _PERIOD) -> Iterator[int]:
    """Steps at which the last multiples of a unit below both ends, and below every thousandfold of it, are shown first."""
    direction = 1 if count.end >= count.start else -1
    start, step = Fraction(count.start), Fraction(count.step)
    ends = (start, Fraction(count.end), start + direction * step * last)
    most_of_all = max(map(abs, ends))
    edges = {abs(end) for end in ends} | {unit * 10**n for n in (3, 4, 5) if unit * 10**n < most_of_all}
    for edge in edges:
        whole = math.floor(edge / unit)
        for n in range(min(most, whole) + 1):
            for sign in (1, -1):
                at = (sign * (whole - n) * unit - start) / step * direction
                if -1 < at < last + 1:
                    yield from (near for near in (math.floor(at), math.ceil(at)) if 0 <= near <= last)
