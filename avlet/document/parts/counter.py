"""A number that counts."""

from collections.abc import Iterator
from fractions import Fraction
from typing import Annotated, Literal

import msgspec

from avlet.document.metadata import Value, piece, prop
from avlet.document.parts.typeset import TypesetPart
from avlet.document.time.eases import READY_EASES, Ease
from avlet.document.time.moves import Tie
from avlet.numbers.exact import Count, exact
from avlet.numbers.written import Clock, DateStyle, Digits, How, Sign, Style, Width, fault_of

Keeps = Literal["right edge", "decimal sign", "left edge", "middle"]
Lands = Literal["after", "before the way out"]
Figures = Literal["as wide as the widest", "as the font sets them"]
AsWideAs = Literal["widest number", "last number"]
Change = Literal["at once", "rolling up", "rolling down", "fading", "turning over"]
_COUNT, _WRITING = "count", "writing"
_EXACT = msgspec.Meta(pattern=r"^-?[0-9]{1,16}(\.[0-9]{1,9})?$")


class Counting(Value, frozen=True):
    """When a number counts: from where, until where, and how its way runs between.

    It begins ``start`` frames after the title, unless ``tie`` says otherwise. It lands ``frames`` after that, or ``frames`` before the
    way out begins, so that a longer hold makes a slower count. *In real time* one whole number is one second, whatever the length.
    """

    start: Annotated[int, prop("Count begins", unit="frames", low=0, high=100_000, group=_COUNT, keyed=False, changes="time")] = 0
    tie: Annotated[Tie | None, piece("tie", "time")] = None
    lands: Annotated[Lands, prop("Lands", group=_COUNT, keyed=False, changes="time")] = "before the way out"
    frames: Annotated[int, prop("Lands by", unit="frames", low=0, high=1_000_000, group=_COUNT, keyed=False, changes="time")] = 25
    pace: Annotated[Literal["eased", "in real time"], prop("Pace", group=_COUNT, keyed=False, changes="time")] = "eased"
    ease: Annotated[Ease, piece("ease", "time")] = READY_EASES["soft both"]


class Writing(Value, frozen=True):
    """How the number is written, by the rules of a language (CLDR, UTS #35).

    Percentages are as they read: 12.5 is 12.5 %. A clock's value is in seconds, timecode's in frames, a date's in days since
    1 January 1970. ``pattern`` is one of UTS #35, such as ``#,##0.00;(#)``.
    """

    style: Annotated[Style, prop("Written as", group=_WRITING, keyed=False, changes="setting")] = "number"
    language: Annotated[str, prop("Language", group=_WRITING, keyed=False, changes="setting")] = "en"
    digits: Annotated[Digits, prop("Figures of", group=_WRITING, keyed=False, changes="setting")] = "as the language has them"
    grouping: Annotated[bool, prop("Grouped", group=_WRITING, keyed=False, changes="setting")] = True
    least_decimals: Annotated[int, prop("Least decimals", low=0, high=9, group=_WRITING, keyed=False, changes="setting")] = 0
    most_decimals: Annotated[int, prop("Most decimals", low=0, high=9, group=_WRITING, keyed=False, changes="setting")] = 0
    least_digits: Annotated[int, prop("Least whole digits", low=1, high=16, group=_WRITING, keyed=False, changes="setting")] = 1
    sign: Annotated[Sign, prop("Sign", group=_WRITING, keyed=False, changes="setting")] = "only below zero"
    currency: Annotated[str, prop("Currency", group=_WRITING, keyed=False, changes="setting")] = "EUR"
    unit: Annotated[str, prop("Unit", group=_WRITING, keyed=False, changes="setting")] = "hectare"
    width: Annotated[Width, prop("Units are", group=_WRITING, keyed=False, changes="setting")] = "short"
    pattern: Annotated[str, prop("Pattern", group=_WRITING, keyed=False, changes="setting")] = "#,##0"
    clock: Annotated[Clock, prop("Clock", group=_WRITING, keyed=False, changes="setting")] = "m:ss"
    date: Annotated[DateStyle, prop("Date", group=_WRITING, keyed=False, changes="setting")] = "long"
    drop: Annotated[bool, prop("Drop-frame", group=_WRITING, keyed=False, changes="setting")] = False

    def how(self, rate: Fraction) -> How:
        """The same for who writes numbers; ``rate`` is the frame's."""
        names = (f for f in self.__struct_fields__ if f not in ("least_decimals", "most_decimals"))
        least, most = self.least_decimals, max(self.least_decimals, self.most_decimals)
        return How(**{name: getattr(self, name) for name in names}, least_decimals=least, most_decimals=most, rate=rate)


class CounterPart(TypesetPart, frozen=True, kw_only=True, tag="counter"):
    """A number that counts from ``start`` to ``end`` by whole ``step``s, with words before and after it.

    Those words are set in the first and in the second accent. The number keeps an edge or its decimal sign where it is; its figures
    take as much room as the widest, or as the font sets them. What fits around it goes by the widest number or by the last.
    ``turning`` is how many frames a change of figures takes at most, 0 all the time that a figure shows. Figures on wheels come and
    go at soft edges, or at hard ones.
    """

    start: Annotated[str, _EXACT, prop("From", group=_COUNT, keyed=False, kind="decimal", changes="setting")] = "0"
    end: Annotated[str, _EXACT, prop("To", group=_COUNT, keyed=False, kind="decimal", changes="setting")] = "100"
    step: Annotated[str, _EXACT, prop("Step", group=_COUNT, keyed=False, kind="decimal", changes="setting")] = "1"
    before: Annotated[str, prop("Before it", group="words", keyed=False)] = ""
    after: Annotated[str, prop("After it", group="words", keyed=False)] = ""
    count: Annotated[Counting, piece("count", "time")] = Counting()
    writing: Annotated[Writing, piece("writing", "setting")] = Writing()
    keeps: Annotated[Keeps, prop("Keeps its", group=_COUNT, keyed=False, changes="setting")] = "right edge"
    figures: Annotated[Figures, prop("Figures", group=_COUNT, keyed=False, changes="setting")] = "as wide as the widest"
    box: Annotated[AsWideAs, prop("As wide as", group=_COUNT, keyed=False, changes="setting")] = "widest number"
    change: Annotated[Change, prop("Figures change", group=_COUNT, keyed=False, changes="time")] = "at once"
    turning: Annotated[int, prop("Change takes", unit="frames", low=0, high=1_000, group=_COUNT, keyed=False, changes="time")] = 0
    blurred: Annotated[bool, prop("Blurred wheels", group=_COUNT, keyed=False, changes="time")] = False
    soft_edges: Annotated[bool, prop("Soft-edged wheels", group=_COUNT, keyed=False, changes="setting")] = True

    @property
    def counts(self) -> Count:
        """The count itself, exactly; by ones where the step is none."""
        step = exact(self.step)
        return Count(exact(self.start), exact(self.end), step if step > 0 else exact(1))

    @property
    def written(self) -> dict[str, str]:
        return {"before": self.before, "after": self.after}

    def own_faults(self, rate: Fraction) -> Iterator[str]:
        yield from super().own_faults(rate)
        for name, value in (("start", self.start), ("end", self.end), ("step", self.step)):
            try:
                exact(value)
            except ValueError as error:
                yield f"{name}: {self.name} {error}."
                return
        if exact(self.step) <= 0:
            yield f"step: {self.name} counts by {self.step}. A step is larger than 0."
        if fault := fault_of(self.writing.how(rate)):
            yield f"writing: {self.name}: {fault}"
