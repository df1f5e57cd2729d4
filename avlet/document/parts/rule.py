"""A straight line."""

from typing import Annotated, Literal

from avlet.document.looks.paints import Paint, Solid
from avlet.document.metadata import piece, prop
from avlet.document.parts.base import SizedPart
from avlet.geometry import Axis


class RulePart(SizedPart, frozen=True, kw_only=True, tag="rule"):
    """A straight line. With a fit, its length follows the other parts along its own direction; 0 px of dash is unbroken."""

    direction: Annotated[Literal["across", "down"], prop("Direction", keyed=False, changes="layout")] = "across"
    length: Annotated[float, prop("Length", unit="px", low=0, high=20_000, group="size", role="size")] = 300.0
    width: Annotated[float, prop("Thickness", unit="px", low=0, high=2_000, group="size", role="size")] = 6.0
    caps: Annotated[Literal["flat", "round"], prop("Caps", keyed=False)] = "flat"
    dash: Annotated[float, prop("Dashes", unit="px", low=0, high=2_000)] = 0.0
    dash_gap: Annotated[float, prop("Dash gap", unit="px", low=0, high=2_000)] = 12.0
    fill: Annotated[Paint, piece("fill")] = Solid("#6CC7B0")

    def fits_along(self, axis: Axis) -> bool:
        return super().fits_along(axis) and (self.direction == "across") == (axis == 0)

    @property
    def size_names(self) -> tuple[str | None, str | None]:
        return ("length", "width") if self.direction == "across" else ("width", "length")

    def sized(self, width: float, height: float) -> dict[str, float]:
        return {"length": max(width, height)}
