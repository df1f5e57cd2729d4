"""What a check finds: what, where, how much against which limit, and whose limit that is."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Literal

from avlet.geometry import Box
from avlet.review.looked import Looked

Level = Literal["breaks", "to look at", "told"]
LEVELS: tuple[Level, ...] = ("breaks", "to look at", "told")
"""Worst first. What is told needs nobody."""
COMMON = "common practice, no source"


@dataclass(frozen=True)
class Finding:
    """One thing that was found in one sample.

    ``words`` is a sentence that names the part. ``first`` and ``last`` are the frames in which it is so, ``box`` where, in px of the
    frame. ``amount`` and ``limit`` are in ``unit``. ``verdict`` is the same in two or three words.
    """

    check: str
    level: Level
    part_id: str
    words: str
    verdict: str
    amount: float = 0.0
    limit: float = 0.0
    unit: str = ""
    first: int | None = None
    last: int | None = None
    box: Box | None = None
    sample: str = ""


@dataclass(frozen=True)
class Check:
    """A check: its name, what holds when it finds nothing, its limit in words with its source, and what measures it."""

    id: str
    name: str
    holds: str
    limit: str
    source: str
    run: Callable[[Looked], Iterator[Finding]] = field(repr=False)


def px(amount: float) -> str:
    """A length in words: whole px, and one decimal under 10."""
    return f"{amount:.0f} px" if amount >= 9.95 or abs(amount - round(amount)) < 0.05 else f"{amount:.1f} px"


def frames_in_words(frames: list[int]) -> str:
    """Which frames, in words."""
    return f"frame {frames[0]}" if len(frames) == 1 else f"frames {frames[0]} to {frames[-1]}"
