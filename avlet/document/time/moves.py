"""Moves as values: from which displaced look, by which unit, in which order, how long, with which ease."""

from typing import Annotated, Literal

import msgspec

from avlet.document.metadata import Value, piece, prop
from avlet.document.time.eases import READY_EASES, Ease

Unit = Literal["whole", "line", "word", "character"]
Order = Literal["first to last", "last to first", "middle out", "ends in", "shuffled"]
Travel = Literal["by offset", "out of the matte", "out of the frame", "through the sheet", "from the camera"]
Side = Literal["below", "above", "left", "right"]
Opening = Literal["left", "right", "above", "below", "the middle", "an angle"]
Tied = Literal["after its start", "after its end", "ending with it"]
Followed = Literal["the same way", "its way in"]

_GROUP, _LOOK = "move", "displaced"


class Tie(Value, frozen=True):
    """A start that follows the moves of another part: so many frames after those begin or end, or so that both end together.

    A way out of its own follows the other's way out, or, to leave when that comes, its way in; that may be the part's own way in.
    """

    on: str
    how: Annotated[Tied, prop("Tied", group=_GROUP, keyed=False)] = "after its start"
    frames: Annotated[float, prop("Tied by", unit="frames", low=-100_000, high=100_000, group=_GROUP, keyed=False)] = 0.0
    to: Annotated[Followed, prop("Tied to", group=_GROUP, keyed=False)] = "the same way"


Gathering = Literal["anywhere in a box", "on a ring", "beyond the nearest edge", "a point", "away from a point"]


class Elsewhere(Value, frozen=True):
    """Each unit of a move comes from a place of its own, by chance: so much further off, turned, sized, faded and later.

    ``shape`` says where these places are: *anywhere in a box* up to ``x`` and ``y`` px to all sides of where the unit rests; *on a ring*
    ``x`` px off, give or take ``y``; *beyond the nearest edge* of the frame, give or take ``x`` and ``y`` along it; at *a point* of the
    frame (``point_x``, ``point_y``), give or take ``x`` and ``y``; ``x`` px *away from* that point, give or take ``y``. The others are
    spans: up to so much more or less, a delay only more. What a unit gets follows from the move's chance and its own place in the order
    of reading.
    """

    shape: Annotated[Gathering, prop("Each from", group=_GROUP, keyed=False)] = "anywhere in a box"
    x: Annotated[float, prop("Within, across", unit="px", low=0, high=10_000, group=_GROUP, keyed=False)] = 240.0
    y: Annotated[float, prop("Within, down", unit="px", low=0, high=10_000, group=_GROUP, keyed=False)] = 140.0
    point_x: Annotated[float, prop("Point across", unit="%", low=-200, high=300, group=_GROUP, keyed=False)] = 50.0
    point_y: Annotated[float, prop("Point down", unit="%", low=-200, high=300, group=_GROUP, keyed=False)] = 50.0
    turn: Annotated[float, prop("Turned by up to", unit="°", low=0, high=3600, step=5, group=_GROUP, keyed=False)] = 0.0
    tilt: Annotated[float, prop("Tilted by up to", unit="°", low=0, high=3600, step=5, group=_GROUP, keyed=False)] = 0.0
    size: Annotated[float, prop("Sized by up to", unit="%", low=0, high=1000, group=_GROUP, keyed=False)] = 0.0
    opacity: Annotated[float, prop("Faded by up to", unit="%", low=0, high=100, group=_GROUP, keyed=False)] = 0.0
    delay: Annotated[float, prop("Later by up to", unit="frames", low=0, high=10_000, group=_GROUP, keyed=False)] = 0.0


