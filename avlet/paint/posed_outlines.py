"""Outlines of parts as they stand in a frame: what mattes use. What stands in a space counts as it is seen from its camera."""

import functools

import numpy as np
import skia

from avlet.arrays import Floats
from avlet.document.parts import PatternPart, SpacePart
from avlet.motion.camera import camera_matrix
from avlet.motion.posed import Pose, PosedPart
from avlet.motion.stands import lies_flat
from avlet.paint.outlines import (
    copy_matrix,
    copy_path,
    filled_area,
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
from avlet.solid.meshes import joined
from avlet.solid.sights import NEAR


def posed_outline(pose: Pose, part_id: str) -> skia.Path:
    """The whole outline of a part as it stands now, whatever its opacity, colour or visibility: what mattes use."""
    posed, path = pose.parts[part_id], skia.Path()
    inner = pose.inner(part_id)
    if inner is not None:
        for where, member in inner:
            path = skia.Op(path, posed_outline(where, member), skia.PathOp.kUnion_PathOp) or path
        return path
    space = pose.space_of(part_id)
    if space is not None and not lies_flat(posed, space.camera) and not drawing.fault():
        return silhouette(pose, posed, space)
    if posed.rest.strip is not None:
        for tile in tiles_seen(posed):
            (whole,) = unit_paths(posed.rest.strip.sheet(tile.first, tile.last), "whole")
            path.addPath(whole, strip_matrix(posed, tile.begin))
    elif posed.rest.setting is not None:
        corner = posed.rest.box
        for index, unit in enumerate(unit_paths(posed.rest.setting, posed.unit)):
            path.addPath(unit, unit_matrix(posed, index, corner.x, corner.y))
        for index, pieces in turning_pieces(posed.rest.setting, posed.unit).items():
            for piece, _ in pieces:
                piece.transform(unit_matrix(posed, index, corner.x, corner.y))
                path = skia.Op(path, piece, skia.PathOp.kUnion_PathOp) or path
    elif posed.rest.copies is not None:
        part, copies = posed.rest.part, posed.rest.copies
        assert isinstance(part, PatternPart)
        for number in range(len(copies.centres)):
            path.addPath(copy_path(part, copies.width, copies.height), copy_matrix(posed, number))
        area = filled_area(posed)
        if area is not None:
            path = skia.Op(path, area, skia.PathOp.kIntersect_PathOp) or path
    elif posed.matrix is None:
        return part_path(posed)
    else:
        part_path(posed).transform(skia_matrix(posed.matrix[0]), path)
    return path


def silhouette(pose: Pose, posed: PosedPart, space: SpacePart) -> skia.Path:
    """What a member of a space hides of all that lies behind it, seen from the camera: the outline of all its sides together."""
    matrix = camera_matrix(space.camera, pose.shape)
    found = [_seen(body.mesh.triangles(body.depth), matrix @ body.matrix) for body in bodies_of(posed, 1.0)]
    triangles = np.concatenate(found) if found else np.zeros((0, 3, 2))
    return skia.Path(_joined(np.ascontiguousarray(triangles).tobytes()))


@functools.lru_cache(maxsize=64)
def _joined(triangles: bytes) -> skia.Path:
    path = skia.Path()
    for ring in joined(list(np.frombuffer(triangles).reshape(-1, 3, 2))):
        path.addPoly([skia.Point(x, y) for x, y in ring.tolist()], True)
    return path


def _seen(triangles: Floats, matrix: Floats) -> Floats:
    """Triangles (n, 3, 3) as they lie in the frame, (m, 3, 2), all wound the same way; without those that reach behind the camera."""
    points = np.concatenate([triangles, np.ones((len(triangles), 3, 1))], axis=2) @ matrix.T
    points = points[(points[..., 3] > NEAR).all(axis=1)]
    flat: Floats = points[..., :2] / points[..., 3:]
    a, b = flat[:, 1] - flat[:, 0], flat[:, 2] - flat[:, 0]
    turned = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
    flat[turned < 0] = flat[turned < 0][:, ::-1]
    found: Floats = flat[np.abs(turned) > 1e-6]
    return found
