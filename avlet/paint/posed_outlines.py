"""Outlines of parts as they stand in a frame: what mattes use. What stands in a space counts as it is seen from its camera."""

import dataclasses
import functools
from collections.abc import Callable, Iterable, Iterator

import msgspec
import numpy as np
import skia

from avlet.arrays import Floats
from avlet.document.parts import PatternPart, SpacePart
from avlet.geometry import Box
from avlet.layout.bodies.body import Body
from avlet.layout.bodies.numbers import Numbers
from avlet.layout.bodies.outline import Ball, Light, Outline, Picture
from avlet.layout.bodies.repeated import Repeated
from avlet.layout.bodies.rolling_list import PageOfList, RollingList
from avlet.layout.bodies.words import Words
from avlet.motion.camera import camera_matrix
from avlet.motion.posed import Pose
from avlet.motion.posed_part import PosedPart
from avlet.motion.stands import depth_of, lies_flat
from avlet.paint.outlines import (
    copies_in,
    copy_matrix,
    copy_path,
    filled_area,
    list_in,
    part_path,
    skia_matrix,
    strip_matrix,
    tiles_seen,
    turning_pieces,
    unit_matrix,
    unit_paths,
)
from avlet.paint.space_bodies import bodies_of
from avlet.solid import drawing
from avlet.solid.meshes import FRONT, joined
from avlet.solid.sights import NEAR


def posed_outline(pose: Pose, part_id: str) -> skia.Path:
    """The whole outline of a part as it stands now, whatever its opacity, colour or visibility: what mattes use."""
    posed, path = pose.parts[part_id], skia.Path()
    inner, space = pose.inner(part_id), pose.space_of(part_id)
    if space is not None and not drawing.fault():
        members = list(_standing(pose, part_id))
        if not all(lies_flat(member, space.camera) for member in members):
            return silhouette(pose, members, space)
    if inner is not None:
        for where, member in inner:
            path = skia.Op(path, posed_outline(where, member), skia.PathOp.kUnion_PathOp) or path
        return path
    return _OUTLINES[type(posed.rest.body)](posed)


def _of_list(posed: PosedPart) -> skia.Path:
    path, strip = skia.Path(), list_in(posed).strip
    for tile in tiles_seen(posed):
        (whole,) = unit_paths(strip.sheet(tile.first, tile.last), "whole")
        path.addPath(whole, strip_matrix(posed, tile.begin))
    return path


def _of_words(posed: PosedPart) -> skia.Path:
    path, corner, setting = skia.Path(), posed.rest.box, posed.rest.body.setting
    assert setting is not None
    for index, unit in enumerate(unit_paths(setting, posed.unit)):
        path.addPath(unit, unit_matrix(posed, index, corner.x, corner.y))
    for index, pieces in turning_pieces(setting, posed.unit).items():
        for piece, _ in pieces:
            piece.transform(unit_matrix(posed, index, corner.x, corner.y))
            path = skia.Op(path, piece, skia.PathOp.kUnion_PathOp) or path
    return path


def _of_copies(posed: PosedPart) -> skia.Path:
    path, part, copies = skia.Path(), posed.rest.part, copies_in(posed).units
    assert isinstance(part, PatternPart)
    for number in range(len(copies.centres)):
        path.addPath(copy_path(part, copies.width, copies.height), copy_matrix(posed, number))
    area = filled_area(posed)
    return path if area is None else skia.Op(path, area, skia.PathOp.kIntersect_PathOp) or path


def _of_form(posed: PosedPart) -> skia.Path:
    if posed.matrix is None:
        return part_path(posed)
    path = skia.Path()
    part_path(posed).transform(skia_matrix(posed.matrix[0]), path)
    return path


def _of_nothing(posed: PosedPart) -> skia.Path:
    return skia.Path()


_OUTLINES: dict[type[Body], Callable[[PosedPart], skia.Path]] = {
    Words: _of_words, Numbers: _of_words, PageOfList: _of_words, RollingList: _of_list, Repeated: _of_copies,
    Outline: _of_form, Picture: _of_form, Ball: _of_form, Light: _of_nothing,
}  # fmt: skip
"""By body: its outline as it stands now."""


