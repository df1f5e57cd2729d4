"""Shimmer: how much fine type changes from frame to frame by itself while it rolls, once its travel is taken away."""

import functools
import math
from collections.abc import Generator
from dataclasses import dataclass
from typing import Literal

import numpy as np
import skia

from avlet.arrays import Floats
from avlet.document.parts import CreditsPart
from avlet.light import LUMA
from avlet.motion.credits import MovingList
from avlet.motion.posed_part import PosedPart
from avlet.paint.outlines import glyph_path
from avlet.paint.painter import canvas_over, layers_of, new_pixels
from avlet.paint.strips import paint_at
from avlet.text.fonts import Face

Word = Literal["steady", "lively", "shimmers", "hurries"]
STEADY, LIVELY = 0.08, 0.18
"""Up to so much of its own detail, at full contrast, type seems steady, or lively; found by looking at rolls, no source."""
HURRIES = 1 / 3
"""From which way a frame on, as a share of its smallest capitals' height, type is not followed by the eye (common practice, no source)."""
_PHASES = 6
_LONGEST, _BROADEST = 2400, 700
_EDGE = 8
_LEVEL = "eHtfzEFTLZA一二三"
"""Letters with a level stroke in the middle of their width."""
_EM = 512


@dataclass(frozen=True)
class Calm:
    """How calm a roll is: its shimmer, its contrast (0 to 1), its thinnest level stroke in px (0 where that is not known).

    ``pace`` is how far it goes in a frame, as a share of the height of its smallest capitals.
    """

    shimmer: float
    contrast: float
    thinnest: float
    pace: float = 0.0

    @property
    def word(self) -> Word:
        """In a word. What has little contrast seems calmer; what goes too fast to be followed is not calm, however it shimmers."""
        if self.pace > HURRIES:
            return "hurries"
        seen = self.shimmer * self.contrast
        return "steady" if seen <= STEADY else "lively" if seen <= LIVELY else "shimmers"


def calm_of(moving: MovingList, posed: PosedPart) -> Calm | None:
    """How calm a list moves; None for one that does not, or that shows nothing. ``posed`` is it in any frame."""
    working = calm_bit_by_bit(moving, posed)
    while True:
        try:
            next(working)
        except StopIteration as end:
            found: Calm | None = end.value
            return found


def calm_bit_by_bit(moving: MovingList, posed: PosedPart) -> Generator[None, None, Calm | None]:
    """The same for who has other things to do meanwhile: each step takes a twentieth of a second at most."""
    if moving.roll is None or not moving.strip.tiles:
        return None
    between, pictures = moving.roll.speed % 1.0, []
    for n in range(_PHASES):
        first = _picture(moving, posed, n / _PHASES)
        yield
        pictures.append((first, _picture(moving, posed, n / _PHASES + between) if between else first))
        yield
    detail = math.sqrt(float(np.mean([np.mean(np.diff(first, axis=0) ** 2) for first, _ in pictures])))
    if detail <= 0:
        return None
    shimmers = []
    for first, second in pictures:
        shimmers.append(shimmer(first, second, between))
        yield
    contrast = float(max(first.max() for first, _ in pictures))
    return Calm(
        float(np.mean(shimmers)),
        contrast,
        thinnest_stroke(moving),
        moving.roll.speed / smallest if (smallest := smallest_capitals(moving)) else 0.0,
    )


def shimmer(first: Floats, second: Floats, travel: float) -> float:
    """The second picture moved back by its travel (px, downwards, axis 0) and compared with the first: RMS of what is left over the RMS of
    the first one's own upright detail.
    """
    detail = math.sqrt(float(np.mean(np.diff(first, axis=0) ** 2)))
    back = moved_back(second, travel)
    return math.sqrt(float(np.mean((back - first) ** 2))) / detail if detail else 0.0


