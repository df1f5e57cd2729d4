"""What a group is made of: its members, whose joint box is its own."""

from avlet.document.parts import AnyPart, GroupPart
from avlet.geometry import Axis
from avlet.layout.bodies.body import Body, Layout, Making


class Members(Body):
    """A group, or a space. It is there as long as one of its members is."""

    def size(self, part: AnyPart, layout: Layout, axis: Axis) -> float:
        low, high = layout.joint(part.id, axis)
        return high - low

    def begins(self, part: AnyPart, layout: Layout, axis: Axis) -> float:
        return layout.joint(part.id, axis)[0]

    def there(self, part: AnyPart, layout: Layout, asked: frozenset[str], grouped: bool) -> bool:
        return any(layout.there(i, asked | {part.id}, grouped) for i in layout.members(part.id) if i not in asked)

    def filled(self, part: AnyPart, layout: Layout) -> bool:
        return any(layout.filled(i) for i in layout.members(part.id))


def members_of_group(part: GroupPart, making: Making) -> Members:
    """A group's body."""
    return Members()