def _standing(pose: Pose, part_id: str) -> Iterator[PosedPart]:
    """A part, or all that is in it and in what is in it, lamps aside, whether or not that is shown."""
    inner = pose.inner(part_id)
    if inner is not None:
        for where, member in inner:
            yield from _standing(where, member)
    elif pose.parts[part_id].rest.body.seen:
        yield pose.parts[part_id]


def fronts_outline(pose: Pose, part_id: str) -> skia.Path | None:
    """Where the fronts of a solid member of a space are seen, whatever stands before them; None for any other part."""
    space, posed = pose.space_of(part_id), pose.parts[part_id]
    if space is None or depth_of(posed) <= 0 or drawing.fault():
        return None
    return silhouette(pose, [posed], space, only_fronts=True)


def silhouette(pose: Pose, members: Iterable[PosedPart], space: SpacePart, only_fronts: bool = False) -> skia.Path:
    """What members of a space hide of all that lies behind them, seen from the camera: the outline of all their sides together."""
    matrix, frame = camera_matrix(space.camera, pose.shape), pose.shape
    bodies = [body for posed in members for body in bodies_of(_opaque(posed), 1.0)]
    around = Box(-frame.width, -frame.height, 3.0 * frame.width, 3.0 * frame.height)
    found = []
    for body in bodies:
        triangles, closed = body.mesh.triangles(body.depth), not body.mesh.flat and body.depth > 0
        if only_fronts:
            triangles, closed = triangles[body.mesh.vertices[::3, 7] == FRONT], False
        found.append(_seen(triangles, matrix @ body.matrix, closed, around))
    joint = np.concatenate(found) if found else np.zeros((0, 3, 2))
    return skia.Path(_joined(np.ascontiguousarray(joint).tobytes()))


def _opaque(posed: PosedPart) -> PosedPart:
    """A part that is there whole, however much of it is seen."""
    rest, part = posed.rest, posed.rest.part
    if part.opacity < 100:
        rest = dataclasses.replace(rest, part=msgspec.structs.replace(part, opacity=100.0))
    return dataclasses.replace(posed, rest=rest, opacity=np.ones_like(posed.opacity))


@functools.lru_cache(maxsize=64)
def _joined(triangles: bytes) -> skia.Path:
    path = skia.Path()
    for ring in joined(np.frombuffer(triangles).reshape(-1, 3, 2)):
        path.addPoly([skia.Point(x, y) for x, y in ring.tolist()], True)
    return path


def _seen(triangles: Floats, matrix: Floats, closed: bool, around: Box) -> Floats:
    """Triangles (n, 3, 3) as they lie in the frame, (m, 3, 2), all wound the same way, as many as their silhouette needs.

    Those that reach behind the camera, or lie far out of the picture, are left out; of a closed body one side says it all.
    """
    points = np.concatenate([triangles, np.ones((len(triangles), 3, 1))], axis=2) @ matrix.T
    before = (points[..., 3] > NEAR).all(axis=1)
    points = points[before]
    flat: Floats = points[..., :2] / points[..., 3:]
    a, b = flat[:, 1] - flat[:, 0], flat[:, 2] - flat[:, 0]
    turned = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
    shows = np.abs(turned) > 1e-6
    if closed and before.all():
        fewer = 1.0 if (turned > 0).sum() < (turned < 0).sum() else -1.0
        shows &= turned * fewer > 0
    shows &= (flat[..., 0].max(axis=1, initial=-np.inf) > around.x) & (flat[..., 0].min(axis=1, initial=np.inf) < around.right)
    shows &= (flat[..., 1].max(axis=1, initial=-np.inf) > around.y) & (flat[..., 1].min(axis=1, initial=np.inf) < around.bottom)
    flat[turned < 0] = flat[turned < 0][:, ::-1]
    found: Floats = flat[shows]
    return found
