"""What of a space is drawn from above and from the side, what moving it there changes, and which numbers tell where it is."""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from avlet.arrays import Floats
from avlet.desktop.sessions.template_session import Session
from avlet.document.editing import edits
from avlet.document.editing.alignment import leaders
from avlet.document.editing.grouping import stands_in
from avlet.document.parts import AnyPart, BallPart, LampPart, PaintedPart, SpacePart
from avlet.document.solids import MOST_DEPTH, Stand
from avlet.motion.camera import position, resting_distance
from avlet.motion.stands import corners_in_space, unit_matrices
from avlet.numbers.exact import in_figures

ABOVE, SIDE = 0, 1
CAMERA, SUN = "camera", "sun"
_MOST_UP = 89.0
_SUN_AWAY = 0.6
"""How far from the middle of the sheet the sun is drawn, as a share of the frame's height."""


@dataclass(frozen=True)
class Item:
    """A member by its id, ``camera`` or ``sun``: its words, and the corners of each of its units, (units, k, 3), or a point (1, 1, 3)."""

    id: str
    words: str
    points: Floats
    part: AnyPart | None = None

    @property
    def middle(self) -> Floats:
        """The middle of all of it, (3,)."""
        flat = self.points.reshape(-1, 3)
        found: Floats = (flat.min(axis=0) + flat.max(axis=0)) / 2
        return found

    @property
    def is_a_point(self) -> bool:
        """Whether it has a place and no extent: camera, sun and lamps."""
        return not isinstance(self.part, PaintedPart)


def space_of(session: Session) -> SpacePart | None:
    """The space that alone is selected, or in which the one part stands that is."""
    part = session.part
    if part is None or session.also:
        return None
    return part if isinstance(part, SpacePart) else stands_in(session.template, part.id)


def chosen_in(session: Session) -> str:
    """The item that is selected: a member, the sun, or the camera."""
    if isinstance(session.part, SpacePart):
        return SUN if session.piece in ("sun", "sky") else CAMERA
    return str(session.selected)


def choose(session: Session, space: SpacePart, item: str) -> None:
    """Select an item."""
    if item in (CAMERA, SUN):
        session.select_piece(space.id, item)
    else:
        session.select(item)


def items_of(session: Session, space_id: str) -> list[Item]:
    """All that can be taken hold of in the frame that is on the stage, back to front."""
    template, pose = session.template, session.scene().pose(min(session.frame, session.length() - 1))
    space = pose.parts[space_id].rest.part
    assert isinstance(space, SpacePart)
    found = []
    for _, posed, _ in pose.standing_in(space_id):
        part = posed.rest.part
        if isinstance(part, LampPart):
            at = unit_matrices(posed)[0] @ np.array([*posed.rest.box.middle, part.before, 1.0])
            found.append(Item(part.id, part.name, (at[:3] / at[3]).reshape(1, 1, 3), part))
        elif len(points := corners_in_space(posed)):
            deep = f" · {part.deep:,.0f} deep" if part.deep > 0 else ""
            found.append(Item(part.id, part.name + deep, points, part))
    eye = position(space.camera, template.frame)
    away = resting_distance(space.camera, template.frame) * space.camera.distance / 100
    found.append(Item(CAMERA, f"camera · {away:,.0f} px away, {in_figures(space.camera.angle)}° wide", eye.reshape(1, 1, 3)))
    if space.sun.strength > 0:
        found.append(Item(SUN, "sun", _sun_at(session, space).reshape(1, 1, 3)))
    return found


def _sun_at(session: Session, space: SpacePart) -> Floats:
    a, b, frame = math.radians(space.sun.round), math.radians(space.sun.up), session.template.frame
    to_sun = np.array([math.sin(a) * math.cos(b), -math.sin(b), math.cos(a) * math.cos(b)])
    found: Floats = np.array([frame.width / 2, frame.height / 2, 0.0]) + to_sun * frame.height * _SUN_AWAY
    return found


# Moving


