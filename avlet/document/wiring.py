"""How wires hang together: what each needs, in which order they are worked out, and whether their maps suit them."""

from collections import OrderedDict
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from graphlib import CycleError, TopologicalSorter
from typing import Any

from avlet.document.fields import ColourField, Field, NumberField
from avlet.document.formulas import COLOUR, SWITCH, WORDS, FormulaError, Unit, check_formula, parse, unit_named
from avlet.document.house import PALETTE
from avlet.document.metadata import PropertyType
from avlet.document.targets import house_entries, owner_name, type_of, words_for
from avlet.document.template import TEMPLATE, Template
from avlet.document.wires import LENGTH, MEASURES, REST, Formula, Range, Straight, Table, Wire, measure_of
from avlet.errors import DocumentError

NUMBERS = ("number", "whole", "length")
COUNTED = ("lines", "words", "letters")


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
        return "number", "" if measured[1] in COUNTED else "px"
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
        what = f"number of {measured[1]}" if measured[1] in COUNTED else f"rest {measured[1]}"
        return f"{template.name_of(measured[0])}: {what}"
    if source == LENGTH:
        return "Length of the title"
    return words_for(template, source)


def _underscored(name: str) -> str:
    return name.replace("-", "_")


def source_of_name(template: Template, name: str) -> str | None:
    """The source that a name in a formula stands for."""
    owner, point, path = name.partition(".")
    if not point:
        return next((f.id for f in template.card.fields if _underscored(f.id) == name), None)
    if owner == TEMPLATE:
        return LENGTH if path == "length" else None
    if owner == PALETTE:
        return next((f"{PALETTE}/{e.id}" for e in template.palette if _underscored(e.id) == path), None)
    if path in MEASURES:
        return next((f"{p.id}/{REST}{path}" for p in template.parts if _underscored(p.id) == owner), None)
    return None


FRAME_NAMES = ("frame.width", "frame.height")


def inputs(template: Template, wire: Wire) -> list[str]:
    """All sources that a wire needs; a colour of the house palette needs the whole palette."""
    found = [wire.source]
    if isinstance(wire.map, Formula):
        for name, _ in parse(wire.map.formula).names:
            source = source_of_name(template, name)
            if source is not None:
                found.append(source)
    for source in list(found):
        field = template.card.field(source) if "/" not in source else None
        if isinstance(field, ColourField) and field.may_be == "house palette":
            found.append(f"{PALETTE}/")
    return found


def _feeds(target: str, source: str) -> bool:
    """Whether what a wire sets is (a piece of) what another one needs."""
    if source == f"{PALETTE}/":
        return target.startswith(source)
    return source == target or source.startswith(f"{target}.") or target.startswith(f"{source}.")


def ordered(template: Template) -> list[Wire]:
    """Every wire after those that set what it needs; raises ``DocumentError`` naming the circle."""
    wires = template.wires
    if all("/" not in w.source and not isinstance(w.map, Formula) and not w.target.startswith(PALETTE) for w in wires):
        return list(wires)
    graph: dict[int, set[int]] = {}
    for index, wire in enumerate(wires):
        needed = [s for s in inputs(template, wire) if "/" in s]
        graph[index] = {n for n, other in enumerate(wires) if any(_feeds(other.target, s) for s in needed)}
    try:
        return [wires[i] for i in TopologicalSorter(graph).static_order()]
    except CycleError as error:
        said = [words_for(template, wires[i].target) for i in error.args[1][1:]]
        raise DocumentError(f"These wires run in a circle: {' → '.join(said)}. Take one of them off.") from None


def measured_wires(template: Template, wires: list[Wire]) -> dict[str, set[tuple[str, str]]]:
    """For the target of each wire that hangs on the resting layout, at first or at last: the parts and measures it hangs on.

    ``wires`` are in order.
    """
    found: dict[str, set[tuple[str, str]]] = {}
    for wire in wires:
        needs: set[tuple[str, str]] = set()
        for source in inputs(template, wire) if "/" in wire.source or isinstance(wire.map, Formula) else ():
            measured = measure_of(source)
            if measured is not None:
                needs.add(measured)
            for target, more in found.items():
                if _feeds(target, source):
                    needs |= more
        if needs:
            found[wire.target] = needs
    return found


@dataclass(frozen=True)
class Plan:
    """A template's wires in the order in which they are worked out, and what those that hang on measures hang on, by target."""

    wires: tuple[Wire, ...]
    hangs_on: Mapping[str, frozenset[tuple[str, str]]]


_plans: OrderedDict[int, tuple[tuple[Wire, ...], object, Plan]] = OrderedDict()
_MOST_PLANS = 32


def plan_of(template: Template) -> Plan:
    """The plan of a template's wires; kept while these, and all names that they use, stay the same."""
    names = (
        tuple(p.id for p in template.parts),
        tuple((f.id, getattr(f, "may_be", "")) for f in template.card.fields),
        tuple(e.id for e in house_entries(template)),
    )
    kept = _plans.get(id(template.wires))
    if kept is not None and kept[0] is template.wires and kept[1] == names:
        return kept[2]
    wires = ordered(template)
    hangs_on = {target: frozenset(needs) for target, needs in measured_wires(template, wires).items()}
    plan = Plan(tuple(wires), hangs_on)
    _plans[id(template.wires)] = template.wires, names, plan
    while len(_plans) > _MOST_PLANS:
        _plans.popitem(last=False)
    return plan


# Do the maps suit


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
            known.setdefault(_underscored(field.id), unit_of(*source_kind(template, field.id)))
    assert isinstance(wire.map, Formula)
    for name, _ in parse(wire.map.formula).names:
        source = source_of_name(template, name)
        if name in FRAME_NAMES:
            known[name] = unit_named("px")
        elif source is not None:
            known[name] = unit_of(*source_kind(template, source))
    return known


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
                yield f"the range of {source_words(template, wire.source)} begins and ends at {wire.map.from_low:g}. Make it wider."
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
            if kind.kind in ("gradient", "picture", "font"):
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
