"""Lamps that are carried past what they light."""

from typing import Literal

from avlet.document.editing.edits import need_part, replace, set_relations
from avlet.document.parts import Place
from avlet.document.template import Template
from avlet.document.time.moves import Sway

From = Literal["the left", "the right", "above", "below"]
_SHARE = 0.8
"""Of the frame's width or height, how far a lamp is carried."""


def carried_past(template: Template, part_id: str, start: From) -> Template:
    """Let a part drift over its hold through the place where it stands: from as far on one side of it to as far on the other."""
    part, sideways = need_part(template, part_id), start in ("the left", "the right")
    way = float(round((template.frame.width if sideways else template.frame.height) * _SHARE))
    way = way if start in ("the left", "above") else -way
    at = (part.across if sideways else part.down) or Place("frame", "middle", "middle")
    sway = Sway("drifts", x=way) if sideways else Sway("drifts", y=way)
    begins = {"across" if sideways else "down": replace(at, gap=at.gap - way / 2)}
    return set_relations(template, part_id, **begins, sways=(*part.sways, sway))
