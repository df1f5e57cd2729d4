"""The small picture of a template that stands for it in a library."""

import io
import logging
import math

import numpy as np

from avlet.document.template import Template
from avlet.motion.counting import counters_of
from avlet.paint.painter import new_pixels
from avlet.paint.scene import Scene
from avlet.text.fonts import FontBook

_log = logging.getLogger(__name__)
WIDTH = 480
GROUND = (88, 101, 108)


def landed_frame(scene: Scene) -> int:
    """The same for a scene; once all that counts has landed, if there is time for that before the way out."""
    lands = [math.ceil(one.times.land / scene.spans.pace) for one in counters_of(scene.choreography.movers).values()]
    leaves = scene.length - 1 - scene.spans.way_out
    return max([min(scene.length - 1, scene.spans.middle), *(land for land in lands if land <= leaves)])


def thumbnail_png(template: Template, book: FontBook) -> bytes:
    """A PNG, 480 px wide, of the template at rest on a quiet ground; the ground alone where it cannot be painted.

    Saving calls this, and what somebody made must be saved whatever becomes of its picture.
    """
    height = max(1, round(WIDTH * template.frame.height / template.frame.width))
    pixels = new_pixels(WIDTH, height)
    pixels[...] = (*GROUND, 255)
    try:
        scene = Scene(template, book)
        scene.paint(landed_frame(scene), pixels, clear=False)
    except Exception:  # whatever it is: what somebody made is saved without its picture
        _log.exception("The thumbnail of %s cannot be painted", template.name)
        pixels[...] = (*GROUND, 255)
    from PIL import Image

    out = io.BytesIO()
    Image.fromarray(np.ascontiguousarray(pixels[..., :3])).save(out, "PNG", optimize=True)
    return out.getvalue()
