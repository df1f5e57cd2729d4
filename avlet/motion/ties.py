"""Starts that are tied to the moves of other parts, worked out in order; circles in words."""

import dataclasses
import functools
import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from graphlib import CycleError, TopologicalSorter

from avlet.document.parts import AnyPart
from avlet.document.time.moves import Mirrored, Move, OwnWayOut
from avlet.errors import RelationError
from avlet.layout.rest import Rest, RestPart
from avlet.motion.schedule import Schedule, schedule
from avlet.motion.spans import Spans
from avlet.numbers.exact import about

_Spans = Mapping[str, tuple[float, float]]


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

    @property
    def ready(self) -> float:
        """When all is there that arrives with the way in: what counts from the end comes when it will."""
        return _span([s for s in self.way_in if not s.from_end])[1]

    @functools.cached_property
    def back(self) -> tuple[Schedule, ...]:
        """The way in as a mirrored way out goes through it, in frames before the last one.

        What counts from the end is gone through from its own first frame on, and not as long before the end as it came.
        """
        first = min((s.start for s in self.way_in if s.from_end), default=0.0)
        return tuple(
            dataclasses.replace(s, begins=s.begins - first, start=s.start - first, from_end=False) if s.from_end else s for s in self.way_in
        )


def _span(schedules: Sequence[Schedule]) -> tuple[float, float]:
    return (min(s.start for s in schedules), max(s.end for s in schedules)) if schedules else (0.0, 0.0)


def units_of(rest: RestPart, move: Move) -> int:
    """How many units a move takes one at a time."""
    return 1 if rest.units is None else rest.units.counts[move.by]


def out_moves(part: AnyPart) -> tuple[Move, ...]:
    """The moves of a way out of its own."""
    return part.way_out.moves if isinstance(part.way_out, OwnWayOut) else ()


def counts_apart(move: Move) -> bool:
    """Whether a move of a way out does not go by the template's way out: it counts from the end, or from a way in."""
    return move.counts_from == "the end" if move.tie is None else move.tie.to == "its way in"


def timings(rest: Rest, spans: Spans) -> dict[str, Timing]:
    """When every part's moves run. Raises ``RelationError`` when ties run in a circle."""
    parts = {i: one.part for i, one in rest.parts.items()}
    last = spans.since_begin(spans.length - 1)
    arriving: dict[str, tuple[Schedule, ...]] = {}
    for part_id in _ordered(parts, {i: p.way_in for i, p in parts.items()}):
        one = rest.parts[part_id]
        arriving[part_id] = _arriving(one, arriving, last)
    back = {i: _span(Timing(s, ()).back) for i, s in arriving.items() if isinstance(parts[i].way_out, Mirrored)}
    mirrored = {i: _mirror(span, spans.designed_out) for i, span in back.items()}
    arrived = {
        i: (begin - last + spans.designed_out, end - last + spans.designed_out) for i, s in arriving.items() for begin, end in [_span(s)]
    }
    leaving: dict[str, tuple[Schedule, ...]] = {}
    for part_id in _ordered(parts, {i: out_moves(p) for i, p in parts.items()}):
        one = rest.parts[part_id]
        known = mirrored | {i: _span(s) for i, s in leaving.items() if i not in mirrored}
        leaving[part_id] = _leaving(one, known, arrived, spans.designed_out)
    return {i: Timing(arriving[i], leaving[i]) for i in parts}


def _arriving(one: RestPart, before: Mapping[str, tuple[Schedule, ...]], last: float) -> tuple[Schedule, ...]:
    """When the moves of a way in run, none before the begin; ``last`` is the title's last frame."""
    known = {i: _span(s) for i, s in before.items()}
    found = []
    for move in one.part.way_in:
        tied = move.tie.on if move.tie is not None else None
        if tied is None and move.counts_from == "the end":
            found.append(dataclasses.replace(schedule(move, units_of(one, move), max(0.0, last - move.start)), from_end=True))
        else:
            from_end = any(s.from_end for s in before.get(tied, ())) if tied is not None else False
            made = schedule(move, units_of(one, move), _start(one, move, known, 0.0))
            found.append(dataclasses.replace(made, from_end=from_end))
    return tuple(found)


def _mirror(span: tuple[float, float], designed_out: float) -> tuple[float, float]:
    return designed_out - span[1], designed_out - span[0]


def _leaving(one: RestPart, known: _Spans, arrived: _Spans, designed_out: float) -> tuple[Schedule, ...]:
    """When the moves of a way out of its own run, since the begin of the way out; before 0 they run while others hold.

    ``arrived`` is when parts come, in the same time.
    """
    found = []
    for move in out_moves(one.part):
        apart = counts_apart(move)
        start = designed_out - move.start if move.tie is None and apart else _start(one, move, arrived if apart else known, -math.inf)
        found.append(dataclasses.replace(schedule(move, units_of(one, move), start), from_end=apart))
    return tuple(found)


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
        pairs = zip(moves, schedules, strict=True)
        return tuple(dataclasses.replace(schedule(m, units_of(one, m), times.start), from_end=times.from_end) for m, times in pairs)

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
                later = about(times.end - wanted)
                said.append(f"{part.name} takes {about(times.total)} frames, too many to end with {other}: it ends {later} later.")
    return said


def hurried(rest: Rest, found: Mapping[str, Timing], spans: Spans) -> list[str]:
    """What arrives so near to the end that it begins to leave before it is there, in sentences."""
    said = []
    for part_id, timing in found.items():
        part = rest.parts[part_id].part
        last = spans.since_begin(spans.length - 1)
        apart = [s.start for s in timing.way_out if s.from_end]
        if apart:
            early = timing.arrives[1] - (last - spans.designed_out + min(apart))
            if early > 1e-6:
                said.append(f"{part.name} begins to leave before it has arrived. Let it leave {math.ceil(early - 1e-6)} frames later.")
            continue
        ends = [s.end for s in timing.way_in if s.from_end]
        if not ends or not isinstance(part.way_out, Mirrored | OwnWayOut):
            continue
        leaving = max((s.end for s in timing.back), default=0.0) if isinstance(part.way_out, Mirrored) else spans.designed_out
        late = max(ends) - (last - leaving)
        if late > 1e-6:
            said.append(f"{part.name} begins to leave before it has arrived. Let it start {math.ceil(late)} frames earlier before the end.")
    return said


def _ordered(parts: Mapping[str, AnyPart], moves: Mapping[str, Sequence[Move]]) -> list[str]:
    """The parts, each after those that its moves wait for."""
    graph = {i: {m.tie.on for m in moves[i] if m.tie is not None and m.tie.on in parts and m.tie.to == "the same way"} for i in parts}
    try:
        return list(TopologicalSorter(graph).static_order())
    except CycleError as error:
        names = [parts[i].name for i in error.args[1]]
        said = ", ".join(f"{later} for {first}" for first, later in itertools.pairwise(names))
        raise RelationError(f"These moves wait for each other: {said}. Give one of them a start of its own.") from None
