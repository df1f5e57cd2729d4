"""Pose: where every unit of every part stands in one frame. Arrays, not loops over letters."""

import dataclasses
from collections.abc import Iterator
from dataclasses import dataclass
from types import MappingProxyType
from typing import NamedTuple

import numpy as np

from avlet.arrays import Floats
from avlet.document.moves import Mirrored, Move, OwnWayOut, StaysToTheEnd, Unit
from avlet.document.parts import FRAME, AnyPart, EchoPart, GroupPart, Matte, PatternPart, members_of
from avlet.geometry import Box
from avlet.layout.arrange import Rest, RestPart, frame_area
from avlet.layout.copies import drift_shift
from avlet.motion.posed import OUTWARD, Pose, PosedPart, unit_edges
from avlet.motion.riding import ride_shift, riding
from avlet.motion.schedule import Schedule, arrival, departure, schedule
from avlet.motion.spans import Spans, spans_at
from avlet.motion.transforms import about, bounds, linear, translation, turning
from avlet.motion.travel import out_of

UNITS: tuple[Unit, ...] = ("whole", "line", "word", "character")
"""From coarse to fine: a part is posed by the finest unit that any of its moves takes."""


@dataclass(frozen=True, eq=False)
class _Plan:
    """One move, ready for any frame. Arrays follow the part's finest unit; ``index`` leads from it to the move's units."""

    move: Move
    times: Schedule
    index: Floats
    shift: Floats
    arriving: bool


class _Moment(NamedTuple):
    """A moment of a title: frames since its begin and until its end, whether it is the last frame, and the time in seconds."""

    frame: int
    begin: float
    end: float
    last: bool
    seconds: float

    def later(self, frames: float) -> "_Moment":
        """What arrives later also leaves earlier: the moment is so much nearer to both ends."""
        return self._replace(begin=self.begin - frames, end=self.end - frames)


def as_matrix(posed: PosedPart) -> Floats | None:
    """Where a part that is posed as a whole has brought its resting points, (3, 3); None when they are where they were."""
    found = None if posed.matrix is None else posed.matrix[0]
    if not posed.still:
        (sx, sy), (hx, hy), (dx, dy) = posed.scale[0], posed.hinge[0], posed.shift[0]
        own = np.array([[sx, 0.0, hx - hx * sx + dx], [0.0, sy, hy - hy * sy + dy], [0.0, 0.0, 1.0]])
        found = own if found is None else found @ own
    return found


def carried(posed: PosedPart, matrix: Floats) -> PosedPart:
    """A part with one more transformation (3, 3) of the frame behind all that it does itself."""
    own = np.broadcast_to(np.eye(3), (len(posed.hinge), 3, 3)) if posed.matrix is None else posed.matrix
    return dataclasses.replace(posed, matrix=matrix @ own, still=False)


def carried_pose(pose: Pose, matrix: Floats) -> Pose:
    """All parts of a pose carried."""
    parts = MappingProxyType({i: carried(p, matrix) for i, p in pose.parts.items()})
    return Pose(pose.frame, parts, {i: carried_pose(copy, matrix) for i, copy in pose.echoes.items()})


