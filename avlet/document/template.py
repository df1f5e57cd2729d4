"""The template: the whole document as one frozen value."""

import functools
from fractions import Fraction
from typing import Annotated, Any, Literal

import msgspec

from avlet.document.cards.card import Card, Sample
from avlet.document.cards.wires import Wire, underscored
from avlet.document.house import HouseColour, HouseGradient, TextStyle
from avlet.document.metadata import Value, piece, prop
from avlet.document.parts import AnyPart
from avlet.document.proofing import Proofing
from avlet.geometry import Axis
from avlet.limits import MOST_FRAMES, MOST_MARKS, MOST_SIDE

TEMPLATE = "template"
"""Stands before the slash where a wire leads to a property of the template itself; no part may have it as its id."""

FORMAT = 1
"""The number of the file format that this version writes. Newer numbers are refused."""


class Frame(Value, frozen=True):
    """Picture size in px and frame rate as a fraction, e.g. ``24000/1001``."""

    width: Annotated[int, msgspec.Meta(ge=16, le=MOST_SIDE)] = 1920
    height: Annotated[int, msgspec.Meta(ge=16, le=MOST_SIDE)] = 1080
    rate: Annotated[str, msgspec.Meta(pattern=r"^[1-9]\d{0,6}/[1-9]\d{0,4}$")] = "25/1"

    @property
    def fps(self) -> Fraction:
        """Frames per second."""
        return Fraction(self.rate)


