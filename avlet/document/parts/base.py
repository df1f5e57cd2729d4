"""The kinds of part, and how a part relates to others: fit, place, matte."""

from collections.abc import Iterable
from typing import Annotated, Literal

import msgspec

from avlet.document.forms import Form, Rectangle
from avlet.document.keys import Keyed
from avlet.document.metadata import Value, piece, prop
from avlet.document.moves import Mirrored, Move, Sway, WayOut
from avlet.document.paints import SOFT_REACH, Blend, Glow, Outline, Paint, Shadow, Solid

Edge = Literal["start", "middle", "end", "baseline"]
TextBox = Literal["line box", "capitals", "ink"]
Align = Literal["start", "middle", "end", "justified"]
Case = Literal["as typed", "capitals", "lower case", "small capitals"]
Direction = Literal["by itself", "left to right", "right to left"]
Remedy = Literal["wrap", "shrink", "squeeze", "ellipsis"]
Colour = Annotated[str, prop("Colour", colour=True)]
PartId = Annotated[str, msgspec.Meta(pattern=r"^[a-z0-9][a-z0-9-]*$", max_length=64)]

FRAME = "frame"
TITLE_SAFE = "title-safe"
ACTION_SAFE = "action-safe"
FRAME_AREAS = (FRAME, ACTION_SAFE, TITLE_SAFE)
"""What a part can be placed on besides other parts; no part may have one of these as its id."""

EDGE_SHARES: dict[Edge, float] = {"start": 0.0, "middle": 0.5, "end": 1.0, "baseline": 1.0}
"""Where each edge lies along a box. Only words have a baseline of their own; other parts stand on their lower edge."""


class Place(Value, frozen=True):
    """Along one axis: ``mine`` (an edge or middle of this part) sits on ``theirs`` of ``on``, plus ``gap`` px.

    Edges are geometric: start is left or top; the baseline is that of the first line. A positive gap goes right or down.
    ``closes``: when that part is hidden or empty, this one moves up to where it would have begun. ``rides``: it goes along
    when that part moves.
    """

    on: str = FRAME
    mine: Annotated[Edge, prop("Edge", group="place", keyed=False)] = "start"
    theirs: Annotated[Edge, prop("Edge of the other", group="place", keyed=False)] = "start"
    gap: Annotated[float, prop("Gap", unit="px", group="place", role="gap")] = 0.0
    closes: Annotated[bool, prop("Closes up", group="place", keyed=False)] = False
    rides: Annotated[bool, prop("Rides along", group="place", keyed=False)] = False


class Fit(Value, frozen=True):
    """A size from other parts or areas of the frame: a share of the joint ``box`` of what it is ``around``, plus padding in px.

    With no padding and a share of 100 % it is just as large. A limit of 0 sets none. ``vanishes``: it is not there when all
    that it fits around is empty or hidden.
    """

    around: tuple[str, ...]
    box: Annotated[TextBox, prop("Box", group="size", keyed=False)] = "line box"
    left: Annotated[float, prop("Padding left", unit="px", group="size", keyed=False, along="across")] = 50.0
    right: Annotated[float, prop("Padding right", unit="px", group="size", keyed=False, along="across")] = 50.0
    top: Annotated[float, prop("Padding above", unit="px", group="size", keyed=False, along="down")] = 25.0
    bottom: Annotated[float, prop("Padding below", unit="px", group="size", keyed=False, along="down")] = 25.0
    share_width: Annotated[float, prop("Share of the width", unit="%", low=0, high=1000, group="size", keyed=False, along="across")] = 100.0
    share_height: Annotated[float, prop("Share of the height", unit="%", low=0, high=1000, group="size", keyed=False, along="down")] = 100.0
    axes: Annotated[Literal["both ways", "width", "height"], prop("Fits", group="size", keyed=False)] = "both ways"
    least_width: Annotated[float, prop("Least width", unit="px", low=0, high=20_000, group="size", keyed=False, along="across")] = 0.0
    most_width: Annotated[float, prop("Most width", unit="px", low=0, high=20_000, group="size", keyed=False, along="across")] = 0.0
    least_height: Annotated[float, prop("Least height", unit="px", low=0, high=20_000, group="size", keyed=False, along="down")] = 0.0
    most_height: Annotated[float, prop("Most height", unit="px", low=0, high=20_000, group="size", keyed=False, along="down")] = 0.0
    vanishes: Annotated[bool, prop("Vanishes", group="size", keyed=False)] = True


