"""The stops of a gradient."""

from typing import Any, Self

import msgspec

from avlet.document.fields.base import Answer, BaseField, Files, House
from avlet.document.looks.colours import is_colour
from avlet.document.looks.paints import Stop, Stops
from avlet.document.metadata import COLOUR_PATTERN, PropertyType, brief, is_number
from avlet.errors import AnswerError

MOST_STOPS = 64


def stops_of(answer: Any) -> tuple[Stop, ...]:
    """The stops of an answer."""
    return msgspec.convert(answer, tuple[Stop, ...])


class GradientField(BaseField, frozen=True, kw_only=True, tag="gradient"):
    """The stops of a gradient. With ``places_fixed`` only their colours may be changed."""

    default: Stops
    places_fixed: bool = False

    def fault(self, answer: Any, house: House = ()) -> str:
        wrong = f"“{self.label}” takes a list of 2 to {MOST_STOPS} stops, each with “at” (0–100) and “colour”."
        if not isinstance(answer, list) or not 2 <= len(answer) <= MOST_STOPS:
            return wrong
        for stop in answer:
            if not isinstance(stop, dict) or set(stop) != {"at", "colour"} or not is_number(stop["at"]) or not 0 <= stop["at"] <= 100:
                return wrong
            if not isinstance(stop["colour"], str) or not is_colour(stop["colour"]):
                return wrong
        if self.places_fixed and [s["at"] for s in answer] != [s.at for s in self.default]:
            return f"“{self.label}” lets colours be changed, not their places."
        return ""

    def read(self, words: str, house: House, files: Files) -> Answer:
        try:
            stops = [piece.split() for piece in words.split(",")]
            return [{"at": float(at), "colour": colour} for colour, at in stops]
        except ValueError:
            raise AnswerError(f"“{self.label}” takes stops such as #20435C 0, #6CC7B0 100, not “{brief(words)}”.") from None

    def schema(self, house: House) -> dict[str, Any]:
        if self.places_fixed:
            each = [_stop_schema({"const": s.at}) for s in self.default]
            return {"type": "array", "prefixItems": each, "items": False, "minItems": len(each)}
        stop = _stop_schema({"type": "number", "minimum": 0, "maximum": 100})
        return {"type": "array", "items": stop, "minItems": 2, "maxItems": MOST_STOPS}

    def start_value(self, house: House) -> Any:
        return self.default

    @classmethod
    def for_property(cls, kind: PropertyType, field_id: str, label: str, value: Any, style: str) -> Self | None:
        return cls(id=field_id, label=label, default=value) if kind.kind == "gradient" else None


def _stop_schema(at: dict[str, Any]) -> dict[str, Any]:
    properties = {"at": at, "colour": {"type": "string", "pattern": COLOUR_PATTERN}}
    return {"type": "object", "properties": properties, "additionalProperties": False, "required": ["at", "colour"]}
