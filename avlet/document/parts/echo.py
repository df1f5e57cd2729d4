"""A live copy."""

from typing import Annotated

from avlet.document.metadata import prop
from avlet.document.paints import Blend
from avlet.document.parts.base import Part, PartId


class EchoPart(Part, frozen=True, kw_only=True, tag="echo"):
    """A live copy of a part or group, with a place, mattes and moves of its own instead of the original's mattes.

    ``later``: it arrives so many frames later and leaves so many earlier than the original, or the other way round below 0.
    """

    of: PartId
    blend: Annotated[Blend, prop("Blend", keyed=False)] = "normal"
    later: Annotated[int, prop("Later by", unit="frames", low=-10_000, high=10_000, group="echo", keyed=False)] = 0

    def follows(self) -> dict[str, set[str]]:
        found = super().follows()
        found.setdefault(self.of, set()).add("echo")
        return found
