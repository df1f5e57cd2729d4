"""Properties by their whole path: of a part, of the template, or a colour of the house palette."""

from typing import Any

import msgspec

from avlet.document.house import PALETTE, STYLED, HouseColour, HouseGradient, TextStyle, styles_named
from avlet.document.looks.paints import Linear, Solid
from avlet.document.metadata import PropertyType, get_at, owner_at, pieces, property_types, put_at, type_at
from avlet.document.parts import AnyPart
from avlet.document.template import TEMPLATE, Template

replace = msgspec.structs.replace
_COLOUR = property_types(Solid)["colour"]
_GRADIENT = property_types(Linear)["stops"]


def house_entries(template: Template) -> tuple[HouseColour | HouseGradient, ...]:
    """All colours and gradients of the house."""
    return (*template.palette, *template.gradients)


def house_entry(template: Template, entry_id: str) -> HouseColour | HouseGradient | None:
    """The house colour or gradient with this id."""
    return next((e for e in house_entries(template) if e.id == entry_id), None)


def owner_name(template: Template, target: str) -> str:
    """Whose property it is, for a message."""
    owner, _, path = target.partition("/")
    entry = house_entry(template, path) if owner == PALETTE else None
    if owner == PALETTE:
        return entry.name if entry else path
    return template.name if owner == TEMPLATE else template.name_of(owner)


def _owner(template: Template, target: str) -> tuple[AnyPart | Template | HouseColour | HouseGradient, str]:
    """What a property belongs to, and its path below that; raises ``LookupError`` when there is none."""
    owner, _, path = target.partition("/")
    found = house_entry(template, path) if owner == PALETTE else template.owner(owner)
    if found is None:
        raise LookupError(target)
    return found, path


def type_of(template: Template, target: str) -> PropertyType:
    """What is known of a property; raises ``LookupError`` when there is none."""
    found, path = _owner(template, target)
    if isinstance(found, HouseColour | HouseGradient):
        return _COLOUR if isinstance(found, HouseColour) else _GRADIENT
    return type_at(found, path)


def struct_of(template: Template, target: str) -> Any:
    """The struct that a property is a property of; raises ``LookupError`` when there is none."""
    found, path = _owner(template, target)
    return owner_at(found, path)


def value_of(template: Template, target: str) -> Any:
    """A property's value; raises ``LookupError`` when there is none."""
    found, path = _owner(template, target)
    if isinstance(found, HouseColour | HouseGradient):
        return found.colour if isinstance(found, HouseColour) else found.stops
    type_at(found, path)
    style = _style_deciding(template, found, path)
    return get_at(found, path) if style is None else getattr(style, path.rpartition(".")[2])


def with_value(template: Template, target: str, value: Any) -> Template:
    """A copy of a template with another value of a property; nothing is checked here.

    A text whose style is the template's passes a value of its setting on to that style.
    """
    owner, _, path = target.partition("/")
    if owner == PALETTE:
        palette = tuple(replace(e, colour=value) if e.id == path else e for e in template.palette)
        gradients = tuple(replace(e, stops=value) if e.id == path else e for e in template.gradients)
        return replace(template, palette=palette, gradients=gradients)
    if owner == TEMPLATE:
        return put_at(template, path, value)
    part = template.part(owner)
    style = _style_deciding(template, part, path)
    if style is not None:
        changed = replace(style, **{path.rpartition(".")[2]: value})
        return replace(template, text_styles=tuple(changed if s.id == style.id else s for s in template.text_styles))
    parts = tuple(put_at(p, path, value) if p.id == owner else p for p in template.parts)
    return replace(template, parts=parts)


def _style_deciding(template: Template, owner: object, path: str) -> TextStyle | None:
    """The text style that decides a property instead of its owner, if one does."""
    at, _, name = path.rpartition(".")
    named = next((style for where, style in styles_named(owner) if where.rpartition(".")[0] == at), "")
    return template.text_style(named) if named and name in STYLED else None


def path_words(owner: object, path: str, label: str) -> str:
    """A property below its part, or the template, in words: *way in 1: length*, *fill: colour*, *corners*."""
    words: list[str] = []
    value: Any = owner
    for step in path.split(".")[:-1]:
        if step.isdigit() and words:
            words[-1] += f" {int(step) + 1}"
        elif isinstance(value, msgspec.Struct) and (said := pieces(type(value)).get(step)) is not None:
            words.append(said["piece"])
        value = get_at(value, step)
    return ": ".join([", ".join(words), label.lower()] if words else [label.lower()])


def words_for(template: Template, target: str) -> str:
    """A property in words: *Plate: corners*."""
    if target.startswith(f"{PALETTE}/"):
        return owner_name(template, target)
    path = target.partition("/")[2]
    try:
        label = path_words(_owner(template, target)[0], path, type_of(template, target).label)
    except LookupError:
        label = path
    return f"{owner_name(template, target)}: {label}"
