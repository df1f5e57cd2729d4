"""A template in a frame of another size, held to its rules."""

import msgspec

from avlet.document.editing.reframing import replaced_in, scaled_to
from avlet.document.template import Frame, Template
from avlet.errors import AnswerError, AvletError
from avlet.keeping import kept_of_the_last
from avlet.layout.holding import hold
from avlet.limits import MOST_FRAME_PIXELS


@kept_of_the_last(16)
def in_frame(template: Template, size: tuple[int, int]) -> Template:
    """The template in another frame: scaled to one of the same shape, else what is placed goes along with the frame's edges.

    Raises ``AnswerError`` where it cannot stand there.
    """
    width, height = size
    frame = template.frame
    if (width, height) == (frame.width, frame.height):
        return template
    words = f"{width}×{height}"
    if width * height > MOST_FRAME_PIXELS:
        raise AnswerError(f"A frame of {words} is {width * height:,} px in all; at most {MOST_FRAME_PIXELS:,} are possible.")
    try:
        other = msgspec.convert({"width": width, "height": height, "rate": frame.rate}, Frame)
        alike = width * frame.height == height * frame.width
        return hold((scaled_to if alike else replaced_in)(template, other))
    except (AvletError, msgspec.ValidationError) as error:
        raise AnswerError(f"{template.name} does not stand in a frame of {words}: {error}") from None
