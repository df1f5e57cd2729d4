"""Equal room for each letter: every cluster of a line in the middle of a room as wide as the widest one of the text."""

import dataclasses

import numpy as np

from avlet.arrays import Floats, Ints
from avlet.text.shaping import ShapedLine


def _letters(line: ShapedLine) -> tuple[Ints, Floats, Floats]:
    """The number of the cluster that each glyph is in, and where each cluster begins and how wide it is, in em. Joined letters are one."""
    number = np.concatenate([[0.0], np.cumsum(line.ends)[:-1]]).astype(np.int64)
    count = int(number[-1]) + 1 if len(number) else 0
    begins = np.full(count, np.inf)
    np.minimum.at(begins, number, line.x)
    widths: Floats = np.diff(np.concatenate([begins, [line.advance]]))
    return number, begins, widths


def widest_letter(line: ShapedLine) -> float:
    """How wide the widest cluster of a line is, in em; 0 for an empty line."""
    return float(_letters(line)[2].max()) if len(line.glyphs) else 0.0


def in_equal_room(line: ShapedLine, room: float) -> ShapedLine:
    """A line with each cluster in the middle of ``room`` em."""
    if not len(line.glyphs):
        return line
    number, begins, widths = _letters(line)
    shift = np.arange(len(begins)) * room + (room - widths) / 2 - begins
    return dataclasses.replace(line, x=line.x + shift[number], advance=len(begins) * room)