class Choreography:
    """The moves of all parts, worked out once for a resting layout; :meth:`pose` then only evaluates them."""

    def __init__(self, rest: Rest) -> None:
        self.rest = rest
        self.spans: Spans = spans_at(rest.bound.template, rest.bound.length)
        self._plans = {i: _plan_part(part, rest) for i, part in rest.parts.items()}
        self._rides = riding(rest)
        self._resting = {i: _at_rest(part, *self._plans[i][:2]) for i, part in rest.parts.items()}
        listed = [part.part for part in rest.parts.values()]
        self._members = {p.id: set(members_of(listed, p.id, deep=True)) for p in listed if isinstance(p, GroupPart)}
        self._groups = sorted(self._members, key=lambda i: len(self._members[i]))
        self._echoes = {p.id for p in listed if isinstance(p, EchoPart)}

    def pose(self, frame: int) -> Pose:
        """Every part as it stands in ``frame``, 0 … N − 1."""
        return self._pose_of(tuple(self.rest.parts), self._moment(frame))

    def _moment(self, frame: int) -> "_Moment":
        spans, last = self.spans, self.spans.length > 1 and frame >= self.spans.length - 1
        return _Moment(frame, spans.since_begin(frame), spans.until_end(frame), last, frame / float(self.rest.frame.fps))

    def _pose_of(self, part_ids: tuple[str, ...], moment: "_Moment", copied: str | None = None) -> Pose:
        """Some parts at a moment, what a group among them carries carried along. ``copied`` shows even when it is switched off."""
        posed = {i: self._pose_part(i, moment, copied) for i in part_ids}
        self._ride(posed, within=True)
        for group in self._groups:
            if group in posed and (whole := as_matrix(posed[group])) is not None:
                for member in self._members[group]:
                    if member in posed:
                        posed[member] = carried(posed[member], whole)
        self._ride(posed, within=False)
        echoes = {i: self._copy(i, posed[i], moment) for i in part_ids if i in self._echoes}
        return Pose(moment.frame, MappingProxyType(posed), echoes)

    def _ride(self, posed: dict[str, PosedPart], within: bool) -> None:
        """Carry what rides: ``within`` its own groups before those move, on parts of other groups after that."""
        for part_id, leads in self._rides:
            groups = set(self._groups_of(part_id))
            now = tuple(lead for lead in leads if lead[1] in posed and (groups >= set(self._groups_of(lead[1]))) == within)
            shift = ride_shift(posed, self._resting, now) if now and part_id in posed else np.zeros(2)
            if shift.any():
                posed[part_id] = carried(posed[part_id], translation(*shift.tolist()))

    def _groups_of(self, part_id: str) -> Iterator[str]:
        group = self.rest.parts[part_id].part.group
        while group is not None and group in self.rest.parts:
            yield group
            group = self.rest.parts[group].part.group

    def _copy(self, echo_id: str, echo: PosedPart, moment: "_Moment") -> Pose:
        """What an echo shows: its original as it stands at another moment, brought to the echo's place and carried with it."""
        part = echo.rest.part
        assert isinstance(part, EchoPart)
        original = self.rest.parts[part.of].box
        inside = tuple(i for i in self.rest.parts if i == part.of or i in self._members.get(part.of, ()))
        pose = self._pose_of(inside, moment.later(part.later), part.of)
        away = translation(echo.rest.box.x - original.x, echo.rest.box.y - original.y)
        whole = as_matrix(echo)
        return carried_pose(pose, away if whole is None else whole @ away)

    def _pose_part(self, part_id: str, moment: "_Moment", copied: str | None) -> PosedPart:
        rest = self.rest.parts[part_id]
        unit, hinge, plans = self._plans[part_id]
        resting = self._resting[part_id]
        shares = [(plan, share) for plan, share in self._shares(rest.part, plans, moment) if share.any()]
        gone = moment.last and self._leaves(rest.part)
        there = rest.present if copied is None else rest.by_itself or (copied == part_id and not rest.part.shown)
        shown = there and not gone
        drift = self._drift(rest, moment)
        if not shares and drift is None:
            return resting if shown == resting.shown else dataclasses.replace(resting, shown=shown)
        units = len(hinge)
        shift, scale, opacity, drawn = np.zeros((units, 2)), np.ones((units, 2)), np.ones(units), np.ones(units)
        for plan, share in shares:
            part_share = share[plan.index]
            shift += plan.shift * part_share[:, None]
            look = np.array([plan.move.scale_x, plan.move.scale_y]) / 100 - 1
            scale *= np.maximum(0.0, 1 + look * part_share[:, None])
            opacity *= np.clip(1 + (plan.move.opacity / 100 - 1) * part_share, 0.0, 1.0)
            drawn *= np.clip(1 + (plan.move.drawn / 100 - 1) * part_share, 0.0, 1.0)
        return PosedPart(rest, unit, shift, scale, hinge, opacity, drawn, False, shown, resting.matrix, drift)

    def _drift(self, rest: RestPart, moment: "_Moment") -> Floats | None:
        part = rest.part
        if not isinstance(part, PatternPart) or rest.copies is None or not (part.drift_x or part.drift_y):
            return None
        return drift_shift(part, moment.seconds, rest.copies.filled)

    def _shares(self, part: AnyPart, plans: list[_Plan], moment: "_Moment") -> list[tuple[_Plan, Floats]]:
        """How much of each move's displaced look its units have now."""
        spans = self.spans
        if spans.length == 1:
            return []
        begin, end = moment.begin, moment.end
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

    def _leaves(self, part: AnyPart) -> bool:
        """What leaves is gone on frame N − 1; an echo goes with its original, a member with its group."""
        if any(self._leaves(self.rest.parts[group].part) for group in self._groups_of(part.id)):
            return True
        if isinstance(part, EchoPart) and self._leaves(self.rest.parts[part.of].part):
            return True
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
    zeros, ones = np.zeros((units, 2)), np.ones((units, 2))
    return PosedPart(rest, unit, zeros, ones, hinge, ones[:, 0], ones[:, 0], True, rest.present, _stance(rest, units))


