"""Each from elsewhere: what every unit of a move gets by chance. The same everywhere: it follows from the seed and the unit's number."""

from dataclasses import dataclass

import numpy as np

from avlet.arrays import Floats
from avlet.document.parts import FRAME
from avlet.document.template import Frame
from avlet.document.time.moves import Elsewhere, Move, Side
from avlet.layout.areas import frame_area
from avlet.motion.travel import out_of

_DRAWS = 8
"""Numbers that are drawn for each unit, whichever of them are used: so that one more span changes nothing else."""
_SIDES: tuple[Side, ...] = ("left", "above", "right", "below")


@dataclass(frozen=True, eq=False)
class Chances:
    """What the units of a move get besides its look: offsets (units, 2) in px, turn and tilts (units, 3) in degrees, shares of size and
    opacity (units,).
    """

    shift: Floats
    angles: Floats
    size: Floats
    opacity: Floats

    def spread(self, index: np.ndarray) -> "Chances":
        """The same for finer units, each of which has what its coarser one has."""
        return Chances(self.shift[index], self.angles[index], self.size[index], self.opacity[index])


def drawn(seed: int, units: int) -> Floats:
    """Numbers from −1 to 1, (units, 8); those of a unit do not change when there are more units."""
    return np.random.default_rng([seed, 0xE15E]).uniform(-1.0, 1.0, (units, _DRAWS))


def delays(move: Move, units: int) -> Floats | None:
    """By how many frames each unit begins later; None where none does."""
    elsewhere = move.elsewhere
    if elsewhere is None or elsewhere.delay <= 0:
        return None
    later: Floats = (drawn(move.seed, units)[:, 6] + 1) / 2 * elsewhere.delay
    return later


def chances(move: Move, edges: Floats, frame: Frame) -> Chances | None:
    """What the units get, from their edges at rest (units, 4) in px of the frame; None where they get nothing."""
    elsewhere = move.elsewhere
    if elsewhere is None:
        return None
    edges = np.nan_to_num(edges)
    by = drawn(move.seed, len(edges))
    angles = np.stack([by[:, 2] * elsewhere.turn, by[:, 3] * elsewhere.tilt, np.zeros(len(edges))], 1)
    return Chances(_offsets(elsewhere, by, edges, frame), angles, by[:, 4] * elsewhere.size / 100, by[:, 5] * elsewhere.opacity / 100)


def _offsets(elsewhere: Elsewhere, by: Floats, edges: Floats, frame: Frame) -> Floats:
    spread = by[:, :2] * np.array([elsewhere.x, elsewhere.y])
    middles = (edges[:, :2] + edges[:, 2:]) / 2
    if elsewhere.shape == "anywhere in a box":
        return spread
    if elsewhere.shape == "on a ring":
        angle, far = np.pi * by[:, 0], elsewhere.x + by[:, 1] * elsewhere.y
        ring: Floats = np.stack([np.cos(angle), np.sin(angle)], 1) * far[:, None]
        return ring
    if elsewhere.shape == "beyond the nearest edge":
        return _beyond(by, edges, middles, elsewhere, frame)
    point = np.array([frame.width * elsewhere.point_x, frame.height * elsewhere.point_y]) / 100
    towards = point - middles
    if elsewhere.shape == "a point":
        gathered: Floats = towards + spread
        return gathered
    length = np.hypot(towards[:, 0], towards[:, 1])
    flat = np.stack([np.cos(np.pi * by[:, 7]), np.sin(np.pi * by[:, 7])], 1)  # at the point itself any way leads away
    ways = np.where(length[:, None] > 1e-6, -towards / np.maximum(length, 1e-6)[:, None], flat)
    away: Floats = ways * (elsewhere.x + by[:, 1] * elsewhere.y)[:, None]
    return away


def _beyond(by: Floats, edges: Floats, middles: Floats, elsewhere: Elsewhere, frame: Frame) -> Floats:
    """Just out of the frame on the side that is nearest to each unit, spread along that side and further off."""
    box = frame_area(FRAME, frame)
    far = np.stack([middles[:, 0], middles[:, 1], frame.width - middles[:, 0], frame.height - middles[:, 1]], 1)
    nearest = far.argmin(1)
    offsets = np.zeros((len(edges), 2))
    for number, side in enumerate(_SIDES):
        own = nearest == number
        along = 1 if side in ("left", "right") else 0
        out = out_of(box, edges[own], side)
        further = (by[own, 1 - along] + 1) / 2 * (elsewhere.x, elsewhere.y)[1 - along]
        out[:, 1 - along] += np.sign(out[:, 1 - along]) * further
        out[:, along] += by[own, along] * (elsewhere.x, elsewhere.y)[along]
        offsets[own] = out
    return offsets
