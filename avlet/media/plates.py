"""Moving plates: made-up pictures to look at titles against. Drawn, never filmed; the same at every size."""

import functools
import math
from collections.abc import Callable

import numpy as np
import skia

from avlet.errors import RenderError
from avlet.paint.painter import Pixels, canvas_over, new_pixels

W, H = 1920.0, 1080.0


def _gradient(canvas: skia.Canvas, top: float, bottom: float, colours: list[int], stops: list[float] | None = None) -> None:
    shader = skia.GradientShader.MakeLinear([(0, top), (0, bottom)], colours, stops)
    canvas.drawRect(skia.Rect.MakeLTRB(0, top, W, bottom), skia.Paint(Shader=shader))


def _wave(y: float, height: float, wavelength: float, phase: float) -> skia.Path:
    """A filled band from a wavy edge at ``y`` down to the bottom of the picture."""
    path = skia.Path()
    path.moveTo(0, H)
    for i in range(33):
        x = i * W / 32
        path.lineTo(x, y + height * math.sin(x / wavelength + phase) + height * 0.4 * math.sin(x / wavelength * 2.7 - phase))
    path.lineTo(W, H)
    path.close()
    return path


def _tide_flats_ground(canvas: skia.Canvas) -> None:
    _gradient(canvas, 0, 430, [0xFF9FB4BE, 0xFFD9DCD3, 0xFFE9DFC8])
    _gradient(canvas, 430, H, [0xFFB9B7A6, 0xFF8D8B79, 0xFF5F5F52])


def _tide_flats(canvas: skia.Canvas, t: float) -> None:
    canvas.drawCircle(1380 + 4 * t, 260, 46, skia.Paint(AntiAlias=True, Color=0x66FFF6DD))
    for i in range(9):
        y = 440 + i * i * 7.5 + i * 12
        shade = 0x4C6F8793 if i % 2 else 0x3CE9E4D4
        canvas.drawPath(_wave(y, 4 + i * 2.2, 160 + i * 45, t * (0.5 + 0.06 * i) + i * 1.9), skia.Paint(AntiAlias=True, Color=shade))
    rng = np.random.default_rng(7)
    for x, y, p in rng.random((70, 3)):
        yy = 450 + y * y * 600
        glint = max(0.0, math.sin(t * 1.7 + p * 40)) ** 3
        length = 14 + 60 * y
        paint = skia.Paint(AntiAlias=True, Color4f=skia.Color4f(1, 0.98, 0.9, 0.55 * glint))
        canvas.drawRoundRect(skia.Rect.MakeXYWH((x * (W + 200) + 12 * t * y) % (W + 200) - 100, yy, length, 1.5 + 2.5 * y), 2, 2, paint)


def _reed_beds_ground(canvas: skia.Canvas) -> None:
    _gradient(canvas, 0, H, [0xFF7E9AA3, 0xFFB9BFA2, 0xFF8A8A55, 0xFF3C4A2E], [0, 0.35, 0.6, 1])


def _reed_beds(canvas: skia.Canvas, t: float) -> None:
    rng = np.random.default_rng(11)
    reeds = rng.random((150, 5))
    for n in np.argsort(reeds[:, 1]):
        x0, depth, tall, phase, hue = reeds[n]
        base = 640 + 500 * depth
        height = (230 + 330 * tall) * (0.45 + 0.75 * depth)
        x = x0 * (W + 160) - 80
        sway = (10 + 26 * depth) * (math.sin(t * 1.1 + x / 260 + phase) + 0.35 * math.sin(t * 2.3 + phase * 9))
        width = 2.5 + 6.5 * depth
        shade = 0.35 + 0.4 * (1 - depth)
        fill = skia.Color4f(shade * (0.62 + 0.2 * hue), shade * 0.72, shade * (0.34 + 0.1 * hue), 1)
        path = skia.Path()
        path.moveTo(x - width, base)
        path.quadTo(x - width * 0.4, base - height * 0.6, x + sway, base - height)
        path.quadTo(x + width * 0.6, base - height * 0.6, x + width, base)
        path.close()
        canvas.drawPath(path, skia.Paint(AntiAlias=True, Color4f=fill))
        if hue > 0.55:
            canvas.save()
            canvas.translate(x + sway * 0.97, base - height)
            canvas.rotate(sway * 0.25)
            head = skia.Paint(AntiAlias=True, Color4f=skia.Color4f(shade * 0.72, shade * 0.5, shade * 0.33, 1))
            canvas.drawOval(skia.Rect.MakeXYWH(-width * 1.1, -26 - 30 * depth, width * 2.2, 46 + 44 * depth), head)
            canvas.restore()


