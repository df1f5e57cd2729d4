"""A title over time: how much of it shows, how fast its fastest unit is, how far words reach beyond title-safe."""

from dataclasses import dataclass

import numpy as np

from avlet.arrays import Floats
from avlet.document.parts import TITLE_SAFE, CreditsPart
from avlet.layout.areas import frame_area
from avlet.motion.spans import Spans
from avlet.review.checks.contrast import contrast_of
from avlet.review.checks.inside import beyond
from avlet.review.looked import Looked

_CONTRASTS = 9
"""Frames in which contrast is measured."""


@dataclass(frozen=True, eq=False)
class Traces:
    """Each (frames,) beside ``frames``: ``shows`` 0…1 of the picture, ``fastest`` px a frame, ``outside`` px; ``contrast`` at the
    frames ``contrast_at``, of the words that stand out least."""

    spans: Spans
    frames: Floats
    shows: Floats
    fastest: Floats
    outside: Floats
    contrast_at: Floats
    contrast: Floats


def traces_of(looked: Looked) -> Traces:
    """All of them for one title."""
    whole = looked.frame_box.w * looked.frame_box.h
    safe = frame_area(TITLE_SAFE, looked.scene.rest.frame)
    words = {part_id for part_id, _ in looked.words}
    shows, outside = [], []
    for frame in looked.frames:
        boxes = {i: found[frame].cut(looked.frame_box) for i, found in looked.visible.items() if frame in found}
        shows.append(sum(box.w * box.h for box in boxes.values()) / whole)
        still = [looked.visible[i][frame] for i in boxes if i in words and frame in looked.still_frames[i]]
        outside.append(max([beyond(safe, box) for box in still], default=0.0))
    fastest = np.zeros(len(looked.frames))
    for part_id, rest in looked.present:
        if not (rest.part.holds or rest.part.copied is not None or isinstance(rest.part, CreditsPart)):
            places, _ = looked.motion(part_id)
            ways = np.nan_to_num(np.hypot(*np.moveaxis(looked.steps(places), -1, 0))).max(axis=1, initial=0.0)
            fastest[1:] = np.maximum(fastest[1:], ways)
    at, values = _contrasts(looked)
    frames = np.array(looked.frames, np.float64)
    return Traces(looked.scene.spans, frames, np.array(shows), fastest, np.array(outside), at, values)


def _contrasts(looked: Looked) -> tuple[Floats, Floats]:
    at, values = [], []
    for frame in np.unique(np.linspace(0, len(looked.frames) - 1, _CONTRASTS).astype(int)).tolist():
        number = looked.frames[frame]
        found = [
            measured[0]
            for i, _ in looked.texts
            if number in looked.visible[i]
            and (measured := contrast_of(looked.alone(i, number), looked.behind(i, number), looked.fronts(i, number))) is not None
        ]
        if found:
            at.append(float(number))
            values.append(min(found))
    return np.array(at), np.array(values)
