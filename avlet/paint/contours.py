"""Paths as contours: curves flattened so that no point of them is further from its curve than a tolerance."""

import math

import numpy as np
import skia

from avlet.arrays import Floats

TOLERANCE = 0.08
"""px: less than is seen at four times the size."""
FINE = 0.01
"""px: less than changes a px by a step or two of 255."""
_MOST_STEPS = 256


def contours_of(path: skia.Path, tolerance: float = TOLERANCE) -> list[Floats]:
    """The closed contours (n, 2) of a path in its px; open ones are closed, as filling does."""
    found: list[Floats] = []
    points: list[Floats] = []
    iterator = skia.Path.RawIter(path)
    while True:
        verb, at = iterator.next()
        if verb in (skia.Path.Verb.kMove_Verb, skia.Path.Verb.kDone_Verb):
            if points:
                found.append(np.concatenate(points))
            points = [] if verb == skia.Path.Verb.kDone_Verb else [_array(at[:1])]
            if verb == skia.Path.Verb.kDone_Verb:
                return found
        elif verb == skia.Path.Verb.kLine_Verb:
            points.append(_array(at[1:2]))
        elif verb == skia.Path.Verb.kQuad_Verb:
            points.append(_quad(_array(at[:3]), tolerance))
        elif verb == skia.Path.Verb.kConic_Verb:
            points.append(_conic(_array(at[:3]), iterator.conicWeight(), tolerance))
        elif verb == skia.Path.Verb.kCubic_Verb:
            points.append(_cubic(_array(at[:4]), tolerance))


def _array(points: list[skia.Point]) -> Floats:
    return np.array([(p.x(), p.y()) for p in points], float)


def _steps(bend: float, tolerance: float) -> int:
    """How many lines a curve is made of whose second difference is so large: the error of n of them is an eighth of it by n²."""
    return max(1, min(_MOST_STEPS, math.ceil(math.sqrt(bend / (8 * tolerance))))) if math.isfinite(bend) else 1


def _quad(p: Floats, tolerance: float) -> Floats:
    n = _steps(float(np.hypot(*(2 * (p[0] - 2 * p[1] + p[2])))), tolerance)
    t = (np.arange(1, n + 1) / n)[:, None]
    made: Floats = (1 - t) ** 2 * p[0] + 2 * t * (1 - t) * p[1] + t**2 * p[2]
    return made


def _conic(p: Floats, weight: float, tolerance: float) -> Floats:
    n = 2 * _steps(float(np.hypot(*(2 * (p[0] - 2 * p[1] + p[2])))), tolerance)
    t = (np.arange(1, n + 1) / n)[:, None]
    a, b, c = (1 - t) ** 2, 2 * weight * t * (1 - t), t**2
    made: Floats = (a * p[0] + b * p[1] + c * p[2]) / (a + b + c)
    return made


def _cubic(p: Floats, tolerance: float) -> Floats:
    bend = max(float(np.hypot(*(6 * (p[0] - 2 * p[1] + p[2])))), float(np.hypot(*(6 * (p[1] - 2 * p[2] + p[3])))))
    n = _steps(bend, tolerance)
    t = (np.arange(1, n + 1) / n)[:, None]
    made: Floats = (1 - t) ** 3 * p[0] + 3 * t * (1 - t) ** 2 * p[1] + 3 * t**2 * (1 - t) * p[2] + t**3 * p[3]
    return made
