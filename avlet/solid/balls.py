"""The mesh of a ball: rings of triangles round it, as fine as its size needs."""

import functools
import math

import numpy as np

from avlet.solid.meshes import FRONT, Mesh

TOLERANCE = 0.2
"""px that the middle of a side may lie within the ball at most."""
_MOST, _LEAST = 128, 12


@functools.lru_cache(maxsize=64)
def ball_mesh(diameter: float, fine: float = 1.0) -> Mesh:
    """A ball whose box at rest has its corner at the origin: it is as deep as it is wide, and faces outward all over.

    ``fine`` is px of the picture to the px, which its facets go by.
    """
    radius = diameter / 2
    if radius <= 0:
        return Mesh(np.zeros((0, 8), np.float32))
    around = _sides(radius * fine)
    rings = max(6, around // 2)
    up = np.linspace(0, math.pi, rings + 1)
    along = np.arange(around) * 2 * math.pi / around
    # From the point that is nearest to the viewer to the one that is farthest.
    points = np.stack(
        [np.outer(np.sin(up), np.cos(along)), np.outer(np.sin(up), np.sin(along)), np.repeat(np.cos(up)[:, None], around, axis=1)], axis=2
    )
    points[0], points[-1] = (0.0, 0.0, 1.0), (0.0, 0.0, -1.0)
    here, beside = points, np.roll(points, -1, axis=1)
    a, b, c, d = here[:-1], beside[:-1], beside[1:], here[1:]
    # At the first and at the last ring one of both triangles of a side has no area.
    first, second = np.stack([a, d, c], axis=2)[:-1].reshape(-1, 3), np.stack([a, c, b], axis=2)[1:].reshape(-1, 3)
    normals = np.concatenate([first, second])
    made = np.zeros((len(normals), 8))
    made[:, :2] = (normals[:, :2] + 1) * radius
    made[:, 2] = (normals[:, 2] + 1) / 2
    made[:, 4:7], made[:, 7] = normals, FRONT
    return Mesh(made.astype(np.float32))


def _sides(radius: float) -> int:
    """How many sides a circle is made of so that none lies further within it than the tolerance."""
    share = min(1.0, TOLERANCE / radius)
    return max(_LEAST, min(_MOST, 2 * math.ceil(math.pi / (2 * math.acos(1 - share)))))
