"""Copies: one form or picture many times."""

from dataclasses import dataclass, replace

import numpy as np

from avlet.arrays import Floats
from avlet.document.parts import AnyPart, PatternPart
from avlet.document.template import Frame
from avlet.document.time.moves import Unit
from avlet.geometry import Axis, Box
from avlet.layout.bodies.body import Body, Layout, Making
from avlet.layout.copies import Copies, filling_copies, own_copies


@dataclass(frozen=True, eq=False)
class Repeated(Body):
    """Many copies; None before the box is known that they fill. ``drift`` (2,) in px is how far they have drifted just now."""

    copies: Copies | None
    drift: Floats | None = None

    @property
    def units(self) -> Copies:
        assert self.copies is not None
        return self.copies

    @property
    def clips(self) -> bool:
        return self.units.filled

    def size(self, part: AnyPart, layout: Layout, axis: Axis) -> float:
        if self.copies is None:
            return super().size(part, layout, axis)
        box = self.copies.ink_box
        return box[axis + 2] if box else 0.0

    def unit_edges(self, unit: Unit, box: Box) -> Floats:
        """What fills a box keeps to it wherever it drifts; all else drifts out of it."""
        edges = super().unit_edges(unit, box)
        return edges if self.drift is None or self.clips else edges + np.tile(self.drift, 2)

    def filled(self, part: AnyPart, layout: Layout) -> bool:
        return True

    def settled(self, part: AnyPart, layout: Layout) -> "Repeated":
        if self.copies is not None:
            return self
        assert isinstance(part, PatternPart)
        box = layout.box(part.id)
        return replace(self, copies=filling_copies(part, box.w, box.h))

    def notes(self, part: AnyPart, frame: Frame) -> list[str]:
        remark = [f"{part.name} {self.units.remark}."] if self.units.remark else []
        return [*remark, *super().notes(part, frame)]


def copies_of(part: PatternPart, making: Making) -> Repeated:
    """A pattern's copies, but for one that fills a box which is not known yet."""
    return Repeated(own_copies(part) if part.fit is None else None)
