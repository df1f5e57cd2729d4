"""Wires: from an answer, a property, a measure or a house colour to a property, each with a map.

A source is written ``field-id``, ``part/property``, ``part/rest.measure``, ``palette/colour-id`` or ``template/length``;
a target ``part/property``, ``template/property`` or ``palette/colour-id``.
"""

from typing import Annotated, Any, Literal, get_args

import msgspec

from avlet.document.metadata import Value
from avlet.document.time.eases import Ease
from avlet.limits import MOST_FORMULA

Measure = Literal["width", "height", "left", "top", "right", "bottom", "lines", "words", "letters", "slots", "final"]
"""What can be read off a part at rest: its box in px of the frame, how many lines, words and letters it has; of a counter the width
of its slots in px, and its final number."""
MEASURES: tuple[Measure, ...] = get_args(Measure)
REST = "rest."
LENGTH = "template/length"
"""The length that the title is shown at, in frames."""


class Straight(Value, frozen=True, tag_field="map", tag="straight"):
    """The value as it is."""


class Range(Value, frozen=True, tag_field="map", tag="range"):
    """A range of numbers onto another one; ``clamp`` keeps what lies outside at its ends, ``ease`` bends what lies between."""

    from_low: float = 0.0
    from_high: float = 100.0
    to_low: float = 0.0
    to_high: float = 100.0
    ease: Ease | None = None
    clamp: bool = True


class Table(Value, frozen=True, tag_field="map", tag="table"):
    """A value for each option; one without a row leaves the property at its own value. A switch has ``yes`` and ``no``."""

    rows: Annotated[dict[str, Any], msgspec.Meta(max_length=200)]


class Formula(Value, frozen=True, tag_field="map", tag="formula"):
    """A sum over named values, see :mod:`avlet.document.cards.formulas`."""

    formula: Annotated[str, msgspec.Meta(max_length=MOST_FORMULA)]


Map = Straight | Range | Table | Formula


class Wire(Value, frozen=True):
    """What ``source`` is, through ``map``, becomes the value of ``target``."""

    source: str
    target: str
    map: Map = Straight()


def underscored(name: str) -> str:
    """An id as formulas write it."""
    return name.replace("-", "_")


def measure_of(source: str) -> tuple[str, Measure] | None:
    """Part and measure of a source that is read off the resting layout."""
    part, slash, path = source.partition("/")
    name = path.removeprefix(REST)
    if slash and path.startswith(REST):
        for measure in MEASURES:
            if measure == name:
                return part, measure
    return None


def row_of(answer: Any) -> str:
    """The key of a table's row for an answer."""
    return ("yes" if answer else "no") if isinstance(answer, bool) else str(answer)
