"""Credits: a list that is set as a whole, and rolls, turns its pages, crawls or stands."""

from collections.abc import Iterator
from fractions import Fraction
from typing import Annotated, Literal, Self

import msgspec

from avlet.document.lists.blocks import Block, Heading, Names, Role, with_pictures
from avlet.document.looks.paints import Paint
from avlet.document.looks.picture_file import ChangePicture
from avlet.document.metadata import Value, piece, prop
from avlet.document.parts.base import PaintedPart
from avlet.document.parts.typeset import Cased, Direction, Family, Leading, Size, Style, Tracking
from avlet.limits import MOST_BLOCKS, MOST_FRAMES

How = Literal["rolls up", "rolls down", "pages", "crawls", "stands"]
Begins = Literal["off the frame", "in the middle", "at its place"]
Leads = Literal["length", "speed"]
Lies = Literal["side by side", "one above the other"]
Towards = Literal["to the axis", "to the edge", "centred"]
TooLong = Literal["wraps", "shrinks"]
Stands = Literal["start", "middle", "end"]
_COLUMNS, _MOVEMENT = "columns", "movement"
STYLES = ("name", "role", "heading", "words")
"""The styles of credits in the order of their numbers: a glyph's number says which of them it is in."""


class BlockStyle(Value, frozen=True, kw_only=True):
    """How one sort of line is set. ``text_style`` is the id of a text style of the house that decides instead; a fill of its own or the
    part's.
    """

    family: Family = "Fira Sans"
    style: Style = "Medium"
    size: Size = 34.0
    tracking: Tracking = 0.0
    leading: Leading = 130.0
    case: Cased = "as typed"
    text_style: str = ""
    fill: Annotated[Paint | None, piece("fill")] = None


class Stay(Value, frozen=True):
    """How long one page stays, counted from 0, in frames at the template's own length: instead of what its words ask for."""

    page: Annotated[int, msgspec.Meta(ge=0, le=MOST_BLOCKS)]
    frames: Annotated[int, prop("Page stays", unit="frames", low=1, high=MOST_FRAMES, group=_MOVEMENT, keyed=False)]


class Movement(Value, frozen=True, kw_only=True):
    """How credits move over the length of the title.

    A roll *off the frame* shows nothing in its first, or last, frame. *In the middle* stands its first, or last, block there. What stands
    is held for some frames, and may fade. ``soft`` frames at each end its speed grows and sinks; that is part of the way. Where the
    ``speed`` leads, the title's length comes from the list: from its way, or from how long its pages are read.
    """

    how: Annotated[How, prop("Moves", group=_MOVEMENT, keyed=False, changes="setting")] = "rolls up"
    begins: Annotated[Begins, prop("From", group=_MOVEMENT, keyed=False)] = "off the frame"
    ends: Annotated[Begins, prop("To", group=_MOVEMENT, keyed=False)] = "off the frame"
    held_first: Annotated[int, prop("Held at first", unit="frames", low=0, high=MOST_FRAMES, group=_MOVEMENT, keyed=False)] = 0
    held_last: Annotated[int, prop("Held at last", unit="frames", low=0, high=MOST_FRAMES, group=_MOVEMENT, keyed=False)] = 0
    fades_in: Annotated[int, prop("Fades in over", unit="frames", low=0, high=10_000, group=_MOVEMENT, keyed=False)] = 0
    fades_out: Annotated[int, prop("Fades out over", unit="frames", low=0, high=10_000, group=_MOVEMENT, keyed=False)] = 0
    soft: Annotated[int, prop("Soft over", unit="frames", low=0, high=10_000, group=_MOVEMENT, keyed=False)] = 0
    leads: Annotated[Leads, prop("Leads", group=_MOVEMENT, keyed=False)] = "length"
    speed: Annotated[float, prop("Speed", unit="px a frame", low=0.05, high=500, group=_MOVEMENT, keyed=False)] = 6.0
    edge: Annotated[float, prop("Rows fade within", unit="px", low=0, high=4000, group=_MOVEMENT, keyed=False)] = 0.0
    reading: Annotated[float, prop("Words a minute", low=20, high=1000, step=10, group=_MOVEMENT, keyed=False)] = 180.0
    least: Annotated[int, prop("Page stays at least", unit="frames", low=1, high=100_000, group=_MOVEMENT, keyed=False)] = 50
    stays: Annotated[tuple[Stay, ...], msgspec.Meta(max_length=10_000), piece("page", "time")] = ()
    separator: Annotated[str, prop("Between entries", group=_MOVEMENT, keyed=False, changes="setting")] = "•"
    apart: Annotated[float, prop("Entries apart", unit="px", low=0, high=4000, group=_MOVEMENT, keyed=False, changes="setting")] = 40.0

    def staying(self, page: int, frames: int) -> "Movement":
        """The same with a page, counted from 0, that stays for so many frames."""
        others = (stay for stay in self.stays if stay.page != page)
        stays = tuple(sorted((*others, Stay(page, frames)), key=lambda stay: stay.page))
        return msgspec.structs.replace(self, stays=stays)


