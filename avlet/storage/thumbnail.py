"""The small picture of a template that stands for it in a library."""

import io

import numpy as np
from PIL import Image

from avlet.document.template import Template
from avlet.paint.painter import new_pixels
from avlet.paint.scene import Scene
from avlet.text.fonts import FontBook

WIDTH = 480
GROUND = (88, 101, 108)


def showing_frame(template: Template) -> int:
    """A frame in which the title stands there whole: the middle of its hold."""
    return min(template.length - 1, (template.way_in + template.length - template.way_out) // 2)


def thumbnail_png(template: Template, book: FontBook) -> bytes:
    """A PNG, 480 px wide, of the template at rest on a quiet ground."""
    height = max(1, round(WIDTH * template.frame.height / template.frame.width))
    pixels = new_pixels(WIDTH, height)
    pixels[...] = (*GROUND, 255)
    Scene(template, book).paint(showing_frame(template), pixels, clear=False)
    out = io.BytesIO()
    Image.fromarray(np.ascontiguousarray(pixels[..., :3])).save(out, "PNG", optimize=True)
    return out.getvalue()
