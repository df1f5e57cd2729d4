"""Eases as values: how a movement's progress runs over its time, and their notation.

``cubic-bezier()``, ``steps()`` and ``linear()`` are those of CSS Easing Functions 1 and 2
(https://www.w3.org/TR/css-easing-2/); ``spring()``, ``overshoot()`` and ``bounce()`` are written in the same manner.
"""

import itertools
import re
from typing import Annotated, Literal

import msgspec

from avlet.document.metadata import Value, prop

Jump = Literal["jump-start", "jump-end", "jump-none", "jump-both"]
_GROUP = "move"


class CubicBezier(Value, frozen=True, tag_field="kind", tag="cubic-bezier"):
    """CSS ``cubic-bezier(x1, y1, x2, y2)``: https://www.w3.org/TR/css-easing-1/#cubic-bezier-easing-functions."""

    x1: Annotated[float, prop("Ease x1", low=0, high=1, step=0.05, group=_GROUP, keyed=False)] = 0.0
    y1: Annotated[float, prop("Ease y1", low=-4, high=5, step=0.05, group=_GROUP, keyed=False)] = 0.0
    x2: Annotated[float, prop("Ease x2", low=0, high=1, step=0.05, group=_GROUP, keyed=False)] = 1.0
    y2: Annotated[float, prop("Ease y2", low=-4, high=5, step=0.05, group=_GROUP, keyed=False)] = 1.0


class Steps(Value, frozen=True, tag_field="kind", tag="steps"):
    """CSS ``steps(n, jump)``."""

    count: Annotated[int, prop("Steps", low=1, high=1000, group=_GROUP, keyed=False)] = 4
    jump: Annotated[Jump, prop("Jumps", group=_GROUP, keyed=False)] = "jump-end"


class Along(Value, frozen=True):
    """A point of a ``linear()`` ease: the value ``y`` at progress ``x``."""

    x: Annotated[float, msgspec.Meta(ge=0, le=1)]
    y: Annotated[float, msgspec.Meta(ge=-100, le=100)]


class Linear(Value, frozen=True, tag_field="kind", tag="linear"):
    """CSS ``linear()``: straight from point to point. Progress never falls from one point to the next."""

    points: Annotated[tuple[Along, ...], msgspec.Meta(min_length=2, max_length=1000)] = (Along(0, 0), Along(1, 1))


class Spring(Value, frozen=True, tag_field="kind", tag="spring"):
    """A damped oscillation about where it arrives: ``swings`` in the time of the move, ``damping`` 1 is without any overshoot.

    It is scaled so that it has arrived exactly when the move ends.
    """

    swings: Annotated[float, prop("Swings", low=0.1, high=30, step=0.1, group=_GROUP, keyed=False)] = 2.5
    damping: Annotated[float, prop("Damping", low=0.02, high=1, step=0.02, group=_GROUP, keyed=False)] = 0.35


class Overshoot(Value, frozen=True, tag_field="kind", tag="overshoot"):
    """A little past where it arrives, by ``amount`` % of the way, and back."""

    amount: Annotated[float, prop("Overshoot", unit="%", low=0, high=200, group=_GROUP, keyed=False)] = 10.0


class Bounce(Value, frozen=True, tag_field="kind", tag="bounce"):
    """It falls to where it arrives and rebounds; each rebound is ``height`` % as high as the one before."""

    bounces: Annotated[int, prop("Bounces", low=0, high=12, group=_GROUP, keyed=False)] = 3
    height: Annotated[float, prop("Rebound", unit="%", low=1, high=90, group=_GROUP, keyed=False)] = 25.0


class Backwards(Value, frozen=True, tag_field="kind", tag="backwards"):
    """Another ease run from its end: what arrives softly leaves softly."""

    ease: CubicBezier | Steps | Linear | Spring | Overshoot | Bounce = CubicBezier()


Ease = CubicBezier | Steps | Linear | Spring | Overshoot | Bounce | Backwards

READY_EASES: dict[str, Ease] = {
    "even": CubicBezier(0, 0, 1, 1),
    "soft start": CubicBezier(0.55, 0, 0.85, 0.35),
    "soft end": CubicBezier(0.15, 0.65, 0.45, 1),
    "soft both": CubicBezier(0.6, 0, 0.4, 1),
    "quick, then soft": CubicBezier(0.15, 0.9, 0.25, 1),
    "soft, then quick": CubicBezier(0.75, 0, 0.85, 0.1),
    "a little past": Overshoot(8.0),
    "springy": Spring(),
    "bounces": Bounce(),
    "in steps": Steps(),
    "in one step": Steps(1, "jump-end"),
}
"""Eases with plain names, as starting points."""


def backwards(ease: Ease) -> Ease:
    """The same ease run from its end."""
    match ease:
        case CubicBezier():
            return CubicBezier(1 - ease.x2, 1 - ease.y2, 1 - ease.x1, 1 - ease.y1)
        case Backwards():
            return ease.ease
    return Backwards(ease)


def name_of_ease(ease: Ease) -> str:
    """The name of a ready ease, or its notation."""
    return next((name for name, ready in READY_EASES.items() if ready == ease), None) or notation(ease)


