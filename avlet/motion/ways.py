"""How far parts travel between two poses: what motion blur goes by."""

import dataclasses
import math

import numpy as np

from avlet.document.parts import SpacePart
from avlet.motion.camera import camera_matrix, projected
from avlet.motion.posed import Pose
from avlet.motion.posed_part import PosedPart
from avlet.motion.stands import corners_in_space, unit_matrices


def travel(first: Pose, last: Pose, part_id: str) -> float:
    """The longest way in px of the frame that any unit of a part goes, its mattes, members and original included."""
    return _travel(first, last, part_id, set())


def _travel(first: Pose, last: Pose, part_id: str, asked: set[str]) -> float:
    """The longest way that any unit of a part goes between two poses, its mattes, members and original included."""
    if part_id in asked:
        return 0.0
    asked.add(part_id)
    a, b = first.parts[part_id], last.parts[part_id]
    if isinstance(a.rest.part, SpacePart):
        return max(_travel_in_space(first, last, part_id), *(_travel(first, last, m.inside, asked) for m in first.mattes_of(a)), 0.0)
    far = 0.0 if a is b else _unit_travel(a, b)
    if part_id in first.echoes:
        copy, other = first.echoes[part_id], last.echoes[part_id]
        far = max([far, *(_travel(copy, other, i, set()) for i in copy.members.get(None, ()))])
    related = [*first.members.get(part_id, ()), *(m.inside for m in first.mattes_of(a))]
    return max([far, *(_travel(first, last, i, asked) for i in related)])


def _unit_travel(a: PosedPart, b: PosedPart) -> float:
    if a.rest.part is b.rest.part and a.rest.body is not b.rest.body and a.unit == b.unit:
        b = dataclasses.replace(b, rest=a.rest)  # what it shows of itself, such as another number, is no way that it goes
    corners, others = a.corners, b.corners
    if a.shown != b.shown or corners.shape != others.shape:
        return 1.0
    gone = (a.opacity <= 0) & (b.opacity <= 0)
    ways = np.abs(np.nan_to_num(corners - others)).max(axis=(1, 2))
    ways[gone] = 0.0
    far = float(ways.max(initial=0.0))
    if far == 0 and (not np.array_equal(a.opacity, b.opacity) or a.rest is not b.rest):
        return 0.0  # what only fades or changes its look is as sharp as ever
    return far


def _travel_in_space(first: Pose, last: Pose, space: str) -> float:
    """The longest way, as the camera sees it, of what stands in a space; of shadows, as far as the sun or a lamp moves them."""
    before, after = first.parts[space].rest.part, last.parts[space].rest.part
    assert isinstance(before, SpacePart) and isinstance(after, SpacePart)
    one, other = ({posed.rest.part.id: posed for _, posed, _ in pose.standing_in(space)} for pose in (first, last))
    eyes = camera_matrix(before.camera, first.shape), camera_matrix(after.camera, last.shape)
    far = 0.0
    for part_id in one.keys() & other.keys():
        a, b = one[part_id], other[part_id]
        if not a.rest.body.seen:
            far = max(far, float(np.abs(unit_matrices(a) - unit_matrices(b))[:, :3, 3].max()))
            continue
        shows = (a.opacity > 0) | (b.opacity > 0)
        if len(a.opacity) != len(b.opacity):
            return 1.0
        ways = [projected(eye, corners_in_space(posed, shows).reshape(-1, 3)) for eye, posed in zip(eyes, (a, b), strict=True)]
        far = max(far, float(np.nan_to_num(np.abs(ways[0] - ways[1])).max(initial=0.0)))
    turned = math.radians(max(abs(before.sun.round - after.sun.round), abs(before.sun.up - after.sun.up)))
    return max(far, turned * first.shape.height / 2 if after.sun.strength > 0 else 0.0)
