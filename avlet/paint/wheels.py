"""Painting wheels: what passes in a slot's window while a frame is exposed, exactly, from sums over its figures.

A figure is drawn once, as coverage, several rows to a px, and summed up twice from its top. What a row of the picture shows of it, on
the average over a way from a to b, is the difference of those sums at four heights: however long the way is, and without copies.
"""

import functools
from collections import defaultdict
from collections.abc import Sequence

import numpy as np
import skia

from avlet.arrays import Floats
from avlet.document.looks.paints import Solid
from avlet.geometry import Box
from avlet.giving_back import kept_to_be_quick
from avlet.kept_lately import KeptLately
from avlet.paint.brushes import LEAST_BLUR, brush
from avlet.paint.layers import Layer, draw_layer
from avlet.paint.outlines import glyphs_path
from avlet.text.setting import Glyph, Passing, Wheel

_FINE = ((160, 4), (400, 2))
"""How many rows of coverage there are to a px for figures up to so many px high; one for higher ones, which go further in a frame."""
_INK = Solid("#000000")
_MOST_SIDE = 2048
"""px that a window is high or wide at most: one that is seen larger is worked out in coarser px."""
_MOST_KEPT = 48 * 1024**2
"""Bytes of sums that are kept: those of ten figures, and some."""


def draw_wheel(
    canvas: skia.Canvas, wheel: Wheel, squeeze: float, box: Box, layer: Layer, opacity: float, drawn: float
) -> None:  # fmt: skip
    """Paint one layer of a wheel, in px of its text's corner."""
    grid = _Grid(canvas, max(wheel.bottom - wheel.top, _wide(wheel, squeeze, layer)))
    mask = _mask(wheel, squeeze, layer._replace(paint=_INK, dx=0.0, dy=0.0, blur=0.0, accents=None), drawn, grid)
    if mask is None:
        return
    image, left, top = mask
    paint = skia.Paint(brush(layer.paint, box, opacity))
    if (shader := paint.getShader()) is not None:
        there = skia.Matrix.Translate(-left, -top)  # Skia spreads it from the picture's own corner
        there.preConcat(grid.matrix)
        paint.setShader(shader.makeWithLocalMatrix(there))
    if layer.blur >= LEAST_BLUR:
        paint.setImageFilter(skia.ImageFilters.Blur(layer.blur / 2 * grid.across, layer.blur / 2 * grid.down))
    canvas.save()
    canvas.translate(layer.dx, layer.dy)
    canvas.concat(grid.back)
    canvas.drawImage(image, left, top, grid.sampling, paint)
    canvas.restore()


class _Grid:
    """The px in which a wheel is worked out: those of the picture where that lies straight, else as fine ones.

    They are coarser where what is ``side`` px of the text wide would have too many of them.
    """

    def __init__(self, canvas: skia.Canvas, side: float) -> None:
        matrix = canvas.getTotalMatrix()
        most = _MOST_SIDE / max(side, 1.0)
        straight = matrix.isScaleTranslate() and 0 < matrix.getScaleX() <= most and 0 < matrix.getScaleY() <= most
        size = min(max(1e-3, matrix.mapRadius(1.0)), most)
        self.across, self.down = (matrix.getScaleX(), matrix.getScaleY()) if straight else (size, size)
        off = (matrix.getTranslateX() % 1.0, matrix.getTranslateY() % 1.0) if straight else (0.0, 0.0)
        self.off_x, self.off_y = (round(value, 4) for value in off)
        self.matrix = skia.Matrix.MakeAll(self.across, 0, self.off_x, 0, self.down, self.off_y, 0, 0, 1)
        self.back = skia.Matrix()
        self.matrix.invert(self.back)
        self.sampling = skia.SamplingOptions() if straight else skia.SamplingOptions(skia.FilterMode.kLinear)

    def __hash__(self) -> int:
        return hash(self._key)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Grid) and self._key == other._key

    @property
    def _key(self) -> tuple[float, ...]:
        return self.across, self.down, self.off_x, self.off_y


