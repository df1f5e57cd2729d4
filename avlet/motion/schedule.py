"""When each unit of a move is on its way."""

from dataclasses import dataclass

import numpy as np

from avlet.arrays import Floats
from avlet.document.time.moves import Move, Order
from avlet.easing import ease_progress
from avlet.motion.chances import delays


@dataclass(frozen=True, eq=False)
class Schedule:
    """Begin of each unit's movement, shape (units,), and how long each takes; all in frames from the begin of the move's span.

    ``start`` is when the first begins, ``total`` how long all of them take; ``from_end`` whether the start follows the title's
    last frame rather than its first; of a way out, whether it follows something else than that of the template.
    """

    begins: Floats
    unit_frames: float
    start: float
    total: float
    from_end: bool = False

    @property
    def end(self) -> float:
        """When the last unit is done."""
        return self.start + self.total


def schedule(move: Move, units: int, start: float | None = None) -> Schedule:
    """Spread ``units`` over a move. With the pace *in all*, L frames and overlap v, each takes ``u = L / (1 + (n − 1)(1 − v))``.

    n counts the ranks of the order, and the unit of rank r begins at ``start + r·u·(1 − v)``, so that the whole takes L
    whatever the text. Units that come by chance begin later by up to their delay, and the whole takes as much longer. ``start`` is the
    move's own unless given.
    """
    begin = float(move.start if start is None else start)
    ranks = ranked(move.order, units, move.seed)
    steps = float(ranks.max()) if len(ranks) else 0.0
    unit_frames, gap = _pace(move, steps)
    begins, later = begin + ranks * gap, delays(move, units)
    if later is None or not units:
        return Schedule(begins, unit_frames, begin, unit_frames + steps * gap)
    begins += later
    return Schedule(begins, unit_frames, begin, float(begins.max()) - begin + unit_frames)


def _pace(move: Move, steps: float) -> tuple[float, float]:
    """How long each unit takes, and how long after one the next begins."""
    if move.pace == "in all":
        stagger = 1.0 - move.overlap / 100.0
        unit_frames = move.frames / (1.0 + steps * stagger)
        return unit_frames, unit_frames * stagger
    unit_frames, gap = float(move.frames), move.step
    if move.longest and unit_frames + steps * gap > move.longest:
        unit_frames = min(unit_frames, move.longest)
        gap = (move.longest - unit_frames) / steps if steps else 0.0
    return unit_frames, gap


def ranked(order: Order, units: int, seed: int = 1) -> Floats:
    """The rank of each unit, 0 the first; from the middle or the ends, two units share one."""
    n = np.arange(units, dtype=np.float64)
    match order:
        case "first to last":
            return n
        case "last to first":
            return n[::-1].copy()
        case "shuffled":
            return np.random.default_rng(seed).permutation(units).astype(np.float64)
    from_middle = np.floor(np.abs(n - (units - 1) / 2) + 0.25)
    if order == "middle out" or not units:
        return from_middle
    inwards: Floats = from_middle.max() - from_middle
    return inwards


_ARRIVED = 1e-9
"""What is so near to its end has arrived: sums of fractions of frames are not exact."""


def arrival(move: Move, plan: Schedule, time: float) -> Floats:
    """How much of the displaced look each unit still has at ``time`` frames into the way in: 1 before, 0 once arrived."""
    return 1.0 - _eased(move, plan, time)


def departure(move: Move, plan: Schedule, time: float) -> Floats:
    """How much of the displaced look each unit has at ``time`` frames into a way out of its own: 0 before, 1 once gone."""
    return _eased(move, plan, time)


def _eased(move: Move, plan: Schedule, time: float) -> Floats:
    if move.ease_over == "each unit" or plan.total <= 0:
        return ease_progress(move.ease, _progress(plan, time))
    whole = np.array([(time - plan.start) / plan.total])
    share = float(ease_progress(move.ease, whole)[0])
    beyond = max(0.0, share - 1.0)  # an ease that goes past takes all units past together
    own = np.clip(_progress(plan, plan.start + plan.total * share), 0.0, 1.0)
    return np.where(whole >= 1.0, 1.0, own + beyond)


def _progress(plan: Schedule, time: float) -> Floats:
    """How far each unit is, under 0 before it begins and over 1 once it is done."""
    if plan.unit_frames <= 0:
        return np.where(time >= plan.begins, 1.0, 0.0)
    progress = (time - plan.begins) / plan.unit_frames
    return np.where(np.abs(progress - 1.0) < _ARRIVED, 1.0, progress)
