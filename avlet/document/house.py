"""What a template's parts share: the house palette of named colours and gradients, and text styles. Change one, and all follow."""

from typing import Annotated

import msgspec

from avlet.document.fields import FieldId, Label
from avlet.document.metadata import Value, prop
from avlet.document.paints import Stops
from avlet.document.parts import Case, Colour, TextPart

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
    family: Annotated[str, prop("Family", keyed=False, kind="font")] = "Fira Sans"
    style: Annotated[str, prop("Style", keyed=False)] = "Bold"
    size: Annotated[float, prop("Size", unit="px", low=1, high=4000, keyed=False)] = 100.0
    tracking: Annotated[float, prop("Tracking", unit="/1000 em", low=-500, high=5000, step=5, keyed=False)] = 0.0
    leading: Annotated[float, prop("Leading", unit="%", low=10, high=500, step=5, keyed=False)] = 120.0
    case: Annotated[Case, prop("Case", keyed=False)] = "as typed"


STYLED = ("family", "style", "size", "tracking", "leading", "case")
"""The properties of a text that its style decides."""


def styled(part: TextPart, style: TextStyle) -> TextPart:
    """A text with the face and setting of a style."""
    return msgspec.structs.replace(part, **{name: getattr(style, name) for name in STYLED})


def style_of(part: TextPart, style_id: str, name: str) -> TextStyle:
    """A style made from how a text is set."""
    return TextStyle(id=style_id, name=name, **{key: getattr(part, key) for key in STYLED})
