"""Wires at work: values of their sources, through their maps, put on their targets."""

import functools
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Protocol

import msgspec
import numpy as np

from avlet.document.cards.formulas import FormulaError, parse, work_out
from avlet.document.cards.wire_sources import FRAME_NAMES, NUMBERS, source_kind, source_of_name
from avlet.document.cards.wires import LENGTH, Formula, Measure, Range, Straight, Table, Wire, measure_of, row_of
from avlet.document.fields import Answer
from avlet.document.house import PALETTE, all_styled
from avlet.document.metadata import PropertyType, get_at, put_at
from avlet.document.parts import AnyPart
from avlet.document.targets import owner_name, type_of, value_of, with_value
from avlet.document.template import TEMPLATE, Template
from avlet.easing import ease_progress
from avlet.numbers.exact import in_figures

replace = msgspec.structs.replace


class Measures(Protocol):
    """Where measures are read."""

    def measure(self, part_id: str, what: Measure) -> float:
        """One measure of a part at rest."""


@dataclass
class WiresAtWork:
    """A template while its wires are worked out. ``own`` is the document; ``parts`` by id, with the values so far.

    A wire to what an editor has formatted by hand is left out: a size that was typed is that size, whatever a slider says.
    """

    own: Template
    answers: Mapping[str, Answer]
    length: int | None
    template: Template
    parts: dict[str, AnyPart]
    notes: list[str] = field(default_factory=list)
    measures: Measures | None = None

    @classmethod
    def begin(cls, template: Template, answers: Mapping[str, Answer], length: int | None) -> "WiresAtWork":
        """A template with its text styles applied, and no wires yet."""
        parts = {part.id: part for part in template.parts}
        if template.text_styles:
            parts = {part_id: all_styled(part, template.text_style) for part_id, part in parts.items()}
        return cls(template, answers, length, template, parts)

    def apply(self, wire: Wire) -> None:
        """Give a wire's target its value. What a map cannot give leaves the target as it is, and is noted.

        A number beyond the property's limits is held at them, which is noted where it was an answer, or a measure, as it is.
        """
        if wire.target in self.by_hand:
            return
        owner, _, path = wire.target.partition("/")
        kind, own = self._target(wire.target)
        named = f"{kind.label} of {owner_name(self.own, wire.target)}"
        try:
            value = self._mapped(wire, self.source(wire.source), own, kind)
            if kind.kind in NUMBERS and isinstance(value, int | float) and not isinstance(value, bool):
                held = within(kind, value)
                if held != value and isinstance(wire.map, Straight | Table):
                    at = f"{in_figures(held)} {kind.unit}".rstrip()
                    self.notes.append(f"{named} is held at {at}: {in_figures(value)} is beyond its limits.")
                value = held
            value = own if value is None else kind.check(value)
        except FormulaError as error:
            self.notes.append(f"{named} stays as it is: {error}")
            return
        except LookupError:
            self.notes.append(f"{named} stays as it is: what it follows has another form now.")
            return
        except ValueError as error:
            self.notes.append(f"{named} stays as it is: it {error}.")
            return
        if owner in (TEMPLATE, PALETTE):
            self.template = with_value(self.template, wire.target, value)
            return
        part = put_at(self.parts[owner], path, value)
        for target, given in self._formatting(wire).items():
            part = put_at(part, target.partition("/")[2], given)
        self.parts[owner] = _with_keys_that_lead_somewhere(part) if kind.kind == "form" else part

    @functools.cached_property
    def by_hand(self) -> frozenset[str]:
        """The properties that an editor has set by formatting words by hand: no other wire has a say in them then."""
        return frozenset(target for wire in self.own.wires for target in self._formatting(wire))

    def _target(self, target: str) -> tuple[PropertyType, Any]:
        owner, _, path = target.partition("/")
        if owner in (TEMPLATE, PALETTE):
            return type_of(self.own, target), value_of(self.own, target)
        return type_of(self.own, target), get_at(self.parts[owner], path)

    def source(self, source: str) -> Any:
        """What a source gives at present, as the property of its kind stores it."""
        if "/" not in source:
            return self._answer(source)
        measured = measure_of(source)
        if measured is not None:
            assert self.measures is not None
            return self.measures.measure(*measured)
        if source == LENGTH:
            return self.length if self.length is not None else self.template.length
        owner, _, path = source.partition("/")
        return value_of(self.template, source) if owner in (TEMPLATE, PALETTE) else get_at(self.parts[owner], path)

    def _answer(self, field_id: str) -> Any:
        asked, answer = self.own.card.field(field_id), self.answers[field_id]
        return answer if asked is None else asked.value(answer, self.template.palette)

    def _mapped(self, wire: Wire, value: Any, own: Any, kind: PropertyType) -> Any:
        match wire.map:
            case Straight():
                return value if kind.kind == "decimal" else self._as_number(wire.source, value)
            case Range():
                return ranged(wire.map, float(value))
            case Table(rows=rows):
                row = self.answers[wire.source] if "/" not in wire.source else value
                return rows.get(row_of(row))
            case Formula(formula=formula):
                values: dict[str, Any] = {
                    "value": self._as_number(wire.source, value), "own": float(own) if kind.kind == "decimal" else own,
                }  # fmt: skip
                for name, _ in parse(formula).names:
                    named = source_of_name(self.own, name)
                    if name in FRAME_NAMES:
                        values[name] = float(getattr(self.own.frame, name.partition(".")[2]))
                    elif named is not None and name not in values:
                        values[name] = self._as_number(named, self.source(named))
                found = work_out(formula, values)
                return float(found) if kind.kind in NUMBERS else found

    def _as_number(self, source: str, value: Any) -> Any:
        """An exact number, which is kept as text, as one to reckon with; anything else as it is."""
        return float(value) if isinstance(value, str) and source_kind(self.own, source)[0] in NUMBERS else value

    def _formatting(self, wire: Wire) -> dict[str, Any]:
        """What a text's or a font's answer says besides its words or family, by the properties that it says it of."""
        asked = self.own.card.field(wire.source) if "/" not in wire.source and isinstance(wire.map, Straight) else None
        part, _, path = wire.target.partition("/")
        if asked is None or not (path == "text" or path.endswith("family")):
            return {}
        beside = path.removesuffix("family") if path.endswith("family") else ""
        return {f"{part}/{beside}{name}": value for name, value in asked.formatting(self.answers[wire.source]).items()}


def _with_keys_that_lead_somewhere(part: AnyPart) -> AnyPart:
    """A part without the keys of what its present form does not have."""

    def leads(path: str) -> bool:
        try:
            return get_at(part, path) is not None
        except LookupError:
            return False

    keys = tuple(keyed for keyed in part.keys if leads(keyed.path))
    return part if keys == part.keys else replace(part, keys=keys)


def within(kind: PropertyType, value: float) -> float:
    """A number held between the limits of a property."""
    if kind.low is not None:
        value = max(kind.low, value)
    return value if kind.high is None else min(kind.high, value)


def ranged(span: Range, value: float) -> float:
    """A number of one range as a number of the other."""
    share = (value - span.from_low) / (span.from_high - span.from_low)
    if span.clamp:
        share = min(1.0, max(0.0, share))
    if span.ease is not None and 0 <= share <= 1:
        share = float(ease_progress(span.ease, np.array([share]))[0])
    return span.to_low + (span.to_high - span.to_low) * share
