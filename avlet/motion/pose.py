"""Pose: where every unit of every part stands in one frame. Arrays, not loops over letters."""

import dataclasses
import functools
import math
from collections import OrderedDict
from collections.abc import Iterator
from types import MappingProxyType

import numpy as np

from avlet.arrays import Floats
from avlet.document.parts import AnyPart, members_of
from avlet.document.standing import stood_on
from avlet.document.time.moves import Mirrored, OwnWayOut, StaysToTheEnd, Sway
from avlet.layout.rest import Rest, RestPart
from avlet.motion.actors import Actor, Instant, at_rest
from avlet.motion.clearing import clear, is_sure, with_own_shifts
from avlet.motion.keyed import KeyedPart, changes_itself
from avlet.motion.looks import Look, sway_share
from avlet.motion.mover import Mover
from avlet.motion.movers import movers_of
from avlet.motion.plans import PartPlan, Plan, hinges, lift_of, lifted_by, plan_part, stance
from avlet.motion.posed import Pose, members_by_group
from avlet.motion.posed_part import PosedPart, Standing
from avlet.motion.riding import ride_shift, riding
from avlet.motion.schedule import arrival, departure
from avlet.motion.spans import Spans, spans_at
from avlet.motion.ties import timing_like, timings
from avlet.motion.transforms import translation


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
    echoes = {i: carried_pose(copy, matrix) for i, copy in pose.echoes.items()}
    return Pose(pose.frame, parts, echoes, None, pose.shape, pose.designed)


_STAYS = Mover()
_ROUNDS = 4
"""How often all frames are looked at again, as what clears one may show in another."""


_MOST_POSES, _MOST_KEPT_UNITS, _MOST_MOVED = 250, 100_000, 64
"""Poses that are kept: films, stage and checks ask for each several times. Fewer where there are many units, or bodies that change."""


