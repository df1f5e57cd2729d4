"""A live copy."""

from typing import Annotated

from avlet.document.looks.paints import Blend
from avlet.document.metadata import prop
from avlet.document.parts.base import Part, PartId


class EchoPart(Part, frozen=True, kw_only=True, tag="echo"):
    """A live copy of a part or group, with a place, mattes and moves of its own instead of the original's mattes.

    ``words`` are shown instead of its original's, in the same look and by the same moves, where that is a text; empty, it says
    the same. ``later``: it arrives so many frames later and leaves so many earlier than the original, or the other way round below 0.
    """

    of: PartId
    words: Annotated[str, prop("Words of its own", group="words", keyed=False)] = ""
    blend: Annotated[Blend, prop("Blend", keyed=False)] = "normal"
    later: Annotated[int, prop("Later by", unit="frames", low=-10_000, high=10_000, group="echo", keyed=False)] = 0

    @property
    def copied(self) -> PartId:
        return self.of

    @property
    def delayed(self) -> int:
        return self.later

    @property
    def written(self) -> dict[str, str]:
        return {"words": self.words}

    @property
    def painted_for(self) -> tuple[str, ...]:
        return (*super().painted_for, self.of)

    def follows(self) -> dict[str, set[str]]:
        found = super().follows()
        found.setdefault(self.of, set()).add("echo")
        return found
