"""Pose: where every unit of every part stands in one frame. Arrays, not loops over letters."""

import dataclasses
import functools
from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

from avlet.arrays import Floats
from avlet.document.moves import Mirrored, Move, OwnWayOut, StaysToTheEnd, Unit
from avlet.document.parts import FRAME, AnyPart
from avlet.geometry import Box
from avlet.layout.arrange import Rest, RestPart, frame_area
from avlet.motion.riding import ride_shift, riding
from avlet.motion.schedule import Schedule, arrival, departure, schedule
from avlet.motion.spans import Spans, spans_at
from avlet.motion.travel import out_of

OUTWARD = np.array([-1.0, -1.0, 1.0, 1.0])
"""Left, top, right, bottom, away from the middle."""

UNITS: tuple[Unit, ...] = ("whole", "line", "word", "character")
"""From coarse to fine: a part is posed by the finest unit that any of its moves takes."""


@dataclass(frozen=True, eq=False)
class PosedPart:
    """One part in one frame. ``shift``, ``scale`` and ``hinge`` have shape (units, 2), ``opacity`` and ``drawn`` (units,).

    A point p of a unit at rest now stands at ``hinge + (p − hinge) · scale + shift``. ``still`` says that all units are
    exactly at rest. ``shown`` is False for a part that is switched off or has left for good.
    """

    rest: RestPart
    unit: Unit
    shift: Floats
    scale: Floats
    hinge: Floats
    opacity: Floats
    drawn: Floats
    still: bool
    shown: bool

    def boxes(self, edges: Floats) -> Floats:
        """Resting edges (units, 4) as they stand now."""
        if self.still:
            return edges
        corners, hinge = edges.reshape(-1, 2, 2), self.hinge[:, None]
        return (hinge + (corners - hinge) * self.scale[:, None] + self.shift[:, None]).reshape(-1, 4)

    @functools.cached_property
    def ink_edges(self) -> Floats:
        """The ink of each unit now, (units, 4): left, top, right, bottom in px of the frame; NaN where there is none."""
        return self.boxes(unit_edges(self.rest, self.unit))

    @functools.cached_property
    def outline_box(self) -> Box:
        """The bounds of the part's outline now, without regard to opacity or mattes."""
        return self._bounds(self.ink_edges)

    @property
    def resting_box(self) -> Box:
        """The bounds of the part's outline at rest."""
        return self._bounds(unit_edges(self.rest, self.unit))

    def _bounds(self, edges: Floats) -> Box:
        seen = edges[~np.isnan(edges[:, 0])]
        if not len(seen):
            return Box(self.rest.box.x, self.rest.box.y, 0.0, 0.0)
        (left, top), (right, bottom) = seen[:, :2].min(axis=0).tolist(), seen[:, 2:].max(axis=0).tolist()
        return Box.from_edges(left, top, right, bottom)


@dataclass(frozen=True, eq=False)
class Pose:
    """All parts in one frame, back to front by id."""

    frame: int
    parts: Mapping[str, PosedPart]

    def visible_box(self, part_id: str) -> Box | None:
        """The bounds of what shows of a part now, mattes and opacity taken into account; None when nothing does."""
        posed = self.parts[part_id]
        opacity = posed.opacity * (posed.rest.part.opacity / 100)
        if not posed.shown or not len(opacity) or opacity.max() <= 0:
            return None
        edges = posed.ink_edges
        mattes = [self.parts[m.inside].outline_box.grown(*[m.grow] * 4) for m in posed.rest.part.mattes if not m.hides]
        seen = [Box.from_edges(*map(float, row)) for row, o in zip(edges, opacity, strict=True) if o > 0 and not np.isnan(row[0])]
        for matte in mattes:
            seen = [box.cut(matte) for box in seen]
        return Box.union(box for box in seen if not box.empty)

    def units_in_mattes(self, posed: PosedPart) -> NDArray[np.bool_]:
        """Which units have ink within the bounds of every matte now, shape (units,); all with ink where there is no matte.

        What lies wholly outside is not painted at all, so that no soft edge of it shows at any picture size.
        """
        edges = posed.ink_edges + posed.rest.reach * OUTWARD
        inside = ~np.isnan(edges[:, 0])
        for matte in posed.rest.part.mattes:
            if matte.hides:
                continue
            box = self.parts[matte.inside].outline_box.grown(*[matte.grow + matte.soft] * 4)
            meets = (edges[:, 0] < box.right) & (edges[:, 2] > box.x) & (edges[:, 1] < box.bottom) & (edges[:, 3] > box.y)
            inside &= meets
        return inside

    @property
    def key(self) -> bytes:
        """Equal for poses that paint the same; nearly always different for others."""
        return b"".join(_key(p) for p in self.parts.values())

    def same_picture(self, other: "Pose") -> bool:
        """Whether both paint exactly the same."""
        return self.parts.keys() == other.parts.keys() and all(_same(posed, other.parts[i]) for i, posed in self.parts.items())


