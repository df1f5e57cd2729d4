"""The ends have their time, also at the shortest length that an editor may give."""

from collections.abc import Iterator

from avlet.review.checks.base import Check, Finding
from avlet.review.looked import Looked

_ID = "spans"


def run(looked: Looked) -> Iterator[Finding]:
    """Way in and way out against the title's length, and whether anything is left to stand."""
    spans = looked.scene.spans
    if spans.shortened:
        told = f"{looked.scene.length} frames are under the way in and way out together; both were shortened."
        yield Finding(
            _ID, "told", "", told, "ends shortened", looked.scene.length, spans.designed_in + spans.designed_out, "frames", 0, looked.last
        )
    elif spans.hold <= 0 and (spans.way_in or spans.way_out):
        yield Finding(
            _ID, "told", "", "Nothing is left to hold: the way out begins where the way in ends.", "no hold", 0, 1, "frames", 0, looked.last
        )


CHECK = Check(_ID, "Spans", "The ends keep their frames", "told", "", run)
