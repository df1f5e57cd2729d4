"""What a pose is: parts as they stand in one frame, groups and echoes included."""

import functools
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from avlet.arrays import Floats
from avlet.document.moves import Opening, Unit
from avlet.document.parts import EchoPart, GroupPart, Matte
from avlet.geometry import Box
from avlet.layout.arrange import RestPart
from avlet.motion.transforms import bounds

OUTWARD = np.array([-1.0, -1.0, 1.0, 1.0])
"""Left, top, right, bottom, away from the middle."""


@functools.lru_cache(maxsize=1024)
def unit_edges(rest: RestPart, unit: Unit) -> Floats:
    """The resting ink of each unit in px of the frame, (units, 4): left, top, right, bottom."""
    box = rest.box
    if rest.units is None:
        return np.array([[box.x, box.y, box.right, box.bottom]])
    edges = rest.units.unit_ink(unit) + np.array([box.x, box.y] * 2)
    if rest.copies is not None and rest.copies.filled:
        edges = np.clip(edges, [box.x, box.y] * 2, [box.right, box.bottom] * 2)
    return edges


class Tint(NamedTuple):
    """A colour that units have taken on, and how much of it each has, (units,) 0…1."""

    colour: str
    share: Floats


class Wipe(NamedTuple):
    """From where a wipe opens, along which angle if along one, and how wide its soft edge is in px."""

    opens_from: Opening
    angle: float
    soft: float


@dataclass(frozen=True, eq=False)
class PosedPart:
    """One part in one frame. ``shift``, ``scale`` and ``hinge`` have shape (units, 2), ``opacity`` and ``drawn`` (units,).

    A point p of a unit at rest now stands at ``matrix · (hinge + (p − hinge) · scale + shift)``; ``matrix`` (units, 3, 3)
    turns, skews and carries, None is none. ``drift`` (2,) in px is how far a pattern's copies have drifted. ``blur`` (units,)
    in px and ``tint`` come from moves; ``opened`` (units,) is how far ``wipe`` has opened. ``still`` says that all units are
    exactly at rest. ``shown`` is False for a part that is switched off or has left for good.
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
    drift: Floats | None = None
    blur: Floats | None = None
    tint: Tint | None = None
    opened: Floats | None = None
    wipe: Wipe | None = None

    def boxes(self, edges: Floats) -> Floats:
        """Resting edges (units, 4) as they stand now, but for ``matrix``."""
        if self.still:
            return edges
        if self.drift is not None and self.rest.copies is not None and not self.rest.copies.filled:
            edges = edges + np.tile(self.drift, 2)
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
    def outline_box(self) -> Box:
        """The bounds of the part's outline now, without regard to opacity or mattes."""
        return self._union(self.ink_edges)

    def _union(self, edges: Floats) -> Box:
        seen = edges[~np.isnan(edges[:, 0])]
        if not len(seen):
            return Box(self.rest.box.x, self.rest.box.y, 0.0, 0.0)
        (left, top), (right, bottom) = seen[:, :2].min(axis=0).tolist(), seen[:, 2:].max(axis=0).tolist()
        return Box.from_edges(left, top, right, bottom)

    @property
    def most_opacity(self) -> float:
        """0…1: that of its most opaque unit, with the part's own."""
        if not self.shown or not len(self.opacity) or (self.opened is not None and not self.opened.any()):
            return 0.0
        return float(self.opacity.max()) * self.rest.part.opacity / 100


def members_by_group(groups: Mapping[str, str | None]) -> dict[str | None, list[str]]:
    """The ids of parts by the group that each is in, for those groups that are among them; under None all others."""
    found: dict[str | None, list[str]] = {}
    for part_id, group in groups.items():
        found.setdefault(group if group in groups else None, []).append(part_id)
    return found


