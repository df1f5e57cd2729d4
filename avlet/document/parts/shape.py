"""A form."""

from typing import Annotated, Literal

from avlet.document.looks.forms import Form, Rectangle, takes_corners
from avlet.document.looks.paints import Paint, Solid
from avlet.document.metadata import piece, prop
from avlet.document.parts.base import SizedPart


class ShapePart(SizedPart, frozen=True, kw_only=True, tag="shape"):
    """A form with rounded corners, sized by hand or by what it fits around."""

    form: Annotated[Form, prop("Form", keyed=False, kind="form", group="form"), piece("form")] = Rectangle()
    width: Annotated[float, prop("Width", unit="px", low=0, high=20_000, group="size", role="size", along="across")] = 400.0
    height: Annotated[float, prop("Height", unit="px", low=0, high=20_000, group="size", role="size", along="down")] = 120.0
    corner: Annotated[float, prop("Corners", low=0, high=10_000, unit_in="corner_unit")] = 0.0
    corner_unit: Annotated[Literal["px", "percent"], prop("Corners in", keyed=False)] = "px"
    fill: Annotated[Paint, piece("fill")] = Solid("#20435C")

    @property
    def idle(self) -> frozenset[str]:
        return frozenset() if takes_corners(self.form) else frozenset({"corner"})
