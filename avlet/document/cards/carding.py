"""Edits of the card, its wires and what the house shares: putting on, taking off, ordering, wiring."""

from collections.abc import Sequence
from typing import Any

import msgspec

from avlet.document.cards.card import Card, Section
from avlet.document.cards.wire_plans import inputs
from avlet.document.cards.wire_sources import NUMBERS, source_kind, source_words, table_rows
from avlet.document.cards.wires import Formula, Map, Range, Straight, Table, Wire, row_of
from avlet.document.editing.edits import need_owner, set_property
from avlet.document.editing.naming import free_id
from avlet.document.faults.checking import check
from avlet.document.fields import FIELD_TYPES, Answer, Field, NumberField, plain
from avlet.document.house import PALETTE
from avlet.document.looks.forms import READY_FORMS, name_of_form
from avlet.document.metadata import PropertyType, get_at
from avlet.document.parts import AnyPart
from avlet.document.targets import owner_name, type_of, value_of
from avlet.document.template import Template
from avlet.errors import DocumentError
from avlet.numbers.exact import exact, in_figures

replace = msgspec.structs.replace
SHARE_OF_OWN = Formula("own * value / 100")
"""A percentage of the property's own value."""


# Putting on


def put_on_card(template: Template, target: str, label: str | None = None) -> tuple[Template, str]:
    """Make a field for a property, with its kind, limits and present value, already wired. Returns the field's id too."""
    return put_all_on_card(template, [target], label)


def put_all_on_card(template: Template, targets: Sequence[str], label: str | None = None) -> tuple[Template, str]:
    """One field that drives the same property of several parts. Returns the field's id too.

    Raises ``DocumentError`` for a property that is wired already, or that a part has not, or not any more.
    """
    for target in targets:
        try:
            type_of(template, target)
        except LookupError:
            whose, _, what = target.partition("/")
            raise DocumentError(f"{template.name_of(whose)} has no “{what}” that could be on the card. Select it again.") from None
    targets = [_faced(template, t) for t in targets]
    for target in targets:
        if template.wire_to(target):
            raise DocumentError(f"{type_of(template, target).label} of {owner_name(template, target)} has a wire already.")
    kind, value = type_of(template, targets[0]), value_of(template, targets[0])
    if len({type_of(template, t).kind for t in targets}) > 1:
        raise DocumentError("One field cannot drive properties of different kinds.")
    first, _, path = targets[0].partition("/")
    owner = template if first == PALETTE else need_owner(template, first)
    alone = owner_name(template, targets[0]) if first == PALETTE else field_label(owner, path, kind.label)
    label = label or (kind.label if len(targets) > 1 else alone)
    field_id = free_id(label, {f.id for f in template.card.entries})
    field = new_field(kind, field_id, label, value, owner, path)
    new = (Wire(field_id, t, _map_from(field, kind, value_of(template, t))) for t in targets)
    wires = (*template.wires, *new)
    return check(replace(template, card=with_field(template.card, field), wires=wires)), field_id


def _map_from(field: Field, kind: PropertyType, present: Any) -> Map:
    """Straight, but for what is chosen of several and stored otherwise: every form by its name, the present one as it is; a language."""
    if kind.kind == "form":
        return Table({name: plain(present if name == name_of_form(present) else form) for name, form in READY_FORMS.items()})
    if field.kind == "choice" and kind.kind == "text":
        return Table({key: key for key, _ in field.options_with(())})
    return Straight()


def _faced(template: Template, target: str) -> str:
    """A style alone cannot be answered; its family brings it along."""
    if target.endswith("style") and type_of(template, target).kind == "text" and not target.endswith("text_style"):
        return f"{target.removesuffix('style')}family"
    return target


def with_field(card: Card, field: Field, section: int = -1) -> Card:
    """A card with one more field, at the end of a section."""
    sections = list(card.sections or (Section(),))
    sections[section] = replace(sections[section], fields=(*sections[section].fields, field))
    return replace(card, sections=tuple(sections))


