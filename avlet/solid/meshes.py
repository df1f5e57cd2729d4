"""Meshes from outlines: caps, sides, and square, chamfered or rounded edges.

x and y are px of the frame (y down), z is px towards the viewer. A mesh is made once for an outline and an edge; how deep it is, is
a factor when it is drawn: a vertex stands at ``rises · depth + above``.
"""

import functools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import mapbox_earcut
import numpy as np
import pyclipper

from avlet.arrays import Floats

Edging = Literal["square", "chamfered", "rounded"]
FRONT, SIDE, EDGE = 0.0, 1.0, 2.0
"""What of a body a vertex belongs to."""
_GRID = 1024
"""Steps to the px in which outlines are clipped: far finer than anything that is seen."""
_BEND, _FARTHEST = 0.25, 2.0**40
_ROUND_STEPS = 3
_SHARP = math.cos(math.radians(35))
"""Sides that meet at more than so many degrees keep their corner."""
_STRAIGHT = math.cos(math.radians(10))
"""Half of the angle at which two lines meet that still lead the same way."""
Ring = list[tuple[int, int]]
Region = tuple[Ring, list[Ring]]
"""An outer ring, and its holes, on the grid."""


@dataclass(frozen=True, eq=False)
class Mesh:
    """Triangles of one outline: ``vertices`` (n, 8) float32 of x, y, rises, above, normal x, y, z, and what it belongs to.

    Each three follow each other. ``edge`` is how wide the edge is, which may be less than was asked for: ``narrowed`` says so.
    """

    vertices: np.ndarray
    edge: float = 0.0
    narrowed: bool = False

    @property
    def empty(self) -> bool:
        """Whether there is nothing to draw."""
        return not len(self.vertices)

    @functools.cached_property
    def flat(self) -> bool:
        """Whether it is its front alone."""
        return bool((self.vertices[:, 2] == 1.0).all())

    def triangles(self, depth: float) -> Floats:
        """Corners of all triangles at a depth, (triangles, 3, 3) in px."""
        return self.raised(self.vertices, depth)[:, :3].reshape(-1, 3, 3)

    def raised(self, vertices: np.ndarray, depth: float) -> Floats:
        """Where vertices (…, 4 or more) stand at a depth, (…, 4), the last of which is 1."""
        v = vertices.astype(np.float64)
        z = v[..., 2] * depth + v[..., 3] * edge_share(self.edge, depth)
        found: Floats = np.stack([v[..., 0], v[..., 1], z, np.ones(z.shape)], axis=-1)
        return found

    @functools.cached_property
    def borders(self) -> np.ndarray:
        """The lines in which its front ends, (lines, 2, 4): the sides of the front's triangles that are no other's."""
        triangles = self.vertices.reshape(-1, 3, 8)
        front = triangles[((triangles[..., 7] == FRONT) & (triangles[..., 6] > 0.99)).all(axis=1)][..., :4]
        sides = front[:, [[0, 1], [1, 2], [2, 0]]].reshape(-1, 2, 4)
        ends = np.unique(sides[..., :2].reshape(-1, 2), axis=0, return_inverse=True)[1].reshape(-1, 2)
        _, first, count = np.unique(np.sort(ends, axis=1), axis=0, return_index=True, return_counts=True)
        found: np.ndarray = sides[np.sort(first[count == 1])]
        return found

    @functools.cached_property
    def tips(self) -> np.ndarray:
        """The corners of these lines, (tips, 4): where two meet that lead another way."""
        points, ends = np.unique(self.borders.reshape(-1, 4), axis=0, return_inverse=True)
        ways = (self.borders[:, 1, :2] - self.borders[:, 0, :2]).astype(float)
        ways /= np.maximum(np.hypot(ways[:, 0], ways[:, 1]), 1e-9)[:, None]
        sums = np.zeros((len(points), 2))
        np.add.at(sums, ends.reshape(-1), np.repeat(ways, 2, axis=0))
        found: np.ndarray = points[np.hypot(sums[:, 0], sums[:, 1]) < 2 * _STRAIGHT]
        return found


def edge_share(edge: float, depth: float) -> float:
    """How much of an edge there is on a body that is not as deep as the edge is wide."""
    return 1.0 if edge <= 0 else min(1.0, max(0.0, depth) / edge)


def mesh_of(contours: Sequence[Floats], edging: Edging = "square", width: float = 0.0, flat: bool = False) -> Mesh:
    """A mesh of closed contours (n, 2) in px, filled where they wind round a point (as fonts are, so that overlaps join).

    A ``flat`` one is its front alone.
    """
    regions = _regions(contours)
    if not regions:
        return Mesh(np.zeros((0, 8), np.float32))
    parts: list[np.ndarray] = []
    wide = 0.0 if flat or edging == "square" else _possible(regions, width)
    if wide <= 0:
        parts += [_cap(region, 1.0, 0.0, 1.0) for region in regions]
    else:
        parts += _edges(regions, edging, wide)
    if not flat:
        parts += [_cap(region, 0.0, 0.0, -1.0) for region in regions]
        parts += [_sides(ring, wide) for region in regions for ring in (region[0], *region[1])]
    made = np.concatenate([part for part in parts if len(part)]) if any(map(len, parts)) else np.zeros((0, 8))
    return Mesh(made.astype(np.float32), wide, not flat and edging != "square" and wide < width - 1e-3)


