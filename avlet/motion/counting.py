"""When counters count, and what they show in a frame; circles in words."""

import dataclasses
import itertools
import math
from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction
from graphlib import CycleError, TopologicalSorter
from typing import NamedTuple

import numpy as np

from avlet.document.parts import CounterPart
from avlet.easing import ease_progress
from avlet.errors import RelationError
from avlet.layout.bodies.numbers import Numbers
from avlet.layout.rest import Rest, RestPart
from avlet.motion.actors import Instant
from avlet.motion.mover import Mover
from avlet.motion.spans import Spans
from avlet.motion.ties import Timing
from avlet.motion.wheel_turns import PIECES, At, stretches_over
from avlet.numbers.exact import plain
from avlet.numbers.written import Written
from avlet.text.setting import Setting

_HALF = 0.5
_MOST_MADE = 64
"""Numbers of one counter that are kept as parts at rest: a film asks for each several times, one after another."""
_ONE_FIGURE = 1.0
"""Beyond one figure in an exposure a wheel is seen all round: it needs no more looks for that."""


class CountTimes(NamedTuple):
    """From when until when a counter counts, in designed frames since the first one."""

    begin: float
    land: float

    @property
    def frames(self) -> float:
        """How long it counts."""
        return self.land - self.begin


def count_times(rest: Rest, timings: Mapping[str, Timing], spans: Spans) -> dict[str, CountTimes]:
    """When every counter counts. Raises ``RelationError`` where counts wait for each other."""
    counters = {i: one.part for i, one in rest.parts.items() if isinstance(one.part, CounterPart)}
    waits = {i: {p.count.tie.on} & counters.keys() if p.count.tie is not None else set() for i, p in counters.items()}
    try:
        order = list(TopologicalSorter(waits).static_order())
    except CycleError as error:
        names = [counters[i].name for i in error.args[1]]
        said = ", ".join(f"{later} for {first}" for first, later in itertools.pairwise(names))
        raise RelationError(f"These counts wait for each other: {said}. Give one of them a begin of its own.") from None
    found: dict[str, CountTimes] = {}
    for counter_id in order:
        found[counter_id] = _times(counters[counter_id], found, timings, spans, float(rest.frame.fps))
    return found


def _times(part: CounterPart, known: Mapping[str, CountTimes], timings: Mapping[str, Timing], spans: Spans, fps: float) -> CountTimes:
    if spans.length == 1:
        return CountTimes(0.0, 0.0)  # a single frame shows its rest, and that is the end of all counts
    count, last = part.count, spans.since_begin(spans.length - 1)
    lasts = float(part.counts.distance) * fps * spans.pace if count.pace == "in real time" else float(count.frames)
    begin = float(count.start)
    if count.tie is not None:
        other = known.get(count.tie.on)
        first, end = (other.begin, other.land) if other is not None else timings[count.tie.on].arrives
        at = {"after its start": first, "after its end": end, "ending with it": end - lasts}[count.tie.how]
        begin = max(0.0, at + count.tie.frames)
    if count.lands == "after" or count.pace == "in real time":
        return CountTimes(begin, begin + lasts)
    return CountTimes(begin, max(begin, last - spans.designed_out - count.frames))


def count_notes(rest: Rest, movers: Mapping[str, Mover], spans: Spans) -> list[str]:
    """What is to be said of counts at this length: those that do not land in time."""
    said, last = [], spans.since_begin(spans.length - 1)
    for counted in counters_of(movers).values():
        own, part = counted.times, counted.part
        if own.frames <= 0 and part.counts.steps:
            why = "before it begins" if part.count.lands == "before the way out" else "at once"
            said.append(f"{part.name} lands {why}, so it stands at its end. Let it begin earlier, or give it more frames.")
        elif own.land > last + 1e-6:
            late = math.ceil((own.land - last) / spans.pace - 1e-6)
            said.append(f"{part.name} does not land: it needs {late} more frames than the title has.")
        elif own.land > last - spans.designed_out + 1e-6 and rest.bound.template.plays_out:
            late = math.ceil((own.land - (last - spans.designed_out)) / spans.pace - 1e-6)
            said.append(f"{part.name} lands {late} frames after the way out has begun.")
    return said


@dataclass(frozen=True)
class Moment:
    """Where a count is: its share of the way, whether it has landed, how many steps are done, a fraction included."""

    share: float
    landed: bool
    place: Fraction


