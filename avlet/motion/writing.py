"""Writing: a value that is given to a property on the stage goes to what drives the property there.

That is an answer, an option's row of a table, a house colour, a text style, a key at the present frame, or the property itself.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from avlet.document.cards import carding
from avlet.document.cards.wire_sources import source_words
from avlet.document.cards.wires import Straight, Table, Wire
from avlet.document.editing import edits, keying
from avlet.document.fields import plain
from avlet.document.house import PALETTE
from avlet.document.metadata import get_at, put_at
from avlet.document.parts import AnyPart
from avlet.document.targets import owner_name, type_of, value_of
from avlet.document.template import TEMPLATE, Template
from avlet.document.time.keys import Keyed
from avlet.errors import DocumentError
from avlet.layout.rest import Rest
from avlet.motion.keyed import keyed_value, value_at, with_keys
from avlet.motion.spans import Spans


@dataclass(frozen=True)
class Standpoint:
    """What is on the stage while something is written: the layout with its answers, and the frame.

    ``sample`` is whose answers they are, empty for the starting ones; ``recording`` is the field whose present option is recorded.
    """

    rest: Rest
    spans: Spans
    frame: float
    sample: str = ""
    recording: str | None = None

    def part(self, part_id: str) -> AnyPart:
        """A part with the values that answers and keys give it here."""
        return with_keys(self.rest.parts[part_id].part, self.spans, self.frame)

    def value(self, target: str) -> Any:
        """What a property is here: with its answers, wires and keys."""
        owner, _, path = target.partition("/")
        if owner in (TEMPLATE, PALETTE):
            return value_of(self.rest.bound.template, target)
        return keyed_value(self.rest.parts[owner].part, path, self.spans, self.frame)


def written(template: Template, values: Mapping[str, Any], at: Standpoint) -> Template:
    """A template in which properties, by their whole paths, are these values as it is seen from a standpoint.

    Raises ``DocumentError`` in words where a value cannot be written; then none of them is.
    """
    for target, value in values.items():
        template = _written(template, target, value, at)
    return template


def _written(template: Template, target: str, value: Any, at: Standpoint) -> Template:
    part_id, _, path = target.partition("/")
    whole = _chosen_whole(template, target)
    if whole is not None:
        return _written(template, whole, put_at(at.value(whole), path.removeprefix(whole.partition("/")[2] + "."), value), at)
    try:
        type_of(template, target)
    except LookupError:
        raise DocumentError(f"{owner_name(template, target)} has no property “{path}” any more.") from None
    part = template.part(part_id)
    keyed = keying.keyed_of(part, path) if part is not None else None
    if keyed is not None:
        if keyed.how == "instead":
            if at.recording is not None:
                raise DocumentError(f"{_named(template, target)} has keys, which count for every option. Take its keys off first.")
            return keying.set_key(template, part_id, path, at.frame, value)
        value = _without_keys(template, target, keyed, float(value), at)
    wire = template.wire_to(target)
    if at.recording is not None and not target.startswith(f"{PALETTE}/"):
        return _recorded(template, wire, target, value, at, at.recording)
    if wire is None:
        return edits.set_property(template, target, value)
    if isinstance(wire.map, Table):
        return carding.set_row(template, target, _row(wire, at), value)
    if wire.source.startswith(f"{PALETTE}/") and isinstance(wire.map, Straight):
        return _written(template, wire.source, value, at)
    answer = carding.answer_for(template, wire, value, at.rest.bound.answers.get(wire.source))
    if type_of(template, target).kind == "decimal":
        template = carding.widened(template, wire.source, answer)
    return answered(template, wire.source, answer, at.sample)


def _chosen_whole(template: Template, target: str) -> str | None:
    """The form that a property is a side of, where something chooses that as a whole."""
    owner, _, path = target.partition("/")
    whole = f"{owner}/form"
    return whole if path.startswith("form.") and template.wire_to(whole) is not None else None


def answered(template: Template, field_id: str, answer: Any, sample: str) -> Template:
    """A template in which a sample, or without one the card to start with, answers a field so."""
    if not sample:
        return carding.set_starting_answer(template, field_id, answer)
    return carding.set_sample_answer(template, sample, field_id, answer)


def _named(template: Template, target: str) -> str:
    return f"{type_of(template, target).label} of {owner_name(template, target)}"


def _without_keys(template: Template, target: str, keyed: Keyed, value: float, at: Standpoint) -> float:
    """The property's own value with which keys that are added to it, or multiply it, make it ``value`` here."""
    given = float(value_at(keyed, at.spans, at.frame))
    if keyed.how == "added":
        return value - given
    if abs(given) < 1e-9:
        raise DocumentError(f"{_named(template, target)} is multiplied by a key of 0 % at this frame. Change it at another frame.")
    return value * 100 / given


def _row(wire: Wire, at: Standpoint) -> Any:
    """Which row of a wire's table counts here."""
    if "/" not in wire.source:
        return at.rest.bound.answers[wire.source]
    owner, _, path = wire.source.partition("/")
    if owner in (TEMPLATE, PALETTE):
        return value_of(at.rest.bound.template, wire.source)
    return get_at(at.rest.parts[owner].part, path)


def _recorded(template: Template, wire: Wire | None, target: str, value: Any, at: Standpoint, field_id: str) -> Template:
    """A property that is ``value`` for the option that a field answers here, and stays as it is for the others."""
    answer = at.rest.bound.answers[field_id]
    if wire is not None and wire.source != field_id:
        field = template.card.field(field_id)
        label = field.label if field is not None else field_id
        follows = source_words(template, wire.source)
        raise DocumentError(f"{_named(template, target)} follows {follows} already. Take its wire off, then “{label}” can choose it.")
    if wire is not None and not isinstance(wire.map, Table):
        field = template.card.field(field_id)
        assert field is not None
        answers = {key: field.option_of(key) for key, _ in field.options_with(template.palette)}
        rows = {key: plain(field.value(answer, template.palette)) for key, answer in answers.items()}
        template = carding.set_map(template, target, Table(rows))
    return carding.write_option(template, field_id, answer, target, value)
