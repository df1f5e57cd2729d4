"""What a press on the stage begins: each gesture is an object that is dragged, released or given up."""

import itertools
from collections.abc import Callable
from typing import TYPE_CHECKING, NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt

from avlet.desktop.stage.drafting import Dimension
from avlet.desktop.stage.handles import Handle, handle_at
from avlet.desktop.stage.lamp_marks import lamp_at
from avlet.desktop.stage.orbiting import Orbit, begin_orbit
from avlet.document.editing.resizing import Sides, resized
from avlet.document.parts import PicturePart
from avlet.geometry import Box
from avlet.layout.snapping import Caught, EqualGap
from avlet.motion.picking import parts_within

if TYPE_CHECKING:
    from avlet.desktop.stage.stage import Stage

DRAG_BEGINS = 3.0
"""View px that the hand moves before a press becomes a drag."""
_numbers = itertools.count()


class Hand(NamedTuple):
    """Where the hand is in the view, and which keys are held with it."""

    at: QPointF
    keys: Qt.KeyboardModifier

    def holds(self, key: Qt.KeyboardModifier) -> bool:
        """Whether a key is held."""
        return bool(self.keys & key)

    @property
    def adds(self) -> bool:
        """Whether what is pressed is to be selected beside what is."""
        return self.holds(Qt.KeyboardModifier.ControlModifier)

    @property
    def in_steps(self) -> bool:
        """Whether whole steps, or one axis, are kept to."""
        return self.holds(Qt.KeyboardModifier.ShiftModifier)

    @property
    def freely(self) -> bool:
        """Whether nothing is to be caught on."""
        return self.holds(Qt.KeyboardModifier.AltModifier)


class Gesture:
    """One press until its release. ``number`` makes all that it writes one step of undo."""

    caught: tuple[Caught | EqualGap, ...] = ()
    """What the drag has caught on, to be shown."""
    step: QPointF = QPointF()
    """How far parts were moved, in px of the frame, to be shown."""
    band: QRectF | None = None
    """The area of the view that is drawn to select what is in it."""

    def __init__(self, stage: "Stage", hand: Hand) -> None:
        self.stage, self.session, self.begun = stage, stage.session, hand.at
        self.number = next(_numbers)
        self.dragged = False

    def drag(self, hand: Hand) -> None:
        """The hand has moved."""
        if not self.dragged and (hand.at - self.begun).manhattanLength() >= DRAG_BEGINS:
            self.dragged = True
        if self.dragged:
            self.pull(hand, (hand.at - self.begun) / self.stage.scale)

    def pull(self, hand: Hand, moved: QPointF) -> None:
        """Do what a drag by so many px of the frame does."""

    def release(self, hand: Hand) -> None:
        """The hand lets go: of a drag, or after a press without one."""
        if self.dragged:
            self.session.history.close_gesture()
        else:
            self.click(hand)

    def click(self, hand: Hand) -> None:
        """Do what a press without a drag does."""

    def cancel(self) -> None:
        """Give up: what was dragged is where it was."""
        if self.dragged and self.session.history.in_gesture:
            self.session.undo()
            self.session.history.close_gesture()


class OfAGuide(Gesture):
    """A guide, or a new one out of a ruler."""

    def drag(self, hand: Hand) -> None:
        self.stage.rulers.move(hand.at)

    def release(self, hand: Hand) -> None:
        self.stage.rulers.release(hand.at)

    def cancel(self) -> None:
        self.stage.rulers.let_go()


class OfAHandle(Gesture):
    """A point of a part: it turns, aims or shifts."""

    def __init__(self, stage: "Stage", hand: Hand, handle: Handle) -> None:
        super().__init__(stage, hand)
        self.handle = handle

    def pull(self, hand: Hand, moved: QPointF) -> None:
        to = self.stage.to_frame(hand.at)
        name = self.session.template.name_of(self.session.selected or "")
        values = self.handle.change((to.x(), to.y()), hand.in_steps)
        self.session.write(values, ("handle", self.number), f"{name}: {self.handle.name}", self.handle.frame)


class OfAnEdge(Gesture):
    """An edge or corner: it changes a size. Pictures keep their shape at the corners, other parts with Shift."""

    def __init__(self, stage: "Stage", hand: Hand, sides: Sides) -> None:
        super().__init__(stage, hand)
        self.sides, self.part = sides, self.session.bound_part
        self.box: Box = self.session.scene().rest.parts[self.session.selection[-1]].box
        self.dragged = True  # the first px counts

    def pull(self, hand: Hand, moved: QPointF) -> None:
        if self.part is not None:
            keep = 0 not in self.sides and (hand.in_steps != isinstance(self.part, PicturePart))
            values = resized(self.part, self.box, self.sides, float(round(moved.x())), float(round(moved.y())), keep)
            self.session.write(values, ("resize", self.number), f"Size of {self.part.name}")


