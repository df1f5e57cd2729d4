"""One family in place of another, wherever a template names it: in texts, accents, text styles, and among the fonts on its card."""

from collections.abc import Callable, Mapping
from typing import Any

import msgspec

from avlet.document.cards.wires import Table
from avlet.document.faults.checking import check
from avlet.document.fields import FontField
from avlet.document.lists.blocks import BaseBlock
from avlet.document.template import Template

replace = msgspec.structs.replace
StyleIn = Callable[[str, str], str]
"""The style of a family that is nearest to one of another family."""


def families_in(template: Template) -> tuple[str, ...]:
    """The families that a template names, in the order in which they are met."""
    found: dict[str, None] = {}
    for holder in (*template.parts, *template.text_styles, *template.card.fields):
        _note(holder, found)
    return tuple(found)


def _note(value: Any, found: dict[str, None]) -> None:
    if isinstance(value, msgspec.Struct) and not isinstance(value, BaseBlock):
        if "family" in value.__struct_fields__ and not (getattr(value, "text_style", "")):
            found[value.family] = None  # type: ignore[attr-defined]
        for name in value.__struct_fields__:
            _note(getattr(value, name), found)
    elif isinstance(value, tuple):
        for item in value:
            _note(item, found)


def with_family(template: Template, old: str, new: str, style_in: StyleIn) -> Template:
    """The template with ``new`` for ``old``; each style becomes the nearest that the new family has."""
    fields = {f.id: f for f in template.card.fields if isinstance(f, FontField)}
    names = {i: {c.name: _turned(c, old, new, style_in).name for c in field.fonts} for i, field in fields.items()}

    def answers(given: Mapping[str, Any]) -> dict[str, Any]:
        return {i: names[i].get(value, value) if i in names else _turned_answer(value, old, new, style_in) for i, value in given.items()}

    sections = tuple(
        replace(s, fields=tuple(_turned(f, old, new, style_in, names.get(f.id)) for f in s.fields)) for s in template.card.sections
    )
    wires = tuple(
        replace(w, map=replace(w.map, rows={
            names.get(w.source, {}).get(option, option): new if value == old and w.target.endswith("family") else value
            for option, value in w.map.rows.items()
        }))
        if isinstance(w.map, Table) else w
        for w in template.wires
    )  # fmt: skip
    return check(
        replace(
            template,
            parts=tuple(_turned(part, old, new, style_in) for part in template.parts),
            text_styles=tuple(_turned(style, old, new, style_in) for style in template.text_styles),
            card=replace(template.card, sections=sections), wires=wires,
            samples=tuple(replace(s, answers=answers(s.answers)) for s in template.samples),
        )
    )  # fmt: skip


def _turned(value: Any, old: str, new: str, style_in: StyleIn, renamed: Mapping[str, str] | None = None) -> Any:
    """A value with the family replaced in it, however deep."""
    if isinstance(value, tuple):
        return tuple(_turned(item, old, new, style_in) for item in value)
    if not isinstance(value, msgspec.Struct) or isinstance(value, BaseBlock):
        return value
    changes = {name: _turned(getattr(value, name), old, new, style_in) for name in value.__struct_fields__}
    if changes.get("family") == old and "style" in changes:
        changes |= {"family": new, "style": style_in(new, changes["style"])}
    if renamed is not None:
        changes["default"] = renamed.get(changes["default"], changes["default"])
    return replace(value, **{name: made for name, made in changes.items() if made is not getattr(value, name)})


def _turned_answer(value: Any, old: str, new: str, style_in: StyleIn) -> Any:
    """The answer of a text that says its font, with the family replaced."""
    if isinstance(value, Mapping) and value.get("family") == old:
        return {**value, "family": new, **({"style": style_in(new, value["style"])} if "style" in value else {})}
    return value
