"""Layers: the things that a part is painted with, one over another."""

from collections.abc import Iterator
from typing import NamedTuple

import skia

from avlet.document.looks.paints import Outline, Paint
from avlet.document.parts import CreditsPart, PaintedPart, TypesetPart
from avlet.geometry import Box
from avlet.paint.brushes import LEAST_BLUR, brush, line_of
from avlet.paint.kept_soft import draw_kept
from avlet.text.sheets import RULE


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


def draw_layer(
    canvas: skia.Canvas, path: skia.Path, box: Box, layer: Layer, opacity: float, drawn: float, kept: tuple[object, object] | None = None
) -> None:
    """Paint one layer of an outline whose gradients are spread over ``box``; ``drawn`` of its line is there.

    ``kept`` names what the outline belongs to and which of its outlines it is, where a soft one may be kept as a picture.
    """
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
    paint = brush(layer.paint, box, opacity, layer.blur, line)
    width = line[0] if line else 0.0
    if (
        kept is None
        or layer.blur < LEAST_BLUR
        or not draw_kept(canvas, path, paint, layer.blur, width, kept[0], (kept[1], layer, opacity, drawn))
    ):
        canvas.drawPath(path, paint)
    if moved or layer.keep:
        canvas.restore()


def fills_of(part: PaintedPart) -> Iterator[Layer]:
    """The fill, and those of accents, or of sorts of lines, that have their own."""
    if isinstance(part, CreditsPart):
        fills = {n: style.fill for n, style in enumerate(part.styles) if style.fill}
        yield Layer(part.fill, blur=part.blur, accents=tuple(n for n in range(RULE + 1) if n not in fills), tinted=True)
        for number, paint in fills.items():
            yield Layer(paint, blur=part.blur, accents=(number,), tinted=True)
        return
    own = {n: a.fill for n, a in enumerate(part.accents, 1) if a.fill} if isinstance(part, TypesetPart) else {}
    yield Layer(part.fill, blur=part.blur, accents=tuple(n for n in range(3) if n not in own) if own else None, tinted=True)
    for number, fill in own.items():
        yield Layer(fill, blur=part.blur, accents=(number,), tinted=True)
