"""Timecode as SMPTE ST 12-1 counts it, drop-frame included."""

from fractions import Fraction

DROP_RATES = (Fraction(30000, 1001), Fraction(60000, 1001))
"""Rates that may drop numbers so that the count keeps up with the clock."""


def counted_rate(rate: Fraction) -> int:
    """The whole number of frames that timecode counts in a second: 24 for 24000/1001."""
    return max(1, round(rate))


def timecode(frame: int, rate: Fraction, drop: bool = False) -> str:
    """``HH:MM:SS:FF`` of a frame; with ``drop``, ``HH:MM:SS;FF``.

    Drop-frame leaves out the first 2 numbers of each minute (4 at 59.94) but those of minutes 0, 10, 20, 30, 40, 50.
    """
    if drop and rate not in DROP_RATES:
        raise ValueError(f"drop-frame timecode is for 29.97 and 59.94 frames a second, not {float(rate):g}")
    from opentimelineio.opentime import RationalTime

    if RationalTime.is_valid_timecode_rate(float(rate)):
        return str(RationalTime(frame, float(rate)).to_timecode(float(rate), drop))
    counted = counted_rate(rate)  # the standard has no timecode at this rate; it is counted in the same manner
    seconds, frames = divmod(frame, counted)
    minutes, seconds = divmod(seconds, 60)
    hours, minutes = divmod(minutes, 60)
    return f"{hours % 24:02}:{minutes:02}:{seconds:02}:{frames:0{len(str(counted - 1))}}"


def seconds_of(frame: int, rate: Fraction) -> float:
    """When a frame begins, in seconds."""
    return float(frame / rate)


def read_rate(words: str) -> str:
    """A rate as a fraction, ``24000/1001``, from what people write: 25, 23.976, 29.97, 48, 24000/1001; raises ``ValueError``."""
    plain = words.strip().casefold().removesuffix("fps").strip().replace(",", ".")
    try:
        rate = Fraction(plain)
    except (ValueError, ZeroDivisionError):
        raise ValueError(f"“{words}” is not a frame rate. Write, for example, 25, 29.97 or 24000/1001.") from None
    if "/" not in plain:
        near = [Fraction(n * 1000, 1001) for n in (24, 30, 48, 60, 120)]
        rate = next((r for r in near if abs(float(r) - float(rate)) < 0.008), rate.limit_denominator(10_000))
    if not 1 <= rate <= 1000:
        raise ValueError(f"A frame rate lies between 1 and 1,000 frames a second, not {float(rate):g}.")
    return f"{rate.numerator}/{rate.denominator}"


def rate_words(rate: Fraction) -> str:
    """A rate as people say it: 25, 23.976, 29.97."""
    return str(rate.numerator) if rate.denominator == 1 else f"{float(rate):.3f}".rstrip("0").rstrip(".")