class Choreography:
    """The moves of all parts, worked out once for a resting layout; :meth:`pose` then only evaluates them."""

    def __init__(self, rest: Rest) -> None:
        self.rest = rest
        template, length = rest.bound.template, rest.bound.length
        self._spoken = {i: one for i, part in rest.parts.items() if (one := part.body.standing_in) is not None}
        first = spans_at(template, length)
        self.timings = timings(rest, first)
        self.spans: Spans = spans_at(template, length, self._needed())
        if self.spans != first:
            self.timings = timings(rest, self.spans)
        self._plans = {i: plan_part(part, rest, self.timings[i]) for i, part in rest.parts.items()}
        self._rides = riding(rest)
        self._fps = float(rest.frame.fps)
        self._all = tuple(rest.parts)
        self._grouped = members_by_group({i: one.part.group for i, one in rest.parts.items()})
        by_id = {i: part.part for i, part in rest.parts.items()}
        self._resting = {i: at_rest(part, self._plans[i], stood_on(by_id, part.part)) for i, part in rest.parts.items()}
        self._keyed = {i: KeyedPart(part) for i, part in rest.parts.items() if changes_itself(part.part)}
        self.movers = movers_of(self)
        self._dressed: dict[tuple[int, int], tuple[RestPart, RestPart]] = {}
        listed = [part.part for part in rest.parts.values()]
        self._members = {p.id: set(members_of(listed, p.id, deep=True)) for p in listed if p.holds}
        self._in_space = {i for p in listed if p.has_depth for i in self._members[p.id]}
        self._by_moments = self._in_space | {m.inside for p in listed for m in p.mattes}
        self._groups = sorted(self._members, key=lambda i: len(self._members[i]))
        self._copied = {p.id: p.copied for p in listed if p.copied is not None}
        self._stand_ins = {i: self._standing_in(one) for i, one in self._spoken.items()}
        self._clear()
        units = sum(sum(one.units.counts.values()) if one.units is not None else 1 for one in rest.parts.values())
        self._poses: OrderedDict[int, Pose] = OrderedDict()
        self._most_poses = max(1, min(_MOST_MOVED if self.movers else _MOST_POSES, _MOST_KEPT_UNITS // max(1, units)))

    def _needed(self) -> tuple[int, int]:
        """How long the moves of the way in and of the way out take, in whole frames."""
        every = [(self.rest.parts[i], timing) for i, timing in self.timings.items()]
        every += [(one, timing_like(one, self.timings[one.part.id])) for one in self._spoken.values()]
        ends = [timing.ready for _, timing in every]
        later = [max(0, one.part.delayed) for one in self.rest.parts.values()]
        way_in = max(ends, default=0.0) + max(later, default=0)
        out = [s.end for _, timing in every for s in timing.way_out if not s.from_end]
        mirrored = [s.end for one, timing in every if isinstance(one.part.way_out, Mirrored) for s in timing.back]
        return math.ceil(way_in - 1e-6), math.ceil(max([*out, *mirrored], default=0.0) - 1e-6)

    def _standing_in(self, one: RestPart) -> Actor:
        plan = plan_part(one, self.rest, timing_like(one, self.timings[one.part.id]))
        return Actor(one, plan, at_rest(one, plan), KeyedPart(one) if changes_itself(one.part) else None)

    @functools.cached_property
    def turns(self) -> bool:
        """Whether anything may come round to where it was: between two moments alone its way cannot be seen."""
        parts = [one.part for one in self.rest.parts.values()]
        moves = [plan.move for planned in self._plans.values() for plan in planned.plans]
        return (
            bool(self._keyed)
            or any(m.turn or m.turn_x or m.turn_y or m.elsewhere is not None for m in moves)
            or any(p.sways for p in parts)
        )

    def _clear(self) -> None:
        """Take what travels just out of a matte, or out of the frame, wholly out of it for as long as it waits."""
        for part_id, planned in self._plans.items():
            travels = self.spans.length > 1 and any(plan.move.goes_out for plan in planned.plans)
            if travels and not is_sure(part_id, self._plans, self.rest):
                self._plans[part_id] = with_own_shifts(planned)
                needed, frames = self.needed_by(part_id), self._waits(part_id, planned)
                for _ in range(_ROUNDS):
                    changed = [self._clear_at(frame, part_id, needed) for frame in frames]
                    if not any(changed):
                        break

    def _waits(self, part_id: str, planned: PartPlan) -> list[int]:
        """Frames in which units still wait, or are gone already: the first, when the middle and the last one set out, and the end.

        The first will do where nothing but one move of its own may bring a unit, or what it hides in, elsewhere by then.
        """
        others = [self._plans[i].plans for i in self.needed_by(part_id) if i != part_id]
        if len(planned.plans) == 1 and not any(others) and not self._keyed:
            return [0]
        spans, last = self.spans, self.spans.length - 2
        begins = [plan.times.begins for plan in planned.plans if plan.arriving and len(plan.times.begins)]
        latest = max((float(b.max()) for b in begins), default=0.0)
        return sorted({0, *(min(last, max(0, math.floor(latest * share / spans.pace))) for share in (0.5, 1.0)), max(0, last)})

    def _clear_at(self, frame: int, part_id: str, needed: tuple[str, ...]) -> bool:
        """Clear a part as it stands in a frame; whether that changed anything."""
        planned, changed = self._plans[part_id], False
        for plan, share in self._shares(self.rest.parts[part_id].part, planned, self._moment(frame)):
            waits = share[plan.index] >= 1 - 1e-9
            if plan.move.goes_out and waits.any():
                changed |= clear(part_id, plan, waits, self.rest, lambda: self.pose_within(frame, 0.0, needed))
        return changed

    def plans_of(self, part_id: str, arriving: bool) -> list[Plan]:
        """The moves of a part's way in, or of its own way out, as they are worked out."""
        return [plan for plan in self._plans[part_id].plans if plan.arriving == arriving]

    def pose(self, frame: int) -> Pose:
        """Every part as it stands in ``frame``, 0 … N − 1."""
        kept = self._poses.get(frame)
        if kept is None:
            kept = self._poses[frame] = self._pose_of(self._all, self._moment(frame))
            while len(self._poses) > self._most_poses:
                self._poses.popitem(last=False)
        return kept

    def pose_within(self, frame: int, offset: float, part_ids: tuple[str, ...] | None = None, lasts: float = 0.0) -> Pose:
        """Parts as they stand ``offset`` frames after ``frame``, for the time that the frame is exposed; all unless some are named.

        Wheels show the mean of the frames that it ``lasts``, half of that before and half after it.
        """
        return self._pose_of(self._all if part_ids is None else part_ids, self._moment(frame, offset)._replace(lasts=lasts))

    def needed_by(self, part_id: str) -> tuple[str, ...]:
        """A part, and all that its picture hangs on: members, groups, mattes, what it rides on; back to front."""
        found: set[str] = set()
        todo = [part_id]
        while todo:
            current = todo.pop()
            if current in found or current not in self.rest.parts:
                continue
            found.add(current)
            part = self.rest.parts[current].part
            todo += [*self._members.get(current, ()), *self._groups_of(current), *(m.inside for m in part.mattes)]
            todo += [place.on for place in (part.across, part.down) if place is not None and place.rides]
        return tuple(i for i in self.rest.parts if i in found)

    def _moment(self, frame: int, offset: float = 0.0) -> Instant:
        spans, template, time = self.spans, self.rest.bound.template, frame + offset
        last = spans.length > 1 and frame >= spans.length - 1
        begin = spans.since_begin(time) if template.plays_in else math.inf
        end = spans.until_end(time) if template.plays_out else math.inf
        return Instant(frame, begin, end, last and template.plays_out, time / self._fps, time)

    def _pose_of(self, part_ids: tuple[str, ...], moment: Instant, copied: str | None = None, stand_in: Actor | None = None) -> Pose:
        """Some parts at a moment, what a group among them carries carried along. ``copied`` shows even when it is switched off."""
        posed = {i: self._pose_part(i, moment, copied, stand_in) for i in part_ids}
        self._ride(posed, within=True)
        for group in self._groups:
            if group in posed and (whole := as_matrix(posed[group])) is not None:
                for member in self._members[group]:
                    if member in posed:
                        posed[member] = carried(posed[member], whole)
        self._ride(posed, within=False)
        echoes = {i: self._copy(posed[i], moment) for i in part_ids if i in self._copied}
        grouped = self._grouped if part_ids is self._all else None
        return Pose(moment.frame, MappingProxyType(posed), echoes, grouped, self.rest.frame, self.rest.parts)

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

    def _copy(self, echo: PosedPart, moment: Instant) -> Pose:
        """What an echo shows: its original as it stands at another moment, brought to the echo's place and carried with it."""
        part = echo.rest.part
        of = self._copied[part.id]
        original = self.rest.parts[of].box
        inside = tuple(i for i in self.rest.parts if i == of or i in self._members.get(of, ()))
        pose = self._pose_of(inside, moment.later(part.delayed), of, self._stand_ins.get(part.id))
        away = translation(echo.rest.box.x - original.x, echo.rest.box.y - original.y)
        whole = as_matrix(echo)
        return carried_pose(pose, away if whole is None else whole @ away)

    def _pose_part(self, part_id: str, moment: Instant, copied: str | None, stand_in: Actor | None) -> PosedPart:
        actor, mover = stand_in or self._actor(part_id), self.movers.get(part_id, _STAYS) if stand_in is None else _STAYS
        (rest, plan, resting, keyed), moment = mover.turned_to(actor, moment)
        gone = moment.last and self._leaves(rest.part)
        there = rest.present if copied is None else rest.by_itself or (copied == part_id and not rest.part.shown)
        shown = there and not gone
        shares = [(p, share) for p, share in self._shares(rest.part, plan, moment) if share.any()]
        sways = [(sway, share) for sway in rest.part.sways if (share := self._sway(sway, moment))]
        seen = moment._replace(lasts=0.0) if part_id in self._by_moments else moment
        rest, way = mover.at(rest, seen), mover.way(moment.time - moment.late)
        if not shares and not sways and keyed is None and way is None:
            if rest is not resting.rest:
                return dataclasses.replace(resting, rest=rest, shown=shown)
            return resting if shown == resting.shown else dataclasses.replace(resting, shown=shown)
        look, stands = Look(plan), resting.matrix
        if keyed is not None:
            keyed_rest, shift = keyed.at(self.spans, moment.time, moment.late, lambda i: self.share_of(i, moment))
            keyed_rest = self._embodied(keyed_rest, rest)
            if keyed_rest.box != rest.box and plan.plans:
                look.hinge = hinges(keyed_rest, plan.unit, plan.plans[0].move)
            rest, stands = keyed_rest, stance(keyed_rest, len(plan.hinge))
            if stands is None:
                look.shift += np.array(shift)
            else:
                stands = translation(*shift) @ stands
        if way is not None:
            look.opacity *= way.opacity
            if stands is None:
                look.shift += np.array(way.shift)
            else:
                stands = translation(*way.shift) @ stands
        for one, units in shares:
            look.add(self._lifting(one, rest.part, moment) if part_id in self._in_space else one, units)
        for sway, amount in sways:
            look.sway(sway, amount)
        inside = part_id in self._in_space
        matrix = look.matrix(inside)
        if stands is not None:
            matrix = stands if matrix is None else stands @ matrix
        stand = Standing(look.lift, look.tilts(), resting.stand.on) if inside else resting.stand
        return PosedPart(
            rest, plan.unit, look.shift, look.scale, look.hinge, look.opacity, look.drawn, False, shown, matrix,
            look.blur, look.tint, look.opened, look.wipe, stand, look.filled,
        )  # fmt: skip

    def _lifting(self, plan: Plan, part: AnyPart, moment: Instant) -> Plan:
        """A move with the lift that it has in a frame: as deep as the part, and what it comes through, are there by their keys."""
        parts = {i: one.part for i, one in self.rest.parts.items()}
        deciding = [i for i in lifted_by(plan.move, part, parts) if i in self._keyed]
        if not deciding:
            return plan
        for i in deciding:
            now, _ = self._keyed[i].at(self.spans, moment.time, moment.late, lambda counter: self.share_of(counter, moment))
            parts[i] = now.part
        return dataclasses.replace(plan, lift=lift_of(plan.move, parts.get(part.id, part), parts, self.rest.frame))

    @functools.cached_property
    def blurred(self) -> frozenset[str]:
        """What is blurred also where nothing else is, such as wheels, and the groups that it is in."""
        own = [i for i, mover in self.movers.items() if mover.blurs]
        return frozenset([*own, *(group for i in own for group in self._groups_of(i))])

    def rolled(self, part_id: str, frame: int, begin: float, end: float, by_moments: bool = False) -> float:
        """How far the wheels of a counter, or of those in a group, turn between two offsets from a frame, in px.

        With ``by_moments`` only of those that have to be seen at many moments: in depth, and as mattes.
        """
        moments = tuple(self.spans.since_begin(frame + offset) for offset in (0.0, begin, end))
        found = [part_id, *self._members.get(part_id, ()), *([self._copied[part_id]] if part_id in self._copied else [])]
        rolling = [i for i in found if i in self.movers and (not by_moments or i in self._by_moments)]
        return max((self.movers[i].rolls(*moments) for i in rolling), default=0.0)

    def share_of(self, counter_id: str, moment: Instant) -> float:
        """How far a counter is: 0 before it begins, 1 once it has landed."""
        return self.movers.get(counter_id, _STAYS).share(self.spans.since_begin(moment.time) - moment.late)

    def _embodied(self, keyed: RestPart, now: RestPart) -> RestPart:
        """A part as its keys make it, with what it shows of itself just now."""
        if keyed.body is now.body:
            return keyed
        key = id(keyed), id(now)
        known = self._dressed.get(key)
        if known is None or known[0] is not now:
            if len(self._dressed) >= 512:
                self._dressed.clear()
            made = dataclasses.replace(keyed, body=now.body)
            made = made if type(now.body) is type(keyed.body) else dataclasses.replace(made, box=now.box)
            known = self._dressed[key] = now, made
        return known[1]

    def _actor(self, part_id: str) -> Actor:
        return Actor(self.rest.parts[part_id], self._plans[part_id], self._resting[part_id], self._keyed.get(part_id))

    def _sway(self, sway: Sway, moment: Instant) -> float:
        return sway_share(sway, self.spans.held(moment.time), self.spans.still, self.spans.designed_still)

    def _shares(self, part: AnyPart, planned: PartPlan, moment: Instant) -> list[tuple[Plan, Floats]]:
        """How much of each move's displaced look its units have now."""
        spans = self.spans
        if spans.length == 1:
            return []
        begin, end = moment.begin, moment.end
        found = []
        for plan in planned.plans:
            if not plan.arriving:
                if spans.designed_out - end > plan.times.start:
                    found.append((plan, departure(plan.move, plan.times, spans.designed_out - end)))
                continue
            done = plan.times.end - 1e-9
            share = arrival(plan.move, plan.times, begin) if begin < done else None
            if end < plan.back.end - 1e-9 and isinstance(part.way_out, Mirrored):
                back = arrival(plan.move, plan.back, end)
                share = back if share is None else np.where(np.abs(share) >= np.abs(back), share, back)
            if share is not None:
                found.append((plan, share))
        return found

    def _leaves(self, part: AnyPart) -> bool:
        """What leaves is gone on frame N − 1; an echo goes with its original, a member with its group."""
        if any(self._leaves(self.rest.parts[group].part) for group in self._groups_of(part.id)):
            return True
        if part.copied is not None and self._leaves(self.rest.parts[part.copied].part):
            return True
        match part.way_out:
            case Mirrored():
                return bool(part.way_in)
            case OwnWayOut():
                return bool(part.way_out.moves)
            case StaysToTheEnd():
                return False
