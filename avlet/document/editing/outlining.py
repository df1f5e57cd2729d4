"""An outline for what is to draw itself and has none."""

from avlet.document.editing.edits import need_part, put_struct
from avlet.document.looks.paints import Outline, Solid
from avlet.document.parts import PaintedPart
from avlet.document.template import Template

_WIDTH = 4.0
"""px at 1080 lines."""
_WHITE = "#FFFFFF"


def lacks_a_line(template: Template, part_id: str) -> bool:
    """Whether a part could have an outline and has none."""
    part = need_part(template, part_id)
    return isinstance(part, PaintedPart) and part.outline is None


def with_a_line(template: Template, part_id: str) -> Template:
    """A part with a fine outline of the colour that it is filled with; white where that is no single colour, or cannot be seen."""
    part = need_part(template, part_id)
    assert isinstance(part, PaintedPart)
    colour = part.fill.colour if isinstance(part.fill, Solid) and not part.fill.colour.upper().endswith("00") else _WHITE
    width = _WIDTH * template.frame.height / 1080
    return put_struct(template, part_id, "outline", Outline(width=width, side="middle", fill=Solid(colour[:7])))