def field_label(part: AnyPart | Template, path: str, label: str) -> str:
    """What a field for a property is called at first: *Plate outline colour*, or just *Name* for a name's words."""
    if isinstance(part, Template):
        return label
    owner = {"outline": "outline ", "shadows": "shadow ", "glow": "glow "}.get(path.partition(".")[0], "")
    return part.name if path == "text" else f"{part.name} {owner}{label.lower()}"


def new_field(kind: PropertyType, field_id: str, label: str, value: Any, owner: AnyPart | Template, path: str) -> Field:
    """A field of the kind that suits a property, answering its value to start with."""
    style = get_at(owner, f"{path.removesuffix('family')}style") if kind.kind == "font" else ""
    for field_type in reversed(FIELD_TYPES):
        made = field_type.for_property(kind, field_id, label, value, style)
        if made is not None:
            return made  # type: ignore[return-value]
    raise DocumentError(f"A {kind.kind} cannot be put on the card.")


# Taking off


def take_off_card(template: Template, target: str) -> Template:
    """Remove the wire to a property; it keeps the value that the starting answer gives it. A field without wires goes too."""
    wire = template.wire_to(target)
    if wire is None:
        raise DocumentError(f"“{target}” has no wire.")
    template = unwired(template, target)
    return template if template.wires_from(wire.source) or "/" in wire.source else remove_field(template, wire.source)


def unwired(template: Template, target: str) -> Template:
    """A property without its wire. It keeps what a field answered straight to start with; else it is at its own value again."""
    wire = template.wire_to(target)
    if wire is None:
        return template
    field = template.card.field(wire.source) if "/" not in wire.source else None
    template = replace(template, wires=tuple(w for w in template.wires if w is not wire))
    if field is not None and isinstance(wire.map, Straight):
        return check(set_property(template, target, field.start_value(template.palette)))
    return check(template)


def left_behind(template: Template, field_id: str) -> list[str]:
    """What taking a field off the card leaves behind, in sentences: where properties stand, samples that lose an answer."""
    said = []
    for wire in template.wires_from(field_id):
        field = template.card.field(field_id)
        value = field.start_value(template.palette) if field is not None and isinstance(wire.map, Straight) else None
        shown = value if isinstance(value, str | float | int) and not isinstance(value, bool) else None
        stays = (
            f"stays at {in_figures(shown)}"
            if isinstance(shown, float | int)
            else f"stays “{shown}”"
            if shown
            else "stays as it is designed"
        )
        said.append(f"{type_of(template, wire.target).label} of {owner_name(template, wire.target)} {stays}.")
    losing = [s.name for s in template.samples if field_id in s.answers]
    if losing:
        said.append(f"Samples lose their answer to it: {', '.join(losing)}.")
    shown_by = [f.label for f in template.card.entries if f.shown_if is not None and f.shown_if.field == field_id]
    if shown_by:
        said.append(f"Always shown from now on: {', '.join(shown_by)}.")
    return said


def field_of(template: Template, field_id: str) -> Field:
    """A field of the card; raises ``DocumentError`` where it is not there, or is there no more."""
    field = template.card.field(field_id)
    if field is None:
        raise DocumentError(f"There is no field “{field_id}” on the card.")
    return field


def remove_field(template: Template, field_id: str) -> Template:
    """Take a field off the card, with its wires, what samples answer to it, and the conditions that hang on it."""
    for wire in template.wires_from(field_id):
        template = unwired(template, wire.target)
    _refuse_named(template, field_id)

    def kept(field: Field) -> Field:
        return replace(field, shown_if=None) if field.shown_if is not None and field.shown_if.field == field_id else field

    sections = tuple(replace(s, fields=tuple(kept(f) for f in s.fields if f.id != field_id)) for s in template.card.sections)
    samples = tuple(replace(s, answers={k: v for k, v in s.answers.items() if k != field_id}) for s in template.samples)
    return check(replace(template, card=replace(template.card, sections=sections), samples=samples))


