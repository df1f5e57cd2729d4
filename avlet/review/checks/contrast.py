"""Words stand out from what is really behind them."""

from collections.abc import Iterator

import numpy as np

from avlet.arrays import Floats, Marks
from avlet.light import luminance
from avlet.numbers.exact import in_figures
from avlet.paint.painter import Pixels
from avlet.review.checks.base import Check, Finding
from avlet.review.looked import Looked, bounds_of

_ID = "contrast"
LARGE_SIZE = 24.0
"""px from which on words are large, at 1080 lines."""
PLAIN, LARGE = 4.5, 3.0
_SHARE = 0.1
"""The share of the ink that may have less contrast: edges, and where strokes cross."""
_OPAQUE = 250
PLATES = ((0.0, 0.0, 0.0), (1.0, 1.0, 1.0))


def ratio(one: Floats, other: Floats) -> Floats:
    """Contrast of two luminances, 1 to 21 (WCAG 2.2)."""
    low, high = np.minimum(one, other), np.maximum(one, other)
    found: Floats = (high + 0.05) / (low + 0.05)
    return found


def _over(pixels: Floats, ground: Floats) -> Floats:
    """Premultiplied colours (n, 4) over opaque ones (n, 3)."""
    found: Floats = pixels[:, :3] + ground * (1 - pixels[:, 3:])
    return found


def contrast_of(words: Pixels, behind: Pixels, fronts: Marks | None = None) -> tuple[float, bool, Marks] | None:
    """The contrast that all but a tenth of some words' ink has, whether they lie on something opaque, and where that ink is.

    ``words`` and ``behind`` are premultiplied. Where nothing opaque lies behind it is the better of black and white: over footage
    words need only stand out from one of them by themselves. Solid letters are read by their ``fronts``.
    """
    alpha = np.ascontiguousarray(words[..., 3])
    most = int(alpha.max())
    core = alpha >= min(_OPAQUE, most)
    if fronts is not None and (core & fronts).any():
        core &= fronts
    if most < 8:
        return None
    ink, ground = words[core] / 255.0, behind[core] / 255.0
    covered = float(np.mean(ground[:, 3] >= _OPAQUE / 255)) > 1 - _SHARE
    ratios = []
    for plate in PLATES:
        below = _over(ground, np.array(plate))
        found = ratio(luminance(np.clip(_over(ink, below), 0, 1)), luminance(np.clip(below, 0, 1)))
        ratios.append(float(np.quantile(found, _SHARE)))
    return (min(ratios) if covered else max(ratios)), covered, core


def run(looked: Looked) -> Iterator[Finding]:
    """Each text, painted by itself, against what is painted behind it, in a frame in which it stands there."""
    lines = looked.scene.template.frame.height / 1080
    for part_id, rest in looked.texts:
        frames = looked.still_frames[part_id]
        if not frames:
            continue
        frame = frames[len(frames) // 2]
        measured = contrast_of(looked.alone(part_id, frame), looked.behind(part_id, frame), looked.fronts(part_id, frame))
        if measured is None or rest.words is None:
            continue
        found, on_plate, core = measured
        wanted = LARGE if rest.words.size >= LARGE_SIZE * lines else PLAIN
        if found < wanted - 1e-6:
            where = "on what lies behind it" if on_plate else "over any footage"
            words = f"{rest.part.name} {where}: contrast {found:.1f} : 1, where {in_figures(wanted)} : 1 is wanted."
            yield Finding(_ID, "to look at", part_id, words, "hard to read", found, wanted, ": 1", frames[0], frames[-1], bounds_of(core))


CHECK = Check(_ID, "Contrast", "Words stand out from what is behind them", "4.5 : 1, large words 3 : 1", "WCAG 2.2, SC 1.4.3", run)
