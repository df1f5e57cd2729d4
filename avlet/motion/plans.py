"""Plans: the moves of one part, ready for any frame."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from avlet.arrays import Floats, Ints
from avlet.document.looks.paints import SOFT_REACH
from avlet.document.parts import FRAME, AnyPart, Matte, SpacePart, TextPart, TypesetPart
from avlet.document.standing import back_of, front_of, groups_round
from avlet.document.template import Frame
from avlet.document.time.moves import Move, Unit
from avlet.geometry import Box
from avlet.layout.areas import frame_area
from avlet.layout.rest import Rest, RestPart, unit_edges
from avlet.motion.camera import position, resting_distance
from avlet.motion.chances import Chances, chances
from avlet.motion.posed_part import OUTWARD
from avlet.motion.schedule import Schedule
from avlet.motion.ties import Timing, out_moves
from avlet.motion.transforms import about, bounds, linear, perspective, skewing, turning
from avlet.motion.travel import out_of
from avlet.text.runs import reads_right_to_left

UNITS: tuple[Unit, ...] = ("whole", "line", "word", "character")
"""From coarse to fine: a part is posed by the finest unit that any of its moves takes."""


@dataclass(frozen=True, eq=False)
class Plan:
    """One move. Arrays follow the part's finest unit; ``index`` leads from it to the move's units. ``back`` is when a mirrored way
    out goes through it.

    ``shift`` (units, 2) is the displaced look's offset in px, ``track`` (units,) that of its tracking along the line, ``lift`` how much
    nearer to the viewer it is in a space, ``own`` what each unit gets by chance.
    """

    move: Move
    times: Schedule
    back: Schedule
    index: Ints
    shift: Floats
    track: Floats | None
    arriving: bool
    lift: float = 0.0
    own: Chances | None = None


@dataclass(frozen=True, eq=False)
class PartPlan:
    """All moves of one part, and the point that each of its units scales and turns about."""

    unit: Unit
    hinge: Floats
    plans: tuple[Plan, ...]


def plan_part(rest: RestPart, layout: Rest, timing: Timing) -> PartPlan:
    """Work out what the moves of a part do to each of its units."""
    part = rest.part
    moves = [(m, True, t, b) for m, t, b in zip(part.way_in, timing.way_in, timing.back, strict=True)]
    moves += [(m, False, t, t) for m, t in zip(out_moves(part), timing.way_out, strict=True)]
    units: list[Unit] = ["whole" if rest.units is None else move.by for move, *_ in moves]
    if rest.body.setting is not None and any(move.tracking for move, *_ in moves):
        units.append("character")
    finest: Unit = max(units, key=UNITS.index, default="whole")
    hinge = hinges(rest, finest, moves[0][0] if moves else Move())
    plans = []
    parts = {i: one.part for i, one in layout.parts.items()}
    for (move, arriving, times, back), unit in zip(moves, units, strict=False):
        index = _coarser(rest, finest, unit)
        track = _track(rest, finest, move) if move.tracking and rest.body.setting is not None else None
        own = chances(move, unit_edges(rest, unit), layout.frame)
        shift, lift = _shift(move, rest, unit, layout), lift_of(move, part, parts, layout.frame)
        if own is not None:
            shift = shift + own.shift
        plans.append(Plan(move, times, back, index, shift[index], track, arriving, lift, None if own is None else own.spread(index)))
    return PartPlan(finest, hinge, tuple(plans))


def hinges(rest: RestPart, unit: Unit, move: Move) -> Floats:
    """The point that each unit scales about, in px of the frame."""
    edges = np.nan_to_num(unit_edges(rest, unit))
    share = np.array([move.hinge_x, move.hinge_y]) / 100
    found: Floats = edges[:, :2] + (edges[:, 2:] - edges[:, :2]) * share
    return found


def stance(rest: RestPart, units: int) -> Floats | None:
    """How a part is turned and scaled about its anchor, (units, 3, 3); None when it is not."""
    part, box = rest.part, rest.box
    if part.turn == 0 and part.scale_x == 100 and part.scale_y == 100:
        return None
    anchor = np.array([[box.edge(part.anchor_x / 100, 0), box.edge(part.anchor_y / 100, 1)]])
    scale = linear(part.scale_x / 100, 0.0, 0.0, part.scale_y / 100)
    return np.repeat(about(anchor, turning(part.turn) @ scale), units, axis=0)


def _count(rest: RestPart, unit: Unit) -> int:
    return 1 if rest.units is None else rest.units.counts[unit]


def _coarser(rest: RestPart, fine: Unit, coarse: Unit) -> Ints:
    """For each fine unit the number of the coarse unit that it belongs to, shape (fine units,)."""
    count = _count(rest, fine)
    if rest.units is None or fine == coarse:
        return np.arange(count)
    index = np.zeros(count, np.int64)
    of_fine, of_coarse = rest.units.unit_of[fine], rest.units.unit_of[coarse]
    both = (of_fine >= 0) & (of_coarse >= 0)
    index[of_fine[both]] = of_coarse[both]
    return index


def _track(rest: RestPart, fine: Unit, move: Move) -> Floats:
    """How far the displaced look's tracking takes each unit along its line, from the edge that the words are aligned by."""
    setting, part = rest.body.setting, rest.part
    assert setting is not None and isinstance(part, TypesetPart)
    lines = _coarser(rest, fine, "line")
    middles = np.nan_to_num(unit_edges(rest, fine))[:, [0, 2]].mean(axis=1)
    place, most = np.zeros(len(lines)), np.zeros(len(lines))
    for line in set(lines.tolist()):
        own = np.flatnonzero(lines == line)
        place[own[np.argsort(middles[own], kind="stable")]] = np.arange(len(own))
        most[own] = len(own) - 1
    words = part.text if isinstance(part, TextPart) else ""
    rtl = part.direction == "right to left" or (part.direction == "by itself" and reads_right_to_left(words))
    held = {"middle": 0.5, "end": 0.0 if rtl else 1.0}.get(part.align, 1.0 if rtl else 0.0)
    track: Floats = (place - most * held) * setting.size * move.tracking / 1000
    return track