def _refuse_named(template: Template, field_id: str) -> None:
    """Refuse to take a field away while a formula of another wire names it."""
    for wire in template.wires:
        if wire.source != field_id and field_id in inputs(template, wire):
            where = f"{type_of(template, wire.target).label} of {owner_name(template, wire.target)}"
            raise DocumentError(f"The formula for {where} uses “{field_id}”. Change that first.")


# Fields and sections


def put_field(template: Template, field: Field) -> Template:
    """The template with ``field`` in the place of the one with the same id."""
    sections = tuple(replace(s, fields=tuple(field if f.id == field.id else f for f in s.fields)) for s in template.card.sections)
    return check(replace(template, card=replace(template.card, sections=sections)))


def change_field(template: Template, field_id: str, **changes: Any) -> Template:
    """Other label, hint, limits … of a field; answers of samples that it no longer takes are let go."""
    field = field_of(template, field_id)
    try:
        field = msgspec.convert(msgspec.to_builtins(replace(field, **changes)), type(field))
    except msgspec.ValidationError as error:
        raise DocumentError(f"“{field.label}” cannot be that: {error}.") from None
    template = put_field(template, field)
    samples = tuple(
        replace(s, answers={k: v for k, v in s.answers.items() if k != field_id or not field.fault(v, template.palette)})
        for s in template.samples
    )
    return replace(template, samples=samples)


def add_field(template: Template, field: Field, section: int = -1) -> Template:
    """A new field or note, wired to nothing yet."""
    return check(replace(template, card=with_field(template.card, field, section)))


def add_section(template: Template, name: str) -> Template:
    """A new section at the end of the card."""
    return replace(template, card=replace(template.card, sections=(*template.card.sections, Section(name))))


def rename_section(template: Template, index: int, name: str) -> Template:
    """Give a section another name."""
    sections = tuple(replace(s, name=name.strip()) if n == index else s for n, s in enumerate(template.card.sections))
    return replace(template, card=replace(template.card, sections=sections))


def remove_section(template: Template, index: int) -> Template:
    """Take a section's heading away; its fields go to the end of the one before, or to the beginning of the one after."""
    sections = list(template.card.sections)
    gone = sections.pop(index)
    if not sections:
        sections = [Section("", gone.fields)]
    elif index > 0:
        sections[index - 1] = replace(sections[index - 1], fields=(*sections[index - 1].fields, *gone.fields))
    else:
        sections[0] = replace(sections[0], fields=(*gone.fields, *sections[0].fields))
    return replace(template, card=replace(template.card, sections=tuple(sections)))


def move_section(template: Template, index: int, to: int) -> Template:
    """A section in another place of the card."""
    sections = list(template.card.sections)
    sections.insert(max(0, min(to, len(sections) - 1)), sections.pop(index))
    return replace(template, card=replace(template.card, sections=tuple(sections)))


def move_field(template: Template, field_id: str, section: int, place: int) -> Template:
    """A field in another place: of a section, before the field that is number ``place`` there."""
    field = field_of(template, field_id)
    sections = list(template.card.sections)
    before = sections[section].fields[:place]
    place -= sum(f.id == field_id for f in before)
    sections = [replace(s, fields=tuple(f for f in s.fields if f.id != field_id)) for s in sections]
    fields = sections[section].fields
    sections[section] = replace(sections[section], fields=(*fields[:place], field, *fields[place:]))
    return replace(template, card=replace(template.card, sections=tuple(sections)))


def set_starting_answer(template: Template, field_id: str, value: Answer) -> Template:
    """What a field answers before an editor touches it."""
    return change_field(template, field_id, default=value)


def widened(template: Template, field_id: str, answer: Answer) -> Template:
    """The limits of a number's field made wide enough for what a designer answers it: they follow the count."""
    field = template.card.field(field_id)
    if not isinstance(field, NumberField) or isinstance(answer, bool | list | dict):
        return template
    number = float(exact(answer)) if isinstance(answer, str) else float(answer)
    low = field.low if field.low is None else min(field.low, number)
    high = field.high if field.high is None else max(field.high, number)
    return template if (low, high) == (field.low, field.high) else change_field(template, field_id, low=low, high=high)


