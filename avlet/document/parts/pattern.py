"""Many copies of one form or picture."""

from typing import Annotated, Literal, Self

import msgspec

from avlet.document.looks.forms import Form, Rectangle, takes_corners
from avlet.document.looks.paints import Paint, Solid
from avlet.document.looks.picture_file import ChangePicture, PictureFile
from avlet.document.metadata import piece, prop
from avlet.document.parts.base import Fit, PaintedPart
from avlet.limits import MOST_COPIES


class PatternPart(PaintedPart, frozen=True, kw_only=True, tag="pattern"):
    """One form or picture many times: in a row, a grid or a ring.

    ``width`` and ``height`` are those of one copy. With a fit it fills a box, with as many copies as that takes; a row's are
    then as high as the box. Size, turn, opacity and colour run from the first copy to the last. ``drift`` moves all of it,
    in px a second; where it fills a box, it never runs out.
    """

    form: Annotated[Form, prop("Form", keyed=False, kind="form", group="form"), piece("form")] = Rectangle()
    picture: PictureFile | None = None
    fit: Annotated[Fit | None, piece("fit", "layout")] = None
    lies: Annotated[Literal["in a row", "in a grid", "in a ring"], prop("Lies", group="pattern", keyed=False)] = "in a row"
    count: Annotated[int, prop("Copies", low=1, high=2000, group="pattern", keyed=False)] = 6
    rows: Annotated[int, prop("Rows", low=1, high=200, group="pattern", keyed=False)] = 3
    width: Annotated[float, prop("Width", unit="px", low=0, high=20_000, group="size", keyed=False, role="size", along="across")] = 24.0
    height: Annotated[float, prop("Height", unit="px", low=0, high=20_000, group="size", keyed=False, role="size", along="down")] = 120.0
    corner: Annotated[float, prop("Corners", low=0, high=10_000, unit_in="corner_unit")] = 0.0
    corner_unit: Annotated[Literal["px", "percent"], prop("Corners in", keyed=False)] = "px"
    step_x: Annotated[float, prop("Step across", unit="px", low=-4000, high=4000, group="pattern", keyed=False)] = 48.0
    step_y: Annotated[float, prop("Step down", unit="px", low=-4000, high=4000, group="pattern", keyed=False)] = 0.0
    radius: Annotated[float, prop("Ring radius", unit="px", low=0, high=8000, group="pattern", keyed=False)] = 200.0
    size_last: Annotated[float, prop("Last size", unit="%", low=0, high=1000, group="pattern", keyed=False)] = 100.0
    turn_first: Annotated[float, prop("First turn", unit="°", low=-3600, high=3600, group="pattern", keyed=False)] = 0.0
    turn_last: Annotated[float, prop("Last turn", unit="°", low=-3600, high=3600, group="pattern", keyed=False)] = 0.0
    opacity_last: Annotated[float, prop("Last opacity", unit="%", low=0, high=100, group="pattern", keyed=False)] = 100.0
    colour_runs: Annotated[bool, prop("Colour runs", group="pattern", keyed=False)] = False
    colour_last: Annotated[str, prop("Last colour", colour=True, group="pattern")] = "#6CC7B0"
    scatter: Annotated[float, prop("Scatter", unit="px", low=0, high=4000, group="pattern", keyed=False)] = 0.0
    scatter_turn: Annotated[float, prop("Chance turn", unit="°", low=0, high=360, group="pattern", keyed=False)] = 0.0
    scatter_size: Annotated[float, prop("Chance size", unit="%", low=0, high=100, group="pattern", keyed=False)] = 0.0
    scatter_width: Annotated[float, prop("Chance width", unit="%", low=0, high=100, group="pattern", keyed=False)] = 0.0
    seed: Annotated[int, prop("Chance", low=0, high=999_999, group="pattern", keyed=False)] = 1
    drift_x: Annotated[float, prop("Drift across", unit="px/s", low=-4000, high=4000, group="pattern", keyed=False)] = 0.0
    drift_y: Annotated[float, prop("Drift down", unit="px/s", low=-4000, high=4000, group="pattern", keyed=False)] = 0.0
    fill: Annotated[Paint, piece("fill")] = Solid("#F4B23E")

    def with_pictures(self, change: ChangePicture) -> Self:
        return self if self.picture is None else msgspec.structs.replace(self, picture=change(self.picture))

    @property
    def in_units(self) -> bool:
        return True

    @property
    def pieces(self) -> int:
        return min(MOST_COPIES, self.count * (self.rows if self.lies == "in a grid" else 1))

    @property
    def idle(self) -> frozenset[str]:
        return frozenset() if takes_corners(self.form) else frozenset({"corner"})
