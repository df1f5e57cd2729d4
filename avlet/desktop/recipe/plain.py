"""Lines under the pointer for words of sentences and units of numbers that are not plain at first sight, by where they stand."""

_PACE = "All together: all share these frames, whatever the text. By a step: each begins so many frames after the one before"
LINES: dict[str, str] = {
    "way_in pace": _PACE,
    "way_out.moves pace": _PACE,
    "way_in by": "What comes one after another: the whole, its lines, its words or its letters",
    "way_out.moves by": "What leaves one after another: the whole, its lines, its words or its letters",
    "give room": "A largest width or height for the words; what is too long wraps, shrinks or ends in …",
    "remedies": "What happens, in this order, to words that are too long for their room",
    "run with": "A property of another part that changes as this count does, such as the width of a bar",
    "stand elsewhere": "On another member's front or back, so far before or behind it, instead of on the sheet",
    "way out": "Mirrored: the way in backwards, last in, first out. Its own: moves of their own, also earlier than the others",
    "count box": "Which width is kept free: that of the widest number of the count, or of its last one",
    "figures": "Figures in slots of one width do not jitter while they change",
    "hinge": "The point about which it opens or turns",
}  # fmt: skip
"""By the name of a choice or a button in a sentence."""
UNITS: dict[str, str] = {
    "/1000 em": "Thousandths of the type's size: 100 at 50 px puts 5 px between letters",
    "frames": "Frames of the template's rate; seconds, minutes and timecode may be typed",
    "°": "Degrees, clockwise",
}
"""By a unit as it stands behind a number."""


def line_of(name: str) -> str:
    """What there is to be said of a choice or a button; empty where its words say it."""
    return LINES.get(name, "")
