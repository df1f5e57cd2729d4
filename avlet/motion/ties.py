"""Starts that are tied to the moves of other parts, worked out in order; circles in words."""

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from graphlib import CycleError, TopologicalSorter

from avlet.document.moves import Mirrored, Move, OwnWayOut
from avlet.document.parts import AnyPart
from avlet.errors import RelationError
from avlet.layout.arrange import Rest, RestPart
from avlet.motion.schedule import Schedule, schedule


@dataclass(frozen=True, eq=False)
class Timing:
    """When the moves of one part run, in frames: those of its way in since the begin, those of its own way out since that begins."""

    way_in: tuple[Schedule, ...]
    way_out: tuple[Schedule, ...]

    @property
    def arrives(self) -> tuple[float, float]:
        """Begin and end of all its moves of the way in; 0 and 0 when there are none."""
        return _span(self.way_in)

    @property
    def leaves(self) -> tuple[float, float]:
        """Begin and end of all moves of its own way out."""
        return _span(self.way_out)


def _span(schedules: Sequence[Schedule]) -> tuple[float, float]:
    return (min(s.start for s in schedules), max(s.end for s in schedules)) if schedules else (0.0, 0.0)


def units_of(rest: RestPart, move: Move) -> int:
    """How many units a move takes one at a time."""
    return 1 if rest.units is None else rest.units.counts[move.by]


def out_moves(part: AnyPart) -> tuple[Move, ...]:
    """The moves of a way out of its own."""
    return part.way_out.moves if isinstance(part.way_out, OwnWayOut) else ()


def timings(rest: Rest, designed_out: float) -> dict[str, Timing]:
    """When every part's moves run. Raises ``RelationError`` when ties run in a circle."""
    parts = {i: one.part for i, one in rest.parts.items()}
    arriving: dict[str, tuple[Schedule, ...]] = {}
    for part_id in _ordered(parts, {i: p.way_in for i, p in parts.items()}):
        one = rest.parts[part_id]
        arriving[part_id] = _schedules(one, one.part.way_in, {i: _span(s) for i, s in arriving.items()}, 0.0)
    mirrored = {i: _mirror(_span(s), designed_out) for i, s in arriving.items() if isinstance(parts[i].way_out, Mirrored)}
    leaving: dict[str, tuple[Schedule, ...]] = {}
    for part_id in _ordered(parts, {i: out_moves(p) for i, p in parts.items()}):
        one = rest.parts[part_id]
        known = mirrored | {i: _span(s) for i, s in leaving.items() if i not in mirrored}
        leaving[part_id] = _schedules(one, out_moves(one.part), known)
    return {i: Timing(arriving[i], leaving[i]) for i in parts}


def _mirror(span: tuple[float, float], designed_out: float) -> tuple[float, float]:
    return designed_out - span[1], designed_out - span[0]


def _schedules(
    one: RestPart, moves: Sequence[Move], known: Mapping[str, tuple[float, float]], first: float = -math.inf
) -> tuple[Schedule, ...]:
    """When moves run; none begins before the frame ``first``."""
    return tuple(schedule(move, units_of(one, move), _start(one, move, known, first)) for move in moves)


def _start(one: RestPart, move: Move, known: Mapping[str, tuple[float, float]], first: float) -> float | None:
    tie = move.tie
    if tie is None:
        return None
    begin, end = known.get(tie.on, (0.0, 0.0))
    if tie.how == "ending with it":
        return max(first, end + tie.frames - schedule(move, units_of(one, move)).total)
    return max(first, (begin if tie.how == "after its start" else end) + tie.frames)


def timing_like(one: RestPart, timing: Timing) -> Timing:
    """The timing of a part that has the moves of another one, and so begins with it, but units of its own."""

    def again(moves: Sequence[Move], schedules: Sequence[Schedule]) -> tuple[Schedule, ...]:
        return tuple(schedule(move, units_of(one, move), times.start) for move, times in zip(moves, schedules, strict=True))

    return Timing(again(one.part.way_in, timing.way_in), again(out_moves(one.part), timing.way_out))


def late_ends(rest: Rest, found: Mapping[str, Timing]) -> list[str]:
    """What is too long to end with what it is tied to, as it would have to begin before there is anything, in sentences."""
    said = []
    for part_id, timing in found.items():
        part = rest.parts[part_id].part
        for move, times in ((m, t) for m, t in zip(part.way_in, timing.way_in, strict=True) if m.tie and m.tie.how == "ending with it"):
            assert move.tie is not None
            wanted = found[move.tie.on].arrives[1] + move.tie.frames if move.tie.on in found else times.end
            if times.end > wanted + 1e-6:
                other = rest.parts[move.tie.on].part.name
                said.append(
                    f"{part.name} takes {times.total:.4g} frames, too many to end with {other}: it ends {times.end - wanted:.4g} later."
                )
    return said


def _ordered(parts: Mapping[str, AnyPart], moves: Mapping[str, Sequence[Move]]) -> list[str]:
    """The parts, each after those that its moves wait for."""
    graph = {i: {m.tie.on for m in moves[i] if m.tie is not None and m.tie.on in parts} for i in parts}
    try:
        return list(TopologicalSorter(graph).static_order())
    except CycleError as error:
        names = [parts[i].name for i in error.args[1]]
        said = ", ".join(f"{later} for {first}" for first, later in itertools.pairwise(names))
        raise RelationError(f"These moves wait for each other: {said}. Give one of them a start of its own.") from None