class Guides(Value, frozen=True):
    """Lines to place things by, in px of the frame: upright ones by how far across they stand, level ones by how far down.

    ``grid`` is how far the lines of a grid over the whole frame are apart; 0 is none.
    """

    across: Annotated[tuple[float, ...], msgspec.Meta(max_length=200)] = ()
    down: Annotated[tuple[float, ...], msgspec.Meta(max_length=200)] = ()
    grid: Annotated[float, msgspec.Meta(ge=0, le=4_000)] = 0.0

    def lines(self, axis: Axis, length: int) -> list[float]:
        """Where all lines along an axis (0 across, 1 down) lie that is ``length`` px long, the grid's included."""
        own = self.across if axis == 0 else self.down
        count = int(length // self.grid) if self.grid >= _FINEST else 0
        return [*own, *(self.grid * n for n in range(1, count + 1))]


_FINEST = 2.0
"""px: nothing can be placed by a finer grid."""


class MotionBlur(Value, frozen=True):
    """How long each frame is exposed: 360° is the whole frame's time, 180° half of it as in film; 0 is sharp.

    ``phase`` is when the exposure begins, in degrees of the frame's time; at minus half of the shutter it lies round the frame.
    """

    shutter: Annotated[float, prop("Shutter", unit="°", low=0, high=360, step=15, group="time", keyed=False)] = 0.0
    phase: Annotated[float, prop("Phase", unit="°", low=-360, high=360, step=15, group="time", keyed=False)] = -90.0


class Mark(Value, frozen=True):
    """A named moment, in frames since the begin."""

    frame: Annotated[int, msgspec.Meta(ge=0, le=MOST_FRAMES)]
    name: Annotated[str, msgspec.Meta(min_length=1, max_length=100)]


Updates = Literal["in place", "out and in"]
"""On air, other answers are exchanged in place, or the title goes out and comes in again with them."""


class Template(Value, frozen=True, kw_only=True, dict=True):
    """An animated title: parts back to front, the card, wires, samples. ``length``, ``way_in``, ``way_out`` in frames.

    ``fits_in`` and ``fits_out`` make the way in and out as long as the moves need. Where one of them does not play, the title
    stands there from the first frame, or to the last. At a ``pace`` of 200 % both, and all moves in them, take half their time.
    ``updates`` says what happens on air when answers change while it stands. ``drop_frame`` is how timecode is shown at 29.97 and
    59.94 frames. ``derived_from`` names the template that it is a variant of.
    ``palette``, ``gradients`` and ``text_styles`` are what its parts share; ``proofing`` is kept for its proof.
    """

    format: Annotated[int, msgspec.Meta(ge=1)] = FORMAT
    name: Annotated[str, msgspec.Meta(min_length=1, max_length=200)] = "Untitled"
    category: str = ""
    keywords: tuple[str, ...] = ()
    frame: Frame = Frame()
    derived_from: Annotated[str, msgspec.Meta(max_length=200)] = ""
    length: Annotated[int, prop("Length", unit="frames", low=1, high=MOST_FRAMES, group="time", keyed=False)] = 125
    way_in: Annotated[int, prop("Way in", unit="frames", low=0, high=100_000, group="time", keyed=False)] = 25
    way_out: Annotated[int, prop("Way out", unit="frames", low=0, high=100_000, group="time", keyed=False)] = 25
    pace: Annotated[float, prop("Pace of the ends", unit="%", low=10, high=1000, step=5, group="time", keyed=False)] = 100.0
    fits_in: bool = False
    fits_out: bool = False
    plays_in: Annotated[bool, prop("Way in plays", group="time", keyed=False)] = True
    plays_out: Annotated[bool, prop("Way out plays", group="time", keyed=False)] = True
    motion_blur: Annotated[MotionBlur, piece("motion blur", "time")] = MotionBlur()
    updates: Annotated[Updates, prop("When answers change", group="time", keyed=False)] = "in place"
    drop_frame: bool = True
    marks: Annotated[tuple[Mark, ...], msgspec.Meta(max_length=MOST_MARKS)] = ()
    parts: tuple[AnyPart, ...] = ()
    card: Card = Card()
    wires: tuple[Wire, ...] = ()
    palette: Annotated[tuple[HouseColour, ...], msgspec.Meta(max_length=200)] = ()
    gradients: Annotated[tuple[HouseGradient, ...], msgspec.Meta(max_length=200)] = ()
    text_styles: Annotated[tuple[TextStyle, ...], msgspec.Meta(max_length=200)] = ()
    samples: tuple[Sample, ...] = ()
    guides: Guides = Guides()
    proofing: Proofing = Proofing()

    def part(self, part_id: str) -> AnyPart | None:
        """The part with this id."""
        return self._known_parts.get(part_id)

    @functools.cached_property
    def part_by_formula_name(self) -> dict[str, str]:
        """The id of each part by its name in formulas."""
        return {underscored(part.id): part.id for part in reversed(self.parts)}

    @functools.cached_property
    def _known_parts(self) -> dict[str, AnyPart]:
        return {part.id: part for part in reversed(self.parts)}

    @property
    def middle(self) -> int:
        """A frame in which the title stands there whole, at its own length: the middle of its hold."""
        return min(self.length - 1, (self.way_in + self.length - self.way_out) // 2)

    def with_guides(self, guides: Guides) -> "Template":
        """The template with other guides."""
        return msgspec.structs.replace(self, guides=guides)

    def owner(self, part_id: str) -> "AnyPart | Template | None":
        """What a property's path begins with: a part, or the template itself."""
        return self if part_id == TEMPLATE else self.part(part_id)

    def name_of(self, part_id: str) -> str:
        """A part's name for a message; its id if there is no such part."""
        part = self.part(part_id)
        return part.name if part else part_id

    def wire_to(self, target: str) -> Wire | None:
        """The wire that ends at ``part/property``."""
        return next((w for w in self.wires if w.target == target), None)

    def wires_from(self, source: str) -> tuple[Wire, ...]:
        """The wires that begin at a source."""
        return tuple(w for w in self.wires if w.source == source)

    def text_style(self, style_id: str) -> TextStyle | None:
        """The text style with this id."""
        return next((s for s in self.text_styles if s.id == style_id), None)

    def starting_answers(self) -> dict[str, Any]:
        """What each field answers before an editor has touched it."""
        return {field.id: field.start for field in self.card.fields}
