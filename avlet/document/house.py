"""What a template's parts share: the house palette of named colours and gradients, and text styles. Change one, and all follow."""

from collections.abc import Callable
from typing import TypeVar

import msgspec

from avlet.document.fields import FieldId, Label
from avlet.document.looks.paints import Stops
from avlet.document.metadata import Value, property_types
from avlet.document.parts import AnyPart, BlockStyle, Cased, Colour, CreditsPart, Family, Leading, Size, Style, Tracking, TypesetPart

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


Setting = TypeVar("Setting", TypesetPart, BlockStyle)
CREDITS_STYLES = ("name_style", "role_style", "heading_style", "words_style")
"""Where credits have settings that may come from text styles."""


def styled(part: Setting, style: TextStyle) -> Setting:
    """A text, or a sort of line of credits, with the face and setting of a style."""
    return msgspec.structs.replace(part, **{name: getattr(style, name) for name in STYLED})


def styles_named(part: object) -> tuple[tuple[str, str], ...]:
    """The text styles that a part names, each with the path that it is named at."""
    if isinstance(part, TypesetPart):
        return (("text_style", part.text_style),) if part.text_style else ()
    if isinstance(part, CreditsPart):
        found = ((f"{at}.text_style", getattr(part, at).text_style) for at in CREDITS_STYLES)
        return tuple((path, style) for path, style in found if style)
    return ()


def all_styled(part: AnyPart, style_of_id: Callable[[str], TextStyle | None]) -> AnyPart:
    """A part with the settings of all text styles that it names."""
    for path, named in styles_named(part):
        style, at = style_of_id(named), path.rpartition(".")[0]
        if style is None:
            continue
        values = {at: styled(getattr(part, at), style)} if at else {name: getattr(style, name) for name in STYLED}
        part = msgspec.structs.replace(part, **values)
    return part


def style_of(part: TypesetPart | BlockStyle, style_id: str, name: str) -> TextStyle:
    """A style made from how a text, or a sort of line of credits, is set."""
    return TextStyle(id=style_id, name=name, **{key: getattr(part, key) for key in STYLED})
