"""Eases: CSS ``cubic-bezier()`` for whole arrays of progress at once."""

import numpy as np

from avlet.arrays import Floats
from avlet.document.moves import CubicBezier

_ROUNDS = 60
_CLOSE = 1e-12


def ease_progress(ease: CubicBezier, progress: Floats) -> Floats:
    """The eased value for each progress in 0…1, same shape; 0 and 1 map exactly to 0 and 1.

    https://www.w3.org/TR/css-easing-1/#cubic-bezier-algo: the curve's parameter is found for ``x = progress``, then its ``y``.
    """
    p = np.clip(np.asarray(progress, np.float64), 0.0, 1.0)
    if ease.x1 == ease.y1 and ease.x2 == ease.y2:
        return p
    t = _parameter(ease, p)
    value = _bezier(t, ease.y1, ease.y2)
    return np.where(p <= 0.0, 0.0, np.where(p >= 1.0, 1.0, value))


def _parameter(ease: CubicBezier, x: Floats) -> Floats:
    """Solve ``x(t) = x`` by Newton steps kept inside a shrinking bracket; ``x(t)`` never falls as x1, x2 lie in 0…1."""
    low, high = np.zeros_like(x), np.ones_like(x)
    t = x.copy()
    for _ in range(_ROUNDS):
        error = _bezier(t, ease.x1, ease.x2) - x
        if np.all(np.abs(error) < _CLOSE):
            break
        high = np.where(error > 0, t, high)
        low = np.where(error <= 0, t, low)
        slope = _slope(t, ease.x1, ease.x2)
        newton = t - error / np.where(slope > 1e-9, slope, np.inf)
        inside = (newton > low) & (newton < high) & (slope > 1e-9)
        t = np.where(inside, newton, (low + high) / 2)
    return t


def _bezier(t: Floats, a: float, b: float) -> Floats:
    """One coordinate of a cubic from 0 to 1 with control values a and b."""
    s = 1.0 - t
    return 3 * s * s * t * a + 3 * s * t * t * b + t * t * t


def _slope(t: Floats, a: float, b: float) -> Floats:
    s = 1.0 - t
    return 3 * s * s * a + 6 * s * t * (b - a) + 3 * t * t * (1 - b)
