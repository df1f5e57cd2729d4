"""Where a picture has edges, and the samples by which their px are the mean of what is there.

Samples lie on a lattice that is finer than px and turned: with n to the side, one step along it is (n, −1) or (1, n) parts of a px of which
there are n² + 1 to the side, so that in each px no two samples lie in one row or column, and an edge of whatever direction that passes
over one changes it in n² + 1 even steps (a lattice of rank one; Niederreiter 1992, from memory). Drawn as px of their own, the samples of
a tile are a square that is turned a little.
"""

import functools
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from avlet.arrays import Floats, Marks
from avlet.solid.bodies import Body, Stage
from avlet.solid.sights import NEAR, Region

CELL = 256
"""px of the side of the square in which the samples of a tile are drawn."""
_LEAST = 20
"""Of 255: px that differ by no more are no edge that anybody sees."""
_THIN, _LONGEST, _STEP = 3.0, 200_000.0, 0.7
"""px: how wide strokes are at most that the middles of px may miss, how long outlines are that are followed, and in which steps."""


class Lattice:
    """Samples, ``side`` to the side of a px and one more, and tiles of the picture of so many px that theirs fit into a square."""

    def __init__(self, side: int) -> None:
        self.side, self.samples = side, side * side + 1
        self.tile = CELL // (side + 1)
        self.turn = np.array([[side, 1], [-1, side]])
        there = np.stack(np.meshgrid(np.arange(-1, side + 2), np.arange(-1, side + 2)), axis=-1).reshape(-1, 2)
        px = (there + 0.5) @ self.turn
        self._pattern = there[((px >= 0) & (px < self.samples)).all(axis=1)]

    @functools.cached_property
    def back(self) -> Floats:
        """From px of a tile's square to those of the picture, but for where it lies, (2, 2)."""
        found: Floats = np.linalg.inv(self.turn)
        return found

    @functools.cached_property
    def _of_px(self) -> tuple[np.ndarray, np.ndarray]:
        """Rows and columns of the samples of each px of a tile, (height, width, samples)."""
        y, x = np.mgrid[: self.tile, : self.tile]
        first = np.stack([x, y], axis=-1) @ self.turn.T + (0, self.tile)
        found = (first[:, :, None] + self._pattern).astype(np.int32)
        return found[..., 1], found[..., 0]

    def places(self, tile: "Tile", x: int, y: int, width: int) -> np.ndarray:
        """The samples of a tile's px with edges, (px, samples): px of a picture so wide, in which its square lies at ``x``, ``y``."""
        rows, columns = (one[tile.rows, tile.columns] for one in self._of_px)
        found: np.ndarray = (rows + y) * np.int32(width) + (columns + x)
        return found

    def to_cell(self, tile: "Tile") -> Floats:
        """From px of the picture to those of a tile's square, (2, 3)."""
        first = np.array([tile.left, tile.top]) + (0.5 / self.samples if self.side % 2 else 0.0)  # so that samples lie evenly about middles
        return np.column_stack([self.turn, np.array([0, self.tile]) - self.turn @ first])


FINE = Lattice(8)
"""So that what is flat looks as it does without a space."""


class Tile(NamedTuple):
    """A tile of a picture by its left top px, and which px of it have edges: rows and columns within it."""

    left: int
    top: int
    rows: np.ndarray
    columns: np.ndarray


def edges_of(picture: np.ndarray, regions: Sequence[Region]) -> Marks:
    """Px (height, width) of a picture (height, width, 4) that differ from one beside them within a region."""
    found = np.zeros(picture.shape[:2], bool)
    for left, top, right, bottom in regions:
        there, seen = found[top:bottom, left:right], picture[top:bottom, left:right]
        across, down = _differ(seen[:, 1:], seen[:, :-1]), _differ(seen[1:], seen[:-1])
        there[:, 1:] |= across
        there[:, :-1] |= across
        there[1:] |= down
        there[:-1] |= down
    return found


