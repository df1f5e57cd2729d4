"""What moves do to paint: colours taken on, blurs of single units, and wipes."""

import contextlib
import functools
import math
from collections.abc import Iterator

import msgspec
import skia

from avlet.document.looks.colours import mixed
from avlet.document.looks.paints import Paint, Solid, Stop
from avlet.geometry import Box
from avlet.motion.posed_part import PosedPart, Wipe, opened_box
from avlet.paint.layers import Layer

_TINTS, _BLURS = 128, 20
"""Steps of a colour's way, and of a px of blur: fine enough not to be seen, and brushes are found again."""


def dressed(layer: Layer, posed: PosedPart, unit: int) -> Layer:
    """A layer as a unit's moves make it: softer, and on its way to another colour."""
    if posed.blur is not None and posed.blur[unit]:
        layer = layer._replace(blur=layer.blur + round(float(posed.blur[unit]) * _BLURS) / _BLURS)
    if posed.tint is not None and layer.tinted and posed.tint.share[unit]:
        layer = layer._replace(paint=tinted(layer.paint, posed.tint.colour, round(float(posed.tint.share[unit]) * _TINTS)))
    return layer


@functools.lru_cache(maxsize=1024)
def tinted(paint: Paint, colour: str, steps: int) -> Paint:
    """A paint with every colour that share of the way to another; its own transparency goes along."""
    share = steps / _TINTS
    if isinstance(paint, Solid):
        return Solid(mixed(paint.colour, colour, share))
    return msgspec.structs.replace(paint, stops=tuple(Stop(s.at, mixed(s.colour, colour, share)) for s in paint.stops))


@contextlib.contextmanager
def wiped(canvas: skia.Canvas, posed: PosedPart, unit: int, box: Box) -> Iterator[None]:
    """Paint only what the unit's wipe has opened of ``box``, in px of the canvas as it is."""
    if posed.wipe is None or posed.opened is None or posed.opened[unit] >= 1:
        yield
        return
    wipe, opened = posed.wipe, float(posed.opened[unit])
    room = box.grown(*[posed.reach + 2] * 4)
    canvas.save()
    if wipe.soft <= 0:
        canvas.clipPath(_open_area(wipe, room, opened), skia.ClipOp.kIntersect, True)
        yield
    else:
        canvas.saveLayer(skia.Rect.MakeXYWH(*room))
        yield
        mask = skia.Paint(BlendMode=skia.BlendMode.kDstIn, Shader=_soft_shader(wipe, room, opened))
        canvas.drawRect(skia.Rect.MakeXYWH(*room), mask)
        canvas.restore()
    canvas.restore()


def _open_area(wipe: Wipe, box: Box, opened: float) -> skia.Path:
    path = skia.Path()
    if wipe.opens_from != "an angle":
        path.addRect(skia.Rect.MakeXYWH(*opened_box(box, wipe, opened)))
        return path
    (dx, dy), start, length = _along(wipe, box)
    sides = [y * dx - x * dy for x in (box.x, box.right) for y in (box.y, box.bottom)]  # how far across that direction its corners lie
    low, high, front = min(sides), max(sides), start + length * opened
    corners = [(start, low), (front, low), (front, high), (start, high)]
    path.addPoly([skia.Point(s * dx - t * dy, s * dy + t * dx) for s, t in corners], True)
    return path


def _along(wipe: Wipe, box: Box) -> tuple[tuple[float, float], float, float]:
    """The direction that a wipe opens in, where along it the box begins, and how long the box is along it."""
    angle = {"left": 0.0, "right": 180.0, "above": 90.0, "below": 270.0, "the middle": 0.0}.get(wipe.opens_from, wipe.angle)
    dx, dy = math.cos(math.radians(angle)), math.sin(math.radians(angle))
    places = [x * dx + y * dy for x in (box.x, box.right) for y in (box.y, box.bottom)]
    return (dx, dy), min(places), max(places) - min(places)


def _soft_shader(wipe: Wipe, box: Box, opened: float) -> skia.Shader:
    """Opaque where the wipe has opened, clear beyond its soft edge; wholly so at both ends."""
    (dx, dy), start, length = _along(wipe, box)
    soft = max(wipe.soft, 0.01)
    if wipe.opens_from == "the middle":
        half = (length / 2 + soft) * opened
        middle = start + length / 2
        low, high, total = middle - half, middle + half, max(2 * half, 1e-3)
        places = [0.0, min(0.5, soft / total), max(0.5, 1 - soft / total), 1.0]
        ends, colours = (low, high), [0x00000000, 0xFF000000, 0xFF000000, 0x00000000]
    else:
        front = start + (length + soft) * opened
        ends, colours, places = (front - soft, front), [0xFF000000, 0x00000000], [0.0, 1.0]
    points = [skia.Point(at * dx, at * dy) for at in ends]
    return skia.GradientShader.MakeLinear(points, colours, places)