class OfALamp(Gesture):
    """The mark of a lamp: a press selects it."""

    def __init__(self, stage: "Stage", hand: Hand, lamp: str) -> None:
        super().__init__(stage, hand)
        stage.session.select(lamp)
        self.moves = stage.moving(hand, pick=False)

    def pull(self, hand: Hand, moved: QPointF) -> None:
        self.moves.drag(hand)
        self.caught, self.step = self.moves.caught, self.moves.step


class OfTheCamera(Gesture):
    """The camera of a selected space: it is carried round. A click selects as any other."""

    def __init__(self, stage: "Stage", hand: Hand, orbit: Orbit) -> None:
        super().__init__(stage, hand)
        self.orbit, self.before = orbit, stage.session.selected

    def drag(self, hand: Hand) -> None:
        self.orbit.drag(hand.at, hand.in_steps)
        self.dragged = self.orbit.far

    def click(self, hand: Hand) -> None:
        if not hand.adds:
            self.stage.click(hand, self.before)


class OfADimension(Gesture):
    """The number of a padding or gap: a drag changes it, a click lets it be typed."""

    def __init__(self, stage: "Stage", hand: Hand, dimension: Dimension) -> None:
        super().__init__(stage, hand)
        self.dimension = dimension

    def pull(self, hand: Hand, moved: QPointF) -> None:
        along = moved.x() if self.dimension.across else moved.y()
        value = round(self.dimension.value + along * self.dimension.grows)
        self.session.write({self.dimension.target: value}, ("drag", self.number))

    def click(self, hand: Hand) -> None:
        self.stage.type_number(self.dimension)


class OfTheGround(Gesture):
    """A press beside all parts: it draws a band, and selects what shows wholly within."""

    def __init__(self, stage: "Stage", hand: Hand) -> None:
        super().__init__(stage, hand)
        self.band = QRectF(hand.at, hand.at)
        if not hand.adds:
            stage.session.select(None)

    def drag(self, hand: Hand) -> None:
        self.band = QRectF(self.begun, hand.at).normalized()
        self.stage.update()

    def release(self, hand: Hand) -> None:
        assert self.band is not None
        corner, end = self.stage.to_frame(self.band.topLeft()), self.stage.to_frame(self.band.bottomRight())
        inside = parts_within(self.stage.pose, Box.from_edges(corner.x(), corner.y(), end.x(), end.y()))
        if inside:
            self.session.select_all(inside)


def begun(stage: "Stage", hand: Hand) -> Gesture:
    """What a press begins: the first that there is something for under the hand."""
    for kind in _KINDS:
        gesture = kind(stage, hand)
        if gesture is not None:
            return gesture
    return OfTheGround(stage, hand)


def _guide(stage: "Stage", hand: Hand) -> Gesture | None:
    return OfAGuide(stage, hand) if stage.rulers.press(hand.at) else None


def _handle(stage: "Stage", hand: Hand) -> Gesture | None:
    found = handle_at(stage.handles, hand.at, stage.to_view, anchor=hand.adds)
    return OfAHandle(stage, hand, found) if found is not None else None


def _edge(stage: "Stage", hand: Hand) -> Gesture | None:
    sides = stage.drafting.grip_at(hand.at)
    return OfAnEdge(stage, hand, sides) if sides is not None else None


def _lamp(stage: "Stage", hand: Hand) -> Gesture | None:
    lamp = lamp_at(stage.session, hand.at, stage.to_view)
    return OfALamp(stage, hand, lamp) if lamp is not None else None


def _camera(stage: "Stage", hand: Hand) -> Gesture | None:
    orbit = begin_orbit(stage.session, hand.at)
    return OfTheCamera(stage, hand, orbit) if orbit is not None else None


def _dimension(stage: "Stage", hand: Hand) -> Gesture | None:
    found = stage.drafting.at(hand.at)
    return OfADimension(stage, hand, found[1]) if found is not None else None


def _part(stage: "Stage", hand: Hand) -> Gesture | None:
    return stage.moving(hand) if stage.picked_at(hand.at) is not None else None


_KINDS: tuple[Callable[["Stage", Hand], Gesture | None], ...] = (_guide, _handle, _edge, _lamp, _camera, _dimension, _part)
"""What is asked first takes the press."""