def _differ(one: np.ndarray, other: np.ndarray) -> Marks:
    apart = (np.maximum(one, other) - np.minimum(one, other)) > _LEAST
    found: Marks = np.ascontiguousarray(apart).view(np.uint32)[..., 0] != 0
    return found


def outlines_of(stage: Stage, bodies: Sequence[Body], to_picture: Floats, shape: tuple[int, int]) -> tuple[Marks, Marks, list[bool]]:
    """Px about what the middles of px may miss, corners and the outlines of thin strokes; px about outlines of what lies square; and for
    each body whether that is all of its edges: not of what is solid, partly behind the eye, or endless.
    """
    matrix = np.vstack([to_picture, [0, 0, 1]]) @ stage.view.matrix[[0, 1, 3]]
    thin, square, followed = np.zeros(shape, bool), np.zeros(shape, bool), [False] * len(bodies)
    for number, body in enumerate(bodies):
        mesh, to_px = body.mesh, (matrix @ body.matrix).T
        points = mesh.raised(mesh.borders, body.depth) @ to_px
        if not len(points) or (points[..., 2] <= NEAR).any():
            continue
        tips = mesh.raised(mesh.tips, body.depth) @ to_px
        _mark(thin, tips[:, :2] / tips[:, 2:])
        ends = points[..., :2] / points[..., 2:]
        ways = ends[:, 1] - ends[:, 0]
        lengths = np.hypot(ways[:, 0], ways[:, 1])
        around = max(1e-9, float(lengths.sum()))
        wide = abs(float((ends[:, 0, 0] * ends[:, 1, 1] - ends[:, 1, 0] * ends[:, 0, 1]).sum())) / around
        if (body.square or wide < _THIN) and around < _LONGEST:
            steps = np.ceil(lengths / _STEP).astype(int) + 1
            line = np.repeat(np.arange(len(steps)), steps)
            share = (np.arange(len(line)) - np.repeat(np.cumsum(steps) - steps, steps)) / np.maximum(steps[line] - 1, 1)
            along = ends[line, 0] + ways[line] * share[:, None]
            if wide < _THIN:
                _mark(thin, along)
            if body.square:
                _mark(square, along)
                followed[number] = True
    return _wider(thin), _wider(square), followed


def _wider(marks: Marks) -> Marks:
    """Marks, and the px beside them."""
    if marks.any():
        marks[:, 1:] |= marks[:, :-1]
        marks[:, :-1] |= marks[:, 1:]
        marks[1:] |= marks[:-1]
        marks[:-1] |= marks[1:]
    return marks


def _mark(marks: Marks, points: Floats) -> None:
    """Mark the px in which points lie, as far as they are in the picture."""
    px = np.floor(np.clip(points, -2, 1e6)).astype(int)
    inside = ((px >= 0) & (px < (marks.shape[1], marks.shape[0]))).all(axis=1)
    marks[px[inside, 1], px[inside, 0]] = True


def tiles_of(marks: Marks, side: int) -> list[Tile]:
    """The tiles of a picture, so many px wide and high, in which px are marked."""
    found = []
    for top in range(0, marks.shape[0], side):
        if marks[top : top + side].any():
            for left in range(0, marks.shape[1], side):
                rows, columns = marks[top : top + side, left : left + side].nonzero()
                if rows.size:
                    found.append(Tile(left, top, rows, columns))
    return found


def means(samples: np.ndarray) -> np.ndarray:
    """The mean colours (px, 4) of samples (px, samples), each four bytes in one number."""
    count = samples.shape[1]
    two = (
        (samples & np.uint32(0x00FF00FF)).sum(axis=1, dtype=np.uint32),
        ((samples >> np.uint32(8)) & np.uint32(0x00FF00FF)).sum(axis=1, dtype=np.uint32),
    )
    found = np.stack([(one >> np.uint32(shift)) & np.uint32(0xFFFF) for shift in (0, 16) for one in two], axis=1)
    rounded: np.ndarray = ((found * 2 + count) // (2 * count)).astype(np.uint8)
    return rounded
