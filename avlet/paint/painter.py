"""Painting a pose: each part back to front, inside its mattes."""

import re

import numpy as np
import skia

from avlet.document.template import Frame
from avlet.motion.pose import Pose, PosedPart
from avlet.paint.outlines import (
    corner_of,
    posed_outline,
    posed_rectangle,
    rounded,
    unit_matrix,
    unit_paths,
)

Pixels = np.ndarray
"""Premultiplied RGBA, 8 bits, shape (height, width, 4)."""


def colour(words: str, opacity: float = 1.0) -> skia.Color4f:
    """``#RRGGBB`` or ``#RRGGBBAA`` with an opacity 0…1, for Skia."""
    r, g, b, *a = (int(two, 16) / 255 for two in re.findall("..", words[1:]))
    return skia.Color4f(r, g, b, (a[0] if a else 1.0) * opacity)


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
        opacity = posed.rest.part.opacity / 100
        if not posed.shown or opacity <= 0 or not len(posed.opacity) or posed.opacity.max() <= 0:
            continue
        mattes = [posed_outline(pose.parts[m.inside]) for m in posed.rest.part.mattes]
        seen = pose.units_in_mattes(posed)
        if not seen.any():
            continue
        if mattes:
            canvas.save()
            for path in mattes:
                canvas.clipPath(path, skia.ClipOp.kIntersect, True)
        _paint_part(canvas, posed, opacity, seen)
        if mattes:
            canvas.restore()


def _paint_part(canvas: skia.Canvas, posed: PosedPart, opacity: float, in_matte: np.ndarray) -> None:
    fill = posed.rest.part.fill.colour
    if posed.rest.setting is None:
        box = posed_rectangle(posed)
        if not box.empty:
            paint = skia.Paint(AntiAlias=True, Color4f=colour(fill, opacity * float(posed.opacity[0])))
            canvas.drawRRect(rounded(box, corner_of(posed, box)), paint)
        return
    if posed.still:
        canvas.save()
        canvas.translate(posed.rest.box.x, posed.rest.box.y)
        paint = skia.Paint(AntiAlias=True, Color4f=colour(fill, opacity))
        for path in unit_paths(posed.rest.setting, "line"):
            canvas.drawPath(path, paint)
        canvas.restore()
        return
    for index, path in enumerate(unit_paths(posed.rest.setting, posed.unit)):
        seen = float(posed.opacity[index]) * opacity
        if seen <= 0 or not in_matte[index]:
            continue
        canvas.save()
        canvas.concat(unit_matrix(posed, index))
        canvas.drawPath(path, skia.Paint(AntiAlias=True, Color4f=colour(fill, seen)))
        canvas.restore()


def new_pixels(width: int, height: int) -> Pixels:
    """An empty picture."""
    return np.zeros((height, width, 4), np.uint8)
