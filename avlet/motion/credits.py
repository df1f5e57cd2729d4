"""Credits over time: a roll's or crawl's displacement, the pages of a list and when each of them shows."""

import dataclasses
import functools
from collections.abc import Mapping
from typing import NamedTuple

from avlet.document.parts import CreditsPart
from avlet.document.template import Template
from avlet.geometry import Box
from avlet.layout.arrange import Rest, RestPart
from avlet.layout.pages import Page, words_on
from avlet.limits import MOST_FRAMES
from avlet.motion.plans import PartPlan, plan_part
from avlet.motion.rolling import Ends, Roll, axis_of, ends_of, length_at, rolled
from avlet.motion.ties import Timing, timing_like

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


class MovingList:
    """One list of credits over the length of a title."""

    def __init__(self, rest: RestPart, layout: Rest, timing: Timing) -> None:
        assert isinstance(rest.part, CreditsPart) and rest.strip is not None
        self.rest, self.layout, self.part, self.strip = rest, layout, rest.part, rest.strip
        self.length = layout.bound.length
        self._timing = timing
        self._made: dict[int, tuple[RestPart, PartPlan]] = {}

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

    def page(self, number: int) -> tuple[RestPart, PartPlan]:
        """A page at rest, in the middle of the part's box, and how it moves."""
        if number not in self._made:
            page = self.rest.pages[number]
            setting = self.strip.sheet(page.first, page.last)
            box = self.rest.box
            y = box.y + (box.h - setting.line_box.h) / 2
            rest = dataclasses.replace(self.rest, box=Box(box.x, y, box.w, setting.line_box.h), setting=setting, strip=None, notes=())
            self._made[number] = rest, plan_part(rest, self.layout, timing_like(rest, self._timing))
        return self._made[number]


def page_stays(rest: RestPart, layout: Rest) -> list[float]:
    """How long each page wants to stay, in frames at the template's own length: as long as was set by hand, or as its words need.

    What is left by those that are set by hand is shared by the others in proportion.
    """
    part, strip = rest.part, rest.strip
    assert isinstance(part, CreditsPart) and strip is not None
    movement, fps = part.movement, float(layout.frame.fps)
    by_hand = {stay.page: float(stay.frames) for stay in movement.stays if stay.page < len(rest.pages)}
    wanted = [_reading(page, rest, movement.reading, fps, movement.least) for page in rest.pages]
    own = sum(w for n, w in enumerate(wanted) if n not in by_hand)
    room = layout.bound.template.length - sum(by_hand.values())
    factor = max(room, 1.0) / own if by_hand and own else 1.0
    return [by_hand.get(n, w * factor) for n, w in enumerate(wanted)]


def _reading(page: Page, rest: RestPart, words_a_minute: float, fps: float, least: int) -> float:
    assert rest.strip is not None
    return max(float(least), words_on(page, rest.strip) / words_a_minute * _A_MINUTE * fps)


def leads_by_speed(template: Template) -> bool:
    """Whether there are credits whose speed may lead a template's length."""
    return any(isinstance(p, CreditsPart) and p.rolls and p.movement.leads == "speed" for p in template.parts)


def led_length(rest: Rest) -> int | None:
    """The length in frames that a list gives its title, where the speed of one leads; the longest of several. None where none does."""
    found = []
    for one in rest.parts.values():
        part = one.part
        if isinstance(part, CreditsPart) and part.rolls and part.movement.leads == "speed" and one.present and one.strip and one.strip.rows:
            found.append(min(MOST_FRAMES, length_at(part.movement, ends_of(one, rest), part.movement.speed)))
    return max(found, default=None)


def credits_notes(lists: Mapping[str, MovingList], rest: Rest) -> list[str]:
    """What is to be said of lists at this length."""
    said: list[str] = []
    for one in lists.values():
        part, movement, length = one.part, one.part.movement, one.length
        if one.roll is not None and one.ends is not None:
            wanted = length_at(movement, one.ends, movement.speed) if movement.leads == "speed" else length
            if wanted > MOST_FRAMES:
                said.append(
                    f"{part.name} would need {wanted:,} frames at {movement.speed:g} px a frame; a title has at most {MOST_FRAMES:,}."
                )
            if one.roll.held_first + one.roll.held_last < movement.held_first + movement.held_last:
                said.append(f"{part.name} is held shorter than asked for: {length} frames do not leave room to move besides.")
            if one.ends.way < 1:
                said.append(f"{part.name} does not move: it begins where it ends. Choose another end, or let it stand.")
        short = [n + 1 for n, w in enumerate(one.windows) if w.frames < 1] if one.rest.pages else []
        if short:
            said.append(
                f"{part.name} has {len(one.windows)} pages in {length} frames: {len(short)} of them never show. Make the title longer."
            )
    return said
