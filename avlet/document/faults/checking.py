"""Does a template hold together? Ids, relations, wires and samples, each fault in words with its place."""

import re
import typing
from collections import Counter, OrderedDict
from collections.abc import Iterable, Iterator
from typing import Any

import msgspec

from avlet.document.cards.card import Card
from avlet.document.cards.wire_checks import wire_faults
from avlet.document.cards.wire_plans import plan_of
from avlet.document.faults.crowding import crowding
from avlet.document.fields import Field
from avlet.document.house import PALETTE, styles_named
from avlet.document.metadata import KEYED_KINDS, type_at
from avlet.document.parts import FRAME_AREAS, AnyPart, CounterPart, CreditsPart, EchoPart, TextPart
from avlet.document.standing import standing_faults
from avlet.document.targets import house_entries
from avlet.document.template import TEMPLATE, Template
from avlet.document.time.moves import OwnWayOut
from avlet.errors import DocumentError
from avlet.limits import MOST_BLOCKS
from avlet.numbers.exact import in_figures

_WORDS = {
    "`float`": "a number", "`int`": "a whole number", "`str`": "words", "`bool`": "true or false",
    "`array`": "a list", "`object`": "an object", "`null`": "nothing",
}  # fmt: skip


class _Known:
    """Values that were found to be within their types and limits, so that they are not looked at again; those met last.

    As many are kept as two templates of the present one's size have, and ``least``: what is kept here is not let go of elsewhere.
    """

    def __init__(self, least: int) -> None:
        self._least = least
        self._values: OrderedDict[int, object] = OrderedDict()

    def __contains__(self, value: object) -> bool:
        if self._values.get(id(value)) is not value:
            return False
        self._values.move_to_end(id(value))
        return True

    def __len__(self) -> int:
        return len(self._values)

    def keep(self, values: Iterable[object]) -> None:
        """Values that are good."""
        self._values.update((id(value), value) for value in values)

    def let_go(self, present: int) -> None:
        """Let go of the oldest, where the present template has so many."""
        while len(self._values) > max(self._least, 2 * present):
            self._values.popitem(last=False)


_known = _Known(512)
_known_blocks = _Known(4096)
"""The same of blocks of credits, one by one: of a long list one is changed at a time."""


def check(template: Template) -> Template:
    """The template itself if it holds together; raises ``DocumentError`` with the first fault in words."""
    for fault in faults(template):
        raise DocumentError(fault)
    return template


def faults(template: Template) -> Iterator[str]:
    """Every fault of a template, as a sentence that starts with its place."""
    crowded = list(crowding(template))
    if crowded:
        yield from crowded
        return
    yield from _type_faults(template)
    by_id = {part.id: part for part in template.parts}
    known = set(by_id)
    for twice in (i for i, n in Counter(p.id for p in template.parts).items() if n > 1):
        yield f"parts: two parts have the id “{twice}”. Give one of them another."
    for index, part in enumerate(template.parts):
        if part.id in FRAME_AREAS or part.id in (TEMPLATE, PALETTE):
            yield f"parts[{index}].id: “{part.id}” is the name of an area of the frame, the template or its palette. Choose another."
        yield from _relation_faults(f"parts[{index}]", part, known)
        yield from _group_faults(f"parts[{index}]", part, template)
        yield from _time_faults(f"parts[{index}]", part, known)
        yield from standing_faults(f"parts[{index}]", part, by_id)
        yield from (f"parts[{index}].{fault}" for fault in part.own_faults(template.frame.fps))
        yield from _count_faults(f"parts[{index}]", part, template)
    yield from _card_faults(template)
    plan_of(template)


def _type_faults(template: Template) -> Iterator[str]:
    """What is not of its type or beyond its limits: what reading a file would refuse."""
    for index, part in enumerate(template.parts):
        if isinstance(part, CreditsPart) and part not in _known and len(part.blocks) <= MOST_BLOCKS:
            fresh = tuple(block for block in part.blocks if block not in _known_blocks)
            if not any(_type_fault(msgspec.structs.replace(part, blocks=fresh), AnyPart, "", once=True)):
                _known_blocks.keep(fresh)
                _known.keep((part,))
                _known_blocks.let_go(len(part.blocks))
        yield from _type_fault(part, AnyPart, f"parts[{index}]")
    for name in ("card", "wires", "samples", "palette", "gradients", "text_styles"):
        value = getattr(template, name)
        yield from _type_fault(value, _TYPES[name], name)
    yield from _type_fault(msgspec.structs.replace(template, parts=(), card=Card(), wires=(), samples=()), Template, "", once=True)
    _known.let_go(len(template.parts) + len(_TYPES))


_TYPES: dict[str, Any] = typing.get_type_hints(Template, include_extras=True)


def _type_fault(value: Any, kind: Any, place: str, once: bool = False) -> Iterator[str]:
    if value in _known:
        return
    try:
        msgspec.convert(msgspec.to_builtins(value, builtin_types=(bytes,)), kind, builtin_types=(bytes,))
    except msgspec.ValidationError as error:
        yield in_words(str(error), place)
        return
    if not once:
        _known.keep((value,))


