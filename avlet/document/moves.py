"""Moves as values: from which displaced look, by which unit, in which order, how long, with which ease."""

from typing import Annotated, Literal

from avlet.document.eases import READY_EASES, Ease
from avlet.document.metadata import Value, prop

Unit = Literal["whole", "line", "word", "character"]
Order = Literal["first to last", "last to first"]
Travel = Literal["by offset", "out of the matte"]
Side = Literal["below", "above", "left", "right"]

_GROUP = "move"


class Move(Value, frozen=True):
    """A displaced look that a part comes from or leaves to, and how it gets there.

    ``drawn`` is how much of the part's outline is there. ``frames`` is the length for all units together; ``start`` is
    frames after the way in's (or way out's) begin. ``hinge_x`` and ``hinge_y`` say about which point of its box a unit
    scales: 0 % is left or top, 100 % right or bottom.
    """

    travel: Annotated[Travel, prop("Travel", group=_GROUP, keyed=False)] = "by offset"
    side: Annotated[Side, prop("From", group=_GROUP, keyed=False)] = "below"
    x: Annotated[float, prop("Offset across", unit="px", group=_GROUP, keyed=False)] = 0.0
    y: Annotated[float, prop("Offset down", unit="px", group=_GROUP, keyed=False)] = 0.0
    scale_x: Annotated[float, prop("Width", unit="%", low=0, high=1000, group=_GROUP, keyed=False)] = 100.0
    scale_y: Annotated[float, prop("Height", unit="%", low=0, high=1000, group=_GROUP, keyed=False)] = 100.0
    hinge_x: Annotated[float, prop("Hinge across", unit="%", low=-100, high=200, group=_GROUP, keyed=False)] = 50.0
    hinge_y: Annotated[float, prop("Hinge down", unit="%", low=-100, high=200, group=_GROUP, keyed=False)] = 50.0
    opacity: Annotated[float, prop("Opacity", unit="%", low=0, high=100, group=_GROUP, keyed=False)] = 100.0
    drawn: Annotated[float, prop("Drawn", unit="%", low=0, high=100, group=_GROUP, keyed=False)] = 100.0
    by: Annotated[Unit, prop("By", group=_GROUP, keyed=False)] = "whole"
    order: Annotated[Order, prop("Order", group=_GROUP, keyed=False)] = "first to last"
    overlap: Annotated[float, prop("Overlap", unit="%", low=0, high=100, group=_GROUP, keyed=False)] = 50.0
    frames: Annotated[int, prop("Length", unit="frames", low=0, high=100_000, group=_GROUP, keyed=False)] = 20
    start: Annotated[int, prop("Start", unit="frames", low=0, high=100_000, group=_GROUP, keyed=False)] = 0
    ease: Ease = READY_EASES["quick, then soft"]


class Mirrored(Value, frozen=True, tag_field="kind", tag="mirrored"):
    """The way out is the way in, backwards: last in, first out."""


class OwnWayOut(Value, frozen=True, tag_field="kind", tag="own"):
    """A way out with moves of its own; their starts count from the begin of the way out."""

    moves: tuple[Move, ...] = ()


class StaysToTheEnd(Value, frozen=True, tag_field="kind", tag="none"):
    """No way out: the part stands until the cut."""


WayOut = Mirrored | OwnWayOut | StaysToTheEnd

READY_MOVES: dict[str, Move] = {
    "rises": Move(travel="out of the matte", side="below", by="line"),
    "drops": Move(travel="out of the matte", side="above", by="line"),
    "slides": Move(x=-120.0, opacity=0.0),
    "unfolds": Move(scale_x=0.0, hinge_x=0.0),
    "grows": Move(scale_x=0.0, scale_y=0.0),
    "fades": Move(opacity=0.0),
    "draws on": Move(drawn=0.0),
}
"""Moves with plain names, as starting points."""


def name_of_move(move: Move) -> str:
    """The plain verb that fits what a move does."""
    if move.travel == "out of the matte":
        return "drops" if move.side == "above" else "rises" if move.side == "below" else "slides"
    if (move.scale_x != 100 and move.scale_y == 100) or (move.scale_y != 100 and move.scale_x == 100):
        return "unfolds"
    if move.scale_x != 100:
        return "grows"
    if move.drawn != 100:
        return "draws on"
    if move.x == 0 and move.y == 0:
        return "fades"
    return "rises" if move.x == 0 and move.y > 0 else "drops" if move.x == 0 else "slides"
