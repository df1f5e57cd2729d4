"""Painting set words, unit by unit."""

from collections.abc import Sequence

import numpy as np
import skia

from avlet.arrays import Marks
from avlet.document.looks.paints import Solid
from avlet.geometry import Box
from avlet.layout.rest import unit_edges
from avlet.motion.posed_part import PosedPart
from avlet.paint.layers import Layer, draw_layer
from avlet.paint.moved_looks import dressed, wiped
from avlet.paint.outlines import skia_matrix, turning_pieces, unit_matrix, unit_paths, wheels_in
from avlet.paint.pictures import paint_picture_file
from avlet.paint.wheels import draw_wheel
from avlet.text.setting import Setting


def paint_words(canvas: skia.Canvas, posed: PosedPart, layers: Sequence[Layer], opacity: float, seen: Marks | None) -> None:
    """Paint words, numbers or a page of a list, layer by layer, and the pictures among them."""
    setting = posed.rest.body.setting
    assert setting is not None
    if setting.ink_box is not None:
        for layer in layers:
            _paint_units(canvas, posed, setting, posed.rest.body.spread or setting.ink_box, layer, opacity, seen)
    if setting.placed:
        _paint_placed(canvas, posed, setting, opacity, seen)


def _paint_placed(canvas: skia.Canvas, posed: PosedPart, setting: Setting, opacity: float, seen: Marks | None) -> None:
    """The pictures among words, each with its unit."""
    corner = posed.rest.box
    for row, box, picture in setting.placed:
        index = int(setting.unit_of[posed.unit][row])
        if picture is not None and (seen is None or seen[index]):
            canvas.save()
            canvas.concat(unit_matrix(posed, index, corner.x, corner.y))
            with wiped(canvas, posed, index, box):
                paint_picture_file(canvas, picture, box, opacity * float(posed.opacity[index]))
            canvas.restore()


def _paint_units(
    canvas: skia.Canvas, posed: PosedPart, setting: Setting, ink: Box, layer: Layer, opacity: float, seen: Marks | None
) -> None:  # fmt: skip
    each = not isinstance(layer.paint, Solid) and layer.paint.over == "each unit"
    corner = posed.rest.box
    if posed.still and not each:
        canvas.save()
        if posed.matrix is not None:
            canvas.concat(skia_matrix(posed.matrix[0]))
        canvas.translate(corner.x, corner.y)
        for number, path in enumerate(unit_paths(setting, "line", layer.accents)):
            draw_layer(canvas, path, ink, layer, opacity, 1.0, (setting, number))
        for pieces in turning_pieces(setting, "line", layer.accents, on_wheels=False).values():
            for piece, share in pieces:
                draw_layer(canvas, piece, ink, layer, opacity * share, 1.0)
        for wheels in wheels_in(setting, "line", layer.accents).values():
            for wheel in wheels:
                draw_wheel(canvas, wheel, setting.squeeze, ink, layer, opacity, 1.0)
        canvas.restore()
        return
    local = each or posed.wipe is not None
    edges = unit_edges(posed.rest, posed.unit) - np.array([corner.x, corner.y] * 2) if local else None
    filled = posed.filled if posed.filled is not None and layer.line is None else 1.0
    opacities, drawn = (posed.opacity * filled * opacity).tolist(), posed.drawn.tolist()
    turning = turning_pieces(setting, posed.unit, layer.accents, on_wheels=False)
    rolling = wheels_in(setting, posed.unit, layer.accents)
    for index, path in enumerate(unit_paths(setting, posed.unit, layer.accents)):
        if opacities[index] > 0 and (seen is None or seen[index]):
            canvas.save()
            canvas.concat(unit_matrix(posed, index, corner.x, corner.y))
            own = ink if edges is None else Box.from_edges(*edges[index].tolist())
            with wiped(canvas, posed, index, own):
                box = own if each else ink
                for piece, share in [(path, 1.0), *turning.get(index, ())]:
                    draw_layer(canvas, piece, box, dressed(layer, posed, index), opacities[index] * share, drawn[index])
                for wheel in rolling.get(index, ()):
                    draw_wheel(canvas, wheel, setting.squeeze, box, dressed(layer, posed, index), opacities[index], drawn[index])
            canvas.restore()
