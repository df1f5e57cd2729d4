"""Sums with colours: mixing, darker, lighter, contrast. Colours are sRGB, ``#RRGGBB`` or ``#RRGGBBAA``."""

import math
from collections.abc import Iterable

DARK, LIGHT = "#14181B", "#FFFFFF"
"""What words are coloured where they have to be read on another colour."""
READABLE = 4.5
"""Contrast that body text needs at least by WCAG 2 (success criterion 1.4.3, level AA)."""


def channels(colour: str) -> tuple[int, int, int, int]:
    """Red, green, blue and alpha, 0–255."""
    digits = colour.lstrip("#").ljust(8, "F") if len(colour) == 7 else colour.lstrip("#")
    red, green, blue, alpha = (int(digits[i : i + 2], 16) for i in (0, 2, 4, 6))
    return red, green, blue, alpha


def written(values: Iterable[float]) -> str:
    """A colour from its four channels; its alpha only if it is not whole."""
    whole = [min(255, max(0, math.floor(v + 0.5))) for v in values]
    digits = "".join(f"{v:02X}" for v in whole)
    return f"#{digits if whole[3] < 255 else digits[:6]}"


def mixed(first: str, second: str, share: float) -> str:
    """Between two colours: the first at 0, the second at 1; straight in sRGB."""
    share = min(1.0, max(0.0, share))
    return written([a + (b - a) * share for a, b in zip(channels(first), channels(second), strict=True)])


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
    linear = [v / 255 / 12.92 if v / 255 <= 0.04045 else ((v / 255 + 0.055) / 1.055) ** 2.4 for v in channels(colour)[:3]]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(first: str, second: str) -> float:
    """Contrast ratio as WCAG 2 defines it, 1 to 21."""
    low, high = sorted((luminance(first), luminance(second)))
    return (high + 0.05) / (low + 0.05)


def readable_on(colour: str) -> str:
    """Dark or light words, whichever stand out more on a colour."""
    return max((LIGHT, DARK), key=lambda words: contrast(words, colour))
