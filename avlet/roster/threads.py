"""Which columns lead to which fields: found by id, label or likeness of name, and redrawn by hand."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from rapidfuzz import fuzz

from avlet.document.cards.answers import find_field
from avlet.document.template import Template
from avlet.errors import AnswerError
from avlet.roster.sheet import Head, Sheet

LENGTH, OUTPUT = "@length", "@output"
"""Targets that are no fields: how long a title is, and which kinds of file a row wants."""
_NAMES = {
    LENGTH: ("length of the title", "length", "frames", "duration"),
    OUTPUT: ("written as", "output", "outputs", "deliver as", "category of output"),
}
_ALIKE = 80.0
"""From this likeness on, of 100, a head is taken for a label."""
_MEANINGS = (
    {"name", "guest", "person", "speaker", "presenter", "full name", "interviewee", "who", "player", "artist"},
    {"role", "job", "title", "position", "function", "occupation", "profession", "job title", "what they do"},
    {"place", "location", "town", "city", "where", "venue"},
    {"colour", "color", "bar colour", "plate colour", "team colour"},
    {"number", "figure", "count", "amount", "value", "score"},
    {"picture", "photo", "image", "portrait", "logo"},
    {"date", "day", "when"},
)
"""Words that stand for each other as heads of tables of guests and as labels of cards (common practice, no source)."""


@dataclass(frozen=True)
class Thread:
    """A column, by its number, and what its cells are given to."""

    column: int
    target: str


@dataclass(frozen=True)
class Target:
    """Something that a column may lead to."""

    id: str
    label: str


def targets_of(template: Template) -> tuple[Target, ...]:
    """All that columns may lead to: the card's fields, the title's length, its kinds of file."""
    fields = tuple(Target(f.id, f.label) for f in template.card.fields if f.asks)
    return (*fields, Target(LENGTH, "Length of the title"), Target(OUTPUT, "Written as"))


def threads_for(heads: Sequence[Head], template: Template) -> tuple[Thread, ...]:
    """Threads as they suggest themselves: by id or label first, then the likest names, each target once a language."""
    targets = targets_of(template)
    scored = [
        (score, -column, -number, target.id)
        for column, head in enumerate(heads)
        for number, target in enumerate(targets)
        if (score := _likeness(head.name, target)) >= _ALIKE
    ]
    threads: tuple[Thread, ...] = ()
    used: set[int] = set()
    for _, column, _, target_id in sorted(scored, reverse=True):
        if -column not in used and not any(t.target == target_id and heads[t.column].language == heads[-column].language for t in threads):
            used.add(-column)
            threads = (*threads, Thread(-column, target_id))
    return tuple(sorted(threads, key=lambda t: t.column))


def _likeness(name: str, target: Target) -> float:
    """How like a head is to what it may lead to, 0 to 100; 200 for the id, 150 for the label itself, 120 for the same meaning.

    One that is all in the other, word by word, is alike as well: *Bar* and *Bar colour*.
    """
    words = name.strip().casefold()
    if words == target.id:
        return 200.0
    known = _NAMES.get(target.id, (target.label.casefold(),))
    if words in known:
        return 150.0
    if target.id in _NAMES or not words:
        return 0.0
    label = known[0]
    if any(words in meaning and label in meaning for meaning in _MEANINGS):
        return 120.0
    mine, theirs = set(words.split()), set(label.split())
    if mine <= theirs or theirs <= mine:
        return 100.0 - 2 * len(mine ^ theirs)
    return fuzz.ratio(words, label)


def with_thread(threads: Iterable[Thread], heads: Sequence[Head], column: int, target: str | None) -> tuple[Thread, ...]:
    """With a column leading to a target, or to nothing. What led there in the same language before does so no more."""
    kept = [t for t in threads if t.column != column and (t.target != target or heads[t.column].language != heads[column].language)]
    return tuple(sorted([*kept, *([Thread(column, target)] if target is not None else [])], key=lambda t: t.column))


def read_threads(sheet: Sheet, template: Template, given: Iterable[str]) -> tuple[Thread, ...]:
    """Threads as they suggest themselves, with ``COLUMN=FIELD`` words over them; an empty FIELD takes a thread away.

    Raises ``AnswerError`` for a column or field that is not there, and for two columns that are given the same field.
    """
    threads = threads_for(sheet.heads, template)
    named: dict[tuple[str, str], str] = {}
    for pair in given:
        name, equals, field = pair.rpartition("=")
        if not equals:
            raise AnswerError(f"“{pair}” is not COLUMN=FIELD.")
        column = sheet.column(name)
        target = target_named(template, field.strip()) if field.strip() else None
        if target is not None:
            key = (target, sheet.heads[column].language)
            if key in named and named[key] != sheet.heads[column].words:
                raise AnswerError(
                    f"Two columns, “{named[key]}” and “{sheet.heads[column].words}”, cannot lead to one field “{field.strip()}”."
                )
            named[key] = sheet.heads[column].words
        threads = with_thread(threads, sheet.heads, column, target)
    return threads


def target_named(template: Template, name: str) -> str:
    """A target by id, label, or one of the names of those that are no fields; raises ``AnswerError``."""
    words = name.casefold()
    try:
        return find_field(template, name).id
    except AnswerError:
        special = next((i for i, known in _NAMES.items() if words == i or words in known), None)
        if special is None:
            raise
        return special
