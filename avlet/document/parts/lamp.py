"""A lamp of a space."""

from typing import Annotated, ClassVar

from avlet.document.metadata import prop
from avlet.document.parts.base import Part
from avlet.document.solids import MOST_DEPTH


class LampPart(Part, frozen=True, kw_only=True, tag="lamp"):
    """Light from a place in a space. It is placed as any part, ``before`` px before the sheet, and not seen itself.

    Its light is ``strength`` strong at the lamp; at ``reach`` px half of that is left, at twice as many a fifth. ``soft`` is how wide
    the soft border of its shadows is, in px.
    """

    before: Annotated[float, prop("Stands before", unit="px", low=-MOST_DEPTH, high=MOST_DEPTH, step=10, group="stand")] = 300.0
    strength: Annotated[float, prop("Lamp", unit="%", low=0, high=1000, step=5, group="light")] = 80.0
    reach_of_light: Annotated[float, prop("Reach", unit="px", low=10, high=100_000, step=50, group="light")] = 700.0
    soft: Annotated[float, prop("Soft shadows", unit="px", low=0, high=200, group="light")] = 12.0
    colour: Annotated[str, prop("Lamp colour", colour=True, group="light")] = "#FFE2BC"

    lights: ClassVar[bool] = True
