"""The resting layout: how everything sits once it has arrived."""

import functools
from collections.abc import Mapping
from dataclasses import dataclass

from avlet.arrays import Floats
from avlet.document.cards.wires import Measure
from avlet.document.parts import EDGE_SHARES, AnyPart, Edge, TextBox
from avlet.document.template import Frame
from avlet.document.time.moves import Unit
from avlet.geometry import Axis, Box
from avlet.keeping import kept_while_alive
from avlet.layout.bind import Bound
from avlet.layout.bodies.body import Body, Units
from avlet.text.fonts import Face, FontBook
from avlet.text.setting import Setting


@dataclass(frozen=True, eq=False)
class RestPart:
    """One part at rest: its box in px of the frame, what it is made of, and what is to be said about it.

    ``present`` is False when it is hidden, or vanishes because what it is there for is empty; ``by_itself`` says the same
    without regard to the groups that it is in.
    """

    part: AnyPart
    box: Box
    body: Body
    present: bool = True
    by_itself: bool = True
    notes: tuple[str, ...] = ()

    @functools.cached_property
    def reach(self) -> float:
        """How far beyond its outline it may paint, in px."""
        return self.part.reach

    @property
    def units(self) -> Units | None:
        """What moves can take one at a time; None where there is only the whole."""
        return self.body.units

    @property
    def words(self) -> Setting | None:
        """The set words that it shows: of a text, or of an echo with words of its own."""
        return self.body.words

    @property
    def ink(self) -> Box | None:
        """What it paints at rest, without regard to mattes; None if that is nothing."""
        return self.body.ink(self.box)

    def edge(self, edge: Edge, axis: Axis) -> float:
        """Where an edge, middle or baseline lies along an axis, in px of the frame."""
        return self.box[axis] + edge_offset(edge, axis, self.box[axis + 2], self.words)

    def fitted(self, kind: TextBox) -> Box:
        """The box that other parts fit around."""
        return self.words.box(kind).moved(self.box.x, self.box.y) if self.words else self.box


@kept_while_alive
def unit_edges(rest: RestPart, unit: Unit) -> Floats:
    """The resting ink of each unit in px of the frame, (units, 4): left, top, right, bottom."""
    return rest.body.unit_edges(unit, rest.box)


def edge_offset(edge: Edge, axis: Axis, size: float, setting: Setting | None) -> float:
    """How far an edge, middle or baseline lies from the start of a box of ``size`` px."""
    if edge == "baseline" and setting is not None and axis == 1:
        return setting.lines[0].baseline
    return size * EDGE_SHARES[edge]


@dataclass(frozen=True, eq=False)
class Rest:
    """The resting layout of all parts, back to front by id."""

    bound: Bound
    parts: Mapping[str, RestPart]

    @property
    def frame(self) -> Frame:
        """Picture size and rate."""
        return self.bound.template.frame

    def measure(self, part_id: str, what: Measure) -> float:
        """One measure of a part: of its box in px of the frame, or what it is made of, such as how many lines it has."""
        part = self.parts[part_id]
        box = part.box
        sides = {"width": box.w, "height": box.h, "left": box.x, "top": box.y, "right": box.right, "bottom": box.bottom}
        return sides[what] if what in sides else part.body.measure(what)


def faces_of(rest: Rest, book: FontBook) -> list[Face]:
    """The faces of all texts of a layout, as their files have them: those that they name, and those that stood in for some letters."""
    return list(dict.fromkeys(face for one in rest.parts.values() for face in one.body.faces(one.part, book)))