def moved_back(picture: Floats, travel: float) -> Floats:
    """A picture moved up by a number of px, between px by the Fourier shift theorem; edges wrap round."""
    if abs(travel - round(travel)) < 1e-9:
        return np.roll(picture, -round(travel), axis=0)
    waves = np.fft.rfftfreq(picture.shape[0])
    turned = np.fft.rfft(picture, axis=0) * np.exp(2j * np.pi * waves * travel)[:, None]
    found: Floats = np.fft.irfft(turned, n=picture.shape[0], axis=0)
    return found


def _picture(moving: MovingList, posed: PosedPart, offset: float) -> Floats:
    """The brightness (0 to 1) of some rows in the middle of the list, so many px along the way, the way going down."""
    strip = moving.strip
    tile = strip.tiles[len(strip.tiles) // 2]
    ink = strip.sheet(tile.first, tile.last).ink_box
    if ink is None:
        return np.zeros((2, 2))
    long, broad = (ink.w, ink.h) if strip.axis == 0 else (ink.h, ink.w)
    along, across = math.ceil(min(long, _LONGEST)) + 2 * _EDGE, math.ceil(min(broad, _BROADEST)) + 2 * _EDGE
    size = (along, across) if strip.axis == 0 else (across, along)
    pixels = new_pixels(*size)
    surface = canvas_over(pixels)
    canvas = surface.getCanvas()
    canvas.translate(*((offset, 0.0) if strip.axis == 0 else (0.0, offset)))
    canvas.translate(_EDGE - math.floor(ink.x), _EDGE - math.floor(ink.y))
    paint_at(canvas, posed, layers_of(posed.rest), tile)
    surface.flushAndSubmit()
    light: Floats = pixels[..., :3] @ LUMA / 255
    return light.T if strip.axis == 0 else light


def smallest_capitals(moving: MovingList) -> float:
    """The height of capitals of the smallest style that a list uses, in px; 0 for one without words."""
    part = moving.part
    assert isinstance(part, CreditsPart)
    used = {piece.style for row in moving.strip.rows for piece in row.pieces if piece.text.strip()}
    faces = moving.strip.setter.metrics
    return min((faces[style].face.cap_height / faces[style].face.upem * part.styles[style].size for style in used), default=0.0)


def thinnest_stroke(moving: MovingList) -> float:
    """The thinnest level stroke, in px, of the letters that the list has, in their styles; 0 where no such letter is among them."""
    part = moving.part
    assert isinstance(part, CreditsPart)
    used: dict[int, set[str]] = {}
    for row in moving.strip.rows:
        for piece in row.pieces:
            used.setdefault(piece.style, set()).update(piece.text)
    found = []
    for style, letters in used.items():
        one, face = part.styles[style], moving.strip.setter.metrics[style].face
        shown = {letter.upper() for letter in letters} if one.case in ("capitals", "small capitals") else letters
        strokes = [stroke for letter in _LEVEL if letter in shown and (stroke := _stroke(face, letter)) > 0]
        found += [stroke * one.size for stroke in strokes]
    return min(found, default=0.0)


@functools.lru_cache(maxsize=512)
def _stroke(face: Face, letter: str) -> float:
    """The thinnest stroke that a line down through a letter's middle crosses, in em; 0 for a letter that the face does not have."""
    glyph = face.shaper.get_nominal_glyph(ord(letter))
    path = None if glyph is None else glyph_path(face, glyph)
    if path is None:
        return 0.0
    scale = _EM / face.upem
    bounds = path.getBounds()
    pixels = new_pixels(1, _EM * 2)
    surface = canvas_over(pixels)
    canvas = surface.getCanvas()
    canvas.translate(0.5 - bounds.centerX() * scale, _EM * 1.4)
    canvas.scale(scale, scale)
    canvas.drawPath(path, skia.Paint(AntiAlias=True, Color=skia.ColorWHITE))
    surface.flushAndSubmit()
    inked = np.concatenate([[0.0], pixels[:, 0, 3] / 255.0, [0.0]])
    edges = np.flatnonzero(np.diff((inked > 0).astype(np.int8)))
    runs = [float(inked[a + 1 : b + 1].sum()) for a, b in zip(edges[::2], edges[1::2], strict=True)]
    return min((run for run in runs if run >= 1.0), default=0.0) / _EM
