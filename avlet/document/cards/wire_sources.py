"""What a wire can begin at: what it gives, how it is called, which options it has."""

from avlet.document.cards.wires import LENGTH, MEASURES, REST, measure_of, underscored
from avlet.document.fields import Field
from avlet.document.house import PALETTE
from avlet.document.metadata import PropertyType
from avlet.document.targets import type_of, words_for
from avlet.document.template import TEMPLATE, Template

NUMBERS = ("number", "whole", "length", "decimal")
COUNTED = ("lines", "words", "letters")
UNITLESS = (*COUNTED, "final")


def source_kind(template: Template, source: str) -> tuple[str, str]:
    """Kind and unit of what a source gives; raises ``LookupError`` when there is no such thing."""
    if "/" not in source:
        field = template.card.field(source)
        if field is None or not field.asks:
            raise LookupError(source)
        return field.kind, field.measured_in
    measured = measure_of(source)
    if measured is not None:
        if template.part(measured[0]) is None:
            raise LookupError(source)
        return "number", "" if measured[1] in UNITLESS else "px"
    if source == LENGTH:
        return "whole", "frames"
    kind = type_of(template, source)
    return kind.kind, kind.unit


def source_words(template: Template, source: str) -> str:
    """A source in words: *Side*, *Name's rest width*, *Deep water*."""
    if "/" not in source:
        field = template.card.field(source)
        return field.label if field else source
    measured = measure_of(source)
    if measured is not None:
        what = f"number of {measured[1]}" if measured[1] in COUNTED else OF_COUNTERS.get(measured[1], f"rest {measured[1]}")
        return f"{template.name_of(measured[0])}: {what}"
    if source == LENGTH:
        return "Length of the title"
    return words_for(template, source)


OF_COUNTERS = {"slots": "width of its slots", "final": "final number"}


def source_of_name(template: Template, name: str) -> str | None:
    """The source that a name in a formula stands for."""
    owner, point, path = name.partition(".")
    if not point:
        return template.card.by_formula_name.get(name)
    if owner == TEMPLATE:
        return LENGTH if path == "length" else None
    if owner == PALETTE:
        return next((f"{PALETTE}/{e.id}" for e in template.palette if underscored(e.id) == path), None)
    if path in MEASURES:
        part_id = template.part_by_formula_name.get(owner)
        return None if part_id is None else f"{part_id}/{REST}{path}"
    return None


FRAME_NAMES = ("frame.width", "frame.height")


def rows_needed(field: Field | None, kind: PropertyType | None) -> list[tuple[str, str]]:
    """Key and name of each row that a table can have, by the options of its source."""
    if field is not None:
        return field.options_with(())
    if kind is not None and kind.kind == "switch":
        return [("yes", "yes"), ("no", "no")]
    return [(choice, choice) for choice in kind.choices] if kind is not None else []


def table_rows(template: Template, source: str) -> list[tuple[str, str]]:
    """Key and name of each row of a table from a source; empty where no table can be made."""
    if "/" not in source:
        return rows_needed(template.card.field(source), None)
    try:
        return rows_needed(None, type_of(template, source))
    except LookupError:
        return []