class Hold:
    """Something held, from what it was when it was taken hold of."""

    def __init__(self, session: Session, space: SpacePart, item: str, axis: int, gesture: object) -> None:
        self.session, self.space, self.item, self.axis, self.gesture = session, space, item, axis, gesture
        self._space = session.bound(space.id)
        self._part = session.bound(item) if item not in (CAMERA, SUN) else None
        way = "across" if axis == ABOVE else "down"
        targets = [f"{at}/{way}.gap" for at in leaders(session.template, [item], way)] if self._part is not None else []
        self._gaps = {target: float(session.shown(target)) for target in targets}

    def move(self, along: float, nearer: float, turn: float) -> None:
        """So many px of the frame along the view and nearer to the viewer; camera and sun turn by so many degrees instead."""
        if self._part is not None and self._part.locked:
            return
        space, name = self._space, self.session.template.name_of(self.space.id)
        assert isinstance(space, SpacePart)
        if self._part is None:
            path, one = f"{self.space.id}/{self.item}", space.camera if self.item == CAMERA else space.sun
            values: dict[str, object] = (
                {f"{path}.round": round((one.round + turn + 180) % 360 - 180, 1)} if self.axis == ABOVE
                else {f"{path}.up": round(max(-_MOST_UP, min(_MOST_UP, one.up - turn)), 1)}
            )  # fmt: skip
            if self.item == CAMERA and nearer:
                rest = resting_distance(space.camera, self.session.template.frame)
                values[f"{path}.distance"] = round(max(10.0, min(1000.0, space.camera.distance + nearer / rest * 100)), 1)
            self.session.write(values, self.gesture, f"{name}: {self.item}")
            return
        moved: dict[str, object] = {target: float(round(gap + along)) for target, gap in self._gaps.items()} if along else {}
        target, before = before_of(self._part)
        if nearer and target:
            put_before(self.session, self._part, round(before + nearer), self.gesture, moved)
        elif moved:
            self.session.write(moved, self.gesture, f"Move {self._part.name}")


def before_of(part: AnyPart) -> tuple[str, float]:
    """Where it is said how far a part stands before something, and how far that is; an empty path for what cannot."""
    if isinstance(part, LampPart):
        return f"{part.id}/before", part.before
    if isinstance(part, PaintedPart):
        return f"{part.id}/stand.before", part.stand.before if part.stand is not None else 0.0
    return "", 0.0


def put_before(session: Session, part: AnyPart, before: float, gesture: object, also: dict[str, object]) -> None:
    """Let a part stand so many px before what it stands on, and other values be these."""
    target, words = before_of(part)[0], f"{part.name}: where it stands"
    now = session.template.part(part.id)
    if isinstance(now, PaintedPart) and now.stand is None:
        session.edit(words, lambda t: edits.set_relations(t, part.id, stand=Stand()), gesture)
    session.write(also | {target: max(-MOST_DEPTH, min(MOST_DEPTH, float(before)))}, gesture, words)


# Numbers


@dataclass(frozen=True)
class Figure:
    """A number of an item that a view shows: words before and after it, what it is, and how it is changed to another."""

    before: str
    after: str
    name: str
    value: float
    put: Callable[[float, object], object]
    low: float = -MOST_DEPTH
    high: float = MOST_DEPTH
    step: float = 5.0


def figures_of(session: Session, space: SpacePart, item: str, axis: int) -> list[Figure]:
    """The numbers of an item that are typed in a view: its angle as seen from there, and how far away it is."""
    bound = session.bound(space.id)
    assert isinstance(bound, SpacePart)

    def written(target: str) -> Callable[[float, object], object]:
        return lambda value, gesture: session.write({target: value}, gesture)

    if item in (CAMERA, SUN):
        one, at = (bound.camera if item == CAMERA else bound.sun), f"{space.id}/{item}"
        if axis == SIDE:
            return [Figure("", "° up", f"{item}: up", one.up, written(f"{at}.up"), -_MOST_UP, _MOST_UP)]
        found = [Figure("", "° round", f"{item}: round", one.round, written(f"{at}.round"), -180, 180)]
        if item == CAMERA:
            found.append(Figure(", at", "%", "camera: distance", bound.camera.distance, written(f"{at}.distance"), 10, 1000))
        return found
    part = session.bound(item)
    target, before = before_of(part)
    if not target:
        return []
    stands = Figure("", "px before", f"{part.name}: px before", before, lambda v, g: put_before(session, part, v, g, {}), step=10.0)
    found = [stands]
    if isinstance(part, PaintedPart) and part.stand is not None and not isinstance(part, BallPart):
        way, words = ("swing", "swung") if axis == ABOVE else ("tilt", "tilted")
        turned = part.stand.swing if axis == ABOVE else part.stand.tilt
        found.append(Figure(words, "°", f"{part.name}: {words}", turned, written(f"{part.id}/stand.{way}"), -3600, 3600))
    return found
