"""Moves as values: from which displaced look, by which unit, in which order, how long, with which ease."""

from typing import Annotated, Literal

from avlet.document.metadata import Value, prop

Unit = Literal["whole", "line", "word", "character"]
Order = Literal["first to last", "last to first"]
Travel = Literal["by offset", "out of the matte"]
Side = Literal["below", "above", "left", "right"]

_GROUP = "move"


class CubicBezier(Value, frozen=True, tag_field="kind", tag="cubic-bezier"):
    """CSS ``cubic-bezier(x1, y1, x2, y2)``: https://www.w3.org/TR/css-easing-1/#cubic-bezier-easing-functions."""

    x1: Annotated[float, prop("Ease x1", low=0, high=1, step=0.05, group=_GROUP, keyed=False)] = 0.0
    y1: Annotated[float, prop("Ease y1", low=-4, high=5, step=0.05, group=_GROUP, keyed=False)] = 0.0
    x2: Annotated[float, prop("Ease x2", low=0, high=1, step=0.05, group=_GROUP, keyed=False)] = 1.0
    y2: Annotated[float, prop("Ease y2", low=-4, high=5, step=0.05, group=_GROUP, keyed=False)] = 1.0

    def reversed(self) -> "CubicBezier":
        """The same curve run backwards: what arrives softly leaves softly."""
        return CubicBezier(1 - self.x2, 1 - self.y2, 1 - self.x1, 1 - self.y1)


Ease = CubicBezier

READY_EASES: dict[str, Ease] = {
    "even": CubicBezier(0, 0, 1, 1),
    "soft start": CubicBezier(0.55, 0, 0.85, 0.35),
    "soft end": CubicBezier(0.15, 0.65, 0.45, 1),
    "soft both": CubicBezier(0.6, 0, 0.4, 1),
    "quick, then soft": CubicBezier(0.15, 0.9, 0.25, 1),
    "soft, then quick": CubicBezier(0.75, 0, 0.85, 0.1),
    "a little past": CubicBezier(0.25, 0.9, 0.35, 1.25),
}
"""Eases with plain names, as starting points."""


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


def name_of_ease(ease: Ease) -> str:
    """The name of a ready ease, or its CSS notation."""
    for name, ready in READY_EASES.items():
        if ready == ease:
            return name
    return f"cubic-bezier({ease.x1:g}, {ease.y1:g}, {ease.x2:g}, {ease.y2:g})"
