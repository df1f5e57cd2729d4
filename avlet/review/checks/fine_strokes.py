"""Level strokes of type that moves up or down are not so fine that they flicker."""

from collections.abc import Iterator

import numpy as np

from avlet.arrays import Floats, Marks
from avlet.paint.painter import Pixels
from avlet.review.checks.base import COMMON, Check, Finding
from avlet.review.looked import Looked

_ID = "fine-strokes"
LEAST = 2.0
"""px that a level stroke has at least."""
_LEVEL = 4
"""px that a stroke goes on level to both sides: what is shorter are dots, edges and the ends of stems."""
_MOVES, _FRAMES = 0.5, 12
"""px a frame from which on type moves, and for how many frames that is looked at."""


def thinnest_level_stroke(alpha: Floats) -> float:
    """The thinnest level stroke of some type, in px: a tenth of its level strokes' ink is no thicker.

    ``alpha`` (height, width) is its coverage, 0…1; edges count by their share. A stroke is level where it goes on to both sides.
    """
    inked: Marks = alpha > 0.02
    edge = np.zeros((1, alpha.shape[1]), bool)
    padded = np.vstack([edge, inked, edge])
    columns_a, rows_a = np.nonzero((padded[1:] & ~padded[:-1]).T)
    _, rows_b = np.nonzero((~padded[1:] & padded[:-1]).T)
    if not len(rows_a):
        return float("inf")
    sums = np.vstack([np.zeros((1, alpha.shape[1])), np.cumsum(alpha, axis=0)])
    runs = sums[rows_b, columns_a] - sums[rows_a, columns_a]
    middle, wide = (rows_a + rows_b - 1) // 2, np.pad(alpha, ((0, 0), (_LEVEL, _LEVEL)))
    here, left, right = (wide[middle, columns_a + _LEVEL + off] for off in (0, -_LEVEL, _LEVEL))
    level = runs[(here > 0.3) & (left > 0.7 * here) & (right > 0.7 * here)]
    return float(np.quantile(level, 0.1)) if len(level) >= _LEVEL else float("inf")


def _inked(alpha: Pixels) -> Pixels:
    """The smallest piece of a picture (height, width) that holds all of its ink: a title is mostly empty."""
    rows, columns = np.flatnonzero(alpha.any(axis=1)), np.flatnonzero(alpha.any(axis=0))
    return alpha[rows[0] : rows[-1] + 1, columns[0] : columns[-1] + 1] if len(rows) else alpha[:0, :0]


def run(looked: Looked) -> Iterator[Finding]:
    """The ink of words that go up or down for a while, in the title's own size."""
    for part_id, rest in looked.texts:
        places, _ = looked.motion(part_id)
        ways = np.abs(looked.steps(places[..., 1]))
        moving = np.nanmax(np.where(np.isnan(ways), 0.0, ways), axis=1, initial=0.0) > _MOVES
        if int(moving.sum()) < _FRAMES or not looked.still_frames[part_id] or rest.words is None:
            continue
        frame = looked.still_frames[part_id][0]
        stroke = thinnest_level_stroke(_inked(looked.alone(part_id, frame)[..., 3]) / 255.0)
        if stroke < LEAST:
            words = f"{rest.part.name} has level strokes of {stroke:.1f} px and moves up or down: it may flicker."
            yield Finding(_ID, "to look at", part_id, words, "may flicker", stroke, LEAST, "px", frame, frame, rest.ink)


CHECK = Check(_ID, "Fine strokes", "Moving type has no fine strokes", f"{LEAST:g} px", COMMON, run)
