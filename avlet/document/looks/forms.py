"""The forms that a shape can have; each fills the shape's box."""

import functools
from typing import Annotated, Literal

import msgspec

from avlet.document.metadata import Value, prop


def _corner(label: str) -> msgspec.Meta:
    return prop(label, unit="px", low=0, high=10_000)


class Rectangle(Value, frozen=True, tag_field="kind", tag="rectangle"):
    """Four corners, all as round as the shape's ``corner`` says."""


class FourCorners(Value, frozen=True, tag_field="kind", tag="four corners"):
    """A rectangle whose corners are round by themselves."""

    top_left: Annotated[float, _corner("Top left")] = 30.0
    top_right: Annotated[float, _corner("Top right")] = 30.0
    bottom_right: Annotated[float, _corner("Bottom right")] = 0.0
    bottom_left: Annotated[float, _corner("Bottom left")] = 0.0


class Ellipse(Value, frozen=True, tag_field="kind", tag="ellipse"):
    """As wide and high as the box."""


class Polygon(Value, frozen=True, tag_field="kind", tag="polygon"):
    """Equal sides, stretched to the box; the first corner points up unless turned."""

    sides: Annotated[int, prop("Sides", low=3, high=64)] = 6
    turn: Annotated[float, prop("Turn", unit="°", low=-360, high=360, step=5)] = 0.0


class Star(Value, frozen=True, tag_field="kind", tag="star"):
    """Points that reach the box, with an inner radius as a share of the outer."""

    points: Annotated[int, prop("Points", low=3, high=64)] = 5
    inner: Annotated[float, prop("Inner", unit="%", low=1, high=100)] = 45.0
    turn: Annotated[float, prop("Turn", unit="°", low=-360, high=360, step=5)] = 0.0


class SlantedBar(Value, frozen=True, tag_field="kind", tag="slanted bar"):
    """A parallelogram: its top stands further right than its bottom by a slant in px, or by an angle."""

    slant: Annotated[float, prop("Slant", low=-2000, high=2000, unit_in="unit")] = 40.0
    unit: Annotated[Literal["px", "degrees"], prop("Slant in", keyed=False)] = "px"


class Tag(Value, frozen=True, tag_field="kind", tag="tag"):
    """A bar with an end that points out, is notched like a flag, is round, or speaks with a tail below."""

    end: Annotated[Literal["point", "notch", "round", "speech"], prop("End", keyed=False)] = "point"
    side: Annotated[Literal["left", "right", "both"], prop("Side", keyed=False)] = "right"
    depth: Annotated[float, prop("Depth", unit="px", low=0, high=2000)] = 40.0


class FreeForm(Value, frozen=True, tag_field="kind", tag="free"):
    """Outlines in SVG path notation, stretched to the box (SVG 2, chapter 9)."""

    path: Annotated[str, prop("Path", keyed=False)] = "M0 50 L50 0 L100 50 L50 100 Z"


Form = Rectangle | FourCorners | Ellipse | Polygon | Star | SlantedBar | Tag | FreeForm
READY_FORMS: dict[str, Form] = {
    "rectangle": Rectangle(), "rectangle, four corners": FourCorners(), "ellipse": Ellipse(), "polygon": Polygon(), "star": Star(),
    "slanted bar": SlantedBar(), "tag": Tag(), "free outline": FreeForm(),
}  # fmt: skip


def takes_corners(form: Form) -> bool:
    """Whether a shape's ``corner`` says how round the corners of a form are."""
    return not isinstance(form, Ellipse | FourCorners | FreeForm)


def name_of_form(form: object) -> str:
    """The plain name of a form."""
    return next(name for name, ready in READY_FORMS.items() if type(ready) is type(form))


@functools.lru_cache(maxsize=256)
def path_fault(notation: str) -> str | None:
    """Why an SVG path cannot be used; None when it can."""
    from fontTools.pens.boundsPen import ControlBoundsPen
    from fontTools.svgLib.path import parse_path

    pen = ControlBoundsPen(None)
    try:
        parse_path(notation, pen)
    except (ValueError, TypeError, IndexError, AssertionError, AttributeError, ArithmeticError) as error:
        return f"The outline cannot be read as an SVG path ({error})."
    bounds = pen.bounds
    if bounds is None or bounds[2] <= bounds[0] or bounds[3] <= bounds[1]:
        return "The outline encloses nothing."
    return None
