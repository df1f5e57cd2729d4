"""The card: what an editor may answer, and the wires from answers to properties."""

from typing import Annotated, Any, Literal

import msgspec

from avlet.document.metadata import Value
from avlet.document.parts import Colour

FieldId = Annotated[str, msgspec.Meta(pattern=r"^[a-z0-9][a-z0-9-]*$", max_length=64)]
Answer = str | float | bool


class BaseField(Value, frozen=True, kw_only=True, tag_field="kind"):
    """What every field has: a label for the editor, and a hint."""

    id: FieldId
    label: Annotated[str, msgspec.Meta(min_length=1, max_length=200)]
    hint: str = ""


class TextField(BaseField, frozen=True, kw_only=True, tag="text"):
    """Words, on one line or on several."""

    default: str = ""
    several_lines: bool = False
    longest: Annotated[int, msgspec.Meta(ge=1, le=100_000)] = 10_000


class NumberField(BaseField, frozen=True, kw_only=True, tag="number"):
    """A number between limits."""

    default: float = 0.0
    low: float | None = None
    high: float | None = None
    step: Annotated[float, msgspec.Meta(gt=0)] = 1.0
    unit: str = ""


class ColourField(BaseField, frozen=True, kw_only=True, tag="colour"):
    """A colour, sRGB as ``#RRGGBB`` or ``#RRGGBBAA``."""

    default: Colour = "#FFFFFF"


class SwitchField(BaseField, frozen=True, kw_only=True, tag="switch"):
    """Yes or no."""

    default: bool = True


Field = TextField | NumberField | ColourField | SwitchField
FieldKind = Literal["text", "number", "colour", "switch"]


class Section(Value, frozen=True):
    """Fields that belong together, under a name."""

    name: str = ""
    fields: tuple[Field, ...] = ()


class Card(Value, frozen=True):
    """All that an editor gets to see of a template."""

    note: str = ""
    sections: tuple[Section, ...] = ()

    @property
    def fields(self) -> tuple[Field, ...]:
        """All fields, in the order of the card."""
        return tuple(field for section in self.sections for field in section.fields)

    def field(self, field_id: str) -> Field | None:
        """The field with this id."""
        return next((f for f in self.fields if f.id == field_id), None)


class Wire(Value, frozen=True):
    """A straight wire: what ``source`` (a field's id) is answered becomes the value of ``target`` (``part/property``)."""

    source: str
    target: str


class Sample(Value, frozen=True):
    """A named set of answers that the designer always sees beside the others."""

    id: FieldId
    name: str
    answers: dict[str, Any] = {}


def kind_of_field(field: Field) -> FieldKind:
    """The word for a field's kind."""
    kind: FieldKind = field.__struct_config__.tag  # type: ignore[assignment]
    return kind
