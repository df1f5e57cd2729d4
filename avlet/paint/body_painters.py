"""How each body is painted."""

from collections.abc import Callable, Sequence

import skia

from avlet.arrays import Marks
from avlet.document.parts import PicturePart
from avlet.layout.bodies.body import Body
from avlet.layout.bodies.numbers import Numbers
from avlet.layout.bodies.outline import Ball, Outline, Picture
from avlet.layout.bodies.repeated import Repeated
from avlet.layout.bodies.rolling_list import PageOfList, RollingList
from avlet.layout.bodies.words import Words
from avlet.motion.posed_part import PosedPart
from avlet.paint.copies import paint_copies
from avlet.paint.layers import Layer, draw_layer
from avlet.paint.moved_looks import dressed, wiped
from avlet.paint.outlines import FilledPiece, filled_pieces, part_path, skia_matrix
from avlet.paint.pictures import paint_picture
from avlet.paint.strips import paint_strip
from avlet.paint.words import paint_words


def paint_form(canvas: skia.Canvas, posed: PosedPart, layers: Sequence[Layer], opacity: float, seen: Marks | None) -> None:
    """Paint what has one outline, layer by layer; a picture lies in its fill."""
    box, part = posed.form_box, posed.rest.part
    if box.empty:
        return
    whole_form: list[FilledPiece] = [(part_path(posed), None)]
    fill, whole = getattr(part, "fill", None), opacity * float(posed.opacity[0])
    for layer in layers:
        shown = whole if layer.line is not None else whole * posed.fill_of(0)
        if posed.matrix is not None:
            canvas.save()
            canvas.concat(skia_matrix(posed.matrix[0]))
        with wiped(canvas, posed, 0, box):
            inside = layer.line is None and layer.paint is fill
            for path, paint in filled_pieces(posed) if inside else whole_form:
                own = layer if paint is None else layer._replace(paint=paint)
                draw_layer(canvas, path, box, dressed(own, posed, 0), shown, float(posed.drawn[0]))
            if inside and isinstance(part, PicturePart):
                paint_picture(canvas, part, box, shown)
        if posed.matrix is not None:
            canvas.restore()


PAINTERS: dict[type[Body], Callable[[skia.Canvas, PosedPart, Sequence[Layer], float, Marks | None], None]] = {
    Words: paint_words, Numbers: paint_words, PageOfList: paint_words, RollingList: paint_strip, Repeated: paint_copies,
    Outline: paint_form, Picture: paint_form, Ball: paint_form,
}  # fmt: skip
"""By body: what paints its layers from behind to front with an opacity, all of it or the units that are ``seen``."""
