"""Edits: functions from one template to the next. None of them changes what it is given.

An edit raises ``DocumentError`` in words when it cannot be done; relations that would run in a circle are refused
by :func:`avlet.layout.graph.order`, which every caller that changes relations asks as well.
"""

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any

import msgspec

from avlet.document.card import (
    Answer,
    ColourField,
    Field,
    FieldKind,
    NumberField,
    Section,
    SwitchField,
    TextField,
    Wire,
)
from avlet.document.checking import check
from avlet.document.metadata import get_at, put_at, type_at
from avlet.document.moves import Move, OwnWayOut, Tie
from avlet.document.naming import free_id
from avlet.document.parts import AnyPart, EchoPart, Fit, Matte, PatternPart, Place, RulePart, fit_of, followed_by, members_of
from avlet.document.template import TEMPLATE, Template
from avlet.errors import DocumentError

replace = msgspec.structs.replace


def need_part(template: Template, part_id: str) -> AnyPart:
    """The part with this id; raises ``DocumentError`` if there is none."""
    part = template.part(part_id)
    if part is None:
        raise DocumentError(f"There is no part “{part_id}” in {template.name}.")
    return part


def need_owner(template: Template, part_id: str) -> AnyPart | Template:
    """What a property's path begins with; raises ``DocumentError`` if it is nothing."""
    return template if part_id == TEMPLATE else need_part(template, part_id)


def put_part(template: Template, part: AnyPart) -> Template:
    """The template with ``part`` in the place of the one with the same id."""
    need_part(template, part.id)
    return replace(template, parts=tuple(part if p.id == part.id else p for p in template.parts))


def set_property(template: Template, target: str, value: object) -> Template:
    """Set one property by its path ``part/property``; the value is checked against its type and limits."""
    part_id, _, path = target.partition("/")
    part = need_owner(template, part_id)
    try:
        kind = type_at(part, path)
    except LookupError:
        raise DocumentError(f"{part.name} has no property “{path}”.") from None
    try:
        checked = kind.check(value)
    except ValueError as error:
        raise DocumentError(f"{kind.label} of {part.name} {error}.") from None
    if isinstance(part, Template):
        return put_at(part, path, checked)
    return put_part(template, put_at(part, path, checked))


def set_relations(template: Template, part_id: str, **changes: Any) -> Template:
    """Replace whole relations or moves of a part: ``fit``, ``across``, ``down``, ``mattes``, ``way_in``, ``way_out``."""
    part = replace(need_part(template, part_id), **changes)
    return check(prune_wires(put_part(template, part)))


def put_struct(template: Template, part_id: str, path: str, value: object) -> Template:
    """Put a whole value (a paint, an outline, a form) at a dotted path below a part; wires that lead nowhere now are dropped."""
    part = put_at(need_part(template, part_id), path, value)
    return check(prune_wires(put_part(template, part)))


def add_part(template: Template, part: AnyPart, index: int | None = None) -> Template:
    """Add a part, in front of all others unless ``index`` says where."""
    at = len(template.parts) if index is None else index
    return check(replace(template, parts=(*template.parts[:at], part, *template.parts[at:])))


def rename_part(template: Template, part_id: str, name: str) -> Template:
    """Give a part another name; its id, which relations use, stays."""
    if not name.strip():
        raise DocumentError("A part needs a name.")
    return put_part(template, replace(need_part(template, part_id), name=name.strip()))


def duplicate_parts(template: Template, part_ids: Sequence[str]) -> tuple[Template, list[str]]:
    """Copies of parts, in front of the foremost of them. Relations among them become relations among the copies.

    Returns the template and the copies' ids, in the order of the parts.
    """
    wanted = {*part_ids, *(m for i in part_ids for m in members_of(template.parts, i, deep=True))}
    originals = [p for p in template.parts if p.id in wanted]
    taken = {p.id for p in template.parts}
    names: dict[str, str] = {}
    for part in originals:
        names[part.id] = free_id(part.id, taken)
        taken.add(names[part.id])
    at = max(template.parts.index(p) for p in originals) + 1
    copies = tuple(replace(_led_by(p, names), id=names[p.id], name=f"{p.name} copy") for p in originals)
    made = replace(template, parts=(*template.parts[:at], *copies, *template.parts[at:]))
    return check(made), [names[i] for i in part_ids if i in names]


def _led_by(part: AnyPart, names: Mapping[str, str]) -> AnyPart:
    """A part whose relations lead to the parts of other names."""
    fit = fit_of(part)
    if fit is not None:
        part = replace(part, fit=replace(fit, around=tuple(names.get(i, i) for i in fit.around)))
    for axis in ("across", "down"):
        place = getattr(part, axis)
        if place is not None and place.on in names:
            part = replace(part, **{axis: replace(place, on=names[place.on])})
    if isinstance(part, EchoPart):
        part = replace(part, of=names.get(part.of, part.of))
    mattes = tuple(replace(m, inside=names.get(m.inside, m.inside)) for m in part.mattes)
    part = _with_ties(part, lambda tie: replace(tie, on=names.get(tie.on, tie.on)))
    return replace(part, mattes=mattes, group=names.get(part.group, part.group) if part.group else None)


