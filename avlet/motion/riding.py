"""Riding along: a part that goes with what it is placed on."""

from collections.abc import Mapping
from typing import TYPE_CHECKING

import numpy as np

from avlet.arrays import Floats
from avlet.document.parts import EDGE_SHARES, Edge
from avlet.layout.rest import Rest

if TYPE_CHECKING:
    from avlet.motion.posed_part import PosedPart

Lead = tuple[int, str, Edge]
"""Along which axis (0 across, 1 down), on which part, on which edge of it."""


def riding(rest: Rest) -> list[tuple[str, tuple[Lead, ...]]]:
    """The parts that ride, each after those that it rides on, with what they ride on."""
    leads: dict[str, tuple[Lead, ...]] = {}
    for part_id, one in rest.parts.items():
        places = enumerate((one.part.across, one.part.down))
        found = tuple((axis, p.on, p.theirs) for axis, p in places if p is not None and p.rides and p.on in rest.parts)
        if found:
            leads[part_id] = found
    ordered: list[str] = []

    def visit(part_id: str) -> None:
        if part_id in leads and part_id not in ordered:
            for _, on, _ in leads[part_id]:
                visit(on)
            ordered.append(part_id)

    for part_id in leads:
        visit(part_id)
    return [(part_id, leads[part_id]) for part_id in ordered]


def ride_shift(posed: "Mapping[str, PosedPart]", resting: "Mapping[str, PosedPart]", leads: tuple[Lead, ...]) -> Floats:
    """How far a part is carried, (2,) in px: as far as the edges have moved that it is placed on."""
    shift = np.zeros(2)
    for axis, on, edge in leads:
        lead = posed[on]
        if not lead.still:
            now, then = lead.outline_box, resting[on].outline_box
            share = EDGE_SHARES[edge]
            shift[axis] = now[axis] + now[axis + 2] * share - then[axis] - then[axis + 2] * share
    return shift
