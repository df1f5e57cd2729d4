"""The first and the last frame are empty, so that a title never blinks at a cut."""

from collections.abc import Iterator

from avlet.document.parts import AnyPart
from avlet.document.time.moves import Mirrored, OwnWayOut
from avlet.review.checks.base import COMMON, Check, Finding
from avlet.review.looked import Looked, bounds_of, covered

_ID = "empty-ends"


def _comes(part: AnyPart) -> bool:
    """Whether a part moves in; else it is there from the begin, as is meant."""
    return bool(part.way_in)


def _goes(part: AnyPart) -> bool:
    """Whether a part leaves; else it stays to the cut, as is meant."""
    out = part.way_out
    return bool(part.way_in) if isinstance(out, Mirrored) else isinstance(out, OwnWayOut) and bool(out.moves)


def run(looked: Looked) -> Iterator[Finding]:
    """Alpha of frames 0 and N − 1, in the title's own size; what is meant to cut is passed over."""
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
            if frame not in looked.visible[part_id] or not any(moves(part) for part in lineage) or rest.part.holds:
                continue
            seen = covered(looked.alone(part_id, frame))
            if seen.any():
                words = f"{rest.part.name} shows on the {which} frame, which should be empty."
                yield Finding(
                    _ID, "breaks", part_id, words, f"shows on the {which} frame", int(seen.sum()), 0, "px", frame, frame, bounds_of(seen)
                )


CHECK = Check(_ID, "Empty ends", "First and last frame are empty", "nothing is painted on them, but for what is meant to cut", COMMON, run)
