"""Is an answer one that its field takes? In words, with nothing but the field and the house palette to know."""

import base64
import binascii
import math
import re
from collections.abc import Sequence
from typing import Any, get_args

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

_COLOUR = re.compile(COLOUR_PATTERN)
MOST_STOPS = 64
FORMATS: dict[str, tuple[str, ...]] = {"font": ("family", "style"), "size": ("size",), "alignment": ("align",)}
"""The keys that an answer to a text field may have besides its words, by what the editor may change."""
SMALLEST, LARGEST = 1.0, 4000.0
"""Limits of the size of formatted words, in px."""


def brief(value: object) -> str:
    """A value for a message, cut where it would fill the screen."""
    words = str(value)
    return words if len(words) <= 60 else f"{words[:57]}…"


def is_number(value: Any) -> bool:
    """A finite number; yes and no are none."""
    return not isinstance(value, bool) and isinstance(value, int | float) and math.isfinite(value)


def answer_fault(field: Field, value: Any, palette: Sequence[HouseColour] = ()) -> str:
    """Why a field does not take an answer, as a sentence; empty when it does."""
    match field:
        case TextField():
            return _text(field, value)
        case NumberField():
            return _number(field.label, value, field.low, field.high, field.unit)
        case LengthField():
            fault = _number(field.label, value, field.low, field.high, "frames")
            return fault or ("" if float(value).is_integer() else f"“{field.label}” takes whole frames, not {value:g}.")
        case ColourField():
            return _colour(field, value, palette)
        case SwitchField():
            return "" if isinstance(value, bool) else f"“{field.label}” takes yes or no, not “{brief(value)}”."
        case ChoiceField():
            return _one_of(field.label, value, [o.id for o in field.options])
        case FontField():
            return _one_of(field.label, value, [f.name for f in field.fonts])
        case GradientField():
            return _gradient(field, value)
        case PictureField():
            return _picture(field.label, value)
    return f"“{field.label}” is a note; it takes no answer."


def _text(field: TextField, value: Any) -> str:
    words = value
    if isinstance(value, dict):
        words = value.get("text")
        allowed = [key for may in field.may for key in FORMATS[may]]
        for key, given in value.items():
            if key != "text" and key not in allowed:
                return f"“{field.label}” does not let its {brief(key)} be changed."
            if key != "text" and (fault := _formatting(field.label, key, given)):
                return fault
    if not isinstance(words, str):
        return f"“{field.label}” takes words, not “{brief(words)}”."
    if "\n" in words and not field.several_lines:
        return f"“{field.label}” takes one line. Remove the line break."
    if len(words) > field.longest:
        return f"“{field.label}” takes at most {field.longest} characters; this has {len(words)}."
    return ""


def _formatting(label: str, key: str, given: Any) -> str:
    if key == "size":
        return "" if is_number(given) and SMALLEST <= given <= LARGEST else f"The size of “{label}” is {SMALLEST:g} to {LARGEST:g} px."
    if key == "align":
        return "" if given in get_args(Align) else f"“{label}” is aligned to one of {', '.join(get_args(Align))}."
    return "" if isinstance(given, str) else f"The {brief(key)} of “{label}” is given by its name."


def _number(label: str, value: Any, low: float | None, high: float | None, unit: str) -> str:
    if not is_number(value):
        return f"“{label}” takes a number, not “{brief(value)}”."
    if (low is not None and value < low) or (high is not None and value > high):
        from_low = "" if low is None else f"from {low:g} "
        to_high = "" if high is None else f"to {high:g} "
        return f"“{label}” takes a number {from_low}{to_high}{unit}".rstrip() + f", not {value:g}."
    return ""


def _colour(field: ColourField, value: Any, palette: Sequence[HouseColour]) -> str:
    if field.may_be == "any":
        fits = isinstance(value, str) and _COLOUR.match(value)
        return "" if fits else f"“{field.label}” takes a colour such as #20435C, not “{brief(value)}”."
    return _one_of(field.label, value, [s.id for s in (field.swatches if field.may_be == "swatches" else palette)])


def _one_of(label: str, value: Any, known: Sequence[str]) -> str:
    return "" if value in known else f"“{label}” takes one of {brief(', '.join(known))}, not “{brief(value)}”."


def _gradient(field: GradientField, value: Any) -> str:
    wrong = f"“{field.label}” takes a list of 2 to {MOST_STOPS} stops, each with “at” (0–100) and “colour”."
    if not isinstance(value, list) or not 2 <= len(value) <= MOST_STOPS:
        return wrong
    for stop in value:
        if not isinstance(stop, dict) or set(stop) != {"at", "colour"} or not is_number(stop["at"]) or not 0 <= stop["at"] <= 100:
            return wrong
        if not isinstance(stop["colour"], str) or not _COLOUR.match(stop["colour"]):
            return wrong
    if field.places_fixed and [s["at"] for s in value] != [s.at for s in field.default]:
        return f"“{field.label}” lets colours be changed, not their places."
    return ""


def _picture(label: str, value: Any) -> str:
    wrong = f"“{label}” takes a picture: an object with “name” and “data”."
    if not isinstance(value, dict) or set(value) != {"name", "data"} or not all(isinstance(v, str) for v in value.values()):
        return wrong
    if len(value["name"]) > 200:
        return f"The name of the picture for “{label}” is too long."
    try:
        base64.b64decode(value["data"], validate=True)
    except (binascii.Error, ValueError):
        return f"The picture for “{label}” is damaged: its data is no base64."
    return ""