def _dusk_ground(canvas: skia.Canvas) -> None:
    _gradient(canvas, 0, 640, [0xFF26304F, 0xFF6B4F72, 0xFFC9785F, 0xFFF0B873])
    sun = skia.GradientShader.MakeRadial((1270, 560), 420, [0xFFFFE7B0, 0x66FFC987, 0x00FFB070], [0, 0.25, 1])
    canvas.drawRect(skia.Rect.MakeWH(W, 640), skia.Paint(Shader=sun))
    _gradient(canvas, 640, H, [0xFFB87560, 0xFF5D4766, 0xFF1C2238])


def _dusk(canvas: skia.Canvas, t: float) -> None:
    canvas.save()
    canvas.clipRect(skia.Rect.MakeWH(W, 640))
    canvas.drawCircle(1270, 560 + 1.2 * t, 62, skia.Paint(AntiAlias=True, Color=0xFFFFF0CC))
    for i, tint in enumerate((0xFF6A4A5F, 0xFF4A3850)):
        canvas.drawPath(_wave(575 + 34 * i, 22 - 5 * i, 240 + 90 * i, i * 2.2), skia.Paint(AntiAlias=True, Color=tint))
    canvas.restore()
    rng = np.random.default_rng(3)
    for x, y, p in rng.random((120, 3)):
        yy = 646 + y * y * 430
        near_sun = math.exp(-(((x * W - 1270) / (130 + 420 * y)) ** 2))
        glow = (0.12 + 0.75 * near_sun) * (0.5 + 0.5 * math.sin(t * 2.1 + p * 50))
        paint = skia.Paint(AntiAlias=True, Color4f=skia.Color4f(1, 0.8, 0.55, 0.6 * glow))
        width = 30 + 150 * y
        canvas.drawRoundRect(skia.Rect.MakeXYWH(x * W - width / 2 + 6 * math.sin(t + p * 9), yy, width, 2 + 5 * y), 3, 3, paint)
    bird = skia.Paint(AntiAlias=True, Color=0xFF2A2438, Style=skia.Paint.kStroke_Style, StrokeWidth=4)
    for i in range(6):
        x, y = (250 + 68 * t + i * 74) % (W + 300) - 150, 250 + 34 * (i % 3) + 14 * math.sin(t * 0.8 + i)
        flap = 12 * math.sin(t * 7 + i)
        path = skia.Path()
        path.moveTo(x - 20, y - flap)
        path.quadTo(x - 8, y - 4, x, y)
        path.quadTo(x + 8, y - 4, x + 20, y - flap)
        canvas.drawPath(path, bird)


_PLATES: dict[str, tuple[Callable[[skia.Canvas], None], Callable[[skia.Canvas, float], None]]] = {
    "tide flats": (_tide_flats_ground, _tide_flats),
    "reed beds": (_reed_beds_ground, _reed_beds),
    "dusk": (_dusk_ground, _dusk),
}
PLATES = tuple(_PLATES)
"""The names of all plates."""


def plate_named(name: str) -> str:
    """The plate that a person means; raises ``RenderError`` that lists what there is."""
    plain = name.strip().casefold().replace("-", " ").replace("_", " ")
    if plain not in _PLATES:
        raise RenderError(f"There is no plate “{name}”. There are: {', '.join(PLATES)}.")
    return plain


def paint_plate(name: str, seconds: float, pixels: Pixels) -> None:
    """Paint a plate at a moment into ``pixels``, filling them (cropped where their shape is not 16:9)."""
    plain = plate_named(name)
    height, width, _ = pixels.shape
    pixels[...] = _ground(plain, width, height)
    _draw(pixels, lambda canvas: _PLATES[plain][1](canvas, seconds))


@functools.lru_cache(maxsize=8)
def _ground(name: str, width: int, height: int) -> Pixels:
    """What stands still in a plate."""
    pixels = new_pixels(width, height)
    _draw(pixels, _PLATES[name][0])
    return pixels


def _draw(pixels: Pixels, draw: Callable[[skia.Canvas], None]) -> None:
    height, width, _ = pixels.shape
    surface = canvas_over(pixels)
    canvas = surface.getCanvas()
    scale = max(width / W, height / H)
    canvas.translate((width - W * scale) / 2, (height - H * scale) / 2)
    canvas.scale(scale, scale)
    draw(canvas)
    surface.flushAndSubmit()
