"""Keys: values of one property at chosen times, each tied to the start, the end, or a share of the hold."""

from typing import Annotated, ClassVar, Literal

import msgspec

from avlet.document.metadata import Value
from avlet.limits import MOST_FRAMES

Tied = Literal["start", "end", "hold"]
Between = Literal["held", "straight", "curved"]
How = Literal["instead", "added", "times"]


class Key(Value, frozen=True):
    """A value at a time: ``at`` is frames after the first frame, frames before the last, or a share of the hold in %.

    ``to_next`` says how it goes on to the next key. Of a curve, ``slope_in`` and ``slope_out`` are how fast the value changes
    where it comes and goes, per frame; None lets it run smoothly through the key. Both alike are joined, else broken.
    """

    at: Annotated[float, msgspec.Meta(ge=0, le=MOST_FRAMES)]
    value: float | str
    tied: Tied = "start"
    to_next: Between = "curved"
    slope_in: float | None = None
    slope_out: float | None = None


class Keyed(Value, frozen=True):
    """One property of a part that is keyed, by its path below the part.

    ``how``: the keys stand *instead* of the property's own value, are *added* to it, or multiply it (*times*, in %), so that an
    editor's answer keeps its effect.
    """

    path: Annotated[str, msgspec.Meta(max_length=200)]
    keys: Annotated[tuple[Key, ...], msgspec.Meta(min_length=1, max_length=2_000)]
    how: How = "instead"


class RunsWith(Value, frozen=True):
    """One property of a part that runs along with a counter: from ``first`` where that begins to ``last`` where it lands.

    It takes the place of the property's own value, so that keys that are added to it or multiply it still do. Both are properties of the
    same type as the one that runs, and may be asked for on the card and wired as that may.
    """

    LIKE: ClassVar[dict[str, str]] = {"first": "where the count begins", "last": "where it lands"}

    path: Annotated[str, msgspec.Meta(max_length=200)]
    counter: Annotated[str, msgspec.Meta(max_length=64)]
    first: float | str = 0.0
    last: float | str = 100.0