def copied(template: Template, part_id: str) -> bytes:
    """A part as bytes for a clipboard."""
    return msgspec.json.encode(need_part(template, part_id))


def pasted(template: Template, data: bytes) -> tuple[Template, str]:
    """A part from a clipboard, in front of all others; relations to parts that are not here are let go. Returns its id too.

    An echo of a part that is not here is refused.
    """
    try:
        part = msgspec.json.decode(data, type=AnyPart)
    except msgspec.DecodeError as error:
        raise DocumentError(f"What was copied is not a part ({error}).") from None
    here = {p.id for p in template.parts}
    if isinstance(part, EchoPart) and part.of not in here:
        raise DocumentError(f"{part.name} is an echo of a part that is not in {template.name}. Copy that one.")
    part = _with_ties(replace(part, group=None), lambda tie: tie if tie.on in here else None)
    for other in set(followed_by(part)) - here:
        part = _let_go(part, other, (100.0, 100.0, 400.0, 120.0))
    part = replace(part, id=free_id(part.id, here), name=part.name if part.id not in here else f"{part.name} copy")
    return add_part(template, part), part.id


def followers(template: Template, part_id: str) -> list[AnyPart]:
    """The parts that follow a part by fit, place or matte."""
    return [p for p in template.parts if part_id in followed_by(p)]


def remove_parts(template: Template, part_ids: Iterable[str], frozen: dict[str, tuple[float, float, float, float]]) -> Template:
    """Remove several parts, groups with their members; see :func:`remove_part`."""
    for part_id in part_ids:
        for one in [*members_of(template.parts, part_id, deep=True), part_id]:
            if template.part(one) is not None:
                template = remove_part(template, one, frozen)
    return template


def remove_part(template: Template, part_id: str, frozen: dict[str, tuple[float, float, float, float]]) -> Template:
    """Remove a part; those that follow it stay where they are, its echoes go with it.

    ``frozen`` gives the resting box (x, y, width, height in px) of each part by id.
    """
    need_part(template, part_id)
    for echo in [p.id for p in template.parts if isinstance(p, EchoPart) and p.of == part_id]:
        if template.part(echo) is not None:
            template = remove_part(template, echo, frozen)
    parts = tuple(_let_go(p, part_id, frozen[p.id]) for p in template.parts if p.id != part_id)
    return check(prune_wires(replace(template, parts=parts)))


def _let_go(part: AnyPart, other: str, box: tuple[float, float, float, float]) -> AnyPart:
    x, y, width, height = box
    if part.group == other:
        part = replace(part, group=None)
    fit = fit_of(part)
    if fit is not None and other in fit.around:
        around = tuple(i for i in fit.around if i != other)
        if around:
            part = replace(part, fit=replace(fit, around=around))
        else:
            part = replace(
                part, fit=None, across=part.across or Place(gap=x), down=part.down or Place(gap=y), **own_size(part, width, height)
            )
    if part.across and part.across.on == other:
        part = replace(part, across=Place(gap=x))
    if part.down and part.down.on == other:
        part = replace(part, down=Place(gap=y))
    part = _with_ties(part, lambda tie: None if tie.on == other else tie)
    return replace(part, mattes=tuple(m for m in part.mattes if m.inside != other))


def _with_ties(part: AnyPart, change: Callable[[Tie], Tie | None]) -> AnyPart:
    """A part whose moves' ties are changed, or let go where that gives None."""

    def changed(moves: tuple[Move, ...]) -> tuple[Move, ...]:
        return tuple(replace(m, tie=change(m.tie)) if m.tie is not None else m for m in moves)

    part = replace(part, way_in=changed(part.way_in))
    return replace(part, way_out=OwnWayOut(changed(part.way_out.moves))) if isinstance(part.way_out, OwnWayOut) else part


def own_size(part: AnyPart, width: float, height: float) -> dict[str, float]:
    """The properties that give a part a size of its own, as large as it is now. A pattern keeps the size of its copies."""
    match part:
        case RulePart():
            return {"length": max(width, height)}
        case PatternPart():
            return {}
    return {"width": width, "height": height}


def prune_wires(template: Template) -> Template:
    """Drop wires whose property is gone."""
    return replace(template, wires=tuple(w for w in template.wires if _leads_somewhere(template, w.target)))


