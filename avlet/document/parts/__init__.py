"""The kinds of part."""

from collections.abc import Iterable

from avlet.document.looks.picture_file import PictureFile
from avlet.document.parts.ball import BallPart
from avlet.document.parts.base import (
    ACTION_SAFE,
    EDGE_SHARES,
    FRAME,
    FRAME_AREAS,
    TITLE_SAFE,
    Colour,
    Edge,
    Fit,
    Matte,
    PaintedPart,
    Part,
    PartId,
    Place,
    SizedPart,
    TextBox,
)
from avlet.document.parts.counter import Change, CounterPart, Counting, Figures, Keeps, Writing
from avlet.document.parts.credits import BlockStyle, CreditsPart, Movement, Stay
from avlet.document.parts.echo import EchoPart
from avlet.document.parts.gauge import GaugePart
from avlet.document.parts.group import GroupPart
from avlet.document.parts.lamp import LampPart
from avlet.document.parts.pattern import PatternPart
from avlet.document.parts.picture import PicturePart
from avlet.document.parts.rule import RulePart
from avlet.document.parts.shape import ShapePart
from avlet.document.parts.space import Camera, Sky, SpacePart, Sun
from avlet.document.parts.text import TextPart
from avlet.document.parts.typeset import (
    Accent,
    Align,
    AxisPlace,
    Case,
    Cased,
    Family,
    Leading,
    Remedy,
    Room,
    Size,
    Style,
    Tracking,
    TypesetPart,
)

AnyPart = (
    TextPart | CounterPart | CreditsPart | ShapePart | RulePart | GaugePart | BallPart | PicturePart | PatternPart | GroupPart | SpacePart
    | LampPart | EchoPart
)  # fmt: skip


def members_of(parts: Iterable[AnyPart], group: str, deep: bool = False) -> list[str]:
    """The ids of a group's members back to front; with ``deep`` also those of the groups in it."""
    listed = list(parts)
    found = []
    for part in listed:
        if part.group == group:
            found.append(part.id)
            if deep and part.holds:
                found += members_of(listed, part.id, deep)
    return found


__all__ = [
    "ACTION_SAFE",
    "EDGE_SHARES",
    "FRAME",
    "FRAME_AREAS",
    "TITLE_SAFE",
    "Accent",
    "Align",
    "AnyPart",
    "AxisPlace",
    "BallPart",
    "BlockStyle",
    "Camera",
    "Case",
    "Cased",
    "Change",
    "Colour",
    "CounterPart",
    "Counting",
    "CreditsPart",
    "EchoPart",
    "Edge",
    "Family",
    "Figures",
    "Fit",
    "GaugePart",
    "GroupPart",
    "Keeps",
    "LampPart",
    "Leading",
    "Matte",
    "Movement",
    "PaintedPart",
    "Part",
    "PartId",
    "PatternPart",
    "PictureFile",
    "PicturePart",
    "Place",
    "Remedy",
    "Room",
    "RulePart",
    "ShapePart",
    "Size",
    "SizedPart",
    "Sky",
    "SpacePart",
    "Stay",
    "Style",
    "Sun",
    "TextBox",
    "TextPart",
    "Tracking",
    "TypesetPart",
    "Writing",
    "members_of",
]  # fmt: skip
