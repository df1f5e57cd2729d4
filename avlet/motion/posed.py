"""What a pose is: parts as they stand in one frame, groups and echoes included."""

import dataclasses
import functools
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from avlet.arrays import Floats
from avlet.document.looks.paints import SOFT_REACH
from avlet.document.parts import EchoPart, GroupPart, LampPart, Matte, SpacePart
from avlet.document.template import Frame
from avlet.document.time.moves import Opening, Unit
from avlet.geometry import Box
from avlet.keeping import kept_while_alive
from avlet.layout.arrange import RestPart
from avlet.motion.apart import apart
from avlet.motion.transforms import bounds, mapped

USUAL = Frame()
OUTWARD = np.array([-1.0, -1.0, 1.0, 1.0])
"""Left, top, right, bottom, away from the middle."""


@kept_while_alive
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
    exactly at rest. ``shown`` is False for a part that is switched off or has left for good. ``pace`` is the
    whole px a frame at which a list of credits moves, while it lies whole px from where it lies in other frames; else 0. In a space
    ``lift`` (units,) is how many px moves bring units nearer, ``tilts`` (units, 2) how they tilt and swing them, in degrees, and
    ``stood_on`` how many px before the sheet that lies which it stands on.
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
    pace: float = 0.0
    lift: Floats | None = None
    tilts: Floats | None = None
    stood_on: float = 0.0

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
    def most_opacity(self) -> float:
        """0…1: that of its most opaque unit, with the part's own."""
        if not self.shown or not len(self.opacity) or (self.opened is not None and not self.opened.any()):
            return 0.0
        return float(self.opacity.max()) * self.rest.part.opacity / 100


def box_corners(box: Box) -> Floats:
    """Top left, top right, bottom right, bottom left, (4, 2)."""
    return np.array([[box.x, box.y], [box.right, box.y], [box.right, box.bottom], [box.x, box.bottom]])


def members_by_group(groups: Mapping[str, str | None]) -> dict[str | None, list[str]]:
    """The ids of parts by the group that each is in, for those groups that are among them; under None all others."""
    found: dict[str | None, list[str]] = {}
    for part_id, group in groups.items():
        found.setdefault(group if group in groups else None, []).append(part_id)
    return found


