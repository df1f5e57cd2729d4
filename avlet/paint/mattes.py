"""Mattes: painting inside, or outside of, other parts as they stand now."""

from collections.abc import Callable

import skia

from avlet.document.parts import Matte
from avlet.motion.posed import Pose, PosedPart
from avlet.paint.brushes import LEAST_BLUR, soft_edge
from avlet.paint.outlines import posed_outline


def is_clip(matte: Matte) -> bool:
    """Whether a matte is a plain clip: a hard outline. The others need a layer."""
    return matte.by == "outline" and matte.soft < LEAST_BLUR


def begin_mattes(canvas: skia.Canvas, pose: Pose, posed: PosedPart, mattes: tuple[Matte, ...]) -> tuple[Matte, ...]:
    """From here on only what a part's ``mattes`` let through shows. Returns those that need a layer, which has begun."""
    layered = tuple(m for m in mattes if not is_clip(m))
    canvas.save()
    for matte in mattes:
        if is_clip(matte):
            canvas.clipPath(matte_path(matte, pose), skia.ClipOp.kDifference if matte.hides else skia.ClipOp.kIntersect, True)
    if layered:
        part_id = posed.rest.part.id
        area = pose.outline_box(part_id).grown(*[pose.reach(part_id) + 2] * 4)
        canvas.saveLayer(skia.Rect.MakeXYWH(*area))
    return layered


def end_mattes(canvas: skia.Canvas, pose: Pose, layered: tuple[Matte, ...], paint_source: Callable[[str], None]) -> None:
    """Apply the layered mattes to what was painted since they began; ``paint_source`` paints the part that counts by its look."""
    for matte in layered:
        canvas.saveLayer(None, _sieve(matte))
        if matte.by == "outline":
            brush = skia.Paint(AntiAlias=True)
            brush.setMaskFilter(soft_edge(matte.soft))
            canvas.drawPath(matte_path(matte, pose), brush)
        else:
            paint_source(matte.inside)
        canvas.restore()
    if layered:
        canvas.restore()
    canvas.restore()


def _sieve(matte: Matte) -> skia.Paint:
    """How the layer with a matte's source acts on what lies below it."""
    paint = skia.Paint(BlendMode=skia.BlendMode.kDstOut if matte.hides else skia.BlendMode.kDstIn)
    if matte.by == "brightness":
        paint.setColorFilter(skia.LumaColorFilter.Make())
    if matte.by != "outline" and matte.soft >= LEAST_BLUR:
        paint.setImageFilter(skia.ImageFilters.Blur(matte.soft / 2, matte.soft / 2))
    return paint


def matte_path(matte: Matte, pose: Pose) -> skia.Path:
    """The outline of a matte's source now, grown or shrunk."""
    path = posed_outline(pose, matte.inside)
    if matte.grow == 0 or path.isEmpty():
        return path
    line = skia.Path()
    stroke = skia.Paint(Style=skia.Paint.kStroke_Style, StrokeWidth=2 * abs(matte.grow))
    stroke.setStrokeJoin(skia.Paint.kRound_Join)
    stroke.getFillPath(path, line)
    operation = skia.PathOp.kUnion_PathOp if matte.grow > 0 else skia.PathOp.kDifference_PathOp
    return skia.Op(path, line, operation) or path