def _mask(wheel: Wheel, squeeze: float, layer: Layer, drawn: float, grid: _Grid) -> tuple[skia.Image, int, int] | None:
    """The coverage of a layer in the window, and where its corner lies in the grid; None where nothing is to be seen."""
    first = int(np.floor(wheel.top * grid.down + grid.off_y))
    end = int(np.ceil(wheel.bottom * grid.down + grid.off_y))
    bounds = [_bounds(one.glyphs, squeeze, layer) for one in wheel.passing]
    seen = [b for b in bounds if b is not None]
    if not seen:
        return None
    left = int(np.floor(min(b.left() for b in seen) * grid.across + grid.off_x)) - 1
    right = int(np.ceil(max(b.right() for b in seen) * grid.across + grid.off_x)) + 1
    rows, columns = end - first, right - left
    if rows <= 0 or columns <= 0:
        return None
    found = np.zeros((rows, columns))
    kinds: dict[int, list[Passing]] = defaultdict(list)
    for one in wheel.passing:
        kinds[id(one.glyphs)].append(one)
    for several in kinds.values():
        for one in [p for p in several if p.begin == p.end]:
            stands = _standing(one.glyphs, squeeze, one.begin, layer, drawn, grid, (left, first, columns, rows))
            found += one.weight / 255 * stands
        if moving := [p for p in several if p.begin != p.end]:
            sums = _sums(moving[0].glyphs, squeeze, layer, drawn, grid)
            if sums is not None:
                _add_moving(found[:, sums.left - left :], moving, sums, grid.down, first)
    window = _window(wheel, grid, first, rows)
    pixels = np.rint(np.minimum(found, 1.0) * window[:, None] * 255).astype(np.uint8)
    return _alpha_image(pixels), left, first


def _bounds(glyphs: tuple[Glyph, ...], squeeze: float, layer: Layer) -> skia.Rect | None:
    path = glyphs_path(glyphs, squeeze)
    if path.isEmpty():
        return None
    width = layer.line.width * 2 if layer.line is not None else 0.0
    return path.getBounds().makeOutset(width, width)


@functools.lru_cache(maxsize=24)
def _standing(
    glyphs: tuple[Glyph, ...], squeeze: float, down: float, layer: Layer, drawn: float, grid: "_Grid", area: tuple[int, int, int, int]
) -> Floats:  # fmt: skip
    return _coverage(glyphs_path(glyphs, squeeze, down), layer, drawn, grid, area, 1)


kept_to_be_quick(_standing.cache_clear)


def _wide(wheel: Wheel, squeeze: float, layer: Layer) -> float:
    """From where to where what passes reaches, in px of its text."""
    bounds = [b for one in wheel.passing if (b := _bounds(one.glyphs, squeeze, layer)) is not None]
    return max((b.right() for b in bounds), default=0.0) - min((b.left() for b in bounds), default=0.0)


_kept: "KeptLately[_Sums]" = KeptLately(_MOST_KEPT, lambda sums: sums.bytes)


def _sums(glyphs: tuple[Glyph, ...], squeeze: float, layer: Layer, drawn: float, grid: "_Grid") -> "_Sums | None":
    bounds = _bounds(glyphs, squeeze, layer)
    if bounds is None:
        return None
    left, top = (int(np.floor(at)) - 1 for at in (bounds.left() * grid.across + grid.off_x, bounds.top() * grid.down + grid.off_y))
    right, bottom = (int(np.ceil(at)) + 1 for at in (bounds.right() * grid.across + grid.off_x, bounds.bottom() * grid.down + grid.off_y))
    key = glyphs, squeeze, layer, drawn, grid
    found = _kept.get(key)
    if found is None:
        fine = next((rows for high, rows in _FINE if bottom - top <= high), 1)
        area = left, top, right - left, bottom - top
        found = _kept.put(key, _Sums(_coverage(glyphs_path(glyphs, squeeze), layer, drawn, grid, area, fine) / 255, left, top, fine))
    return found


