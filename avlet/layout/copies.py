"""The copies of a pattern: where each lies, how large, how turned, and how far it is on the way from first to last."""

import math
from dataclasses import dataclass

import numpy as np

from avlet.arrays import Floats, Ints
from avlet.document.parts import PatternPart
from avlet.document.time.moves import Unit
from avlet.geometry import Box
from avlet.limits import MOST_COPIES

_LEAST_STEP = 1.0


@dataclass(frozen=True, eq=False)
class Copies:
    """The copies of one pattern, first to last. ``centres`` (n, 2) are in px from the left top corner of its box.

    ``scale`` (n, 2) tells how wide and high each is (1 is full size); ``turn`` in degrees, ``opacity`` 0…1 and ``share`` (0 the first, 1
    the last) have shape (n,).
    ``counts`` and ``unit_of`` number them as a text numbers its units: a copy is a character and a word, a row a line.
    ``remark`` says that there were too many.
    """

    width: float
    height: float
    centres: Floats
    scale: Floats
    turn: Floats
    opacity: Floats
    share: Floats
    unit_of: dict[Unit, Ints]
    counts: dict[Unit, int]
    filled: bool
    remark: str = ""

    @property
    def edges(self) -> Floats:
        """What each copy covers, (n, 4): left, top, right, bottom in px from the corner of the box."""
        turn = np.radians(self.turn)
        cos, sin = np.abs(np.cos(turn)), np.abs(np.sin(turn))
        width, height = self.width * self.scale[:, 0], self.height * self.scale[:, 1]
        half = np.stack([width * cos + height * sin, width * sin + height * cos], axis=1) / 2
        return np.concatenate([self.centres - half, self.centres + half], axis=1)

    def unit_ink(self, unit: Unit) -> Floats:
        """What each unit covers, (units, 4)."""
        edges, index = self.edges, self.unit_of[unit]
        found = np.full((self.counts[unit], 4), [np.inf, np.inf, -np.inf, -np.inf])
        np.minimum.at(found[:, :2], index, edges[:, :2])
        np.maximum.at(found[:, 2:], index, edges[:, 2:])
        return found

    @property
    def ink_box(self) -> Box | None:
        """What all of them cover together."""
        edges = self.edges
        return Box.from_edges(*edges[:, :2].min(axis=0).tolist(), *edges[:, 2:].max(axis=0).tolist()) if len(edges) else None


def own_copies(part: PatternPart) -> Copies:
    """The copies of a pattern that is as large as they are."""
    made = _copies(part, _places(part), part.width, part.height, filled=False)
    corner = made.edges[:, :2].min(axis=0)
    return _replaced(made, made.centres - corner)


def filling_copies(part: PatternPart, width: float, height: float) -> Copies:
    """As many copies as fill a box of px; a ring lies in its middle with the copies that it has."""
    if part.lies == "in a ring":
        made = _copies(part, _places(part), part.width, part.height, filled=True)
        return _replaced(made, made.centres + np.array([width / 2, height / 2]))
    if part.lies == "in a row":
        columns, x, over = _along(width, part.step_x, part.width, part.drift_x)
        row = np.stack([np.zeros(columns), np.arange(columns, dtype=np.float64)], axis=1)
        return _copies(part, (np.stack([x, np.full(columns, height / 2)], axis=1), row), part.width, height, filled=True, over=over)
    columns, x, over_x = _along(width, part.step_x, part.width, part.drift_x)
    rows, y, over_y = _along(height, part.step_y or part.height * 1.5, part.height, part.drift_y)
    grid_y, grid_x = np.meshgrid(y, x, indexing="ij")
    cells = np.stack(np.meshgrid(np.arange(rows, dtype=np.float64), np.arange(columns, dtype=np.float64), indexing="ij"), axis=-1)
    places = np.stack([grid_x.ravel(), grid_y.ravel()], axis=1)
    return _copies(part, (places, cells.reshape(-1, 2)), part.width, part.height, filled=True, over=over_x or over_y)


