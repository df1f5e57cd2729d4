"""*Just out of the matte*: how far a unit has to travel until nothing of it shows."""

import numpy as np

from avlet.arrays import Floats
from avlet.document.time.moves import Side
from avlet.geometry import Box

HAIR = 1.0
"""px beyond the edge, so that no part of an anti-aliased edge shows."""

TOWARD: dict[Side, tuple[float, float]] = {"below": (0.0, 1.0), "above": (0.0, -1.0), "right": (1.0, 0.0), "left": (-1.0, 0.0)}
"""The direction of each side."""


def out_of(box: Box, ink: Floats, side: Side) -> Floats:
    """The shortest displacement (units, 2) in px towards ``side`` that takes each unit's ink wholly out of ``box``.

    ``ink`` is (units, 4): left, top, right, bottom. Units without ink (NaN) do not move; none moves the other way.
    """
    edges = np.array([box.x, box.y, box.right, box.bottom])
    far = {
        "below": edges[3] - ink[:, 1],
        "above": ink[:, 3] - edges[1],
        "right": edges[2] - ink[:, 0],
        "left": ink[:, 2] - edges[0],
    }[side]
    distance = np.where(np.isnan(far), 0.0, np.maximum(far, 0.0) + HAIR)
    return distance[:, None] * np.array(TOWARD[side])
