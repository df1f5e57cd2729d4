"""A picture in a box."""

from typing import Annotated, Literal, Self

import msgspec

from avlet.document.looks.paints import Paint, Solid
from avlet.document.looks.picture_file import ChangePicture, PictureFile
from avlet.document.looks.pictures import read_picture
from avlet.document.metadata import piece, prop
from avlet.document.parts.base import SizedPart


class PicturePart(SizedPart, frozen=True, kw_only=True, tag="picture"):
    """A picture in a box with round corners. ``fill`` lies behind it and shows where it is clear.

    ``sits`` says how it takes up its box: whole within it, filling it with the rest cut off, or stretched; ``focus`` which
    part of it stays when some is cut off. Its outline, which mattes, lines and shadows go by, is that of its box or of what an
    SVG draws. ``tint_share`` of it takes the colour ``tint``.
    """

    picture: Annotated[PictureFile, prop("Picture", keyed=False, kind="picture", group="picture")]
    width: Annotated[float, prop("Width", unit="px", low=0, high=20_000, group="size", role="size", along="across")] = 200.0
    height: Annotated[float, prop("Height", unit="px", low=0, high=20_000, group="size", role="size", along="down")] = 200.0
    sits: Annotated[Literal["whole", "fills", "stretched"], prop("Sits", keyed=False)] = "whole"
    focus_x: Annotated[float, prop("Focus across", unit="%", low=0, high=100)] = 50.0
    focus_y: Annotated[float, prop("Focus down", unit="%", low=0, high=100)] = 50.0
    corner: Annotated[float, prop("Corners", low=0, high=10_000, unit_in="corner_unit")] = 0.0
    corner_unit: Annotated[Literal["px", "percent"], prop("Corners in", keyed=False)] = "px"
    outlined: Annotated[Literal["its box", "its drawing"], prop("Outline", keyed=False)] = "its box"
    tint: Annotated[str, prop("Tint", colour=True)] = "#20435C"
    tint_share: Annotated[float, prop("Tinted", unit="%", low=0, high=100)] = 0.0
    fill: Annotated[Paint, piece("fill")] = Solid("#FFFFFF00")

    def with_pictures(self, change: ChangePicture) -> Self:
        return msgspec.structs.replace(self, picture=change(self.picture))

    @property
    def idle(self) -> frozenset[str]:
        return frozenset() if read_picture(self.picture).vector else frozenset({"outlined"})
