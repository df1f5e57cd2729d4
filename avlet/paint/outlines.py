"""Outlines: a part as Skia paths, at rest and posed."""

import functools
import weakref

import numpy as np
import skia

from avlet.document.moves import Unit
from avlet.document.parts import PicturePart, RulePart, ShapePart
from avlet.motion.pose import PosedPart
from avlet.paint.forms import picture_path, rule_path, shape_path
from avlet.text.fonts import Face
from avlet.text.setting import Setting

_KEPT_GLYPHS = 8192


@functools.lru_cache(maxsize=256)
def _outliner(face: Face) -> skia.Font:
    """The face at one font unit to the px, so that outlines are exact and unhinted."""
    font = skia.Font(skia.Typeface.MakeFromData(skia.Data.MakeWithCopy(face.data)), face.upem)
    font.setHinting(skia.FontHinting.kNone)
    font.setSubpixel(True)
    font.setLinearMetrics(True)
    return font


@functools.lru_cache(maxsize=_KEPT_GLYPHS)
def _glyph(face: Face, glyph: int) -> skia.Path | None:
    path = _outliner(face).getPath(glyph)
    return None if path is None or path.isEmpty() else path


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
    if accents is not None:
        wanted &= np.isin(setting.accent, accents)
    for index in np.flatnonzero(wanted):
        face = setting.faces[index]
        outline = _glyph(face, int(setting.glyphs[index]))
        if outline is None:
            continue
        scale = float(setting.scale[index]) / face.upem
        matrix = skia.Matrix().setScale(scale * setting.squeeze, scale)
        matrix.postTranslate(float(setting.x[index]), float(setting.y[index]))
        paths[numbers[index]].addPath(outline, matrix)
    return paths


@functools.lru_cache(maxsize=256)
def part_path(posed: PosedPart) -> skia.Path:
    """The outline of a shape, rule or picture as it stands now. It is shared, so nobody may change it."""
    part = posed.rest.part
    if isinstance(part, ShapePart):
        return shape_path(part, posed.outline_box)
    if isinstance(part, PicturePart):
        return picture_path(part, posed.outline_box)
    assert isinstance(part, RulePart)
    return rule_path(part, posed.outline_box)


def unit_matrix(posed: PosedPart, index: int) -> skia.Matrix:
    """From px of the text's own corner to px of the frame, for one unit as it stands now."""
    (sx, sy), (hx, hy), (dx, dy) = posed.scale[index], posed.hinge[index], posed.shift[index]
    corner = posed.rest.box
    matrix = skia.Matrix().setScale(float(sx), float(sy))
    matrix.postTranslate(float(hx - hx * sx + dx + corner.x * sx), float(hy - hy * sy + dy + corner.y * sy))
    return matrix


def posed_outline(posed: PosedPart) -> skia.Path:
    """The whole outline of a part as it stands now, whatever its opacity, colour or visibility: what mattes use."""
    setting = posed.rest.setting
    if setting is None:
        return part_path(posed)
    path = skia.Path()
    for index, unit in enumerate(unit_paths(setting, posed.unit)):
        path.addPath(unit, unit_matrix(posed, index))
    return path