class _Sums:
    """A figure's coverage, summed up once and twice from its top down, at every fine row: shapes (fine rows + 1, columns)."""

    def __init__(self, rows: Floats, left: int, top: int, fine: int) -> None:
        self.rows, self.left, self.top, self.fine = rows, left, top, fine
        none = np.zeros((1, rows.shape[1]))
        self.once = np.concatenate([none, np.cumsum(rows, axis=0) / fine])
        self.twice = np.concatenate([none, np.cumsum((self.once[:-1] + self.once[1:]) / 2 / fine, axis=0)])
        self.bytes: int = 3 * self.once.nbytes

    def twice_at(self, heights: Floats) -> Floats:
        """The second sum at some heights, in px of the grid: shape (heights, columns)."""
        at = (heights - self.top) * self.fine
        row = np.clip(np.floor(at), 0, len(self.rows)).astype(np.int64)
        past = np.maximum(at - row, 0.0)[:, None] / self.fine
        density = self.rows[np.minimum(row, len(self.rows) - 1)] * (row < len(self.rows))[:, None]
        return self.twice[row] + past * (self.once[row] + past / 2 * density)


def _add_moving(found: Floats, moving: Sequence[Passing], sums: _Sums, scale: float, first: int) -> None:
    """Add what the rows of a window, the first at ``first``, show of a figure that goes some ways."""
    shares: dict[float, float] = defaultdict(float)
    for one in moving:
        low, high = sorted((one.begin * scale, one.end * scale))
        shares[low] += one.weight / (high - low)
        shares[high] -= one.weight / (high - low)
    edges = np.arange(first, first + len(found) + 1, dtype=np.float64)
    for offset, share in shares.items():
        if share:
            found[:, : sums.rows.shape[1]] += share * np.diff(sums.twice_at(edges - offset), axis=0)


def _coverage(path: skia.Path, layer: Layer, drawn: float, grid: _Grid, area: tuple[int, int, int, int], fine: int) -> Floats:
    """What a layer of a path covers of each px of an ``area`` of the grid (left, top, columns, rows), 0 to 255; ``fine`` rows a px."""
    left, top, columns, rows = area
    pixels = np.zeros((rows * fine, columns + -columns % 4), np.uint8)
    info = skia.ImageInfo.Make(pixels.shape[1], pixels.shape[0], skia.kAlpha_8_ColorType, skia.kPremul_AlphaType)
    surface = skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0])
    inner = surface.getCanvas()
    inner.scale(1.0, float(fine))
    inner.translate(-left, -top)
    inner.concat(grid.matrix)
    draw_layer(inner, path, _NOWHERE, layer, 1.0, drawn)
    surface.flushAndSubmit()
    return pixels[:, :columns].astype(np.float64)


_NOWHERE = Box(0, 0, 1, 1)


def _window(wheel: Wheel, grid: _Grid, first: int, rows: int) -> Floats:
    """How much each row of the window shows: all of it, less towards soft edges, and nothing beyond."""
    edges = np.arange(first, first + rows + 1, dtype=np.float64)
    top, bottom = (edge * grid.down + grid.off_y for edge in (wheel.top, wheel.bottom))
    inside = np.clip(np.minimum(edges[1:], bottom) - np.maximum(edges[:-1], top), 0.0, 1.0)
    if wheel.soft <= 0:
        return inside
    depth = np.minimum(edges[:-1] + 0.5 - top, bottom - edges[:-1] - 0.5) / (wheel.soft * grid.down)
    share = np.clip(depth, 0.0, 1.0)
    return inside * share * share * (3 - 2 * share)


def _alpha_image(pixels: np.ndarray) -> skia.Image:
    """Coverage as a picture that takes the colour it is painted with."""
    rows, columns = pixels.shape
    info = skia.ImageInfo.Make(columns, rows, skia.kAlpha_8_ColorType, skia.kPremul_AlphaType)
    return skia.Image.MakeRasterCopy(skia.Pixmap(info, np.ascontiguousarray(pixels), columns))
