"""Pictures in their boxes."""

import functools

import skia

from avlet.document.looks.pictures import read_picture
from avlet.document.parts import PictureFile, PicturePart
from avlet.geometry import Box
from avlet.paint.brushes import tint_filter
from avlet.paint.drawings import drawing_of, drawing_path
from avlet.paint.forms import box_path

_SMOOTH = skia.SamplingOptions(skia.FilterMode.kLinear, skia.MipmapMode.kLinear)
_MISSING = 0xFF8A5A66


def paint_picture(canvas: skia.Canvas, part: PicturePart, box: Box, opacity: float) -> None:
    """Paint a picture into ``box``. One that cannot be shown is marked by a crossed box."""
    facts = read_picture(part.picture)
    canvas.save()
    canvas.clipPath(box_path(part, box), skia.ClipOp.kIntersect, True)
    if facts.fault:
        _crossed(canvas, box, opacity)
    else:
        target = placed(part, facts.width, facts.height, box)
        paint = skia.Paint(AntiAlias=True)
        paint.setAlphaf(opacity)
        if (tint := tint_filter(part.tint, part.tint_share / 100)) is not None:
            paint.setColorFilter(tint)
        _paint_file(canvas, part.picture, target, paint)
    canvas.restore()


def paint_picture_file(canvas: skia.Canvas, picture: PictureFile, box: Box, opacity: float) -> None:
    """Paint the whole of a picture's file into a box of its own shape. One that cannot be shown is marked by a crossed box."""
    if read_picture(picture).fault:
        _crossed(canvas, box, opacity)
        return
    paint = skia.Paint(AntiAlias=True)
    paint.setAlphaf(opacity)
    _paint_file(canvas, picture, box, paint)


def _paint_file(canvas: skia.Canvas, picture: PictureFile, target: Box, paint: skia.Paint) -> None:
    facts = read_picture(picture)
    if facts.vector:
        _paint_drawing(canvas, picture, target, paint, facts.width, facts.height)
    else:
        image = _decoded(picture)
        canvas.drawImageRect(image, skia.Rect.MakeWH(image.width(), image.height()), skia.Rect.MakeXYWH(*target), _SMOOTH, paint)


def picture_path(part: PicturePart, box: Box) -> skia.Path:
    """The outline of a picture: its box, or what of its drawing lies within that."""
    drawn = drawing_path(part.picture) if part.outlined == "its drawing" and _is_drawing(part) else None
    if drawn is None:
        return box_path(part, box)
    facts, path = read_picture(part.picture), skia.Path()
    target = placed(part, facts.width, facts.height, box)
    matrix = skia.Matrix.MakeRectToRect(
        skia.Rect.MakeWH(facts.width, facts.height), skia.Rect.MakeXYWH(*target), skia.Matrix.kFill_ScaleToFit
    )
    drawn.transform(matrix, path)
    if part.sits != "fills" and part.corner <= 0:
        return path
    return skia.Op(path, box_path(part, box), skia.PathOp.kIntersect_PathOp) or path


def _is_drawing(part: PicturePart) -> bool:
    facts = read_picture(part.picture)
    return facts.vector and not facts.fault and not facts.intricate


def placed(part: PicturePart, width: float, height: float, box: Box) -> Box:
    """Where the whole picture lies, which may reach beyond its box when it fills it."""
    if part.sits == "stretched" or width <= 0 or height <= 0:
        return box
    choose = min if part.sits == "whole" else max
    scale = choose(box.w / width, box.h / height)
    w, h = width * scale, height * scale
    share_x, share_y = (part.focus_x / 100, part.focus_y / 100) if part.sits == "fills" else (0.5, 0.5)
    return Box(box.x + (box.w - w) * share_x, box.y + (box.h - h) * share_y, w, h)


@functools.lru_cache(maxsize=32)
def _decoded(picture: PictureFile) -> skia.Image:
    image = skia.Image.MakeFromEncoded(skia.Data.MakeWithCopy(picture.data))
    return image.makeRasterImage() if hasattr(image, "makeRasterImage") else image


def _paint_drawing(canvas: skia.Canvas, picture: PictureFile, target: Box, paint: skia.Paint, width: float, height: float) -> None:
    drawing = drawing_of(picture)
    if drawing is None:
        _crossed(canvas, target, paint.getAlphaf())
        return
    canvas.saveLayer(skia.Rect.MakeXYWH(*target), paint)
    canvas.translate(target.x, target.y)
    canvas.scale(target.w / max(width, 1e-6), target.h / max(height, 1e-6))
    drawing.render(canvas)
    canvas.restore()


def _crossed(canvas: skia.Canvas, box: Box, opacity: float) -> None:
    paint = skia.Paint(AntiAlias=True, Color=_MISSING, Style=skia.Paint.kStroke_Style, StrokeWidth=3)
    paint.setAlphaf(opacity)
    rect = skia.Rect.MakeXYWH(*box)
    canvas.drawRect(rect, paint)
    canvas.drawLine(rect.left(), rect.top(), rect.right(), rect.bottom(), paint)
    canvas.drawLine(rect.left(), rect.bottom(), rect.right(), rect.top(), paint)
