"""Parts as one."""

from typing import Annotated, ClassVar

from avlet.document.looks.paints import Blend
from avlet.document.metadata import piece, prop
from avlet.document.parts.base import Part, Place


class GroupPart(Part, frozen=True, kw_only=True, tag="group"):
    """Parts that move, turn, fade and are matted as one. Its box is the joint box of its members, so it has no place of its own."""

    blend: Annotated[Blend, prop("Blend", keyed=False)] = "normal"
    across: Annotated[Place | None, piece("across", "layout")] = None
    down: Annotated[Place | None, piece("down", "layout")] = None

    has_place: ClassVar[bool] = False
    holds: ClassVar[bool] = True
