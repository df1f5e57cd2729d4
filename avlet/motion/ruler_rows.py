"""What the folded ruler shows: a row for each part with its moves as bars, ties between them, and lanes of keys."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from avlet.document.editing.grouping import listed
from avlet.document.editing.timing import MoveAt, Where, moves_at
from avlet.document.metadata import type_at
from avlet.document.parts import AnyPart, CounterPart
from avlet.document.template import Template
from avlet.document.time.keys import Keyed
from avlet.document.time.moves import Mirrored
from avlet.motion.counting import counters_of
from avlet.motion.credits import Window, lists_of
from avlet.motion.keyed import key_time
from avlet.motion.pose import Choreography
from avlet.motion.rolling import Offer, whole_lengths
from avlet.motion.schedule import Schedule
from avlet.motion.spans import Spans
from avlet.motion.ties import out_moves

LANE, KEY_LANE, PAD = 20, 16, 7
_ROOM = 3
MOST_LINES = 24
"""Lines of units that a bar shows; of more, so many spread evenly over all."""


@dataclass(frozen=True)
class Bar:
    """A move from ``start`` to ``end`` in frames of the title; ``lines`` are begin and end of each unit. Mirrored ones follow."""

    at: MoveAt
    start: float
    end: float
    lines: tuple[tuple[float, float], ...]
    lane: int
    mirrored: bool = False


@dataclass(frozen=True)
class Lane:
    """The keys of one property: its label, and the frame of each key by its number."""

    part: str
    keyed: Keyed
    label: str
    times: tuple[float, ...]


@dataclass(frozen=True)
class RunLane:
    """A property that runs with a counter: its label, and the frames between which that counts."""

    label: str
    start: float
    end: float


@dataclass(frozen=True)
class Row:
    """One part: where its row lies in px, its bars and its lanes of keys.

    Of credits, in the last of its lanes: when each of its pages shows; or its ``speed`` in px a frame and the lengths at which that is a
    whole number.
    """

    part: AnyPart
    depth: int
    top: float
    lanes: int
    bars: tuple[Bar, ...]
    keys: tuple[Lane, ...]
    runs: tuple[RunLane, ...] = ()
    pages: tuple[Window, ...] = ()
    offers: tuple[Offer, ...] = ()
    speed: float = 0.0

    @property
    def height(self) -> float:
        return 2 * PAD + max(1, self.lanes) * LANE + (len(self.keys) + len(self.runs)) * KEY_LANE

    def lane_top(self, lane: int) -> float:
        return self.top + PAD + lane * LANE

    @property
    def list_top(self) -> float:
        """The top of the lane of its pages or its speed."""
        return self.lane_top(self.lanes - 1)

    def key_top(self, lane: int) -> float:
        return self.top + PAD + max(1, self.lanes) * LANE + lane * KEY_LANE


def rows_of(template: Template, choreography: Choreography) -> list[Row]:
    """The rows of a template, front to back, at the length that it is worked out for."""
    rows: list[Row] = []
    top = 0.0
    for part, depth in listed(template):
        bars = (*_bars(part, choreography, "way_in"), *_bars(part, choreography, "way_out.moves"), *_mirrored(part, choreography))
        lanes = max((bar.lane + 1 for bar in bars), default=1)
        keys = tuple(_lane(part, keyed, choreography.spans) for keyed in part.keys)
        pages, offers, speed = _listed(part, choreography)
        lanes = max((bar.lane + 1 for bar in bars), default=0) + 1 if pages or speed else lanes
        row = Row(part, depth, top, lanes, bars, keys, tuple(_run_lanes(part, template, choreography)), pages, offers, speed)
        rows.append(row)
        top += row.height
    return rows


def within_the_hold(choreography: Choreography) -> tuple[float, float]:
    """What of the hold moves take that run within it: frames from the first on, and frames before the last, with a little room.

    A way in counts from the end there, a way out from the end or from a way in. 0 where nothing does.
    """
    spans = choreography.spans
    last, pace = spans.length - 1, spans.pace
    leaves = last - spans.designed_out / pace
    begins, ends = [], []
    for part_id, timing in choreography.timings.items():
        begins += [s.start / pace for s in timing.way_in if s.from_end]
        for move, times in zip(out_moves(choreography.rest.parts[part_id].part), timing.way_out, strict=True):
            if times.from_end and move.tie is None:
                begins.append(leaves + times.start / pace)
            elif times.from_end:
                ends.append(leaves + times.end / pace)
    head = min(last, max(ends) + _ROOM) if ends else 0.0
    tail = min(last, last - min(begins) + _ROOM) if begins else 0.0
    return max(0.0, head), max(0.0, tail)


def _bars(part: AnyPart, choreography: Choreography, where: Where) -> list[Bar]:
    timing, spans = choreography.timings[part.id], choreography.spans
    times = timing.way_in if where == "way_in" else timing.way_out
    begin = 0.0 if where == "way_in" else spans.length - 1 - spans.designed_out / spans.pace
    found = []
    for number, schedule in enumerate(times[: len(moves_at(part, where))]):
        lines = tuple((begin + a / spans.pace, begin + b / spans.pace) for a, b in _lines(schedule))
        start, end = begin + schedule.start / spans.pace, begin + schedule.end / spans.pace
        found.append(Bar(MoveAt(part.id, where, number), start, end, lines, number))
    return found


def _lines(schedule: Schedule) -> list[tuple[float, float]]:
    begins = schedule.begins
    if len(begins) > MOST_LINES:
        begins = begins[np.linspace(0, len(begins) - 1, MOST_LINES).round().astype(int)]
    return [(float(b), float(b) + schedule.unit_frames) for b in begins]


def _mirrored(part: AnyPart, choreography: Choreography) -> list[Bar]:
    if not isinstance(part.way_out, Mirrored):
        return []
    last = choreography.spans.length - 1
    found, pace = [], choreography.spans.pace
    for number, back in enumerate(choreography.timings[part.id].back):
        lines = tuple((last - b / pace, last - a / pace) for a, b in _lines(back))
        at = MoveAt(part.id, "way_in", number)
        found.append(Bar(at, last - back.end / pace, last - back.start / pace, lines, number, mirrored=True))
    return found


def _lane(part: AnyPart, keyed: Keyed, spans: Spans) -> Lane:
    return Lane(part.id, keyed, type_at(part, keyed.path).label, tuple(key_time(key, spans) for key in keyed.keys))


def _run_lanes(part: AnyPart, template: Template, choreography: Choreography) -> Iterator[RunLane]:
    """What runs with counters on a part; a counter has its own count first."""
    pace, counters = choreography.spans.pace, counters_of(choreography.movers)
    if isinstance(part, CounterPart):
        times = counters[part.id].times
        yield RunLane(f"counts to {part.end}", times.begin / pace, times.land / pace)
    for run in part.runs:
        times = counters[run.counter].times
        label = f"{type_at(part, run.path).label} with {template.name_of(run.counter)}"
        yield RunLane(label, times.begin / pace, times.land / pace)


def _listed(part: AnyPart, choreography: Choreography) -> tuple[tuple[Window, ...], tuple[Offer, ...], float]:
    """The pages of credits, the lengths that are offered where their length leads, and their speed."""
    moving = lists_of(choreography.movers).get(part.id)
    if moving is None:
        return (), (), 0.0
    pages = moving.windows if moving.pages else ()
    if moving.roll is None or moving.ends is None:
        return pages, (), 0.0
    leads = moving.part.movement.leads == "length"
    return pages, tuple(whole_lengths(moving.part.movement, moving.ends, moving.length)) if leads else (), moving.roll.speed


def edges(rows: list[Row], spans: Spans, without: frozenset[MoveAt] = frozenset()) -> list[float]:
    """The frames that a bar's edge catches on: those of other bars, of the spans, and keys."""
    found = [0.0, float(spans.way_in), float(spans.length - 1 - spans.way_out), float(spans.length - 1)]
    for row in rows:
        found += [edge for bar in row.bars if bar.at not in without and not bar.mirrored for edge in (bar.start, bar.end)]
        found += [time for lane in row.keys for time in lane.times]
    return found