_CHANNELS = ("shift", "scale", "opacity", "drawn")


def _key(posed: PosedPart) -> bytes:
    if not posed.shown:
        return b"gone"
    return b"still" if posed.still else b"".join(getattr(posed, channel).tobytes() for channel in _CHANNELS)


def _same(a: PosedPart, b: PosedPart) -> bool:
    if a.rest is not b.rest or a.shown != b.shown:
        return False
    if a.still and b.still:
        return True
    return all(np.array_equal(getattr(a, k), getattr(b, k)) for k in _CHANNELS)


@functools.lru_cache(maxsize=1024)
def unit_edges(rest: RestPart, unit: Unit) -> Floats:
    """The resting ink of each unit in px of the frame, (units, 4): left, top, right, bottom."""
    if rest.setting is None:
        box = rest.box
        return np.array([[box.x, box.y, box.right, box.bottom]])
    return rest.setting.unit_ink(unit) + np.array([rest.box.x, rest.box.y] * 2)


@dataclass(frozen=True, eq=False)
class _Plan:
    """One move, ready for any frame. Arrays follow the part's finest unit; ``index`` leads from it to the move's units."""

    move: Move
    times: Schedule
    index: Floats
    shift: Floats
    arriving: bool


class Choreography:
    """The moves of all parts, worked out once for a resting layout; :meth:`pose` then only evaluates them."""

    def __init__(self, rest: Rest) -> None:
        self.rest = rest
        self.spans: Spans = spans_at(rest.bound.template, rest.bound.length)
        self._plans = {i: _plan_part(part, rest) for i, part in rest.parts.items()}
        self._rides = riding(rest)
        self._resting = {i: _at_rest(part, *self._plans[i][:2]) for i, part in rest.parts.items()}

    def pose(self, frame: int) -> Pose:
        """Every part as it stands in ``frame``, 0 … N − 1."""
        posed = {i: self._pose_part(i, frame) for i in self.rest.parts}
        for part_id, leads in self._rides:
            shift = ride_shift(posed, leads)
            if shift.any():
                one = posed[part_id]
                posed[part_id] = dataclasses.replace(one, shift=one.shift + shift, still=False)
        return Pose(frame, MappingProxyType(posed))

    def _pose_part(self, part_id: str, frame: int) -> PosedPart:
        rest = self.rest.parts[part_id]
        unit, hinge, plans = self._plans[part_id]
        shares = [(plan, share) for plan, share in self._shares(rest.part, plans, frame) if share.any()]
        if not shares and not self._has_left(rest.part, frame):
            return self._resting[part_id]
        units = len(hinge)
        shift, scale, opacity, drawn = np.zeros((units, 2)), np.ones((units, 2)), np.ones(units), np.ones(units)
        for plan, share in shares:
            part_share = share[plan.index]
            shift += plan.shift * part_share[:, None]
            look = np.array([plan.move.scale_x, plan.move.scale_y]) / 100 - 1
            scale *= np.maximum(0.0, 1 + look * part_share[:, None])
            opacity *= np.clip(1 + (plan.move.opacity / 100 - 1) * part_share, 0.0, 1.0)
            drawn *= np.clip(1 + (plan.move.drawn / 100 - 1) * part_share, 0.0, 1.0)
        return PosedPart(
            rest, unit, shift, scale, hinge, opacity, drawn, not shares, rest.part.shown and not self._has_left(rest.part, frame)
        )

    def _shares(self, part: AnyPart, plans: list[_Plan], frame: int) -> list[tuple[_Plan, Floats]]:
        """How much of each move's displaced look its units have now."""
        spans = self.spans
        if spans.length == 1:
            return []
        begin, end = spans.since_begin(frame), spans.until_end(frame)
        found = []
        for plan in plans:
            if not plan.arriving:
                if spans.designed_out - end > plan.move.start:
                    found.append((plan, departure(plan.move, plan.times, spans.designed_out - end)))
                continue
            done = plan.move.start + plan.move.frames
            share = arrival(plan.move, plan.times, begin) if begin < done else None
            if end < done and isinstance(part.way_out, Mirrored):
                back = arrival(plan.move, plan.times, end)
                share = back if share is None else np.where(np.abs(share) >= np.abs(back), share, back)
            if share is not None:
                found.append((plan, share))
        return found

    def _has_left(self, part: AnyPart, frame: int) -> bool:
        """What leaves is gone on frame N − 1."""
        if self.spans.length == 1 or frame < self.spans.length - 1:
            return False
        match part.way_out:
            case Mirrored():
                return bool(part.way_in)
            case OwnWayOut():
                return bool(part.way_out.moves)
            case StaysToTheEnd():
                return False