# Outlines


_COARSE = 32
"""Steps to the px in which silhouettes are joined: they are seen, but no mesh is made of them."""


def joined(triangles: Floats) -> list[Floats]:
    """Triangles (n, 3, 2) in px, all wound the same way, joined into rings (k, 2); holes are wound the other way."""
    clipper = pyclipper.Pyclipper()
    found = np.round(np.clip(triangles, -1e6, 1e6) * _COARSE).astype(np.int64)
    a, b = found[:, 1] - found[:, 0], found[:, 2] - found[:, 0]
    for triangle in np.unique(found[a[:, 0] * b[:, 1] != a[:, 1] * b[:, 0]], axis=0).tolist():
        clipper.AddPath(triangle, pyclipper.PT_SUBJECT, True)
    try:
        rings = clipper.Execute(pyclipper.CT_UNION, pyclipper.PFT_NONZERO, pyclipper.PFT_NONZERO)
    except pyclipper.ClipperException:
        return []
    return [np.array(ring, float) / _COARSE for ring in rings]


def _regions(contours: Sequence[Floats]) -> list[Region]:
    """Contours joined: outer rings with their holes."""
    clipper = pyclipper.Pyclipper()
    clipper.StrictlySimple = True
    for contour in contours:
        points = np.asarray(contour, float)[:, :2] * _GRID
        if len(points) >= 3 and np.isfinite(points).all() and np.abs(points).max() < _FARTHEST:
            ring = np.round(points).astype(np.int64)
            try:
                clipper.AddPath(ring.tolist(), pyclipper.PT_SUBJECT, True)
            except pyclipper.ClipperException:
                continue  # a contour without an area
    try:
        tree = clipper.Execute2(pyclipper.CT_UNION, pyclipper.PFT_NONZERO, pyclipper.PFT_NONZERO)
    except pyclipper.ClipperException:
        return []
    return list(_of_tree(tree))


def _of_tree(node: "pyclipper.PyPolyNode") -> Iterator[Region]:
    """Outer rings with their holes; what lies within holes are regions of their own."""
    for outer in node.Childs:
        ring = _cleaned(outer.Contour)
        if ring:
            yield ring, [hole for child in outer.Childs if (hole := _cleaned(child.Contour))]
        for hole in outer.Childs:
            yield from _of_tree(hole)


def _cleaned(contour: Sequence[Sequence[int]]) -> Ring:
    """A ring without points on points, and without points on lines, which caps would leave out; empty where nothing of it is left."""
    ring = np.array(contour, np.int64).reshape(-1, 2)
    while len(ring) >= 3:
        along, back = np.roll(ring, -1, axis=0) - ring, ring - np.roll(ring, 1, axis=0)
        bends = along[:, 0] * back[:, 1] != along[:, 1] * back[:, 0]
        if bends.all():
            return [(int(x), int(y)) for x, y in ring.tolist()]
        ring = ring[bends]
    return []


def _inset(regions: Sequence[Region], width: float) -> list[Region]:
    """Regions made smaller all round by px."""
    offset = pyclipper.PyclipperOffset(2.0, 0.25 * _GRID)
    for outer, holes in regions:
        offset.AddPath(outer, pyclipper.JT_MITER, pyclipper.ET_CLOSEDPOLYGON)
        for hole in holes:
            offset.AddPath(hole, pyclipper.JT_MITER, pyclipper.ET_CLOSEDPOLYGON)
    return list(_of_tree(offset.Execute2(-width * _GRID)))


def _possible(regions: Sequence[Region], width: float) -> float:
    """The width of an edge at which something is left of each region: all of it, or as much as there is room for."""
    if width <= 0:
        return 0.0
    if len(_inset(regions, width)) >= len(regions):
        return width
    low, high = 0.0, width
    for _ in range(7):
        middle = (low + high) / 2
        low, high = (middle, high) if len(_inset(regions, middle)) >= len(regions) else (low, middle)
    return low


# Faces


def _flat(region: Region) -> tuple[np.ndarray, np.ndarray]:
    """The points of a region in px (n, 2), and its triangles (m, 3)."""
    outer, holes = region
    points = np.array([*outer, *(point for hole in holes for point in hole)], np.float64)
    ends = np.cumsum([len(outer), *map(len, holes)]).astype(np.uint32)
    return points / _GRID, mapbox_earcut.triangulate_float64(_bent(points), ends).reshape(-1, 3)


def _bent(points: np.ndarray) -> np.ndarray:
    """Points bent by less than a step of the grid, so that none lies on a line of others: cutting ears would leave such a point out."""
    low = points.min(axis=0)
    share = (points - low) / max(1.0, float((points.max(axis=0) - low).max()))
    return points + _BEND * share[:, ::-1] ** 2


