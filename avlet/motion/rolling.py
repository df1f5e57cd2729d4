"""Rolls and crawls: where a list stands in a frame, at which speed, and the lengths at which it moves whole px.

Speed is way ÷ time. Frame 0 and frame N − 1 are both shown, so that N frames hold N − 1 steps; the way of a roll that is off the frame at
both ends is the height of the list and that of the frame.
"""

import math
from dataclasses import dataclass
from typing import NamedTuple

import msgspec

from avlet.document.parts import CreditsPart
from avlet.document.parts.credits import Begins, Movement
from avlet.geometry import Axis
from avlet.layout.bodies.rolling_list import RollingList
from avlet.layout.rest import Rest, RestPart
from avlet.limits import MOST_FRAMES
from avlet.numbers.exact import about
from avlet.text.strip import Strip

_EXACT = 1e-9


class Ends(NamedTuple):
    """Where a strip's start stands at first and at last, in px of the frame; ``free`` says which of them may lie further off."""

    first: float
    last: float
    free: tuple[bool, bool]

    @property
    def way(self) -> float:
        """How far it goes in all, in px."""
        return abs(self.last - self.first)


@dataclass(frozen=True)
class Roll:
    """A roll over ``length`` frames: at ``first`` for ``held_first`` frames, then to ``last``, growing and sinking in speed over ``soft``
    frames of that at each end. ``speed`` is in px a frame between.
    """

    first: float
    last: float
    held_first: int
    held_last: int
    soft: int
    steps: int
    speed: float
    length: int

    @property
    def whole(self) -> bool:
        """Whether it moves a whole number of px a frame."""
        return self.speed >= 1 and abs(self.speed - round(self.speed)) < _EXACT

    def at(self, time: float) -> float:
        """Where the strip's start stands, in px of the frame, ``time`` frames after frame 0."""
        gone = min(max(time - self.held_first, 0.0), float(self.steps))
        way = abs(self.last - self.first)
        done = way - self._begun(self.steps - gone) if gone > self.steps / 2 else self._begun(gone)
        return self.first + math.copysign(done, self.last - self.first)

    def _begun(self, gone: float) -> float:
        """The way of the first frames: speed grows as 3u² − 2u³ does, so that the way is u³ − u⁴⁄2 of the soft frames' at full speed."""
        if gone >= self.soft:
            return self.speed * (gone - self.soft / 2)
        u = gone / self.soft
        return self.speed * self.soft * (u**3 - u**4 / 2)


def axis_of(part: CreditsPart) -> Axis:
    """Along which axis it moves."""
    return 0 if part.movement.how == "crawls" else 1


def strip_at(rest: RestPart) -> Strip:
    """The rows of a list at rest."""
    assert isinstance(rest.body, RollingList)
    return rest.body.strip


def forwards(rest: RestPart) -> bool:
    """Whether it moves up, or to the left."""
    part, strip = rest.part, strip_at(rest)
    assert isinstance(part, CreditsPart)
    return part.movement.how == "rolls up" or (part.movement.how == "crawls" and not strip.rtl)


def ends_of(rest: RestPart, layout: Rest) -> Ends:
    """Where a list stands at its two ends."""
    part, strip = rest.part, strip_at(rest)
    assert isinstance(part, CreditsPart)
    axis, up, movement = axis_of(part), forwards(rest), part.movement
    size = float((layout.frame.width, layout.frame.height)[axis])
    before, after = _beyond(rest)
    middles = [_middle(rest, block) for block in (0, -1)]
    if not up:
        middles.reverse()

    def place(how: Begins, first: bool) -> float:
        if how == "in the middle":
            return float(round(size / 2 - middles[0 if first else 1]))
        if how == "at its place":
            return rest.box[axis]
        return size + math.ceil(before) if first == up else -strip.length - math.ceil(after)

    free = movement.begins == "off the frame", movement.ends == "off the frame"
    return Ends(place(movement.begins, True), place(movement.ends, False), free)


