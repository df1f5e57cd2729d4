"""Does a sample hold? What is wrong with a title at rest, in the designer's words."""

from dataclasses import dataclass
from typing import Literal

from avlet.document.parts import FRAME, TITLE_SAFE, CreditsPart, TypesetPart
from avlet.geometry import Box
from avlet.layout.arrange import RestPart, frame_area, lacking_words
from avlet.paint.scene import Scene

Verdict = Literal["holds", "past title-safe", "past the frame", "lacks glyphs", "too long", "font missing"]


@dataclass(frozen=True)
class Finding:
    """What is wrong, with which part."""

    verdict: Verdict
    part_id: str
    words: str


def findings(scene: Scene) -> list[Finding]:
    """Everything that keeps a title from holding, worst first."""
    found: list[Finding] = []
    frame, safe = (frame_area(area, scene.rest.frame) for area in (FRAME, TITLE_SAFE))
    for part_id, rest in scene.rest.parts.items():
        if not rest.part.shown:
            continue
        name, ink = rest.part.name, seen_at_rest(rest, scene)
        if ink and not frame.contains(ink):
            found.append(Finding("past the frame", part_id, f"{name} reaches beyond the frame."))
        elif ink and isinstance(rest.part, TypesetPart | CreditsPart) and not safe.contains(ink):
            found.append(Finding("past title-safe", part_id, f"{name} reaches beyond title-safe."))
        if rest.strip is not None and rest.strip.lacking:
            found.append(Finding("lacks glyphs", part_id, lacking_words(name, rest.strip.lacking)))
        if rest.strip is not None and (stands_in := rest.strip.setter.substitutes()):
            found.append(Finding("font missing", part_id, stands_in[0]))
        if rest.words and rest.words.lacking:
            found.append(Finding("lacks glyphs", part_id, lacking_words(name, rest.words.lacking)))
        if rest.words and rest.words.overflows:
            found.append(Finding("too long", part_id, f"{name} is too long for its room."))
        if rest.words and rest.words.substitutes:
            found.append(Finding("font missing", part_id, rest.words.substitutes[0]))
    order = ("past the frame", "too long", "lacks glyphs", "past title-safe", "font missing")
    return sorted(found, key=lambda f: order.index(f.verdict))


def said_of(scene: Scene) -> list[str]:
    """All that is to be said about a title, once: its notes, and what keeps it from holding. It is the same wherever it is said."""
    notes = scene.notes()
    return [*notes, *dict.fromkeys(f.words for f in findings(scene) if f.words not in notes)]


def seen_at_rest(rest: RestPart, scene: Scene) -> Box | None:
    """What shows of a part at rest: its ink within the parts that it is shown inside of; of a counter also its widest numbers."""
    ink = rest.ink
    if ink is not None and rest.figures is not None:
        left, right = rest.figures.extent
        ink = Box.from_edges(min(ink.x, rest.box.x + left), ink.y, max(ink.right, rest.box.x + right), ink.bottom)
    if ink is not None and isinstance(rest.part, CreditsPart) and rest.part.rolls:
        safe = frame_area(TITLE_SAFE, scene.rest.frame)  # what rolls is everywhere along its way
        ink = Box(safe.x, ink.y, safe.w, ink.h) if rest.part.movement.how == "crawls" else Box(ink.x, safe.y, ink.w, safe.h)
    for matte in rest.part.mattes:
        source = scene.rest.parts[matte.inside]
        if ink is not None and not matte.hides and source.words is None:
            ink = ink.cut(source.box.grown(*[matte.grow] * 4))
    return None if ink is None or ink.empty else ink


def verdict(scene: Scene) -> Verdict:
    """The one word for the samples strip."""
    found = findings(scene)
    return found[0].verdict if found else "holds"
