"""What takes long to paint and stays the same, kept as pictures: soft layers of words at rest, rows of credits that move whole px."""

import math
from collections.abc import Callable

import skia

from avlet.document.looks.paints import SOFT_REACH
from avlet.kept_lately import KeptLately

MOST_PIXELS = 14_000_000
"""How many px all kept pictures may have together, at 4 bytes each: what a roll in UHD shows at once, and some."""
LARGEST = 4_000_000
"""A picture of more px than this is not kept."""
_GRID = 256
"""Pictures are kept for every 1/256 px that they can lie off the grid of px."""


_Kept = tuple[object, skia.Image, int, int]
"""What keeps alive what a key names by its id; a picture, and where it lies."""
_kept: KeptLately[_Kept] = KeptLately(MOST_PIXELS, lambda found: found[1].width() * found[1].height())


def draw_kept(canvas: skia.Canvas, path: skia.Path, paint: skia.Paint, blur: float, width: float, owner: object, what: object) -> bool:
    """Draw a path with a soft ``paint`` from its kept picture, making that first; False where none can be kept.

    ``blur`` and the ``width`` of its line are in px of the canvas' present space. ``owner`` is what the path belongs to, ``what``
    a value that with it decides path and paint.
    """
    reach = SOFT_REACH * blur + width + 2
    bounds = path.getBounds().makeOutset(reach, reach)
    return keep_and_draw(canvas, bounds, lambda inner: inner.drawPath(path, paint), owner, what)


def keep_and_draw(
    canvas: skia.Canvas, bounds: skia.Rect, draw: Callable[[skia.Canvas], object], owner: object, what: object, opacity: float = 1.0,
    blend: skia.BlendMode = skia.BlendMode.kSrcOver, grid: int = _GRID,
) -> bool:  # fmt: skip
    """Show what ``draw`` draws within ``bounds``, in px of the canvas' present space, from its kept picture, which is made first.

    False where none can be kept. ``owner`` and ``what`` decide what is drawn; ``grid`` is how many places within a px are told apart, at
    one of which it is drawn, so that it is the same whoever asked for it first.
    """
    matrix = canvas.getTotalMatrix()
    if not matrix.isScaleTranslate():
        return False
    (x, off_x), (y, off_y) = (divmod(round(at * grid), grid) for at in (matrix.getTranslateX(), matrix.getTranslateY()))
    key = (id(owner), what, matrix.getScaleX(), matrix.getScaleY(), off_x, off_y)
    found = _kept.get(key)
    if found is None:
        at_origin = skia.Matrix.MakeAll(matrix.getScaleX(), 0, off_x / grid, 0, matrix.getScaleY(), off_y / grid, 0, 0, 1)
        mapped = at_origin.mapRect(bounds)
        left, top = math.floor(mapped.left()), math.floor(mapped.top())
        columns, rows = math.ceil(mapped.right()) - left, math.ceil(mapped.bottom()) - top
        if columns < 1 or rows < 1 or columns * rows > LARGEST:
            return False
        surface = skia.Surface.MakeRaster(skia.ImageInfo.Make(columns, rows, skia.kRGBA_8888_ColorType, skia.kPremul_AlphaType))
        inner = surface.getCanvas()
        inner.translate(-left, -top)
        inner.concat(at_origin)
        draw(inner)
        found = _kept.put(key, (owner, surface.makeImageSnapshot(), left, top))
    canvas.save()
    canvas.resetMatrix()
    paint = skia.Paint(BlendMode=blend)
    paint.setAlphaf(opacity)
    canvas.drawImage(found[1], x + found[2], y + found[3], skia.SamplingOptions(), paint)
    canvas.restore()
    return True