def notation(ease: Ease) -> str:
    """An ease as it is typed: ``cubic-bezier(0.15, 0.9, 0.25, 1)``."""
    match ease:
        case CubicBezier():
            return f"cubic-bezier({ease.x1:g}, {ease.y1:g}, {ease.x2:g}, {ease.y2:g})"
        case Steps():
            return f"steps({ease.count}, {ease.jump})"
        case Linear():
            return "linear(" + ", ".join(f"{p.y:g} {p.x * 100:g}%" for p in ease.points) + ")"
        case Spring():
            return f"spring({ease.swings:g}, {ease.damping:g})"
        case Overshoot():
            return f"overshoot({ease.amount:g}%)"
        case Bounce():
            return f"bounce({ease.bounces}, {ease.height:g}%)"
    return f"backwards {notation(ease.ease)}"


_KEYWORDS: dict[str, Ease] = {
    "linear": Linear(), "ease": CubicBezier(0.25, 0.1, 0.25, 1), "ease-in": CubicBezier(0.42, 0, 1, 1),
    "ease-out": CubicBezier(0, 0, 0.58, 1), "ease-in-out": CubicBezier(0.42, 0, 0.58, 1),
    "step-start": Steps(1, "jump-start"), "step-end": Steps(1, "jump-end"),
}  # fmt: skip
_CALL = re.compile(r"^([a-z-]+)\(([^()]*)\)$")
_JUMPS = {"start": "jump-start", "end": "jump-end"}


def read_ease(words: str) -> Ease:
    """An ease from its notation, a CSS keyword or the name of a ready one; raises ``ValueError`` in words."""
    plain = " ".join(words.casefold().split())
    if plain in READY_EASES:
        return READY_EASES[plain]
    if plain in _KEYWORDS:
        return _KEYWORDS[plain]
    if plain.startswith("backwards "):
        return backwards(read_ease(plain.removeprefix("backwards ")))
    call = _CALL.match(plain)
    if call is None:
        raise ValueError(f"“{words}” is not an ease. Write, for example, cubic-bezier(0.15, 0.9, 0.25, 1), steps(4) or spring(2.5, 0.35).")
    name, given = call[1], [part.strip() for part in call[2].split(",")]
    try:
        made = _called(name, given)
        checked: Ease = msgspec.convert(msgspec.to_builtins(made), Ease)
        return checked
    except msgspec.ValidationError as error:
        raise ValueError(f"“{words}”: {error}.") from None
    except (ValueError, TypeError, IndexError) as error:
        raise ValueError(f"“{words}” cannot be read: {error}.") from None


def _called(name: str, given: list[str]) -> Ease:
    match name:
        case "cubic-bezier":
            if len(given) != 4:
                raise ValueError("cubic-bezier() takes four numbers")
            return CubicBezier(*(float(v) for v in given))
        case "steps":
            jump = given[1] if len(given) > 1 else "jump-end"
            made = Steps(int(given[0]), _JUMPS.get(jump, jump))  # type: ignore[arg-type]
            if made.jump == "jump-none" and made.count < 2:
                raise ValueError("steps() with jump-none needs at least 2")
            return made
        case "linear":
            return Linear(_linear_points(given))
        case "spring":
            return Spring(*(float(v) for v in given))
        case "overshoot":
            return Overshoot(_percent(given[0]))
        case "bounce":
            return Bounce(int(given[0]), *(_percent(v) for v in given[1:2]))
    raise ValueError(f"there is no {name}()")


def _percent(words: str) -> float:
    return float(words.removesuffix("%"))


def _linear_points(given: list[str]) -> tuple[Along, ...]:
    """The control points of ``linear()`` by the rules of CSS Easing 2, section 2.2.1.

    Each stop is a value with none, one or two percentages in any order; what has no place is spread evenly, and no place
    falls behind one before.
    """
    points: list[list[float | None]] = []
    for stop in given:
        values = [float(v) for v in stop.split() if not v.endswith("%")]
        places = [float(v[:-1]) / 100 for v in stop.split() if v.endswith("%")]
        if len(values) != 1 or len(places) > 2:
            raise ValueError(f"“{stop}” is not a number with up to two percentages")
        points += [[place, values[0]] for place in places] or [[None, values[0]]]
    if len(points) < 2:
        raise ValueError("linear() takes at least two values")
    points[0][0] = 0.0 if points[0][0] is None else points[0][0]
    points[-1][0] = max(1.0, *(p[0] for p in points if p[0] is not None)) if points[-1][0] is None else points[-1][0]
    largest = float("-inf")
    for point in points:
        if point[0] is not None:
            largest = point[0] = max(largest, point[0])
    known = [n for n, p in enumerate(points) if p[0] is not None]
    for a, b in itertools.pairwise(known):
        start, end = points[a][0], points[b][0]
        assert start is not None and end is not None
        for n in range(a + 1, b):
            points[n][0] = start + (end - start) * (n - a) / (b - a)
    return tuple(Along(float(x or 0.0), float(y or 0.0)) for x, y in points)
