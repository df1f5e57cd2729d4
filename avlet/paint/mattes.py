"""Mattes: painting inside, or outside of, other parts as they stand now."""

from collections.abc import Callable

import skia

from avlet.document.parts import Matte
from avlet.motion.posed import Pose
from avlet.motion.posed_part import PosedPart
from avlet.paint.brushes import LEAST_BLUR
from avlet.paint.posed_outlines import posed_outline


def is_clip(matte: Matte) -> bool:
    """Whether a matte is a plain clip: a hard outline, neither grown nor shrunk. The others need a layer."""
    return matte.by == "outline" and matte.soft < LEAST_BLUR and matte.grow == 0


def begin_mattes(canvas: skia.Canvas, pose: Pose, posed: PosedPart, mattes: tuple[Matte, ...]) -> tuple[Matte, ...]:
    """From here on only what a part's ``mattes`` let through shows. Returns those that need a layer, which has begun."""
    layered = tuple(m for m in mattes if not is_clip(m))
    canvas.save()
    for matte in mattes:
        if is_clip(matte):
            canvas.clipPath(posed_outline(pose, matte.inside), skia.ClipOp.kDifference if matte.hides else skia.ClipOp.kIntersect, True)
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
            _draw_outline(canvas, posed_outline(pose, matte.inside), matte.grow)
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
    if matte.soft >= LEAST_BLUR:
        paint.setImageFilter(skia.ImageFilters.Blur(matte.soft / 2, matte.soft / 2))
    return paint


def _draw_outline(canvas: skia.Canvas, path: skia.Path, grow: float) -> None:
    """Fill an outline grown, or shrunk, by px: a line along it is drawn as well, or wiped out. No outline is too intricate for that."""
    brush = skia.Paint(AntiAlias=True)
    canvas.drawPath(path, brush)
    if grow:
        line = skia.Paint(AntiAlias=True, Style=skia.Paint.kStroke_Style, StrokeWidth=2 * abs(grow), StrokeJoin=skia.Paint.kRound_Join)
        line.setBlendMode(skia.BlendMode.kSrcOver if grow > 0 else skia.BlendMode.kDstOut)
        canvas.drawPath(path, line)
