"""When each unit of a move is on its way."""

from dataclasses import dataclass

import numpy as np

from avlet.arrays import Floats
from avlet.document.moves import Move, Order
from avlet.motion.eases import ease_progress


@dataclass(frozen=True, eq=False)
class Schedule:
    """Begin of each unit's movement, shape (units,), and how long each takes; all in frames from the move's span."""

    begins: Floats
    unit_frames: float


def schedule(move: Move, units: int) -> Schedule:
    """Spread ``units`` over a move of L frames with overlap v: each takes ``u = L / (1 + (n − 1)(1 − v))``.

    The unit of rank r begins at ``start + r·u·(1 − v)``, so that the whole takes L whatever the text.
    """
    stagger = 1.0 - move.overlap / 100.0
    unit_frames = move.frames / (1.0 + (max(units, 1) - 1) * stagger)
    return Schedule(move.start + _ranks(move.order, units) * unit_frames * stagger, unit_frames)


def _ranks(order: Order, units: int) -> Floats:
    ranks = np.arange(units, dtype=np.float64)
    return ranks[::-1].copy() if order == "last to first" else ranks


def arrival(move: Move, plan: Schedule, time: float) -> Floats:
    """How much of the displaced look each unit still has at ``time`` frames into the way in: 1 before, 0 once arrived."""
    return 1.0 - ease_progress(move.ease, _progress(plan, time))


def departure(move: Move, plan: Schedule, time: float) -> Floats:
    """How much of the displaced look each unit has at ``time`` frames into a way out of its own: 0 before, 1 once gone."""
    return ease_progress(move.ease, _progress(plan, time))


def _progress(plan: Schedule, time: float) -> Floats:
    """How far each unit is, under 0 before it begins and over 1 once it is done."""
    if plan.unit_frames <= 0:
        return np.where(time >= plan.begins, 1.0, 0.0)
    return (time - plan.begins) / plan.unit_frames