def in_words(message: str, within: str = "") -> str:
    """A decoder's message with its place, below ``within``, in front: ``parts[3].corner: expected a number, got words.``."""
    text, _, place = message.partition(" - at `$")
    place = place.rstrip("`").lstrip(".").replace("[...]", "[…]")
    for code, words in _WORDS.items():
        text = text.replace(code, words)
    text = re.sub(r"`([^`]*)`", r"“\1”", text)
    text = re.sub(r"of length <= (\d+)", lambda m: f"of at most {int(m[1]):,}", text)
    text = re.sub(r"(<|>)= (-?\d+(?:\.\d+)?)$", lambda m: f"of at {'most' if m[1] == '<' else 'least'} {float(m[2]):,.10g}", text)
    text = text[:1].lower() + text[1:]
    place = ".".join(piece for piece in (within, place) if piece).replace(".[", "[")
    return f"{place}: {text}." if place else f"{text}."


def _relation_faults(at: str, part: AnyPart, known: set[str]) -> Iterator[str]:
    fit = part.fitted
    if fit is not None:
        if not fit.around:
            yield f"{at}.fit.around: {part.name} fits around nothing. Name at least one part, or remove the fit."
        for least, most, way in ((fit.least_width, fit.most_width, "width"), (fit.least_height, fit.most_height, "height")):
            if most and least > most:
                low, high = in_figures(least), in_figures(most)
                yield f"{at}.fit.least_{way}: {part.name} has a least {way} of {low} px, above its most, {high} px. Swap them."
        for other in fit.around:
            if other == part.id:
                yield f"{at}.fit.around: {part.name} cannot fit around itself."
            elif other not in known and other not in FRAME_AREAS:
                yield f"{at}.fit.around: {part.name} fits around “{other}”, which is not in the template."
    if part.across is not None and "baseline" in (part.across.mine, part.across.theirs):
        yield f"{at}.across: {part.name} is placed by a baseline sideways. Baselines are for up and down."
    for axis, place in (("across", part.across), ("down", part.down)):
        if place is not None and not part.has_place:
            yield f"{at}.{axis}: {part.name} is a group, which lies where its members do. Place those instead."
        if place is None and fit is None and part.has_place:
            yield f"{at}.{axis}: {part.name} has no place and fits around nothing. Place it on the frame."
        if place is not None and place.on == part.id:
            yield f"{at}.{axis}.on: {part.name} cannot be placed on itself."
        elif place is not None and place.on not in FRAME_AREAS and place.on not in known:
            yield f"{at}.{axis}.on: {part.name} is placed on “{place.on}”, which is not in the template."
    for number, matte in enumerate(part.mattes):
        if matte.inside == part.id:
            yield f"{at}.mattes[{number}].inside: {part.name} cannot be its own matte."
        elif matte.inside not in known:
            yield f"{at}.mattes[{number}].inside: {part.name} is shown inside “{matte.inside}”, which is not in the template."


def _group_faults(at: str, part: AnyPart, template: Template) -> Iterator[str]:
    """Groups that are none, members of themselves, echoes of nothing or of what holds them."""
    group, seen = part.group, {part.id}
    while group is not None:
        holder = template.part(group)
        if holder is None or not holder.holds:
            yield f"{at}.group: {part.name} is a member of “{group}”, which is not a group of the template."
            return
        if holder.id in seen:
            yield f"{at}.group: {part.name} would be a member of itself. Take it out of {holder.name} first."
            return
        seen.add(holder.id)
        group = holder.group
    if isinstance(part, EchoPart):
        original = template.part(part.of)
        if original is None:
            yield f"{at}.of: {part.name} is an echo of “{part.of}”, which is not in the template."
        elif original.id in seen:
            yield f"{at}.of: {part.name} cannot be an echo of {'itself' if original is part else 'a group that it is in'}."
        elif part.words and not isinstance(original, TextPart):
            yield f"{at}.words: {part.name} is an echo of {original.name}, which has no words. Only a text's echo has words of its own."


