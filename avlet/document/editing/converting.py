"""Carrying a template over to other measures: every number of one sort multiplied, wherever a template keeps such numbers.

A sort is what the frame scales (px), or what the rate does (frames). Numbers of a sort stand in parts, keys and text styles, in fields
and answers that lead to them, and in the maps of wires between.
"""

import ast
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Any, Literal

import msgspec

from avlet.document.cards.formulas import parse
from avlet.document.cards.wire_sources import COUNTED, NUMBERS, source_of_name
from avlet.document.cards.wires import LENGTH, Formula, Map, Range, Straight, Table, Wire, measure_of
from avlet.document.fields import CreditsField, Field
from avlet.document.lists.blocks import multiplied
from avlet.document.metadata import Property, PropertyType, is_length_at, properties, put_at, type_at
from avlet.document.parts import AnyPart, CounterPart, CreditsPart
from avlet.document.targets import owner_name, struct_of, type_of
from avlet.document.template import TEMPLATE, Template
from avlet.document.time.keys import Key, Keyed
from avlet.numbers.exact import in_figures

replace = msgspec.structs.replace
_EXACT = 4
"""Decimals that a multiplied number keeps."""


@dataclass(frozen=True)
class Conversion:
    """All numbers of a sort times ``factor``."""

    sort: Literal["px", "frames", "px a frame"]
    factor: float

    def takes(self, kind: PropertyType, struct: Any) -> bool:
        """Whether a property's numbers are of this sort; ``struct`` is what it is a property of."""
        match self.sort:
            case "px":
                return kind.is_length(struct)
            case "frames":
                return kind.is_time or (kind.kind == "decimal" and _counts_frames(struct))
        return kind.unit == self.sort

    def number(self, value: float) -> float:
        """A number of this sort."""
        return round(value * self.factor, _EXACT)

    def exactly(self, words: str) -> Fraction:
        """An exact number of this sort."""
        return Fraction(words) * Fraction(self.factor).limit_denominator(1_000_000)

    def in_frames(self, words: str) -> str:
        """An exact number of frames, whole; one frame stays one: what counts each frame goes on counting each."""
        return words if words in ("0", "1") else str(round(self.exactly(words)) or 1)

    def kept(self, kind: PropertyType, value: float) -> float:
        """A property's value, whole where it has to be, and within its limits."""
        new = self.number(value)
        if kind.kind == "whole":
            new = round(value * self.factor)
        new = new if kind.low is None else max(kind.low, new)
        new = new if kind.high is None else min(kind.high, new)
        return int(new) if kind.kind == "whole" else float(new)

    def takes_target(self, template: Template, target: str) -> bool:
        """Whether a property of a template, by its whole path, is of this sort."""
        try:
            return self.takes(type_of(template, target), struct_of(template, target))
        except LookupError:
            return False

    def takes_field(self, template: Template, field: Field) -> bool:
        """Whether what a field answers is of this sort: by its unit, or because it leads straight to such properties alone."""
        if not field.numeric:
            return False
        straight = [w.target for w in template.wires_from(field.id) if isinstance(w.map, Straight)]
        led = [self.takes_target(template, target) for target in straight]
        return field.measured_in == self.sort or (not field.measured_in and bool(led) and all(led))

    def takes_source(self, template: Template, source: str) -> bool:
        """Whether what a wire begins at is of this sort."""
        if "/" not in source:
            field = template.card.field(source)
            return field is not None and self.takes_field(template, field)
        measured = measure_of(source)
        if measured is not None:
            return self.sort == "px" and measured[1] not in COUNTED
        return self.sort == "frames" if source == LENGTH else self.takes_target(template, source)


