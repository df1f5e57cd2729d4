"""What a box catches on while it is dragged: edges, middles, guides, and gaps that come out equal."""

import itertools
from collections.abc import Iterable, Sequence
from typing import NamedTuple

from avlet.geometry import Axis, Box


class Caught(NamedTuple):
    """A line that something caught on, at ``at`` px along ``axis``."""

    axis: Axis
    at: float


class EqualGap(NamedTuple):
    """One of two gaps that are equal now: along ``axis`` from ``start`` to ``end`` px, drawn at ``side`` px of the other axis."""

    axis: Axis
    start: float
    end: float
    side: float


class Snap(NamedTuple):
    """How far to move on, and what was caught on."""

    dx: float
    dy: float
    caught: tuple[Caught | EqualGap, ...]


def snap(moving: Box, others: Sequence[Box], lines: tuple[Iterable[float], Iterable[float]], within: float) -> Snap:
    """The nearest catch of ``moving`` on each axis, no further than ``within`` px.

    It catches on edges and middles of ``others``, on ``lines`` (positions across, positions down), and where the gap to a
    neighbour equals that to another, or that between two neighbours. An edge comes before an equal gap.
    """
    moves, caught = [0.0, 0.0], []
    for axis in (0, 1):
        found = _edges(moving, others, lines[axis], axis, within) or _gaps(moving, others, axis, within)
        if found is not None:
            moves[axis], mark = found
            caught.append(mark)
    dx, dy = moves
    return Snap(dx, dy, tuple(c for marks in caught for c in marks))


def _edges(
    moving: Box, others: Sequence[Box], lines: Iterable[float], axis: Axis, within: float
) -> tuple[float, list[Caught | EqualGap]] | None:
    places = {b.edge(share, axis) for b in others for share in (0.0, 0.5, 1.0)} | set(lines)
    mine = [moving.edge(share, axis) for share in (0.0, 0.5, 1.0)]
    near = min(((abs(at - m), at - m, at) for at in places for m in mine), default=None)
    if near is None or near[0] > within:
        return None
    return near[1], [Caught(axis, near[2])]


def _gaps(moving: Box, others: Sequence[Box], axis: Axis, within: float) -> tuple[float, list[Caught | EqualGap]] | None:
    """Equal gaps along an axis, among the boxes that lie in the same row (or column)."""
    cross: Axis = 1 if axis == 0 else 0
    row = [b for b in others if b[cross] < moving.edge(1, cross) and b.edge(1, cross) > moving[cross]]
    row.sort(key=lambda b: b[axis])
    start, size = moving[axis], moving[axis + 2]
    side = moving.edge(0.5, cross)
    options: list[tuple[float, tuple[tuple[float, float], tuple[float, float]]]] = []
    for a, b in itertools.pairwise(row):
        gap = b[axis] - a.edge(1, axis)
        if gap <= 0:
            continue
        here = (a.edge(1, axis), b[axis])
        options.append((b.edge(1, axis) + gap, (here, (b.edge(1, axis), b.edge(1, axis) + gap))))
        options.append((a[axis] - gap - size, (here, (a[axis] - gap, a[axis]))))
        at = (here[0] + here[1] - size) / 2
        options.append((at, ((here[0], at), (at + size, here[1]))))
    near = min(options, key=lambda option: abs(option[0] - start), default=None)
    if near is None or abs(near[0] - start) > within:
        return None
    return near[0] - start, [EqualGap(axis, *pair, side) for pair in near[1]]
