"""Numbers as they are set: each figure in a slot, so that nothing jitters while they count."""

import dataclasses
import functools
import math
import unicodedata
from collections.abc import Callable, Sequence
from decimal import Decimal
from fractions import Fraction
from typing import NamedTuple

import numpy as np

from avlet.arrays import Ints, distinct
from avlet.document.metadata import facts_of
from avlet.document.parts import Change, CounterPart
from avlet.document.time.moves import Unit
from avlet.easing import ease_progress
from avlet.geometry import Box
from avlet.numbers.exact import Count, exact
from avlet.numbers.forms import WORDED, classes
from avlet.numbers.written import How, Towards, Written, fault_of, is_digit, write
from avlet.text.fonts import FontBook
from avlet.text.numerals import Figure, Numeral, advance_of, as_text, joint_ink, point_at, slotted
from avlet.text.setting import Carried, Setting, Turn, set_text
from avlet.text.wheels import Stretch, drawn_in, rolled

_MOST_FIGURES, _MOST_SETTINGS = 12, 32
"""Counters whose settings are kept, and settings of each: with its outlines one takes some 20 KB."""
WHEEL = 0.16
"""How much of the capitals' height a wheel shows above and below its figure."""
_GROUPING = ".,'’٬ \u00a0\u202f"
"""What may stand between groups of figures."""
_TRIED = (0, 1, 2, 3, 5, 6, 10, 11, 12, 13, 20, 21, 22, 100, 101, 102, 1000, 1001)
"""Numbers in which languages differ in what they add to a number (CLDR's plural rules are worked out on these)."""


class Slots(NamedTuple):
    """How many places a number has at most before and behind its point, of all that it can show; ``width`` in px."""

    before: int
    behind: int
    width: float


