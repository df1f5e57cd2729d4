"""The first and the last frame are empty, so that a title never blinks at a cut."""

from collections.abc import Iterator

from avlet.document.parts import AnyPart
from avlet.document.time.moves import Mirrored, OwnWayOut, StaysToTheEnd
from avlet.review.checks.base import COMMON, Check, Finding
from avlet.review.looked import Looked, bounds_of, covered

_ID = "empty-ends"
_GROUND = 0.98
"""Share of the picture from which on a part that stands there is a ground, which is meant to cut (common practice, no source)."""


def _comes(part: AnyPart) -> bool:
    """Whether a part moves in; else it is there from the begin."""
    return bool(part.way_in)


def _goes(part: AnyPart) -> bool:
    """Whether a part leaves; else it stays to the cut."""
    out = part.way_out
    return bool(part.way_in) if isinstance(out, Mirrored) else isinstance(out, OwnWayOut) and bool(out.moves)


def _is_told_to_stay(part: AnyPart) -> bool:
    """Whether somebody has said that a part stays to the cut."""
    return isinstance(part.way_out, StaysToTheEnd)


def run(looked: Looked) -> Iterator[Finding]:
    """Alpha of frames 0 and N − 1, in the title's own size.

    What moves in or out has to be gone there; what has no such move stands there, which is told as something to look at. What is said to
    stay to the end is passed over, and so is a ground.
    """
    template = looked.scene.bound.template
    if looked.last < 1:
        return
    for frame, which, plays, moves in ((0, "first", template.plays_in, _comes), (looked.last, "last", template.plays_out, _goes)):
        if not plays or not covered(looked.picture(frame)).any():
            continue
        for part_id, rest in looked.present:
            lineage = [rest.part]
            while (group := lineage[-1].group) is not None:
                lineage.append(looked.scene.rest.parts[group].part)
            if frame not in looked.visible[part_id] or rest.part.holds:
                continue
            moved = any(moves(part) for part in lineage)
            if not moved and frame and any(_is_told_to_stay(part) for part in lineage):
                continue
            seen = covered(looked.alone(part_id, frame))
            count, box = int(seen.sum()), bounds_of(seen)
            if count and moved:
                words = f"{rest.part.name} shows on the {which} frame, which should be empty."
                yield Finding(_ID, "breaks", part_id, words, f"shows on the {which} frame", count, 0, "px", frame, frame, box)
            elif count and count < _GROUND * seen.size:
                words = f"{rest.part.name} stands on the {which} frame: {count:,} px. It has no way {'out' if frame else 'in'}."
                yield Finding(_ID, "to look at", part_id, words, f"stands on the {which} frame", count, 0, "px", frame, frame, box)


CHECK = Check(_ID, "Empty ends", "First and last frame are empty", "nothing is painted on them, but for what is said to stay", COMMON, run)
