"""Which body each kind of part has."""

from collections.abc import Callable
from typing import Any

from avlet.document.parts import (
    AnyPart,
    BallPart,
    CounterPart,
    CreditsPart,
    EchoPart,
    GaugePart,
    GroupPart,
    LampPart,
    PatternPart,
    PicturePart,
    RulePart,
    ShapePart,
    SpacePart,
    TextPart,
)
from avlet.layout.bodies.body import Body, Making
from avlet.layout.bodies.echo import copy_of
from avlet.layout.bodies.members import members_of_group
from avlet.layout.bodies.numbers import numbers_of
from avlet.layout.bodies.outline import ball_of, light_of, outline_of, picture_of
from avlet.layout.bodies.repeated import copies_of
from avlet.layout.bodies.rolling_list import list_of
from avlet.layout.bodies.words import words_of

BODIES: dict[type[AnyPart], Callable[[Any, Making], Body]] = {
    TextPart: words_of, CounterPart: numbers_of, CreditsPart: list_of, ShapePart: outline_of, RulePart: outline_of, GaugePart: outline_of,
    PicturePart: picture_of, BallPart: ball_of, LampPart: light_of, PatternPart: copies_of, GroupPart: members_of_group,
    SpacePart: members_of_group, EchoPart: copy_of,
}  # fmt: skip
"""By kind of part: its body."""
