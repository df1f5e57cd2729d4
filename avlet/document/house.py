"""What a template's parts share: the house palette of named colours and gradients, and text styles. Change one, and all follow."""

import msgspec

from avlet.document.fields import FieldId, Label
from avlet.document.metadata import Value, property_types
from avlet.document.paints import Stops
from avlet.document.parts import Cased, Colour, Family, Leading, Size, Style, Tracking, TypesetPart

PALETTE = "palette"
"""Stands before the slash of a house colour or gradient in a wire; no part may have it as its id."""


class HouseEntry(Value, frozen=True):
    """What is shared under a name."""

    id: FieldId
    name: Label


class HouseColour(HouseEntry, frozen=True):
    """A colour of the house."""

    colour: Colour


class HouseGradient(HouseEntry, frozen=True):
    """A gradient of the house."""

    stops: Stops


class TextStyle(Value, frozen=True, kw_only=True):
    """Face and setting that several texts share."""

    id: FieldId
    name: Label
    family: Family = "Fira Sans"
    style: Style = "Bold"
    size: Size = 100.0
    tracking: Tracking = 0.0
    leading: Leading = 120.0
    case: Cased = "as typed"


STYLED = tuple(property_types(TextStyle))
"""The properties of a text that its style decides."""


def styled(part: TypesetPart, style: TextStyle) -> TypesetPart:
    """A text with the face and setting of a style."""
    return msgspec.structs.replace(part, **{name: getattr(style, name) for name in STYLED})


def style_of(part: TypesetPart, style_id: str, name: str) -> TextStyle:
    """A style made from how a text is set."""
    return TextStyle(id=style_id, name=name, **{key: getattr(part, key) for key in STYLED})
