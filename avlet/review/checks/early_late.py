"""Nothing shows before it has begun to come, and no words without the plate that they lie on."""

from collections.abc import Iterator

from avlet.document.parts import ShapePart
from avlet.review.checks.base import COMMON, Check, Finding, frames_in_words
from avlet.review.looked import Looked

_ID = "early-late"
_SOFT = 0.25
"""A shape whose edge is softer than this share of its lesser side is a shade behind words and no plate that they lie on."""


def run(looked: Looked) -> Iterator[Finding]:
    """Frames in which a part shows before its first move begins, or while the plate round it does not show."""
    yield from _before_moves(looked)
    yield from _without_plate(looked)


def _before_moves(looked: Looked) -> Iterator[Finding]:
    pace = looked.scene.spans.pace
    if not looked.scene.bound.template.plays_in:
        return
    for part_id, rest in looked.present:
        timing = looked.scene.choreography.timings.get(part_id)
        if not rest.part.way_in or timing is None or not timing.way_in:
            continue
        begins = min(times.start for times in timing.way_in) / pace
        early = [frame for frame in looked.visible[part_id] if 0 < frame < begins - 1e-6]
        if early:
            words = f"{rest.part.name} shows before it begins to come: {frames_in_words(early)}."
            yield Finding(
                _ID,
                "breaks",
                part_id,
                words,
                "shows early",
                looked.lasts(early),
                0,
                "frames",
                early[0],
                early[-1],
                looked.visible[part_id][early[0]],
            )


def _without_plate(looked: Looked) -> Iterator[Finding]:
    for plate_id, plate in looked.present:
        if not isinstance(plate.part, ShapePart) or plate.part.fit is None or plate.part.fill is None:
            continue
        if plate.part.blur > _SOFT * min(plate.box.w, plate.box.h):
            continue
        for part_id in plate.part.fit.around:
            rest = looked.scene.rest.parts.get(part_id)
            if rest is None or not rest.present or rest.words is None or rest.ink is None or not plate.box.contains(rest.ink, 1.0):
                continue
            shows = looked.visible[plate_id]
            if not shows:
                continue
            bare = [frame for frame in looked.visible[part_id] if frame not in shows]
            early, late = [f for f in bare if f < looked.rest_frame], [f for f in bare if f > looked.rest_frame]
            for frames, how in ((early, "before"), (late, "after")):
                if frames:
                    words = f"{rest.part.name} shows {how} {plate.part.name}, its plate: {frames_in_words(frames)}."
                    box = looked.visible[part_id][frames[0]]
                    verdict = "shows before its plate" if how == "before" else "stays after its plate"
                    yield Finding(_ID, "breaks", part_id, words, verdict, looked.lasts(frames), 0, "frames", frames[0], frames[-1], box)


CHECK = Check(_ID, "Early, late", "Nothing shows too early or too late", "no frame", COMMON, run)
