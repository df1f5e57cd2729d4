"""Nothing that is read goes so fast that the eye loses it."""

from collections.abc import Iterator

import numpy as np

from avlet.review.checks.base import COMMON, Check, Finding, px
from avlet.review.looked import Looked

_ID = "speed"
SHARE = 1 / 3
"""px a frame as a share of the height of capitals, above which letters are not followed."""
_LASTS = 10
"""Frames on end for which that has to be so: what bursts in and settles is followed all the same."""
_SHOWS = 0.5


def run(looked: Looked) -> Iterator[Finding]:
    """The way of each unit of words between frames while it shows."""
    for part_id, rest in looked.texts:
        if rest.words is None or len(looked.frames) < _LASTS:
            continue
        places, opacity = looked.motion(part_id)
        ways = np.hypot(*np.moveaxis(looked.steps(places), -1, 0))
        shown = np.minimum(opacity[1:], opacity[:-1]) >= _SHOWS
        fast = np.where(shown & ~np.isnan(ways), ways, 0.0)
        limit = rest.words.cap_height * SHARE
        lasting = np.lib.stride_tricks.sliding_window_view(fast, _LASTS, axis=0).min(axis=-1) if len(fast) >= _LASTS else np.zeros((0, 1))
        if lasting.size and (amount := float(lasting.max())) > limit:
            at = int(np.unravel_index(np.argmax(lasting), lasting.shape)[0])
            frame = looked.frames[at + 1]
            words = (
                f"{rest.part.name} goes {px(amount)} a frame for {_LASTS} frames and more, its capitals have {px(rest.words.cap_height)}."
            )
            box = looked.visible[part_id].get(frame)
            yield Finding(_ID, "to look at", part_id, words, "too fast", amount, limit, "px a frame", frame, frame + _LASTS, box)


CHECK = Check(_ID, "Speed", "Letters can be followed", "a third of the height of capitals a frame", COMMON, run)
