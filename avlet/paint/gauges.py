"""Gauges as Skia paths: an arc as one band or as ticks, up to the share that is filled and beyond it."""

import functools
import math

import skia

from avlet.document.looks.paints import Paint, Solid
from avlet.document.parts import GaugePart
from avlet.geometry import Box

_LEAST = 1e-3
"""Degrees below which there is nothing to be seen."""


def gauge_path(part: GaugePart, box: Box) -> skia.Path:
    """The outline of a whole gauge in ``box``, however much of it is filled."""
    return _arc(part, box, 0.0, 1.0)


def gauge_pieces(part: GaugePart, box: Box) -> list[tuple[skia.Path, Paint | None]]:
    """What lies beyond the filled share in the colour of the rest, and on it what is filled, which has the part's own fill."""
    share = min(1.0, max(0.0, part.share / 100))
    return [(_arc(part, box, share, 1.0), Solid(part.rest)), (_arc(part, box, 0.0, share), None)]


@functools.lru_cache(maxsize=256)
def _arc(part: GaugePart, box: Box, low: float, high: float) -> skia.Path:
    """What of a gauge lies between two shares of its way."""
    path = skia.Path()
    thick = min(part.thick, box.w / 2, box.h / 2)
    if thick <= 0 or (high - low) * abs(part.sweep) < _LEAST:
        return path
    if part.ticks == 0:
        _add_band(path, part, box, thick, low, high)
        return path
    free = part.gap / 100
    pitch = 1.0 / (part.ticks if abs(part.sweep) >= 360 else part.ticks - free)  # on a full circle there are as many gaps as ticks
    for tick in range(part.ticks):
        begin = tick * pitch
        _add_sector(path, part, box, thick, max(begin, low), min(begin + pitch * (1.0 - free), high))
    return path


def _add_band(path: skia.Path, part: GaugePart, box: Box, thick: float, low: float, high: float) -> None:
    if abs(part.sweep) * (high - low) >= 360 - _LEAST:
        path.addOval(skia.Rect.MakeXYWH(*box))
        path.addOval(skia.Rect.MakeXYWH(*box.grown(*[-thick] * 4)), skia.PathDirection.kCCW)
        return
    line = skia.Path()
    line.addArc(skia.Rect.MakeXYWH(*box.grown(*[-thick / 2] * 4)), _angle(part, low), part.sweep * (high - low))
    paint = skia.Paint(Style=skia.Paint.kStroke_Style, StrokeWidth=thick)
    paint.setStrokeCap(skia.Paint.kRound_Cap if part.ends == "round" else skia.Paint.kButt_Cap)
    paint.getFillPath(line, path)


def _add_sector(path: skia.Path, part: GaugePart, box: Box, thick: float, low: float, high: float) -> None:
    sweep = part.sweep * (high - low)
    if sweep * math.copysign(1.0, part.sweep) < _LEAST:
        return
    outer, inner = skia.Rect.MakeXYWH(*box), skia.Rect.MakeXYWH(*box.grown(*[-thick] * 4))
    path.arcTo(outer, _angle(part, low), sweep, True)
    if inner.isEmpty():
        path.lineTo(*box.middle)
    else:
        path.arcTo(inner, _angle(part, high), -sweep, False)
    path.close()


def _angle(part: GaugePart, share: float) -> float:
    """Degrees clockwise from the right, as Skia counts them, at a share of the way."""
    return part.begins - 90.0 + part.sweep * share