@dataclass(frozen=True, eq=False)
class Pose:
    """All parts in one frame, back to front by id. ``echoes`` has for each echo the pose of what it is a copy of.

    ``grouped`` are the members by group where those are known already, ``shape`` is the template's frame, ``designed`` all parts at rest,
    without keys.
    """

    frame: int
    parts: Mapping[str, PosedPart]
    echoes: Mapping[str, "Pose"] = field(default_factory=dict)
    grouped: Mapping[str | None, list[str]] | None = None
    shape: Frame = USUAL
    designed: Mapping[str, RestPart] = field(default_factory=dict)

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
        space = self.space_of(part_id)
        if space is not None:
            return self.seen_in(space, part_id) or Box(*posed.outline_box[:2], 0, 0)
        inner = self.inner(part_id)
        if inner is None:
            return posed.outline_box
        return Box.union(box for box in (pose.outline_box(i) for pose, i in inner) if not box.empty) or Box(*posed.outline_box[:2], 0, 0)

    def space_of(self, part_id: str) -> SpacePart | None:
        """The space that a part is, or stands in; None for any other part."""
        return next((one.rest.part for one in self._within(part_id) if isinstance(one.rest.part, SpacePart)), None)

    def seen_in(self, space: SpacePart, part_id: str, only: NDArray[np.bool_] | None = None) -> Box | None:
        """Where a space, or what stands in it, or ``only`` some units of that, is seen in the frame; None where nothing is."""
        from avlet.motion.stands import seen_box

        inner = self.inner(part_id)
        found = [self.parts[part_id]] if inner is None else [posed for _, posed, _ in self.standing_in(part_id)]
        return seen_box(space.camera, self.shape, [posed for posed in found if not isinstance(posed.rest.part, LampPart)], only)

    def standing_in(self, group: str, opacity: float = 1.0) -> "Iterator[tuple[Pose, PosedPart, float]]":
        """The parts that stand in a group and in the groups in it, back to front, that are shown: each with the opacity of those."""
        for where, member in self.inner(group) or ():
            posed = where.parts[member]
            if not posed.shown or posed.most_opacity <= 0:
                continue
            if where.inner(member) is None:
                yield where, posed, opacity
            else:
                yield from where.standing_in(member, opacity * posed.most_opacity)

    def lamps_in(self, space: str) -> "Iterator[tuple[Pose, PosedPart, float]]":
        """The lamps of a space, each with the opacity of the groups that it is in."""
        for where, posed, opacity in self.standing_in(space):
            if isinstance(posed.rest.part, LampPart):
                yield where, posed, opacity

    def corners(self, part_id: str) -> Floats:
        """The corners (k, 2) of a convex outline round a part as it stands now: as closely as it is known for a part of one unit."""
        posed = self.parts[part_id]
        one = len(posed.hinge) == 1 and self.inner(part_id) is None
        found: Floats = posed.corners[0] if one else box_corners(self.outline_box(part_id))
        return found

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
        own = self.parts[part_id].reach
        return own if inner is None else own + max((pose.reach(i) for pose, i in inner), default=0.0)

    def visible_box(self, part_id: str) -> Box | None:
        """The bounds of what shows of a part now, mattes and opacity taken into account; None when nothing does."""
        posed = self.parts[part_id]
        if any(p.most_opacity <= 0 for p in self._within(part_id)):
            return None
        inner = self.inner(part_id)
        space = self.space_of(part_id)
        if space is not None:
            box = self.seen_in(space, part_id, None if inner is not None else self._unhidden(posed) > 0)
            seen = [] if box is None else [box]
        elif inner is None:
            rows = zip(posed.ink_edges, self._unhidden(posed), strict=True)
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

    def _unhidden(self, posed: PosedPart) -> Floats:
        """The opacity of each unit, 0 for those that lie behind a sheet of the space that they stand in."""
        if posed.lift is None:
            return posed.opacity
        from avlet.motion.stands import behind_sheets

        return np.where(behind_sheets(self, posed), 0.0, posed.opacity)

    def units_in_mattes(self, posed: PosedPart) -> NDArray[np.bool_]:
        """Which units have ink within the bounds of every matte now, shape (units,); all with ink where there is no matte.

        What lies wholly outside is not painted at all, so that no soft edge of it shows at any picture size.
        """
        if len(posed.hinge) == 1:
            return np.array([self._meets_mattes(posed)])
        edges = posed.ink_edges + posed.reach * OUTWARD
        inside = ~np.isnan(edges[:, 0])
        for matte in self.mattes_of(posed):
            if matte.hides:
                continue
            box = self.outline_box(matte.inside).grown(*[matte.grow + matte.soft] * 4)
            meets = (edges[:, 0] < box.right) & (edges[:, 2] > box.x) & (edges[:, 1] < box.bottom) & (edges[:, 3] > box.y)
            if meets.any() and self._turned(posed, matte):
                meets &= ~apart(posed.reaching, self.corners(matte.inside), matte.grow + matte.soft)
            inside &= meets
        return inside

    def _meets_mattes(self, posed: PosedPart) -> bool:
        """The same for a part of one unit, without the cost of arrays."""
        ink = posed.outline_box.grown(*[posed.reach] * 4)
        if ink.empty:
            return False
        for matte in self.mattes_of(posed):
            if matte.hides:
                continue
            window = self.outline_box(matte.inside).grown(*[matte.grow + matte.soft] * 4)
            if not (ink.x < window.right and ink.right > window.x and ink.y < window.bottom and ink.bottom > window.y):
                return False
            if self._turned(posed, matte) and apart(posed.reaching, self.corners(matte.inside), matte.grow + matte.soft).all():
                return False
        return True

    def _turned(self, posed: PosedPart, matte: Matte) -> bool:
        """Whether a part and its matte may lie apart though the boxes round them meet."""
        return posed.matrix is not None or self.parts[matte.inside].matrix is not None

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


_READ = tuple(f.name for f in dataclasses.fields(PosedPart) if f.name not in ("rest", "unit", "still", "shown"))
"""All that a posed part is, read off its definition: whatever is added to it counts when two frames are compared."""


def _key(posed: PosedPart) -> bytes:
    if not posed.shown:
        return b"gone"
    if posed.still:
        return b"still"
    return b"".join(_bytes_of(getattr(posed, name)) for name in _READ)


def _bytes_of(value: Any) -> bytes:
    if isinstance(value, np.ndarray):
        return value.tobytes()
    return b"".join(_bytes_of(item) for item in value) if isinstance(value, tuple) else repr(value).encode()


def _same(a: PosedPart, b: PosedPart) -> bool:
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
