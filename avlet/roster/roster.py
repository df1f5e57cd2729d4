"""A roster as a value: a table, threads, and what is wanted of each row. And its plan: every file that is to be made."""

import dataclasses
import functools
import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from typing import Any

from avlet.document.metadata import brief
from avlet.document.template import Template
from avlet.errors import AnswerError
from avlet.layout.other_frame import in_frame
from avlet.media.plates import PLATES
from avlet.numbers.languages import language_name
from avlet.roster.answering import Answered, Answering, in_words
from avlet.roster.kinds import KINDS, Kind
from avlet.roster.names import Names, unlike, usual_pattern
from avlet.roster.sheet import Line, Sheet
from avlet.roster.threads import LENGTH, OUTPUT, Thread, threads_for

_SIZE = re.compile(r"(\d{2,5})\s*[x×]\s*(\d{2,5})")


@dataclass(frozen=True)
class Wanted:
    """What is made of each row: kinds × frames × languages.

    ``frames`` are sizes in px; none stands for the template's own. ``languages`` are those of columns; none for the columns' first.
    ``pattern`` is empty for the usual one, ``at`` the frame of stills, None for the middle of the hold.
    """

    kinds: tuple[Kind, ...] = (KINDS[0],)
    plate: str = PLATES[0]
    frames: tuple[tuple[int, int], ...] = ()
    languages: tuple[str, ...] = ()
    pattern: str = ""
    empty: bool = False
    at: int | None = None


@dataclass(frozen=True)
class Roster:
    """A table, its threads, and what is wanted."""

    sheet: Sheet
    threads: tuple[Thread, ...]
    wanted: Wanted = field(default_factory=Wanted)

    @classmethod
    def of(cls, sheet: Sheet, template: Template, wanted: Wanted | None = None) -> "Roster":
        """A roster whose threads suggest themselves."""
        return cls(sheet, threads_for(sheet.heads, template), wanted or Wanted())

    @property
    def pattern(self) -> str:
        """The pattern of file names."""
        return self.wanted.pattern or usual_pattern(self.sheet, (t.column for t in self.threads if t.target not in (LENGTH, OUTPUT)))

    @property
    def languages(self) -> tuple[str, ...]:
        """The languages that are made; one without a name where columns name none."""
        return self.wanted.languages or self.sheet.languages[:1] or ("",)


@dataclass(frozen=True)
class Item:
    """One file that is to be made. ``line`` is the place of its row among the table's lines, ``frame`` that among the plan's templates."""

    line: int
    kind: Kind
    frame: int
    language: str
    name: str


@dataclass(frozen=True)
class Plan:
    """All that follows from a roster and a template: files by name, rows that cannot be made and why, and what is to be said.

    ``templates`` are the template in each frame, ``names`` what the files of each row are called, without what tells them apart.
    """

    roster: Roster
    templates: tuple[Template, ...]
    names: tuple[str, ...]
    items: tuple[Item, ...]
    faulty: dict[int, str]
    remarks: tuple[str, ...]

    @functools.cached_property
    def _answering(self) -> tuple[Answering, ...]:
        return tuple(Answering(t, self.roster.sheet, self.roster.threads, self.roster.wanted.empty) for t in self.templates)

    def answered(self, line: int, language: str, frame: int = 0) -> Answered:
        """What a line answers, in one frame and language."""
        return self._answering[frame].of(self.roster.sheet.lines[line], language)

    @property
    def rows(self) -> tuple[Line, ...]:
        """The table's lines."""
        return self.roster.sheet.lines


_ROWS = re.compile(r"\s*(\d{1,9})\s*(?:[-–]\s*(\d{1,9})\s*)?")


def rows_named(plan: Plan, words: str) -> frozenset[int]:
    """Places of rows that are named by their numbers, such as ``3, 7-12``. Raises ``AnswerError`` for what names none."""
    by_number = {line.number: place for place, line in enumerate(plan.rows)}
    last = max(by_number, default=0)
    found: set[int] = set()
    for piece in words.split(","):
        read = _ROWS.fullmatch(piece)
        if read is None:
            raise AnswerError(f"“{brief(piece.strip())}” names no rows. Write their numbers, such as 3, 7-12.")
        first, end = int(read[1]), int(read[2] or read[1])
        asked = {place for number, place in by_number.items() if first <= number <= end}
        if not asked:
            raise AnswerError(f"The table has no row {piece.strip()}: its rows are 1 to {last:,}, empty ones left out.")
        found |= asked
    return frozenset(found)


