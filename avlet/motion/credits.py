"""Credits over time: a roll's or crawl's displacement, the pages of a list and when each of them shows."""

import dataclasses
import functools
import math
from collections.abc import Mapping
from typing import Any, NamedTuple

from avlet.document.parts import AnyPart, CreditsPart
from avlet.document.template import Template
from avlet.geometry import Box
from avlet.layout.arrange import arrange
from avlet.layout.bind import bind
from avlet.layout.bodies.rolling_list import PageOfList, RollingList
from avlet.layout.pages import words_on
from avlet.layout.rest import Rest, RestPart
from avlet.limits import MOST_FRAMES
from avlet.motion.actors import Actor, Instant, at_rest
from avlet.motion.mover import Mover, Timed, Way
from avlet.motion.plans import plan_part
from avlet.motion.rolling import Ends, Roll, axis_of, ends_of, length_at, rolled
from avlet.motion.ties import timing_like
from avlet.numbers.exact import in_figures
from avlet.text.fonts import FontBook

_A_MINUTE = 60.0
_SAME = 1e-6


class Window(NamedTuple):
    """The frames in which a page shows: from ``first`` to ``last``, both included."""

    first: int
    last: int

    @property
    def frames(self) -> int:
        """How many there are."""
        return self.last - self.first + 1


class MovingList(Mover):
    """One list of credits over the length of a title."""

    def __init__(self, rest: RestPart, title: Timed) -> None:
        assert isinstance(rest.part, CreditsPart) and isinstance(rest.body, RollingList)
        self.rest, self.layout, self.part, self.body = rest, title.rest, rest.part, rest.body
        self.strip, self.pages, self.length = rest.body.strip, rest.body.pages, title.rest.bound.length
        self._title = title
        self._pages: dict[int, Actor] = {}
        self._paced: dict[float, RestPart] = {0.0: rest}

    def turned_to(self, actor: Actor, now: Instant) -> tuple[Actor, Instant]:
        """The page that shows, with its moves, and how far the moment is from the page's own ends."""
        if not self.pages:
            return actor, now
        number = self.page_at(min(max(0, now.frame), self.length - 1)) or 0
        window, pace, template = self.windows[number], self._title.spans.pace, self.layout.bound.template
        begin = (now.time - window.first) * pace - now.late if number or template.plays_in else math.inf
        last = number == len(self.windows) - 1
        end = (window.last - now.time) * pace - now.late if not last or template.plays_out else math.inf
        return self.page(number), now._replace(begin=begin, end=end)

    def at(self, rest: RestPart, now: Instant) -> RestPart:
        pace = self.pace(now.time - now.late)
        if not pace or self.pages:
            return rest
        if pace not in self._paced:
            self._paced[pace] = dataclasses.replace(rest, body=dataclasses.replace(self.body, pace=pace))
        return self._paced[pace]

    def way(self, time: float) -> Way | None:
        return Way(self.shift(time), self.opacity(time)) if self.roll is not None else None

    # Rolls and crawls

    @functools.cached_property
    def ends(self) -> Ends | None:
        """Where a list that rolls stands at its ends; None for one that does not, or is empty."""
        return ends_of(self.rest, self.layout) if self.part.rolls and self.strip.rows else None

    @functools.cached_property
    def roll(self) -> Roll | None:
        """How it rolls over this length; None for one that does not, or in a single frame, which shows it at rest."""
        return rolled(self.part.movement, self.ends, self.length) if self.ends is not None and self.length > 1 else None

    def shift(self, time: float) -> tuple[float, float]:
        """How far it is from its rest ``time`` frames after the first one, in px."""
        if self.roll is None:
            return 0.0, 0.0
        axis = axis_of(self.part)
        along = self.roll.at(time) - self.rest.box[axis]
        return (along, 0.0) if axis == 0 else (0.0, along)

    def pace(self, time: float) -> float:
        """The whole px a frame at which it moves, where it lies whole px from where it lies between its soft ends; else 0."""
        roll = self.roll
        if roll is None or not roll.whole:
            return 0.0
        off = roll.at(time) - roll.at(roll.held_first + roll.soft)
        return roll.speed if abs(off - round(off)) < _SAME else 0.0

    def opacity(self, time: float) -> float:
        """How much of it shows while it fades, 0 to 1."""
        movement, last = self.part.movement, self.length - 1
        if not self.part.rolls or last < 1:
            return 1.0
        begun = min(1.0, time / movement.fades_in) if movement.fades_in else 1.0
        left = min(1.0, (last - time) / movement.fades_out) if movement.fades_out else 1.0
        return max(0.0, min(begun, left))

    # Pages

    @functools.cached_property
    def windows(self) -> tuple[Window, ...]:
        """When each page shows. Each stays as long as its words need to be read, all of them scaled to the length."""
        stays = page_stays(self.rest, self.layout)
        total, found, before, begin = sum(stays), [], 0.0, 0
        for number, stay in enumerate(stays):
            before += stay
            end = self.length if number == len(stays) - 1 else round(self.length * before / total)
            found.append(Window(begin, end - 1))
            begin = end
        return tuple(found)

    def page_at(self, frame: int) -> int | None:
        """The number of the page that shows in a frame."""
        return next((n for n, w in enumerate(self.windows) if w.first <= frame <= w.last), None)

    def page(self, number: int) -> Actor:
        """A page at rest, in the middle of the part's box, and how it moves."""
        if number not in self._pages:
            page = self.pages[number]
            setting = self.strip.sheet(page.first, page.last)
            box = self.rest.box
            y = box.y + (box.h - setting.line_box.h) / 2
            rest = dataclasses.replace(self.rest, box=Box(box.x, y, box.w, setting.line_box.h), body=PageOfList(setting), notes=())
            plan = plan_part(rest, self.layout, timing_like(rest, self._title.timings[self.rest.part.id]))
            self._pages[number] = Actor(rest, plan, at_rest(rest, plan), None)
        return self._pages[number]


