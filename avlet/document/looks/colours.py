"""Colours read, written and reckoned with: mixing, darker, lighter, contrast. They are sRGB, ``#RRGGBB`` or ``#RRGGBBAA``."""

import functools
import math
import re
from collections.abc import Iterable
from typing import NamedTuple

import numpy as np

from avlet import light
from avlet.document.metadata import COLOUR_PATTERN

DARK, LIGHT = "#14181B", "#FFFFFF"
"""What words are coloured where they have to be read on another colour."""
READABLE = 4.5
"""Contrast that body text needs at least by WCAG 2 (success criterion 1.4.3, level AA)."""


_PATTERN = re.compile(COLOUR_PATTERN)


class Rgba(NamedTuple):
    """Red, green, blue and alpha, 0–255, alpha straight."""

    red: int
    green: int
    blue: int
    alpha: int = 255

    @property
    def shares(self) -> tuple[float, float, float, float]:
        """The same as shares, 0 to 1."""
        return self.red / 255, self.green / 255, self.blue / 255, self.alpha / 255

    @property
    def argb(self) -> int:
        """As one number with alpha in front, as Skia has it."""
        return self.alpha << 24 | self.red << 16 | self.green << 8 | self.blue


def is_colour(words: str) -> bool:
    """Whether words are a colour."""
    return bool(_PATTERN.match(words))


@functools.lru_cache(maxsize=1024)
def channels(colour: str) -> Rgba:
    """The channels of a colour; whole where it names no alpha."""
    return Rgba(*bytes.fromhex(colour[1:]))


def written(values: Iterable[float]) -> str:
    """A colour from its four channels; its alpha only if it is not whole."""
    whole = [min(255, max(0, math.floor(v + 0.5))) for v in values]
    digits = "".join(f"{v:02X}" for v in whole)
    return f"#{digits if whole[3] < 255 else digits[:6]}"


def mixed(first: str, second: str, share: float) -> str:
    """Between two colours: the first at 0, the second at 1; straight in sRGB."""
    share = min(1.0, max(0.0, share))
    return written([a + (b - a) * share for a, b in zip(channels(first), channels(second), strict=True)])


def mixed_by_cover(first: str, second: str, share: float) -> str:
    """Between two colours with premultiplied alpha, so that a clear one does not darken or brighten the way; in sRGB."""
    (*one, a), (*other, b) = channels(first), channels(second)
    alpha = a + (b - a) * share
    if alpha <= 0:
        return written([*other, 0])
    return written([*((x * a + (y * b - x * a) * share) / alpha for x, y in zip(one, other, strict=True)), alpha])


def is_opaque(colour: str) -> bool:
    """Whether nothing shows through a colour."""
    return channels(colour).alpha == 255


def is_clear(colour: str) -> bool:
    """Whether nothing is seen of a colour."""
    return channels(colour).alpha == 0


def darker(colour: str, percent: float) -> str:
    """So much nearer to black, its alpha kept."""
    *rgb, alpha = channels(colour)
    return written([*(v * (1 - min(100.0, max(0.0, percent)) / 100) for v in rgb), alpha])


def lighter(colour: str, percent: float) -> str:
    """So much nearer to white, its alpha kept."""
    *rgb, alpha = channels(colour)
    return written([*(v + (255 - v) * min(100.0, max(0.0, percent)) / 100 for v in rgb), alpha])


def luminance(colour: str) -> float:
    """Relative luminance as WCAG 2 defines it, 0 black to 1 white; alpha does not count."""
    return float(light.luminance(np.array(channels(colour)[:3]) / 255))


def contrast(first: str, second: str) -> float:
    """Contrast ratio as WCAG 2 defines it, 1 to 21."""
    low, high = sorted((luminance(first), luminance(second)))
    return (high + 0.05) / (low + 0.05)


def readable_on(colour: str) -> str:
    """Dark or light words, whichever stand out more on a colour."""
    return max((LIGHT, DARK), key=lambda words: contrast(words, colour))
