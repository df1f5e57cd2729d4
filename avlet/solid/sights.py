"""Where things are seen: matrices for eye, sun and lamps, and which part of a picture needs to be drawn."""

import math
from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np

from avlet.arrays import Floats
from avlet.solid.bodies import Body, Lamp, Light, Stage

NEAR = 0.02
"""Share of the camera's distance at rest: what is nearer is not seen."""
FACES = 6
RIGHT_ANGLE = 0.94
"""How much of a lamp's tile a right angle takes: the rest lies over its neighbours, so that soft borders are whole."""
_LAMP_NEAR = 2.0
Area = tuple[float, float, float, float]
"""Left, top, right and bottom, in px of the frame."""


class Region(NamedTuple):
    """px of a picture: left, top, right, bottom."""

    left: int
    top: int
    right: int
    bottom: int

    def holds(self, x: int, y: int) -> bool:
        """Whether a px lies in it."""
        return self.left <= x < self.right and self.top <= y < self.bottom

    @property
    def size(self) -> int:
        """How many px it has."""
        return max(0, self.right - self.left) * max(0, self.bottom - self.top)

    def without(self, other: "Region") -> list["Region"]:
        """What is left of it where another is cut out: bands above, below, left and right of that."""
        top, bottom = min(max(other.top, self.top), self.bottom), max(min(other.bottom, self.bottom), self.top)
        if other.left >= self.right or other.right <= self.left or top >= bottom:
            return [self]
        left, right = max(other.left, self.left), min(other.right, self.right)
        found = [
            Region(self.left, self.top, self.right, top), Region(self.left, bottom, self.right, self.bottom),
            Region(self.left, top, left, bottom), Region(right, top, self.right, bottom),
        ]  # fmt: skip
        return [one for one in found if one.size]

    def joined(self, other: "Region") -> "Region":
        """The smallest region round both."""
        return Region(min(self.left, other.left), min(self.top, other.top), max(self.right, other.right), max(self.bottom, other.bottom))


def columns(matrix: Floats) -> bytes:
    """A matrix as OpenGL reads it: column after column."""
    return matrix.T.astype("f4").tobytes()


def of_box(box: Area, width: int, height: int) -> Floats:
    """From px of the frame to those of a picture of a box of it, (2, 3)."""
    across, down = width / (box[2] - box[0]), height / (box[3] - box[1])
    return np.array([[across, 0.0, -box[0] * across], [0.0, down, -box[1] * down]])


def to_clip(stage: Stage, to_px: Floats, width: int, height: int) -> Floats:
    """From space to the card's clip space, y down so that the first row that is read is the top one. ``to_px`` (2, 3) brings px of the
    frame to those of what is drawn into, which is so wide and high.
    """
    m = stage.view.matrix
    seen = to_px @ m[[0, 1, 3]]
    far = max(2.0, stage.farthest * 1.05)
    clip = np.zeros((4, 4))
    clip[0] = 2 / width * seen[0] - m[3]
    clip[1] = 2 / height * seen[1] - m[3]
    clip[2] = (far + NEAR) / (far - NEAR) * m[3] - np.array([0, 0, 0, 2 * far * NEAR / (far - NEAR)])
    clip[3] = m[3]
    return clip


def by_sun(casting: Sequence[Body], light: Light) -> Floats:
    """From space to what the sun sees, all that throws shadows within −1 to 1."""
    to_sun = np.array(light.to_sun)
    side = np.cross(np.array([0.0, 1.0, 0.0]) if abs(to_sun[1]) < 0.95 else np.array([1.0, 0.0, 0.0]), to_sun)
    side /= np.linalg.norm(side)
    axes = np.stack([side, np.cross(to_sun, side), -to_sun])
    seen = np.concatenate([body.corners for body in casting]) @ axes.T
    low, high = seen.min(axis=0) - 4 - light.soft, seen.max(axis=0) + 4 + light.soft
    high[2] += 40_000.0  # what shadows fall on may lie far behind
    half = (high - low) / 2
    half[:2] = half[:2].max()  # texels are square
    half[2] = (high[2] - low[2]) / 2
    made = np.eye(4)
    made[:3, :3] = axes / half[:, None]
    made[:3, 3] = -((low + high) / 2) / half
    return made


def by_lamp(lamp: Lamp, face: int, far: float) -> Floats:
    """From space to what a lamp sees through one of the six faces of a cube round it: +x, −x, +y, −y, +z, −z."""
    axis, ahead = face // 2, 1.0 if face % 2 == 0 else -1.0
    side, down = (axis + 1) % 3, (axis + 2) % 3
    near = _LAMP_NEAR
    made = np.zeros((4, 4))
    made[0, side], made[1, down] = RIGHT_ANGLE, RIGHT_ANGLE
    made[2, axis], made[3, axis] = ahead * (far + near) / (far - near), ahead
    made[:, 3] = -made[:, :3] @ np.array(lamp.at)
    made[2, 3] -= 2 * far * near / (far - near)
    return made


