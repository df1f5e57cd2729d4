"""Outlines: a part as Skia paths, at rest and posed."""

import functools
import hashlib
import math
import weakref
from collections import OrderedDict
from collections.abc import Callable
from typing import Any

import numpy as np
import skia

from avlet.arrays import Floats
from avlet.document.looks.paints import Paint
from avlet.document.parts import AnyPart, BallPart, GaugePart, PatternPart, PicturePart, RulePart, ShapePart
from avlet.document.time.moves import Unit
from avlet.errors import FontError
from avlet.geometry import Box
from avlet.giving_back import kept_to_be_quick
from avlet.layout.bodies.repeated import Repeated
from avlet.layout.bodies.rolling_list import RollingList
from avlet.layout.rest import RestPart
from avlet.motion.posed_part import PosedPart
from avlet.paint.forms import Point, SkiaPen, ball_path, box_path, rule_path, shape_path
from avlet.paint.gauges import gauge_path, gauge_pieces
from avlet.paint.pictures import picture_path
from avlet.text.fonts import Face
from avlet.text.setting import NO_GLYPH, Glyph, Setting, Turn, Wheel
from avlet.text.strip import Tile

_KEPT_GLYPHS = 8192
_MOST_TYPEFACES = 64
_typefaces: OrderedDict[tuple[bytes, int], skia.Typeface | None] = OrderedDict()


def _typeface(face: Face) -> skia.Typeface | None:
    """The font of a face's file; one for equal bytes, whichever package they came with.

    Skia keeps what it has drawn with lately, and the bytes of its font with it: a copy for each package would stay for long.
    """
    data = face.data
    key = hashlib.blake2b(data, digest_size=16).digest(), face.index
    if key not in _typefaces:
        _typefaces[key] = skia.Typeface.MakeFromData(skia.Data.MakeWithCopy(data), face.index)
        while len(_typefaces) > _MOST_TYPEFACES:
            _typefaces.popitem(last=False)
    _typefaces.move_to_end(key)
    return _typefaces[key]


def check_outlines(face: Face) -> Face:
    """The face itself; raises ``FontError`` if no outlines can be had from its file."""
    if _typeface(face) is None:
        raise FontError(f"The font “{face.file_name}” is damaged and was left out (its outlines cannot be read).")
    return face


@functools.lru_cache(maxsize=256)
def _outliner(face: Face) -> skia.Font:
    """The face at one font unit to the px, so that outlines are unhinted."""
    font = skia.Font(_typeface(face), face.upem)
    font.setHinting(skia.FontHinting.kNone)
    font.setSubpixel(True)
    font.setLinearMetrics(True)
    return font


kept_to_be_quick(_outliner.cache_clear)


@functools.lru_cache(maxsize=_KEPT_GLYPHS)
def glyph_path(face: Face, glyph: int) -> skia.Path | None:
    """The outline of a glyph in font units, y down; None for a blank one. It is shared, so nobody may change it."""
    path = _varied_path(face, glyph) if face.location else _outliner(face).getPath(glyph)
    if path is None or path.isEmpty():
        return None
    return _drawn_path(path, face) if any(face.drawn) else path


kept_to_be_quick(glyph_path.cache_clear)


def _varied_path(face: Face, glyph: int) -> skia.Path:
    """A glyph of a variable font at a place on its axes, by HarfBuzz, which also shapes it.

    Skia's own font at another place takes about a MB and is kept long after nobody needs it; an axis that is dragged, or keyed, makes one
    for each value.
    """
    path, turned = skia.Path(), skia.Path()
    face.shaper.draw_glyph_with_pen(glyph, _GlyphPen(path))
    path.transform(skia.Matrix().setScale(1.0, -1.0), turned)
    return turned


class _GlyphPen(SkiaPen):
    """Curves of the second order stay what they are."""

    def _qCurveToOne(self, pt1: Point, pt2: Point) -> None:
        self.path.quadTo(*pt1, *pt2)


