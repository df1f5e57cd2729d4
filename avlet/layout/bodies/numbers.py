"""Numbers: all that a counter may show, and the one that it shows just now."""

from dataclasses import dataclass

from avlet.document.parts import AnyPart, CounterPart
from avlet.document.template import Frame
from avlet.geometry import Box
from avlet.layout.bodies.body import Making
from avlet.layout.bodies.words import Words
from avlet.text.figures import Figures, figures_of


@dataclass(frozen=True, eq=False)
class Numbers(Words):
    """The number that is shown, at rest the last one, in slots that are as wide as the widest."""

    figures: Figures

    def ever(self, ink: Box, part: AnyPart, box: Box, safe: Box) -> Box:
        left, right = self.figures.extent
        return Box.from_edges(min(ink.x, box.x + left), ink.y, max(ink.right, box.x + right), ink.bottom)

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
