"""Where a number of the card has no further effect: *above 175 % nothing changes*."""

from collections.abc import Iterator
from typing import Any, NamedTuple

from avlet.document.cards.wire_plans import inputs
from avlet.document.fields import NumberField
from avlet.document.template import Template
from avlet.errors import AvletError
from avlet.layout.bind import bind

_SHARE = 0.05
"""Of its range: less than so much without effect is not told."""
_HALVINGS = 24


class Idle(NamedTuple):
    """A field whose numbers beyond one change nothing: above it, or below it."""

    field: NumberField
    above: bool
    limit: float


def idle_ranges(template: Template) -> Iterator[Idle]:
    """The ends of fields' ranges that change nothing, with the last number that does. A field that changes nothing at all is left out."""
    used = {source for wire in template.wires for source in inputs(template, wire)}
    for field in template.card.fields:
        if (
            isinstance(field, NumberField)
            and field.id in used
            and field.low is not None
            and field.high is not None
            and field.high > field.low
        ):
            try:
                yield from _of_field(template, field, field.low, field.high)
            except AvletError:
                continue  # what an end of a range breaks is told elsewhere


def _of_field(template: Template, field: NumberField, low: float, high: float) -> Iterator[Idle]:
    known: dict[float, Any] = {}

    def shown(value: float) -> Any:
        if value not in known:
            bound = bind(template, {field.id: value})
            known[value] = bound.parts, bound.length, bound.template.palette, bound.template.gradients, bound.template.pace
        return known[value]

    first, last = shown(low), shown(high)
    if low >= high or (first == last and first == shown((low + high) / 2)):
        return
    for above, end, other in ((True, high, low), (False, low, high)):
        idle, busy = end + (other - end) * _SHARE, other
        if shown(idle) != shown(end):
            continue
        for _ in range(_HALVINGS):
            middle = (idle + busy) / 2
            idle, busy = (middle, busy) if shown(middle) == shown(end) else (idle, middle)
        steps = (busy - low) / field.step
        yield Idle(field, above, low + round(steps) * field.step if abs(steps - round(steps)) < 1e-3 else round(busy, 3))