def _along(room: float, step: float, size: float, drift: float) -> tuple[int, Floats, bool]:
    """How many copies cover ``room`` px, where their middles lie, and whether there would have been too many.

    What drifts has a copy more on either side, so that nothing is missing while one goes out.
    """
    step = max(abs(step), _LEAST_STEP)
    spare = 2 if drift else 0
    wanted = max(1, math.ceil((room + size) / step)) + spare
    count = min(wanted, MOST_COPIES)
    first = (room - (count - 1) * step) / 2
    return count, first + np.arange(count, dtype=np.float64) * step, count < wanted


def _places(part: PatternPart) -> tuple[Floats, Floats]:
    """The middles of the copies of a pattern with a count, and the row and column of each."""
    n = np.arange(part.count, dtype=np.float64)
    if part.lies == "in a row":
        return np.stack([n * part.step_x, n * part.step_y], axis=1), np.stack([np.zeros(part.count), n], axis=1)
    if part.lies == "in a ring":
        angle = 2 * np.pi * n / part.count - np.pi / 2
        return part.radius * np.stack([np.cos(angle), np.sin(angle)], axis=1), np.stack([np.zeros(part.count), n], axis=1)
    down = part.step_y or part.height * 1.5
    cells = np.stack(np.meshgrid(np.arange(part.rows, dtype=np.float64), n, indexing="ij"), axis=-1).reshape(-1, 2)[:MOST_COPIES]
    return np.stack([cells[:, 1] * part.step_x, cells[:, 0] * down], axis=1), cells


def _copies(part: PatternPart, places: tuple[Floats, Floats], width: float, height: float, *, filled: bool, over: bool = False) -> Copies:
    centres, cells = places[0][:MOST_COPIES], places[1][:MOST_COPIES]
    count = len(centres)
    share = np.arange(count) / max(1, count - 1)
    chance = np.random.default_rng(part.seed)
    centres = centres + chance.uniform(-1, 1, (count, 2)) * part.scatter
    turn = part.turn_first + (part.turn_last - part.turn_first) * share + chance.uniform(-1, 1, count) * part.scatter_turn
    size = (1 + (part.size_last / 100 - 1) * share) * (1 + chance.uniform(-1, 1, count) * part.scatter_size / 100)
    wide = size * (1 + chance.uniform(-1, 1, count) * part.scatter_width / 100)
    if part.lies == "in a ring":
        turn = turn + 360.0 * np.arange(count) / count
    rows = cells[:, 0].astype(np.int64)
    each = np.arange(count)
    unit_of: dict[Unit, Ints] = {"whole": np.zeros(count, np.int64), "line": rows, "word": each, "character": each}
    counts: dict[Unit, int] = {"whole": 1, "line": int(rows.max()) + 1, "word": count, "character": count}
    remark = f"has {MOST_COPIES:,} copies, the most there can be; make its steps larger" if over or len(places[0]) > MOST_COPIES else ""
    return Copies(
        width, height, centres, np.stack([wide, size], axis=1), turn, 1 + (part.opacity_last / 100 - 1) * share, share,
        unit_of, counts, filled, remark,
    )  # fmt: skip


def _replaced(copies: Copies, centres: Floats) -> Copies:
    return Copies(**{**copies.__dict__, "centres": centres})


def drift_shift(part: PatternPart, seconds: float, filled: bool) -> Floats:
    """How far the copies have drifted, (2,) in px. Where they fill a box, each step begins anew, which nobody sees."""
    shift = np.array([part.drift_x, part.drift_y]) * seconds
    if filled and part.lies != "in a ring":
        step = np.maximum(np.abs([part.step_x, part.step_y or part.height * 1.5]), _LEAST_STEP)
        shift = np.sign(shift) * (np.abs(shift) % step)
        if part.lies == "in a row":
            shift[1] = 0.0
    return shift