class Matte(Value, frozen=True):
    """The part is shown only inside another part as it is posed, or with ``hides`` only outside of it.

    ``by`` says what of the other counts: its outline, whatever its colour and opacity; its coverage, which is the opacity of
    what it paints; or the brightness of that. ``grow`` makes an outline larger or smaller, ``soft`` is the width of a soft
    edge; both in px.
    """

    inside: str
    hides: Annotated[bool, prop("Hidden inside", group="matte", keyed=False)] = False
    by: Annotated[Literal["outline", "coverage", "brightness"], prop("By", group="matte", keyed=False)] = "outline"
    grow: Annotated[float, prop("Grown by", unit="px", low=-2000, high=2000, group="matte")] = 0.0
    soft: Annotated[float, prop("Softened by", unit="px", low=0, high=500, group="matte")] = 0.0


class Part(Value, frozen=True, kw_only=True, tag_field="kind"):
    """What every part has. ``across`` and ``down`` place it; ``None`` leaves a fitted shape round what it fits.

    ``group`` is the group that it is a member of; a locked part is not taken hold of on the stage. It is turned and scaled
    about its anchor, a point of its resting box; what fits around it or is placed on it goes by the box without that.
    """

    id: PartId
    name: Annotated[str, msgspec.Meta(min_length=1, max_length=200)]
    shown: Annotated[bool, prop("Shown", changes="layout")] = True
    locked: bool = False
    opacity: Annotated[float, prop("Opacity", unit="%", low=0, high=100)] = 100.0
    turn: Annotated[float, prop("Turned", unit="°", low=-3600, high=3600, group="stance")] = 0.0
    scale_x: Annotated[float, prop("Scaled across", unit="%", low=0, high=10_000, group="stance")] = 100.0
    scale_y: Annotated[float, prop("Scaled down", unit="%", low=0, high=10_000, group="stance")] = 100.0
    anchor_x: Annotated[float, prop("Anchor across", unit="%", low=-1000, high=1000, group="stance")] = 50.0
    anchor_y: Annotated[float, prop("Anchor down", unit="%", low=-1000, high=1000, group="stance")] = 50.0
    group: PartId | None = None
    across: Annotated[Place | None, piece("across", "layout")] = Place()
    down: Annotated[Place | None, piece("down", "layout")] = Place()
    mattes: Annotated[tuple[Matte, ...], piece("matte")] = ()
    way_in: Annotated[tuple[Move, ...], piece("way in", "time")] = ()
    way_out: Annotated[WayOut, piece("way out", "time")] = Mirrored()
    sways: Annotated[tuple[Sway, ...], msgspec.Meta(max_length=16), piece("hold", "time")] = ()
    keys: Annotated[tuple[Keyed, ...], msgspec.Meta(max_length=200), piece("keys", "time")] = ()
    motion_blur: Annotated[bool, prop("Motion blur", group="time", keyed=False)] = True


class PaintedPart(Part, frozen=True, kw_only=True, tag_field="kind"):
    """How a part looks: its fill, and what lies round it."""

    fill: Annotated[Paint, piece("fill")] = Solid()
    outline: Annotated[Outline | None, piece("outline")] = None
    shadows: Annotated[tuple[Shadow, ...], msgspec.Meta(max_length=16), piece("shadow")] = ()
    glow: Annotated[Glow | None, piece("glow")] = None
    blur: Annotated[float, prop("Blur", unit="px", low=0, high=500)] = 0.0
    blend: Annotated[Blend, prop("Blend", keyed=False)] = "normal"


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


class AxisPlace(Value, frozen=True):
    """Where a text's face stands on one axis of a variable font, e.g. ``wght`` 650; in the axis' own unit."""

    tag: Annotated[str, msgspec.Meta(pattern=r"^[A-Za-z0-9 ]{4}$")]
    value: Annotated[float, prop("Axis", low=-32_768, high=32_767, group="axes", keyed=False)] = 0.0


