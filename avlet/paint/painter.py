"""Painting a pose: each part back to front, inside its mattes, layer by layer."""

import functools
from collections.abc import Iterator
from typing import NamedTuple

import numpy as np
import skia
from numpy.typing import NDArray

from avlet.document.paints import Outline, Paint, Solid
from avlet.document.parts import AnyPart, PicturePart, TextPart
from avlet.document.template import Frame
from avlet.geometry import Box
from avlet.layout.arrange import RestPart
from avlet.motion.pose import Pose, PosedPart, unit_edges
from avlet.paint.brushes import blend_mode, brush, line_of
from avlet.paint.mattes import begin_mattes, end_mattes
from avlet.paint.outlines import part_path, unit_matrix, unit_paths
from avlet.paint.pictures import paint_picture

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
        seen = None if posed.still else pose.units_in_mattes(posed)
        if seen is not None and not seen.any():
            continue
        soft = begin_mattes(canvas, pose, posed)
        _paint_part(canvas, posed, seen)
        end_mattes(canvas, pose, soft)


class Layer(NamedTuple):
    """One thing to paint for every unit: with what, moved by how much, how soft, as a line or filled, kept to which side."""

    paint: Paint
    dx: float = 0.0
    dy: float = 0.0
    blur: float = 0.0
    line: Outline | None = None
    keep: str = ""
    accents: tuple[int, ...] | None = None


@functools.lru_cache(maxsize=2048)
def layers_of(rest: RestPart) -> tuple[Layer, ...]:
    """What a part is painted with, from behind to front."""
    return tuple(_layers(rest.part))


def _layers(part: AnyPart) -> Iterator[Layer]:
    for shadow in part.shadows:
        yield Layer(Solid(shadow.colour), shadow.x, shadow.y, shadow.blur + part.blur)
    if part.glow:
        yield Layer(Solid(part.glow.colour), blur=part.glow.size + part.blur)
    outline = part.outline
    if outline and outline.side == "outside":
        yield Layer(outline.fill, blur=part.blur, line=outline, keep="" if _opaque(part.fill) else "outside")
    yield from _fills(part)
    if outline and outline.side != "outside":
        yield Layer(outline.fill, blur=part.blur, line=outline, keep="inside" if outline.side == "inside" else "")


def _fills(part: AnyPart) -> Iterator[Layer]:
    """The fill, and those of accents that have their own."""
    own = {n: a.fill for n, a in enumerate(part.accents, 1) if a.fill} if isinstance(part, TextPart) else {}
    yield Layer(part.fill, blur=part.blur, accents=tuple(n for n in range(3) if n not in own) if own else None)
    for number, fill in own.items():
        yield Layer(fill, blur=part.blur, accents=(number,))


def _opaque(paint: Paint) -> bool:
    colours = (paint.colour,) if isinstance(paint, Solid) else tuple(stop.colour for stop in paint.stops)
    return all(len(words) == 7 or words[7:].upper() == "FF" for words in colours)


def _paint_part(canvas: skia.Canvas, posed: PosedPart, seen: NDArray[np.bool_] | None) -> None:
    part = posed.rest.part
    layers = layers_of(posed.rest)
    opacity = part.opacity / 100
    together = part.blend != "normal" or (len(layers) > 1 and opacity < 1)
    if together:
        box = posed.outline_box.grown(*[posed.rest.reach + 2] * 4)
        paint = skia.Paint(BlendMode=blend_mode(part.blend))
        paint.setAlphaf(opacity)
        canvas.saveLayer(skia.Rect.MakeXYWH(*box), paint)
        opacity = 1.0
    for layer in layers:
        if posed.rest.setting is None:
            _paint_shape(canvas, posed, layer, opacity)
        else:
            _paint_units(canvas, posed, layer, opacity, seen)
    if together:
        canvas.restore()


def _paint_shape(canvas: skia.Canvas, posed: PosedPart, layer: Layer, opacity: float) -> None:
    box = posed.outline_box
    if box.empty:
        return
    path, seen = part_path(posed), opacity * float(posed.opacity[0])
    _draw(canvas, path, box, layer, seen, float(posed.drawn[0]))
    part = posed.rest.part
    if isinstance(part, PicturePart) and layer.line is None and layer.paint is part.fill:
        paint_picture(canvas, part, path, box, seen)


def _paint_units(canvas: skia.Canvas, posed: PosedPart, layer: Layer, opacity: float, seen: NDArray[np.bool_] | None) -> None:
    setting = posed.rest.setting
    if setting is None or setting.ink_box is None:
        return
    each = not isinstance(layer.paint, Solid) and layer.paint.over == "each unit"
    if posed.still and not each:
        corner = posed.rest.box
        canvas.save()
        canvas.translate(corner.x, corner.y)
        for path in unit_paths(setting, "line", layer.accents):
            _draw(canvas, path, setting.ink_box, layer, opacity, 1.0)
        canvas.restore()
        return
    edges = unit_edges(posed.rest, posed.unit) - np.array([posed.rest.box.x, posed.rest.box.y] * 2) if each else None
    opacities, drawn = (posed.opacity * opacity).tolist(), posed.drawn.tolist()
    for index, path in enumerate(unit_paths(setting, posed.unit, layer.accents)):
        if opacities[index] > 0 and (seen is None or seen[index]):
            canvas.save()
            canvas.concat(unit_matrix(posed, index))
            box = setting.ink_box if edges is None else Box.from_edges(*edges[index].tolist())
            _draw(canvas, path, box, layer, opacities[index], drawn[index])
            canvas.restore()


def _draw(canvas: skia.Canvas, path: skia.Path, box: Box, layer: Layer, opacity: float, drawn: float) -> None:
    line = None
    if layer.line is not None:
        line = line_of(layer.line, drawn)
        if line is None:
            return
    moved = bool(layer.dx or layer.dy)
    if moved or layer.keep:
        canvas.save()
        canvas.translate(layer.dx, layer.dy)
        if layer.keep:
            canvas.clipPath(path, skia.ClipOp.kDifference if layer.keep == "outside" else skia.ClipOp.kIntersect, True)
    canvas.drawPath(path, brush(layer.paint, box, opacity, layer.blur, line))
    if moved or layer.keep:
        canvas.restore()
