"""What is too long is told: it wrapped, shrank, was squeezed, or cut."""

from collections.abc import Iterator

from avlet.review.checks.base import Check, Finding
from avlet.review.looked import Looked

_ID = "overlong"


def run(looked: Looked) -> Iterator[Finding]:
    """What setting the words came to; words that do not fit at all break."""
    for part_id, rest in looked.present:
        words = rest.words
        if words is None:
            continue
        frame = (looked.still_frames[part_id] or [looked.rest_frame])[0]
        if words.overflows:
            said = f"{rest.part.name} is too long for its room."
            yield Finding(_ID, "breaks", part_id, said, "too long", 1, 0, "", frame, frame, rest.ink)
        for remark in words.remarks:
            if "too long" not in remark:
                yield Finding(_ID, "told", part_id, f"{rest.part.name} {remark}.", "made to fit", 1, 0, "", frame, frame, rest.ink)


CHECK = Check(_ID, "Overlong", "Every text fits its room", "told", "", run)