class CreditsPart(PaintedPart, frozen=True, kw_only=True, tag="credits"):
    """A list, all of it set: headings, roles with their names, names in columns, words, pictures, rules.

    Roles and names meet at an axis, so many percent across the part's ``width``, each with a gap. ``role_width`` and ``name_width`` are
    where a long one wraps or begins to shrink; 0 is at the part's edge. ``softened`` blurs along the movement only.
    ``linked`` is the list file that it is compared with.
    """

    blocks: Annotated[tuple[Block, ...], msgspec.Meta(max_length=MOST_BLOCKS), prop("List", group="list", keyed=False, kind="list")] = (
        Heading(text="Heading"), Role(role="Role", names=("Name",)),
    )  # fmt: skip
    linked: Annotated[str, msgspec.Meta(max_length=4096)] = ""
    width: Annotated[float, prop("Width", unit="px", low=1, high=20_000, group="size", keyed=False, role="size", along="across")] = 1300.0
    lies: Annotated[Lies, prop("Roles and names", group=_COLUMNS, keyed=False)] = "side by side"
    axis: Annotated[float, prop("Axis", unit="%", low=0, high=100, group=_COLUMNS, keyed=False)] = 50.0
    role_gap: Annotated[float, prop("Gap of roles", unit="px", low=0, high=4000, group=_COLUMNS, keyed=False)] = 25.0
    name_gap: Annotated[float, prop("Gap of names", unit="px", low=0, high=4000, group=_COLUMNS, keyed=False)] = 25.0
    role_width: Annotated[float, prop("Roles at most", unit="px", low=0, high=20_000, group=_COLUMNS, keyed=False)] = 0.0
    name_width: Annotated[float, prop("Names at most", unit="px", low=0, high=20_000, group=_COLUMNS, keyed=False)] = 0.0
    roles_lie: Annotated[Towards, prop("Roles", group=_COLUMNS, keyed=False)] = "to the axis"
    names_lie: Annotated[Towards, prop("Names", group=_COLUMNS, keyed=False)] = "to the axis"
    too_long: Annotated[TooLong, prop("Too long", group=_COLUMNS, keyed=False)] = "wraps"
    others_lie: Annotated[Stands, prop("Headings and words", group=_COLUMNS, keyed=False)] = "middle"
    column_gap: Annotated[float, prop("Between columns", unit="px", low=0, high=4000, group=_COLUMNS, keyed=False)] = 40.0
    direction: Annotated[Direction, prop("Direction", keyed=False, changes="setting")] = "by itself"
    row_gap: Annotated[float, prop("Between rows", unit="px", low=0, high=4000, group=_COLUMNS, keyed=False)] = 6.0
    heading_gap: Annotated[float, prop("After a heading", unit="px", low=0, high=4000, group=_COLUMNS, keyed=False)] = 18.0
    section_gap: Annotated[float, prop("Before a heading", unit="px", low=0, high=4000, group=_COLUMNS, keyed=False)] = 64.0
    heading_style: Annotated[BlockStyle, piece("heading", "setting")] = BlockStyle(style="Bold", size=40.0, case="capitals", tracking=40.0)
    role_style: Annotated[BlockStyle, piece("role", "setting")] = BlockStyle(style="Light")
    name_style: Annotated[BlockStyle, piece("name", "setting")] = BlockStyle()
    words_style: Annotated[BlockStyle, piece("words", "setting")] = BlockStyle(style="Regular", size=30.0)
    movement: Annotated[Movement, piece("movement", "time")] = Movement()
    softened: Annotated[float, prop("Softened by", unit="px", low=0, high=20, group=_MOVEMENT, keyed=False, changes="look")] = 0.0

    def with_pictures(self, change: ChangePicture) -> Self:
        return msgspec.structs.replace(self, blocks=with_pictures(self.blocks, change))

    @property
    def in_units(self) -> bool:
        return self.movement.how in ("pages", "stands")

    @property
    def size_names(self) -> tuple[str | None, str | None]:
        return (None if self.movement.how == "crawls" else "width"), None

    def sized(self, width: float, height: float) -> dict[str, float]:
        return {"width": max(1.0, width)}

    @property
    def styles(self) -> tuple[BlockStyle, ...]:
        """The styles by their numbers."""
        return self.name_style, self.role_style, self.heading_style, self.words_style

    @property
    def rolls(self) -> bool:
        """Whether it moves all through the title."""
        return self.movement.how in ("rolls up", "rolls down", "crawls")

    @property
    def reach(self) -> float:
        return super().reach + 2 * self.softened

    def own_faults(self, rate: Fraction) -> Iterator[str]:
        yield from super().own_faults(rate)
        seen: set[int] = set()
        for stay in self.movement.stays:
            if stay.page in seen:
                yield f"movement.stays: page {stay.page + 1} of {self.name} stays for two times. Keep one of them."
            seen.add(stay.page)


def empty_of(blocks: tuple[Block, ...]) -> tuple[Block, ...]:
    """A list to begin another with: the headings and roles stay, the names go."""
    kept: list[Block] = []
    for block in blocks:
        if isinstance(block, Role):
            kept.append(Role(role=block.role))
        elif isinstance(block, Names):
            kept.append(msgspec.structs.replace(block, names=("",), meant=()))
        else:
            kept.append(block)
    return tuple(kept)
