"""Brushes: Skia paints for a document's paints, kept for use again. They are shared, so nobody may change one."""

import functools
import math

import skia

from avlet.document.looks.colours import channels
from avlet.document.looks.paints import Blend, Linear, Outline, Paint, Radial, Solid
from avlet.geometry import Box

_NO_BOX = Box(0, 0, 0, 0)
_JOINS = {"round": skia.Paint.kRound_Join, "miter": skia.Paint.kMiter_Join, "bevel": skia.Paint.kBevel_Join}
_PREMULTIPLIED = 1
"""Skia's flag for gradients whose colours are interpolated premultiplied, so that a clear stop does not darken the way."""


def colour(words: str, opacity: float = 1.0) -> skia.Color4f:
    """``#RRGGBB`` or ``#RRGGBBAA`` with an opacity 0…1, for Skia."""
    red, green, blue, alpha = channels(words).shares
    return skia.Color4f(red, green, blue, alpha * opacity)


def tint_filter(words: str, share: float) -> skia.ColorFilter | None:
    """Turns colours ``share`` of the way to one, alpha kept; none where that is too little to be seen."""
    tint = colour(words, share).toColor()
    return skia.ColorFilters.Blend(tint, skia.BlendMode.kSrcATop) if tint >> 24 else None


def brush(paint: Paint, box: Box, opacity: float, blur: float = 0.0, line: "Line | None" = None) -> skia.Paint:
    """A brush for filling, or for the line along an edge. Gradients are spread over ``box``; ``blur`` is in px as in CSS."""
    return _brush(paint, _NO_BOX if isinstance(paint, Solid) else box, opacity, blur, line)


_WHOLE = 1e-4
"""A line that lacks less than this share of its length is whole: nobody sees it, and Skia has no effect for it."""
LEAST_BLUR = 0.05
"""px below which nothing is softened."""


def soft_edge(blur: float) -> skia.MaskFilter:
    """A soft edge ``blur`` px wide, as in CSS: a Gaussian whose deviation is half of that."""
    return skia.MaskFilter.MakeBlur(skia.BlurStyle.kNormal_BlurStyle, blur / 2)


Line = tuple[float, str, float, float]
"""A line to draw: its width in px, its joins, and from where to where it is drawn (shares of its length)."""


def line_of(outline: Outline, drawn: float = 1.0) -> Line | None:
    """The line of an outline, ``drawn`` of it there; None when nothing of it is."""
    start, end = outline.start / 100, outline.end / 100
    length = max(0.0, end - start) * drawn
    width = outline.width if outline.side == "middle" else outline.width * 2
    if length <= 0 or width <= 0:
        return None
    begin = (start + outline.offset / 100) % 1.0
    return (width, outline.join, 0.0, 1.0) if length >= 1 - _WHOLE else (width, outline.join, begin, begin + length)


@functools.lru_cache(maxsize=768)
def _brush(paint: Paint, box: Box, opacity: float, blur: float, line: Line | None) -> skia.Paint:
    made = skia.Paint(AntiAlias=True)
    if isinstance(paint, Solid):
        made.setColor4f(colour(paint.colour, opacity))
    else:
        made.setShader(_shader(paint, box))
        made.setAlphaf(opacity)
    if blur >= LEAST_BLUR:
        made.setMaskFilter(soft_edge(blur))
    if line is not None:
        width, join, start, end = line
        made.setStyle(skia.Paint.kStroke_Style)
        made.setStrokeWidth(width)
        made.setStrokeJoin(_JOINS[join])
        if (start, end) != (0.0, 1.0):
            made.setStrokeCap(skia.Paint.kRound_Cap)
            made.setPathEffect(_drawn_part(start, end))
    return made


def _drawn_part(start: float, end: float) -> skia.PathEffect:
    """Only the stretch from ``start`` to ``end`` of an edge; over its end it goes on at its begin."""
    if end <= 1.0:
        return skia.TrimPathEffect.Make(start, end, skia.TrimPathEffect.Mode.kNormal)
    return skia.TrimPathEffect.Make(end - 1.0, start, skia.TrimPathEffect.Mode.kInverted)


def _shader(paint: Paint, box: Box) -> skia.Shader:
    assert not isinstance(paint, Solid)
    stops = sorted(paint.stops, key=lambda stop: stop.at)
    colours = [channels(stop.colour).argb for stop in stops]
    places = [stop.at / 100 for stop in stops]
    clamp = skia.TileMode.kClamp
    if isinstance(paint, Linear):
        start, end = linear_ends(paint.angle, box)
        return skia.GradientShader.MakeLinear([skia.Point(*start), skia.Point(*end)], colours, places, clamp, _PREMULTIPLIED)
    cx, cy = box.x + box.w * paint.centre_x / 100, box.y + box.h * paint.centre_y / 100
    if isinstance(paint, Radial):
        radius = max(1e-3, math.hypot(box.w, box.h) / 2 * paint.radius / 100)
        return skia.GradientShader.MakeRadial(skia.Point(cx, cy), radius, colours, places, clamp, _PREMULTIPLIED)
    turned = skia.Matrix.RotateDeg(paint.angle, skia.Point(cx, cy))
    return skia.GradientShader.MakeSweep(cx, cy, colours, places, clamp, 0, 360, _PREMULTIPLIED, turned)


def linear_ends(angle: float, box: Box) -> tuple[tuple[float, float], tuple[float, float]]:
    """Both ends of a linear gradient's line: through the middle, as long as the box reaches in its direction."""
    a = math.radians(angle)
    dx, dy = math.cos(a), math.sin(a)
    half = max(1e-3, (abs(box.w * dx) + abs(box.h * dy)) / 2)
    cx, cy = box.middle
    return (cx - dx * half, cy - dy * half), (cx + dx * half, cy + dy * half)


_MODES = {
    "normal": "kSrcOver", "color-dodge": "kColorDodge", "color-burn": "kColorBurn", "hard-light": "kHardLight", "soft-light": "kSoftLight",
}  # fmt: skip


def blend_mode(blend: Blend) -> skia.BlendMode:
    """Skia's name for a W3C blend mode."""
    return getattr(skia.BlendMode, _MODES.get(blend, f"k{blend.capitalize()}"))
