"""Members of a space as they stand in it: each unit's place in depth, and where all of them are seen."""

import math
import weakref
from collections.abc import Iterable

import numpy as np

from avlet.arrays import Floats, Marks
from avlet.document.looks.colours import is_opaque
from avlet.document.looks.forms import Rectangle
from avlet.document.looks.paints import colours_of
from avlet.document.parts import Camera, ShapePart
from avlet.document.template import Frame
from avlet.geometry import Box
from avlet.layout.rest import unit_edges
from avlet.motion.camera import camera_matrix, projected
from avlet.motion.posed_part import PosedPart


def depth_of(posed: PosedPart) -> float:
    """How deep a part is in this frame, in px."""
    part = posed.rest.part
    return part.deep


def unit_matrices(posed: PosedPart) -> Floats:
    """(units, 4, 4): from a point of a unit at rest, in px of the frame, and its depth, to where it stands in space."""
    return in_depth(posed) @ _in_the_plane(posed)


def form_matrices(posed: PosedPart) -> Floats:
    """The same for what is built in its box of this frame, such as shapes: they are scaled and shifted already."""
    plane = np.broadcast_to(np.eye(4), (len(posed.hinge), 4, 4)).copy()
    return in_depth(posed) @ (plane if posed.matrix is None else lifted(posed.matrix) @ plane)


def _in_the_plane(posed: PosedPart) -> Floats:
    """What moves and stances do to each unit in the plane of the frame."""
    units = len(posed.hinge)
    made = np.broadcast_to(np.eye(4), (units, 4, 4)).copy()
    made[:, 0, 0], made[:, 1, 1] = posed.scale[:, 0], posed.scale[:, 1]
    made[:, :2, 3] = posed.hinge * (1 - posed.scale) + posed.shift
    return made if posed.matrix is None else lifted(posed.matrix) @ made


def lifted(matrix: Floats) -> Floats:
    """A transformation of the plane (…, 3, 3) as one of space that leaves depths alone."""
    made = np.zeros((*matrix.shape[:-2], 4, 4))
    made[..., :2, :2], made[..., :2, 3] = matrix[..., :2, :2], matrix[..., :2, 2]
    made[..., 3, :2], made[..., 3, 3] = matrix[..., 2, :2], matrix[..., 2, 2]
    made[..., 2, 2] = 1.0
    return made


def in_depth(posed: PosedPart) -> Floats:
    """Lifts, tilts and swings of moves about each unit's hinge, then the part's own stand about its middle."""
    units, part = len(posed.hinge), posed.rest.part
    made = np.broadcast_to(np.eye(4), (units, 4, 4)).copy()
    half = depth_of(posed) / 2
    if posed.stand.tilts is not None:
        hinge = np.column_stack([posed.hinge + posed.shift, np.full(units, half)])
        if posed.matrix is not None:
            flat = np.einsum("nij,nj->ni", posed.matrix, np.column_stack([hinge[:, :2], np.ones(units)]))
            hinge[:, :2] = flat[:, :2] / np.where(np.abs(flat[:, 2:]) < 1e-9, 1.0, flat[:, 2:])
        made = np.stack([about_point(rotation(*tilt), at) for tilt, at in zip(posed.stand.tilts.tolist(), hinge, strict=True)])
    if posed.stand.lift is not None:
        made[:, 2, 3] += posed.stand.lift
    stand = part.own_stand
    if stand is not None:
        x, y = posed.rest.box.middle
        own = about_point(rotation(stand.tilt, stand.swing), np.array([x, y, half]))
        own[2, 3] += stand.before
        made = own @ made
    made[:, 2, 3] += posed.stand.on
    return made


def rotation(tilt: float, swing: float) -> Floats:
    """Tilted about a level axis (the top goes away for a positive one), then swung about an upright one (the right goes away), (4, 4)."""
    a, b = math.radians(tilt), math.radians(swing)
    level = np.array([[1, 0, 0, 0], [0, math.cos(a), -math.sin(a), 0], [0, math.sin(a), math.cos(a), 0], [0, 0, 0, 1]])
    upright = np.array([[math.cos(b), 0, math.sin(b), 0], [0, 1, 0, 0], [-math.sin(b), 0, math.cos(b), 0], [0, 0, 0, 1]])
    made: Floats = upright @ level
    return made


