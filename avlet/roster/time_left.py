"""An honest time left: from what was done lately, and nothing before that can be told."""

import time
from collections import deque
from collections.abc import Callable

_BACK = 30.0
"""Seconds that are looked back."""
_SOONEST, _LEAST = 3.0, 0.01
"""Seconds of work, and share of it, from which on something is said."""


class TimeLeft:
    """``share`` of all work is told as it grows; ``clock`` gives seconds."""

    def __init__(self, clock: Callable[[], float] = time.monotonic) -> None:
        self._clock = clock
        self._told: deque[tuple[float, float]] = deque()

    def tell(self, share: float) -> None:
        """So much of all is done, from 0 to 1."""
        now = self._clock()
        self._told.append((now, share))
        while len(self._told) > 2 and self._told[1][0] < now - _BACK:
            self._told.popleft()

    @property
    def seconds(self) -> float | None:
        """Seconds that are left; None where that cannot be told yet."""
        if len(self._told) < 2:
            return None
        (begun, before), (_, share) = self._told[0], self._told[-1]
        spent = self._clock() - begun
        gone = share - before
        return (1.0 - share) * spent / gone if spent >= _SOONEST and gone >= _LEAST else None

    @property
    def words(self) -> str:
        """The same in words, rounded to what can be known; empty where nothing can be said."""
        left = self.seconds
        if left is None:
            return ""
        if left < 8:
            return "a few seconds left"
        if left < 55:
            return f"about {max(10, round(left / 10) * 10)} seconds left"
        minutes = round(left / 60)
        if minutes < 90:
            return "about a minute left" if minutes <= 1 else f"about {minutes} minutes left"
        return f"about {round(left / 3600, 1):g} hours left"