class TextPart(PaintedPart, frozen=True, kw_only=True, tag="text"):
    """Words in one style and up to two accents; a line ends where a line break was typed, or where its room ends.

    A typed line is a paragraph; ``paragraph`` is the room between two of them besides the leading. ``text_style`` is the id of
    the template's text style that decides its face and setting; empty, those are its own.
    """

    text: Annotated[str, prop("Text", group="words", keyed=False)] = "Words"
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
    def places(self) -> tuple[tuple[str, float], ...]:
        """Places on axes by tag, for a face."""
        return tuple((place.tag, place.value) for place in self.axes)


class ShapePart(PaintedPart, frozen=True, kw_only=True, tag="shape"):
    """A form with rounded corners, sized by hand or by what it fits around."""

    form: Annotated[Form, piece("form")] = Rectangle()
    fit: Annotated[Fit | None, piece("fit", "layout")] = None
    width: Annotated[float, prop("Width", unit="px", low=0, high=20_000, group="size", role="size", along="across")] = 400.0
    height: Annotated[float, prop("Height", unit="px", low=0, high=20_000, group="size", role="size", along="down")] = 120.0
    corner: Annotated[float, prop("Corners", low=0, high=10_000, unit_in="corner_unit")] = 0.0
    corner_unit: Annotated[Literal["px", "percent"], prop("Corners in", keyed=False)] = "px"
    fill: Annotated[Paint, piece("fill")] = Solid("#20435C")


class RulePart(PaintedPart, frozen=True, kw_only=True, tag="rule"):
    """A straight line. With a fit, its length follows the other parts along its own direction; 0 px of dash is unbroken."""

    direction: Annotated[Literal["across", "down"], prop("Direction", keyed=False, changes="layout")] = "across"
    fit: Annotated[Fit | None, piece("fit", "layout")] = None
    length: Annotated[float, prop("Length", unit="px", low=0, high=20_000, group="size", role="size")] = 300.0
    width: Annotated[float, prop("Thickness", unit="px", low=0, high=2_000, group="size", role="size")] = 6.0
    caps: Annotated[Literal["flat", "round"], prop("Caps", keyed=False)] = "flat"
    dash: Annotated[float, prop("Dashes", unit="px", low=0, high=2_000)] = 0.0
    dash_gap: Annotated[float, prop("Dash gap", unit="px", low=0, high=2_000)] = 12.0
    fill: Annotated[Paint, piece("fill")] = Solid("#6CC7B0")


def reach(part: "AnyPart") -> float:
    """How far beyond its outline a part may paint, in px: outline, shadows, glow and blur."""
    if not isinstance(part, PaintedPart):
        return 0.0
    line = part.outline.outside if part.outline else 0.0
    shadows = [max(abs(s.x), abs(s.y)) + SOFT_REACH * s.blur for s in part.shadows]
    glow = SOFT_REACH * part.glow.size if part.glow else 0.0
    return line + max([SOFT_REACH * part.blur, glow, *shadows])


class PictureFile(Value, frozen=True):
    """A picture's own file: its name, and its bytes (PNG, JPEG, WebP or SVG). In a package the bytes are a file of their own."""

    name: Annotated[str, msgspec.Meta(max_length=200)]
    data: bytes = b""


class PicturePart(PaintedPart, frozen=True, kw_only=True, tag="picture"):
    """A picture in a box with round corners. ``fill`` lies behind it and shows where it is clear.

    ``sits`` says how it takes up its box: whole within it, filling it with the rest cut off, or stretched; ``focus`` which
    part of it stays when some is cut off. ``tint_share`` of it takes the colour ``tint``.
    """

    picture: Annotated[PictureFile, prop("Picture", keyed=False, kind="picture", group="picture")]
    fit: Annotated[Fit | None, piece("fit", "layout")] = None
    width: Annotated[float, prop("Width", unit="px", low=0, high=20_000, group="size", role="size", along="across")] = 200.0
    height: Annotated[float, prop("Height", unit="px", low=0, high=20_000, group="size", role="size", along="down")] = 200.0
    sits: Annotated[Literal["whole", "fills", "stretched"], prop("Sits", keyed=False)] = "whole"
    focus_x: Annotated[float, prop("Focus across", unit="%", low=0, high=100)] = 50.0
    focus_y: Annotated[float, prop("Focus down", unit="%", low=0, high=100)] = 50.0
    corner: Annotated[float, prop("Corners", low=0, high=10_000, unit_in="corner_unit")] = 0.0
    corner_unit: Annotated[Literal["px", "percent"], prop("Corners in", keyed=False)] = "px"
    tint: Annotated[str, prop("Tint", colour=True)] = "#20435C"
    tint_share: Annotated[float, prop("Tinted", unit="%", low=0, high=100)] = 0.0
    fill: Annotated[Paint, piece("fill")] = Solid("#FFFFFF00")


