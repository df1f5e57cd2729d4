"""Spans: way in, hold, way out. Only the hold stretches."""

import math
from dataclasses import dataclass

from avlet.document.template import Template


@dataclass(frozen=True)
class Spans:
    """A template's time at one length, all in frames. ``pace`` is how many designed frames pass in one shown frame at the ends.

    ``pace`` is the template's own, unless the length is under both ends together; then both are shortened in proportion.
    ``designed_length`` is the template's own length.
    """

    length: int
    way_in: int
    way_out: int
    designed_in: int
    designed_out: int
    pace: float
    shortened: bool = False
    designed_length: int = 0

    @property
    def still(self) -> int:
        """Frames from the first at rest to the last."""
        return self.length - 1 - self.way_in - self.way_out

    @property
    def designed_still(self) -> int:
        """The same at the template's own length."""
        return self.designed_length - 1 - self.designed_in - self.designed_out

    @property
    def hold(self) -> int:
        """Frames between the way in and the way out."""
        return self.length - self.way_in - self.way_out

    @property
    def middle(self) -> int:
        """A frame in which the title stands there whole: the middle of its hold."""
        return min(self.length - 1, (self.way_in + self.length - self.way_out) // 2)

    def since_begin(self, frame: float) -> float:
        """Designed frames since the first frame."""
        return frame * self.pace

    def until_end(self, frame: float) -> float:
        """Designed frames until the last frame, N − 1."""
        return (self.length - 1 - frame) * self.pace

    def held(self, frame: float) -> float:
        """How far the hold is, 0 at its first frame and 1 at its last; 0 before, 1 after."""
        frames = self.still
        return min(1.0, max(0.0, (frame - self.way_in) / frames)) if frames > 0 else float(frame > self.way_in)


def spans_at(template: Template, length: int, needed: tuple[int, int] | None = None) -> Spans:
    """The spans of a template at a length of ``length`` frames. A single frame shows the title at rest.

    ``needed`` is how long the moves of the way in and out take, for ends that are as long as those need.
    """
    designed_in = needed[0] if template.fits_in and needed else template.way_in
    designed_out = needed[1] if template.fits_out and needed else template.way_out
    designed_in, designed_out = designed_in * template.plays_in, designed_out * template.plays_out
    pace = template.pace / 100
    shown_in, shown_out = math.ceil(designed_in / pace - 1e-9), math.ceil(designed_out / pace - 1e-9)
    both = shown_in + shown_out
    if length >= both:
        return Spans(length, shown_in, shown_out, designed_in, designed_out, pace, designed_length=template.length)
    way_in = round(length * designed_in / (designed_in + designed_out)) if length > 1 else 0
    way_out = length - way_in if length > 1 else 0
    shortest = (designed_in + designed_out) / length
    return Spans(length, way_in, way_out, designed_in, designed_out, shortest, shortened=True, designed_length=template.length)
