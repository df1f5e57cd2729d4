"""Numbers: all that a counter may show, and the one that it shows just now."""

from dataclasses import dataclass

import numpy as np

from avlet.arrays import Floats
from avlet.document.parts import AnyPart, CounterPart
from avlet.document.template import Frame
from avlet.document.time.moves import Unit
from avlet.geometry import Box
from avlet.layout.bodies.body import Making
from avlet.layout.bodies.words import Words
from avlet.text.figures import Figures, figures_of


@dataclass(frozen=True, eq=False)
class Numbers(Words):
    """The number that is shown, at rest the last one, in slots that are as wide as the widest."""

    figures: Figures

    @property
    def spread(self) -> Box | None:
        return self.figures.rest.ink_box or self.set.ink_box

    def ever(self, ink: Box, part: AnyPart, box: Box, safe: Box) -> Box:
        left, right = self.figures.extent
        return Box.from_edges(min(ink.x, box.x + left), ink.y, max(ink.right, box.x + right), ink.bottom)

    def waiting_edges(self, unit: Unit, box: Box) -> Floats:
        """Whichever figures are shown: those of the last number may be lower than others, and fewer."""
        edges = self.unit_edges(unit, box).copy()
        (left, right), (top, bottom) = self.figures.extent, self.figures.rise
        ever = np.array([box.x + left, box.y + top, box.x + right, box.y + bottom])
        edges[np.isnan(edges).any(axis=1)] = ever
        edges[:, 1], edges[:, 3] = np.minimum(edges[:, 1], ever[1]), np.maximum(edges[:, 3], ever[3])
        middles, half = edges[:, [0, 2]].mean(axis=1), self.figures.slot
        left_ends, right_ends = (middles - half, middles + half) if unit == "character" else (ever[0], ever[2])
        edges[:, 0], edges[:, 2] = np.minimum(edges[:, 0], left_ends), np.maximum(edges[:, 2], right_ends)
        return edges

    def measure(self, what: str) -> float:
        if what == "slots":
            return self.figures.slots.width
        return float(self.figures.count.end) if what == "final" else super().measure(what)

    def notes(self, part: AnyPart, frame: Frame) -> list[str]:
        return [*super().notes(part, frame), *(f"{part.name}: {fault}" for fault in self.figures.faults)]


def numbers_of(part: CounterPart, making: Making) -> Numbers:
    """A counter's numbers, set."""
    figures = figures_of(part, making.frame.fps, making.book)
    return Numbers(figures.rest, figures)
