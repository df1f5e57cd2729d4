"""*Just out of the matte*, put right where a plan alone cannot know: other moves, tracking, and windows that move or turn themselves.

A plan takes a unit out of its window as both rest. Here they are measured as they stand while the unit waits, and what is missing is
added to the way that it travels.
"""

import dataclasses
import functools
from collections.abc import Callable, Mapping

import numpy as np

from avlet.arrays import Floats, Marks
from avlet.document.parts import FRAME, AnyPart
from avlet.document.time.eases import Ease
from avlet.document.time.moves import Move
from avlet.easing import ease_progress
from avlet.layout.areas import frame_area
from avlet.layout.rest import Rest
from avlet.motion.apart import apart, until_apart
from avlet.motion.plans import PartPlan, Plan, left_by
from avlet.motion.posed import Pose, box_corners
from avlet.motion.posed_part import PosedPart
from avlet.motion.travel import HAIR, TOWARD

_TRIES = 6
_ENOUGH = 0.01
"""px that may be missing: far under what a hair's breadth is for."""
_FARTHEST = 20_000.0
"""px that may be added in all: what perspective turns away for good is not chased."""


def with_own_shifts(planned: PartPlan) -> PartPlan:
    """The same plans with shifts of their own, which :func:`clear` may change."""
    return dataclasses.replace(planned, plans=tuple(dataclasses.replace(p, shift=p.shift.copy()) for p in planned.plans))


def is_sure(part_id: str, plans: Mapping[str, PartPlan], rest: Rest) -> bool:
    """Whether a part's plan alone takes it out: one move, and windows that stay within where they rest. Nothing need be measured then."""
    part, own = rest.parts[part_id].part, plans[part_id].plans
    if len(own) != 1 or own[0].track is not None or own[0].own is not None or not _stands(part):
        return False
    windows = left_by(part.mattes) if own[0].move.travel == "out of the matte" else []
    sources = [rest.parts[matte.inside].part for matte in windows]
    if not sources:
        return part.group is None
    return all(source.group == part.group and _keeps_within(source, plans[source.id]) for source in sources)


def _stands(part: AnyPart) -> bool:
    """Whether nothing but its moves brings a part elsewhere than it lies."""
    rides = any(place is not None and place.rides for place in (part.across, part.down))
    return not (rides or part.keys or part.sways or part.turn or part.scale_x != 100 or part.scale_y != 100)


def _keeps_within(part: AnyPart, planned: PartPlan) -> bool:
    """Whether a part never reaches beyond the box that it rests in: it only unfolds, or changes its look."""
    return not part.holds and part.copied is None and _stands(part) and all(_only_unfolds(plan.move) for plan in planned.plans)


def _only_unfolds(move: Move) -> bool:
    if (
        move.elsewhere is not None
        or move.goes_out
        or move.x
        or move.y
        or move.turn
        or move.turn_x
        or move.turn_y
        or move.skew
        or move.tracking
    ):
        return False
    scaled = move.scale_x != 100 or move.scale_y != 100
    return not scaled or (0 <= move.scale_x <= 100 and 0 <= move.scale_y <= 100 and not _goes_past(move.ease))


@functools.lru_cache(maxsize=256)
def _goes_past(ease: Ease) -> bool:
    return bool(ease_progress(ease, np.linspace(0.0, 1.0, 65)).max() > 1.0)


def clear(part_id: str, plan: Plan, units: Marks, rest: Rest, pose_now: Callable[[], Pose]) -> bool:
    """Let ``units`` (units,) of yes and no travel as much farther as they need, not to show in the pose that ``pose_now`` gives.

    It is asked again after each change of the plan's shift. Returns whether there was one.
    """
    toward, added = np.array(TOWARD[plan.move.side]), 0.0
    for _ in range(_TRIES):
        pose = pose_now()
        posed = pose.parts[part_id]
        windows = _windows(pose, posed, plan, rest)
        showing = units & (posed.scale > 0).all(axis=1) & np.all([~apart(posed.reaching, c, g - _ENOUGH) for c, g in windows], axis=0)
        if not showing.any() or added > _FARTHEST:
            break
        plan.shift[...] += toward
        ways = pose_now().parts[part_id].corners.mean(axis=1) - posed.corners.mean(axis=1)
        plan.shift[...] -= toward
        gains = np.linalg.norm(ways, axis=1)
        steady = np.maximum(gains, 1e-9)
        far = np.min([until_apart(posed.reaching, ways / steady[:, None], *window) for window in windows], axis=0) / steady
        missing = np.where(showing & (gains > 1e-6) & np.isfinite(far), far, 0.0)
        added += float(missing.max())
        plan.shift[...] += missing[:, None] * toward
    return added > 0


def _windows(pose: Pose, posed: PosedPart, plan: Plan, rest: Rest) -> list[tuple[Floats, float]]:
    """The corners (4, 2) of each thing that a unit may hide by leaving, and by how much it is grown."""
    mattes = left_by(pose.mattes_of(posed)) if plan.move.travel == "out of the matte" else []
    if not mattes:
        return [(box_corners(frame_area(FRAME, rest.frame)), HAIR)]
    return [(pose.corners(matte.inside), matte.grow + matte.soft + HAIR) for matte in mattes]