def _time_faults(at: str, part: AnyPart, known: set[str]) -> Iterator[str]:
    """Moves tied to nothing, and keys of what cannot be keyed or of values that do not fit."""
    own = part.way_out.moves if isinstance(part.way_out, OwnWayOut) else ()
    for where, moves in (("way_in", part.way_in), ("way_out.moves", own)):
        for number, move in enumerate(moves):
            if move.tie is not None and move.tie.to == "its way in" and where == "way_in":
                yield f"{at}.{where}[{number}].tie: a way in of {part.name} follows the way in of others as it is; only a way out says so."
            if move.tie is not None and move.tie.on == part.id and (where == "way_in" or move.tie.to != "its way in"):
                yield f"{at}.{where}[{number}].tie: a move of {part.name} cannot wait for {part.name} itself."
            elif move.tie is not None and move.tie.on not in known and move.tie.on != part.id:
                yield f"{at}.{where}[{number}].tie: a move of {part.name} waits for “{move.tie.on}”, which is not in the template."
    seen: set[str] = set()
    for number, keyed in enumerate(part.keys):
        place = f"{at}.keys[{number}]"
        if keyed.path in seen:
            yield f"{place}: “{keyed.path}” of {part.name} is keyed twice."
        seen.add(keyed.path)
        try:
            kind = type_at(part, keyed.path)
        except LookupError:
            yield f"{place}.path: {part.name} has no property “{keyed.path}”."
            continue
        if not kind.keyed or kind.kind not in KEYED_KINDS:
            yield f"{place}.path: {kind.label} of {part.name} cannot change over time."
            continue
        for key in keyed.keys:
            if isinstance(key.value, str) != (kind.kind == "colour"):
                yield f"{place}: a key of {kind.label} of {part.name} is “{key.value}”, which is no {kind.kind}."
            elif keyed.how == "instead" or kind.kind == "colour":
                try:
                    kind.check(key.value)
                except ValueError as error:
                    yield f"{place}: a key of {kind.label} of {part.name} {error}."


def _count_faults(at: str, part: AnyPart, template: Template) -> Iterator[str]:
    """Counts that wait for nothing, and properties that run with what does not count, or with values that do not fit."""
    if isinstance(part, CounterPart) and (tie := part.count.tie) is not None and (tie.on == part.id or template.part(tie.on) is None):
        yield f"{at}.count.tie: the count of {part.name} waits for {'itself' if tie.on == part.id else f'“{tie.on}”, which is not there'}."
    seen: set[str] = set()
    for number, run in enumerate(part.runs):
        place = f"{at}.runs[{number}]"
        if run.path in seen:
            yield f"{place}: “{run.path}” of {part.name} runs with two counters."
        seen.add(run.path)
        if not isinstance(template.part(run.counter), CounterPart):
            yield f"{place}.counter: “{run.path}” of {part.name} runs with “{run.counter}”, which is no counter of the template."
        try:
            kind = type_at(part, run.path)
        except LookupError:
            yield f"{place}.path: {part.name} has no property “{run.path}”."
            continue
        if not kind.keyed or kind.kind not in KEYED_KINDS:
            yield f"{place}.path: {kind.label} of {part.name} cannot change over time."
            continue
        if any(keyed.path == run.path and keyed.how == "instead" for keyed in part.keys):
            yield f"{place}.path: {kind.label} of {part.name} has keys that stand instead of it. Let them be added to it, or take them off."
        for value in (run.first, run.last):
            try:
                kind.check(value)
            except ValueError as error:
                yield f"{place}: {kind.label} of {part.name} {error}."


def _card_faults(template: Template) -> Iterator[str]:
    fields = {f.id: f for f in template.card.fields}
    for twice in (i for i, n in Counter(f.id for f in template.card.entries).items() if n > 1):
        yield f"card: two fields have the id “{twice}”. Give one of them another."
    for field in template.card.entries:
        yield from (f"card: “{field.label}” {fault}" for fault in _field_faults(field, template))
    yield from _house_faults(template)
    taken: set[str] = set()
    for index, wire in enumerate(template.wires):
        at = f"wires[{index}]"
        if wire.target in taken:
            yield f"{at}.target: “{wire.target}” already has a wire. A property takes one."
        for piece in sorted(taken):
            if piece.startswith(f"{wire.target}.") or wire.target.startswith(f"{piece}."):
                yield f"{at}.target: “{wire.target}” and “{piece}” lie within each other; one of them can have a wire."
        taken.add(wire.target)
        yield from wire_faults(template, at, wire)
    for number, sample in enumerate(template.samples):
        for unknown in sample.answers.keys() - fields.keys():
            yield f"samples[{number}].answers: there is no field “{unknown}” on the card."


def _field_faults(field: Field, template: Template) -> Iterator[str]:
    """What is wrong with one field, each fault as the rest of a sentence that begins with its label."""
    own = list(field.own_faults(template.palette))
    if own:
        yield from own
        return
    if field.asks and (fault := field.fault(field.start, template.palette)):
        yield f"starts with an answer that it would not take: {fault}"
    condition = field.shown_if
    if condition is not None:
        other = template.card.field(condition.field)
        if other is None or not other.asks:
            yield f"is shown by what “{condition.field}” answers, which is not on the card."
        elif other.id == field.id:
            yield "cannot decide itself whether it is shown."


def _house_faults(template: Template) -> Iterator[str]:
    """House colours, gradients and text styles of the same name, and texts of a style that is not there."""
    for words, ids in (
        ("colours or gradients of the palette", [e.id for e in house_entries(template)]),
        ("text styles", [s.id for s in template.text_styles]),
    ):
        for twice in (i for i, n in Counter(ids).items() if n > 1):
            yield f"palette: two {words} have the id “{twice}”. Give one of them another."
    for index, part in enumerate(template.parts):
        for path, named in styles_named(part):
            if template.text_style(named) is None:
                yield f"parts[{index}].{path}: {part.name} has the text style “{named}”, which is not in the template."