def lamp_span(bodies: Sequence[Body], lamps: Sequence[Lamp]) -> tuple[float, float, float]:
    """How near and how far lamps see, and how much of a tile a right angle takes."""
    points = np.concatenate([body.corners for body in bodies]) if bodies else np.zeros((1, 3))
    far = max(float(np.linalg.norm(points - np.array(lamp.at), axis=1).max()) for lamp in lamps)
    return _LAMP_NEAR, max(4 * _LAMP_NEAR, 1.1 * far), RIGHT_ANGLE


def within(matrix: Floats, bodies: Sequence[Body]) -> list[Body]:
    """The bodies that do not lie wholly on the far side of a border of what a matrix to clip space sees."""
    corners = np.stack([body.corners for body in bodies]) if bodies else np.zeros((0, 8, 3))
    points = corners @ matrix[:, :3].T + matrix[:, 3]
    over = np.concatenate([points[..., :3], -points[..., :3]], axis=2) > points[..., 3:]
    apart = np.any(np.all(over, axis=1), axis=1)
    return [body for body, far in zip(bodies, apart.tolist(), strict=True) if not far]


def area_of(stage: Stage, body: Body) -> Area | None:
    """Where a body is seen; None where that may be anywhere."""
    return _on_frame(stage, body.corners, 2.0)


def shadows_on(stage: Stage, body: Body) -> list[Area] | None:
    """Where shadows of each of the others may fall on a flat body; None where that may be anywhere."""
    if not body.mesh.flat or np.abs(body.matrix[3] - [0, 0, 0, 1]).max() > 1e-9:
        return None
    normal = np.cross(body.matrix[:3, 0], body.matrix[:3, 1])
    normal /= max(1e-12, float(np.linalg.norm(normal)))
    on_it = body.matrix[:3, 3] + body.matrix[:3, 2] * body.depth
    casting = [o for o in stage.bodies if o is not body and o.casts and not o.mesh.empty and o.opacity > 0]
    falls = [_by_lamp(stage, lamp, casting, on_it, normal) for lamp in stage.light.lamps]
    if stage.light.sunny:
        falls.append(_by_sun(stage, casting, on_it, normal))
    return None if None in falls else [area for areas in falls for area in areas or ()]


def _by_sun(stage: Stage, casting: Sequence[Body], on_it: Floats, normal: Floats) -> list[Area] | None:
    """Where the sun's shadows fall on a plane; None where that may be anywhere."""
    to_sun = np.array(stage.light.to_sun)
    lean = float(normal @ to_sun)
    if abs(lean) < _FLAT_LIGHT:
        return None
    found = []
    for other in casting:
        ways = (other.corners - on_it) @ normal / lean
        if (ways > 0).any():
            area = _on_frame(stage, other.corners - to_sun * np.maximum(ways, 0.0)[:, None], 4.0, 2.0 * stage.light.soft)
            if area is None:
                return None
            found.append(area)
    return found


def _by_lamp(stage: Stage, lamp: Lamp, casting: Sequence[Body], on_it: Floats, normal: Floats) -> list[Area] | None:
    """Where a lamp's shadows fall on a plane; None where that may be anywhere."""
    at = np.array(lamp.at)
    high = float((at - on_it) @ normal)
    if high < 0:
        high, normal = -high, -normal
    found = []
    for other in casting:
        heights = (other.corners - on_it) @ normal
        if heights.min() >= high or heights.max() <= 0:
            continue  # farther from the plane than the lamp, or behind it
        if heights.max() > 0.9 * high:
            return None
        points = at + (other.corners - at) * (high / (high - np.maximum(heights, 0.0)))[:, None]
        longer = float(np.linalg.norm(points - at, axis=1).max()) / high  # of what is soft, where light grazes the plane
        area = _on_frame(stage, points, 4.0, (2.0 * lamp.soft + 8.0) * longer)
        if area is None:
            return None
        found.append(area)
    return found


_FLAT_LIGHT = 0.05
"""Light that leans less on a plane than this throws shadows too long to be told where."""


def region_of(area: Area, to_px: Floats, width: int, height: int, room: int = 0) -> Region:
    """An area of the frame as px of a picture, which ``to_px`` (2, 3) leads to without a turn."""
    (left, top), (right, bottom) = (to_px @ (area[n], area[n + 1], 1.0) for n in (0, 2))
    return Region(
        max(0, math.floor(left) - room), max(0, math.floor(top) - room),
        min(width, math.ceil(right) + room), min(height, math.ceil(bottom) + room),
    )  # fmt: skip


