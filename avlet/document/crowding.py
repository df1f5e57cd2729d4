"""Is there too much of anything in a template? Asked before all else, so that nothing else takes for ever."""

from collections.abc import Iterable, Iterator, Mapping

from avlet.document.moves import OwnWayOut
from avlet.document.parts import AnyPart, GroupPart
from avlet.document.template import Template
from avlet.document.weighing import weighed
from avlet.limits import (
    LAYER,
    MOST_CHAINED,
    MOST_DEPTH,
    MOST_FIELDS,
    MOST_FRAME_PIXELS,
    MOST_LETTERS,
    MOST_MATTES,
    MOST_MOVES,
    MOST_PAINTED,
    MOST_PARTS,
    MOST_SAMPLES,
    MOST_SECTIONS,
    MOST_WIRES,
    MOST_WORDS,
    SOFT_EACH,
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
    yield from (move.tie.on for move in (*part.way_in, *own) if move.tie is not None)


def _too_long(parts: Mapping[str, AnyPart], leads: Mapping[str, Iterable[str]], most: int, words: str, do: str) -> Iterator[str]:
    lengths = weighed(leads, lambda part_id, found: 1 + max(found, default=0))
    longest = max(lengths, key=lambda i: lengths[i], default=None)
    if longest is not None:
        yield from _over("parts", lengths[longest], most, words.format(name=parts[longest].name), do)


def _painted(template: Template, held: Mapping[str, Iterable[str]]) -> Iterator[str]:
    own = {part.id: _painted_alone(part) for part in template.parts}
    weights = weighed(held, lambda part_id, found: own[part_id] + sum(found))
    total = sum(weights[part.id] for part in template.parts if part.group is None)
    what = "letters, copies, shadows and layers to be painted in a frame, as often as echoes and mattes show them"
    yield from _over("parts", total, MOST_PAINTED, what, "Take off echoes of echoes, copies, blur, or soft mattes")


def _painted_alone(part: AnyPart) -> int:
    """What painting a part costs by itself, a letter being 1."""
    layers = sum(LAYER + LAYER * SOFT_EACH * matte.soft for matte in part.mattes if matte.soft or matte.by != "outline")
    layers += LAYER if isinstance(part, GroupPart) and part.opacity < 100 else 0
    return round(part.pieces * (1 + part.round_it) + layers)
