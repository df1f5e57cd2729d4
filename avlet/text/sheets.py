"""Sheets: rows of credits set together, as one setting whose units are those rows, their words and their letters."""

from collections import OrderedDict
from collections.abc import Sequence

import numpy as np

from avlet.arrays import Floats, Ints, distinct, renumbered
from avlet.document.time.moves import Unit
from avlet.geometry import Box
from avlet.text.marking import StyledLine
from avlet.text.rows import NAME, Row, RowSetter
from avlet.text.setting import NO_GLYPH, Line, Placed, Setting

RULE, PICTURE = 4, 5
"""Numbers that stand for the style of what is no type."""
_MOST = 96
_sheets: OrderedDict[object, Setting] = OrderedDict()
_UNITS: tuple[Unit, ...] = ("line", "word", "character")
Offset = tuple[float, float]


def sheet_of(setter: RowSetter, rows: Sequence[tuple[Row, Offset]], size: tuple[float, float]) -> Setting:
    """Rows, each with its left top corner from the sheet's own, as one setting; the same rows are the same setting."""
    key = id(setter), setter, tuple(rows), size
    found = _sheets.get(key)
    if found is None:
        found = _sheets[key] = _composed(setter, rows, size)
        while len(_sheets) > _MOST:
            _sheets.popitem(last=False)
    else:
        _sheets.move_to_end(key)
    return found


def _composed(setter: RowSetter, rows: Sequence[tuple[Row, Offset]], size: tuple[float, float]) -> Setting:
    made = _Composer(setter)
    for number, (row, (x, y)) in enumerate(rows):
        made.add(number, row, x, y)
    return made.setting(size)


class _Composer:
    """Arrays of several settings, one after another."""

    def __init__(self, setter: RowSetter) -> None:
        self.setter = setter
        self.parts: list[tuple[Setting, float, float, int]] = []
        self.units: dict[Unit, list[Ints]] = {unit: [] for unit in _UNITS}
        self.next: dict[Unit, int] = dict.fromkeys(_UNITS, 0)
        self.lines: list[Line] = []
        self.texts: list[StyledLine] = []
        self.rows: list[Ints] = []
        self.boxes: list[tuple[int, Box, object]] = []
        self.lacking: dict[str, None] = {}

    def add(self, number: int, row: Row, x: float, y: float) -> None:
        for piece in row.pieces:
            setting = self.setter.setting(piece)
            left = x + piece.x + (piece.width - setting.line_box.w) * piece.stands
            top = y + piece.y
            self.parts.append((setting, left, top, piece.style))
            self.units["line"].append(np.where(setting.unit_of["line"] >= 0, number, -1))
            for unit in ("word", "character"):
                own = setting.unit_of[unit]
                self.units[unit].append(np.where(own >= 0, own + self.next[unit], -1))
                self.next[unit] += setting.counts[unit]
            self.rows.append(setting.rows + len(self.lines))
            self.lines += [Line(line.baseline + top, line.left + left, line.width) for line in setting.lines]
            self.texts += setting.texts
            self.lacking.update(dict.fromkeys(setting.lacking))
        for extra in row.extras:
            self.boxes.append((number, extra.box.moved(x, y), extra.picture))

    def setting(self, size: tuple[float, float]) -> Setting:
        """All of it as one."""
        many, name = len(self.boxes), self.setter.metrics[NAME]
        ink = np.array([[b.x, b.y, b.right, b.bottom] for _, b, _ in self.boxes], np.float64).reshape(-1, 4)
        glyphs = np.concatenate([*(s.glyphs for s, *_ in self.parts), np.full(many, NO_GLYPH, np.int64)])
        x = np.concatenate([*(s.x + dx for s, dx, _, _ in self.parts), ink[:, 0]])
        y = np.concatenate([*(s.y + dy for s, _, dy, _ in self.parts), ink[:, 1]])
        all_ink: Floats = np.concatenate([*(s.ink + np.array([dx, dy, dx, dy]) for s, dx, dy, _ in self.parts), ink])
        kinds = np.array([RULE if picture is None else PICTURE for *_, picture in self.boxes], np.int64)
        accent = np.concatenate([*(np.full(len(s.glyphs), style, np.int64) for s, _, _, style in self.parts), kinds])
        unit_of: dict[Unit, Ints] = {"whole": np.zeros(len(glyphs), np.int64)}
        counts: dict[Unit, int] = {"whole": 1}
        for unit in _UNITS:
            own = [number if unit == "line" else self.next[unit] + n for n, (number, *_) in enumerate(self.boxes)]
            raw = np.concatenate([*self.units[unit], np.array(own, np.int64)])
            kept = distinct(raw)
            unit_of[unit] = renumbered(raw, kept)
            counts[unit] = len(kept)
        seen = all_ink[~np.isnan(all_ink[:, 0])]
        ink_box = Box.from_edges(*seen[:, :2].min(axis=0).tolist(), *seen[:, 2:].max(axis=0).tolist()) if len(seen) else None
        begin = len(glyphs) - many
        placed = tuple(Placed(begin + n, box, picture) for n, (_, box, picture) in enumerate(self.boxes))  # type: ignore[arg-type]
        rows = np.concatenate([*self.rows, np.full(many, max(0, len(self.lines) - 1), np.int64)])
        whole, face = Box(0.0, 0.0, *size), name.face
        return Setting(
            self.setter.styles[NAME].size, glyphs, (*(f for s, *_ in self.parts for f in s.faces), *((face,) * many)), x, y, all_ink,
            np.concatenate([*(s.scale for s, *_ in self.parts), np.ones(many)]), 1.0, accent, unit_of, counts,
            tuple(self.lines) or (Line(name.first, 0.0, 0.0),), whole, whole, ink_box, face.cap_height / face.upem, tuple(self.lacking),
            (), (), False, rows, np.concatenate([*(s.clusters for s, *_ in self.parts), np.zeros(many, np.int64)]),
            tuple(self.texts), (True,) * len(self.texts), (), placed,
        )  # fmt: skip
