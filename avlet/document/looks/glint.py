"""A light that passes over a part: a band of light within its outline."""

import itertools
from typing import Annotated, Literal

from avlet.document.looks.colours import channels
from avlet.document.looks.paints import Linear, Stop
from avlet.document.metadata import Value, prop

Passes = Literal["where it is set", "as it comes", "while it holds", "again and again"]


class Glint(Value, frozen=True):
    """A band of light, as wide as a share of the part's box, slanted, with soft edges.

    At 0 % it is wholly before the box and at 100 % wholly past it. It passes in ``frames``, beginning ``start`` frames after the title
    begins (*as it comes*) or after the hold begins (*while it holds*), *again and again* every so many frames; or it lies *where it is
    set* by ``at``, by keys, wires or a count.
    """

    colour: Annotated[str, prop("Colour", colour=True)] = "#FFFFFF"
    strength: Annotated[float, prop("Strength", unit="%", low=0, high=100)] = 45.0
    width: Annotated[float, prop("Width", unit="%", low=1, high=300)] = 30.0
    soft: Annotated[float, prop("Softness", unit="%", low=0, high=100)] = 70.0
    slant: Annotated[float, prop("Slant", unit="°", low=-180, high=180, step=5)] = 20.0
    passes: Annotated[Passes, prop("Passes", keyed=False)] = "while it holds"
    at: Annotated[float, prop("Is at", unit="%", low=0, high=100)] = 0.0
    start: Annotated[float, prop("After", unit="frames", low=0, high=100_000, keyed=False)] = 10.0
    frames: Annotated[float, prop("Passes in", unit="frames", low=1, high=100_000, keyed=False)] = 30.0
    every: Annotated[float, prop("Again every", unit="frames", low=2, high=100_000, keyed=False)] = 90.0

    @property
    def moves(self) -> bool:
        """Whether it passes by itself."""
        return self.passes != "where it is set"

    @property
    def seen(self) -> bool:
        """Whether any of it lies over the part."""
        return 0 < self.at < 100 and self.strength > 0


def band(glint: Glint) -> Linear:
    """The paint of a band where it is, clear beside it. The line of the gradient is as long as the box is wide in its direction."""
    half = glint.width / 2
    middle = -half + glint.at / 100 * (100 + glint.width)
    flat = half * (1 - glint.soft / 100)
    edges = [(middle - half, 0.0), (middle - flat, 1.0), (middle + flat, 1.0), (middle + half, 0.0)]

    def share(at: float) -> float:
        for (low, first), (high, last) in itertools.pairwise(edges):
            if low <= at < high:
                return first + (last - first) * (at - low) / (high - low)
        return 0.0

    red, green, blue, alpha = channels(glint.colour)
    inner = [(at, cover) for at, cover in edges if 0 <= at <= 100]
    places = [(0.0, share(0.0)), *inner, (100.0, share(100.0))]
    covers = ((at, round(alpha * glint.strength / 100 * cover)) for at, cover in places)
    return Linear(tuple(Stop(at, f"#{red:02X}{green:02X}{blue:02X}{cover:02X}") for at, cover in covers), glint.slant)
