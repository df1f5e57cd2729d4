"""What a pose is: parts as they stand in one frame, groups and echoes included."""

import functools
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from avlet.arrays import Floats
from avlet.document.parts import Matte, SpacePart
from avlet.document.template import Frame
from avlet.geometry import Box
from avlet.layout.rest import RestPart
from avlet.motion.apart import apart
from avlet.motion.posed_part import OUTWARD, PosedPart, opened_box, picture_key, same_part
from avlet.motion.stands import behind_sheets, seen_box

USUAL = Frame()


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
        inner = self.inner(part_id)
        found = [self.parts[part_id]] if inner is None else [posed for _, posed, _ in self.standing_in(part_id)]
        return seen_box(space.camera, self.shape, [posed for posed in found if posed.rest.body.seen], only)

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
            if not posed.rest.body.seen:
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
        if part.holds:
            return [(self, i) for i in self.members.get(part_id, [])]
        if part.copied is not None:
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
        """The opacity of each unit, 0 for those that are not drawn yet, or lie behind a sheet of the space that they stand in."""
        if posed.stand.lift is None:
            return posed.showing
        return np.where(behind_sheets(self.parts.values(), posed), 0.0, posed.showing)

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
        return b"".join([*(picture_key(p) for p in self.parts.values()), *(copy.key for copy in self.echoes.values())])

    def same_picture(self, other: "Pose") -> bool:
        """Whether both paint exactly the same."""
        return (
            self.parts.keys() == other.parts.keys()
            and all(same_part(posed, other.parts[i]) for i, posed in self.parts.items())
            and self.echoes.keys() == other.echoes.keys()
            and all(copy.same_picture(other.echoes[i]) for i, copy in self.echoes.items())
        )
