"""Painting a pose: each part back to front, inside its mattes."""

import functools
import re

import numpy as np
import skia
from numpy.typing import NDArray

from avlet.document.template import Frame
from avlet.motion.pose import Pose, PosedPart
from avlet.paint.outlines import posed_outline, rounded_rectangle, unit_matrix, unit_paths
from avlet.text.setting import Setting

Pixels = np.ndarray
"""Premultiplied RGBA, 8 bits, shape (height, width, 4)."""


def colour(words: str, opacity: float = 1.0) -> skia.Color4f:
    """``#RRGGBB`` or ``#RRGGBBAA`` with an opacity 0…1, for Skia."""
    r, g, b, *a = (int(two, 16) / 255 for two in re.findall("..", words[1:]))
    return skia.Color4f(r, g, b, (a[0] if a else 1.0) * opacity)


@functools.lru_cache(maxsize=1024)
def filled(words: str, opacity: float) -> skia.Paint:
    """A paint of one colour. It is shared, so nobody may change it."""
    return skia.Paint(AntiAlias=True, Color4f=colour(words, opacity))


def canvas_over(pixels: Pixels) -> skia.Surface:
    """A Skia surface over an array, without a copy. The array must outlive the surface."""
    height, width, _ = pixels.shape
    info = skia.ImageInfo.Make(width, height, skia.kRGBA_8888_ColorType, skia.kPremul_AlphaType)
    return skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0])


def paint_frame(pose: Pose, frame: Frame, pixels: Pixels, clear: bool = True) -> None:
    """Paint a pose of a template's ``frame`` into ``pixels``, scaled to their height and width."""
    if clear:
        pixels[...] = 0
    surface = canvas_over(pixels)
    canvas = surface.getCanvas()
    canvas.scale(pixels.shape[1] / frame.width, pixels.shape[0] / frame.height)
    paint_pose(canvas, pose)
    surface.flushAndSubmit()


def paint_pose(canvas: skia.Canvas, pose: Pose) -> None:
    """Paint a pose in px of the template's frame."""
    for posed in pose.parts.values():
        part = posed.rest.part
        if not posed.shown or part.opacity <= 0:
            continue
        if not part.mattes:
            _paint_part(canvas, posed, None)
            continue
        seen = pose.units_in_mattes(posed)
        if not seen.any():
            continue
        canvas.save()
        for matte in part.mattes:
            _clip(canvas, pose.parts[matte.inside])
        _paint_part(canvas, posed, seen)
        canvas.restore()


def _clip(canvas: skia.Canvas, posed: PosedPart) -> None:
    """Keep what is painted from now on inside a part's outline as it stands now."""
    if posed.rest.setting is None:
        canvas.clipRRect(rounded_rectangle(posed), skia.ClipOp.kIntersect, True)
    else:
        canvas.clipPath(posed_outline(posed), skia.ClipOp.kIntersect, True)


def _paint_part(canvas: skia.Canvas, posed: PosedPart, seen: NDArray[np.bool_] | None) -> None:
    part, setting = posed.rest.part, posed.rest.setting
    opacity = part.opacity / 100
    if setting is None:
        if not posed.outline_box.empty:
            canvas.drawRRect(rounded_rectangle(posed), filled(part.fill.colour, opacity * float(posed.opacity[0])))
    elif posed.still:
        corner, paint = posed.rest.box, filled(part.fill.colour, opacity)
        canvas.translate(corner.x, corner.y)
        for path in unit_paths(setting, "line"):
            canvas.drawPath(path, paint)
        canvas.translate(-corner.x, -corner.y)
    else:
        _paint_units(canvas, posed, setting, opacity, seen)


def _paint_units(canvas: skia.Canvas, posed: PosedPart, setting: Setting, opacity: float, seen: NDArray[np.bool_] | None) -> None:
    opacities = (posed.opacity * opacity).tolist()
    for index, path in enumerate(unit_paths(setting, posed.unit)):
        if opacities[index] > 0 and (seen is None or seen[index]):
            canvas.save()
            canvas.concat(unit_matrix(posed, index))
            canvas.drawPath(path, filled(posed.rest.part.fill.colour, opacities[index]))
            canvas.restore()


def new_pixels(width: int, height: int) -> Pixels:
    """An empty picture."""
    return np.zeros((height, width, 4), np.uint8)
