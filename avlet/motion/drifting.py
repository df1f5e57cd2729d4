"""Patterns that drift."""

import dataclasses

from avlet.document.parts import PatternPart
from avlet.layout.bodies.repeated import Repeated
from avlet.layout.copies import drift_shift
from avlet.layout.rest import RestPart
from avlet.motion.actors import Instant
from avlet.motion.mover import Mover

_MOST_KEPT = 512


class Drifting(Mover):
    """Copies that drift all the time, at so many px a second."""

    def __init__(self, rest: RestPart) -> None:
        assert isinstance(rest.part, PatternPart) and isinstance(rest.body, Repeated)
        self.part, self.body = rest.part, rest.body
        self._made: dict[tuple[float, float], RestPart] = {}

    def at(self, rest: RestPart, now: Instant) -> RestPart:
        shift = drift_shift(self.part, now.seconds, self.body.clips)
        key = float(shift[0]), float(shift[1])
        if key not in self._made:
            if len(self._made) >= _MOST_KEPT:
                self._made.clear()
            self._made[key] = dataclasses.replace(rest, body=dataclasses.replace(self.body, drift=shift))
        return self._made[key]


def drifting(rest: RestPart) -> Drifting | None:
    """What makes a pattern drift; None for one that does not."""
    part = rest.part
    return Drifting(rest) if isinstance(part, PatternPart) and (part.drift_x or part.drift_y) else None
