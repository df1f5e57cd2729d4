"""Resizing a part by an edge or a corner of its box: the opposite edge stays where it is, whatever the part is placed by."""

from avlet.document.parts import EDGE_SHARES, AnyPart
from avlet.geometry import Box

Sides = tuple[int, int]
"""Which edges are held, across and down: −1 the left or top one, 1 the right or bottom one, 0 neither."""

LEAST = 2.0
"""px that a part keeps at least."""
ALL_SIDES: tuple[Sides, ...] = ((-1, -1), (0, -1), (1, -1), (1, 0), (1, 1), (0, 1), (-1, 1), (-1, 0))


def own_sizes(part: AnyPart) -> tuple[str | None, str | None]:
    """The properties that hold a part's size across and down, where nothing else decides it."""
    across, down = part.size_names
    return None if part.fits_along(0) else across, None if part.fits_along(1) else down


def handles(part: AnyPart) -> list[Sides]:
    """The edges and corners that a part can be resized by."""
    across, down = own_sizes(part)
    return [(x, y) for x, y in ALL_SIDES if (x == 0 or across) and (y == 0 or down)]


def resized(part: AnyPart, box: Box, sides: Sides, dx: float, dy: float, keep_shape: bool = False) -> dict[str, float]:
    """The sizes and gaps with which the held edges of a part's resting ``box`` are moved by px, by whole paths.

    ``part`` and ``box`` are as they were when the edges were taken hold of. With ``keep_shape``, and where a part is round,
    width and height keep their ratio.
    """
    width = max(LEAST, box.w + dx * sides[0]) if sides[0] else box.w
    height = max(LEAST, box.h + dy * sides[1]) if sides[1] else box.h
    if (keep_shape or part.is_round) and box.w > 0 and box.h > 0:
        factor = max(width / box.w if sides[0] else 0.0, height / box.h if sides[1] else 0.0)
        width, height = box.w * factor, box.h * factor
    values: dict[str, float] = {}
    for axis, name, held, old, new in zip(("across", "down"), own_sizes(part), sides, (box.w, box.h), (width, height), strict=True):
        if name is None or (held == 0 and new == old):
            continue
        values[f"{part.id}/{name}"] = round(new, 2)
        place = getattr(part, axis)
        if place is not None:
            share = EDGE_SHARES[place.mine]
            stays = 1.0 if held < 0 else 0.0 if held > 0 else 0.5
            values[f"{part.id}/{axis}.gap"] = round(place.gap + (new - old) * (share - stays), 2)
    return values
