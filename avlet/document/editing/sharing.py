"""Edits of what a template's parts share: house colours and gradients, and text styles."""

from collections.abc import Iterable
from typing import Any

import msgspec

from avlet.document.cards.carding import wire_up
from avlet.document.cards.wires import Straight
from avlet.document.editing.edits import need_part, put_part
from avlet.document.editing.naming import free_id
from avlet.document.faults.checking import check
from avlet.document.house import PALETTE, STYLED, HouseColour, HouseGradient, style_of, styles_named
from avlet.document.metadata import properties
from avlet.document.parts import AnyPart, TypesetPart
from avlet.document.parts.credits import BlockStyle
from avlet.document.targets import house_entries, value_of, with_value
from avlet.document.template import Template
from avlet.errors import DocumentError

replace = msgspec.structs.replace


def add_house_colour(template: Template, name: str, colour: str) -> tuple[Template, str]:
    """A colour of the house palette. Returns its id too."""
    taken = {e.id for e in house_entries(template)}
    entry = HouseColour(free_id(name, taken), name, colour)
    return check(replace(template, palette=(*template.palette, entry))), entry.id


def add_house_gradient(template: Template, name: str, stops: Any) -> tuple[Template, str]:
    """A gradient of the house. Returns its id too."""
    taken = {e.id for e in house_entries(template)}
    entry = HouseGradient(free_id(name, taken), name, stops)
    return check(replace(template, gradients=(*template.gradients, entry))), entry.id


def of_the_same_colour(template: Template, target: str) -> tuple[str, ...]:
    """All properties of parts that have the colour of one, and that nothing drives: paths, in the order of the parts, that one among them.

    Colours are the same whatever the case of their letters, and with or without a full alpha.
    """
    wanted = _plain_colour(value_of(template, target))
    driven = {wire.target for wire in template.wires}
    return tuple(
        path
        for part in template.parts
        for prop in properties(part)
        if prop.type.kind == "colour" and (path := f"{part.id}/{prop.path}") not in driven and _plain_colour(prop.value) == wanted
    )


def _plain_colour(colour: str) -> str:
    plain = colour.upper()
    return plain.removesuffix("FF") if len(plain) == len("#RRGGBBAA") else plain


def share_colour(template: Template, targets: Iterable[str], name: str) -> tuple[Template, str]:
    """A colour of the house that several properties follow; it is that of the first. Returns its id too."""
    wanted = tuple(targets)
    template, entry = add_house_colour(template, name, value_of(template, wanted[0]))
    for target in wanted:
        template = use_house(template, target, entry)
    return template, entry


def rename_house(template: Template, entry_id: str, name: str) -> Template:
    """Another name for a house colour, gradient or text style."""
    if not name.strip():
        raise DocumentError("It needs a name.")

    def named(entries: Iterable[Any]) -> tuple[Any, ...]:
        return tuple(replace(e, name=name.strip()) if e.id == entry_id else e for e in entries)

    return replace(template, palette=named(template.palette), gradients=named(template.gradients), text_styles=named(template.text_styles))


def remove_house(template: Template, entry_id: str) -> Template:
    """Take a colour or gradient out of the house; what used it keeps its look."""
    for wire in template.wires_from(f"{PALETTE}/{entry_id}"):
        value = value_of(template, f"{PALETTE}/{entry_id}")
        template = replace(template, wires=tuple(w for w in template.wires if w is not wire))
        if isinstance(wire.map, Straight):
            template = with_value(template, wire.target, value)
    wires = tuple(w for w in template.wires if w.target != f"{PALETTE}/{entry_id}")
    palette = tuple(e for e in template.palette if e.id != entry_id)
    gradients = tuple(e for e in template.gradients if e.id != entry_id)
    return check(replace(template, wires=wires, palette=palette, gradients=gradients))


def use_house(template: Template, target: str, entry_id: str) -> Template:
    """Let a property follow a house colour or gradient, instead of what it was wired to."""
    template = replace(template, wires=tuple(w for w in template.wires if w.target != target))
    return wire_up(template, f"{PALETTE}/{entry_id}", target, Straight())


def _set_in_type(template: Template, part_id: str, at: str) -> tuple[AnyPart, Any]:
    """A part, and what of it is set in type: a text itself, or a sort of line of credits by the path to its setting."""
    part = need_part(template, part_id)
    found = getattr(part, at, None) if at else part
    if not isinstance(found, TypesetPart | BlockStyle):
        raise DocumentError(f"{part.name} is no text.")
    return part, found


def share_style(template: Template, part_id: str, name: str, at: str = "") -> tuple[Template, str]:
    """A text style made from a text, or from a sort of line of credits, which takes it. Returns its id too."""
    _, found = _set_in_type(template, part_id, at)
    style = style_of(found, free_id(name, {s.id for s in template.text_styles}), name)
    return use_style(replace(template, text_styles=(*template.text_styles, style)), part_id, style.id, at), style.id


def use_style(template: Template, part_id: str, style_id: str, at: str = "") -> Template:
    """Let a text, or a sort of line of credits, take a text style, or with an empty id keep for its own what the style gave it."""
    part, found = _set_in_type(template, part_id, at)
    present = template.text_style(found.text_style)
    own = {key: getattr(present, key) for key in STYLED} if present is not None and not style_id else {}
    made = replace(found, text_style=style_id, **own)
    return check(put_part(template, replace(part, **{at: made}) if at else made))


def remove_style(template: Template, style_id: str) -> Template:
    """Take a text style away; what is set in it keeps its face and setting for its own."""
    for part in template.parts:
        for path, named in styles_named(part):
            if named == style_id:
                template = use_style(template, part.id, "", path.rpartition(".")[0])
    return replace(template, text_styles=tuple(s for s in template.text_styles if s.id != style_id))
