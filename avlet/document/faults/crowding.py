"""Is there too much of anything in a template? Asked before all else, so that nothing else takes for ever."""

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence

from avlet.document.faults.weighing import weighed
from avlet.document.fields import CreditsField
from avlet.document.fields.credits import weight_of_answer
from avlet.document.lists.blocks import lines_of, words_in
from avlet.document.parts import AnyPart, CreditsPart
from avlet.document.template import Template
from avlet.document.time.moves import OwnWayOut
from avlet.limits import (
    LAMP_SHARE,
    LAYER,
    MOST_CHAINED,
    MOST_DEPTH,
    MOST_FIELDS,
    MOST_FRAME_PIXELS,
    MOST_LETTERS,
    MOST_LINES,
    MOST_LIST_LETTERS,
    MOST_MATTES,
    MOST_MOVES,
    MOST_PAINTED,
    MOST_PARTS,
    MOST_SAMPLES,
    MOST_SECTIONS,
    MOST_WIRES,
    MOST_WORDS,
    SOFT_EACH,
    SOLID,
)


def crowding(template: Template) -> Iterator[str]:
    """All that there is too much of, each as a sentence that starts with its place and says the number and the limit."""
    frame = template.frame
    yield from _over("frame", frame.width * frame.height, MOST_FRAME_PIXELS, f"{frame.width:,} × {frame.height:,} px")
    yield from _over("parts", len(template.parts), MOST_PARTS, "parts", "Split the template")
    yield from _over("wires", len(template.wires), MOST_WIRES, "wires", "Take off those that nobody needs")
    yield from _over("samples", len(template.samples), MOST_SAMPLES, "samples", "Keep the telling ones; a table of names is for the desk")
    yield from _over("card.sections", len(template.card.sections), MOST_SECTIONS, "sections")
    yield from _over("card", len(template.card.entries), MOST_FIELDS, "fields", "Editors are lost long before that")
    for name, words in (("category", template.category), ("keywords", " ".join(template.keywords)), ("card.note", template.card.note)):
        yield from _over(name, len(words), MOST_WORDS, "letters")
    for index, part in enumerate(template.parts):
        yield from (f"parts[{index}].{fault}" for fault in _of_part(part))
    if len(template.parts) <= MOST_PARTS:
        yield from _together(template)
        yield from _listed(template)


def _over(place: str, number: float, most: float, what: str, do: str = "") -> Iterator[str]:
    if number > most:
        said = f"{number:,.0f} {what}" if not what[0].isdigit() else f"{what}, {number:,.0f} px in all"
        yield f"{place}: {said}, at most {most:,.0f} are possible.{f' {do}.' if do else ''}"


def _of_part(part: AnyPart) -> Iterator[str]:
    for name, text in part.written.items():
        yield from _over(name, len(text), MOST_LETTERS, f"letters in {part.name}")
    yield from _over("mattes", len(part.mattes), MOST_MATTES, f"mattes of {part.name}")
    own = part.way_out.moves if isinstance(part.way_out, OwnWayOut) else ()
    for name, moves in (("way_in", part.way_in), ("way_out.moves", own)):
        yield from _over(name, len(moves), MOST_MOVES, f"moves of {part.name}")


def _together(template: Template) -> Iterator[str]:
    """Chains that are too long, nests that are too deep, and what is painted too often. Circles are not looked into here."""
    parts = {part.id: part for part in template.parts}
    followed = {i: {other for other in (*part.follows(), *_waits_for(part)) if other in parts} for i, part in parts.items()}
    yield from _too_long(parts, followed, MOST_CHAINED, "parts follow each other in one chain, up to {name}", "Bind some to the frame")
    members: dict[str, list[str]] = {}
    for part in template.parts:
        if part.group is not None:
            members.setdefault(part.group, []).append(part.id)
    held = {i: [other for other in (*part.painted_for, *members.get(i, ())) if other in parts] for i, part in parts.items()}
    deep = list(_too_long(parts, held, MOST_DEPTH, "groups, echoes and mattes lie within each other, down from {name}", "Take some apart"))
    yield from deep
    if not deep:
        yield from _painted(template, held)


