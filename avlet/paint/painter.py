"""Painting a pose: each part back to front, inside its mattes, layer by layer."""

from collections.abc import Iterator

import numpy as np
import skia
from numpy.typing import NDArray

from avlet.document.looks.colours import is_opaque
from avlet.document.looks.paints import SOFT_REACH, Paint, Solid, colours_of
from avlet.document.parts import EchoPart, GroupPart, LampPart, PaintedPart, PicturePart, SpacePart
from avlet.geometry import Box
from avlet.keeping import kept_while_alive
from avlet.layout.arrange import RestPart
from avlet.motion.posed import Pose, PosedPart, unit_edges
from avlet.paint.brushes import blend_mode, tint_filter
from avlet.paint.copies import paint_copies
from avlet.paint.layers import Layer, draw_layer, fills_of
from avlet.paint.mattes import begin_mattes, end_mattes
from avlet.paint.moved_looks import dressed, wiped
from avlet.paint.outlines import part_path, skia_matrix, turning_pieces, unit_matrix, unit_paths
from avlet.paint.pictures import paint_picture, paint_picture_file
from avlet.paint.spaces import paint_space, stands_flat
from avlet.paint.strips import paint_strip

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
    if isinstance(part, LampPart):
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
    assert isinstance(part, GroupPart | EchoPart)
    if isinstance(part, SpacePart) and _paint_in_space(canvas, pose, posed, behind):
        return
    opacity = part.opacity / 100 * float(posed.opacity[0])
    if opacity <= 0:
        return
    box, blur = pose.outline_box(part.id), float(posed.blur[0]) if posed.blur is not None else 0.0
    together = opacity < 1 or part.blend != "normal" or blur > 0 or posed.tint is not None
    with wiped(canvas, posed, 0, box.grown(*[pose.reach(part.id)] * 4)):
        if together:
            paint = skia.Paint(BlendMode=blend_mode(part.blend))
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
    if outline and outline.side != "outside":
        yield Layer(outline.fill, blur=part.blur, line=outline, keep="inside" if outline.side == "inside" else "", tinted=True)


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
    if posed.rest.strip is not None:
        paint_strip(canvas, posed, layers, opacity)
    for layer in layers if posed.rest.strip is None else ():
        if posed.rest.setting is not None:
            _paint_units(canvas, posed, layer, opacity, seen)
        elif posed.rest.copies is not None:
            paint_copies(canvas, posed, layer, opacity)
        else:
            _paint_shape(canvas, posed, layer, opacity)
    if posed.rest.setting is not None and posed.rest.setting.placed:
        _paint_placed(canvas, posed, opacity, seen)
    if together:
        canvas.restore()


def _paint_shape(canvas: skia.Canvas, posed: PosedPart, layer: Layer, opacity: float) -> None:
    box = posed.form_box
    if box.empty:
        return
    path, seen = part_path(posed), opacity * float(posed.opacity[0])
    if posed.matrix is not None:
        canvas.save()
        canvas.concat(skia_matrix(posed.matrix[0]))
    with wiped(canvas, posed, 0, box):
        draw_layer(canvas, path, box, dressed(layer, posed, 0), seen, float(posed.drawn[0]))
        part = posed.rest.part
        if isinstance(part, PicturePart) and layer.line is None and layer.paint is part.fill:
            paint_picture(canvas, part, box, seen)
    if posed.matrix is not None:
        canvas.restore()


def _paint_placed(canvas: skia.Canvas, posed: PosedPart, opacity: float, seen: NDArray[np.bool_] | None) -> None:
    """The pictures among words, each with its unit."""
    setting, corner = posed.rest.setting, posed.rest.box
    assert setting is not None
    for row, box, picture in setting.placed:
        index = int(setting.unit_of[posed.unit][row])
        if picture is not None and (seen is None or seen[index]):
            canvas.save()
            canvas.concat(unit_matrix(posed, index, corner.x, corner.y))
            with wiped(canvas, posed, index, box):
                paint_picture_file(canvas, picture, box, opacity * float(posed.opacity[index]))
            canvas.restore()


def _paint_units(canvas: skia.Canvas, posed: PosedPart, layer: Layer, opacity: float, seen: NDArray[np.bool_] | None) -> None:
    setting = posed.rest.setting
    if setting is None or setting.ink_box is None:
        return
    each = not isinstance(layer.paint, Solid) and layer.paint.over == "each unit"
    corner = posed.rest.box
    if posed.still and not each:
        canvas.save()
        if posed.matrix is not None:
            canvas.concat(skia_matrix(posed.matrix[0]))
        canvas.translate(corner.x, corner.y)
        for number, path in enumerate(unit_paths(setting, "line", layer.accents)):
            draw_layer(canvas, path, setting.ink_box, layer, opacity, 1.0, (setting, number))
        for pieces in turning_pieces(setting, "line", layer.accents).values():
            for piece, share in pieces:
                draw_layer(canvas, piece, setting.ink_box, layer, opacity * share, 1.0)
        canvas.restore()
        return
    local = each or posed.wipe is not None
    edges = unit_edges(posed.rest, posed.unit) - np.array([corner.x, corner.y] * 2) if local else None
    opacities, drawn = (posed.opacity * opacity).tolist(), posed.drawn.tolist()
    turning = turning_pieces(setting, posed.unit, layer.accents)
    for index, path in enumerate(unit_paths(setting, posed.unit, layer.accents)):
        if opacities[index] > 0 and (seen is None or seen[index]):
            canvas.save()
            canvas.concat(unit_matrix(posed, index, corner.x, corner.y))
            own = setting.ink_box if edges is None else Box.from_edges(*edges[index].tolist())
            with wiped(canvas, posed, index, own):
                box = own if each else setting.ink_box
                for piece, share in [(path, 1.0), *turning.get(index, ())]:
                    draw_layer(canvas, piece, box, dressed(layer, posed, index), opacities[index] * share, drawn[index])
            canvas.restore()
