"""Which bodies do something of themselves, and what."""

from collections.abc import Callable
from typing import Any

from avlet.layout.bodies.body import Body
from avlet.layout.bodies.numbers import Numbers
from avlet.layout.bodies.repeated import Repeated
from avlet.layout.bodies.rolling_list import RollingList
from avlet.layout.rest import RestPart
from avlet.motion.counting import CountedPart, count_times
from avlet.motion.credits import MovingList
from avlet.motion.drifting import drifting
from avlet.motion.mover import Mover, Timed

_MOVERS: dict[type[Body], Callable[[RestPart, Timed, Any], Mover | None]] = {
    Numbers: lambda rest, title, times: CountedPart(rest, times[rest.part.id], title.spans),
    RollingList: lambda rest, title, times: MovingList(rest, title),
    Repeated: lambda rest, title, times: drifting(rest),
}
"""By body: what makes its mover of a part at rest, the title in time, and when counts run."""


def movers_of(title: Timed) -> dict[str, Mover]:
    """The parts of a layout that do something of themselves, by id."""
    times = count_times(title.rest, title.timings, title.spans)
    made = {i: _MOVERS[type(one.body)](one, title, times) for i, one in title.rest.parts.items() if type(one.body) in _MOVERS}
    return {i: mover for i, mover in made.items() if mover is not None}
