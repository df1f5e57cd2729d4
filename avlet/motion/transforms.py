"""Plane transformations as 3×3 matrices, many at a time.

| a  c  tx |   | x |
| b  d  ty | · | y |      p' = (x', y') / w'
| g  h  w  |   | 1 |
"""

import numpy as np
from numpy.typing import ArrayLike

from avlet.arrays import Floats


def translation(dx: float, dy: float) -> Floats:
    """A displacement in px, (3, 3)."""
    return np.array([[1.0, 0.0, dx], [0.0, 1.0, dy], [0.0, 0.0, 1.0]])


def linear(a: ArrayLike, b: ArrayLike, c: ArrayLike, d: ArrayLike) -> Floats:
    """x' = a·x + c·y, y' = b·x + d·y; numbers or arrays of shape (n,), giving (3, 3) or (n, 3, 3)."""
    parts = np.broadcast_arrays(*(np.asarray(v, np.float64) for v in (a, b, c, d)))
    made = np.zeros((*parts[0].shape, 3, 3))
    made[..., 0, 0], made[..., 1, 0], made[..., 0, 1], made[..., 1, 1] = parts
    made[..., 2, 2] = 1.0
    return made


def turning(degrees: ArrayLike) -> Floats:
    """A turn about the origin, clockwise on screen, where y goes down."""
    angle = np.radians(degrees)
    cos, sin = np.cos(angle), np.sin(angle)
    return linear(cos, sin, -sin, cos)


def skewing(degrees: ArrayLike) -> Floats:
    """A slant of upright lines, their tops to the right."""
    return linear(1.0, 0.0, -np.tan(np.radians(degrees)), 1.0)


def perspective(turn: ArrayLike, turn_x: ArrayLike, turn_y: ArrayLike, depth: float) -> Floats:
    """A turn in the plane, then about the upright axis, then about the level one, seen from ``depth`` px before the plane.

    A point (x, y, 0) is turned to (X, Y, Z), Z away from the eye, and seen at (X, Y) · depth / (depth + Z).
    """
    a, b, c = np.broadcast_arrays(*(np.radians(np.asarray(v, np.float64)) for v in (turn, turn_x, turn_y)))
    flat = turning(np.degrees(a))
    x0, x1, y0, y1 = flat[..., 0, 0], flat[..., 0, 1], flat[..., 1, 0], flat[..., 1, 1]
    made = np.zeros_like(flat)
    for column, (x, y) in enumerate(((x0, y0), (x1, y1))):
        away = -x * np.sin(c)
        made[..., 0, column] = x * np.cos(c)
        made[..., 1, column] = y * np.cos(b) - away * np.sin(b)
        made[..., 2, column] = (y * np.sin(b) + away * np.cos(b)) / depth
    made[..., 2, 2] = 1.0
    return made


def about(points: Floats, matrices: Floats) -> Floats:
    """``matrices`` done about ``points`` (n, 2) instead of the origin: T(p) · M · T(−p)."""
    there = np.broadcast_to(np.eye(3), (len(points), 3, 3)).copy()
    back = there.copy()
    there[:, :2, 2], back[:, :2, 2] = points, -points
    made: Floats = there @ matrices @ back
    return made


def mapped(matrices: Floats, points: Floats) -> Floats:
    """Where points (n, k, 2) are once transformed, those of each row by its own matrix of (n, 3, 3); NaN stays NaN."""
    whole = np.concatenate([points, np.ones((*points.shape[:2], 1))], axis=2)
    moved = np.einsum("nij,nkj->nki", np.broadcast_to(matrices, (len(points), 3, 3)), whole)
    found: Floats = moved[..., :2] / np.where(np.abs(moved[..., 2:]) < 1e-9, 1e-9, moved[..., 2:])
    return found


def bounds(matrices: Floats, edges: Floats) -> Floats:
    """The bounds (n, 4) of boxes with ``edges`` (n, 4: left, top, right, bottom) once transformed; NaN stays NaN."""
    points = mapped(matrices, edges[:, [0, 1, 2, 1, 2, 3, 0, 3]].reshape(-1, 4, 2))
    return np.concatenate([points.min(axis=1), points.max(axis=1)], axis=1)
