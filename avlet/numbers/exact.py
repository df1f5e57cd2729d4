"""Exact counting: decimals from a start to an end in whole steps. No float reaches what is shown."""

import functools
import math
from dataclasses import dataclass
from decimal import ROUND_HALF_EVEN, Context, Decimal, DecimalException
from fractions import Fraction

MOST = Decimal(10) ** 15
MOST_DECIMALS = 9
_EXACT = Context(prec=60, rounding=ROUND_HALF_EVEN)
"""Enough figures for anything within the limits, times any step."""


def exact(value: object) -> Decimal:
    """A number as a decimal within the limits; raises ``ValueError`` in words.

    A float counts as the shortest decimal that is read as it.
    """
    try:
        found = _EXACT.create_decimal(repr(value) if isinstance(value, float) else str(value).strip())
    except (DecimalException, ValueError):
        raise ValueError(f"takes a number, not “{str(value)[:60]}”") from None
    if not found.is_finite():
        raise ValueError(f"takes a number, not “{str(value)[:60]}”")
    if abs(found) > MOST:
        raise ValueError(f"must lie between −{MOST:,f} and {MOST:,f}")
    if found.as_tuple().exponent < -MOST_DECIMALS and found != round(found, MOST_DECIMALS):  # type: ignore[operator]
        raise ValueError(f"takes at most {MOST_DECIMALS} decimals")
    return found


def plain(value: Decimal) -> str:
    """A decimal as text: without an exponent, without zeros that say nothing, zero without a sign."""
    text = f"{value:f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def in_full(value: float) -> str:
    """A number with all of its figures, never with an exponent: read back it is the same."""
    return plain(Decimal(repr(float(value))))


def in_figures(value: float) -> str:
    """A number as screens and messages say it: to six figures, large ones in full and in groups, never with an exponent."""
    if not math.isfinite(value):
        return f"{value:g}"
    large = abs(value) >= 999_999.5
    words = plain(Decimal(f"{value:.{15 if large else 6}g}"))
    whole, point, rest = words.partition(".")
    return f"{int(whole):,}{point}{rest}" if large else words


def about(value: float, figures: int = 4) -> str:
    """A number rounded to so many figures, as screens say it: never with an exponent."""
    return in_figures(float(f"{value:.{figures}g}")) if math.isfinite(value) else in_figures(value)


def decimals_of(value: Decimal) -> int:
    """How many decimals a number needs."""
    return max(0, -int(value.normalize(_EXACT).as_tuple().exponent))


@dataclass(frozen=True)
class Count:
    """From ``start`` to ``end`` by ``step``, which is above 0; up or down.

    What is shown is the start and a whole number of steps, rounded towards the start, until the end is reached.
    """

    start: Decimal
    end: Decimal
    step: Decimal

    @functools.cached_property
    def distance(self) -> Decimal:
        """From the start to the end, without a sign."""
        return abs(_EXACT.subtract(self.end, self.start))

    @functools.cached_property
    def steps(self) -> int:
        """How many steps it takes; the last may be a shorter one."""
        return math.ceil(Fraction(self.distance) / Fraction(self.step))

    def after(self, steps: int) -> Decimal:
        """The number after so many steps; the end after the last, and beyond it by whole steps after that."""
        direction = 1 if self.end >= self.start else -1
        if steps == self.steps:
            return self.end
        whole = steps if steps < self.steps else steps - self.steps
        base = self.start if steps < self.steps else self.end
        return _EXACT.add(base, _EXACT.multiply(self.step, Decimal(direction * whole)))

    def place(self, share: float | Fraction) -> Fraction:
        """How many steps are done at a share of the way, a fraction included: 0 at the start, :attr:`steps` at the end."""
        exactly = Fraction(share)
        if exactly == 1:
            return Fraction(self.steps)
        at = exactly * Fraction(self.distance) / Fraction(self.step)
        if exactly < 1:
            return at
        return self.steps + (exactly - 1) * Fraction(self.distance) / Fraction(self.step)
