"""JSON Schemas (2020-12): of ``template.json``, and of the answers that a card takes."""

from collections.abc import Iterable, Sequence
from typing import Any, get_args

import msgspec

from avlet.document.answers import FORMATS, LARGEST, MOST_STOPS, SMALLEST
from avlet.document.card import Card
from avlet.document.fields import (
    ChoiceField,
    ColourField,
    Field,
    FontField,
    GradientField,
    LengthField,
    NumberField,
    PictureField,
    SwitchField,
    TextField,
)
from avlet.document.house import HouseColour
from avlet.document.metadata import COLOUR_PATTERN
from avlet.document.parts import Align
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
    schema: dict[str, Any] = {"title": field.label, "default": field.start}
    if field.hint:
        schema["description"] = field.hint
    match field:
        case TextField():
            schema |= _words(field)
        case NumberField() | LengthField():
            schema |= {"type": "integer" if isinstance(field, LengthField) else "number"}
            if field.low is not None:
                schema["minimum"] = field.low
            if field.high is not None:
                schema["maximum"] = field.high
        case ColourField(may_be="any"):
            schema |= {"type": "string", "pattern": COLOUR_PATTERN}
        case ColourField():
            schema |= _one_of((s.id, s.name) for s in (field.swatches if field.may_be == "swatches" else palette))
        case ChoiceField():
            schema |= _one_of((o.id, o.name) for o in field.options)
        case FontField():
            schema |= _one_of((f.name, f.name) for f in field.fonts)
        case SwitchField():
            schema |= {"type": "boolean"}
        case GradientField():
            schema |= _stops(field)
        case PictureField():
            name, data = {"type": "string", "maxLength": 200}, {"type": "string", "contentEncoding": "base64", "pattern": _BASE64}
            schema |= {**_object({"name": name, "data": data}), "required": ["name", "data"]}
    return schema


_BASE64 = r"^(?:[A-Za-z0-9+/]{4})*(?:[A-Za-z0-9+/]{2}==|[A-Za-z0-9+/]{3}=)?$"


def _object(properties: dict[str, Any]) -> dict[str, Any]:
    return {"type": "object", "properties": properties, "additionalProperties": False}


def _words(field: TextField) -> dict[str, Any]:
    plain: dict[str, Any] = {"type": "string", "maxLength": field.longest}
    if not field.several_lines:
        plain["pattern"] = r"^[^\n]*$"
    formats: dict[str, dict[str, Any]] = {
        "family": {"type": "string"}, "style": {"type": "string"}, "align": {"enum": list(get_args(Align))},
        "size": {"type": "number", "minimum": SMALLEST, "maximum": LARGEST},
    }  # fmt: skip
    allowed = {key: formats[key] for may in field.may for key in FORMATS[may]}
    return {"anyOf": [plain, {**_object({"text": plain, **allowed}), "required": ["text"]}]}


def _one_of(named: Iterable[tuple[str, str]]) -> dict[str, Any]:
    return {"oneOf": [{"const": key, "title": name} for key, name in named]}


def _stops(field: GradientField) -> dict[str, Any]:
    colour = {"type": "string", "pattern": COLOUR_PATTERN}

    def stop(at: dict[str, Any]) -> dict[str, Any]:
        return {**_object({"at": at, "colour": colour}), "required": ["at", "colour"]}

    if field.places_fixed:
        places = [s.at for s in field.default]
        return {
            "type": "array", "prefixItems": [stop({"const": at}) for at in places], "items": False,
            "minItems": len(places), "maxItems": len(places),
        }  # fmt: skip
    return {"type": "array", "items": stop({"type": "number", "minimum": 0, "maximum": 100}), "minItems": 2, "maxItems": MOST_STOPS}


def written(schema: dict[str, Any]) -> bytes:
    """A schema as the bytes of its file."""
    return msgspec.json.format(msgspec.json.encode(schema), indent=2) + b"\n"
