"""Measures: what can be read off a title, as plain values for scripts and people."""

from decimal import Decimal
from typing import Any

import numpy as np

from avlet.document.editing.grouping import stands_in
from avlet.document.fields.number import answer_of
from avlet.geometry import Box
from avlet.motion.counting import counters_of
from avlet.motion.posed_part import PosedPart
from avlet.motion.stands import corners_in_space, depth_of, seen_box
from avlet.paint.scene import Scene
from avlet.review.samples import said_of


def measure(scene: Scene, frame: int, units: bool = False) -> dict[str, Any]:
    """Boxes, opacity, units and notes of every part in ``frame``, in px of the template's frame, unrounded.

    With ``units`` each part has under ``moved`` the unit that it moves by, and for each of those its edges (left, top, right,
    bottom; None without ink), opacity and blur.
    """
    pose = scene.pose(frame)
    shape = scene.template.frame
    parts: list[dict[str, Any]] = []
    for part_id, posed in pose.parts.items():
        rest = posed.rest
        counts = rest.units.counts if rest.units else {"character": 0, "word": 0, "line": 0}
        parts.append(
            {
                "id": part_id,
                "name": rest.part.name,
                "kind": rest.part.kind,
                "rest": list(rest.box),
                "ink": _edges(rest.ink),
                "now": _edges(pose.visible_box(part_id)),
                "opacity": posed.most_opacity,
                "units": {unit: counts[unit] for unit in ("character", "word", "line")},
                "notes": list(rest.notes),
                **_count_of(scene, part_id, frame),
                **_depth_of(scene, part_id, frame),
                **({"moved": _moved(posed)} if units else {}),
            }
        )
    return {
        "frame": [shape.width, shape.height],
        "rate": shape.rate,
        "length": scene.length,
        "way_in": scene.spans.way_in,
        "way_out": scene.spans.way_out,
        "at": frame,
        "notes": [note for note in said_of(scene) if not any(note in p["notes"] for p in parts)],
        "parts": parts,
    }


def _depth_of(scene: Scene, part_id: str, frame: int) -> dict[str, Any]:
    """Of what stands in a space: how deep it is, how far before the sheet it reaches, and the box of the frame that it is seen in."""
    pose = scene.pose(frame)
    space = stands_in(scene.bound.template, part_id)
    posed = pose.parts[part_id]
    if space is None or pose.inner(part_id) is not None:
        return {}
    camera = pose.parts[space.id].rest.part.camera  # type: ignore[union-attr]
    corners = corners_in_space(posed)
    if not len(corners):
        return {"depth": {"depth": depth_of(posed), "back": None, "front": None, "seen": None}}
    back, front = float(corners[..., 2].min()), float(corners[..., 2].max())
    return {"depth": {"depth": depth_of(posed), "back": back, "front": front, "seen": _edges(seen_box(camera, pose.shape, [posed]))}}


def _count_of(scene: Scene, part_id: str, frame: int) -> dict[str, Any]:
    """Of a counter: what it shows in a frame, and its slots; nothing of any other part."""
    counted = counters_of(scene.choreography.movers).get(part_id)
    if counted is None:
        return {}
    slots, moment = counted.figures.slots, counted.moment(scene.spans.since_begin(frame))
    _, words = counted.words_of(moment)
    return {
        "value": _number(counted.value(moment)), "words": words, "share": moment.share,
        "slots": {"before the point": slots.before, "behind it": slots.behind, "width": slots.width},
    }  # fmt: skip


def _number(value: Decimal) -> int | float | str:
    """A value as JSON has it: a whole number, one with decimals, or as words where no float is exact."""
    return int(value) if value == value.to_integral_value() else answer_of(value)


def counts_of(scene: Scene, every: int = 1) -> dict[str, Any]:
    """Every counter of a title: when it begins and lands, and what it shows in each frame, or in every N-th."""
    found = []
    for part_id, counted in counters_of(scene.choreography.movers).items():
        pace = scene.spans.pace
        rows = []
        for frame in sorted({*range(0, scene.length, every), scene.length - 1}):
            moment = counted.moment(scene.spans.since_begin(frame))
            _, words = counted.words_of(moment)
            value = _number(counted.value(moment))
            rows.append({"frame": frame, "value": value, "words": words, "share": round(moment.share, 9)})
        times = counted.times
        found.append({"id": part_id, "name": counted.part.name, "begins": times.begin / pace, "lands": times.land / pace, "frames": rows})
    return {"length": scene.length, "rate": scene.template.frame.rate, "counters": found, "notes": said_of(scene)}


def _moved(posed: PosedPart) -> dict[str, Any]:
    """Where each unit of a part is."""
    own = posed.rest.part.opacity / 100 if posed.shown else 0.0
    blur = posed.blur if posed.blur is not None else np.zeros(len(posed.opacity))
    return {
        "by": posed.unit,
        "boxes": [None if np.isnan(row[0]) else [float(v) for v in row] for row in posed.ink_edges],
        "opacity": [float(v) * own for v in posed.opacity],
        "blur": [float(v) for v in blur],
    }


def _edges(box: Box | None) -> list[float] | None:
    return [float(v) for v in box] if box else None
