"""A colour."""

from collections.abc import Iterator, Sequence
from typing import Annotated, Any, ClassVar, Literal, Self

import msgspec

from avlet.document.fields.base import Answer, BaseField, FieldId, Files, House, Label, NamedColour, by_name, one_of, refused
from avlet.document.fields.choice import doubled, options_schema
from avlet.document.looks.colours import is_colour
from avlet.document.metadata import COLOUR_PATTERN, PropertyType, Value, brief
from avlet.document.parts import Colour


class Swatch(Value, frozen=True):
    """A colour under a name."""

    id: FieldId
    name: Label
    colour: Colour


class ColourField(BaseField, frozen=True, kw_only=True, tag="colour"):
    """A colour: any, one of the field's ``swatches``, or one of the template's house palette.

    The answer is ``#RRGGBB`` or ``#RRGGBBAA`` (sRGB) where any will do, else the id of a swatch.
    """

    default: str = "#FFFFFF"
    may_be: Literal["any", "swatches", "house palette"] = "any"
    swatches: Annotated[tuple[Swatch, ...], msgspec.Meta(max_length=100)] = ()

    wants_hint: ClassVar[bool] = True

    def offered(self, house: House) -> Sequence[NamedColour]:
        """The colours that may be chosen; none where any may."""
        return {"any": (), "swatches": self.swatches, "house palette": house}[self.may_be]

    def fault(self, answer: Any, house: House = ()) -> str:
        if self.may_be == "any":
            fits = isinstance(answer, str) and is_colour(answer)
            return "" if fits else f"“{self.label}” takes a colour such as #20435C, not “{brief(answer)}”."
        return one_of(self.label, answer, [s.id for s in self.offered(house)])

    def read(self, words: str, house: House, files: Files) -> Answer:
        return by_name(words.strip(), [(s.id, s.name) for s in self.offered(house)])

    def schema(self, house: House) -> dict[str, Any]:
        if self.may_be == "any":
            return {"type": "string", "pattern": COLOUR_PATTERN}
        return options_schema([(s.id, s.name) for s in self.offered(house)])

    def tried(self) -> list[tuple[str, Any]]:
        return [(f"{self.label} {s.name}", s.id) for s in self.swatches] if self.may_be == "swatches" else []

    def options_with(self, house: House) -> list[tuple[str, str]]:
        return [(s.id, s.name) for s in self.swatches]

    def value(self, answer: Any, house: House) -> Any:
        return answer if self.may_be == "any" else next((s.colour for s in self.offered(house) if s.id == answer), "#FFFFFF")

    def answer_to(self, value: Any, present: Any, named: str, house: House) -> Any:
        if self.may_be == "any":
            return value
        found = next((s.id for s in self.offered(house) if s.colour.upper() == str(value).upper()), None)
        if found is None:
            raise refused(named, "colours", self.label, [s.name for s in self.offered(house)])
        return found

    def own_faults(self, house: House) -> Iterator[str]:
        if self.may_be == "swatches" and not self.swatches:
            yield "has no swatches. Add one, or let it be any colour."
        elif self.may_be == "house palette" and not house:
            yield "takes a colour of the house palette, which is empty. Add one, or let it be any colour."
        elif self.may_be == "swatches":
            yield from doubled([s.id for s in self.swatches])

    def news(self, before: Self) -> Iterator[str]:
        if (self.may_be, self.swatches) != (before.may_be, before.swatches):
            yield f"“{self.label}” has other colours."

    @classmethod
    def for_property(cls, kind: PropertyType, field_id: str, label: str, value: Any, style: str) -> Self | None:
        return cls(id=field_id, label=label, default=value) if kind.kind == "colour" else None

    @classmethod
    def example(cls) -> tuple[str, Self] | None:
        return "Colour", cls(id="f", label="Colour", default="#20435C")
