"""What texts and counters have in common: face, setting, room, accents."""

from typing import Annotated, Literal

import msgspec

from avlet.document.looks.paints import Paint
from avlet.document.metadata import Value, piece, prop
from avlet.document.parts.base import PaintedPart

Align = Literal["start", "middle", "end", "justified"]
Case = Literal["as typed", "capitals", "lower case", "small capitals"]
Direction = Literal["by itself", "left to right", "right to left"]
Remedy = Literal["wrap", "shrink", "squeeze", "ellipsis"]


class Room(Value, frozen=True):
    """How much a text may take up, and what happens, in order, when it is too long. 0 sets no limit."""

    width: Annotated[float, prop("Largest width", unit="px", low=0, high=20_000, group="room", keyed=False)] = 0.0
    height: Annotated[float, prop("Largest height", unit="px", low=0, high=20_000, group="room", keyed=False)] = 0.0
    lines: Annotated[int, prop("Most lines", low=0, high=1_000, group="room", keyed=False)] = 0
    remedies: Annotated[tuple[Remedy, ...], piece("remedies", "setting")] = ("wrap", "shrink")
    smallest_size: Annotated[float, prop("Shrinks to", unit="%", low=5, high=100, group="room", keyed=False)] = 60.0
    smallest_width: Annotated[float, prop("Squeezes to", unit="%", low=30, high=100, group="room", keyed=False)] = 80.0
    balanced: Annotated[bool, prop("Even lines", group="room", keyed=False)] = False


Family = Annotated[str, prop("Family", keyed=False, kind="font", changes="setting")]
Style = Annotated[str, prop("Style", keyed=False, changes="setting")]
Size = Annotated[float, prop("Size", unit="px", low=1, high=4000, keyed=False, changes="setting", role="size")]
Tracking = Annotated[float, prop("Tracking", unit="/1000 em", low=-500, high=5000, step=5, keyed=False, changes="setting")]
Leading = Annotated[float, prop("Leading", unit="%", low=10, high=500, step=5, keyed=False, changes="setting")]
Cased = Annotated[Case, prop("Case", keyed=False, changes="setting")]


class Accent(Value, frozen=True):
    """A second or third style within a text, for the words marked ``{1:so}`` or ``{2:so}``."""

    family: Family = "Fira Sans"
    style: Style = "Light"
    size: Annotated[float, prop("Size", unit="%", low=5, high=500, keyed=False, changes="setting")] = 100.0
    fill: Annotated[Paint | None, piece("fill")] = None
    baseline: Annotated[float, prop("Baseline up", unit="px", low=-2000, high=2000, keyed=False, changes="setting")] = 0.0


class AxisPlace(Value, frozen=True):
    """Where a text's face stands on one axis of a variable font, e.g. ``wght`` 650; in the axis' own unit."""

    tag: Annotated[str, msgspec.Meta(pattern=r"^[A-Za-z0-9 ]{4}$")]
    value: Annotated[float, prop("Axis", low=-32_768, high=32_767, group="axes", keyed=False)] = 0.0


class TypesetPart(PaintedPart, frozen=True, kw_only=True, tag_field="kind"):
    """Anything that is set in type, in one style and up to two accents, with how that is done.

    ``paragraph`` is the room between two typed lines besides the leading. ``text_style`` is the id of the template's text style that
    decides its face and setting; empty, those are its own.
    """

    family: Family = "Fira Sans"
    style: Style = "Bold"
    size: Size = 100.0
    tracking: Tracking = 0.0
    leading: Leading = 120.0
    paragraph: Annotated[float, prop("Paragraphs", unit="px", low=-2000, high=4000, keyed=False, changes="setting")] = 0.0
    align: Annotated[Align, prop("Align", keyed=False, changes="setting")] = "start"
    case: Cased = "as typed"
    small_capitals: Annotated[float, prop("Small capitals", unit="%", low=60, high=100, keyed=False, changes="setting")] = 78.0
    baseline: Annotated[float, prop("Baseline up", unit="px", low=-2000, high=2000, keyed=False, changes="setting")] = 0.0
    direction: Annotated[Direction, prop("Direction", keyed=False, changes="setting")] = "by itself"
    features: Annotated[
        tuple[Annotated[str, msgspec.Meta(pattern=r"^-?[A-Za-z0-9]{4}$")], ...], msgspec.Meta(max_length=40), piece("features", "setting")
    ] = ()
    axes: Annotated[tuple[AxisPlace, ...], msgspec.Meta(max_length=32), piece("axis", "setting")] = ()
    accents: Annotated[tuple[Accent, ...], msgspec.Meta(max_length=2), piece("accent", "setting")] = ()
    room: Annotated[Room | None, piece("room", "setting")] = None
    text_style: str = ""

    @property
    def idle(self) -> frozenset[str]:
        return frozenset() if self.case == "small capitals" else frozenset({"small_capitals"})

    @property
    def in_units(self) -> bool:
        return True

    @property
    def places(self) -> tuple[tuple[str, float], ...]:
        """Places on axes by tag, for a face."""
        return tuple((place.tag, place.value) for place in self.axes)
