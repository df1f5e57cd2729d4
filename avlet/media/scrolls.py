"""Frames that are the frame before, moved by whole px: a roll or a crawl, kept as tiles of what passes instead of picture after picture.

The pictures themselves decide: each px that was there before is there again, further on. Whatever else moves, or is seen to stand, ends it.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

import numpy as np

from avlet.paint.painter import Pixels

LEAST = 8
"""Frames from which on tiles are worth it."""
TILE = 256
"""px of a tile along the way."""


@dataclass(frozen=True)
class Way:
    """A direction in which things move: frames are turned so that it is upwards. ``across`` swaps the axes, ``back`` mirrors them."""

    across: bool
    back: bool

    def turned(self, rgba: Pixels) -> Pixels:
        """A picture in which what moves this way moves upwards."""
        made = rgba.swapaxes(0, 1) if self.across else rgba
        return made[::-1] if self.back else made

    def turned_back(self, rgba: Pixels) -> Pixels:
        """A picture that was turned, as it was."""
        made = rgba[::-1] if self.back else rgba
        return made.swapaxes(0, 1) if self.across else made

    def place(self, x: int, y: int, height: int, whole: int) -> tuple[int, int]:
        """The left top corner in the frame of a turned picture so high at x, y in a turned frame that is ``whole`` high."""
        down = whole - y - height if self.back else y
        return (down, x) if self.across else (x, down)


Put = Callable[[Pixels], int]
"""Keeps a picture, premultiplied RGBA; gives its number."""
Lying = list[tuple[int, int, int]]
"""Pictures by their numbers, each with its left top corner in px; it may lie partly outside of the frame."""
_EXACT = 1e-3


def step_of(before: tuple[float, float], after: tuple[float, float]) -> tuple[Way, int] | None:
    """Which way and by how many px something went from one place to another; None where that is no whole number, or two ways at once."""
    across, down = after[0] - before[0], after[1] - before[1]
    if min(abs(across), abs(down)) > _EXACT:
        return None
    by, turned = (across, True) if abs(across) > abs(down) else (down, False)
    whole = round(abs(by))
    return (Way(turned, by > 0), whole) if whole and abs(abs(by) - whole) <= _EXACT else None


@dataclass
class Run:
    """Frames that are each other's, moved: how far each is, and what has come into sight, cut into tiles."""

    way: Way
    put: Put
    high: int
    offsets: dict[int, int] = field(default_factory=dict)
    _fresh: list[Pixels] = field(default_factory=list)
    _begin: int = 0
    _offset: int = 0
    _tiles: list[tuple[int, int, int, int]] = field(default_factory=list)
    """Of each its number, its turned left top corner along the whole way, and its height."""
    _last: Pixels | None = None

    def begin(self, frame: int, rgba: Pixels) -> None:
        """The first frame."""
        self._last = self.way.turned(rgba)
        self.offsets[frame] = self._offset = 0
        self._fresh = [self._last]

    def take(self, frame: int, rgba: Pixels, by: int) -> bool:
        """The next frame, ``by`` px further, unless it is not the same moved: then nothing is taken."""
        turned = self.way.turned(rgba)
        assert self._last is not None
        if by >= self.high or not self._last[by:].any() or not np.array_equal(turned[:-by], self._last[by:]):
            return False
        self._offset += by
        self.offsets[frame] = self._offset
        self._fresh.append(turned[self.high - by :])
        self._last = turned
        if len(self.offsets) >= LEAST:
            self._cut(False)
        return True

    def end(self) -> Iterator[tuple[int, Lying]]:
        """All of its frames, each with the tiles that lie in it."""
        self._cut(True)
        for frame, offset in self.offsets.items():
            seen = [one for one in self._tiles if one[2] + one[3] > offset and one[2] < offset + self.high]
            yield frame, [(number, *self.way.place(x, y - offset, height, self.high)) for number, x, y, height in seen]

    def _cut(self, all_of_it: bool) -> None:
        """Make tiles of what came into sight, whole ones only until it ends."""
        if sum(len(rows) for rows in self._fresh) < TILE and not all_of_it:
            return
        strip = np.concatenate(self._fresh)
        while len(strip) >= TILE or (all_of_it and len(strip)):
            self._keep(strip[:TILE])
            strip = strip[TILE:]
        self._fresh = [strip]

    def _keep(self, tile: Pixels) -> None:
        drawn = tile[..., 3] > 0
        rows, columns = np.flatnonzero(drawn.any(axis=1)), np.flatnonzero(drawn.any(axis=0))
        if len(rows):
            top, bottom, left, right = int(rows[0]), int(rows[-1]) + 1, int(columns[0]), int(columns[-1]) + 1
            number = self.put(np.ascontiguousarray(self.way.turned_back(tile[top:bottom, left:right])))
            self._tiles.append((number, left, self._begin + top, bottom - top))
        self._begin += len(tile)
