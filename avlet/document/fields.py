"""The kinds of field: what an editor may answer, how far, and what is answered to start with.

An answer is plain data, as JSON has it: words, a number, yes or no, the id of an option or colour, a list of stops, an object.
"""

from typing import Annotated, Any, Literal

import msgspec

from avlet.document.metadata import Value
from avlet.document.paints import Stop, Stops
from avlet.document.parts import Colour, PictureFile

FieldId = Annotated[str, msgspec.Meta(pattern=r"^[a-z0-9][a-z0-9-]*$", max_length=64)]
Label = Annotated[str, msgspec.Meta(min_length=1, max_length=200)]
Answer = str | float | bool | list[Any] | dict[str, Any]
Formatting = Literal["font", "size", "alignment"]
"""What an editor may change of a text besides its words; a font is a family and a style."""


def plain(value: Any) -> Any:
    """A value as JSON has it: objects for structs, lists for tuples."""
    made = msgspec.to_builtins(value)
    return list(made) if isinstance(made, tuple) else made


class Condition(Value, frozen=True):
    """A field is shown only if another answers one of ``answers``."""

    field: FieldId
    answers: Annotated[tuple[str | float | bool, ...], msgspec.Meta(min_length=1, max_length=100)]


class BaseField(Value, frozen=True, kw_only=True, tag_field="kind"):
    """What every field has: a label for the editor, a hint, and when it is shown."""

    id: FieldId
    label: Label
    hint: str = ""
    shown_if: Condition | None = None

    @property
    def start(self) -> Any:
        """The starting answer as plain data; nothing for a note."""
        return plain(getattr(self, "default", None))


class TextField(BaseField, frozen=True, kw_only=True, tag="text"):
    """Words, on one line or on several. ``may`` is what else of the text can be changed.

    The answer is the words, or an object with ``text`` and any of ``family``, ``style``, ``size`` (px) and ``align``.
    """

    default: str = ""
    several_lines: bool = False
    longest: Annotated[int, msgspec.Meta(ge=1, le=100_000)] = 10_000
    may: tuple[Formatting, ...] = ()


class NumberField(BaseField, frozen=True, kw_only=True, tag="number"):
    """A number between limits, answered on a slider or typed as a figure."""

    default: float = 0.0
    low: float | None = None
    high: float | None = None
    step: Annotated[float, msgspec.Meta(gt=0)] = 1.0
    unit: str = ""
    figure_only: bool = False


class LengthField(BaseField, frozen=True, kw_only=True, tag="length"):
    """A length in time, in whole frames of the template."""

    default: Annotated[int, msgspec.Meta(ge=0, le=1_000_000)] = 25
    low: Annotated[int, msgspec.Meta(ge=0, le=1_000_000)] = 0
    high: Annotated[int, msgspec.Meta(ge=0, le=1_000_000)] = 1_000


class SwitchField(BaseField, frozen=True, kw_only=True, tag="switch"):
    """Yes or no."""

    default: bool = True


class Option(Value, frozen=True):
    """One of the answers to a choice: what stands in files, and what the editor reads."""

    id: Annotated[str, msgspec.Meta(min_length=1, max_length=64)]
    name: Label


class ChoiceField(BaseField, frozen=True, kw_only=True, tag="choice"):
    """One of several named options; the answer is the option's id."""

    default: str
    options: Annotated[tuple[Option, ...], msgspec.Meta(min_length=1, max_length=100)]


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


class GradientField(BaseField, frozen=True, kw_only=True, tag="gradient"):
    """The stops of a gradient. With ``places_fixed`` only their colours may be changed."""

    default: Stops
    places_fixed: bool = False


class FontChoice(Value, frozen=True):
    """A face by family and style."""

    family: Label
    style: Label

    @property
    def name(self) -> str:
        """What an editor reads, and what is answered."""
        return f"{self.family} {self.style}"


class FontField(BaseField, frozen=True, kw_only=True, tag="font"):
    """One of a list of faces; the answer is its name, such as *Fira Sans Bold*."""

    default: str
    fonts: Annotated[tuple[FontChoice, ...], msgspec.Meta(min_length=1, max_length=100)]


class PictureField(BaseField, frozen=True, kw_only=True, tag="picture"):
    """A picture. The answer is an object with its ``name`` and its file's bytes as base64 in ``data``."""

    default: PictureFile = PictureFile("")


class NoteField(BaseField, frozen=True, kw_only=True, tag="note"):
    """Words to read; nothing to answer."""

    words: str = ""


Field = (
    TextField | NumberField | LengthField | SwitchField | ChoiceField | ColourField | GradientField | FontField | PictureField | NoteField
)
FieldKind = Literal["text", "number", "length", "switch", "choice", "colour", "gradient", "font", "picture", "note"]
FIELD_KINDS: tuple[FieldKind, ...] = (
    "text", "number", "length", "switch", "choice", "colour", "gradient", "font", "picture", "note",
)  # fmt: skip


def kind_of_field(field: Field) -> FieldKind:
    """The word for a field's kind."""
    kind: FieldKind = field.__struct_config__.tag  # type: ignore[assignment]
    return kind


def words_of(answer: Any) -> str:
    """The words of an answer to a text field, with or without formatting."""
    return str(answer.get("text", "")) if isinstance(answer, dict) else str(answer)


def stops_of(answer: Any) -> tuple[Stop, ...]:
    """The stops of an answer to a gradient field."""
    return msgspec.convert(answer, tuple[Stop, ...])
