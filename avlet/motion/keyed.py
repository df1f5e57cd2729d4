"""Keyed properties: what a property's value is in a frame, and the part with those values."""

import dataclasses
import functools
from collections.abc import Callable, Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

from avlet.document.looks.colours import mixed_by_cover
from avlet.document.metadata import PropertyType, get_at, put_at, type_at
from avlet.document.parts import EDGE_SHARES, AnyPart, PaintedPart
from avlet.document.time.keys import Key, Keyed, RunsWith
from avlet.geometry import AXES, Box
from avlet.layout.rest import RestPart
from avlet.motion.spans import Spans

_AXES = {"across": 0, "down": 1}


def key_time(key: Key, spans: Spans, later: float = 0.0) -> float:
    """The frame that a key stands at, at one length; a fraction where the ends are shortened or in the hold.

    ``later`` is by how many frames an echo begins later and ends earlier.
    """
    last = spans.length - 1
    if key.tied == "start":
        return (key.at + later) / spans.pace
    if key.tied == "end":
        return last - (key.at + later) / spans.pace
    return spans.way_in + spans.still * key.at / 100


def _designed_time(key: Key, spans: Spans) -> float:
    """The frame that a key stands at as it was designed."""
    if key.tied == "start":
        return key.at
    if key.tied == "end":
        return spans.designed_length - 1 - key.at
    return spans.designed_in + spans.designed_still * key.at / 100


def value_at(keyed: Keyed, spans: Spans, frame: float, later: float = 0.0) -> float | str:
    """The value of the keys in a frame: that of the first before it, of the last after it."""
    times, keys = _in_order(keyed, spans, later)
    after = int(np.searchsorted(times, frame, side="right"))
    if after == 0:
        return keys[0].value
    if after == len(keys) or keys[after - 1].to_next == "held":
        return keys[after - 1].value
    before, nxt = keys[after - 1], keys[after]
    span = times[after] - times[after - 1]
    share = float((frame - times[after - 1]) / span) if span > 0 else 1.0
    if isinstance(before.value, str) or isinstance(nxt.value, str):
        return mixed_by_cover(str(before.value), str(nxt.value), share)
    if before.to_next == "straight":
        return before.value + (nxt.value - before.value) * share
    slope_out = _slope(times, keys, after - 1) if before.slope_out is None else before.slope_out
    slope_in = _slope(times, keys, after) if nxt.slope_in is None else nxt.slope_in
    return cubic(before.value, nxt.value, slope_out * span, slope_in * span, share)


def cubic(start: float, end: float, slope_start: float, slope_end: float, share: float) -> float:
    """The cubic from ``start`` to ``end`` with given slopes per unit of ``share``, as a Bézier with control values at thirds."""
    a, b, s = start + slope_start / 3, end - slope_end / 3, 1 - share
    return float(s**3 * start + 3 * s * s * share * a + 3 * s * share * share * b + share**3 * end)


def _slope(times: NDArray[np.float64], keys: tuple[Key, ...], index: int) -> float:
    """The slope through a key that runs smoothly by itself; level at both ends, so that nothing starts with a jerk.

    The values stay between those of the keys on both sides: a key that is the highest or lowest of its neighbours, or equal to one of
    them, is level, and all others have the weighted harmonic mean of the slopes beside them (Fritsch and Butland 1984, after Fritsch and
    Carlson 1980).
    """
    if index in (0, len(keys) - 1):
        return 0.0
    before, own, after = keys[index - 1].value, keys[index].value, keys[index + 1].value
    first, second = float(times[index] - times[index - 1]), float(times[index + 1] - times[index])
    if isinstance(before, str) or isinstance(own, str) or isinstance(after, str) or first <= 0 or second <= 0:
        return 0.0
    into, out = (own - before) / first, (after - own) / second
    if into * out <= 0:
        return 0.0
    return (3 * (first + second)) / ((2 * second + first) / into + (second + 2 * first) / out)


@functools.lru_cache(maxsize=512)
def _in_order(keyed: Keyed, spans: Spans, later: float) -> tuple[NDArray[np.float64], tuple[Key, ...]]:
    """Keys in the order that they were designed in, which no length turns round: where there is no room, they meet."""
    keys = sorted(keyed.keys, key=lambda key: _designed_time(key, spans))
    return np.maximum.accumulate([key_time(key, spans, later) for key in keys]), tuple(keys)


def run_value(run: RunsWith, share: float, kind: PropertyType) -> float | str:
    """What a property that runs with a counter is at a share of the count; held within the property's limits."""
    if isinstance(run.first, str) or isinstance(run.last, str):
        return mixed_by_cover(str(run.first), str(run.last), min(1.0, max(0.0, share)))
    value = run.first + (run.last - run.first) * share
    value = value if kind.low is None else max(kind.low, value)
    return value if kind.high is None else min(kind.high, value)


