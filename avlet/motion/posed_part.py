"""A part as it stands in one frame."""

import dataclasses
import functools
from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np

from avlet.arrays import Floats
from avlet.document.looks.paints import SOFT_REACH
from avlet.document.parts import PaintedPart
from avlet.document.time.moves import Opening, Unit
from avlet.geometry import Box
from avlet.layout.rest import RestPart, unit_edges
from avlet.motion.transforms import bounds, mapped

OUTWARD = np.array([-1.0, -1.0, 1.0, 1.0])
"""Left, top, right, bottom, away from the middle."""


class Tint(NamedTuple):
    """A colour that units have taken on, and how much of it each has, (units,) 0…1."""

    colour: str
    share: Floats


class Wipe(NamedTuple):
    """From where a wipe opens, along which angle if along one, and how wide its soft edge is in px."""

    opens_from: Opening
    angle: float
    soft: float


class Standing(NamedTuple):
    """How units stand in a space besides the part's own stand: ``lift`` (units,) px nearer, ``tilts`` (units, 2) degrees tilted and swung,
    None where no move does that; ``on`` is how many px before the sheet that lies which the part stands on.
    """

    lift: Floats | None = None
    tilts: Floats | None = None
    on: float = 0.0

    @property
    def moved(self) -> bool:
        """Whether a move has brought units out of the plane."""
        return self.lift is not None or self.tilts is not None


IN_THE_PLANE = Standing()


@dataclass(frozen=True, eq=False)
class PosedPart:
    """One part in one frame. ``shift``, ``scale`` and ``hinge`` have shape (units, 2), ``opacity`` and ``drawn`` (units,).

    A point p of a unit at rest now stands at ``matrix · (hinge + (p − hinge) · scale + shift)``; ``matrix`` (units, 3, 3)
    turns, skews and carries, None is none. ``blur`` (units,) in px and ``tint`` come from moves; ``opened`` (units,) is how far
    ``wipe`` has opened; ``filled`` (units,) is how much of the fill is there while an outline draws itself, None all of it. ``still`` says
    that all units are exactly at rest. ``shown`` is False for a part that is switched off or has left for good. ``stand`` is how
    moves bring its units out of the plane of the frame. What it shows of itself in this frame, such as a number, is the body of ``rest``.
    """

    rest: RestPart
    unit: Unit
    shift: Floats
    scale: Floats
    hinge: Floats
    opacity: Floats
    drawn: Floats
    still: bool
    shown: bool
    matrix: Floats | None = None
    blur: Floats | None = None
    tint: Tint | None = None
    opened: Floats | None = None
    wipe: Wipe | None = None
    stand: Standing = IN_THE_PLANE
    filled: Floats | None = None

    def fill_of(self, unit: int) -> float:
        """How much of a unit's fill is there."""
        return 1.0 if self.filled is None else float(self.filled[unit])

    def boxes(self, edges: Floats) -> Floats:
        """Resting edges (units, 4) as they stand now, but for ``matrix``."""
        if self.still:
            return edges
        corners, hinge = edges.reshape(-1, 2, 2), self.hinge[:, None]
        return (hinge + (corners - hinge) * self.scale[:, None] + self.shift[:, None]).reshape(-1, 4)

    @functools.cached_property
    def form_box(self) -> Box:
        """The box that a shape's outline is built in: the outline's bounds before ``matrix``."""
        return self._union(self.boxes(unit_edges(self.rest, self.unit)))

    @functools.cached_property
    def ink_edges(self) -> Floats:
        """The ink of each unit now, (units, 4): left, top, right, bottom in px of the frame; NaN where there is none."""
        edges = self.boxes(unit_edges(self.rest, self.unit))
        return edges if self.matrix is None else bounds(self.matrix, edges)

    @functools.cached_property
    def corners(self) -> Floats:
        """The corners of each unit's ink now, (units, 4, 2) in px of the frame: top left, top right, bottom right, bottom left."""
        edges = self.boxes(unit_edges(self.rest, self.unit))
        points = edges[:, [[0, 1], [2, 1], [2, 3], [0, 3]]]
        return points if self.matrix is None else mapped(self.matrix, points)

    @property
    def reaching(self) -> Floats:
        """The corners of each unit's ink, pushed apart by how far the part paints beyond it."""
        return self.corners + np.sign(self.corners - self.corners.mean(axis=1, keepdims=True)) * self.reach

    @functools.cached_property
    def outline_box(self) -> Box:
        """The bounds of the part's outline now, without regard to opacity or mattes."""
        return self._union(self.ink_edges)

    @property
    def reach(self) -> float:
        """How far beyond its outline it may paint now, in px: its own reach, and the blur of its moves."""
        return self.rest.reach + (SOFT_REACH * float(self.blur.max(initial=0.0)) if self.blur is not None else 0.0)

    def _union(self, edges: Floats) -> Box:
        seen = edges[~np.isnan(edges[:, 0])]
        if not len(seen):
            return Box(self.rest.box.x, self.rest.box.y, 0.0, 0.0)
        (left, top), (right, bottom) = seen[:, :2].min(axis=0).tolist(), seen[:, 2:].max(axis=0).tolist()
        return Box.from_edges(left, top, right, bottom)

    @property
    def showing(self) -> Floats:
        """The opacity of each unit, (units,); 0 for those of which nothing but an outline is to come, and nothing of that is drawn yet."""
        part = self.rest.part
        if self.still or not isinstance(part, PaintedPart) or part.outline is None or self.drawn.all():
            return self.opacity
        filled = 0.0 if part.only_lines else 1.0 if self.filled is None else self.filled
        return np.where((self.drawn <= 0) & (filled <= np.zeros(len(self.drawn))), 0.0, self.opacity)

    @property
    def most_opacity(self) -> float:
        """0…1: that of its most opaque unit, with the part's own."""
        if not self.shown or not len(self.opacity) or (self.opened is not None and not self.opened.any()):
            return 0.0
        return float(self.showing.max()) * self.rest.part.opacity / 100