class Figures:
    """All settings of one counter; what is asked for again is kept. ``rest`` is its last number, in the room that it needs.

    ``faults`` say what an answer has made of it that cannot be: it is then written plainly, or counts by ones.
    """

    def __init__(self, part: CounterPart, rate: Fraction, book: FontBook) -> None:
        self.part, self.book = part, book
        self.how: How = part.writing.how(rate)
        self.faults = tuple(fault for fault in (fault_of(self.how), _step_fault(part)) if fault)
        if fault_of(self.how):
            self.how = How(most_decimals=self.how.most_decimals)
        self.count: Count = part.counts
        self._numerals: dict[str, Numeral] = {}
        self._placed: dict[str, Setting] = {}
        self._turned: dict[object, Setting] = {}
        self.slotted = part.figures == "as wide as the widest"
        self.size, self.remark = part.size, ""
        self.slots = self._slots()
        final = self.last
        self.width = final.width if part.box == "last number" else self.slots.width
        self.rest: Setting = self.placed(self.final)

    @property
    def towards(self) -> Towards:
        """To which side a number is rounded until it has landed: to that of the start."""
        return "down" if self.count.end >= self.count.start else "up"

    @functools.cached_property
    def final(self) -> Written:
        """The number that it lands on, in words."""
        return write(self.count.end, self.how)

    @functools.cached_property
    def last(self) -> Numeral:
        """The number that it lands on."""
        return self.numeral(self.final)

    def words(self, value: Decimal, landed: bool) -> Written:
        """A number in words, rounded towards the start until it has landed."""
        return write(value, self.how, "nearest" if landed else self.towards)

    # How wide

    def _slots(self) -> Slots:
        """The room for the widest number, found by the count's ends and where numbers change their form: not by trying all of them."""
        tried = self._widest_forms
        part = self.part
        if part.room is not None and part.room.width and "shrink" in part.room.remedies:
            widest = max(self.numeral(written).width for written in tried)
            share = max(part.room.smallest_size / 100, min(1.0, part.room.width / widest)) if widest else 1.0
            if share < 1:
                self.size, self.remark = part.size * share, f"shrinks to {share * 100:.0f} %"
                self._numerals.clear()
                for name in ("ten", "_slot_width", "_behind_the_point"):
                    self.__dict__.pop(name, None)
        sides = self._sides
        width = max(before + behind for before, behind in sides)
        if part.keeps == "decimal sign":  # the longest before the sign and the longest behind it may be of two numbers
            width = max(before for before, _ in sides) + max(behind for _, behind in sides)
        return Slots(max(w.point for w in tried), max(len(w.words) - w.point for w in tried), width)

    @functools.cached_property
    def _widest_forms(self) -> list[Written]:
        """Of all forms of a number the longest with the same words beside its figures: none is wider, before or behind its point."""
        longest: dict[str, dict[str, Written]] = {}
        for written in dict.fromkeys(self.words(value, landed) for value, landed in self._candidates()):
            beside = "".join(c for n, c in enumerate(written.words) if not is_digit(c) and (n == written.point or c not in _GROUPING))
            kept = longest.setdefault(beside, {})
            for name in ("all", "before", "behind"):
                if name not in kept or _size(written, name) > _size(kept[name], name):
                    kept[name] = written
        return list(dict.fromkeys(written for kept in longest.values() for written in kept.values()))

    @property
    def _sides(self) -> list[tuple[float, float]]:
        """px before and behind the decimal sign that each of the widest forms takes at most, whatever its figures are."""
        figure = self._widest_figure()
        return [self._roomy(self.numeral(self._widened(written, figure))) for written in self._widest_forms]

    def _roomy(self, numeral: Numeral) -> tuple[float, float]:
        """px before and behind the decimal sign; as the font sets figures, without the kerning that other figures may not have."""
        before = point_at(numeral)
        if self.slotted:
            return before, numeral.width - before
        setting = numeral.setting
        gap, own, taken = setting.size * self.part.tracking / 1000, [0.0, 0.0], [before, numeral.width - before]
        for n in range(len(setting.x)):
            alone = advance_of(setting.faces[n], int(setting.glyphs[n]), float(setting.scale[n])) * setting.squeeze
            own[int(setting.x[n] >= before - 1e-6)] += alone + gap
        own[1] -= gap
        return max(own[0], taken[0]), max(own[1], taken[1])

    def _candidates(self) -> list[tuple[Decimal, bool]]:
        """Numbers among which the widest is: the ends, around every power of ten, and where words beside it change."""
        count, steps = self.count, self.count.steps
        over = self._overshoot()
        found = {0, 1, max(0, steps - 1), steps, *range(steps + 1, steps + 1 + min(over, 2)), steps + over}
        distance, step = Fraction(count.start), Fraction(count.step)
        direction = 1 if count.end >= count.start else -1
        edges = [Fraction(10) ** n * sign for n in range(-9, 16) for sign in (1, -1)] + [Fraction(n) for n in _TRIED]
        if self.how.style in ("clock", "timecode"):
            unit = self.how.rate if self.how.style == "timecode" else Fraction(1)
            edges += [sign * unit * n for n in (60, 600, 3600, 36_000, 360_000, 3_600_000) for sign in (1, -1)]
        last_place = Fraction(1, 10**self.how.most_decimals)
        turns = math.ceil(last_place / (step % last_place)) if step % last_place else 1  # until what is rounded off shows
        beside = {way * n for n in (0, 1, 2, turns, turns + 1, 2 * turns) for way in (1, -1)}
        for edge in edges:
            at = (edge - distance) / step * direction
            if -1 <= at <= steps + over + 1:
                found |= {int(at) + n for n in beside}
        if self.how.style in WORDED:
            found |= classes(count, self.how, over)
        if self.how.style == "date":
            found |= {int(steps * n / 400) for n in range(400)} | set(range(min(steps, 400)))
        return [(count.after(n), n == steps) for n in sorted(found) if 0 <= n <= steps + over]

    def _overshoot(self) -> int:
        """How many steps it goes beyond its end on the way, where its ease does."""
        if self.part.count.pace != "eased":
            return 0
        most = float(ease_progress(self.part.count.ease, np.linspace(0.0, 1.0, 513)).max())
        return max(0, int(self.count.place(most * 1.001)) - self.count.steps) if most > 1 else 0

    @functools.cached_property
    def passes(self) -> bool:
        """Whether its ease takes it beyond its end before it lands."""
        return self._overshoot() > 0

    @functools.cached_property
    def _zero(self) -> str:
        """The figure 0 of the counter's language."""
        figure = next((c for c in write(Decimal(0), self.how).words if is_digit(c)), "0")
        return chr(ord(figure) - unicodedata.digit(figure))

    def _widest_figure(self) -> str:
        """The widest figure; any where all are alike."""
        return max((chr(ord(self._zero) + n) for n in range(10)), key=lambda figure: self.numeral(Written(figure, 1)).width)

    def _widened(self, written: Written, figure: str) -> Written:
        if self.slotted:
            return written
        return Written("".join(figure if is_digit(c) else c for c in written.words), written.point)

    # Setting

    def numeral(self, written: Written) -> Numeral:
        """A number with the words beside it, set by itself; in slots, with noughts for all its figures, as that is as wide."""
        if self.slotted:
            written = self.noughts(written)
        if written.words not in self._numerals:
            if len(self._numerals) > 4096:
                self._numerals.clear()
            self._numerals[written.words] = self._set(written)
        return self._numerals[written.words]

    def _set(self, written: Written) -> Numeral:
        part = self.part
        text = as_text(part, written.words, self.size, self._features())
        setting = set_text(text, self.book)
        own = np.flatnonzero(setting.accent == 0)
        clusters = setting.clusters[own]
        start = int(clusters.min()) if len(own) else 0
        zone = (start, start + len(written.words))
        if not self.slotted or not len(own):
            return Numeral(written, setting, zone, setting.line_box.w)
        return slotted(written, setting, zone, self._slot_width, part.tracking)

    def noughts(self, written: Written) -> Written:
        return Written("".join(self._zero if is_digit(c) else c for c in written.words), written.point)

    @functools.cached_property
    def ten(self) -> list[Figure]:
        """The ten figures by themselves."""
        text = as_text(self.part, "".join(chr(ord(self._zero) + n) for n in range(10)), self.size, self._features(), bare=True)
        setting = set_text(text, self.book)
        pens = np.stack([setting.x, setting.y, setting.x, setting.y], axis=1)
        found = []
        for n in range(10):
            row = int(np.flatnonzero(setting.clusters == n)[0])
            glyph, scale = int(setting.glyphs[row]), float(setting.scale[row])
            found.append(Figure(glyph, advance_of(setting.faces[row], glyph, scale), setting.ink[row] - pens[row]))
        return found

    @functools.cached_property
    def _slot_width(self) -> float:
        """px that each figure takes."""
        return max(figure.advance for figure in self.ten)

    def _features(self) -> tuple[str, ...]:
        """Figures of one width where the face has them; those of the font otherwise."""
        return ("tnum", *self.part.features) if self.slotted else self.part.features

    # Placing

    def placed(self, written: Written) -> Setting:
        """A number where it stands in the room of all of them."""
        if written.words not in self._placed:
            if len(self._placed) >= _MOST_SETTINGS:
                self._placed.clear()
            noughts = self.noughts(written) if self.slotted else written
            if noughts.words == written.words:
                numeral = self.numeral(written)
                self._placed[written.words] = self._in_slots(numeral, self.shift(numeral))
            else:
                self._placed[written.words] = self._with_figures(self.placed(noughts), self.numeral(noughts).zone[0], written)
        return self._placed[written.words]

    def _with_figures(self, setting: Setting, start: int, written: Written) -> Setting:
        """A setting of noughts with a number's own figures in their slots."""
        glyphs, x, ink = setting.glyphs.copy(), setting.x.copy(), setting.ink.copy()
        nought = self.ten[0]
        for row in np.flatnonzero((setting.accent == 0) & (setting.clusters >= start)).tolist():
            index = int(setting.clusters[row]) - start
            if index < len(written.words) and is_digit(written.words[index]):
                figure = self.ten[unicodedata.digit(written.words[index])]
                glyphs[row] = figure.glyph
                x[row] += (nought.advance - figure.advance) / 2
                ink[row] = figure.ink + np.array([x[row], setting.y[row]] * 2)
        return dataclasses.replace(setting, glyphs=glyphs, x=x, ink=ink, ink_box=joint_ink(ink))

    @functools.cached_property
    def rise(self) -> tuple[float, float]:
        """From where to where numbers reach, whichever is shown, their signs included, in px down from the corner."""
        inks = [self.placed(numeral.written).ink for numeral in map(self.numeral, self._widest_forms)]
        own = np.flatnonzero(self.rest.accent == 0)
        if len(own):
            baseline = float(self.rest.y[own[0]])
            inks.append(np.array([figure.ink for figure in self.ten]) + np.array([0.0, baseline, 0.0, baseline]))
        ink = np.concatenate([self.rest.ink, *inks])
        if np.isnan(ink).all():
            return 0.0, self.rest.line_box.h
        return float(np.nanmin(ink[:, 1])), float(np.nanmax(ink[:, 3]))

    @property
    def slot(self) -> float:
        """px that each figure takes at most."""
        return self._slot_width

    @functools.cached_property
    def extent(self) -> tuple[float, float]:
        """From where to where its numbers reach at most, in px from its left."""
        shifts = [(self.shift(numeral), numeral.width) for numeral in map(self.numeral, self._widest_forms)]
        return min(left for left, _ in shifts), max(left + width for left, width in shifts)

    def shift(self, numeral: Numeral) -> float:
        """How far from the left a number stands, in px."""
        spare = self.width - numeral.width
        match self.part.keeps:
            case "left edge":
                return 0.0
            case "middle":
                return spare / 2
            case "decimal sign":
                sign = point_at(self.last) if self.part.box == "last number" else self.width - self._behind_the_point
                return sign - point_at(numeral)
        return spare

    @functools.cached_property
    def _behind_the_point(self) -> float:
        """px from the decimal sign to the right edge at most."""
        return max(behind for _, behind in self._sides)

    def slot_of(self, written: Written, index: int) -> int:
        """Which slot a place of a number is: the same for the same figure of a longer or shorter number."""
        slots, length = self.slots.before + self.slots.behind, len(written.words)
        match self.part.keeps:
            case "left edge":
                return index
            case "middle":
                return index + max(0, slots - length) // 2
            case "decimal sign":
                return index + self.slots.before - written.point
        return index + slots - length

    def _in_slots(self, numeral: Numeral, shift: float) -> Setting:
        """A setting moved to its place, with slots for units, as wide as what fits around it goes by."""
        setting = numeral.setting
        ink = setting.ink + np.array([shift, 0.0, shift, 0.0])
        unit_of, counts = self._units(numeral)
        lines = tuple(dataclasses.replace(line, left=line.left + shift) for line in setting.lines)
        return dataclasses.replace(
            setting, x=setting.x + shift, ink=ink, unit_of=unit_of, counts=counts, lines=lines, ink_box=joint_ink(ink),
            line_box=Box(0.0, 0.0, self.width, setting.line_box.h),
            capitals=Box(0.0, setting.capitals.y, self.width, setting.capitals.h),
            remarks=(self.remark,) if self.remark else (), overflows=False,
        )  # fmt: skip

    def _units(self, numeral: Numeral) -> tuple[dict[Unit, Ints], dict[Unit, int]]:
        """Words before, slots and words after as units: as many for every number."""
        setting, (start, end) = numeral.setting, numeral.zone
        words = setting.unit_of["word"]
        letters = setting.unit_of["character"].copy()
        slots = self.slots.before + self.slots.behind
        before = distinct(letters[setting.accent == 1]).tolist()
        after = distinct(letters[setting.accent == 2]).tolist()
        numbers = {old: new for new, old in enumerate(before)} | {old: len(before) + slots + n for n, old in enumerate(after)}
        made = np.full(len(letters), -1, np.int64)
        for glyph, (letter, accent) in enumerate(zip(letters.tolist(), setting.accent.tolist(), strict=True)):
            if accent:
                made[glyph] = numbers.get(letter, -1)
            elif start <= setting.clusters[glyph] < end:
                made[glyph] = len(before) + max(0, min(slots - 1, self.slot_of(numeral.written, int(setting.clusters[glyph]) - start)))
        early = distinct(words[setting.accent == 1]).tolist()
        late = distinct(words[setting.accent == 2]).tolist()
        place = {old: new for new, old in enumerate(early)} | {old: len(early) + 1 + n for n, old in enumerate(late)}
        known = zip(words.tolist(), setting.accent.tolist(), made.tolist(), strict=True)
        spoken = np.array([place.get(w, -1) if a else len(early) if u >= 0 else -1 for w, a, u in known], np.int64)
        counts: dict[Unit, int] = {
            "whole": 1, "line": 1, "word": len(early) + 1 + len(late), "character": len(before) + slots + len(after),
        }  # fmt: skip
        whole = np.zeros(len(letters), np.int64)
        return {"whole": whole, "line": whole, "word": spoken, "character": made}, counts

    # Changing figures

    def turned(self, low: Written, high: Written, share: float, how: Change) -> Setting:
        """The change from one number to the next where figures fade or turn over: those that differ are ``share`` of their way."""
        share = round(share, 4)
        if low.words == high.words or share <= 0:
            return self.placed(low)
        return self._keep((low.words, high.words, share, how), lambda: self._turn(low, high, share, how))

    def rolling(self, stretches: Sequence[Stretch], upward: bool) -> Setting:
        """The number while its wheels roll, over some stretches of time."""
        steps = self.count.steps

        def words(done: int) -> Written:
            return self.words(self.count.after(done), done == steps)

        return self._keep((tuple(stretches), upward), lambda: rolled(self, stretches, words, upward))

    def _keep(self, key: object, make: Callable[[], Setting]) -> Setting:
        if key not in self._turned:
            if len(self._turned) >= _MOST_SETTINGS:
                self._turned.clear()
            self._turned[key] = make()
        return self._turned[key]

    def _turn(self, low: Written, high: Written, share: float, how: Change) -> Setting:
        base = self.placed(high if len(high.words) > len(low.words) else low)
        ends = self.placed(low), self.placed(high)
        (top, bottom), ink, turns = self.window, base.ink.copy(), []
        for slot in self._changed(low, high):
            unit = self.first_slot + slot
            before, after = (drawn_in(setting, unit) for setting in ends)
            rows = np.flatnonzero((base.unit_of["character"] == unit) & (base.accent == 0))
            for row in rows:
                ink[row, [1, 3]] = top, bottom
            numbers = {name: int(numbers[rows[0]]) for name, numbers in base.unit_of.items()} if len(rows) else {}
            turns.append(Turn(numbers, tuple(rows.tolist()), before, after, top, bottom, share, how))
        return dataclasses.replace(base, ink=ink, turning=tuple(turns))

    @property
    def window(self) -> tuple[float, float]:
        """From where to where a wheel is seen, in px down from the corner."""
        top = self.rest.lines[0].baseline - self.part.baseline - self.rest.cap_height * (1 + WHEEL)
        return top, top + self.pitch

    @property
    def soft_edge(self) -> float:
        """How much of a wheel's window is soft at its top and at its bottom, in px: as much as a figure at rest leaves free."""
        return self.rest.cap_height * WHEEL if self.part.soft_edges else 0.0

    @property
    def pitch(self) -> float:
        """How high a wheel shows a figure, in px: from one to the next it turns by that."""
        return self.rest.cap_height * (1 + 2 * WHEEL)

    def _changed(self, low: Written, high: Written) -> list[int]:
        """The slots in which two numbers differ."""
        mine, theirs = ({self.slot_of(w, n): c for n, c in enumerate(w.words)} for w in (low, high))
        return [slot for slot in sorted({*mine, *theirs}) if mine.get(slot) != theirs.get(slot)]

    @functools.cached_property
    def first_slot(self) -> int:
        """The number of the first slot among the units by letter."""
        letters = self.last.setting.unit_of["character"][self.last.setting.accent == 1]
        return len({n for n in letters.tolist() if n >= 0})


def _step_fault(part: CounterPart) -> str | None:
    return None if exact(part.step) > 0 else f"A step of {part.step} is none; it counts by ones."


def _size(written: Written, name: str) -> int:
    """How long a number is, in all, before its point or behind it."""
    return {"all": len(written.words), "before": written.point, "behind": len(written.words) - written.point}[name]


@functools.lru_cache(maxsize=_MOST_FIGURES)
def _kept(key: object, carried: Carried[CounterPart], rate: Fraction, book: FontBook) -> Figures:
    return Figures(carried.part, rate, book)


def figures_of(part: CounterPart, rate: Fraction, book: FontBook) -> Figures:
    """The settings of a counter; ``rate`` is the frame's, for timecode."""
    return _kept((facts_of(part, "setting"), part.count.ease, part.count.pace), Carried(part), rate, book)
