"""Painting the copies of a pattern."""

import functools
from collections.abc import Sequence

import skia

from avlet.arrays import Marks
from avlet.document.looks.colours import mixed
from avlet.document.looks.paints import Solid
from avlet.document.parts import PatternPart, PicturePart
from avlet.geometry import Box
from avlet.motion.posed_part import PosedPart
from avlet.paint.layers import Layer, draw_layer
from avlet.paint.moved_looks import dressed, wiped
from avlet.paint.outlines import copies_in, copy_matrix, copy_path, filled_area
from avlet.paint.pictures import paint_picture


def paint_copies(canvas: skia.Canvas, posed: PosedPart, layers: Sequence[Layer], opacity: float, seen: Marks | None) -> None:
    """Paint every copy, first to last, within the box that they fill if they fill one, layer by layer."""
    for layer in layers:
        _paint_layer(canvas, posed, layer, opacity)


def _paint_layer(canvas: skia.Canvas, posed: PosedPart, layer: Layer, opacity: float) -> None:
    part, copies = posed.rest.part, copies_in(posed).units
    assert isinstance(part, PatternPart)
    path, box = copy_path(part, copies.width, copies.height), Box(-copies.width / 2, -copies.height / 2, copies.width, copies.height)
    canvas.save()
    area = filled_area(posed)
    if area is not None:
        canvas.clipPath(area, skia.ClipOp.kIntersect, True)
    unit_of = copies.unit_of[posed.unit]
    opacities = (copies.opacity * posed.opacity[unit_of] * opacity).tolist()
    for number, seen in enumerate(opacities):
        if seen <= 0 or box.empty:
            continue
        canvas.save()
        canvas.concat(copy_matrix(posed, number))
        shown = layer
        if part.colour_runs and layer.paint is part.fill and isinstance(layer.paint, Solid):
            shown = layer._replace(paint=Solid(mixed(layer.paint.colour, part.colour_last, float(copies.share[number]))))
        unit = int(unit_of[number])
        there = seen if layer.line is not None else seen * posed.fill_of(unit)
        with wiped(canvas, posed, unit, box):
            draw_layer(canvas, path, box, dressed(shown, posed, unit), there, float(posed.drawn[unit]))
            if part.picture is not None and layer.line is None and layer.paint is part.fill:
                paint_picture(canvas, _as_picture(part), box, there)
        canvas.restore()
    canvas.restore()


@functools.lru_cache(maxsize=64)
def _as_picture(part: PatternPart) -> PicturePart:
    """One copy of a pattern of pictures."""
    assert part.picture is not None
    return PicturePart(id=part.id, name=part.name, picture=part.picture, sits="fills", corner=part.corner, corner_unit=part.corner_unit)