def _drawn_path(path: skia.Path, face: Face) -> skia.Path:
    """A glyph's outline made heavier and slanted, as its face is drawn; in font units, y down."""
    slant, heavier = face.drawn
    if heavier > 0:
        stroke = skia.Paint(Style=skia.Paint.kStrokeAndFill_Style, StrokeWidth=heavier * face.upem, StrokeJoin=skia.Paint.kRound_Join)
        grown = skia.Path()
        stroke.getFillPath(path, grown)
        path = skia.Simplify(grown) or grown
    if not slant:
        return path
    slanted = skia.Path()
    path.transform(skia.Matrix().setSkew(-math.tan(math.radians(slant)), 0.0), slanted)
    return slanted


Accents = tuple[int, ...]
"""Numbers of accents; 0 is the text's own style."""

_unit_paths: "weakref.WeakKeyDictionary[Setting, dict[tuple[Unit, Accents | None], list[skia.Path]]]" = weakref.WeakKeyDictionary()


def unit_paths(setting: Setting, unit: Unit, accents: Accents | None = None) -> list[skia.Path]:
    """The outline of each unit of a set text, in px from the text's corner; kept while the setting lives.

    With ``accents`` only the glyphs in those styles.
    """
    kept = _unit_paths.setdefault(setting, {})
    if (unit, accents) not in kept:
        kept[unit, accents] = _build_unit_paths(setting, unit, accents)
    return kept[unit, accents]


def _build_unit_paths(setting: Setting, unit: Unit, accents: Accents | None) -> list[skia.Path]:
    paths = [skia.Path() for _ in range(setting.counts[unit])]
    numbers = setting.unit_of[unit]
    wanted = (numbers >= 0) & ~np.isnan(setting.ink[:, 0])
    for turn in setting.turning:
        wanted[list(turn.rows)] = False
    if accents is not None:
        wanted &= np.isin(setting.accent, accents)
    for index in np.flatnonzero(wanted):
        if setting.glyphs[index] == NO_GLYPH:
            paths[numbers[index]].addRect(skia.Rect.MakeLTRB(*setting.ink[index].tolist()))
            continue
        face = setting.faces[index]
        outline = glyph_path(face, int(setting.glyphs[index]))
        if outline is None:
            continue
        scale = float(setting.scale[index]) / face.upem
        matrix = skia.Matrix().setScale(scale * setting.squeeze, scale)
        matrix.postTranslate(float(setting.x[index]), float(setting.y[index]))
        paths[numbers[index]].addPath(outline, matrix)
    return paths


def glyphs_path(glyphs: tuple[Glyph, ...], squeeze: float, down: float = 0.0) -> skia.Path:
    """Glyphs in px from the text's corner, moved down by some px."""
    path = skia.Path()
    for glyph in glyphs:
        outline = glyph_path(glyph.face, glyph.number)
        if outline is not None:
            scale = glyph.scale / glyph.face.upem
            matrix = skia.Matrix().setScale(scale * squeeze, scale)
            matrix.postTranslate(glyph.x, glyph.y + down)
            path.addPath(outline, matrix)
    return path


def _within(path: skia.Path, top: float, bottom: float) -> skia.Path:
    """What of a path lies between two heights."""
    bounds = path.getBounds()
    if path.isEmpty() or (bounds.top() >= top and bounds.bottom() <= bottom):
        return path
    if bounds.top() >= bottom or bounds.bottom() <= top:
        return skia.Path()
    window = skia.Path()
    window.addRect(skia.Rect.MakeLTRB(bounds.left() - 1, top, bounds.right() + 1, bottom))
    return skia.Op(path, window, skia.PathOp.kIntersect_PathOp) or path


Piece = tuple[skia.Path, float]
"""A path, and how much of it is to be seen, 0 to 1."""
FilledPiece = tuple[skia.Path, Paint | None]
"""A path, and what it is filled with; None is the part's own fill."""


