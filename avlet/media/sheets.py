"""Contact sheets: the frames of a title side by side on one picture."""

from collections.abc import Sequence

import numpy as np
import skia

from avlet.document.parts import TextPart
from avlet.geometry import Box
from avlet.media.plates import paint_plate
from avlet.media.render import png_bytes
from avlet.paint.outlines import unit_paths
from avlet.paint.painter import Pixels, canvas_over, new_pixels
from avlet.paint.scene import Scene
from avlet.paint.views import shown_box, view_round
from avlet.text.fonts import bundled_fonts
from avlet.text.setting import set_text

CELL, GAP, CAPTION = 240, 10, 20
_HELD = 3
"""Frames of the hold that a sheet shows."""


def sheet_frames(scene: Scene) -> list[int]:
    """Every frame of the way in, three of the hold, every frame of the way out."""
    spans, last = scene.spans, scene.length - 1
    begin, end = min(spans.way_in, last), max(last - spans.way_out, 0)
    held = np.linspace(begin, end, _HELD + 2)[1:-1].round().astype(int).tolist() if end > begin else []
    return list(dict.fromkeys([*range(begin + 1), *held, *range(end, last + 1)]))


def contact_sheet(scene: Scene, columns: int, plate: str | None = None, frames: Sequence[int] | None = None, whole: bool = False) -> bytes:
    """A PNG with frames in rows, each with its number below; over a plate, or over grey.

    All show the same of the frame: what is drawn in any of them, large, or with ``whole`` the whole of it.
    """
    shown = list(frames if frames is not None else sheet_frames(scene))
    shape = scene.template.frame
    height = round(CELL * shape.height / shape.width)
    boxes = [box for frame in shown if (box := shown_box(scene, frame)) is not None]
    view = view_round(None if whole else Box.union(boxes), shape, shape.width / shape.height)
    rows = -(-len(shown) // columns)
    sheet = new_pixels(columns * (CELL + GAP) + GAP, rows * (height + GAP + CAPTION) + GAP)
    sheet[...] = (27, 30, 32, 255)
    for number, frame in enumerate(shown):
        x, y = GAP + number % columns * (CELL + GAP), GAP + number // columns * (height + GAP + CAPTION)
        cell = _cell(scene, frame, CELL, height, plate, view)
        sheet[y : y + height, x : x + CELL] = cell
        _caption(sheet, str(frame), x, y + height + 15)
    return png_bytes(sheet)


def _cell(scene: Scene, frame: int, width: int, height: int, plate: str | None, view: Box) -> Pixels:
    pixels = new_pixels(width, height)
    pixels[...] = (88, 101, 108, 255)
    if plate is not None:
        paint_plate(plate, frame / float(scene.template.frame.fps), pixels)
    scene.paint(frame, pixels, clear=False, view=view)
    return pixels


def _caption(sheet: Pixels, words: str, x: float, baseline: float) -> None:
    """A frame's number below its picture."""
    setting = set_text(TextPart(id="number", name="Number", text=words, family="Inter", style="Medium", size=12.0), bundled_fonts())
    surface = canvas_over(sheet)
    canvas = surface.getCanvas()
    canvas.translate(x, baseline - setting.lines[0].baseline)
    for path in unit_paths(setting, "line"):
        canvas.drawPath(path, skia.Paint(AntiAlias=True, Color=0xFFA5AEB3))
    surface.flushAndSubmit()
