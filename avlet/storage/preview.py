"""``preview.webp``: a template moving, small and short, for libraries and file managers."""

import io

import numpy as np
from PIL import Image

from avlet.document.template import Template
from avlet.errors import StorageError
from avlet.paint.painter import new_pixels
from avlet.paint.scene import Scene
from avlet.storage.thumbnail import GROUND, tile_view
from avlet.text.fonts import FontBook

PREVIEW = "preview.webp"
WIDTH, HEIGHT = 240, 135
MOST_FRAMES, FRAMES_A_SECOND = 72, 12
_HOLD_MS = 700


def shown_frames(template: Template, scene: Scene) -> list[tuple[int, int]]:
    """Frames of the ways in and out about twelve times a second, and one of the hold; each with how long it shows, in ms."""
    rate = float(template.frame.fps)
    spans, last = scene.spans, scene.length - 1
    step = max(1, round(rate / FRAMES_A_SECOND), -(-(spans.way_in + spans.way_out) // MOST_FRAMES))
    way_in = list(range(0, min(spans.way_in, last), step))
    way_out = list(range(max(spans.way_in, scene.length - spans.way_out), last, step))
    each = round(step / rate * 1000)
    return [*((f, each) for f in way_in), (min(spans.way_in, last), _HOLD_MS), *((f, each) for f in way_out), (last, each)]


def preview_webp(template: Template, book: FontBook) -> bytes:
    """An animated WebP, 240 × 135, on a quiet ground: all that is drawn over its ways, large."""
    scene = Scene(template, book)
    pictures, times = [], []
    frames = shown_frames(template, scene)
    try:
        view = tile_view(scene, *(frame for frame, _ in frames))
    except Exception as error:
        raise StorageError(f"“{template.name}” cannot be painted ({error}). Nothing was handed over.") from error
    for frame, milliseconds in frames:
        pixels = new_pixels(WIDTH, HEIGHT)
        pixels[...] = (*GROUND, 255)
        try:
            scene.paint(frame, pixels, clear=False, view=view)
        except Exception as error:
            raise StorageError(f"Frame {frame} of “{template.name}” cannot be painted ({error}). Nothing was handed over.") from error
        pictures.append(Image.fromarray(np.ascontiguousarray(pixels[..., :3])))
        times.append(milliseconds)
    out = io.BytesIO()
    pictures[0].save(out, "WEBP", save_all=True, append_images=pictures[1:], duration=times, loop=0, quality=55, method=2)
    return out.getvalue()
