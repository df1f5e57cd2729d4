"""Where the lines of a moving list are: which one a frame shows in its middle, and in which frame one stands there."""

import bisect

from avlet.document.lists.blocks import Block, Names, Role
from avlet.document.lists.lines import Line
from avlet.document.parts import CreditsPart
from avlet.motion.credits import MovingList
from avlet.motion.rolling import axis_of

_EDGE = 0.08
"""At a frame's edge, so much of it, a line may fade or lie outside of what is safe."""


def _middle(moving: MovingList) -> float:
    frame = moving.layout.frame
    return (frame.width, frame.height)[axis_of(moving.part)] / 2


def start_at(moving: MovingList, frame: int) -> float:
    """Where the strip's start is along its movement in a frame, in px of the frame."""
    axis = axis_of(moving.part)
    if moving.pages:
        number = moving.page_at(frame) or 0
        return moving.page(number).rest.box[axis] - float(moving.strip.begins[moving.pages[number].first])
    return moving.rest.box[axis] + moving.shift(float(frame))[axis]


def window_at(moving: MovingList, frame: int) -> tuple[float, float]:
    """From where to where along the strip a frame shows it, in px from its start."""
    if moving.pages:
        page = moving.pages[moving.page_at(frame) or 0]
        return float(moving.strip.begins[page.first]), float(moving.strip.ends[page.first : page.last].max())
    start = start_at(moving, frame)
    return -start, 2 * _middle(moving) - start


def line_of(moving: MovingList, row: int) -> Line:
    """The line of the list that a row of the strip shows."""
    strip = moving.strip
    block = int(strip.block_of[row])
    number = row - strip.rows_of(block)[0]
    part = moving.part
    listed = part.blocks[block]
    many = len(listed.names) if isinstance(listed, Role | Names) else 1
    return Line(block, max(0, min(number - _above(part, listed), many - 1)))


def _above(part: CreditsPart, block: Block) -> int:
    """How many rows of a block stand above its first name."""
    return int(part.lies == "one above the other" and isinstance(block, Role) and bool(block.role))


def line_at(moving: MovingList, frame: int, place: float | None = None) -> Line | None:
    """The line at a place along the movement, in px of the frame: its middle if none is given. None where nothing shows there."""
    if not moving.strip.rows:
        return None
    at = (_middle(moving) if place is None else place) - start_at(moving, frame)
    if place is None and not 0 <= at <= moving.strip.length and not moving.pages:
        return None
    row = moving.strip.row_at(at)
    return None if row is None else line_of(moving, row)


def _row_of(moving: MovingList, line: Line) -> int | None:
    first, last = moving.strip.rows_of(line.block)
    if last <= first:
        return None
    return min(last - 1, first + line.number + _above(moving.part, moving.part.blocks[line.block]))


def shows(moving: MovingList, frame: int, line: Line) -> bool:
    """Whether a line is in a frame, whole and not at its edge."""
    row = _row_of(moving, line)
    if row is None:
        return False
    low, high = window_at(moving, frame)
    edge = 0.0 if moving.pages else (high - low) * _EDGE
    low, high = low + edge, high - edge
    return low <= float(moving.strip.begins[row]) and float(moving.strip.ends[row]) <= high


def frame_of(moving: MovingList, line: Line) -> int | None:
    """The frame in which a line stands in the middle, or comes nearest to it; None for what has no row, or does not move."""
    row = _row_of(moving, line)
    if row is None:
        return None
    strip = moving.strip
    if moving.pages:
        number = next((n for n, p in enumerate(moving.pages) if p.first <= row < p.last), 0)
        window = moving.windows[number]
        return max(window.first, (window.first + window.last) // 2)
    if moving.roll is None:
        return None
    return frame_at(moving, float(strip.begins[row] + strip.ends[row]) / 2)


def frame_at(moving: MovingList, place: float) -> int:
    """The frame in which a place of the strip, in px from its start, is nearest to the middle of the frame."""
    if moving.pages:
        row = moving.strip.row_at(place) or 0
        number = next((n for n, p in enumerate(moving.pages) if p.first <= row < p.last), 0)
        return moving.windows[number].first
    if moving.roll is None:
        return 0
    roll, middle = moving.roll, _middle(moving)
    way = 1.0 if roll.last > roll.first else -1.0
    after = bisect.bisect_left(range(moving.length), (middle - place) * way, key=lambda f: roll.at(float(f)) * way)
    near = [f for f in (after - 1, after) if 0 <= f < moving.length]
    return min(near, key=lambda f: abs(roll.at(float(f)) + place - middle))