def about_point(matrix: Floats, point: Floats) -> Floats:
    """A transformation (4, 4) done about a point (3,)."""
    there, back = np.eye(4), np.eye(4)
    there[:3, 3], back[:3, 3] = point, -point
    made: Floats = there @ matrix @ back
    return made


def corners_in_space(posed: PosedPart, only: Marks | None = None) -> Floats:
    """Eight corners of each unit that has ink, (units, 8, 3), of all of them or of ``only`` some."""
    if posed not in _corners:
        _corners[posed] = _all_corners(posed)
    seen, found = _corners[posed]
    return found if only is None else found[only[seen]]


_corners: "weakref.WeakKeyDictionary[PosedPart, tuple[Marks, Floats]]" = weakref.WeakKeyDictionary()


def _all_corners(posed: PosedPart) -> tuple[Marks, Floats]:
    """Which units have ink, and the corners of those."""
    edges = unit_edges(posed.rest, posed.unit)
    seen = ~np.isnan(edges[:, 0])
    left, top, right, bottom = edges[seen].T
    z = np.full(len(left), depth_of(posed))
    flat = [(x, y, d) for x in (left, right) for y in (top, bottom) for d in (np.zeros(len(left)), z)]
    points = np.stack([np.stack([*one, np.ones(len(left))], axis=1) for one in flat], axis=1)
    whole = np.einsum("nij,nkj->nki", unit_matrices(posed)[seen], points)
    found: Floats = whole[..., :3] / np.where(np.abs(whole[..., 3:]) < 1e-9, 1.0, whole[..., 3:])
    return seen, found


def lies_flat(posed: PosedPart, camera: Camera) -> bool:
    """Whether a member of a space lies in the plane of the frame before a camera at rest, where it looks as without a space."""
    part = posed.rest.part
    stand = part.own_stand
    upright = stand is None or not (stand.before or stand.swing or stand.tilt)
    resting = camera == Camera(angle=camera.angle)
    return resting and upright and not posed.stand.on and not posed.stand.moved and depth_of(posed) <= 0


def behind_sheets(beside: Iterable[PosedPart], posed: PosedPart) -> Marks:
    """Which units of a member of a space lie wholly behind another that is flat, opaque and covers them, (units,).

    Seen by a camera at rest, before which sheets stand upright; what is turned out of the plane hides nothing for sure.
    """
    part = posed.rest.part
    stand = part.own_stand
    lift = posed.stand.lift if posed.stand.lift is not None else np.zeros(len(posed.hinge))
    front = lift + (stand.before if stand else 0.0) + posed.stand.on + depth_of(posed)
    found = np.zeros(len(posed.hinge), bool)
    if posed.stand.tilts is not None or (stand is not None and (stand.swing or stand.tilt)):
        return found
    for other in beside:
        sheet = other.rest.part
        if other is posed or sheet.group != part.group or not _hides(other):
            continue
        at = other.stand.on + (sheet.own_stand.before if sheet.own_stand else 0.0)
        if other.outline_box.grown(1, 1, 1, 1).contains(posed.outline_box):
            found |= front < at
    return found


def _hides(posed: PosedPart) -> bool:
    """Whether a part is an upright sheet through which nothing is seen."""
    part = posed.rest.part
    if not isinstance(part, ShapePart) or not posed.shown or posed.most_opacity < 1 or posed.stand.moved:
        return False
    upright = part.stand is None or not (part.stand.swing or part.stand.tilt or part.stand.only_shadows)
    return upright and depth_of(posed) <= 0 and isinstance(part.form, Rectangle) and all(map(is_opaque, colours_of(part.fill)))


def seen_box(camera: Camera, frame: Frame, members: list[PosedPart], only: Marks | None = None) -> Box | None:
    """Where members of a space, or ``only`` some of their units, are seen in the frame; None where none is.

    What reaches behind the camera may be seen anywhere.
    """
    points = [corners_in_space(posed, only).reshape(-1, 3) for posed in members]
    if not any(map(len, points)):
        return None
    flat = projected(camera_matrix(camera, frame), np.concatenate(points))
    if np.isnan(flat).all():
        return None
    if np.isnan(flat).any():
        return Box(-frame.width, -frame.height, 3 * frame.width, 3 * frame.height)
    (left, top), (right, bottom) = flat.min(axis=0).tolist(), flat.max(axis=0).tolist()
    return Box.from_edges(left, top, right, bottom)
