"""Painting lists of credits: what of them is in the frame, tile by tile. Tiles that come back at the same fraction of a px are kept."""

import math
from collections.abc import Callable, Sequence

import skia

from avlet.arrays import Marks
from avlet.document.looks.paints import SOFT_REACH, Solid
from avlet.document.parts import CreditsPart
from avlet.geometry import Box
from avlet.motion.posed_part import PosedPart
from avlet.paint.brushes import LEAST_BLUR
from avlet.paint.kept_soft import keep_and_draw
from avlet.paint.layers import Layer, draw_layer
from avlet.paint.moved_looks import dressed, wiped
from avlet.paint.outlines import list_in, strip_matrix, tiles_seen, unit_paths
from avlet.paint.pictures import paint_picture_file
from avlet.text.setting import Setting
from avlet.text.strip import Strip, Tile

_SAME = 1e-6
_FINE = 1024
"""Places within a px: a kept tile lies where it would be painted, so that one may follow on the other unseen."""


def paint_strip(canvas: skia.Canvas, posed: PosedPart, layers: Sequence[Layer], opacity: float, seen: Marks | None) -> None:
    """Paint what of a list is in the frame."""
    part, strip = posed.rest.part, list_in(posed).strip
    assert isinstance(part, CreditsPart)
    layers, shown = [dressed(layer, posed, 0) for layer in layers], opacity * float(posed.opacity[0])
    if shown <= 0:
        return
    with wiped(canvas, posed, 0, posed.form_box):
        for tile in tiles_seen(posed):
            canvas.save()
            canvas.concat(strip_matrix(posed, tile.begin))
            sheet = strip.sheet(tile.first, tile.last)
            if part.movement.edge > 0 and part.rolls:
                _paint_fading(canvas, posed, tile, sheet, layers, shown)
            else:
                _paint_tile(canvas, part, strip, tile, sheet, layers, shown, list_in(posed).pace)
            canvas.restore()


def paint_at(canvas: skia.Canvas, posed: PosedPart, layers: Sequence[Layer], tile: Tile) -> None:
    """Paint one tile in px from its own corner, wherever the list stands."""
    part, strip = posed.rest.part, list_in(posed).strip
    assert isinstance(part, CreditsPart)
    _paint_tile(canvas, part, strip, tile, strip.sheet(tile.first, tile.last), layers, 1.0, 0.0)


def _spread(strip: Strip, tile: Tile) -> Box:
    """The box that gradients are spread over: that of the whole list, seen from a tile."""
    if strip.axis == 0:
        return Box(-tile.begin, 0.0, strip.length, strip.breadth)
    return Box(0.0, -tile.begin, strip.breadth, strip.length)


def _paint_tile(
    canvas: skia.Canvas, part: CreditsPart, strip: Strip, tile: Tile, sheet: Setting, layers: Sequence[Layer], opacity: float,
    pace: float,
) -> None:  # fmt: skip
    if sheet.ink_box is None:
        return
    spread = _spread(strip, tile)
    reach = part.reach + 2 + max(SOFT_REACH * layer.blur for layer in layers)
    bounds = skia.Rect.MakeXYWH(*sheet.ink_box.grown(*[reach] * 4))

    def draw(inner: skia.Canvas) -> None:
        softened = begin_softened(inner, bounds, part, strip.axis)
        for layer in layers:
            (whole,) = unit_paths(sheet, "whole", layer.accents)
            draw_layer(inner, whole, spread, layer, 1.0, 1.0)
        _draw_pictures(inner, sheet, None, 1.0)
        if softened:
            inner.restore()

    flat = all(isinstance(layer.paint, Solid) for layer in layers)
    what = tuple(layers), part.softened, None if flat else spread
    if _comes_back(canvas, strip.axis, pace) and keep_and_draw(canvas, bounds, draw, sheet, what, opacity, grid=_FINE):
        return
    if part.softened >= LEAST_BLUR and _draw_between(canvas, bounds, draw, sheet, what, opacity, strip.axis):
        return
    if opacity < 1:
        paint = skia.Paint()
        paint.setAlphaf(opacity)
        canvas.saveLayer(bounds, paint)
    draw(canvas)
    if opacity < 1:
        canvas.restore()


