"""Whether a wire's source, target and map suit each other."""

from collections.abc import Iterator
from typing import Any

from avlet.document.cards.formulas import COLOUR, SWITCH, WORDS, FormulaError, Unit, check_formula, parse, unit_named
from avlet.document.cards.wire_sources import FRAME_NAMES, NUMBERS, source_kind, source_of_name, source_words, table_rows
from avlet.document.cards.wires import Formula, Range, Straight, Table, Wire, underscored
from avlet.document.fields import NumberField
from avlet.document.house import PALETTE
from avlet.document.metadata import PropertyType
from avlet.document.targets import owner_name, type_of
from avlet.document.template import TEMPLATE, Template
from avlet.numbers.exact import in_figures


def unit_of(kind: str, unit: str) -> Unit:
    """What a value counts as in a formula."""
    if kind in NUMBERS:
        return unit_named(unit)
    return {"colour": COLOUR, "switch": SWITCH}.get(kind, WORDS)


def known_names(template: Template, wire: Wire, target: PropertyType) -> dict[str, Unit]:
    """Units of the names that a wire's formula may use: fields, and those measures and house colours that it names."""
    known: dict[str, Unit] = {"value": unit_of(*source_kind(template, wire.source)), "own": unit_of(target.kind, target.unit)}
    for field in template.card.fields:
        if field.numeric or field.kind in ("switch", "choice", "colour", "text"):
            known.setdefault(underscored(field.id), unit_of(*source_kind(template, field.id)))
    assert isinstance(wire.map, Formula)
    for name, _ in parse(wire.map.formula).names:
        source = source_of_name(template, name)
        if name in FRAME_NAMES:
            known[name] = unit_named("px")
        elif source is not None:
            known[name] = unit_of(*source_kind(template, source))
    return known


def wire_faults(template: Template, at: str, wire: Wire) -> Iterator[str]:
    """What is wrong with one wire, as sentences."""
    try:
        given, _ = source_kind(template, wire.source)
    except LookupError:
        what = "field" if "/" not in wire.source else "source"
        yield f"{at}.source: there is no {what} “{wire.source}”{' on the card' if what == 'field' else ''}."
        return
    owner, _, path = wire.target.partition("/")
    if owner not in (TEMPLATE, PALETTE) and template.part(owner) is None:
        yield f"{at}.target: “{wire.target}” leads to a part that is not in the template."
        return
    try:
        kind = type_of(template, wire.target)
    except LookupError:
        missing = (
            f"“{path}” is not in the house palette" if owner == PALETTE else f"{owner_name(template, wire.target)} has no property “{path}”"
        )
        yield f"{at}.target: {missing}."
        return
    yield from (f"{at}.map: {fault}" for fault in _map_faults(template, wire, given, kind))


def _map_faults(template: Template, wire: Wire, given: str, kind: PropertyType) -> Iterator[str]:
    named = f"{kind.label} of {owner_name(template, wire.target)}"
    match wire.map:
        case Straight():
            if not kind.accepts(given):
                yield f"the field “{source_words(template, wire.source)}” is a {given}, but {named} takes a {kind.kind}."
            elif kind.kind == "choice":
                wrong = [key for key, _ in table_rows(template, wire.source) if key not in kind.choices]
                if wrong:
                    yield f"{named} has no “{wrong[0]}”. Use a table, or one of {', '.join(kind.choices)}."
        case Range():
            if given not in NUMBERS or kind.kind not in NUMBERS:
                yield f"a range leads from number to number; {named} is a {kind.kind}, {source_words(template, wire.source)} a {given}."
            elif wire.map.from_low == wire.map.from_high:
                at = in_figures(wire.map.from_low)
                yield f"the range of {source_words(template, wire.source)} begins and ends at {at}. Make it wider."
        case Table(rows=rows):
            keys = [key for key, _ in table_rows(template, wire.source)]
            if not keys:
                yield f"a table needs a source with options; {source_words(template, wire.source)} is a {given}."
            for key, value in rows.items():
                if key not in keys:
                    yield f"{source_words(template, wire.source)} has no option “{key}”."
                try:
                    kind.check(value)
                except ValueError as error:
                    yield f"for “{key}”, {named} {error}."
        case Formula(formula=formula):
            free = kind.kind in NUMBERS and not kind.unit
            try:
                check_formula(formula, known_names(template, wire, kind), None if free else unit_of(kind.kind, kind.unit))
            except FormulaError as error:
                yield f"the formula for {named}: {error}"
            if kind.kind in ("gradient", "picture", "font", "form"):
                yield f"a formula cannot give a {kind.kind}."
            elif not formula.strip():
                yield f"the formula for {named} is empty."


def plain_range(template: Template, wire: Wire) -> Range:
    """A range to begin with: the field's own limits onto the property's."""
    field = template.card.field(wire.source) if "/" not in wire.source else None
    low, high = (field.low or 0.0, field.high or 100.0) if isinstance(field, NumberField) else (0.0, 100.0)
    kind: Any = type_of(template, wire.target)
    to_low = kind.low if kind.low is not None else low
    to_high = kind.high if kind.high is not None and kind.high <= 1000 else high
    return Range(low, high if high > low else low + 1, max(to_low, -1000.0), to_high)


def may_feed(template: Template, source: str, kind: PropertyType) -> bool:
    """Whether some map leads from a source to a property of this type."""
    try:
        given, _ = source_kind(template, source)
    except LookupError:
        return False
    numbers = given in NUMBERS and kind.kind in NUMBERS
    return numbers or kind.accepts(given) or bool(table_rows(template, source))
