"""The kinds of field: what an editor may answer, how far, and what is answered to start with.

An answer is plain data, as JSON has it: words, a number, yes or no, the id of an option or colour, a list of stops, an object.
"""

from typing import get_args

from avlet.document.fields.base import Answer, BaseField, Condition, FieldId, Files, House, Label, plain
from avlet.document.fields.choice import ChoiceField, Option
from avlet.document.fields.colour import ColourField, Swatch
from avlet.document.fields.credits import CreditsField, answer_of, blocks_in_file, blocks_of
from avlet.document.fields.font import FontChoice, FontField
from avlet.document.fields.gradient import GradientField, stops_of
from avlet.document.fields.length import LengthField
from avlet.document.fields.note import NoteField
from avlet.document.fields.number import NumberField
from avlet.document.fields.picture import PictureField
from avlet.document.fields.switch import SwitchField
from avlet.document.fields.text import Formatting, TextField, words_of
from avlet.document.metadata import brief

Field = (
    TextField
    | NumberField
    | LengthField
    | SwitchField
    | ChoiceField
    | ColourField
    | GradientField
    | FontField
    | PictureField
    | CreditsField
    | NoteField
)
"""All kinds; where a property is put on the card, later ones are asked first, so that a length comes before a number."""
FIELD_TYPES: tuple[type[BaseField], ...] = get_args(Field)

__all__ = [
    "FIELD_TYPES",
    "Answer",
    "BaseField",
    "ChoiceField",
    "ColourField",
    "Condition",
    "CreditsField",
    "Field",
    "FieldId",
    "Files",
    "FontChoice",
    "FontField",
    "Formatting",
    "GradientField",
    "House",
    "Label",
    "LengthField",
    "NoteField",
    "NumberField",
    "Option",
    "PictureField",
    "Swatch",
    "SwitchField",
    "TextField",
    "answer_of",
    "blocks_in_file",
    "blocks_of",
    "brief",
    "plain",
    "stops_of",
    "words_of",
]  # fmt: skip