def page_stays(rest: RestPart, layout: Rest) -> list[float]:
    """How long each page wants to stay, in frames at the template's own length: as long as was set by hand, or as its words need.

    What is left by those that are set by hand is shared by the others in proportion.
    """
    part, body = rest.part, rest.body
    assert isinstance(part, CreditsPart) and isinstance(body, RollingList)
    movement = part.movement
    by_hand = {stay.page: float(stay.frames) for stay in movement.stays if stay.page < len(body.pages)}
    wanted = page_needs(rest, layout)
    own = sum(w for n, w in enumerate(wanted) if n not in by_hand)
    room = layout.bound.template.length - sum(by_hand.values())
    factor = max(room, 1.0) / own if by_hand and own and movement.leads == "length" else 1.0
    return [by_hand.get(n, w * factor) for n, w in enumerate(wanted)]


def page_needs(rest: RestPart, layout: Rest) -> list[int]:
    """How many frames each page needs so that its words can be read, and as many as it stays at least."""
    part, body, fps = rest.part, rest.body, float(layout.frame.fps)
    assert isinstance(part, CreditsPart) and isinstance(body, RollingList)
    movement = part.movement
    return [max(movement.least, math.ceil(words_on(page, body.strip) / movement.reading * _A_MINUTE * fps - 1e-6)) for page in body.pages]


def _leads(part: AnyPart) -> bool:
    """Whether a part's list gives its title the length: by the speed of a roll, or as its pages are read."""
    return isinstance(part, CreditsPart) and (part.rolls or part.movement.how == "pages") and part.movement.leads == "speed"


def leads_by_speed(template: Template) -> bool:
    """Whether there are credits whose speed, or the reading of whose pages, may lead a template's length."""
    return any(map(_leads, template.parts))


def _has_rows(one: RestPart) -> bool:
    return isinstance(one.body, RollingList) and bool(one.body.strip.rows)


def rest_of(
    template: Template, book: FontBook, answers: Mapping[str, Any] | None = None, length: int | None = None
) -> tuple[Rest, int | None]:
    """A title at rest. Where the speed of its credits leads it is as long as these make it; then also how long it would have been."""
    rest = arrange(bind(template, answers, length), book)
    led = led_length(rest)
    if led is None or led == rest.bound.length:
        return rest, None
    return arrange(bind(template, answers, led), book), rest.bound.length


def led_length(rest: Rest) -> int | None:
    """The length in frames that a list gives its title, where the speed of one leads; the longest of several. None where none does."""
    found = []
    for one in rest.parts.values():
        part = one.part
        if not isinstance(part, CreditsPart) or not _leads(part) or not one.present or not _has_rows(one):
            continue
        if part.rolls:
            found.append(min(MOST_FRAMES, length_at(part.movement, ends_of(one, rest), part.movement.speed)))
        else:
            found.append(min(MOST_FRAMES, max(1, math.ceil(sum(page_stays(one, rest))))))
    return max(found, default=None)


def lists_of(movers: Mapping[str, Mover]) -> dict[str, MovingList]:
    """The lists of credits among what moves of itself, by id."""
    return {i: mover for i, mover in movers.items() if isinstance(mover, MovingList)}


def credits_notes(movers: Mapping[str, Mover]) -> list[str]:
    """What is to be said of lists at this length."""
    said: list[str] = []
    for one in lists_of(movers).values():
        part, movement, length = one.part, one.part.movement, one.length
        if one.roll is not None and one.ends is not None:
            wanted = length_at(movement, one.ends, movement.speed) if movement.leads == "speed" else length
            if wanted > MOST_FRAMES:
                speed = in_figures(movement.speed)
                said.append(f"{part.name} would need {wanted:,} frames at {speed} px a frame; a title has at most {MOST_FRAMES:,}.")
            if one.roll.held_first + one.roll.held_last < movement.held_first + movement.held_last:
                said.append(f"{part.name} is held shorter than asked for: {length} frames do not leave room to move besides.")
            if one.ends.way < 1:
                said.append(f"{part.name} does not move: it begins where it ends. Choose another end, or let it stand.")
        short = [n + 1 for n, w in enumerate(one.windows) if w.frames < 1] if one.pages else []
        if short:
            said.append(
                f"{part.name} has {len(one.windows)} pages in {length} frames: {len(short)} of them never show. Make the title longer."
            )
        elif one.pages:
            said += _too_short(one)
    return said


def _too_short(one: MovingList) -> list[str]:
    """Pages that are there for fewer frames than their words need, but for those that were set by hand."""
    by_hand = {stay.page: stay.frames for stay in one.part.movement.stays}
    needs = page_needs(one.rest, one.layout)
    short = [n for n, (window, need) in enumerate(zip(one.windows, needs, strict=True)) if n not in by_hand and window.frames < need]
    if not short:
        return []
    first, whole = short[0], sum(by_hand.get(n, need) for n, need in enumerate(needs))
    which = f"page {first + 1} is" if len(short) == 1 else f"{len(short)} pages are too short: page {first + 1} is"
    return [
        f"{one.part.name}: {which} there for {one.windows[first].frames} frames and needs {needs[first]} to be read. "
        f"Make the title {whole:,} frames long, or let reading lead its length."
    ]
