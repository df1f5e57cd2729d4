"""JSON Schemas (2020-12): of ``template.json``, and of the answers that a card takes."""

from collections.abc import Sequence
from typing import Any

import msgspec

from avlet.document.cards.card import Card
from avlet.document.fields import Field
from avlet.document.house import HouseColour
from avlet.document.template import Template

DIALECT = "https://json-schema.org/draft/2020-12/schema"


def template_schema() -> dict[str, Any]:
    """The schema of ``template.json``, read off the document's own types."""
    return {"$schema": DIALECT, "title": "Avlet template", **msgspec.json.schema(Template)}


def card_schema(card: Card, title: str, palette: Sequence[HouseColour] = ()) -> dict[str, Any]:
    """A schema that accepts exactly the answers that the card accepts."""
    return {
        "$schema": DIALECT,
        "title": title,
        "description": card.note,
        "type": "object",
        "properties": {field.id: _field_schema(field, palette) for field in card.fields},
        "additionalProperties": False,
    }


def _field_schema(field: Field, palette: Sequence[HouseColour]) -> dict[str, Any]:
    hint = {"description": field.hint} if field.hint else {}
    return {"title": field.label, "default": field.start, **hint, **field.schema(palette)}


def written(schema: dict[str, Any]) -> bytes:
    """A schema as the bytes of its file."""
    return msgspec.json.format(msgspec.json.encode(schema), indent=2) + b"\n"
