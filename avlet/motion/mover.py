"""What a body does of itself, besides the moves that a designer gives it: it counts, rolls, turns pages, drifts."""

from collections.abc import Mapping
from typing import NamedTuple, Protocol

from avlet.layout.rest import Rest, RestPart
from avlet.motion.actors import Actor, Instant
from avlet.motion.spans import Spans
from avlet.motion.ties import Timing


class Timed(Protocol):
    """A layout in time: what movers are made of."""

    @property
    def rest(self) -> Rest:
        """The resting layout."""

    @property
    def timings(self) -> Mapping[str, Timing]:
        """When the moves of each part run."""

    @property
    def spans(self) -> Spans:
        """Way in, hold and way out."""


class Way(NamedTuple):
    """How far something has travelled of itself, (x, y) in px, and how much of it shows, 0 to 1."""

    shift: tuple[float, float]
    opacity: float


class Mover:
    """One part that does something of itself. This one does nothing; each kind says what is different with it."""

    blurs: bool = False
    """Whether it is blurred while it moves also where nothing else is."""

    def turned_to(self, actor: Actor, now: Instant) -> tuple[Actor, Instant]:
        """Who is to be seen at a moment instead, and how far that moment is from its own ends."""
        return actor, now

    def at(self, rest: RestPart, now: Instant) -> RestPart:
        """What it is at a moment. Equal pictures are the same :class:`RestPart`, so that equal frames are known as such."""
        return rest

    def way(self, time: float) -> Way | None:
        """How it travels of itself ``time`` frames after the first one; None for what stays."""
        return None

    def share(self, time: float) -> float:
        """How far it is ``time`` designed frames after the first one: 0 before it begins, 1 once it has landed."""
        return 1.0

    def rolls(self, frame: float, begin: float, end: float) -> float:
        """How far its wheels turn between two moments of a frame, in px."""
        return 0.0