def _beyond(rest: RestPart) -> tuple[float, float]:
    """How far it paints beyond its start and its end, in px."""
    strip, found = strip_at(rest), [0.0, 0.0]
    for number, tiles in enumerate((strip.tiles[:1], strip.tiles[-1:])):
        for tile in tiles:
            ink = strip.sheet(tile.first, tile.last).ink_box
            if ink is not None and number == 0:
                found[0] = max(0.0, -(ink[strip.axis] + tile.begin))
            elif ink is not None:
                found[1] = max(0.0, tile.begin + ink[strip.axis] + ink[strip.axis + 2] - strip.length)
    return found[0] + rest.reach, found[1] + rest.reach


def _middle(rest: RestPart, number: int) -> float:
    """The middle of the first (0) or the last (−1) block that shows something, in px from the strip's start."""
    strip = strip_at(rest)
    if not len(strip.block_of):
        return strip.length / 2
    first = (number == 0) != (strip.axis == 0 and strip.rtl)
    span = strip.span_of(int(strip.block_of[0 if first else -1]))
    assert span is not None
    return (span[0] + span[1]) / 2


def rolled(movement: Movement, ends: Ends, length: int) -> Roll:
    """The roll over a length in frames.

    Where an end is off the frame and the length is the shortest at which a whole number of px a frame is fast enough, the roll takes that
    speed, and lies up to a step further off.
    """
    most = max(0, length - 2)
    first, last = movement.held_first, movement.held_last
    if first + last > most:
        first = round(most * first / (first + last))
        last = most - first
    steps = max(1, length - 1 - first - last)
    soft = min(movement.soft, steps // 2)
    moving, way = steps - soft, ends.way
    speed = way / moving
    if movement.leads == "speed" and any(ends.free) and steps_at(movement.speed, way) == moving:
        speed = movement.speed
    else:
        whole = math.ceil(speed - _EXACT)
        if whole >= 1 and steps_at(whole, way) == moving and (any(ends.free) or whole * moving == way):
            speed = float(whole)
    further = math.copysign(speed * moving - way, ends.first - ends.last)
    begin, end = (ends.first + further, ends.last) if ends.free[0] else (ends.first, ends.last - further)
    return Roll(begin, end, first, last, soft, steps, speed, length)


def steps_at(speed: float, way: float) -> int:
    """The fewest steps of ``speed`` px that cover a way; at least 1."""
    return max(1, math.ceil(way / speed - _EXACT))


def length_at(movement: Movement, ends: Ends, speed: float) -> int:
    """The length in frames at which a roll goes at a speed."""
    return steps_at(speed, ends.way) + movement.soft + movement.held_first + movement.held_last + 1


def pace_words(name: str, roll: Roll) -> str:
    """How fast a roll goes, in words."""
    return f"{name} moves {about(roll.speed)} px a frame" + (", whole" if roll.whole else "")


class Offer(NamedTuple):
    """A length at which a roll moves ``speed`` whole px a frame."""

    speed: int
    length: int


def whole_lengths(movement: Movement, ends: Ends, length: int, many: int = 2, even: bool = False) -> list[Offer]:
    """The lengths near one at which a roll moves a whole, or an even, number of px a frame: so many slower, and so many faster.

    Where both ends stand only those speeds are whole that divide the way.
    """
    way, step = ends.way, 2 if even else 1
    present = rolled(msgspec.structs.replace(movement, leads="length"), ends, length).speed
    fits = [v for v in range(step, max(2 * step, math.ceil(present) + 40 * step), step) if any(ends.free) or way % v == 0]
    slower = [v for v in fits if v <= present + _EXACT][-many:]
    faster = [v for v in fits if v > present + _EXACT][:many]
    found = [Offer(v, length_at(movement, ends, v)) for v in (*slower, *faster)]
    return [offer for offer in found if offer.length <= MOST_FRAMES]