def turned_figure(turn: Turn, squeeze: float) -> list[Piece]:
    """A figure on its way to the next one: on two leaves that turn over, or both fading into each other.

    Each piece is a path of its own, as what is cut winds otherwise than what is not.
    """
    low, high = glyphs_path(turn.low, squeeze), glyphs_path(turn.high, squeeze)
    if turn.how == "fading":
        return [(low, 1.0 - turn.share), (high, turn.share)]
    pitch, middle = turn.bottom - turn.top, (turn.top + turn.bottom) / 2
    angle = math.cos(turn.share * math.pi)
    leaf = skia.Path(_within(low, turn.top, middle) if angle > 0 else _within(high, middle, turn.bottom))
    leaf.transform(skia.Matrix().setScale(1.0, abs(angle), 0.0, middle))
    reaches = abs(angle) * pitch / 2
    if angle > 0:
        behind = _within(high, turn.top, middle - reaches), _within(low, middle, turn.bottom)
    else:
        behind = _within(high, turn.top, middle), _within(low, middle + reaches, turn.bottom)
    return [(path, 1.0) for path in (*behind, leaf)]


def figures_on(wheel: Wheel, squeeze: float) -> list[Piece]:
    """The outlines of the figures that a wheel shows in the middle of its time: the two that are seen longest."""
    longest = sorted(wheel.passing, key=lambda one: -one.weight)[:2]
    paths = [glyphs_path(one.glyphs, squeeze, (one.begin + one.end) / 2) for one in longest]
    return [(_within(path, wheel.top, wheel.bottom), 1.0) for path in paths]


def turning_pieces(setting: Setting, unit: Unit, accents: Accents | None = None, on_wheels: bool = True) -> dict[int, list[Piece]]:
    """Of the figures that change just now: by unit, what is drawn of them. They are not among the paths of the units.

    Those that roll are outlines here only for who cannot do without; they are painted by :mod:`avlet.paint.wheels`.
    """
    found: dict[int, list[Piece]] = {}
    for turn in setting.turning if accents is None or 0 in accents else ():
        if turn.units and (on_wheels or isinstance(turn, Turn)):
            pieces = turned_figure(turn, setting.squeeze) if isinstance(turn, Turn) else figures_on(turn, setting.squeeze)
            found.setdefault(turn.units[unit], []).extend(pieces)
    return found


def wheels_in(setting: Setting, unit: Unit, accents: Accents | None = None) -> dict[int, list[Wheel]]:
    """Of the figures that roll just now: their wheels, by unit."""
    found: dict[int, list[Wheel]] = {}
    for turn in setting.turning if accents is None or 0 in accents else ():
        if turn.units and isinstance(turn, Wheel):
            found.setdefault(turn.units[unit], []).append(turn)
    return found


@functools.lru_cache(maxsize=256)
def part_path(posed: PosedPart) -> skia.Path:
    """The outline of a shape, rule or picture in its box now, before ``matrix``. It is shared, so nobody may change it."""
    part = posed.rest.part
    return _PATHS[type(part)](part, posed.form_box)


def filled_pieces(posed: PosedPart) -> list[FilledPiece]:
    """What a shape, rule, picture or gauge is filled with in its box now, from behind to front, before ``matrix``."""
    part = posed.rest.part
    return _PIECES[type(part)](part, posed.form_box) if type(part) in _PIECES else [(part_path(posed), None)]


def resting_path(rest: RestPart) -> skia.Path | None:
    """The outline of a part that has a form, at rest: of one copy for a pattern; None for words, groups and lamps."""
    part = rest.part
    if isinstance(part, PatternPart) and isinstance(rest.body, Repeated):
        return copy_path(part, rest.body.units.width, rest.body.units.height)
    return _PATHS[type(part)](part, rest.box) if type(part) in _PATHS else None