def _cap(region: Region, rises: float, above: float, facing: float) -> np.ndarray:
    points, triangles = _flat(region)
    corners = points[(triangles if facing > 0 else triangles[:, ::-1]).ravel()]  # wound so that it is seen from where it faces
    made = np.zeros((len(corners), 8))
    made[:, :2], made[:, 2], made[:, 3], made[:, 6], made[:, 7] = corners, rises, above, facing, FRONT if facing > 0 else SIDE
    return made


def _outward(ring: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Of each side of a ring (n, 2), from a point to the next: its normal away from what the ring bounds, and its length."""
    along = np.roll(ring, -1, axis=0) - ring
    length = np.maximum(np.hypot(along[:, 0], along[:, 1]), 1e-12)
    # Clipper winds outer rings one way and holes the other: what is filled always lies on the same side.
    return np.column_stack([along[:, 1], -along[:, 0]]) / length[:, None], length


def _corner_normals(sides: np.ndarray) -> np.ndarray:
    """At each point of a ring: the middle between the normals of both sides."""
    both = sides + np.roll(sides, 1, axis=0)
    return both / np.maximum(np.hypot(both[:, 0], both[:, 1]), 1e-9)[:, None]


def _sides(ring: Ring, edge: float) -> np.ndarray:
    """The wall along a ring, from the back to where the edge begins: two triangles a side, smooth where it bends softly."""
    points = np.array(ring, np.float64) / _GRID
    normals, _ = _outward(points)
    before, after = np.roll(normals, 1, axis=0), np.roll(normals, -1, axis=0)
    soft_begin = (normals * before).sum(axis=1) > _SHARP
    soft_end = (normals * after).sum(axis=1) > _SHARP
    begin, end = np.where(soft_begin[:, None], normals + before, normals), np.where(soft_end[:, None], normals + after, normals)
    nxt = np.roll(points, -1, axis=0)
    made = np.zeros((len(points), 6, 8))
    for corner, (place, normal, top) in enumerate(
        ((points, begin, 0.0), (nxt, end, 0.0), (nxt, end, 1.0), (points, begin, 0.0), (nxt, end, 1.0), (points, begin, 1.0))
    ):
        made[:, corner, :2], made[:, corner, 2], made[:, corner, 3] = place, top, -edge * top
        made[:, corner, 4:6] = normal / np.maximum(np.hypot(normal[:, 0], normal[:, 1]), 1e-9)[:, None]
    made[:, :, 7] = SIDE
    return made.reshape(-1, 8)


def _edges(regions: list[Region], edging: Edging, width: float) -> list[np.ndarray]:
    """From the wall's end over the edge to the front, step by step, and the front."""
    steps = 1 if edging == "chamfered" else _ROUND_STEPS
    made: list[np.ndarray] = []
    outer = regions
    for step in range(1, steps + 1):
        if edging == "chamfered":
            low, high, slope = (0.0, math.pi / 4), (width, math.pi / 4), (-width, 0.0)
            inner = _inset(regions, width)
        else:
            before, angle = math.pi / 2 * (step - 1) / steps, math.pi / 2 * step / steps
            low, high = (0.0, before), (0.0, angle)
            slope = (width * (math.sin(before) - 1), width * (math.sin(angle) - 1))
            inner = _inset(regions, width * (1 - math.cos(angle)))
        made.append(_between(outer, inner, slope, (low[1], high[1])))
        outer = inner
    return [*made, *(_cap(region, 1.0, 0.0, 1.0) for region in outer)]


def _between(outer: list[Region], inner: list[Region], above: tuple[float, float], leans: tuple[float, float]) -> np.ndarray:
    """The strip between regions and smaller ones inside: the heights of both borders, and how far their normals lean to the viewer."""
    normals: dict[tuple[int, int], tuple[int, np.ndarray]] = {}
    clipper = pyclipper.Pyclipper()
    for level, regions in enumerate((outer, inner)):
        for ring in (ring for region in regions for ring in (region[0], *region[1])):
            clipper.AddPath(ring, pyclipper.PT_CLIP if level else pyclipper.PT_SUBJECT, True)
            at = _corner_normals(_outward(np.array(ring, np.float64))[0])
            normals.update({point: (level, normal) for point, normal in zip(ring, at, strict=True)})
    strips = _of_tree(clipper.Execute2(pyclipper.CT_DIFFERENCE, pyclipper.PFT_NONZERO, pyclipper.PFT_NONZERO))
    found = []
    for strip in strips:
        points, triangles = _flat(strip)
        rows = np.zeros((len(points), 8))
        for n, point in enumerate((*strip[0], *(point for hole in strip[1] for point in hole))):
            level, normal = normals.get(point, (0, np.zeros(2)))
            rows[n, :2], rows[n, 2], rows[n, 3] = points[n], 1.0, above[level]
            rows[n, 4:6], rows[n, 6] = normal * math.cos(leans[level]), math.sin(leans[level])
        rows[:, 7] = EDGE
        found.append(rows[triangles.ravel()])
    return np.concatenate(found) if found else np.zeros((0, 8))
