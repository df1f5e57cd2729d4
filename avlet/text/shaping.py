"""Shaping one line with HarfBuzz. Lengths are in em, so that one result serves every size."""

import functools
import math
from dataclasses import dataclass

import numpy as np
import uharfbuzz as hb

from avlet.arrays import Floats, Ints
from avlet.giving_back import kept_to_be_quick
from avlet.text.fonts import Face, FontBook
from avlet.text.marking import StyledLine
from avlet.text.runs import CURSIVE, Run, split_runs
from avlet.text.units import grapheme_starts


@dataclass(frozen=True, eq=False)
class ShapedLine:
    """The glyphs of one line from left to right. All arrays have shape (n,) but ``ink``, which has (n, 4).

    ``x`` and ``y`` (down) are pen positions, ``clusters`` the code point that each glyph begins with, ``ink`` the outline's
    left, top, right, bottom relative to the pen (NaN for blank glyphs), ``ends`` 1 behind a cluster's last glyph where letters may
    stand further apart, ``scale`` each glyph's size as a share of the text's.
    """

    glyphs: Ints
    faces: tuple[Face, ...]
    clusters: Ints
    x: Floats
    y: Floats
    ink: Floats
    ends: Floats
    scale: Floats
    advance: float
    lacking: tuple[str, ...]


@functools.lru_cache(maxsize=65_536)
def _extents(face: Face, glyph: int) -> tuple[float, float, float, float]:
    """A glyph's ink in em: left, top, right, bottom, y down."""
    if any(face.drawn):
        return _drawn_extents(face, glyph)
    box = face.shaper.get_glyph_extents(glyph)
    if box is None or box.width == 0 or box.height == 0:
        return (np.nan, np.nan, np.nan, np.nan)
    em = face.upem
    return (box.x_bearing / em, -box.y_bearing / em, (box.x_bearing + box.width) / em, -(box.y_bearing + box.height) / em)


kept_to_be_quick(_extents.cache_clear)


def _drawn_extents(face: Face, glyph: int) -> tuple[float, float, float, float]:
    """The same for a slanted or heavier face, from its outline by fontTools' own pens: exact, where a slanted box would be too wide."""
    from fontTools.misc.transform import Transform
    from fontTools.pens.boundsPen import BoundsPen
    from fontTools.pens.transformPen import TransformPen

    slant, heavier = face.drawn
    bounds = BoundsPen(None)
    face.shaper.draw_glyph_with_pen(glyph, TransformPen(bounds, Transform(1, 0, math.tan(math.radians(slant)), 1, 0, 0)))
    if bounds.bounds is None:
        return (np.nan, np.nan, np.nan, np.nan)
    left, bottom, right, top = (value / face.upem for value in bounds.bounds)
    half = heavier / 2
    return (left - half, -top - half, right + half, -bottom + half)


@functools.lru_cache(maxsize=2048)
def shape_line(line: StyledLine, book: FontBook, rtl: bool, features: tuple[str, ...] = ()) -> ShapedLine:
    """Shape a line. ``features`` are OpenType tags to switch on, or off with a minus before them: ``tnum``, ``-liga``."""
    split = split_runs(line, list(grapheme_starts(line.text)), book, rtl)
    glyphs: list[int] = []
    faces: list[Face] = []
    clusters: list[int] = []
    x: list[float] = []
    y: list[float] = []
    scale: list[float] = []
    joined: list[bool] = []
    pen = 0.0
    for run in split.runs:
        em = run.face.upem / run.scale
        for info, position in _shape_run(line.text, run, features):
            glyphs.append(info.codepoint)
            faces.append(run.face)
            clusters.append(info.cluster)
            x.append(pen + position.x_offset / em + run.face.drawn[1] * run.scale / 2)
            y.append(-position.y_offset / em)
            scale.append(run.scale)
            joined.append(run.script in CURSIVE)
            pen += position.x_advance / em + (run.face.drawn[1] * run.scale if position.x_advance else 0.0)
    number = np.asarray(clusters, np.int64)
    ends = np.ones(len(glyphs))
    ends[:-1] = number[:-1] != number[1:]
    ends[np.asarray(joined, np.bool_)] = 0.0
    sizes = np.asarray(scale, np.float64)
    ink = np.array([_extents(f, g) for f, g in zip(faces, glyphs, strict=True)], np.float64).reshape(-1, 4) * sizes[:, None]
    return ShapedLine(
        glyphs=np.asarray(glyphs, np.int64), faces=tuple(faces), clusters=number, x=np.asarray(x), y=np.asarray(y), ink=ink,
        ends=ends, scale=sizes, advance=pen, lacking=split.lacking,
    )  # fmt: skip


kept_to_be_quick(shape_line.cache_clear)


def _shape_run(line: str, run: Run, features: tuple[str, ...]) -> list[tuple[hb.GlyphInfo, hb.GlyphPosition]]:
    buffer = hb.Buffer()
    buffer.add_codepoints([ord(c) for c in line], run.start, run.end - run.start)
    buffer.direction = "rtl" if run.rtl else "ltr"
    buffer.script = run.script
    buffer.guess_segment_properties()
    hb.shape(run.face.shaper, buffer, {tag.lstrip("-"): not tag.startswith("-") for tag in features})
    return list(zip(buffer.glyph_infos, buffer.glyph_positions, strict=True))