class CountedPart(Mover):
    """A counter over time; equal pictures are the same :class:`RestPart`, so that equal frames are known as such."""

    def __init__(self, rest: RestPart, times: CountTimes, spans: Spans) -> None:
        assert isinstance(rest.body, Numbers) and isinstance(rest.part, CounterPart)
        self.rest, self.times, self.spans = rest, times, spans
        self.body, self.figures, self.part = rest.body, rest.body.figures, rest.part
        self.blurs = self.part.blurred and self.rolls_over
        self._made: dict[int, RestPart] = {}

    def moment(self, time: float) -> Moment:
        """Where the count is ``time`` designed frames after the first one."""
        count, times = self.figures.count, self.times
        landed = time >= times.land - 1e-9 or times.frames <= 0 or count.steps == 0
        if landed:
            return Moment(1.0, True, Fraction(count.steps))
        if time <= times.begin:
            return Moment(0.0, False, Fraction(0))
        through = Fraction(time - times.begin) / Fraction(times.frames)
        if self.part.count.pace == "in real time":
            return Moment(float(through), False, count.place(min(through, Fraction(1))))
        share = float(ease_progress(self.part.count.ease, np.array([float(through)]))[0])
        return Moment(share, False, count.place(share))

    def steps(self, moment: Moment) -> int:
        """How many whole steps are shown as done: the last only once it has landed, unless the count passes its end on the way."""
        done = math.floor(moment.place)
        if moment.landed:
            return self.figures.count.steps
        if self.figures.passes and moment.share > 1:
            return done
        return max(0, min(done, self.figures.count.steps - 1))

    def value(self, moment: Moment) -> Decimal:
        """The number that is shown."""
        return self.figures.count.after(self.steps(moment))

    def written(self, moment: Moment) -> Written:
        """The same in words."""
        return self.figures.words(self.value(moment), moment.landed)

    def at(self, rest: RestPart, now: Instant) -> RestPart:
        times = now.time - now.lasts / 2, now.time + now.lasts / 2, now.frame
        begin, end, frame = (self.spans.since_begin(time) - now.late for time in times)
        return self.standing(begin, frame, end)

    def standing(self, time: float, frame: float | None = None, until: float | None = None) -> RestPart:
        """The counter as it stands ``time`` designed frames after the first one, within a frame that begins at ``frame``.

        Figures that change at once are those of the frame, however long that is exposed; and a frame in which nothing has begun
        yet, or all has landed, is that all the time. Wheels are seen from ``time`` ``until`` another moment.
        """
        if frame is not None and (self.part.change == "at once" or not self.times.begin < frame < self.times.land - 1e-9):
            time = until = frame
        setting = self._rolling(time, time if until is None else until) if self.rolls_over else self._setting(time)
        if setting is self.body.set:
            return self.rest
        key = id(setting)
        if key not in self._made or self._made[key].words is not setting:
            if len(self._made) >= _MOST_MADE:
                self._made.clear()
            self._made[key] = dataclasses.replace(self.rest, body=dataclasses.replace(self.body, set=setting))
        return self._made[key]

    @property
    def rolls_over(self) -> bool:
        """Whether its figures change on wheels."""
        return self.part.change.startswith("rolling")

    def _setting(self, time: float) -> Setting:
        moment = self.moment(time)
        if self.part.change != "at once" and not moment.landed:
            steps = self.steps(moment)
            share = self._turned(moment, time, steps)
            if share > 0:
                following = self.figures.words(self.figures.count.after(steps + 1), steps + 1 == self.figures.count.steps)
                return self.figures.turned(self.written(moment), following, share, self.part.change)
        return self.figures.placed(self.written(moment))

    def _rolling(self, begin: float, end: float) -> Setting:
        """What its wheels show from one moment to another."""
        pieces = PIECES if end > begin else 1
        times = [begin + (end - begin) * n / pieces for n in range(pieces + 1)]
        moments = [At(self.moment(time).place, self._turns_for(time)) for time in times]
        stretches = stretches_over(moments, None if self.figures.passes else self.figures.count.steps)
        if len(stretches) == 1 and (turned := round(stretches[0].begin, 4)) == round(stretches[0].end, 4) and turned in (0, 1):
            done = stretches[0].step + int(turned)
            return self.figures.placed(self.figures.words(self.figures.count.after(done), done == self.figures.count.steps))
        return self.figures.rolling(stretches, self.part.change == "rolling up")

    def share(self, time: float) -> float:
        """How far it is: 0 before it begins, 1 once it has landed."""
        return self.moment(time).share

    def _turned(self, moment: Moment, time: float, steps: int) -> float:
        """How far the change to the next number is: the last part of the time that this one shows, as long as a change may take."""
        part, lasts = float(min(max(moment.place - steps, Fraction(0)), Fraction(1))), self._turns_for(time)
        return max(0.0, (part - 1 + lasts) / lasts) if lasts > 0 else 0.0

    def _turns_for(self, time: float) -> float:
        """Which share of the time that a number shows its change to the next one takes, about a moment."""
        return min(1.0, self.part.turning * self.spans.pace * self.speed(time)) if self.part.turning else 1.0

    def speed(self, time: float) -> float:
        """Steps that are done in one designed frame about a moment."""
        ahead, behind = self.moment(time + _HALF), self.moment(time - _HALF)
        return abs(float(ahead.place - behind.place))

    def rolls(self, frame: float, begin: float, end: float) -> float:
        """How far its wheels turn between two moments of a frame, in px."""
        if not self.rolls_over or not self.times.begin < frame < self.times.land - 1e-9:
            return 0.0
        turned = abs(float(self.moment(end).place - self.moment(begin).place))
        return min(turned, _ONE_FIGURE) * self.figures.pitch

    def words_of(self, moment: Moment) -> tuple[str, str]:
        """The number shown, as plain figures and in words."""
        return plain(self.value(moment)), self.written(moment).words


def counters_of(movers: Mapping[str, Mover]) -> dict[str, CountedPart]:
    """The counters among what moves of itself, by id."""
    return {i: mover for i, mover in movers.items() if isinstance(mover, CountedPart)}
