"""A ring that fills up to a share, whole or in ticks."""

from typing import Annotated, ClassVar, Literal

from avlet.document.looks.paints import Paint, Solid
from avlet.document.metadata import piece, prop
from avlet.document.parts.base import SizedPart
from avlet.geometry import Axis


class GaugePart(SizedPart, frozen=True, kw_only=True, tag="gauge"):
    """An arc of a circle that is filled up to ``share`` of its way; the rest of it has a colour of its own.

    It begins ``begins`` degrees from the top, clockwise, and goes on for ``sweep``. With no ``ticks`` it is one band, ``thick`` px
    wide, else as many ticks, of which ``gap`` % are left free. With a fit its circle goes round the corners of what it fits around, and
    the fit's padding. ``share`` runs with a counter as any property does.
    """

    diameter: Annotated[float, prop("Diameter", unit="px", low=0, high=20_000, group="size", role="size")] = 420.0
    share: Annotated[float, prop("Filled", unit="%", low=0, high=100)] = 60.0
    thick: Annotated[float, prop("Thickness", unit="px", low=0, high=4_000)] = 34.0
    begins: Annotated[float, prop("Begins", unit="°", low=-3600, high=3600)] = -135.0
    sweep: Annotated[float, prop("Goes on for", unit="°", low=-360, high=360)] = 270.0
    ticks: Annotated[int, prop("Ticks", low=0, high=360, keyed=False)] = 0
    gap: Annotated[float, prop("Free between", unit="%", low=0, high=99)] = 40.0
    ends: Annotated[Literal["flat", "round"], prop("Ends", keyed=False)] = "round"
    fill: Annotated[Paint, piece("fill")] = Solid("#F4B23E")
    rest: Annotated[str, prop("Rest", colour=True)] = "#FFFFFF40"

    is_round: ClassVar[bool] = True

    @property
    def size_names(self) -> tuple[str | None, str | None]:
        return "diameter", "diameter"

    def sized(self, width: float, height: float) -> dict[str, float]:
        return {"diameter": max(width, height)}

    def fits_along(self, axis: Axis) -> bool:
        return self.fit is not None

    @property
    def idle(self) -> frozenset[str]:
        return frozenset({"ends"}) if self.ticks else frozenset({"gap"})

    @property
    def pieces(self) -> int:
        return 1 + self.ticks