def _leads_somewhere(template: Template, target: str) -> bool:
    part_id, _, path = target.partition("/")
    part = template.owner(part_id)
    try:
        return part is not None and bool(type_at(part, path))
    except LookupError:
        return False


def put_on_card(template: Template, target: str, label: str | None = None) -> tuple[Template, str]:
    """Make a field for a property, with its kind, limits and present value, already wired. Returns the field's id too."""
    part_id, _, path = target.partition("/")
    part = need_owner(template, part_id)
    kind, value = type_at(part, path), get_at(part, path)
    if template.wire_to(target):
        raise DocumentError(f"{kind.label} of {part.name} is on the card already.")
    label = label or field_label(part, path, kind.label)
    field_id = free_id(label, {f.id for f in template.card.fields})
    field = new_field(kind.kind, field_id, label, value)
    if isinstance(field, NumberField):
        field = replace(field, low=kind.low, high=kind.high, step=float(kind.step), unit=kind.unit)
    sections = template.card.sections or (Section(),)
    sections = (*sections[:-1], replace(sections[-1], fields=(*sections[-1].fields, field)))
    card = replace(template.card, sections=sections)
    return check(replace(template, card=card, wires=(*template.wires, Wire(field_id, target)))), field_id


def field_label(part: AnyPart | Template, path: str, label: str) -> str:
    """What a field for a property is called at first: *Plate outline colour*, or just *Name* for a name's words."""
    if isinstance(part, Template):
        return label
    owner = {"outline": "outline ", "shadows": "shadow ", "glow": "glow "}.get(path.partition(".")[0], "")
    return part.name if path == "text" else f"{part.name} {owner}{label.lower()}"


def new_field(kind: str, field_id: str, label: str, value: Any) -> Field:
    """A field of the kind that suits a property of kind ``kind``, answering ``value`` to start with."""
    match kind:
        case "text":
            return TextField(id=field_id, label=label, default=value, several_lines="\n" in value)
        case "number" | "whole":
            return NumberField(id=field_id, label=label, default=float(value))
        case "colour":
            return ColourField(id=field_id, label=label, default=value)
        case "switch":
            return SwitchField(id=field_id, label=label, default=value)
    raise DocumentError(f"A {kind} cannot be put on the card yet.")


def take_off_card(template: Template, target: str) -> Template:
    """Remove the wire to a property; it keeps the field's starting answer. A field without wires goes too."""
    wire = template.wire_to(target)
    if wire is None:
        raise DocumentError(f"“{target}” is not on the card.")
    field = template.card.field(wire.source)
    if field is not None:
        template = set_property(template, target, field.default)
    wires = tuple(w for w in template.wires if w != wire)
    template = replace(template, wires=wires)
    return template if any(w.source == wire.source for w in wires) else remove_field(template, wire.source)


def remove_field(template: Template, field_id: str) -> Template:
    """Take a field off the card, with its wires and what samples answer to it."""
    sections = tuple(replace(s, fields=tuple(f for f in s.fields if f.id != field_id)) for s in template.card.sections)
    samples = tuple(replace(s, answers={k: v for k, v in s.answers.items() if k != field_id}) for s in template.samples)
    wires = tuple(w for w in template.wires if w.source != field_id)
    return replace(template, card=replace(template.card, sections=sections), wires=wires, samples=samples)


def put_field(template: Template, field: Field) -> Template:
    """The template with ``field`` in the place of the one with the same id."""
    sections = tuple(replace(s, fields=tuple(field if f.id == field.id else f for f in s.fields)) for s in template.card.sections)
    return replace(template, card=replace(template.card, sections=sections))


def set_starting_answer(template: Template, field_id: str, value: Answer) -> Template:
    """What a field answers before an editor touches it."""
    field = template.card.field(field_id)
    if field is None:
        raise DocumentError(f"There is no field “{field_id}” on the card.")
    return put_field(template, replace(field, default=value))


def set_sample_answer(template: Template, sample_id: str, field_id: str, value: Answer) -> Template:
    """What one sample answers to a field."""
    samples = tuple(replace(s, answers={**s.answers, field_id: value}) if s.id == sample_id else s for s in template.samples)
    return replace(template, samples=samples)


def fit_around(template: Template, part_id: str, others: tuple[str, ...]) -> Template:
    """Let a shape or rule follow other parts with the usual buffer of 50 px at the sides and 25 px above and below."""
    part = need_part(template, part_id)
    old = fit_of(part)
    fit = replace(old, around=others) if old else Fit(others)
    return set_relations(template, part_id, fit=fit, across=None, down=None)


def show_inside(template: Template, part_id: str, other: str | None) -> Template:
    """Give a part a matte, or take its matte away with ``None``."""
    return set_relations(template, part_id, mattes=(Matte(other),) if other else ())


FIELD_KINDS: tuple[FieldKind, ...] = ("text", "number", "colour", "switch")