class Move(Value, frozen=True):
    """A displaced look that a part comes from or leaves to, and how it gets there.

    ``drawn`` is how much of the part's outline is there, and with ``fills_after`` its fill comes over the last third of
    that; ``opened`` is how far a wipe has opened. In a space ``z`` brings it nearer to the
    viewer, *through the sheet* is from just behind that, or behind the member that ``through`` names, and *from the camera* from just
    behind that. A unit scales, turns and skews
    about its hinge, a point of its box: 0 % is left or top, 100 % right or bottom; ``turn_x`` and ``turn_y`` turn it out of the
    plane about a level and an upright axis, seen from ``depth`` px away. ``pace``: *in all* its units take ``frames``
    together and lie over each other by ``overlap``; *by step* each takes ``frames`` and begins ``step`` after the one before,
    but all are done in ``longest`` (0 sets no limit). ``start`` is frames after the way in's (or way out's) begin, or where it
    ``counts_from`` the end, frames before the last one, unless ``tie`` says otherwise. The ease runs for each unit by
    itself or over the whole. ``named`` is what a designer chose it as.
    """

    travel: Annotated[Travel, prop("Travel", group=_GROUP, keyed=False)] = "by offset"
    side: Annotated[Side, prop("From", group=_GROUP, keyed=False)] = "below"
    through: str = ""
    x: Annotated[float, prop("Offset across", unit="px", group=_LOOK, keyed=False)] = 0.0
    y: Annotated[float, prop("Offset down", unit="px", group=_LOOK, keyed=False)] = 0.0
    z: Annotated[float, prop("Offset in depth", unit="px", low=-10_000, high=10_000, group=_LOOK, keyed=False)] = 0.0
    scale_x: Annotated[float, prop("Width", unit="%", low=0, high=1000, group=_LOOK, keyed=False)] = 100.0
    scale_y: Annotated[float, prop("Height", unit="%", low=0, high=1000, group=_LOOK, keyed=False)] = 100.0
    turn: Annotated[float, prop("Turn", unit="°", low=-3600, high=3600, step=5, group=_LOOK, keyed=False)] = 0.0
    turn_x: Annotated[float, prop("Tilt", unit="°", low=-3600, high=3600, step=5, group=_LOOK, keyed=False)] = 0.0
    turn_y: Annotated[float, prop("Swing", unit="°", low=-3600, high=3600, step=5, group=_LOOK, keyed=False)] = 0.0
    depth: Annotated[float, prop("Seen from", unit="px", low=50, high=100_000, group=_LOOK, keyed=False)] = 1600.0
    skew: Annotated[float, prop("Skew", unit="°", low=-85, high=85, group=_LOOK, keyed=False)] = 0.0
    hinge_x: Annotated[float, prop("Hinge across", unit="%", low=-100, high=200, group=_LOOK, keyed=False)] = 50.0
    hinge_y: Annotated[float, prop("Hinge down", unit="%", low=-100, high=200, group=_LOOK, keyed=False)] = 50.0
    opacity: Annotated[float, prop("Opacity", unit="%", low=0, high=100, group=_LOOK, keyed=False)] = 100.0
    blur: Annotated[float, prop("Blur", unit="px", low=0, high=500, group=_LOOK, keyed=False)] = 0.0
    tracking: Annotated[float, prop("Tracking", unit="/1000 em", low=-900, high=5000, step=5, group=_LOOK, keyed=False)] = 0.0
    coloured: Annotated[bool, prop("Coloured", group=_LOOK, keyed=False)] = False
    colour: Annotated[str, prop("Colour", colour=True, group=_LOOK, keyed=False)] = "#F4B23E"
    drawn: Annotated[float, prop("Drawn", unit="%", low=0, high=100, group=_LOOK, keyed=False)] = 100.0
    fills_after: Annotated[bool, prop("Fills once it is drawn", group=_LOOK, keyed=False)] = False
    opened: Annotated[float, prop("Opened", unit="%", low=0, high=100, group=_LOOK, keyed=False)] = 100.0
    opens_from: Annotated[Opening, prop("Opens from", group=_LOOK, keyed=False)] = "left"
    opens_angle: Annotated[float, prop("Opens along", unit="°", low=-360, high=360, step=5, group=_LOOK, keyed=False)] = 20.0
    opens_soft: Annotated[float, prop("Soft edge", unit="px", low=0, high=2000, group=_LOOK, keyed=False)] = 0.0
    by: Annotated[Unit, prop("By", group=_GROUP, keyed=False)] = "whole"
    order: Annotated[Order, prop("Order", group=_GROUP, keyed=False)] = "first to last"
    seed: Annotated[int, prop("Chance", low=0, high=999_999, group=_GROUP, keyed=False)] = 1
    pace: Annotated[Literal["in all", "by step"], prop("Pace", group=_GROUP, keyed=False)] = "in all"
    overlap: Annotated[float, prop("Overlap", unit="%", low=0, high=100, group=_GROUP, keyed=False)] = 50.0
    step: Annotated[float, prop("Step", unit="frames", low=0, high=10_000, group=_GROUP, keyed=False)] = 2.0
    longest: Annotated[float, prop("Longest", unit="frames", low=0, high=100_000, group=_GROUP, keyed=False)] = 0.0
    frames: Annotated[int, prop("Length", unit="frames", low=0, high=100_000, group=_GROUP, keyed=False)] = 20
    start: Annotated[int, prop("Start", unit="frames", low=0, high=100_000, group=_GROUP, keyed=False)] = 0
    counts_from: Annotated[Literal["the beginning", "the end"], prop("Start counts from", group=_GROUP, keyed=False)] = "the beginning"
    tie: Annotated[Tie | None, piece("tie", "time")] = None
    elsewhere: Annotated[Elsewhere | None, piece("elsewhere", "time")] = None
    named: Annotated[str, msgspec.Meta(max_length=60)] = ""
    ease: Annotated[Ease, piece("ease", "time")] = READY_EASES["quick, then soft"]
    ease_over: Annotated[Literal["each unit", "the whole"], prop("Eased", group=_LOOK, keyed=False)] = "each unit"

    @property
    def goes_out(self) -> bool:
        """Whether its way is as long as it takes to be out of something."""
        return self.travel in ("out of the matte", "out of the frame")


