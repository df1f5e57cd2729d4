"""Numerals: one number of a counter as a text that is set, and its figures moved into slots of equal width."""

import dataclasses
import functools
from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from avlet.arrays import Floats
from avlet.document.parts import Accent, CounterPart, TextPart, TypesetPart
from avlet.geometry import Box
from avlet.numbers.written import Written, is_digit
from avlet.text.fonts import Face
from avlet.text.setting import Setting

_SHARED = TypesetPart.__struct_fields__


class Figure(NamedTuple):
    """One figure: its glyph, the px that it takes by itself, and its ink from its pen."""

    glyph: int
    advance: float
    ink: Floats


@dataclass(frozen=True)
class Numeral:
    """One number as it is set. ``zone`` are the code points of its line that are the number itself."""

    written: Written
    setting: Setting
    zone: tuple[int, int]
    width: float


def as_text(part: CounterPart, number: str, size: float, features: Sequence[str], bare: bool = False) -> TextPart:
    """A counter as the text that it is with a number in it, words before and after as its accents; braces in them are brackets."""
    values = {name: getattr(part, name) for name in _SHARED}
    plain = Accent(part.family, part.style)
    first, second = (*part.accents, plain, plain)[:2]
    if len(part.accents) < 2:
        second = plain
    quoted = [words.replace("{", "(").replace("}", ")") for words in ("" if bare else part.before, "" if bare else part.after)]
    before, after = (f"{{{n}:{words}}}" if words else "" for n, words in enumerate(quoted, 1))
    values |= {"size": size, "features": tuple(features), "accents": (first, second), "room": None, "text_style": "", "align": "start"}
    return TextPart(**values, text=before.replace("\n", " ") + number + after.replace("\n", " "))


@functools.lru_cache(maxsize=4096)
def advance_of(face: Face, glyph: int, scale: float) -> float:
    """px that a glyph takes by itself, without kerning."""
    return float(face.shaper.get_glyph_h_advance(glyph)) / face.upem * scale


def slotted(written: Written, setting: Setting, zone: tuple[int, int], slot: float, tracking: float) -> Numeral:
    """A set number whose figures each stand in the middle of a slot; signs between them keep their own room, without kerning."""
    order = np.argsort(setting.x, kind="stable")
    pens = setting.x[order]
    shaped = np.append(np.diff(pens), max(setting.line_box.w - float(pens[-1]), 0.0))
    x, ink = setting.x.copy(), setting.ink.copy()
    start, end = zone
    inside = (setting.accent == 0) & (setting.clusters >= start) & (setting.clusters < end)
    figure = np.array([bool(i) and is_digit(written.words[int(c) - start]) for c, i in zip(setting.clusters, inside, strict=True)])
    gap = setting.size * tracking / 1000
    pen = float(pens[0])
    for n, glyph in enumerate(order.tolist()):
        alone = advance_of(setting.faces[glyph], int(setting.glyphs[glyph]), float(setting.scale[glyph])) * setting.squeeze
        beside = inside[glyph] and (figure[glyph] or (n + 1 < len(order) and figure[order[n + 1]]) or (n > 0 and figure[order[n - 1]]))
        last = n + 1 == len(order)
        room = slot if figure[glyph] else alone if beside else float(shaped[n]) - (0.0 if last else gap)
        own = pen + ((slot - alone) / 2 if figure[glyph] else 0.0)
        moved = own - float(setting.x[glyph])
        x[glyph] += moved
        ink[glyph] += [moved, 0.0, moved, 0.0]
        pen += room + (0.0 if last else gap)
    line = dataclasses.replace(setting.lines[0], width=pen)
    made = dataclasses.replace(setting, x=x, ink=ink, lines=(line, *setting.lines[1:]))
    return Numeral(written, made, zone, pen)


def point_at(numeral: Numeral) -> float:
    """px from the left of a number to its decimal sign, or to behind its last whole figure."""
    setting, start = numeral.setting, numeral.zone[0]
    index = start + numeral.written.point
    there = setting.x[(setting.accent == 0) & (setting.clusters == index)]
    if len(there):
        return float(there.min())
    behind = [float(x) for x, a, c in zip(setting.x, setting.accent, setting.clusters, strict=True) if a == 2 or (a == 0 and c > index)]
    return min(behind, default=numeral.width)


def joint_ink(ink: Floats) -> Box | None:
    """The box round all ink; None without any."""
    seen = ink[~np.isnan(ink[:, 0])]
    return Box.from_edges(*seen[:, :2].min(axis=0).tolist(), *seen[:, 2:].max(axis=0).tolist()) if len(seen) else None
