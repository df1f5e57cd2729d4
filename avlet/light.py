"""Light: sRGB and linear light, and how bright a colour is."""

import numpy as np

from avlet.arrays import Floats

KR, KB = 0.2126, 0.0722
KG = 1.0 - KR - KB
LUMA = np.array([KR, KG, KB])
"""How much red, green and blue add to brightness (ITU-R BT.709, items 3.2 and 3.3)."""


def to_linear(srgb: Floats) -> Floats:
    """sRGB, 0 to 1, as linear light (IEC 61966-2-1)."""
    found: Floats = np.where(srgb <= 0.04045, srgb / 12.92, ((np.maximum(srgb, 0.0) + 0.055) / 1.055) ** 2.4)
    return found


def from_linear(light: Floats) -> Floats:
    """Linear light as sRGB, 0 to 1 (IEC 61966-2-1)."""
    found: Floats = np.where(light <= 0.0031308, light * 12.92, 1.055 * np.maximum(light, 0.0) ** (1 / 2.4) - 0.055)
    return found


def luminance(rgb: Floats) -> Floats:
    """Relative luminance of colours (…, 3) of sRGB, 0 to 1 (WCAG 2.2)."""
    found: Floats = to_linear(rgb) @ LUMA
    return found
