"""What a font file says of itself, as values."""

import msgspec


class FontAxis(msgspec.Struct, frozen=True):
    """One axis of a variable font: its tag, its name, and how far it goes."""

    tag: str
    name: str
    low: float
    default: float
    high: float


Location = tuple[tuple[str, float], ...]
"""Places on some axes of a variable font, by tag and sorted."""


class FaceFacts(msgspec.Struct, frozen=True):
    """What a font file says of itself. Lengths are in font units, ``upem`` to the em."""

    family: str
    style: str
    weight: int
    italic: bool
    upem: int
    ascent: int
    descent: int
    cap_height: int
    may_embed: bool
    axes: tuple[FontAxis, ...] = ()
    instances: tuple[tuple[str, Location], ...] = ()
