"""Looks: what the moves of a part add up to in one frame."""

import numpy as np

from avlet.arrays import Floats
from avlet.document.time.moves import Sway
from avlet.easing import ease_progress
from avlet.motion.plans import PartPlan, Plan
from avlet.motion.posed_part import Tint, Wipe
from avlet.motion.transforms import about, perspective, skewing

_FILLS_FROM = 2 / 3
"""How much of an outline is drawn when its fill begins to come."""
Share = tuple[Plan, Floats]
"""A move, and how much of its displaced look each of its units has."""


class Look:
    """The channels of one part, (units,) or (units, 2), as moves and sways are added to them.

    Offsets, angles, blurs and tracking add up; scales, opacities and what is drawn or opened multiply.
    """

    def __init__(self, plan: PartPlan) -> None:
        units = len(plan.hinge)
        self.hinge = plan.hinge
        self.shift, self.scale = np.zeros((units, 2)), np.ones((units, 2))
        self.opacity, self.drawn = np.ones(units), np.ones(units)
        self.filled: Floats | None = None
        self.opened: Floats | None = None
        self.blur: Floats | None = None
        self.angles: Floats | None = None
        self.skew: Floats | None = None
        self.depth = 1600.0
        self.lift: Floats | None = None
        self.tint: Tint | None = None
        self.wipe: Wipe | None = None

    def add(self, plan: Plan, share: Floats) -> None:
        """Add a share of a move's displaced look."""
        move, part_share = plan.move, share[plan.index]
        self.shift += plan.shift * part_share[:, None]
        if plan.lift:
            lift = plan.lift * part_share
            self.lift = lift if self.lift is None else self.lift + lift
        if plan.track is not None:
            self.shift[:, 0] += plan.track * part_share
        own = plan.own
        if move.scale_x != 100 or move.scale_y != 100 or (own is not None and own.size.any()):
            look = np.array([move.scale_x, move.scale_y]) / 100 - 1 + (0.0 if own is None else own.size[:, None])
            self.scale *= np.maximum(0.0, 1 + look * part_share[:, None])
        if move.opacity != 100 or (own is not None and own.opacity.any()):
            self.opacity *= _left(move.opacity + (0.0 if own is None else own.opacity * 100), part_share)
        if move.drawn != 100:
            left = _left(move.drawn, part_share)
            self.drawn *= left
            if move.fills_after:
                filled = np.clip((left - _FILLS_FROM) / (1.0 - _FILLS_FROM), 0.0, 1.0)
                self.filled = filled if self.filled is None else self.filled * filled
        if move.opened != 100:
            left = _left(move.opened, part_share)
            self.opened = left if self.opened is None else self.opened * left
        if move.blur:
            blur = move.blur * np.maximum(0.0, part_share)
            self.blur = blur if self.blur is None else self.blur + blur
        if move.turn or move.turn_x or move.turn_y or (own is not None and own.angles.any()):
            angles = np.array([move.turn, move.turn_x, move.turn_y]) + (0.0 if own is None else own.angles)
            self._turn(angles * part_share[:, None])
            self.depth = move.depth
        if move.skew:
            skew = move.skew * part_share
            self.skew = skew if self.skew is None else self.skew + skew
        if move.coloured:
            self.tint = Tint(move.colour, np.clip(part_share, 0.0, 1.0))
        if move.opened != 100:
            self.wipe = Wipe(move.opens_from, move.opens_angle, move.opens_soft)

    def sway(self, sway: Sway, share: float) -> None:
        """Add a share of what a part does while it holds."""
        self.shift += np.array([sway.x, sway.y]) * share
        self.scale *= max(0.0, 1 + (sway.scale / 100 - 1) * share)
        self.opacity *= min(1.0, max(0.0, 1 + (sway.opacity / 100 - 1) * share))
        if sway.turn:
            self._turn(np.tile([sway.turn * share, 0.0, 0.0], (len(self.hinge), 1)))

    def _turn(self, angles: Floats) -> None:
        self.angles = angles if self.angles is None else self.angles + angles

    def tilts(self) -> Floats | None:
        """How each unit is tilted and swung out of the plane, (units, 2) in degrees; None when none is. For members of a space."""
        return None if self.angles is None or not self.angles[:, 1:].any() else self.angles[:, 1:]

    def matrix(self, in_space: bool = False) -> Floats | None:
        """Turns and skews of each unit about its hinge as it stands now, (units, 3, 3); None when there are none.

        In a space only those in its plane: there a unit is tilted and swung in depth, and not as it would look.
        """
        if self.angles is None and self.skew is None:
            return None
        turn, turn_x, turn_y = (0.0, 0.0, 0.0) if self.angles is None else self.angles.T
        if in_space:
            turn_x = turn_y = 0.0 * turn
        look = perspective(turn, turn_x, turn_y, self.depth)
        if self.skew is not None:
            look = look @ skewing(self.skew)
        units = len(self.hinge)
        return about(self.hinge + self.shift, np.broadcast_to(look, (units, 3, 3)))


def _left(percent: float | Floats, share: Floats) -> Floats:
    """What is left of 1 on the way to ``percent``."""
    return np.clip(1 + (percent / 100 - 1) * share, 0.0, 1.0)


def sway_share(sway: Sway, held: float, still: float, designed: float) -> float:
    """How much of a sway's look there is when ``held`` (0…1) of ``still`` frames at rest have passed; ``designed`` were meant.

    Whole periods fit any hold, so that both ends join what is before and after. What drifts goes less far in a shorter hold, no
    faster: without any it stands still.
    """
    if sway.way == "drifts":
        far = min(1.0, max(0.0, still) / designed) if designed > 0 else float(still > 0)
        return far * float(ease_progress(sway.ease, np.array([held]))[0])
    turns = max(1, round(still / sway.period))
    angle = 2 * np.pi * turns * held
    return float((1 - np.cos(angle)) / 2 if sway.way == "breathes" else np.sin(angle))