def _draw_between(
    canvas: skia.Canvas, bounds: skia.Rect, draw: Callable[[skia.Canvas], None], sheet: Setting, what: object, opacity: float, axis: int
) -> bool:
    """Show a softened tile from its kept pictures at the two nearest quarters of a px, each by how near it is; False where none are kept.

    Blurring takes longer than all else. What is soft along the movement has so little fine detail that nothing lies between the two
    that is not seen in them.
    """
    matrix = canvas.getTotalMatrix()
    if not matrix.isScaleTranslate():
        return False
    at = matrix.getTranslateX() if axis == 0 else matrix.getTranslateY()
    low = math.floor(at * _PHASES)
    share = at * _PHASES - low
    paint = skia.Paint()
    paint.setAlphaf(opacity)
    canvas.saveLayer(bounds.makeOutset(*((1.0, 0.0) if axis == 0 else (0.0, 1.0))), paint)
    shown = True
    for number, weight in ((low, 1.0 - share), (low + 1, share)):
        canvas.save()
        moved = canvas.getTotalMatrix()
        moved.postTranslate(*((number / _PHASES - at, 0.0) if axis == 0 else (0.0, number / _PHASES - at)))
        canvas.setMatrix(moved)
        shown = shown and (weight <= 0 or keep_and_draw(canvas, bounds, draw, sheet, what, weight, skia.BlendMode.kPlus, _FINE))
        canvas.restore()
    canvas.restore()
    return shown


_PHASES = 4
"""Of so many places within a px a softened tile has kept pictures."""


def _comes_back(canvas: skia.Canvas, axis: int, pace: float) -> bool:
    """Whether tiles of a list that moves whole px a frame lie at the same few fractions of a px of this canvas again and again."""
    matrix = canvas.getTotalMatrix()
    step = pace * (matrix.getScaleX() if axis == 0 else matrix.getScaleY())
    return pace > 0 and any(abs(step * times - round(step * times)) < _SAME for times in (1, 2, 4))


def begin_softened(canvas: skia.Canvas, bounds: skia.Rect, part: CreditsPart, axis: int) -> bool:
    """From here on what is painted is blurred along the movement alone, if the part asks for it."""
    if part.softened < LEAST_BLUR:
        return False
    deviation = part.softened / 2
    sigma = (deviation, 0.0) if axis == 0 else (0.0, deviation)
    canvas.saveLayer(bounds, skia.Paint(ImageFilter=skia.ImageFilters.Blur(*sigma)))
    return True


def _draw_pictures(canvas: skia.Canvas, sheet: Setting, row: int | None, opacity: float) -> None:
    """The pictures of a sheet, or of one of its rows."""
    for at, box, picture in sheet.placed:
        if picture is not None and (row is None or int(sheet.unit_of["line"][at]) == row):
            paint_picture_file(canvas, picture, box, opacity)


def _paint_fading(canvas: skia.Canvas, posed: PosedPart, tile: Tile, sheet: Setting, layers: Sequence[Layer], opacity: float) -> None:
    """Rows each with how much of it shows: nothing at the frame's edges, all of it so many px within."""
    part, strip, frame = posed.rest.part, list_in(posed).strip, list_in(posed).frame
    assert isinstance(part, CreditsPart)
    matrix, spread, axis = strip_matrix(posed, tile.begin), _spread(strip, tile), strip.axis
    for row, ink in enumerate(sheet.unit_ink("line").tolist()):
        if ink[0] != ink[0]:
            continue
        bounds = skia.Rect.MakeLTRB(*ink)
        there = matrix.mapRect(bounds)
        low, high = (there.left(), there.right()) if axis == 0 else (there.top(), there.bottom())
        within = min(low - frame[axis], frame[axis] + frame[axis + 2] - high) / part.movement.edge
        seen = opacity * min(1.0, max(0.0, within))
        if seen <= 0:
            continue
        reach = part.reach + 2
        softened = begin_softened(canvas, bounds.makeOutset(reach, reach), part, axis)
        for layer in layers:
            path = unit_paths(sheet, "line", layer.accents)[row]
            draw_layer(canvas, path, spread, layer, seen, 1.0)
        _draw_pictures(canvas, sheet, row, seen)
        if softened:
            canvas.restore()