def _waits_for(part: AnyPart) -> Iterator[str]:
    own = part.way_out.moves if isinstance(part.way_out, OwnWayOut) else ()
    yield from (move.tie.on for move in (*part.way_in, *own) if move.tie is not None and move.tie.on != part.id)


def _too_long(parts: Mapping[str, AnyPart], leads: Mapping[str, Iterable[str]], most: int, words: str, do: str) -> Iterator[str]:
    lengths = weighed(leads, lambda part_id, found: 1 + max(found, default=0))
    longest = max(lengths, key=lambda i: lengths[i], default=None)
    if longest is not None:
        yield from _over("parts", lengths[longest], most, words.format(name=parts[longest].name), do)


def _painted(template: Template, held: Mapping[str, Iterable[str]]) -> Iterator[str]:
    what = "letters, copies, shadows, solid bodies and layers to be painted in a frame, as often as echoes and mattes show them"
    do = "Take off echoes of echoes, copies, blur, balls, lamps, or soft mattes"
    yield from _over("parts", _painted_in_all(template.parts, held), MOST_PAINTED, what, do)


def _painted_in_all(parts: Sequence[AnyPart], held: Mapping[str, Iterable[str]]) -> float:
    lamps = Counter(part.group for part in parts if part.lights)
    by_id = {part.id: part for part in parts}
    own = {part.id: _painted_alone(part, _lamps_on(part, by_id, lamps)) for part in parts}
    weights = weighed(held, lambda part_id, found: own[part_id] + sum(found))
    return sum(weights[part.id] for part in parts if part.group is None)


def _lamps_on(part: AnyPart, by_id: Mapping[str, AnyPart], lamps: Mapping[str | None, int]) -> int | None:
    """How many lamps light a part; None for one that is in no space."""
    seen: set[str] = set()
    while part.group is not None and part.group in by_id and part.group not in seen:
        seen.add(part.group)
        part = by_id[part.group]
        if part.has_depth:
            return lamps[part.id]
    return None


def _painted_alone(part: AnyPart, lamps: int | None) -> int:
    """What painting a part costs by itself, a letter being 1."""
    layers = sum(LAYER + LAYER * SOFT_EACH * matte.soft for matte in part.mattes if matte.soft or matte.by != "outline")
    layers += LAYER if part.holds and part.opacity < 100 else 0
    pieces = part.pieces if lamps is None else part.pieces_in_depth * (1 + LAMP_SHARE * lamps)
    return round(pieces * (1 + part.round_it) + layers)


def crowded_by(parts: Sequence[AnyPart]) -> str:
    """Whether answers make so much of parts that painting a frame takes too long: a sentence, empty if they do not."""
    if sum(part.pieces for part in parts) <= MOST_PAINTED // SOLID:
        return ""
    members: dict[str, list[str]] = {}
    for part in parts:
        if part.group is not None:
            members.setdefault(part.group, []).append(part.id)
    known = {part.id for part in parts}
    held = {part.id: [other for other in (*part.painted_for, *members.get(part.id, ())) if other in known] for part in parts}
    total = _painted_in_all(parts, held)
    if total <= MOST_PAINTED:
        return ""
    return f"With these answers {total:,.0f} letters and copies would be painted in a frame, at most {MOST_PAINTED:,}. Give shorter ones."


def _listed(template: Template) -> Iterator[str]:
    """Lines and letters of all lists: those of parts, of fields and of samples."""
    lists = [part.blocks for part in template.parts if isinstance(part, CreditsPart)]
    fields = {field.id: field for field in template.card.fields if isinstance(field, CreditsField)}
    lists += [field.default for field in fields.values()]
    answers = [sample.answers[i] for sample in template.samples for i in fields if isinstance(sample.answers.get(i), list)]
    given = [weight_of_answer(answer) for answer in answers]
    lines = sum(map(lines_of, lists)) + sum(count for count, _ in given)
    letters = sum(len(words) for blocks in lists for block in blocks for words in words_in(block)) + sum(count for _, count in given)
    yield from _over("parts", lines, MOST_LINES, "lines of credits in all lists and samples", "Split the list")
    yield from _over("parts", letters, MOST_LIST_LETTERS, "letters of credits in all lists and samples", "Split the list")
