"""The kinds of array that the engine passes about."""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Marks = NDArray[np.bool_]
"""Yes or no for each."""


def distinct(numbers: Ints) -> Ints:
    """Which numbers from 0 on are among some, sorted; those below 0 stand for none."""
    return np.flatnonzero(np.bincount(numbers[numbers >= 0])) if len(numbers) else np.zeros(0, np.int64)


def renumbered(numbers: Ints, kept: Ints) -> Ints:
    """Each number's place among those that are ``kept``, which are sorted and from 0 on; -1 for the others."""
    places = np.full(int(max(numbers.max(initial=-1), kept.max(initial=-1))) + 2, -1, np.int64)
    places[kept] = np.arange(len(kept))
    return places[np.maximum(numbers, -1)]
