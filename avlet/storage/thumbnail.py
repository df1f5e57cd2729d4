"""The small picture of a template that stands for it in a library."""

import contextlib
import hashlib
import io
import logging
import math

import msgspec
import numpy as np
import skia

from avlet import __version__
from avlet.document.template import Frame, Template
from avlet.errors import StorageError
from avlet.geometry import Box
from avlet.motion.counting import counters_of
from avlet.paint.painter import Pixels, canvas_over, new_pixels
from avlet.paint.scene import Scene
from avlet.paint.views import shown_box, view_round
from avlet.places import cache_folder, shipped_tiles
from avlet.storage.atomic import write_whole
from avlet.text.fonts import FontBook

_log = logging.getLogger(__name__)
WIDTH, HEIGHT = 480, 270
GROUND = (88, 101, 108)
_MARK, _OFF, _SMALL = 46, 10, 0.62
"""px that the sign of the frame is wide and keeps from the edge; it is there where less than so much of the frame's width shows."""


def landed_frame(scene: Scene) -> int:
    """The same for a scene; once all that counts has landed, if there is time for that before the way out."""
    lands = [math.ceil(one.times.land / scene.spans.pace) for one in counters_of(scene.choreography.movers).values()]
    leaves = scene.length - 1 - scene.spans.way_out
    return max([min(scene.length - 1, scene.spans.middle), *(land for land in lands if land <= leaves)])


def tile_view(scene: Scene, *frames: int) -> Box:
    """What of the frame a tile shows: all that is drawn in some frames, with room round it."""
    boxes = [box for frame in frames if (box := shown_box(scene, frame)) is not None]
    return view_round(Box.union(boxes), scene.template.frame, WIDTH / HEIGHT)


def draw_place(pixels: Pixels, view: Box, frame: Frame) -> None:
    """A small frame in a corner at the right of a picture, with what is shown of it filled; nothing where nearly all of it is."""
    if view.w >= _SMALL * frame.width:
        return
    high = max(4, round(_MARK * frame.height / frame.width))
    high, wide = (high, _MARK) if high <= _MARK else (_MARK, max(4, round(_MARK * frame.width / frame.height)))
    share = pixels.shape[1] / WIDTH
    surface, paint = canvas_over(pixels), skia.Paint(AntiAlias=True, Color=skia.ColorSetARGB(150, 255, 255, 255))
    canvas = surface.getCanvas()
    canvas.scale(share, share)
    canvas.translate(WIDTH - wide - _OFF, _OFF if view.middle[1] >= frame.height / 2 else HEIGHT - high - _OFF)
    inner = Box(view.x / frame.width * wide, view.y / frame.height * high, view.w / frame.width * wide, view.h / frame.height * high)
    canvas.drawRect(skia.Rect.MakeXYWH(*inner.cut(Box(0, 0, wide, high))), paint)
    paint.setStyle(skia.Paint.kStroke_Style)
    canvas.drawRect(skia.Rect.MakeXYWH(0, 0, wide, high), paint)
    surface.flushAndSubmit()


def tile_name(template: Template) -> str:
    """What the picture of a template is called where it is kept: by what it is made of."""
    return hashlib.blake2b(b"%s %s" % (__version__.encode(), msgspec.json.encode(template)), digest_size=16).hexdigest() + ".png"


def kept_thumbnail_png(template: Template, book: FontBook) -> bytes:
    """The same, kept by what it is made of, so that it is painted once; those of starts in the usual frame ship with Avlet."""
    name = tile_name(template)
    kept = cache_folder() / "tiles" / name
    for path in (shipped_tiles() / name, kept):
        with contextlib.suppress(OSError):
            return path.read_bytes()
    made = thumbnail_png(template, book)
    with contextlib.suppress(OSError, StorageError):
        kept.parent.mkdir(parents=True, exist_ok=True)
        write_whole(kept, made)
    return made


def thumbnail_png(template: Template, book: FontBook) -> bytes:
    """A PNG, 480 × 270, of what a template draws at rest, large, on a quiet ground; the ground alone where it cannot be painted.

    Where that is only a part of the frame a small sign tells which.
    Saving calls this, and what somebody made must be saved whatever becomes of its picture.
    """
    pixels = new_pixels(WIDTH, HEIGHT)
    pixels[...] = (*GROUND, 255)
    try:
        scene = Scene(template, book)
        view = tile_view(scene, landed_frame(scene))
        scene.paint(landed_frame(scene), pixels, clear=False, view=view)
        draw_place(pixels, view, template.frame)
    except Exception:  # whatever it is: what somebody made is saved without its picture
        _log.exception("The thumbnail of %s cannot be painted", template.name)
        pixels[...] = (*GROUND, 255)
    from PIL import Image

    out = io.BytesIO()
    Image.fromarray(np.ascontiguousarray(pixels[..., :3])).save(out, "PNG", optimize=True)
    return out.getvalue()
