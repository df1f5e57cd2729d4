"""Mattes: painting inside, or outside of, other parts' outlines as they stand now."""

import skia

from avlet.document.parts import Matte
from avlet.motion.pose import Pose, PosedPart
from avlet.paint.brushes import LEAST_BLUR, soft_edge
from avlet.paint.outlines import posed_outline


def begin_mattes(canvas: skia.Canvas, pose: Pose, posed: PosedPart) -> tuple[Matte, ...]:
    """From here on only what the part's mattes let through shows: a hard edge is a clip. Returns the soft ones, which need a layer."""
    soft = tuple(m for m in posed.rest.part.mattes if m.soft >= LEAST_BLUR)
    canvas.save()
    for matte in posed.rest.part.mattes:
        if matte.soft < LEAST_BLUR:
            canvas.clipPath(matte_path(matte, pose), skia.ClipOp.kDifference if matte.hides else skia.ClipOp.kIntersect, True)
    if soft:
        area = posed.outline_box.grown(*[posed.rest.reach + 2] * 4)
        canvas.saveLayer(skia.Rect.MakeXYWH(*area))
    return soft


def end_mattes(canvas: skia.Canvas, pose: Pose, soft: tuple[Matte, ...]) -> None:
    """Apply the soft mattes to what was painted since they began."""
    for matte in soft:
        mode = skia.BlendMode.kDstOut if matte.hides else skia.BlendMode.kDstIn
        canvas.saveLayer(None, skia.Paint(BlendMode=mode))
        brush = skia.Paint(AntiAlias=True)
        brush.setMaskFilter(soft_edge(matte.soft))
        canvas.drawPath(matte_path(matte, pose), brush)
        canvas.restore()
    if soft:
        canvas.restore()
    canvas.restore()


def matte_path(matte: Matte, pose: Pose) -> skia.Path:
    """The outline of a matte's source now, grown or shrunk."""
    path = posed_outline(pose.parts[matte.inside])
    if matte.grow == 0 or path.isEmpty():
        return path
    line = skia.Path()
    stroke = skia.Paint(Style=skia.Paint.kStroke_Style, StrokeWidth=2 * abs(matte.grow))
    stroke.setStrokeJoin(skia.Paint.kRound_Join)
    stroke.getFillPath(path, line)
    operation = skia.PathOp.kUnion_PathOp if matte.grow > 0 else skia.PathOp.kDifference_PathOp
    return skia.Op(path, line, operation) or path
