"""The path of a part whose place is keyed: drawn on the stage, with its keys to drag."""

import itertools
from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from avlet.desktop.stage.handles import Change, Handle, Point, Values
from avlet.desktop.widgets.theme import MARIGOLD
from avlet.document.metadata import get_at
from avlet.layout.rest import RestPart
from avlet.motion.keyed import key_time, value_at
from avlet.numbers.exact import in_figures
from avlet.paint.scene import Scene

_AXES = ("across.gap", "down.gap")
_MOST_POINTS = 240


def is_on_a_path(scene: Scene, part_id: str) -> bool:
    """Whether a part's place is keyed."""
    return any(keyed.path in _AXES for keyed in scene.rest.parts[part_id].part.keys)


def place_at(scene: Scene, part_id: str, frame: float) -> Point:
    """Where the middle of a part is in a frame by its keys alone, in px of the frame."""
    rest = scene.rest.parts[part_id]
    x, y = rest.box.middle
    found = [x, y]
    for keyed in rest.part.keys:
        if keyed.path in _AXES:
            value, own = float(value_at(keyed, scene.spans, frame)), float(get_at(rest.part, keyed.path))
            shift = value if keyed.how == "added" else own * (value / 100 - 1) if keyed.how == "times" else value - own
            found[_AXES.index(keyed.path)] += shift
    return found[0], found[1]


def path_handles(scene: Scene, part_id: str) -> list[Handle]:
    """A handle for each moment at which a keyed place has a key; a drag sets that key."""
    rest = scene.rest.parts[part_id]
    axes = [keyed for keyed in rest.part.keys if keyed.path in _AXES and keyed.how == "instead"]
    times = sorted({round(key_time(key, scene.spans), 3) for keyed in axes for key in keyed.keys})
    change = _put(rest, [keyed.path for keyed in axes])
    return [Handle(f"place at frame {in_figures(time)}", place_at(scene, part_id, time), "stop", change, MARIGOLD, time) for time in times]


def _put(rest: RestPart, paths: list[str]) -> Change:
    middle = rest.box.middle

    def change(to: Point, stepped: bool) -> Values:
        values: Values = {}
        for path in paths:
            axis = _AXES.index(path)
            value = float(get_at(rest.part, path)) + to[axis] - middle[axis]
            values[f"{rest.part.id}/{path}"] = round(value / 10) * 10.0 if stepped else round(value, 1)
        return values

    return change


def draw_path(painter: QPainter, scene: Scene, part_id: str, to_view: Callable[[float, float], QPointF]) -> None:
    """The way of the part's middle through the whole title, with a dot for every frame where there is room."""
    frames = np.linspace(0, scene.length - 1, min(scene.length, _MOST_POINTS))
    points = [to_view(*place_at(scene, part_id, float(frame))) for frame in frames]
    for tint, width in ((QColor(0, 0, 0, 130), 3.2), (QColor(MARIGOLD), 1.4)):
        painter.setPen(QPen(tint, width))
        painter.drawPolyline(QPolygonF(points))
    painter.setBrush(QColor(MARIGOLD))
    for before, point in itertools.pairwise(points):
        if (point - before).manhattanLength() > 5:
            painter.drawEllipse(point, 1.8, 1.8)