def set_sample_answer(template: Template, sample_id: str, field_id: str, value: Answer) -> Template:
    """What one sample answers to a field."""
    samples = tuple(replace(s, answers={**s.answers, field_id: value}) if s.id == sample_id else s for s in template.samples)
    return replace(template, samples=samples)


# Wires


def wire_up(template: Template, source: str, target: str, how: Map | None = None) -> Template:
    """Wire a source to a property, with a map that suits both unless one is given."""
    present = template.wire_to(target)
    if present is not None:
        named = f"{type_of(template, target).label} of {owner_name(template, target)}"
        raise DocumentError(f"{named} has a wire from {source_words(template, present.source)} already. A property takes one.")
    wire = Wire(source, target, how if how is not None else suitable_map(template, source, target))
    return check(replace(template, wires=(*template.wires, wire)))


def suitable_map(template: Template, source: str, target: str) -> Map:
    """Straight where that works, else a table with the present value in each row, else a percentage or a formula."""
    kind = type_of(template, target)
    try:
        given, unit = source_kind(template, source)
    except LookupError:
        raise DocumentError(f"There is no source “{source}”.") from None
    rows = table_rows(template, source)
    if rows and not (kind.accepts(given) and (kind.kind != "choice" or all(key in kind.choices for key, _ in rows))):
        value = plain(value_of(template, target))
        return Table({key: value for key, _ in rows})
    if given in NUMBERS and kind.kind in NUMBERS and unit == "%" and kind.unit != "%":
        return SHARE_OF_OWN
    return Straight()


def set_map(template: Template, target: str, how: Map) -> Template:
    """Give a wire another map."""
    if template.wire_to(target) is None:
        raise DocumentError(f"“{target}” has no wire.")
    wires = tuple(replace(w, map=how) if w.target == target else w for w in template.wires)
    return check(replace(template, wires=wires))


def set_row(template: Template, target: str, answer: Any, value: Any) -> Template:
    """What a property is for one option: a value in the column of its wire's table."""
    wire = template.wire_to(target)
    if wire is None or not isinstance(wire.map, Table):
        raise DocumentError(f"“{target}” has no table.")
    return set_map(template, target, Table({**wire.map.rows, row_of(answer): plain(value)}))


def answer_for(template: Template, wire: Wire, value: Any, answer: Any) -> Any:
    """What a wire's field has to answer so that the target becomes ``value``; ``answer`` is what it answers now.

    Raises ``DocumentError`` in words where no answer does that.
    """
    field = template.card.field(wire.source)
    named = f"{type_of(template, wire.target).label} of {owner_name(template, wire.target)}"
    if field is None or isinstance(wire.map, Formula | Table):
        raise DocumentError(f"{named} is worked out from {source_words(template, wire.source)}. Change its wire on the Card bench.")
    if isinstance(wire.map, Range):
        span = wire.map
        if span.ease is not None or span.to_high == span.to_low:
            raise DocumentError(f"{named} follows {field.label} along a curve. Change the field itself.")
        share = (value - span.to_low) / (span.to_high - span.to_low)
        return span.from_low + (span.from_high - span.from_low) * (min(1.0, max(0.0, share)) if span.clamp else share)
    return field.answer_to(value, answer, named, template.palette)


def write_option(template: Template, field_id: str, answer: Any, target: str, value: Any) -> Template:
    """A property that is ``value`` for one option of a field and stays as it is for the others; wired by a table if it is not yet.

    Where it is then the same for every option it has that value by itself, and no wire.
    """
    if template.wire_to(target) is None:
        own = plain(value_of(template, target))
        rows = {key: own for key, _ in table_rows(template, field_id)}
        template = wire_up(template, field_id, target, Table(rows))
    template = set_row(template, target, answer, value)
    wire = template.wire_to(target)
    rows = dict(wire.map.rows) if wire is not None and isinstance(wire.map, Table) else {}
    if not all(key in rows and rows[key] == plain(value) for key, _ in table_rows(template, field_id)):
        return template
    return set_property(unwired(template, target), target, value)
