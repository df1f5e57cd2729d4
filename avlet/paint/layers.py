"""Layers: the things that a part is painted with, one over another."""

from typing import NamedTuple

import skia

from avlet.document.paints import Outline, Paint
from avlet.geometry import Box
from avlet.paint.brushes import brush, line_of


class Layer(NamedTuple):
    """One thing to paint for every unit: with what, moved by how much, how soft, as a line or filled, kept to which side.

    ``tinted`` layers take on the colour of a move.
    """

    paint: Paint
    dx: float = 0.0
    dy: float = 0.0
    blur: float = 0.0
    line: Outline | None = None
    keep: str = ""
    accents: tuple[int, ...] | None = None
    tinted: bool = False


def draw_layer(canvas: skia.Canvas, path: skia.Path, box: Box, layer: Layer, opacity: float, drawn: float) -> None:
    """Paint one layer of an outline whose gradients are spread over ``box``; ``drawn`` of its line is there."""
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
