"""A ball."""

from typing import Annotated, ClassVar

from avlet.document.looks.paints import Paint, Solid
from avlet.document.metadata import piece, prop
from avlet.document.parts.base import PaintedPart
from avlet.document.solids import Surface
from avlet.limits import BALL


class BallPart(PaintedPart, frozen=True, kw_only=True, tag="ball"):
    """A ball. In a space it is as deep as it is wide, its back on what it stands on; elsewhere it is a disc."""

    diameter: Annotated[float, prop("Diameter", unit="px", low=0, high=20_000, group="size", role="size")] = 160.0
    surface: Annotated[Surface, prop("Surface", group="solid", keyed=False)] = "satin"
    fill: Annotated[Paint, piece("fill")] = Solid("#F4B23E")

    is_round: ClassVar[bool] = True

    @property
    def deep(self) -> float:
        return self.diameter

    @property
    def pieces_in_depth(self) -> int:
        return BALL

    @property
    def shines(self) -> Surface:
        return self.surface

    @property
    def size_names(self) -> tuple[str | None, str | None]:
        return "diameter", "diameter"

    def sized(self, width: float, height: float) -> dict[str, float]:
        return {"diameter": max(width, height)}
