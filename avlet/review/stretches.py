"""Which frames of a title are looked at: all of a short one; of a long one its ends, what moves in between, and samples of the rest."""

import itertools
import math
from collections.abc import Iterable, Iterator

import numpy as np

from avlet.document.parts import CreditsPart
from avlet.motion.counting import counters_of
from avlet.motion.keyed import key_time
from avlet.paint.scene import Scene
from avlet.review.at_rest import rest_frame

MOST_FRAMES = 1_500
"""Frames that are looked at in all."""
_LEAST, _RUNS, _SINGLES = 13, 9, 61
"""Where something always moves a hold is looked at in so many runs of a second, of this many frames at least; else in single frames."""


def stretches_of(scene: Scene) -> tuple[range, ...]:
    """Runs of neighbouring frames, in order, with gaps between them; one run for a title of up to ``MOST_FRAMES``.

    A check that compares neighbours compares them within a run only.
    """
    length, spans = scene.length, scene.spans
    if length <= MOST_FRAMES:
        return (range(length),)
    end = MOST_FRAMES // 3
    wanted = [range(min(spans.way_in + 1, end)), range(max(0, length - spans.way_out - 1, length - end), length)]
    left = MOST_FRAMES - sum(map(len, wanted))
    moving = sorted({*_by_keys(scene), *_by_counts(scene), *_by_moves(scene)}, key=len)
    for run in moving:
        if len(run) <= left:
            left -= len(run)
            wanted.append(run)
    sampled = _always_moves(scene) or any(run not in wanted for run in moving)
    each, samples = (max(_LEAST, math.ceil(float(scene.rest.frame.fps)) + 2), _RUNS) if sampled else (1, _SINGLES)
    for middle in (rest_frame(scene), *np.linspace(0, length - 1, samples).astype(int).tolist()):
        wanted.append(range(max(0, middle - each // 2), min(length, middle + each - each // 2)))
    return tuple(_joined(one for one in wanted if one))


def _by_keys(scene: Scene) -> Iterator[range]:
    """Where keys change something, from one key to the next."""
    for one in scene.rest.parts.values():
        for keyed in one.part.keys:
            keys = sorted(((key_time(key, scene.spans), key) for key in keyed.keys), key=lambda timed: timed[0])
            for (begin, before), (end, after) in itertools.pairwise(keys):
                if before.value != after.value:
                    yield _within(scene, begin, end)


def _by_moves(scene: Scene) -> Iterator[range]:
    """Where parts come or go while others hold."""
    spans = scene.spans
    leaves = scene.length - 1 - spans.designed_out / spans.pace
    for timing in scene.choreography.timings.values():
        for begin, moves in ((0.0, timing.way_in), (leaves, timing.way_out)):
            for one in (times for times in moves if times.from_end):
                yield _within(scene, begin + one.start / spans.pace, begin + one.end / spans.pace)


def _by_counts(scene: Scene) -> Iterator[range]:
    """Where numbers count."""
    for counted in counters_of(scene.choreography.movers).values():
        times = counted.times
        yield _within(scene, times.begin / scene.spans.pace, times.land / scene.spans.pace)


def _within(scene: Scene, begin: float, end: float) -> range:
    """The frames between two times, and one on both sides."""
    return range(max(0, math.floor(begin) - 1), min(scene.length, math.ceil(end) + 2))


def _always_moves(scene: Scene) -> bool:
    """Whether something moves all through the hold: what sways, drifts, rolls or turns its pages."""
    parts = [one.part for one in scene.rest.parts.values()]
    return any(part.sways or isinstance(part, CreditsPart) or getattr(part, "drift_x", 0) or getattr(part, "drift_y", 0) for part in parts)


def _joined(runs: Iterable[range]) -> Iterator[range]:
    """The same frames in order, in as few runs as there can be."""
    present: range | None = None
    for run in sorted(runs, key=lambda one: one.start):
        if present is None:
            present = run
        elif run.start <= present.stop:
            present = range(present.start, max(present.stop, run.stop))
        else:
            yield present
            present = run
    if present is not None:
        yield present
