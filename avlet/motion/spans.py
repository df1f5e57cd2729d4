"""Spans: way in, hold, way out. Only the hold stretches."""

from dataclasses import dataclass

from avlet.document.template import Template


@dataclass(frozen=True)
class Spans:
    """A template's time at one length, all in frames. ``pace`` is how many designed frames pass in one shown frame at the ends.

    ``pace`` is 1 unless the length is under both ends together; then both are shortened in proportion.
    """

    length: int
    way_in: int
    way_out: int
    designed_in: int
    designed_out: int
    pace: float

    @property
    def hold(self) -> int:
        """Frames between the way in and the way out."""
        return self.length - self.way_in - self.way_out

    @property
    def shortened(self) -> bool:
        """Whether the ends had to be shortened."""
        return self.pace != 1.0

    def since_begin(self, frame: float) -> float:
        """Designed frames since the first frame."""
        return frame * self.pace

    def until_end(self, frame: float) -> float:
        """Designed frames until the last frame, N − 1."""
        return (self.length - 1 - frame) * self.pace


def spans_at(template: Template, length: int) -> Spans:
    """The spans of a template at a length of ``length`` frames. A single frame shows the title at rest."""
    both = template.way_in + template.way_out
    if length >= both:
        return Spans(length, template.way_in, template.way_out, template.way_in, template.way_out, 1.0)
    way_in = round(length * template.way_in / both) if length > 1 else 0
    way_out = length - way_in if length > 1 else 0
    return Spans(length, way_in, way_out, template.way_in, template.way_out, both / length)
