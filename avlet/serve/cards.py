"""What a card is for a page: sections, fields, limits and options, as plain data, and what a title's time is."""

from collections.abc import Mapping
from typing import Any

from avlet.document.cards.answers import shown_fields
from avlet.document.fields import (
    ColourField,
    CreditsField,
    Field,
    GradientField,
    LengthField,
    NumberField,
    PictureField,
    SwitchField,
    TextField,
)  # fmt: skip
from avlet.document.fields.credits import blocks_of
from avlet.document.fields.text import ALIGNED, LARGEST, SMALLEST, WEIGHTS, words_of
from avlet.document.lists.listing import tabbed_of
from avlet.document.template import Template
from avlet.motion.spans import spans_at
from avlet.numbers.exact import in_figures
from avlet.storage.library import Entry
from avlet.storage.schemas import card_schema
from avlet.text.fonts import bundled_fonts


def told_of_entry(name: str, entry: Entry) -> dict[str, Any]:
    """A title in the list of all."""
    return {
        "name": name, "title": entry.name, "category": entry.category, "keywords": list(entry.keywords), "note": entry.note,
        "version": entry.version, "fault": entry.fault,
    }  # fmt: skip


def told_of_card(name: str, entry: Entry, template: Template) -> dict[str, Any]:
    """All that a page needs to show a title's card, and to ask for its pictures."""
    spans = spans_at(template, template.length)
    return {
        **told_of_entry(name, entry), "about": template.card.note,
        "frame": {"width": template.frame.width, "height": template.frame.height, "rate": template.frame.rate},
        "length": template.length, "way_in": spans.way_in, "way_out": spans.way_out,
        "sections": [
            {"name": section.name, "fields": [told_of_field(template, one) for one in section.fields]} for section in template.card.sections
        ],
        "samples": [{"name": sample.name, "answers": sample.answers} for sample in template.samples],
        "shown": sorted(shown_fields(template, {})), "schema": card_schema(template.card, template.name, template.palette),
    }  # fmt: skip


def told_of_field(template: Template, field: Field) -> dict[str, Any]:
    """A field: what the schema says of it, in the shape that a form is made from."""
    told: dict[str, Any] = {"id": field.id, "kind": field.kind, "label": field.label, "hint": field.hint, "start": field.start}
    if not field.asks:
        return told
    told["words"] = typed_words(field, field.start)
    told["unit"] = field.measured_in
    match field:
        case TextField():
            told |= {"several_lines": field.several_lines, "longest": field.longest, "formats": told_of_formats(field)}
        case NumberField() | LengthField():
            told |= {"low": field.low, "high": field.high}
        case ColourField():
            told["swatches"] = [{"id": one.id, "name": one.name, "colour": one.colour} for one in field.offered(template.palette)]
        case _:
            told["options"] = [{"id": key, "name": name} for key, name in field.options_with(template.palette)]
    return told


def told_of_formats(field: TextField) -> list[dict[str, Any]]:
    """What else of a text can be changed: a choice of few each, or a size within limits."""
    formats: dict[str, list[dict[str, Any]]] = {
        "alignment": [{"key": "align", "label": "aligned", "options": [list(one) for one in ALIGNED.items()]}],
        "font": [
            {"key": "family", "label": "font", "options": [[name, name] for name in bundled_fonts().families()]},
            {"key": "style", "label": "weight", "options": [[name, name.lower()] for name in WEIGHTS]},
        ],
        "size": [{"key": "size", "label": "size", "low": SMALLEST, "high": LARGEST}],
    }
    return [one for may, several in formats.items() if may in field.may for one in several]


def typed_words(field: Field, answer: Any) -> str:
    """An answer as words that the field reads again; empty for what is not typed, such as a picture."""
    match field:
        case CreditsField():
            return tabbed_of(blocks_of(answer))
        case GradientField():
            return ", ".join(f"{stop['colour']} {in_figures(stop['at'])}" for stop in answer)
        case SwitchField():
            return "yes" if answer else "no"
        case TextField():
            return words_of(answer)
        case PictureField():
            return ""
    return in_figures(answer) if isinstance(answer, int | float) else str(answer)


def told_answers(template: Template, answers: Mapping[str, Any]) -> dict[str, str]:
    """The answers of all fields as words, the starting ones where nothing was answered."""
    return {one.id: typed_words(one, answers.get(one.id, one.start)) for one in template.card.fields}
