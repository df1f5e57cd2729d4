"""What every part has, and how a part relates to others: fit, place, matte.

A kind of part is one class in a file of its own; what it has in common with others, and what it says of itself, stands here.
"""

from collections.abc import Iterator
from fractions import Fraction
from typing import Annotated, ClassVar, Literal, Self

import msgspec

from avlet.document.looks.colours import is_clear
from avlet.document.looks.glint import Glint
from avlet.document.looks.paints import SOFT_REACH, Blend, Glow, Outline, Paint, Shadow, Solid, colours_of
from avlet.document.looks.picture_file import ChangePicture
from avlet.document.metadata import Value, piece, prop
from avlet.document.solids import Solidity, Stand, Surface
from avlet.document.time.keys import Keyed, RunsWith
from avlet.document.time.moves import Mirrored, Move, Sway, WayOut
from avlet.geometry import Axis
from avlet.limits import SOFT_EACH, SOLID

Edge = Literal["start", "middle", "end", "baseline"]
TextBox = Literal["line box", "capitals", "ink"]
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
    runs: Annotated[tuple[RunsWith, ...], msgspec.Meta(max_length=50), piece("run", "time")] = ()
    motion_blur: Annotated[bool, prop("Motion blur", group="time", keyed=False)] = True

    has_place: ClassVar[bool] = True
    """Whether it is placed itself; what only holds others lies where they do."""
    holds: ClassVar[bool] = False
    """Whether other parts may be in it."""
    has_depth: ClassVar[bool] = False
    """Whether what is in it stands in a space."""
    lights: ClassVar[bool] = False
    """Whether it is a lamp of a space."""

    is_round: ClassVar[bool] = False
    """Whether it is as high as it is wide, and with a fit goes round the corners of what it fits around."""

    @property
    def in_units(self) -> bool:
        """Whether moves can take it line by line, word by word or letter by letter."""
        return False

    def with_pictures(self, change: ChangePicture) -> Self:
        """The same with its pictures changed."""
        return self

    @property
    def kind(self) -> str:
        """The word for its kind."""
        return str(self.__struct_config__.tag)

    @property
    def fitted(self) -> Fit | None:
        """What it takes its size from; None for a size of its own."""
        fit: Fit | None = getattr(self, "fit", None)
        return fit

    def fits_along(self, axis: Axis) -> bool:
        """Whether its size along an axis (0 across, 1 down) comes from a fit."""
        return self.fitted is not None and self.fitted.axes in ("both ways", ("width", "height")[axis])

    @property
    def size_names(self) -> tuple[str | None, str | None]:
        """The properties that hold its size across and down, where it has any."""
        return None, None

    def sized(self, width: float, height: float) -> dict[str, float]:
        """The properties that give it a size of its own, as large as that."""
        return {}

    def follows(self) -> dict[str, set[str]]:
        """The ids of the parts (not areas of the frame) that it follows, each with how: fit, place, matte."""
        found: dict[str, set[str]] = {}
        for other in self.fitted.around if self.fitted else ():
            if other not in FRAME_AREAS:
                found.setdefault(other, set()).add("fit")
        for place in (self.across, self.down):
            if place and place.on not in FRAME_AREAS:
                found.setdefault(place.on, set()).add("place")
        for matte in self.mattes:
            found.setdefault(matte.inside, set()).add("matte")
        return found

    @property
    def copied(self) -> PartId | None:
        """The part that it shows a live copy of, if it does."""
        return None

    @property
    def delayed(self) -> int:
        """By how many frames what it copies arrives later, and leaves earlier."""
        return 0

    @property
    def deep(self) -> float:
        """px that it is deep in a space."""
        return 0.0

    @property
    def own_stand(self) -> Stand | None:
        """Where it stands in a space; None for the sheet, and for what cannot stand elsewhere."""
        return None

    @property
    def idle(self) -> frozenset[str]:
        """The properties that change nothing while others are as they are: they need not be offered."""
        return frozenset()

    @property
    def reach(self) -> float:
        """How far beyond its outline it may paint, in px."""
        return 0.0

    @property
    def written(self) -> dict[str, str]:
        """The words that it is given, by property."""
        return {}

    @property
    def pieces(self) -> int:
        """How many letters or copies it paints by itself, about: what painting it costs."""
        return 1 + sum(map(len, self.written.values()))

    @property
    def pieces_in_depth(self) -> int:
        """The same, where it is a member of a space."""
        return self.pieces

    @property
    def painted_for(self) -> tuple[str, ...]:
        """The ids of the parts that are painted wherever it is painted: the sources of its mattes."""
        return tuple(matte.inside for matte in self.mattes)

    @property
    def round_it(self) -> float:
        """What is painted round it, such as shadows, as shares of what it costs itself; softer is more."""
        return 0.0

    def own_faults(self, rate: Fraction) -> Iterator[str]:
        """What is wrong with it by itself, each with the property that it is wrong with; ``rate`` is the frame's."""
        yield from ()


class PaintedPart(Part, frozen=True, kw_only=True, tag_field="kind"):
    """How a part looks: its fill, and what lies round it; in a space also how it is solid and where it stands."""

    fill: Annotated[Paint, piece("fill")] = Solid()
    outline: Annotated[Outline | None, piece("outline")] = None
    shadows: Annotated[tuple[Shadow, ...], msgspec.Meta(max_length=16), piece("shadow")] = ()
    glow: Annotated[Glow | None, piece("glow")] = None
    glint: Annotated[Glint | None, piece("light that passes")] = None
    blur: Annotated[float, prop("Blur", unit="px", low=0, high=500)] = 0.0
    blend: Annotated[Blend, prop("Blend", keyed=False)] = "normal"
    solid: Annotated[Solidity | None, piece("solid")] = None
    stand: Annotated[Stand | None, piece("stand")] = None

    @property
    def only_lines(self) -> bool:
        """Whether all that it has is an outline: its fill is clear, and nothing lies round it."""
        return self.outline is not None and all(map(is_clear, colours_of(self.fill))) and not (self.shadows or self.glow or self.glint)

    @property
    def deep(self) -> float:
        return self.solid.depth if self.solid is not None else 0.0

    @property
    def own_stand(self) -> Stand | None:
        return self.stand

    @property
    def shines(self) -> Surface:
        """The surface that it has in a space."""
        return self.solid.surface if self.solid is not None else "matt"

    @property
    def pieces_in_depth(self) -> int:
        return self.pieces * (SOLID if self.solid is not None else 1)

    @property
    def round_it(self) -> float:
        soft = [shadow.blur for shadow in self.shadows] + ([self.glow.size] if self.glow else [])
        return sum(1 + SOFT_EACH * blur for blur in soft)

    @property
    def reach(self) -> float:
        line = self.outline.outside if self.outline else 0.0
        shadows = [max(abs(s.x), abs(s.y)) + SOFT_REACH * s.blur for s in self.shadows]
        glow = SOFT_REACH * self.glow.size if self.glow else 0.0
        return line + max([SOFT_REACH * self.blur, glow, *shadows])


class SizedPart(PaintedPart, frozen=True, kw_only=True, tag_field="kind"):
    """What has a width and a height of its own, or takes them from a fit."""

    fit: Annotated[Fit | None, piece("fit", "layout")] = None

    @property
    def size_names(self) -> tuple[str | None, str | None]:
        return "width", "height"

    def sized(self, width: float, height: float) -> dict[str, float]:
        return {"width": width, "height": height}
