"""Credits to test with."""

from avlet.document.faults.checking import check
from avlet.document.lists.blocks import Gap, Heading, Role
from avlet.document.parts import CreditsPart, Place
from avlet.document.parts.credits import Movement
from avlet.document.template import Frame, Template
from avlet.paint.painter import canvas_over, new_pixels
from avlet.paint.scene import Scene
from avlet.text.fonts import bundled_fonts

BOOK = bundled_fonts()
FRAME = Frame(640, 360, "25/1")
MIDDLE = Place(mine="middle", theirs="middle")
THREE = (
    Heading(text="Camera"), Role(role="Focus", names=("Wren Farrow", "Ulf Tidd")), Gap(height=30.0), Heading(text="Sound"),
    Role(role="Mixer", names=("Íris Þórdal",)),
)  # fmt: skip


def credits(blocks=THREE, movement=None, **values):
    """Credits as a part; what they do as keywords of ``movement``."""
    values = {"width": 560.0, "across": MIDDLE, **values}
    return CreditsPart(id="c", name="Credits", blocks=tuple(blocks), movement=Movement(**(movement or {})), **values)


def titled(part, length=200, frame=FRAME, **values):
    """A template with them."""
    return check(Template(name="Roll", parts=(part,), frame=frame, length=length, way_in=values.pop("way_in", 0), way_out=0, **values))


def scene(part, length=200, frame=FRAME, **values):
    """A scene with them."""
    return Scene(titled(part, length, frame, **values), BOOK)


def painted(made, frame):
    """A frame as premultiplied RGBA."""
    size = made.template.frame
    pixels = new_pixels(size.width, size.height)
    made.paint(frame, pixels)
    return pixels


__all__ = ["BOOK", "FRAME", "MIDDLE", "THREE", "canvas_over", "credits", "painted", "scene", "titled"]
