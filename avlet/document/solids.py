"""What a member of a space may have: how it is solid, and where it stands."""

from typing import Annotated, Literal

from avlet.document.metadata import Value, prop

Edging = Literal["square", "chamfered", "rounded"]
Surface = Literal["matt", "satin", "gloss"]
MOST_DEPTH = 10_000.0
"""px that a part is deep, or stands before or behind the sheet."""


class Solidity(Value, frozen=True):
    """How a member of a space is solid: px deep, its edge, the colours of sides and edge, its surface.

    ``depth`` goes from where it stands towards the viewer. Colours that are empty come from the front's: the edge is of its colour, the
    sides are darker.
    """

    depth: Annotated[float, prop("Depth", unit="px", low=0, high=MOST_DEPTH, step=5, group="solid")] = 60.0
    edging: Annotated[Edging, prop("Edges", group="solid", keyed=False)] = "square"
    edge: Annotated[float, prop("Edge", unit="px", low=0, high=200, group="solid", keyed=False)] = 3.0
    sides: Annotated[Literal["darker", "as the front", "their own"], prop("Sides", group="solid", keyed=False)] = "darker"
    side: Annotated[str, prop("Colour of the sides", colour=True, group="solid")] = "#7D2C3B"
    surface: Annotated[Surface, prop("Surface", group="solid", keyed=False)] = "matt"


class Stand(Value, frozen=True):
    """Where a member of a space stands: px before (or behind) the plane of the frame, or another member, and turned out of it.

    ``on`` is that member, as it is at rest; none is the plane of the frame. ``swing`` turns it about its upright middle, ``tilt`` about
    its level one. ``only_shadows`` shows nothing of it but the shadows on it.
    """

    on: str = ""
    side: Annotated[Literal["front", "back"], prop("Measured from its", group="stand", keyed=False)] = "front"
    before: Annotated[float, prop("Stands before", unit="px", low=-MOST_DEPTH, high=MOST_DEPTH, group="stand")] = 0.0
    swing: Annotated[float, prop("Swung", unit="°", low=-3600, high=3600, step=5, group="stand")] = 0.0
    tilt: Annotated[float, prop("Tilted", unit="°", low=-3600, high=3600, step=5, group="stand")] = 0.0
    only_shadows: Annotated[bool, prop("Only for shadows", group="stand", keyed=False)] = False
