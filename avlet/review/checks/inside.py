"""Words stay inside their plate, the frame and the safe areas, and off each other."""

from collections.abc import Iterator

from avlet.document.parts import ACTION_SAFE, FRAME, TITLE_SAFE, CreditsPart, ShapePart
from avlet.geometry import Box
from avlet.layout.areas import frame_area
from avlet.layout.rest import RestPart
from avlet.review.at_rest import carried_round, seen_at_rest
from avlet.review.checks.base import Check, Finding, Level, px
from avlet.review.looked import Looked, bounds_of, covered

_ID = "inside"
_SLACK = 0.51
"""px that outlines may differ by without being seen."""


def beyond(area: Box, ink: Box) -> float:
    """How far ink reaches beyond an area, in px; 0 when it does not."""
    return max(0.0, area.x - ink.x, area.y - ink.y, ink.right - area.right, ink.bottom - area.bottom)


def run(looked: Looked) -> Iterator[Finding]:
    """Ink at rest against the frame, title-safe for words, the plate round it; and two words' ink on each other."""
    yield from at_rest(looked)
    yield from _on_each_other(looked)


def at_rest(looked: Looked) -> Iterator[Finding]:
    """What of it the resting layout alone tells."""
    frame, safe = (frame_area(area, looked.scene.rest.frame) for area in (FRAME, TITLE_SAFE))
    words = {part_id for part_id, _ in looked.words}
    for part_id, rest in looked.present:
        ink = seen_at_rest(rest, looked.scene)
        if ink is None:
            continue
        if (far := beyond(frame, ink)) > _SLACK and part_id in words:
            yield _found(looked, part_id, rest, ink, far, "the frame", "breaks", "past the frame")
        elif far > _SLACK and not ink.contains(frame) and not carried_round(part_id, looked.scene):  # what covers it all is its ground
            yield _found(looked, part_id, rest, ink, far, "the frame", "to look at", "past the frame")
        elif part_id in words and (far := beyond(safe, ink)) > _SLACK:
            yield _found(looked, part_id, rest, ink, far, "title-safe", "breaks", "past title-safe")
    yield from _off_plates(looked)


def _found(looked: Looked, part_id: str, rest: RestPart, ink: Box, far: float, area: str, level: Level, verdict: str) -> Finding:
    frames = looked.still_frames[part_id] or [looked.rest_frame]
    words = f"{rest.part.name} reaches beyond {area} by {px(far)}."
    return Finding(_ID, level, part_id, words, verdict, far, 0, "px", frames[0], frames[-1], ink)


def _off_plates(looked: Looked) -> Iterator[Finding]:
    """Words whose plate fits around them, and that reach out of it all the same."""
    for _, plate in looked.present:
        if not isinstance(plate.part, ShapePart) or plate.part.fit is None or plate.part.fit.axes != "both ways":
            continue
        for part_id in plate.part.fit.around:
            rest = looked.scene.rest.parts.get(part_id)
            if rest is None or not rest.present or rest.words is None or rest.ink is None:
                continue
            meets = not plate.box.cut(rest.ink).empty
            far = beyond(plate.box, rest.ink)
            if meets and far > _SLACK:
                frames = looked.still_frames[part_id] or [looked.rest_frame]
                words = f"{rest.part.name} reaches out of {plate.part.name}, which fits around it, by {px(far)}."
                yield Finding(_ID, "breaks", part_id, words, "out of its plate", far, 0, "px", frames[0], frames[-1], rest.ink)


def _on_each_other(looked: Looked) -> Iterator[Finding]:
    """Two texts whose ink meets while both stand there."""
    texts = [(i, rest) for i, rest in looked.texts if not isinstance(rest.part, CreditsPart)]
    for number, (one_id, one) in enumerate(texts):
        for other_id, other in texts[number + 1 :]:
            if one.ink is None or other.ink is None or one.ink.cut(other.ink).empty:
                continue
            both = sorted(set(looked.still_frames[one_id]) & set(looked.still_frames[other_id]))
            if not both:
                continue
            marks = covered(looked.alone(one_id, both[0]), 128) & covered(looked.alone(other_id, both[0]), 128)
            if marks.any():
                words = f"{one.part.name} and {other.part.name} lie on each other."
                yield Finding(
                    _ID, "breaks", other_id, words, "on other words", int(marks.sum()), 0, "px", both[0], both[-1], bounds_of(marks)
                )


CHECK = Check(
    _ID, "Inside", "Words stay inside their plates, the frame and title-safe, and off each other",
    f"no px beyond; {TITLE_SAFE} is 90 %, {ACTION_SAFE} 93 % of the frame", "SMPTE ST 2046-1, EBU R 95", run,
)  # fmt: skip
