"""What parts are painted with: colours, gradients, outlines, shadows, glow, blending."""

from typing import Annotated, Any, Literal

import msgspec

from avlet.document.metadata import Value, piece, prop

Over = Literal["the whole", "each unit"]
Side = Literal["outside", "middle", "inside"]
Join = Literal["round", "miter", "bevel"]
Blend = Literal[
    "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn", "hard-light", "soft-light",
    "difference", "exclusion", "hue", "saturation", "color", "luminosity",
]  # fmt: skip
"""Blend modes by their names in W3C Compositing and Blending 1."""

_At = Annotated[float, prop("At", unit="%", low=0, high=100)]
_Colour = Annotated[str, prop("Colour", colour=True)]


class Stop(Value, frozen=True):
    """A colour at a place of a gradient."""

    at: _At
    colour: _Colour


Stops = Annotated[tuple[Stop, ...], msgspec.Meta(min_length=2, max_length=64)]
_Gradient = Annotated[Stops, prop("Gradient", keyed=False, kind="gradient", group="gradient"), piece("stop")]
_STOPS = (Stop(0.0, "#6CC7B0"), Stop(100.0, "#20435C"))


class Solid(Value, frozen=True, tag_field="kind", tag="solid"):
    """One colour, sRGB, straight alpha."""

    colour: _Colour = "#FFFFFF"


class Linear(Value, frozen=True, tag_field="kind", tag="linear"):
    """Along a line; 0° goes right, 90° goes down. The line is as long as the box is wide in its direction."""

    stops: _Gradient = _STOPS
    angle: Annotated[float, prop("Angle", unit="°", low=-360, high=360, step=5)] = 90.0
    over: Annotated[Over, prop("Over", keyed=False)] = "the whole"


class Radial(Value, frozen=True, tag_field="kind", tag="radial"):
    """From a centre outwards; ``radius`` is a share of the box's half diagonal."""

    stops: _Gradient = _STOPS
    centre_x: Annotated[float, prop("Centre across", unit="%", low=-200, high=300)] = 50.0
    centre_y: Annotated[float, prop("Centre down", unit="%", low=-200, high=300)] = 50.0
    radius: Annotated[float, prop("Radius", unit="%", low=1, high=1000)] = 100.0
    over: Annotated[Over, prop("Over", keyed=False)] = "the whole"


class Sweep(Value, frozen=True, tag_field="kind", tag="sweep"):
    """Round a centre, clockwise from ``angle``."""

    stops: _Gradient = _STOPS
    centre_x: Annotated[float, prop("Centre across", unit="%", low=-200, high=300)] = 50.0
    centre_y: Annotated[float, prop("Centre down", unit="%", low=-200, high=300)] = 50.0
    angle: Annotated[float, prop("Angle", unit="°", low=-360, high=360, step=5)] = 0.0
    over: Annotated[Over, prop("Over", keyed=False)] = "the whole"


Paint = Solid | Linear | Radial | Sweep
GRADIENTS = (Linear, Radial, Sweep)


class Outline(Value, frozen=True):
    """A line along the edge. ``start``, ``end`` and ``offset`` say which part of its length is drawn."""

    width: Annotated[float, prop("Width", unit="px", low=0, high=500)] = 4.0
    side: Annotated[Side, prop("Side", keyed=False)] = "outside"
    join: Annotated[Join, prop("Joins", keyed=False)] = "round"
    fill: Annotated[Paint, piece("fill")] = Solid("#20435C")
    start: Annotated[float, prop("Drawn from", unit="%", low=0, high=100)] = 0.0
    end: Annotated[float, prop("Drawn to", unit="%", low=0, high=100)] = 100.0
    offset: Annotated[float, prop("Moved by", unit="%", low=-1000, high=1000)] = 0.0

    @property
    def outside(self) -> float:
        """How far it reaches beyond the edge, in px."""
        return {"outside": 1.0, "middle": 0.5, "inside": 0.0}[self.side] * self.width


class Shadow(Value, frozen=True):
    """A soft copy behind the part. ``blur`` is the width of its soft edge, as in CSS: twice the Gaussian's deviation."""

    x: Annotated[float, prop("Across", unit="px", low=-2000, high=2000)] = 0.0
    y: Annotated[float, prop("Down", unit="px", low=-2000, high=2000)] = 6.0
    blur: Annotated[float, prop("Blur", unit="px", low=0, high=500)] = 12.0
    colour: _Colour = "#00000080"


class Glow(Value, frozen=True):
    """Light round the part."""

    size: Annotated[float, prop("Size", unit="px", low=0, high=500)] = 24.0
    colour: _Colour = "#F4B23ECC"


SOFT_REACH = 1.5
"""A blur of b px shows up to 1.5 b px from the edge: three deviations of the Gaussian."""


def colours_of(paint: Paint) -> tuple[str, ...]:
    """The colours that a paint uses, first to last."""
    return (paint.colour,) if isinstance(paint, Solid) else tuple(stop.colour for stop in paint.stops)


def turned_into(kind: type[Any], paint: Paint) -> Paint:
    """A paint of another kind, one of this module's, that keeps the colours."""
    if type(paint) is kind:
        return paint
    colours = colours_of(paint)
    if kind is Solid:
        return Solid(colours[0])
    if isinstance(paint, Solid):
        return kind(stops=(Stop(0.0, paint.colour), Stop(100.0, "#20435C" if paint.colour.upper() != "#20435C" else "#6CC7B0")))  # type: ignore[no-any-return]
    made: Paint = kind(stops=paint.stops)
    return made
