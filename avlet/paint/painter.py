"""Painting a pose: each part back to front, inside its mattes, layer by layer."""

from collections.abc import Iterator

import numpy as np
import skia
from numpy.typing import NDArray

from avlet.document.looks.colours import is_opaque
from avlet.document.looks.glint import band
from avlet.document.looks.paints import SOFT_REACH, Blend, Paint, Solid, colours_of
from avlet.document.parts import PaintedPart
from avlet.keeping import kept_while_alive
from avlet.layout.rest import RestPart
from avlet.motion.posed import Pose
from avlet.motion.posed_part import PosedPart
from avlet.paint.body_painters import PAINTERS
from avlet.paint.brushes import blend_mode, tint_filter
from avlet.paint.layers import Layer, fills_of
from avlet.paint.mattes import begin_mattes, end_mattes
from avlet.paint.moved_looks import wiped
from avlet.paint.spaces import paint_space, stands_flat

Pixels = np.ndarray
"""Premultiplied RGBA, 8 bits, shape (height, width, 4)."""


def canvas_over(pixels: Pixels) -> skia.Surface:
    """A Skia surface over an array, without a copy. The array must outlive the surface."""
    height, width, _ = pixels.shape
    info = skia.ImageInfo.Make(width, height, skia.kRGBA_8888_ColorType, skia.kPremul_AlphaType)
    return skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0])


def new_pixels(width: int, height: int) -> Pixels:
    """An empty picture."""
    return np.zeros((height, width, 4), np.uint8)


def paint_pose(canvas: skia.Canvas, pose: Pose) -> None:
    """Paint a pose in px of the template's frame."""
    for part_id in pose.members.get(None, ()):
        paint_one(canvas, pose, part_id)


def paint_one(canvas: skia.Canvas, pose: Pose, part_id: str, behind: frozenset[str] = frozenset(), asked: bool = False) -> None:
    """Paint one part in its mattes, with ``asked`` also one that is switched off.

    ``behind`` are the parts for whose mattes this is painted.
    """
    posed = pose.parts[part_id]
    part = posed.rest.part
    if not (posed.shown or asked) or part.opacity <= 0 or part_id in behind:
        return
    mattes, inner = tuple(m for m in pose.mattes_of(posed) if m.inside not in behind), pose.inner(part_id)
    seen = None if posed.still or not mattes or inner is not None else pose.units_in_mattes(posed)
    if seen is not None and not seen.any():
        return
    if not posed.rest.body.seen:
        return
    layered = begin_mattes(canvas, pose, posed, mattes) if mattes else ()
    if not stands_flat(pose, part_id) and _paint_in_space(canvas, pose, posed, behind):
        pass
    elif inner is None:
        _paint_part(canvas, posed, seen)
    else:
        _paint_inner(canvas, pose, posed, behind)
    if mattes:
        end_mattes(canvas, pose, layered, lambda source: paint_one(canvas, pose, source, behind | {part_id}, asked=True))


def _paint_inner(canvas: skia.Canvas, pose: Pose, posed: PosedPart, behind: frozenset[str]) -> None:
    """What a group or an echo is made of, as one."""
    part = posed.rest.part
    blend: Blend = getattr(part, "blend", "normal")
    if part.has_depth and _paint_in_space(canvas, pose, posed, behind):
        return
    opacity = part.opacity / 100 * float(posed.opacity[0])
    if opacity <= 0:
        return
    box, blur = pose.outline_box(part.id), float(posed.blur[0]) if posed.blur is not None else 0.0
    together = opacity < 1 or blend != "normal" or blur > 0 or posed.tint is not None
    with wiped(canvas, posed, 0, box.grown(*[pose.reach(part.id)] * 4)):
        if together:
            paint = skia.Paint(BlendMode=blend_mode(blend))
            paint.setAlphaf(opacity)
            if blur > 0:
                paint.setImageFilter(skia.ImageFilters.Blur(blur / 2, blur / 2))
            if posed.tint is not None and (tint := tint_filter(posed.tint.colour, float(posed.tint.share[0]))) is not None:
                paint.setColorFilter(tint)
            canvas.saveLayer(skia.Rect.MakeXYWH(*box.grown(*[pose.reach(part.id) + 2 + SOFT_REACH * blur] * 4)), paint)
        for where, member in pose.inner(part.id) or ():
            paint_one(canvas, where, member, behind)
        if together:
            canvas.restore()


def _paint_in_space(canvas: skia.Canvas, pose: Pose, posed: PosedPart, behind: frozenset[str]) -> bool:
    """Paint a space, or one of its members alone, in depth; whether that could be done."""
    space = pose.space_of(posed.rest.part.id)
    if space is None:
        return False

    def paint_source(to: skia.Canvas, where: Pose, source: str, masked: str) -> None:
        paint_one(to, where, source, behind | {masked, posed.rest.part.id}, asked=True)

    return paint_space(canvas, pose, posed, space, paint_source)


@kept_while_alive
def layers_of(rest: RestPart) -> tuple[Layer, ...]:
    """What a part is painted with, from behind to front."""
    assert isinstance(rest.part, PaintedPart)
    return tuple(_layers(rest.part))


def _layers(part: PaintedPart) -> Iterator[Layer]:
    for shadow in part.shadows:
        yield Layer(Solid(shadow.colour), shadow.x, shadow.y, shadow.blur + part.blur)
    if part.glow:
        yield Layer(Solid(part.glow.colour), blur=part.glow.size + part.blur)
    outline = part.outline
    if outline and outline.side == "outside":
        yield Layer(outline.fill, blur=part.blur, line=outline, keep="" if _opaque(part.fill) else "outside", tinted=True)
    yield from fills_of(part)
    light = band(part.glint) if part.glint is not None and part.glint.seen else None
    if light is not None:
        yield Layer(light, blur=part.blur)
    if outline and outline.side != "outside":
        yield Layer(outline.fill, blur=part.blur, line=outline, keep="inside" if outline.side == "inside" else "", tinted=True)
    if outline and light is not None:
        yield Layer(light, blur=part.blur, line=outline, keep={"outside": "outside", "inside": "inside"}.get(outline.side, ""))


def _opaque(paint: Paint) -> bool:
    return all(is_opaque(colour) for colour in colours_of(paint))


def _paint_part(canvas: skia.Canvas, posed: PosedPart, seen: NDArray[np.bool_] | None) -> None:
    part = posed.rest.part
    assert isinstance(part, PaintedPart)
    layers = layers_of(posed.rest)
    opacity = part.opacity / 100
    together = part.blend != "normal" or (len(layers) > 1 and opacity < 1)
    if together:
        box = posed.outline_box.grown(*[posed.reach + 2] * 4)
        paint = skia.Paint(BlendMode=blend_mode(part.blend))
        paint.setAlphaf(opacity)
        canvas.saveLayer(skia.Rect.MakeXYWH(*box), paint)
        opacity = 1.0
    PAINTERS[type(posed.rest.body)](canvas, posed, layers, opacity, seen)
    if together:
        canvas.restore()
