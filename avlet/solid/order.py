"""In which order bodies are drawn: what is whole from front to back, then what one sees through from back to front.

What lies behind what is told by planes and not by distances: a sheet as wide as the frame has its middle nearer to the eye than a plate
in a corner before it. (The test is Newell's, Newell and Sancha 1972, from memory; a body is the slab between its back and its front.)
"""

import heapq
from collections.abc import Sequence

import numpy as np

from avlet.arrays import Floats, Marks
from avlet.solid.bodies import Body, Stage

_NEAR = 0.01
"""px: what lies so near a plane lies in it."""
_MOST = 256
"""Bodies that are compared each with each; of more the distance has to do."""
_FACES = ((0, 2, 4, 6), (1, 3, 5, 7))
"""Of a body's corners those of its back and of its front."""


def in_order(stage: Stage, bodies: Sequence[Body]) -> list[tuple[int, Body]]:
    """Bodies as they are drawn, each with its number as listed: first what is whole, the nearest first, so that little is drawn in vain."""
    listed = list(enumerate(bodies))

    def away(one: tuple[int, Body]) -> float:
        return float(np.linalg.norm(one[1].corners.mean(axis=0) - stage.view.eye))

    whole, clear = [one for one in listed if not one[1].through], [one for one in listed if one[1].through]
    far = [-away(one) for one in clear]
    if len(clear) > _MOST:
        return [*sorted(whole, key=away), *(clear[n] for n in np.argsort(far, kind="stable"))]
    covers = _covers(stage, [body for _, body in clear]) if len(clear) > 1 else np.zeros((len(clear),) * 2, bool)
    return [*sorted(whole, key=away), *(clear[n] for n in sorted_by_cover(covers, far))]


def _covers(stage: Stage, bodies: Sequence[Body]) -> Marks:
    """Whether the second of two bodies is to be drawn over the first, (n, n).

    Bodies whose faces toward the eye lie in one plane go as listed, as those do that are whole. Of two that reach through each other
    the flat one is drawn first: one with a depth of its own covers all that is behind its face and comes later.
    """
    corners = np.stack([body.corners for body in bodies])
    before, behind = (np.zeros((len(bodies),) * 2, bool) for _ in range(2))
    offs, faraway = [], []
    for face in _FACES:
        a, b, c = (corners[:, face[n]] for n in (0, 1, 2))
        normals = np.cross(b - a, c - a)
        normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
        sides = np.sign(np.einsum("ni,ni->n", normals, stage.view.eye - a))
        off = (np.einsum("ni,mki->nmk", normals, corners) - np.einsum("ni,ni->n", normals, a)[:, None, None]) * sides[:, None, None]
        offs.append(off)
        faraway.append(np.abs(np.einsum("ni,ni->n", normals, stage.view.eye - a)))
        low, high = off.min(axis=2), off.max(axis=2)
        known = sides != 0
        before |= (low >= -_NEAR) & (high.diagonal() <= _NEAR)[:, None] & known[:, None]
        behind |= (high <= _NEAR) & (low.diagonal() >= -_NEAR)[:, None] & known[:, None]
    over: Marks = before | behind.T
    both = (over & over.T) | _in_one_plane(np.stack(offs), np.argmin(faraway, axis=0))
    listed = np.arange(len(bodies))
    found: Marks = (over & ~both) | (both & (listed[:, None] < listed[None, :]))
    flat = np.array([body.mesh.flat for body in bodies])
    found |= ~(found | found.T) & flat[:, None] & ~flat[None, :]
    return found & _meet(stage, corners)


def _in_one_plane(offs: Floats, near: np.ndarray) -> Marks:
    """Whether the faces that two bodies turn to the eye lie in one plane, (n, n).

    ``offs`` is how far each corner of each body lies before each body's faces, (2, n, n, 8); ``near`` which face is toward the eye, (n,).
    """
    bodies = np.arange(len(near))
    off = offs[near, bodies]
    corners = np.asarray(_FACES)[near]
    found: Marks = np.all(np.abs(np.take_along_axis(off, corners[None], axis=2)) <= _NEAR, axis=2)
    return found & found.T


def _meet(stage: Stage, corners: Floats) -> Marks:
    """Whether the boxes in which two bodies are seen meet, (n, n); what reaches behind the eye may meet anything."""
    whole = np.concatenate([corners, np.ones((*corners.shape[:2], 1))], axis=2) @ stage.view.matrix.T
    flat = whole[..., :2] / np.where(np.abs(whole[..., 3:]) < 1e-9, 1e-9, whole[..., 3:])
    anywhere: Marks = np.any(whole[..., 3] <= 0, axis=1)
    low, high = flat.min(axis=1), flat.max(axis=1)
    meet = ((low[:, None] < high[None]) & (low[None] < high[:, None])).all(axis=2)
    found: Marks = np.asarray(meet | anywhere[:, None] | anywhere[None]) & ~np.eye(len(corners), dtype=bool)
    return found


def sorted_by_cover(covers: Marks, far: Sequence[float]) -> list[int]:
    """Numbers so that each comes before what covers it, the farthest first; where covering runs in a circle, the farthest breaks it."""
    waits = covers.sum(axis=0)
    done = np.zeros(len(far), bool)
    found: list[int] = []
    ready = [(far[n], n) for n in np.flatnonzero(waits == 0).tolist()]
    heapq.heapify(ready)
    while len(found) < len(far):
        if not ready:
            ready.append(min((far[n], n) for n in _in_circles(covers, ~done)))
        _, number = heapq.heappop(ready)
        if done[number]:
            continue
        done[number] = True
        found.append(number)
        for other in np.flatnonzero(covers[number] & ~done).tolist():
            waits[other] -= 1
            if waits[other] == 0:
                heapq.heappush(ready, (far[other], other))
    return found


def _in_circles(covers: Marks, left: Marks) -> list[int]:
    """Of those that are left the ones that cover each other in circles, and what leads there; not what only waits for them."""
    left = left.copy()
    while True:
        ends = left & ~(covers & left).any(axis=1)
        if not ends.any():
            return np.flatnonzero(left).tolist()
        left &= ~ends