@dataclass(frozen=True, eq=False)
class Pose:
    """All parts in one frame, back to front by id. ``echoes`` has for each echo the pose of what it is a copy of.

    ``grouped`` are the members by group where those are known already.
    """

    frame: int
    parts: Mapping[str, PosedPart]
    echoes: Mapping[str, "Pose"] = field(default_factory=dict)
    grouped: Mapping[str | None, list[str]] | None = None

    @functools.cached_property
    def members(self) -> Mapping[str | None, list[str]]:
        """The parts of each group that is here, back to front; under None those that lie in none."""
        return self.grouped or members_by_group({i: posed.rest.part.group for i, posed in self.parts.items()})

    def mattes_of(self, posed: PosedPart) -> tuple[Matte, ...]:
        """The mattes of a part whose sources are here: an echo leaves its original's behind."""
        mattes = posed.rest.part.mattes
        return tuple(m for m in mattes if m.inside in self.parts) if mattes else ()

    def _within(self, part_id: str) -> Iterator[PosedPart]:
        """A part, and the groups that it is in."""
        at: str | None = part_id
        while at is not None and at in self.parts:
            yield self.parts[at]
            at = self.parts[at].rest.part.group

    def outline_box(self, part_id: str) -> Box:
        """The bounds of a part's outline now: of a group, those of its members; of an echo, those of what it copies."""
        posed = self.parts[part_id]
        inner = self.inner(part_id)
        if inner is None:
            return posed.outline_box
        return Box.union(box for box in (pose.outline_box(i) for pose, i in inner) if not box.empty) or Box(*posed.outline_box[:2], 0, 0)

    def inner(self, part_id: str) -> "list[tuple[Pose, str]] | None":
        """What a group or an echo is made of; None for any other part."""
        part = self.parts[part_id].rest.part
        if isinstance(part, GroupPart):
            return [(self, i) for i in self.members.get(part_id, [])]
        if isinstance(part, EchoPart):
            copy = self.echoes[part_id]
            return [(copy, i) for i in copy.members.get(None, [])]
        return None

    def reach(self, part_id: str) -> float:
        """How far beyond its outline a part may paint, in px."""
        inner = self.inner(part_id)
        own = self.parts[part_id].rest.reach
        return own if inner is None else max((pose.reach(i) for pose, i in inner), default=0.0)

    def visible_box(self, part_id: str) -> Box | None:
        """The bounds of what shows of a part now, mattes and opacity taken into account; None when nothing does."""
        posed = self.parts[part_id]
        if any(p.most_opacity <= 0 for p in self._within(part_id)):
            return None
        inner = self.inner(part_id)
        if inner is None:
            rows = zip(posed.ink_edges, posed.opacity, strict=True)
            seen = [Box.from_edges(*map(float, row)) for row, o in rows if o > 0 and not np.isnan(row[0])]
            if posed.opened is not None and posed.wipe is not None and len(posed.opened) == 1 and posed.matrix is None:
                seen = [box.cut(opened_box(box, posed.wipe, float(posed.opened[0]))) for box in seen]
        else:
            found = [pose.visible_box(i) for pose, i in inner]
            seen = [box for box in found if box is not None]
        for matte in [m for p in self._within(part_id) for m in self.mattes_of(p) if not m.hides]:
            window = self.outline_box(matte.inside).grown(*[matte.grow] * 4)
            seen = [box.cut(window) for box in seen]
        return Box.union(box for box in seen if not box.empty)

    def units_in_mattes(self, posed: PosedPart) -> NDArray[np.bool_]:
        """Which units have ink within the bounds of every matte now, shape (units,); all with ink where there is no matte.

        What lies wholly outside is not painted at all, so that no soft edge of it shows at any picture size.
        """
        if len(posed.hinge) == 1:
            return np.array([self._meets_mattes(posed)])
        edges = posed.ink_edges + posed.rest.reach * OUTWARD
        inside = ~np.isnan(edges[:, 0])
        for matte in self.mattes_of(posed):
            if matte.hides:
                continue
            box = self.outline_box(matte.inside).grown(*[matte.grow + matte.soft] * 4)
            meets = (edges[:, 0] < box.right) & (edges[:, 2] > box.x) & (edges[:, 1] < box.bottom) & (edges[:, 3] > box.y)
            inside &= meets
        return inside

    def _meets_mattes(self, posed: PosedPart) -> bool:
        """The same for a part of one unit, without the cost of arrays."""
        ink = posed.outline_box.grown(*[posed.rest.reach] * 4)
        if ink.empty:
            return False
        windows = (self.outline_box(m.inside).grown(*[m.grow + m.soft] * 4) for m in self.mattes_of(posed) if not m.hides)
        return all(ink.x < w.right and ink.right > w.x and ink.y < w.bottom and ink.bottom > w.y for w in windows)

    @property
    def key(self) -> bytes:
        """Equal for poses that paint the same; nearly always different for others."""
        return b"".join([*(_key(p) for p in self.parts.values()), *(copy.key for copy in self.echoes.values())])

    def same_picture(self, other: "Pose") -> bool:
        """Whether both paint exactly the same."""
        return (
            self.parts.keys() == other.parts.keys()
            and all(_same(posed, other.parts[i]) for i, posed in self.parts.items())
            and self.echoes.keys() == other.echoes.keys()
            and all(copy.same_picture(other.echoes[i]) for i, copy in self.echoes.items())
        )


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


_CHANNELS = ("shift", "scale", "opacity", "drawn", "matrix", "drift", "blur", "opened")


def _key(posed: PosedPart) -> bytes:
    if not posed.shown:
        return b"gone"
    if posed.still:
        return b"still"
    tint = b"" if posed.tint is None else posed.tint.share.tobytes()
    arrays = [getattr(posed, channel) for channel in _CHANNELS]
    return b"".join([tint, *(a.tobytes() for a in arrays if a is not None)])


def _same(a: PosedPart, b: PosedPart) -> bool:
    if a.rest is not b.rest or a.shown != b.shown:
        return False
    if a.still and b.still:
        return True
    if (a.tint is None) != (b.tint is None) or (a.tint and b.tint and not np.array_equal(a.tint.share, b.tint.share)):
        return False
    pairs = [(getattr(a, k), getattr(b, k)) for k in _CHANNELS]
    return all((x is None and y is None) or (x is not None and y is not None and np.array_equal(x, y)) for x, y in pairs)
