"""Edits of counters: a number in a text made to count, a counter made into words again, properties that run along."""

import re
from collections.abc import Sequence

import msgspec

from avlet.document.cards.carding import change_field, set_map, unwired
from avlet.document.cards.wires import Table
from avlet.document.editing.edits import need_part, prune_wires, put_part, set_relations
from avlet.document.editing.path_moves import with_paths_moved
from avlet.document.faults.checking import check
from avlet.document.fields.choice import ChoiceField, language_options
from avlet.document.metadata import KEYED_KINDS, get_at, properties, type_at
from avlet.document.parts import Accent, CounterPart, Counting, TextPart, TypesetPart, Writing
from avlet.document.targets import type_of
from avlet.document.template import Template
from avlet.document.time.keys import RunsWith
from avlet.errors import DocumentError
from avlet.numbers.exact import decimals_of, exact, plain
from avlet.numbers.typed import ENGLISH, read_number

replace = msgspec.structs.replace
_NUMBER = re.compile(r"[-−+]?\d(?:[\d.,'’    ]*\d)?")
_SHARED = TypesetPart.__struct_fields__


def number_in(text: str, languages: tuple[str, ...] = ENGLISH) -> tuple[str, str, str] | None:
    """The number of a text, as plain figures, with the words before and after it; None when it has none, or several."""
    found = list(_NUMBER.finditer(text))
    if len(found) != 1 or "\n" in text:
        return None
    try:
        value = plain(exact(read_number(found[0].group(), languages)))
    except ValueError:
        return None
    return value, text[: found[0].start()], text[found[0].end() :]


def counter_from(template: Template, part_id: str, languages: tuple[str, ...] = ENGLISH) -> Template:
    """A text that is a number, with words about it or not, made into a counter that counts up to that."""
    template = unwired(template, f"{part_id}/text")
    part = need_part(template, part_id)
    if not isinstance(part, TextPart):
        raise DocumentError(f"{part.name} is no text.")
    found = number_in(part.text, languages)
    if found is None:
        raise DocumentError(f"{part.name} is not one number, with words before or after it or without: “{part.text[:40]}”.")
    value, before, after = found
    decimals = decimals_of(exact(value))
    plain_look = Accent(part.family, part.style)
    made = CounterPart(
        **{name: getattr(part, name) for name in _SHARED if name != "accents"}, accents=(plain_look, plain_look) if before or after else (),
        start="0", end=value, step=plain(exact(10) ** -decimals) if decimals else "1", before=before, after=after,
        writing=Writing(language=languages[0], least_decimals=decimals, most_decimals=decimals, grouping=_grouped(part.text)),
    )  # fmt: skip
    return check(prune_wires(put_part(template, made)))


def _grouped(text: str) -> bool:
    """Whether a number is written in groups, or too short for that."""
    digits = re.sub(r"\D", "", text)
    return len(digits) < 4 or bool(re.search(r"\d[.,'’    ]\d{3}", text))


def text_from(template: Template, part_id: str, words: str) -> Template:
    """A counter made into the words that it ends on. What ran with it stays as it is."""
    part = need_part(template, part_id)
    if not isinstance(part, CounterPart):
        raise DocumentError(f"{part.name} is no counter.")
    made = TextPart(**{name: getattr(part, name) for name in _SHARED}, text=words)
    for other in template.parts:
        if any(run.counter == part_id for run in other.runs):
            template = with_paths_moved(template, other, replace(other, runs=tuple(r for r in other.runs if r.counter != part_id)))
    for path in ("start", "end", "step", "before", "after"):
        template = unwired(template, f"{part_id}/{path}") if template.wire_to(f"{part_id}/{path}") else template
    return check(prune_wires(put_part(template, made)))


def may_run(template: Template, part_id: str) -> list[tuple[str, str]]:
    """The properties of a part that can run with a counter, by path and label: those that can be keyed and do not run yet."""
    part = need_part(template, part_id)
    runs = {run.path for run in part.runs}
    keyed = {keyed.path for keyed in part.keys if keyed.how == "instead"}
    found = [p for p in properties(part) if p.type.keyed and p.type.kind in KEYED_KINDS and p.path not in runs | keyed]
    return [(p.path, p.type.label) for p in found]


def run_with(template: Template, part_id: str, path: str, counter_id: str) -> Template:
    """Let a property run with a counter: from nothing, or its least value, to what it is now."""
    part = need_part(template, part_id)
    kind, own = type_at(part, path), get_at(part, path)
    first = own if isinstance(own, str) else max(0.0, kind.low) if kind.low is not None else 0.0
    last = float(own) if not isinstance(own, str) and own != first else own if isinstance(own, str) else (kind.high or 100.0)
    run = RunsWith(path, counter_id, first, last)
    return check(put_part(template, replace(part, runs=(*(r for r in part.runs if r.path != path), run))))


def run_no_more(template: Template, part_id: str, path: str) -> Template:
    """A property that does not run with a counter any more; it is its own value again."""
    return set_relations(template, part_id, runs=tuple(r for r in need_part(template, part_id).runs if r.path != path))


def put_count(template: Template, part_id: str, **changes: object) -> Template:
    """Other times of a count: also what is no property, its ease and its tie."""
    part = need_part(template, part_id)
    if not isinstance(part, CounterPart):
        raise DocumentError(f"{part.name} is no counter.")
    count: Counting = replace(part.count, **changes)
    return check(put_part(template, replace(part, count=count)))


def leads_to_languages(template: Template, field_id: str) -> bool:
    """Whether what a field answers is the language of a counter."""
    return any(type_of(template, wire.target).name == "language" for wire in template.wires_from(field_id))


def with_languages(template: Template, field_id: str, codes: Sequence[str]) -> Template:
    """A choice of languages that offers others; those that stay keep their names, and samples what they answer with these."""
    field = template.card.field(field_id)
    if not isinstance(field, ChoiceField) or not codes:
        raise DocumentError(f"There is no choice “{field_id}” of one language at least on the card.")
    named = {option.id: option for option in field.options}
    options = tuple(named.get(option.id, option) for option in language_options(codes))
    default = field.default if field.default in codes else codes[0]
    tables = {
        wire.target: wire.map.rows
        for wire in template.wires_from(field_id)
        if isinstance(wire.map, Table) and type_of(template, wire.target).name == "language"
    }
    for target, rows in tables.items():
        template = set_map(template, target, Table({code: row for code, row in rows.items() if code in codes}))
    template = change_field(template, field_id, options=options, default=default)
    for target, rows in tables.items():
        template = set_map(template, target, Table({code: rows.get(code, code) for code in codes}))
    return template


def languages_of(template: Template) -> tuple[str, ...]:
    """The languages that a title's counters are written in."""
    return tuple(dict.fromkeys(part.writing.language for part in template.parts if isinstance(part, CounterPart)))
