"""Edits that would mend what a proof has found, each offered in words; one of them is one undo."""

from collections.abc import Callable
from dataclasses import dataclass

import msgspec

from avlet.document.cards import carding
from avlet.document.cards.wires import Straight
from avlet.document.editing import edits
from avlet.document.fields import TextField
from avlet.document.looks.colours import darker, lighter, luminance
from avlet.document.looks.paints import Solid
from avlet.document.parts import Room, TypesetPart
from avlet.document.template import Template
from avlet.layout.areas import frame_area
from avlet.review.checks import Finding
from avlet.review.checks.inside import beyond
from avlet.review.looked import Looked


@dataclass(frozen=True)
class Mend:
    """What would be done, in words, and doing it."""

    words: str
    change: Callable[[Template], Template]


def mends(finding: Finding, looked: Looked) -> list[Mend]:
    """What would mend a finding, for the template and answers that it was found with; nothing where only a designer knows."""
    part = looked.scene.template.part(finding.part_id)
    if not isinstance(part, TypesetPart):
        return _of_time(finding, looked)
    match finding.check:
        case "inside" if finding.verdict in ("past title-safe", "past the frame", "out of its plate"):
            return [*_room(part, looked), *_limit(part, finding, looked)]
        case "overlong":
            return _limit(part, finding, looked)
        case "small-type":
            size = round(part.size * finding.limit / max(finding.amount, 1e-6) + 0.5)
            return [Mend(f"make {part.name} {size} px", lambda t: edits.set_property(t, f"{part.id}/size", float(size)))]
        case "contrast":
            return _readable(part, finding)
    return _of_time(finding, looked)


def _of_time(finding: Finding, looked: Looked) -> list[Mend]:
    if finding.check != "reading":
        return []
    longer = looked.scene.template.length + int((finding.amount - finding.limit) * float(looked.scene.template.frame.fps) + 1)
    return [Mend(f"make it {longer} frames long", lambda t: edits.replace(t, length=longer))]


def _room(part: TypesetPart, looked: Looked) -> list[Mend]:
    """As wide as title-safe leaves it from where it begins: let it wrap, or shrink."""
    rest, safe = looked.scene.rest.parts[part.id], frame_area("title-safe", looked.scene.rest.frame)
    width = float(int(min(safe.w, safe.right - max(safe.x, rest.box.x))))
    if width < 2 * part.size:
        return []
    wraps = Room(width=width, lines=2, remedies=("wrap", "shrink"))
    shrinks = Room(width=width, remedies=("shrink",), smallest_size=60.0)
    found = []
    if rest.words is not None and rest.words.counts["word"] > 1:
        found.append(Mend(f"let {part.name} wrap in 2 lines", lambda t: _with(t, part.id, room=wraps)))
    return [*found, Mend(f"let {part.name} shrink to 60 %", lambda t: _with(t, part.id, room=shrinks))]


def _with(template: Template, part_id: str, **values: object) -> Template:
    return edits.replace(template, parts=tuple(msgspec.structs.replace(p, **values) if p.id == part_id else p for p in template.parts))


def _limit(part: TypesetPart, finding: Finding, looked: Looked) -> list[Mend]:
    """Let its field take no more letters than there is room for."""
    template, ink = looked.scene.template, looked.scene.rest.parts[part.id].ink
    wire = template.wire_to(f"{part.id}/text")
    field = template.card.field(wire.source) if wire is not None and isinstance(wire.map, Straight) else None
    words = looked.scene.rest.parts[part.id].words
    if not isinstance(field, TextField) or ink is None or words is None or ink.w <= 0:
        return []
    letters = len(str(looked.scene.bound.answers.get(field.id, "")))
    past = beyond(frame_area("title-safe", looked.scene.rest.frame), ink) if finding.check == "inside" else ink.w * 0.1
    fits = int(letters * max(0.0, ink.w - past) / ink.w)
    given = [field.start, *(sample.answers.get(field.id, "") for sample in template.samples)]
    if not 0 < fits < letters or any(len(str(words)) > fits for words in given):
        return []
    return [Mend(f"limit “{field.label}” to {fits} letters", lambda t: carding.change_field(t, field.id, longest=fits))]


def _readable(part: TypesetPart, finding: Finding) -> list[Mend]:
    """Words further from what lies behind them: lighter where they are light, else darker."""
    if not isinstance(part.fill, Solid):
        return []
    light = luminance(part.fill.colour) > 0.4
    colour = (lighter if light else darker)(part.fill.colour, 55)
    return [Mend(f"make {part.name} {'lighter' if light else 'darker'}", lambda t: edits.set_property(t, f"{part.id}/fill.colour", colour))]
