"""Who moves, and when: a part at rest with its moves, and a moment of a title."""

from typing import NamedTuple

import numpy as np

from avlet.layout.rest import RestPart
from avlet.motion.keyed import KeyedPart
from avlet.motion.plans import PartPlan, stance
from avlet.motion.posed_part import PosedPart, Standing


class Instant(NamedTuple):
    """A moment of a title: designed frames since its begin and until its end, infinite where those do not play; whether it is
    in the last frame, the time in seconds and in frames; by how many frames it is ``late``, as what an echo shows may be. A moment
    that ``lasts`` some frames is the middle of a time of which wheels show the mean.
    """

    frame: int
    begin: float
    end: float
    last: bool
    seconds: float
    time: float
    late: float = 0.0
    lasts: float = 0.0

    def later(self, frames: float) -> "Instant":
        """What arrives later also leaves earlier: the moment is so much nearer to both ends, and so are keys that are tied to them."""
        return self._replace(begin=self.begin - frames, end=self.end - frames, late=self.late + frames)


class Actor(NamedTuple):
    """A part at rest, and how it moves; for an echo with words of its own, its original with those."""

    rest: RestPart
    plan: PartPlan
    resting: PosedPart
    keyed: KeyedPart | None


def at_rest(rest: RestPart, plan: PartPlan, stood: float = 0.0) -> PosedPart:
    """A part as it stands once it has arrived, in a space so many px before the sheet besides its own."""
    units = len(plan.hinge)
    zeros, ones = np.zeros((units, 2)), np.ones((units, 2))
    return PosedPart(
        rest, plan.unit, zeros, ones, plan.hinge, ones[:, 0], ones[:, 0], True, rest.present, stance(rest, units), stand=Standing(on=stood)
    )  # fmt: skip