def plan_of(roster: Roster, template: Template) -> Plan:
    """Work out all files of a roster. Raises ``AnswerError`` or ``DocumentError`` for what concerns all rows."""
    sheet, wanted = roster.sheet, roster.wanted
    if not leads_to_fields(roster.threads, template):
        heads = ", ".join(head.words for head in sheet.heads[:8])
        raise AnswerError(f"No column of “{sheet.name}” leads to a field of {template.name}. Its columns: {heads}.")
    if strange := next((lang for lang in wanted.languages if lang not in sheet.languages), None):
        known = ", ".join(sheet.languages) or "none"
        raise AnswerError(f"No column of “{sheet.name}” is in “{strange}”. Languages of its columns: {known}.")
    templates = tuple(in_frame(template, size) for size in (wanted.frames or ((template.frame.width, template.frame.height),)))
    answering = Answering(templates[0], sheet, roster.threads, wanted.empty)
    names = Names(sheet, roster.pattern)
    bases, changed = unlike(names.of(line) for line in sheet.lines)
    remarks = [*sheet.remarks]
    for place, before in changed[:3]:
        one, other = sheet.lines[before].number, sheet.lines[place].number
        remarks.append(f"Rows {one} and {other} make the same file name, “{bases[before]}”; row {other} is “{bases[place]}”.")
    if len(changed) > 3:
        remarks.append(f"{len(changed)} rows in all make names that were taken; each has a number behind it.")
    items: list[Item] = []
    faulty: dict[int, str] = {}
    for place, line in enumerate(sheet.lines):
        made, fault = _items_of(roster, answering, templates, place, line, bases[place])
        items += made
        if fault:
            faulty[place] = fault
    return Plan(roster, templates, tuple(bases), tuple(items), faulty, tuple(dict.fromkeys(remarks)))


def leads_to_fields(threads: Iterable[Thread], template: Template) -> bool:
    """Whether a thread leads to a field that the template's card has."""
    return any(template.card.field(t.target) is not None for t in threads)


def _items_of(
    roster: Roster, answering: Answering, templates: tuple[Template, ...], place: int, line: Line, base: str
) -> tuple[list[Item], str]:
    """The files of one line, or why there are none."""
    items: list[Item] = []
    for language in roster.languages:
        answered = answering.of(line, language)
        if answered.faults:
            return [], in_words(answered.faults, roster.sheet.heads)
        kinds = answered.kinds if answered.kinds is not None else roster.wanted.kinds
        for frame, template in enumerate(templates):
            size = f"{template.frame.width}x{template.frame.height}" if len(templates) > 1 else ""
            tails = [size, language.lower() if len(roster.languages) > 1 else ""]
            for kind in kinds:
                tail = [*tails, kind.tail if sum(k.suffix == kind.suffix for k in kinds) > 1 else ""]
                items.append(Item(place, kind, frame, language, "-".join([base, *filter(None, tail)]) + kind.suffix))
    return items, ""


def read_size(words: str) -> tuple[int, int]:
    """A frame's size from words such as ``1080x1920``; raises ``AnswerError``."""
    found = _SIZE.fullmatch(words.strip().lower())
    if found is None:
        raise AnswerError(f"“{words}” is no frame size. Write it as 1080x1920.")
    return int(found[1]), int(found[2])


def language_words(language: str) -> str:
    """A language for people."""
    return language_name(language) if language else "the table's own"


def shape_words(size: tuple[int, int]) -> str:
    """A frame's size for people."""
    return f"{size[0]}×{size[1]}"


def with_wanted(roster: Roster, **changes: Any) -> Roster:
    """The roster with something else wanted."""
    return dataclasses.replace(roster, wanted=dataclasses.replace(roster.wanted, **changes))


def usual_frames(template: Template) -> Iterator[tuple[int, int]]:
    """Frames that are offered: the template's own, and usual shapes with as many px on the shorter side (common practice, no source)."""
    own = (template.frame.width, template.frame.height)
    side = min(own)
    offered = [(round(side * 16 / 9 / 2) * 2, side), (side, round(side * 16 / 9 / 2) * 2), (side, side), (side, round(side * 5 / 8) * 2)]
    yield from dict.fromkeys([own, *offered])
