"""The frame and its safe areas."""

from avlet.document.parts import ACTION_SAFE, FRAME, TITLE_SAFE
from avlet.document.template import Frame
from avlet.geometry import Box

ACTION_SHARE = 0.93
TITLE_SHARE = 0.90
"""SMPTE ST 2046-1: safe action is 93 % and safe title 90 % of the picture's width and height."""

LEAST_CAPITALS = 0.02
"""Height that capitals have at least, as a share of the frame's, to be read from a sofa (common practice, no source)."""


def frame_area(name: str, frame: Frame) -> Box:
    """The frame or one of its safe areas."""
    whole = Box(0, 0, frame.width, frame.height)
    return whole.inset({FRAME: 1.0, ACTION_SAFE: ACTION_SHARE, TITLE_SAFE: TITLE_SHARE}[name])