def opened_box(box: Box, wipe: Wipe, opened: float) -> Box:
    """The part of a box that an upright wipe shows; the whole box for one along an angle."""
    match wipe.opens_from:
        case "left":
            return Box(box.x, box.y, box.w * opened, box.h)
        case "right":
            return Box(box.right - box.w * opened, box.y, box.w * opened, box.h)
        case "above":
            return Box(box.x, box.y, box.w, box.h * opened)
        case "below":
            return Box(box.x, box.bottom - box.h * opened, box.w, box.h * opened)
        case "the middle":
            return Box(box.x + box.w * (1 - opened) / 2, box.y, box.w * opened, box.h)
    return box


_READ = tuple(f.name for f in dataclasses.fields(PosedPart) if f.name not in ("rest", "unit", "still", "shown"))
"""All that a posed part is, read off its definition: whatever is added to it counts when two frames are compared."""


def picture_key(posed: PosedPart) -> bytes:
    """Equal for parts that paint the same; nearly always different for others."""
    if not posed.shown:
        return b"gone"
    if posed.still:
        return b"still"
    return b"".join(_bytes_of(getattr(posed, name)) for name in _READ)


def _bytes_of(value: Any) -> bytes:
    if isinstance(value, np.ndarray):
        return value.tobytes()
    return b"".join(_bytes_of(item) for item in value) if isinstance(value, tuple) else repr(value).encode()


def same_part(a: PosedPart, b: PosedPart) -> bool:
    """Whether both paint exactly the same."""
    if a.rest is not b.rest or a.shown != b.shown or a.unit != b.unit:
        return False
    if not a.shown or (a.still and b.still):
        return True
    return all(_alike(getattr(a, name), getattr(b, name)) for name in _READ)


def _alike(a: Any, b: Any) -> bool:
    if isinstance(a, np.ndarray) or isinstance(b, np.ndarray):
        return isinstance(a, np.ndarray) and isinstance(b, np.ndarray) and np.array_equal(a, b)
    if isinstance(a, tuple) and isinstance(b, tuple):
        return len(a) == len(b) and all(_alike(x, y) for x, y in zip(a, b, strict=True))
    return bool(a == b)
