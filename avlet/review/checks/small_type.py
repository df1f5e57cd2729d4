"""Type is large enough to be read from a sofa."""

from collections.abc import Iterator

from avlet.layout.areas import LEAST_CAPITALS
from avlet.review.at_rest import in_the_frame
from avlet.review.checks.base import COMMON, Check, Finding, px
from avlet.review.looked import Looked

_ID = "small-type"


def run(looked: Looked) -> Iterator[Finding]:
    """The height of capitals of each text, as it is set with these answers, against the frame's height."""
    height = looked.frame_box.h
    for part_id, rest in looked.texts:
        if rest.words is None:
            continue
        capitals = rest.words.cap_height * rest.part.scale_y / 100
        if rest.ink is not None and rest.ink.h > 0:  # the camera of a space may be nearer or farther
            capitals *= in_the_frame(rest, rest.ink, looked.scene).h / rest.ink.h
        if capitals < LEAST_CAPITALS * height - 0.05:
            words = f"{rest.part.name} has capitals of {px(capitals)}, {capitals / height:.1%} of the frame."
            frame = (looked.still_frames[part_id] or [looked.rest_frame])[0]
            yield Finding(_ID, "to look at", part_id, words, "small type", capitals, LEAST_CAPITALS * height, "px", frame, frame, rest.ink)


CHECK = Check(_ID, "Small type", "Type is large enough", "capitals of 2 % of the frame's height", COMMON, run)