_PATHS: dict[type[AnyPart], Callable[[Any, Box], skia.Path]] = {
    ShapePart: shape_path, PicturePart: picture_path, RulePart: rule_path,
    BallPart: ball_path, GaugePart: gauge_path,
}  # fmt: skip
"""By kind of part: its outline in a box."""
_PIECES: dict[type[AnyPart], Callable[[Any, Box], list[FilledPiece]]] = {GaugePart: gauge_pieces}
"""By kind of part: what it is filled with, where that is not its whole outline in its own fill."""


def skia_matrix(matrix: Floats) -> skia.Matrix:
    """A (3, 3) array for Skia."""
    return skia.Matrix.MakeAll(*matrix.ravel().tolist())


def unit_matrix(posed: PosedPart, index: int, x: float, y: float) -> skia.Matrix:
    """From px of a unit's own corner, which rests at (x, y) of the frame, to px of the frame, as the unit stands now."""
    (sx, sy), (hx, hy), (dx, dy) = posed.scale[index].tolist(), posed.hinge[index].tolist(), posed.shift[index].tolist()
    matrix = skia.Matrix().setScale(sx, sy)
    matrix.postTranslate(hx - hx * sx + dx + x * sx, hy - hy * sy + dy + y * sy)
    if posed.matrix is not None:
        matrix.postConcat(skia_matrix(posed.matrix[index]))
    return matrix


@functools.lru_cache(maxsize=256)
def copy_path(part: PatternPart, width: float, height: float) -> skia.Path:
    """The outline of one copy of a pattern round the origin. It is shared, so nobody may change it."""
    box = Box(-width / 2, -height / 2, width, height)
    return shape_path(part, box) if part.picture is None else box_path(part, box)


def copies_in(posed: PosedPart) -> Repeated:
    """What a pattern is made of in this frame."""
    assert isinstance(posed.rest.body, Repeated)
    return posed.rest.body


def list_in(posed: PosedPart) -> RollingList:
    """What credits are made of in this frame."""
    assert isinstance(posed.rest.body, RollingList)
    return posed.rest.body


def copy_matrix(posed: PosedPart, number: int) -> skia.Matrix:
    """From px round the middle of a pattern's copy to px of the frame, as it stands now."""
    body = copies_in(posed)
    copies = body.units
    centre = copies.centres[number] + np.array(posed.rest.box[:2])
    if body.drift is not None:
        centre = centre + body.drift
    matrix = unit_matrix(posed, int(copies.unit_of[posed.unit][number]), *centre.tolist())
    matrix.preRotate(float(copies.turn[number]))
    matrix.preScale(*copies.scale[number].tolist())
    return matrix


def filled_area(posed: PosedPart) -> skia.Path | None:
    """The box that a pattern's copies fill, as it stands now; None for a pattern that is as large as its copies."""
    if not posed.rest.body.clips:
        return None
    path = skia.Path()
    path.addRect(skia.Rect.MakeXYWH(*posed.rest.box))
    if posed.unit == "whole":
        path.transform(unit_matrix(posed, 0, 0.0, 0.0))
    elif posed.matrix is not None:
        path.transform(skia_matrix(posed.matrix[0]))
    return path


def strip_matrix(posed: PosedPart, begin: float) -> skia.Matrix:
    """From px of a place along a strip to px of the frame, as the list stands now."""
    strip = list_in(posed).strip
    matrix = unit_matrix(posed, 0, posed.rest.box.x, posed.rest.box.y)
    matrix.preTranslate(*((begin, 0.0) if strip.axis == 0 else (0.0, begin)))
    return matrix


def tiles_seen(posed: PosedPart) -> tuple[Tile, ...]:
    """The tiles of a list that reach into the frame now, with all that they paint."""
    strip, frame = list_in(posed).strip, list_in(posed).frame
    back = skia.Matrix()
    if not strip_matrix(posed, 0.0).invert(back):
        return ()
    reach = posed.reach + strip.setter.tallest
    area = back.mapRect(skia.Rect.MakeXYWH(*frame))
    low, high = (area.left(), area.right()) if strip.axis == 0 else (area.top(), area.bottom())
    return strip.tiles_between(low - reach, high + reach)