class Sway(Value, frozen=True):
    """What a part does while it holds, however long that is.

    It *drifts* to a displaced look over the whole hold and leaves from there; it *breathes* to that look and back, or *loops*
    to it and as far to the other side, as often as whole periods of about ``period`` frames fit the hold.
    """

    way: Annotated[Literal["drifts", "breathes", "loops"], prop("While it holds", group=_GROUP, keyed=False)] = "drifts"
    x: Annotated[float, prop("Offset across", unit="px", group=_GROUP, keyed=False)] = 0.0
    y: Annotated[float, prop("Offset down", unit="px", group=_GROUP, keyed=False)] = 0.0
    scale: Annotated[float, prop("Size", unit="%", low=0, high=1000, group=_GROUP, keyed=False)] = 100.0
    turn: Annotated[float, prop("Turn", unit="°", low=-3600, high=3600, group=_GROUP, keyed=False)] = 0.0
    opacity: Annotated[float, prop("Opacity", unit="%", low=0, high=100, group=_GROUP, keyed=False)] = 100.0
    period: Annotated[int, prop("Period", unit="frames", low=2, high=100_000, group=_GROUP, keyed=False)] = 50
    ease: Annotated[Ease, piece("ease", "time")] = READY_EASES["even"]


READY_SWAYS: dict[str, Sway] = {
    "drifts": Sway("drifts", x=30.0), "breathes": Sway("breathes", scale=103.0), "sways": Sway("loops", turn=2.0),
    "grows slowly": Sway("drifts", scale=104.0), "pulses": Sway("breathes", opacity=60.0),
}  # fmt: skip
"""What parts may do while they hold, as starting points."""


class Mirrored(Value, frozen=True, tag_field="kind", tag="mirrored"):
    """The way out is the way in, backwards: last in, first out."""


class OwnWayOut(Value, frozen=True, tag_field="kind", tag="own"):
    """A way out with moves of its own; their starts count from the begin of the way out, from the end, or from another part's moves.

    So a part may leave while others hold.
    """

    moves: tuple[Move, ...] = ()


class StaysToTheEnd(Value, frozen=True, tag_field="kind", tag="none"):
    """No way out: the part stands until the cut."""


