"""JSON Schemas (2020-12): of ``template.json``, and of the answers that a card takes."""

from typing import Any

import msgspec

from avlet.document.card import Card, ColourField, Field, NumberField, SwitchField, TextField
from avlet.document.metadata import COLOUR_PATTERN
from avlet.document.template import Template

DIALECT = "https://json-schema.org/draft/2020-12/schema"


def template_schema() -> dict[str, Any]:
    """The schema of ``template.json``, read off the document's own types."""
    return {"$schema": DIALECT, "title": "Avlet template", **msgspec.json.schema(Template)}


def card_schema(card: Card, title: str) -> dict[str, Any]:
    """A schema that accepts exactly the answers that the card accepts."""
    return {
        "$schema": DIALECT,
        "title": title,
        "description": card.note,
        "type": "object",
        "properties": {field.id: _field_schema(field) for field in card.fields},
        "additionalProperties": False,
    }


def _field_schema(field: Field) -> dict[str, Any]:
    schema: dict[str, Any] = {"title": field.label, "default": field.default}
    if field.hint:
        schema["description"] = field.hint
    match field:
        case TextField():
            schema |= {"type": "string", "maxLength": field.longest}
            if not field.several_lines:
                schema["pattern"] = r"^[^\n]*$"
        case NumberField():
            schema |= {"type": "number"}
            if field.low is not None:
                schema["minimum"] = field.low
            if field.high is not None:
                schema["maximum"] = field.high
        case ColourField():
            schema |= {"type": "string", "pattern": COLOUR_PATTERN}
        case SwitchField():
            schema |= {"type": "boolean"}
    return schema


def written(schema: dict[str, Any]) -> bytes:
    """A schema as the bytes of its file."""
    return msgspec.json.format(msgspec.json.encode(schema), indent=2) + b"\n"