def _stance(rest: RestPart, units: int) -> Floats | None:
    """How a part is turned and scaled about its anchor, (units, 3, 3); None when it is not."""
    part, box = rest.part, rest.box
    if part.turn == 0 and part.scale_x == 100 and part.scale_y == 100:
        return None
    anchor = np.array([[box.edge(part.anchor_x / 100, 0), box.edge(part.anchor_y / 100, 1)]])
    scale = linear(part.scale_x / 100, 0.0, 0.0, part.scale_y / 100)
    return np.repeat(about(anchor, turning(part.turn) @ scale), units, axis=0)


def _plan_part(rest: RestPart, layout: Rest) -> tuple[Unit, Floats, list[_Plan]]:
    part = rest.part
    own = part.way_out.moves if isinstance(part.way_out, OwnWayOut) else ()
    moves = [(move, True) for move in part.way_in] + [(move, False) for move in own]
    units: list[Unit] = ["whole" if rest.units is None else move.by for move, _ in moves]
    finest: Unit = max(units, key=UNITS.index, default="whole")
    hinge = _hinges(rest, finest, moves[0][0] if moves else Move())
    plans = []
    for (move, arriving), unit in zip(moves, units, strict=True):
        index = _coarser(rest, finest, unit)
        times = schedule(move, _count(rest, unit))
        plans.append(_Plan(move, times, index, _shift(move, rest, finest, unit, index, layout), arriving))
    return finest, hinge, plans


def _count(rest: RestPart, unit: Unit) -> int:
    return 1 if rest.units is None else rest.units.counts[unit]


def _coarser(rest: RestPart, fine: Unit, coarse: Unit) -> Floats:
    """For each fine unit the number of the coarse unit that it belongs to, shape (fine units,)."""
    count = _count(rest, fine)
    if rest.units is None or fine == coarse:
        return np.arange(count)  # type: ignore[return-value]
    index = np.zeros(count, np.int64)
    of_fine, of_coarse = rest.units.unit_of[fine], rest.units.unit_of[coarse]
    both = (of_fine >= 0) & (of_coarse >= 0)
    index[of_fine[both]] = of_coarse[both]
    return index  # type: ignore[return-value]


def _hinges(rest: RestPart, unit: Unit, move: Move) -> Floats:
    """The point that each unit scales about, in px of the frame."""
    edges = np.nan_to_num(unit_edges(rest, unit))
    share = np.array([move.hinge_x, move.hinge_y]) / 100
    hinges: Floats = edges[:, :2] + (edges[:, 2:] - edges[:, :2]) * share
    return hinges


def _window(matte: Matte, rest: RestPart, layout: Rest) -> Box:
    """The bounds of a matte's source at rest, in px as they are before the part is turned."""
    source = layout.parts[matte.inside]
    edges = np.array([[source.box.x, source.box.y, source.box.right, source.box.bottom]])
    stance, own = _stance(source, 1), _stance(rest, 1)
    if stance is not None:
        edges = bounds(stance, edges)
    if own is not None and abs(np.linalg.det(own[0])) > 1e-9:
        edges = bounds(np.asarray(np.linalg.inv(own), np.float64), edges)
    return Box.from_edges(*edges[0].tolist()).grown(*[matte.grow + matte.soft] * 4)


def _shift(move: Move, rest: RestPart, fine: Unit, unit: Unit, index: Floats, layout: Rest) -> Floats:
    """The displaced look's offset for each fine unit, (units, 2) in px."""
    count = _count(rest, fine)
    if move.travel == "by offset":
        return np.tile([float(move.x), float(move.y)], (count, 1))
    boxes = [_window(m, rest, layout) for m in rest.part.mattes if not m.hides]
    window = boxes[0] if boxes else frame_area(FRAME, layout.frame)
    for box in boxes[1:]:
        window = window.cut(box)
    shift: Floats = out_of(window, unit_edges(rest, unit) + rest.reach * OUTWARD, move.side)[index]
    return shift