def converted(template: Template, conversion: Conversion) -> Template:
    """A template with every number of a sort multiplied."""
    fields = {f.id for f in template.card.fields if conversion.takes_field(template, f)}
    factor = conversion.factor
    sections = tuple(
        replace(s, fields=tuple(f.multiplied(factor) if f.id in fields or _is_list(f, conversion) else f for f in s.fields))
        for s in template.card.sections
    )
    asked = [f for f in template.card.fields if f.id in fields or (not f.numeric and conversion.sort == "px")]

    def answers(given: Mapping[str, Any]) -> dict[str, Any]:
        return {**given, **{f.id: f.multiplied_answer(given[f.id], factor) for f in asked if f.id in given}}

    samples = tuple(replace(s, answers=answers(s.answers)) for s in template.samples)
    wires = tuple(replace(w, map=_converted_map(template, w, conversion)) for w in template.wires)
    return replace(
        _own(template, conversion),
        parts=tuple(_converted_part(part, conversion) for part in template.parts),
        text_styles=tuple(_properties(style, conversion) for style in template.text_styles),
        card=replace(template.card, sections=sections), samples=samples, wires=wires,
    )  # fmt: skip


def scaled_part(part: AnyPart, factor: float) -> AnyPart:
    """A part with all its measures in px multiplied."""
    return _converted_part(part, Conversion("px", factor))


def _is_list(field: Field, conversion: Conversion) -> bool:
    """Whether a field holds a list, whose gaps and pictures are in px."""
    return isinstance(field, CreditsField) and conversion.sort == "px"


def _own(template: Template, conversion: Conversion) -> Template:
    """The template's own properties."""
    bare = replace(template, parts=(), text_styles=(), samples=())
    made: Template = _properties(bare, conversion)
    return replace(made, parts=template.parts, text_styles=template.text_styles, samples=template.samples)


def _counts_frames(part: Any) -> bool:
    """Whether a part's own numbers are frames: those of a counter in timecode."""
    return isinstance(part, CounterPart) and part.writing.style == "timecode"


def _taken(prop: Property, conversion: Conversion) -> bool:
    """Whether a property is of the sort, whatever it is a property of."""
    if conversion.sort == "px":
        return prop.length
    return prop.type.is_time if conversion.sort == "frames" else prop.type.unit == conversion.sort


def _properties(value: Any, conversion: Conversion) -> Any:
    for prop in properties(value):
        if _taken(prop, conversion) and prop.value:
            value = put_at(value, prop.path, conversion.kept(prop.type, prop.value))
    return value


def _converted_part(part: AnyPart, conversion: Conversion) -> AnyPart:
    made: AnyPart = _properties(part, conversion)
    if isinstance(made, CreditsPart) and conversion.sort == "px":
        made = replace(made, blocks=multiplied(made.blocks, conversion.factor))
    if isinstance(made, CounterPart) and conversion.sort == "frames" and _counts_frames(made):
        made = replace(made, **{name: conversion.in_frames(getattr(made, name)) for name in ("start", "end", "step")})
    return replace(made, keys=tuple(_converted_keys(part, keyed, conversion) for keyed in part.keys))


def _converted_keys(part: AnyPart, keyed: Keyed, conversion: Conversion) -> Keyed:
    """Keys of a property of the sort have other values; where time is multiplied, all stand at other frames and change otherwise fast."""
    in_px = conversion.sort == "px" and is_length_at(part, keyed.path)
    in_frames = conversion.sort == "frames" and type_at(part, keyed.path).is_time
    factor = conversion.factor

    def changed(key: Key) -> Key:
        values: dict[str, Any] = {}
        if (in_px or in_frames) and keyed.how != "times":
            values = {n: round(v * factor, 6) for n in ("value", "slope_in", "slope_out") if isinstance(v := getattr(key, n), int | float)}
            key = replace(key, **values)
        if conversion.sort == "frames":
            slopes = {n: v / factor for n in ("slope_in", "slope_out") if (v := getattr(key, n)) is not None}
            key = replace(key, at=key.at if key.tied == "hold" else float(round(key.at * factor)), **slopes)
        return key

    return replace(keyed, keys=tuple(changed(key) for key in keyed.keys))


# Wires


