"""Shaping one line with HarfBuzz. Lengths are in em, so that one result serves every size."""

import functools
from dataclasses import dataclass

import numpy as np
import uharfbuzz as hb

from avlet.arrays import Floats, Ints
from avlet.text.fonts import Face, FontBook
from avlet.text.runs import Run, split_runs
from avlet.text.units import grapheme_starts


@dataclass(frozen=True, eq=False)
class ShapedLine:
    """The glyphs of one line from left to right. All arrays have shape (n,) but ``ink``, which has (n, 4).

    ``x`` and ``y`` (down) are pen positions, ``clusters`` the code point that each glyph begins with, ``ink`` the outline's
    left, top, right, bottom relative to the pen (NaN for blank glyphs), ``ends`` 1 where a cluster's last glyph stands.
    """

    glyphs: Ints
    faces: tuple[Face, ...]
    clusters: Ints
    x: Floats
    y: Floats
    ink: Floats
    ends: Floats
    advance: float
    lacking: tuple[str, ...]


@functools.lru_cache(maxsize=65_536)
def _extents(face: Face, glyph: int) -> tuple[float, float, float, float]:
    """A glyph's ink in em: left, top, right, bottom, y down."""
    box = face.shaper.get_glyph_extents(glyph)
    if box is None or box.width == 0 or box.height == 0:
        return (np.nan, np.nan, np.nan, np.nan)
    em = face.upem
    return (box.x_bearing / em, -box.y_bearing / em, (box.x_bearing + box.width) / em, -(box.y_bearing + box.height) / em)


@functools.lru_cache(maxsize=2048)
def shape_line(line: str, face: Face, book: FontBook, rtl: bool, ligatures: bool) -> ShapedLine:
    """Shape a line. ``ligatures`` off also turns contextual ones off, as is usual for tracked words."""
    split = split_runs(line, list(grapheme_starts(line)), face, book, rtl)
    glyphs: list[int] = []
    faces: list[Face] = []
    clusters: list[int] = []
    x: list[float] = []
    y: list[float] = []
    pen = 0.0
    for run in split.runs:
        em = run.face.upem
        for info, position in _shape_run(line, run, ligatures):
            glyphs.append(info.codepoint)
            faces.append(run.face)
            clusters.append(info.cluster)
            x.append(pen + position.x_offset / em)
            y.append(-position.y_offset / em)
            pen += position.x_advance / em
    number = np.asarray(clusters, np.int64)
    ends = np.ones(len(glyphs))
    ends[:-1] = number[:-1] != number[1:]
    ink = np.array([_extents(f, g) for f, g in zip(faces, glyphs, strict=True)], np.float64).reshape(-1, 4)
    return ShapedLine(np.asarray(glyphs, np.int64), tuple(faces), number, np.asarray(x), np.asarray(y), ink, ends, pen, split.lacking)


def _shape_run(line: str, run: Run, ligatures: bool) -> list[tuple[hb.GlyphInfo, hb.GlyphPosition]]:
    buffer = hb.Buffer()
    buffer.add_codepoints([ord(c) for c in line], run.start, run.end - run.start)
    buffer.direction = "rtl" if run.rtl else "ltr"
    buffer.script = run.script
    buffer.guess_segment_properties()
    features = {} if ligatures else {"liga": False, "clig": False}
    hb.shape(run.face.shaper, buffer, features)
    return list(zip(buffer.glyph_infos, buffer.glyph_positions, strict=True))
