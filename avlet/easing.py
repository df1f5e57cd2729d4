"""Eases worked out for whole arrays of progress at once."""

import functools

import numpy as np

from avlet.arrays import Floats
from avlet.document.time.eases import Backwards, Bounce, CubicBezier, Ease, Linear, Overshoot, Spring, Steps

_SAMPLES = 8193
"""Points kept of a curve. Between two of them a straight line is off by less than a millionth of the movement."""


def ease_progress(ease: Ease, progress: Floats) -> Floats:
    """The eased value for each progress, same shape; what is before 0 or after 1 stays at the exact end."""
    if isinstance(ease, Backwards):
        return 1.0 - ease_progress(ease.ease, 1.0 - progress)
    if isinstance(ease, Steps):
        return _steps(ease, progress)
    x, y = _curve(ease)
    return np.interp(progress, x, y)


def speed(ease: Ease, progress: Floats) -> Floats:
    """How fast the value changes: its derivative by progress, from differences over a 2000th of the movement."""
    half = 0.00025
    low, high = np.clip(progress - half, 0, 1), np.clip(progress + half, 0, 1)
    return (ease_progress(ease, high) - ease_progress(ease, low)) / (high - low)


@functools.lru_cache(maxsize=256)
def _curve(ease: Ease) -> tuple[Floats, Floats]:
    """Points of a curve from progress 0 to 1, where the value is exactly 0 and 1 but for ``linear()``."""
    t = np.linspace(0.0, 1.0, _SAMPLES)
    match ease:
        case CubicBezier():
            # https://www.w3.org/TR/css-easing-1/#cubic-bezier-algo: the curve's y where its x is the progress.
            return _bezier(t, ease.x1, ease.x2), _bezier(t, ease.y1, ease.y2)
        case Linear():
            # https://www.w3.org/TR/css-easing-2/#linear-easing-function; two points at one place are a jump.
            return np.array([p.x for p in ease.points]), np.array([p.y for p in ease.points])
        case Spring():
            return t, _spring(ease, t)
        case Overshoot():
            s = _tension(ease.amount / 100)
            return t, 1 + (s + 1) * (t - 1) ** 3 + s * (t - 1) ** 2
        case Bounce():
            return t, 1 - _fall(ease, t)
    raise AssertionError(ease)


def _bezier(t: Floats, a: float, b: float) -> Floats:
    """One coordinate of a cubic from 0 to 1 with control values a and b."""
    s = 1.0 - t
    return 3 * s * s * t * a + 3 * s * t * t * b + t * t * t


def _steps(ease: Steps, progress: Floats) -> Floats:
    """https://www.w3.org/TR/css-easing-1/#step-timing-functions; at progress 1 it has arrived."""
    before = ease.jump in ("jump-start", "jump-both")
    jumps = ease.count + {"jump-none": -1, "jump-both": 1}.get(ease.jump, 0)
    current = np.floor(np.clip(progress, 0, 1) * ease.count) + before
    value: Floats = np.clip(current, 0, jumps) / max(jumps, 1)
    return np.where(progress >= 1, 1.0, np.where(progress < 0, 0.0, value))


def _spring(ease: Spring, t: Floats) -> Floats:
    """The solution of x'' + 2ζω x' + ω² (x − 1) = 0 from rest at 0, as a share of where it is at time 1."""
    zeta, omega = ease.damping, 2 * np.pi * ease.swings
    if zeta >= 1:
        value = 1 - np.exp(-omega * t) * (1 + omega * t)
    else:
        damped = omega * np.sqrt(1 - zeta * zeta)
        value = 1 - np.exp(-zeta * omega * t) * (np.cos(damped * t) + zeta * omega / damped * np.sin(damped * t))
    share: Floats = value / value[-1]
    return share


def _tension(amount: float) -> float:
    """The s of 1 + (s + 1)(t − 1)³ + s (t − 1)² whose largest value is 1 + ``amount``: there 4 s³ / (27 (s + 1)²) past 1."""
    low, high = 0.0, 100.0
    for _ in range(80):
        middle = (low + high) / 2
        past = 4 * middle**3 / (27 * (middle + 1) ** 2)
        low, high = (middle, high) if past < amount else (low, middle)
    return (low + high) / 2


def _fall(ease: Bounce, t: Floats) -> Floats:
    """The height of a thing that falls from 1 and rebounds; heights and times of the arcs go by gravity alone."""
    heights = [1.0] + [(ease.height / 100) ** n for n in range(1, ease.bounces + 1)]
    times = [1.0] + [2 * np.sqrt(h) for h in heights[1:]]
    total, height, begin = sum(times), np.zeros_like(t), 0.0
    for n, (top, lasts) in enumerate(zip(heights, times, strict=True)):
        within = (t * total >= begin) & (t * total <= begin + lasts)
        share = (t * total - begin) / lasts
        arc = top * (1 - share**2) if n == 0 else top * 4 * share * (1 - share)
        height = np.where(within, arc, height)
        begin += lasts
    height[-1] = 0.0
    return height