def _on_frame(stage: Stage, points: Floats, room: float, room_in_space: float = 0.0) -> Area | None:
    """The box of points of space in the frame, with room round it; None where one of them is not before the eye."""
    seen = np.column_stack([points, np.ones(len(points))]) @ stage.view.matrix.T
    if (seen[:, 3] <= NEAR).any():
        return None
    flat = seen[:, :2] / seen[:, 3:]
    room += room_in_space / float(seen[:, 3].min())
    (left, top), (right, bottom) = flat.min(axis=0) - room, flat.max(axis=0) + room
    return float(left), float(top), float(right), float(bottom)


def focus(stage: Stage, box: Area, width: int, height: int) -> list[Region] | None:
    """Where a picture of a stage is more than a plain sheet that fills it: there it needs to be drawn. None where that is most of it.

    Most spaces stand on a sheet that fills the frame, in light that is the same all over: beside what stands there and its shadows,
    each px is like any other. The first region is one of nothing but that.
    """
    bodies = [body for body in stage.bodies if not body.mesh.empty and body.opacity > 0]
    ground = next((body for body in bodies if _is_ground(stage, body, box)), None)
    if ground is None or len(bodies) > _MOST_APART:
        return None
    areas: list[Area | None] = [area_of(stage, body) for body in bodies if body is not ground]
    fall = shadows_on(stage, ground) if stage.light.sunny else []
    areas += fall if fall is not None else [None]
    if None in areas:
        return None
    to_px = of_box(box, width, height)
    found = [region for area in areas if area is not None and (region := region_of(area, to_px, width, height, 2)).size]
    plain = next((Region(x, y, x + 1, y + 1) for x, y in _looks(width, height) if not any(one.holds(x, y) for one in found)), None)
    regions = merged(found, _EACH)
    return [plain, *regions] if plain is not None and sum(region.size for region in regions) < 0.9 * width * height else None


_MOST_APART, _EACH = 200, 160 * 160
"""Bodies that are looked at one by one, and how many px it costs about to draw one region more."""


def _looks(width: int, height: int) -> Iterator[tuple[int, int]]:
    """Px at which a plain one is looked for: along the borders, then inside."""
    yield from ((x, y) for y in (0, height - 1) for x in (0, width // 2, width - 1))
    yield from ((width * (2 * i + 1) // 8, height * (2 * j + 1) // 8) for j in range(4) for i in range(4))


def parted(regions: Sequence[Region]) -> list[Region]:
    """Regions that cover the same px, and none of them twice."""
    found: list[Region] = []
    for region in regions:
        left = [region]
        for other in found:
            left = [piece for one in left for piece in one.without(other)]
        found += left
    return found


def merged(regions: Sequence[Region], each: int) -> list[Region]:
    """Regions joined as long as that is less to draw than each by itself, which costs as much as ``each`` px more."""
    left = list(regions)
    found: list[Region] = []
    while left:
        one = left.pop()
        for other in [*found, *left]:
            both = one.joined(other)
            if both.size <= one.size + other.size + each:
                (found if other in found else left).remove(other)
                left.append(both)
                break
        else:
            found.append(one)
    return found


def _is_ground(stage: Stage, body: Body, box: Area) -> bool:
    """Whether a body is a plain upright rectangle, the same all over, that is seen in all of a box."""
    if (
        body.through
        or body.texture is not None
        or body.shine > 0
        or stage.light.lamps
        or len(body.mesh.vertices) != 6
        or not body.mesh.flat
    ):
        return False
    v = body.mesh.vertices[:, :2].astype(float)
    low, high = v.min(axis=0), v.max(axis=0)
    twice = _across(v[[1, 4]] - v[[0, 3]], v[[2, 5]] - v[[0, 3]])
    if abs(float(np.abs(twice).sum()) / 2 - float(np.prod(high - low))) > 1e-3:
        return False
    ring = np.array([(low[0], low[1], body.depth, 1), (high[0], low[1], body.depth, 1), (high[0], high[1], body.depth, 1),
                     (low[0], high[1], body.depth, 1)]) @ body.matrix.T @ stage.view.matrix.T  # fmt: skip
    if (ring[:, 3] <= NEAR).any():
        return False
    flat = ring[:, :2] / ring[:, 3:]
    wanted = np.array([(box[0], box[1]), (box[2], box[1]), (box[2], box[3]), (box[0], box[3])])
    along = np.roll(flat, -1, axis=0) - flat
    beside = _across(along[:, None], wanted[None] - flat[:, None])
    return bool((beside >= -1e-3).all() or (beside <= 1e-3).all())


def _across(one: Floats, other: Floats) -> Floats:
    """Twice the area between pairs of directions of the plane."""
    found: Floats = one[..., 0] * other[..., 1] - one[..., 1] * other[..., 0]
    return found
