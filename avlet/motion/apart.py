"""Whether convex outlines lie apart, and how far one travels until they do."""

import numpy as np

from avlet.arrays import Floats, Marks


def gaps(corners: Floats, window: Floats, grown: float) -> list[tuple[Floats, Floats]]:
    """For each line that may part convex corners (units, k, 2) from a convex window: its normal (units, 2), and how far they lack.

    The lines lie along the sides of both; if any two convex outlines are apart at all, then by one of those (the separating axis theorem).
    """
    found = []
    for sides in (np.broadcast_to(_normals(window[None]), (len(corners), len(window), 2)), _normals(corners)):
        for side in range(sides.shape[1]):
            for normal in (sides[:, side], -sides[:, side]):
                lacks = (window @ normal.T).max(axis=0) + grown - np.einsum("nkj,nj->nk", corners, normal).min(axis=1)
                found.append((normal, np.where(np.abs(normal).max(axis=1) > 0.5, lacks, np.inf)))
    return found


def apart(corners: Floats, window: Floats, grown: float) -> Marks:
    """Which units lie outside of a convex window that is grown by px, (units,); those without ink do."""
    low, high = window.min(axis=0) - grown, window.max(axis=0) + grown
    apart: Marks = ~((corners.min(axis=1) < high) & (corners.max(axis=1) > low)).all(axis=1)
    if not apart.all():
        close = ~apart
        apart[close] = np.min([lack for _, lack in gaps(corners[close], window, grown)], axis=0) <= 0
    return apart


def until_apart(corners: Floats, ways: Floats, window: Floats, grown: float) -> Floats:
    """How far along ``ways`` (units, 2), of length 1, units travel until they lie outside of a window; infinite where never."""
    far = np.full(len(corners), np.inf)
    for normal, lacks in gaps(corners, window, grown):
        along = (ways * normal).sum(axis=1)
        with np.errstate(divide="ignore", invalid="ignore"):
            far = np.fmin(far, np.where(along > 1e-6, np.maximum(lacks, 0.0) / along, np.inf))
    return far


def _normals(corners: Floats) -> Floats:
    """Unit normals of the sides of convex outlines (n, k, 2); zero for a side without length."""
    sides = np.roll(corners, -1, axis=1) - corners
    normals = np.stack([-sides[..., 1], sides[..., 0]], axis=-1)
    length = np.linalg.norm(normals, axis=-1, keepdims=True)
    found: Floats = normals / np.maximum(length, 1e-12)
    return found