def _converted_map(template: Template, wire: Wire, conversion: Conversion) -> Map:
    given, taken = conversion.takes_source(template, wire.source), conversion.takes_target(template, wire.target)
    match wire.map:
        case Straight():
            if given == taken or type_of(template, wire.target).kind not in NUMBERS:
                return wire.map
            return Formula(f"value * {conversion.factor!r}" if taken else f"value / {conversion.factor!r}")
        case Range() as span:
            ends = [n for n, wanted in (("from_low", given), ("from_high", given), ("to_low", taken), ("to_high", taken)) if wanted]
            return replace(span, **{n: conversion.number(getattr(span, n)) for n in ends})
        case Table(rows=rows):
            kind = type_of(template, wire.target)
            return Table({k: conversion.kept(kind, v) if taken and isinstance(v, int | float) else v for k, v in rows.items()})
        case Formula(formula=formula):
            return Formula(_converted_formula(template, wire, formula, conversion, taken))


def _converted_formula(template: Template, wire: Wire, formula: str, conversion: Conversion, taken: bool) -> str:
    """The formula at other measures: names of the sort are divided, the result multiplied; as it is where that changes nothing."""
    parsed = parse(formula)

    def is_of_sort(name: str) -> bool:
        if name == "value":
            return conversion.takes_source(template, wire.source)
        if name == "own":
            return taken
        source = source_of_name(template, name)
        return source is not None and conversion.takes_source(template, source)

    sort = {name for name, _ in parsed.names if is_of_sort(name)}
    if not (sort or taken) or (sort and taken and not _has_measures_of_its_own(parsed.tree)):
        return formula
    tree = _Divided(sort, conversion.factor).visit(ast.parse(ast.unparse(parsed.tree), mode="eval").body)
    words = ast.unparse(tree)
    return f"({words}) * {conversion.factor!r}" if taken else words


class _Divided(ast.NodeTransformer):
    """Names of a sort divided by a factor."""

    def __init__(self, names: set[str], factor: float) -> None:
        self.names, self.factor = names, factor

    def visit_Name(self, node: ast.Name) -> ast.AST:
        return ast.BinOp(node, ast.Div(), ast.Constant(self.factor)) if node.id in self.names else node

    def visit_Attribute(self, node: ast.Attribute) -> ast.AST:
        return ast.BinOp(node, ast.Div(), ast.Constant(self.factor)) if ast.unparse(node) in self.names else node

    def visit_Call(self, node: ast.Call) -> ast.AST:
        node.args = [self.visit(arg) for arg in node.args]
        return node


def _has_measures_of_its_own(tree: ast.expr) -> bool:
    """Whether a formula has a number that stands beside measures instead of multiplying them, or rounds to whole ones."""

    def plain(node: ast.AST) -> bool:
        return isinstance(node, ast.Constant) and isinstance(node.value, int | float) and not isinstance(node.value, bool)

    def beside(node: ast.AST) -> bool:
        match node:
            case ast.BinOp(op=ast.Mult() | ast.Div(), left=left, right=right):
                return any(beside(side) for side in (left, right) if not plain(side))
            case ast.Call(func=ast.Name(id="round" | "floor" | "ceil")):
                return True
        return plain(node) or any(beside(child) for child in ast.iter_child_nodes(node))

    return beside(tree)


def limited_by(template: Template, conversion: Conversion) -> list[str]:
    """Properties that a conversion holds at their limit, in words."""
    said = []
    for owner in (*template.parts, template):
        name = TEMPLATE if isinstance(owner, Template) else owner.id
        for prop in properties(owner):
            taken = _taken(prop, conversion)
            if isinstance(owner, Template) and "." in prop.path:
                continue
            if taken and prop.value and prop.type.kind == "number" and prop.type.low is not None:
                new = conversion.kept(prop.type, prop.value)
                if abs(new - prop.value * conversion.factor) > 0.01:
                    target = f"{name}/{prop.path}"
                    said.append(f"{prop.type.label} of {owner_name(template, target)} is held at {in_figures(new)} {prop.type.unit}")
    return said