def _shift(move: Move, rest: RestPart, unit: Unit, layout: Rest) -> Floats:
    """The displaced look's offset for each unit of the move, (units, 2) in px."""
    count = _count(rest, unit)
    if not move.goes_out:
        return np.tile([float(move.x), float(move.y)], (count, 1))
    window = _way_out_of(move, rest, layout)
    edges = rest.body.waiting_edges(unit, rest.box) + (rest.reach + SOFT_REACH * move.blur) * OUTWARD
    return out_of(window, _displaced(move, edges, hinges(rest, unit, move)), move.side)


def lift_of(move: Move, part: AnyPart, parts: Mapping[str, AnyPart], frame: Frame) -> float:
    """How much nearer to the viewer the displaced look is, in px; ``parts`` are all of them as they are at that moment.

    Just behind the sheet, or behind another member, with all its depth; just behind the camera; or as far as it says.
    """
    if move.travel == "by offset" or move.goes_out:
        return move.z
    if move.travel == "through the sheet":
        sheet = parts.get(move.through)
        return (back_of(parts, sheet) if sheet is not None else 0.0) - front_of(parts, part) - JUST_BEHIND
    space = next((one for one in groups_round(parts, part) if isinstance(one, SpacePart)), None)
    if space is None:
        return move.z
    eye = float(position(space.camera, frame)[2])
    return max(eye, resting_distance(space.camera, frame) / 10) - back_of(parts, part) + JUST_BEHIND


def lifted_by(move: Move, part: AnyPart, parts: Mapping[str, AnyPart]) -> set[str]:
    """The ids of the parts that decide how far a move lifts: the part and what it comes through, what these stand on, and its groups."""
    if move.travel == "by offset" or move.goes_out:
        return set()
    found: set[str] = set()
    todo = [part.id, move.through]
    while todo:
        one = parts.get(todo.pop())
        if one is not None and one.id not in found:
            found.add(one.id)
            if one.own_stand is not None:
                todo.append(one.own_stand.on)
    return found | {one.id for one in groups_round(parts, part)}


JUST_BEHIND = 1.0
"""px: what is so far behind a sheet is not seen through it."""


def _displaced(move: Move, edges: Floats, hinge: Floats) -> Floats:
    """Edges as the displaced look scales, turns and skews them."""
    turned = move.turn or move.turn_x or move.turn_y or move.skew
    if move.scale_x == 100 and move.scale_y == 100 and not turned:
        return edges
    scale = np.array([move.scale_x, move.scale_y]) / 100
    edges = (hinge[:, None] + (edges.reshape(-1, 2, 2) - hinge[:, None]) * scale).reshape(-1, 4)
    if not turned:
        return edges
    look = perspective(move.turn, move.turn_x, move.turn_y, move.depth) @ skewing(move.skew)
    return bounds(about(hinge, look), edges)


def left_by(mattes: Sequence[Matte]) -> list[Matte]:
    """The mattes that *just out of the matte* takes a part out of: those that it shows inside of, else those that hide it."""
    return [m for m in mattes if not m.hides] or list(mattes)


def _way_out_of(move: Move, rest: RestPart, layout: Rest) -> Box:
    """What a move takes its part out of: all that its mattes let through, or the frame."""
    mattes = left_by(rest.part.mattes) if move.travel == "out of the matte" else []
    if not mattes:
        return _before_the_stance(frame_area(FRAME, layout.frame), rest)
    boxes = [_window(m, rest, layout) for m in mattes]
    window = boxes[0]
    for box in boxes[1:]:
        window = window.cut(box)
    return window


def _window(matte: Matte, rest: RestPart, layout: Rest) -> Box:
    """The bounds of a matte's source at rest, in px as they are before the part is turned."""
    source = layout.parts[matte.inside]
    box, own = source.box, stance(source, 1)
    if own is not None:
        box = Box.from_edges(*bounds(own, np.array([[box.x, box.y, box.right, box.bottom]]))[0].tolist())
    return _before_the_stance(box, rest).grown(*[matte.grow + matte.soft] * 4)


def _before_the_stance(box: Box, rest: RestPart) -> Box:
    """The bounds of a box of the frame in px as they are before a part is turned and scaled."""
    own = stance(rest, 1)
    if own is None or abs(np.linalg.det(own[0])) < 1e-9:
        return box
    back = np.asarray(np.linalg.inv(own), np.float64)
    return Box.from_edges(*bounds(back, np.array([[box.x, box.y, box.right, box.bottom]]))[0].tolist())