class PatternPart(PaintedPart, frozen=True, kw_only=True, tag="pattern"):
    """One form or picture many times: in a row, a grid or a ring.

    ``width`` and ``height`` are those of one copy. With a fit it fills a box, with as many copies as that takes; a row's are
    then as high as the box. Size, turn, opacity and colour run from the first copy to the last. ``drift`` moves all of it,
    in px a second; where it fills a box, it never runs out.
    """

    form: Annotated[Form, piece("form")] = Rectangle()
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
    seed: Annotated[int, prop("Chance", low=0, high=999_999, group="pattern", keyed=False)] = 1
    drift_x: Annotated[float, prop("Drift across", unit="px/s", low=-4000, high=4000, group="pattern", keyed=False)] = 0.0
    drift_y: Annotated[float, prop("Drift down", unit="px/s", low=-4000, high=4000, group="pattern", keyed=False)] = 0.0
    fill: Annotated[Paint, piece("fill")] = Solid("#F4B23E")


class GroupPart(Part, frozen=True, kw_only=True, tag="group"):
    """Parts that move, turn, fade and are matted as one. Its box is the joint box of its members, so it has no place of its own."""

    blend: Annotated[Blend, prop("Blend", keyed=False)] = "normal"
    across: Annotated[Place | None, piece("across", "layout")] = None
    down: Annotated[Place | None, piece("down", "layout")] = None


class EchoPart(Part, frozen=True, kw_only=True, tag="echo"):
    """A live copy of a part or group, with a place, mattes and moves of its own instead of the original's mattes.

    ``later``: it arrives so many frames later and leaves so many earlier than the original, or the other way round below 0.
    """

    of: PartId
    blend: Annotated[Blend, prop("Blend", keyed=False)] = "normal"
    later: Annotated[int, prop("Later by", unit="frames", low=-10_000, high=10_000, group="echo", keyed=False)] = 0


AnyPart = TextPart | ShapePart | RulePart | PicturePart | PatternPart | GroupPart | EchoPart


def kind_of(part: AnyPart) -> str:
    """The word for a part's kind: ``text``, ``shape``, ``rule``."""
    return str(part.__struct_config__.tag)


def fit_of(part: AnyPart) -> Fit | None:
    """The fit of a part that can have one."""
    return getattr(part, "fit", None)


def followed_by(part: AnyPart) -> dict[str, set[str]]:
    """The ids of the parts (not areas of the frame) that ``part`` follows, each with how: fit, place, matte, echo."""
    found: dict[str, set[str]] = {}
    fit = fit_of(part)
    for other in fit.around if fit else ():
        if other not in FRAME_AREAS:
            found.setdefault(other, set()).add("fit")
    for place in (part.across, part.down):
        if place and place.on not in FRAME_AREAS:
            found.setdefault(place.on, set()).add("place")
    for matte in part.mattes:
        found.setdefault(matte.inside, set()).add("matte")
    if isinstance(part, EchoPart):
        found.setdefault(part.of, set()).add("echo")
    return found


def members_of(parts: Iterable[AnyPart], group: str, deep: bool = False) -> list[str]:
    """The ids of a group's members back to front; with ``deep`` also those of the groups in it."""
    listed = list(parts)
    found = []
    for part in listed:
        if part.group == group:
            found.append(part.id)
            if deep and isinstance(part, GroupPart):
                found += members_of(listed, part.id, deep)
    return found