WayOut = Mirrored | OwnWayOut | StaysToTheEnd

_READY: dict[str, Move] = {
    "rises": Move(travel="out of the matte", side="below", by="line"),
    "drops": Move(travel="out of the matte", side="above", by="line"),
    "rises by a distance": Move(y=60.0, opacity=0.0, by="line"),
    "slides": Move(x=-120.0, opacity=0.0),
    "unfolds": Move(scale_x=0.0, hinge_x=0.0),
    "grows": Move(scale_x=0.0, scale_y=0.0),
    "fades": Move(opacity=0.0),
    "draws on": Move(drawn=0.0, fills_after=True),
    "wipes": Move(opened=0.0, opens_soft=40.0),
    "focuses": Move(blur=24.0, opacity=0.0),
    "turns": Move(turn=-90.0, opacity=0.0, hinge_x=0.0, hinge_y=100.0),
    "tumbles": Move(turn_x=-90.0, opacity=0.0, by="character", overlap=70.0, hinge_y=100.0),
    "pops": Move(scale_x=0.0, scale_y=0.0, by="character", overlap=70.0, ease=READY_EASES["a little past"]),
    "types on": Move(opacity=0.0, by="character", overlap=0.0, ease=READY_EASES["in one step"]),
    "comes through": Move(travel="through the sheet", by="character", overlap=60.0, frames=25, ease=READY_EASES["a little past"]),
    "comes from the camera": Move(travel="from the camera", by="character", overlap=70.0, frames=30),
    "swings in": Move(turn_y=90.0, by="character", overlap=70.0, frames=25, ease=READY_EASES["a little past"]),
    "comes nearer": Move(z=-600.0, opacity=0.0),
    "gathers": Move(opacity=0.0, by="character", overlap=70.0, frames=24, elsewhere=Elsewhere(turn=90.0, delay=6.0)),
    "settles": Move(scale_x=130.0, scale_y=130.0, opacity=0.0, tracking=120.0, ease=READY_EASES["soft end"]),
}
READY_MOVES = {name: msgspec.structs.replace(move, named=name) for name, move in _READY.items()}
"""Moves with plain names, as starting points."""


def name_of_move(move: Move) -> str:
    """What a move was chosen as; the plain verb that fits what it does when it was not."""
    return (verb_of(move) if move.named in READY_MOVES else move.named) or _verb_by_look(move)


def verb_of(move: Move) -> str:
    """The ready move that a move is most like, whatever it is kept as: what rises from the left slides."""
    turned = move.named in ("rises", "drops") and move.goes_out and move.side != {"rises": "below", "drops": "above"}[move.named]
    return move.named if move.named in READY_MOVES and not turned else _verb_by_look(move)


def _verb_by_look(move: Move) -> str:
    if move.travel == "through the sheet":
        return "comes through"
    if move.travel == "from the camera":
        return "comes from the camera"
    if move.travel != "by offset":
        return "drops" if move.side == "above" else "rises" if move.side == "below" else "slides"
    if move.elsewhere is not None:
        return "gathers"
    if move.opened != 100:
        return "wipes"
    if move.z:
        return "comes nearer"
    if move.turn_x or move.turn_y:
        return "tumbles" if move.turn_x else "swings in"
    if move.turn or move.skew:
        return "turns"
    if move.blur:
        return "focuses"
    if move.drawn != 100:
        return "draws on"
    if move.ease == READY_EASES["in one step"] and move.opacity == 0:
        return "types on"
    return _name_by_size(move) or _name_by_offset(move)


def _name_by_size(move: Move) -> str | None:
    if move.tracking or (move.scale_x > 100 and move.scale_y > 100):
        return "settles"
    if (move.scale_x != 100) != (move.scale_y != 100):
        return "unfolds"
    if move.scale_x != 100:
        return "pops" if move.ease == READY_EASES["a little past"] else "grows"
    return None


def _name_by_offset(move: Move) -> str:
    if move.x == 0 and move.y == 0:
        return "fades"
    return "slides" if move.x or move.y < 0 else "rises by a distance"