def changes_itself(part: AnyPart) -> bool:
    """Whether anything of a part is keyed, runs with a counter, or passes over it."""
    return bool(part.keys or part.runs) or (isinstance(part, PaintedPart) and part.glint is not None and part.glint.moves)


def glint_value(part: AnyPart, spans: Spans, frame: float, later: float = 0.0) -> dict[str, float | str]:
    """Where the light of a part that passes by itself is in a frame, by its path; nothing where none does."""
    glint = part.glint if isinstance(part, PaintedPart) else None
    if glint is None or not glint.moves:
        return {}
    begin = (glint.start + later) / spans.pace if glint.passes == "as it comes" else spans.way_in + glint.start
    lasts = max(1.0, glint.frames / spans.pace if glint.passes == "as it comes" else glint.frames)
    gone = frame - begin
    if glint.passes == "again and again" and gone > 0:
        gone %= max(glint.every, lasts)
    return {"glint.at": min(100.0, max(0.0, gone / lasts * 100))}


class KeyedPart:
    """A part with properties that are keyed, that run with a counter, or with a light that passes; equal values give the same
    :class:`RestPart`, so that equal frames are known as such.
    """

    def __init__(self, rest: RestPart) -> None:
        self.rest = rest
        self._made: dict[object, tuple[RestPart, tuple[float, float]]] = {}

    def at(
        self, spans: Spans, frame: float, later: float = 0.0, share_of: Callable[[str], float] = lambda _: 1.0
    ) -> tuple[RestPart, tuple[float, float]]:
        """The part as its keys and its counters make it in a frame, and how far it has moved along both axes.

        ``share_of`` tells how far a counter is.
        """
        own, runs = self.rest.part, self.rest.part.runs
        values: dict[str, float | str] = {run.path: run_value(run, share_of(run.counter), type_at(own, run.path)) for run in runs}
        part = functools.reduce(lambda made, run: put_at(made, run.path, values[run.path]), runs, own)
        values |= glint_value(own, spans, frame, later)
        values |= {keyed.path: _combined(part, keyed, value_at(keyed, spans, frame, later)) for keyed in own.keys}
        key = tuple(values.items())
        if key not in self._made:
            if len(self._made) > 4096:
                self._made.clear()
            self._made[key] = self._make(own, values)
        return self._made[key]

    def _make(self, part: AnyPart, values: Mapping[str, float | str]) -> tuple[RestPart, tuple[float, float]]:
        shift, changed = [0.0, 0.0], part
        for path, value in values.items():
            if type_at(part, path).role == "gap":
                shift[_AXES[path.partition(".")[0]]] += float(value) - float(get_at(part, path))
            else:
                changed = put_at(changed, path, value)
        box = _resized(self.rest, changed)
        return dataclasses.replace(self.rest, part=changed, box=box), (shift[0], shift[1])


def keyed_value(part: AnyPart, path: str, spans: Spans, frame: float) -> Any:
    """What a property of a part is in a frame, its keys included."""
    keyed = next((keyed for keyed in part.keys if keyed.path == path), None)
    return get_at(part, path) if keyed is None else _combined(part, keyed, value_at(keyed, spans, frame))


def with_keys(part: AnyPart, spans: Spans, frame: float) -> AnyPart:
    """A part whose keyed properties are what its keys make them in a frame."""
    made = part
    for keyed in part.keys:
        made = put_at(made, keyed.path, _combined(part, keyed, value_at(keyed, spans, frame)))
    return made


def _combined(part: AnyPart, keyed: Keyed, value: float | str) -> float | str:
    """What the keys make of the property's own value, within its limits."""
    own, kind = get_at(part, keyed.path), type_at(part, keyed.path)
    if isinstance(value, str):
        return value
    if keyed.how == "added":
        value = own + value
    elif keyed.how == "times":
        value = own * value / 100
    low = -float("inf") if kind.low is None else kind.low
    value = max(low, min(float("inf") if kind.high is None else kind.high, value))
    return round(float(value)) if kind.kind == "whole" else float(value)


def _resized(rest: RestPart, part: AnyPart) -> Box:
    """The part's box with keyed sizes: the edge or middle that it is placed by stays."""
    box, old = rest.box, rest.part
    edges = [box.x, box.y, box.w, box.h]
    for axis, name in zip(AXES, part.size_names, strict=True):
        if name is None or part.fits_along(axis):
            continue
        grown = getattr(part, name) - getattr(old, name)
        place = part.across if axis == 0 else part.down
        edges[axis] -= grown * (EDGE_SHARES[place.mine] if place else 0.5)
        edges[axis + 2] += grown
    return Box(*edges)