def _at_rest(rest: RestPart, unit: Unit, hinge: Floats) -> PosedPart:
    """A part as it stands once it has arrived."""
    units = len(hinge)
    return PosedPart(rest, unit, np.zeros((units, 2)), np.ones((units, 2)), hinge, np.ones(units), np.ones(units), True, rest.present)


def _plan_part(rest: RestPart, layout: Rest) -> tuple[Unit, Floats, list[_Plan]]:
    part = rest.part
    own = part.way_out.moves if isinstance(part.way_out, OwnWayOut) else ()
    moves = [(move, True) for move in part.way_in] + [(move, False) for move in own]
    units: list[Unit] = ["whole" if rest.setting is None else move.by for move, _ in moves]
    finest: Unit = max(units, key=UNITS.index, default="whole")
    hinge = _hinges(rest, finest, moves[0][0] if moves else Move())
    plans = []
    for (move, arriving), unit in zip(moves, units, strict=True):
        index = _coarser(rest, finest, unit)
        times = schedule(move, _count(rest, unit))
        plans.append(_Plan(move, times, index, _shift(move, rest, finest, unit, index, layout), arriving))
    return finest, hinge, plans


def _count(rest: RestPart, unit: Unit) -> int:
    return 1 if rest.setting is None else rest.setting.counts[unit]


def _coarser(rest: RestPart, fine: Unit, coarse: Unit) -> Floats:
    """For each fine unit the number of the coarse unit that it belongs to, shape (fine units,)."""
    count = _count(rest, fine)
    if rest.setting is None or fine == coarse:
        return np.arange(count)  # type: ignore[return-value]
    index = np.zeros(count, np.int64)
    of_fine, of_coarse = rest.setting.unit_of[fine], rest.setting.unit_of[coarse]
    both = (of_fine >= 0) & (of_coarse >= 0)
    index[of_fine[both]] = of_coarse[both]
    return index  # type: ignore[return-value]


def _hinges(rest: RestPart, unit: Unit, move: Move) -> Floats:
    """The point that each unit scales about, in px of the frame."""
    edges = np.nan_to_num(unit_edges(rest, unit))
    share = np.array([move.hinge_x, move.hinge_y]) / 100
    hinges: Floats = edges[:, :2] + (edges[:, 2:] - edges[:, :2]) * share
    return hinges


def _shift(move: Move, rest: RestPart, fine: Unit, unit: Unit, index: Floats, layout: Rest) -> Floats:
    """The displaced look's offset for each fine unit, (units, 2) in px."""
    count = _count(rest, fine)
    if move.travel == "by offset":
        return np.tile([float(move.x), float(move.y)], (count, 1))
    boxes = [layout.parts[m.inside].box.grown(*[m.grow + m.soft] * 4) for m in rest.part.mattes if not m.hides]
    window = boxes[0] if boxes else frame_area(FRAME, layout.frame)
    for box in boxes[1:]:
        window = window.cut(box)
    shift: Floats = out_of(window, unit_edges(rest, unit) + rest.reach * OUTWARD, move.side)[index]
    return shift
