"""Eases: CSS ``cubic-bezier()`` for whole arrays of progress at once."""

import functools

import numpy as np

from avlet.arrays import Floats
from avlet.document.moves import CubicBezier

_SAMPLES = 8193
"""Points kept of a curve. Between two of them a straight line is off by less than a millionth of the movement."""


def ease_progress(ease: CubicBezier, progress: Floats) -> Floats:
    """The eased value for each progress, same shape; what is before 0 or after 1 stays at the exact end.

    https://www.w3.org/TR/css-easing-1/#cubic-bezier-algo: the value is the curve's y where its x is the progress.
    """
    x, y = _curve(ease.x1, ease.y1, ease.x2, ease.y2)
    return np.interp(progress, x, y)


@functools.lru_cache(maxsize=128)
def _curve(x1: float, y1: float, x2: float, y2: float) -> tuple[Floats, Floats]:
    """Points of a curve from (0, 0) to (1, 1); x never falls, as x1 and x2 lie in 0…1."""
    t = np.linspace(0.0, 1.0, _SAMPLES)
    return _bezier(t, x1, x2), _bezier(t, y1, y2)


def _bezier(t: Floats, a: float, b: float) -> Floats:
    """One coordinate of a cubic from 0 to 1 with control values a and b."""
    s = 1.0 - t
    return 3 * s * s * t * a + 3 * s * t * t * b + t * t * t
