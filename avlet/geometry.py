"""Boxes, in px of the template's frame; x goes right, y goes down."""

from collections.abc import Iterable
from typing import Literal, NamedTuple

Axis = Literal[0, 1]
"""Across, or down."""
AXES: tuple[Axis, Axis] = (0, 1)


class Box(NamedTuple):
    """An upright rectangle: left, top, width, height."""

    x: float
    y: float
    w: float
    h: float

    @property
    def right(self) -> float:
        return self.x + self.w

    @property
    def bottom(self) -> float:
        return self.y + self.h

    @property
    def middle(self) -> tuple[float, float]:
        return self.x + self.w / 2, self.y + self.h / 2

    @property
    def empty(self) -> bool:
        """Whether it covers nothing."""
        return self.w <= 0 or self.h <= 0

    def edge(self, share: float, axis: int) -> float:
        """Where a share of its width (axis 0) or height (axis 1) lies: 0 is left or top, 1 right or bottom."""
        return self[axis] + self[axis + 2] * share

    def moved(self, dx: float, dy: float) -> "Box":
        return Box(self.x + dx, self.y + dy, self.w, self.h)

    def grown(self, left: float, top: float, right: float, bottom: float) -> "Box":
        """With padding on four sides; negative padding stops at nothing."""
        return Box(self.x - left, self.y - top, max(0.0, self.w + left + right), max(0.0, self.h + top + bottom))

    def inset(self, share: float) -> "Box":
        """The middle ``share`` (0…1) of it, both ways."""
        return Box(self.x + self.w * (1 - share) / 2, self.y + self.h * (1 - share) / 2, self.w * share, self.h * share)

    def cut(self, other: "Box") -> "Box":
        """What both cover; of no size where they do not meet."""
        x, y = max(self.x, other.x), max(self.y, other.y)
        return Box(x, y, max(0.0, min(self.right, other.right) - x), max(0.0, min(self.bottom, other.bottom) - y))

    def contains(self, other: "Box", slack: float = 0.01) -> bool:
        """Whether ``other`` lies wholly within, give or take ``slack`` px."""
        return (
            other.x >= self.x - slack
            and other.y >= self.y - slack
            and other.right <= self.right + slack
            and other.bottom <= self.bottom + slack
        )

    def holds_point(self, x: float, y: float) -> bool:
        return self.x <= x <= self.right and self.y <= y <= self.bottom

    @classmethod
    def from_edges(cls, left: float, top: float, right: float, bottom: float) -> "Box":
        return cls(left, top, right - left, bottom - top)

    @classmethod
    def union(cls, boxes: Iterable["Box"]) -> "Box | None":
        """The smallest box round all of them; None for none."""
        found = list(boxes)
        if not found:
            return None
        return cls.from_edges(min(b.x for b in found), min(b.y for b in found), max(b.right for b in found), max(b.bottom for b in found))
