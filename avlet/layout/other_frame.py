"""A template in a frame of another size: its sizes kept, all scaled, or by the shorter side; held to its rules."""

import math
from collections.abc import Mapping
from typing import Literal

import msgspec

from avlet.document.editing.reframing import held_by, ratio_between, replaced_in, scaled_by, scaled_to
from avlet.document.faults.checking import check
from avlet.document.parts import FRAME_AREAS, TITLE_SAFE, AnyPart, TypesetPart
from avlet.document.template import Frame, Template
from avlet.errors import AnswerError, AvletError
from avlet.geometry import Axis
from avlet.keeping import kept_of_the_last
from avlet.layout.areas import LEAST_CAPITALS, frame_area
from avlet.layout.arrange import arrange
from avlet.layout.bind import bind
from avlet.layout.holding import hold
from avlet.limits import MOST_FRAME_PIXELS
from avlet.text.fonts import FontBook

replace = msgspec.structs.replace
Way = Literal["keeps its sizes", "between both", "scales as a whole"]
WAYS: dict[Way, str] = {
    "keeps its sizes": "Type and gaps stay as they are; rooms end at title-safe.",
    "between both": "Half-way to the shorter side; type stays large enough to be read; rooms end at title-safe.",
    "scales as a whole": "Everything goes by the smaller of the two ratios, so that nothing leaves the frame.",
}
"""What becomes of sizes in another frame, in words."""


def brought_to(template: Template, frame: Frame, way: Way, book: FontBook) -> Template:
    """The template in another frame. Raises ``DocumentError`` where it cannot be."""
    if way == "scales as a whole":
        return scaled_to(template, frame)
    if way == "keeps its sizes":
        return rooms_within(replaced_in(template, frame))
    return legible(rooms_within(scaled_by(template, frame, ratio_between(template, frame))), template, book)


def limits_of(template: Template, frame: Frame, way: Way) -> list[str]:
    """What cannot grow or shrink as far as a way asks for, in words."""
    return (
        [] if way == "keeps its sizes" else held_by(template, frame, None if way == "scales as a whole" else ratio_between(template, frame))
    )


def rooms_within(template: Template) -> Template:
    """No text's room reaches out of title-safe, from where the text is placed; a room that nothing sets stays so."""
    parts = {part.id: part for part in template.parts}
    return check(replace(template, parts=tuple(_kept_within(part, parts, template.frame) for part in template.parts)))


def _kept_within(part: AnyPart, parts: Mapping[str, AnyPart], frame: Frame) -> AnyPart:
    if not isinstance(part, TypesetPart) or part.room is None:
        return part
    room = part.room
    wide, high = _most_room(part, 0, parts, frame), _most_room(part, 1, parts, frame)
    if room.width > wide:
        room = replace(room, width=float(math.floor(wide)))
    if room.height > high:
        room = replace(room, height=float(math.floor(high)))
    kept: AnyPart = replace(part, room=room)
    return kept


def _most_room(part: AnyPart, axis: Axis, parts: Mapping[str, AnyPart], frame: Frame) -> float:
    """px along an axis from where a part is placed to the edge of title-safe; all of that where its place is not known beforehand."""
    safe = frame_area(TITLE_SAFE, frame)
    begin, size = safe[axis], safe[axis + 2]
    found = _anchored(part, axis, parts, frame, 0)
    if found is None:
        return size
    at, share = found
    before, behind = at - begin, begin + size - at
    most = {0.0: behind, 1.0: before}.get(share, 2 * min(before, behind))
    return min(size, most) if most > 0 else size


def _anchored(part: AnyPart, axis: Axis, parts: Mapping[str, AnyPart], frame: Frame, depth: int) -> tuple[float, float] | None:
    """Where the edge by which a part is placed lies in px, and which that is: 0 its beginning, 0.5 its middle, 1 its end.

    Known where it leads to the frame from edge to like edge, whatever the sizes are.
    """
    place = part.across if axis == 0 else part.down
    shares = {"start": 0.0, "middle": 0.5, "end": 1.0}
    if place is None or place.mine not in shares or place.theirs not in shares or depth > len(parts):
        return None
    if place.on in FRAME_AREAS:
        area = frame_area(place.on, frame)
        return area[axis] + area[axis + 2] * shares[place.theirs] + place.gap, shares[place.mine]
    other = parts.get(place.on)
    found = _anchored(other, axis, parts, frame, depth + 1) if other is not None else None
    if found is None or found[1] != shares[place.theirs]:
        return None
    return found[0] + place.gap, shares[place.mine]


def legible(template: Template, before: Template, book: FontBook) -> Template:
    """Type that became smaller than can be read in its frame is as large as that asks for, but no larger than it was."""
    now, then = (arrange(bind(one), book) for one in (template, before))
    grown: dict[str, float] = {}
    for part in template.parts:
        words, were = now.parts[part.id].words, then.parts[part.id].words
        if not isinstance(part, TypesetPart) or words is None or were is None:
            continue
        capitals = words.cap_height * part.scale_y / 100
        least = min(LEAST_CAPITALS * template.frame.height, were.cap_height * part.scale_y / 100)
        if 0 < capitals < least - 0.05:
            key = part.text_style or part.id
            grown[key] = max(grown.get(key, 1.0), least / capitals)

    def larger(part: AnyPart) -> AnyPart:
        factor = grown.get(part.id, 1.0)
        return replace(part, size=_rounded(part.size * factor)) if isinstance(part, TypesetPart) and factor > 1 else part

    styles = tuple(replace(style, size=_rounded(style.size * grown.get(style.id, 1.0))) for style in template.text_styles)
    return check(replace(template, parts=tuple(map(larger, template.parts)), text_styles=styles))


def _rounded(size: float) -> float:
    return math.ceil(size * 2 - 1e-6) / 2


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
        return hold(scaled_to(template, other) if alike else rooms_within(replaced_in(template, other)))
    except (AvletError, msgspec.ValidationError) as error:
        raise AnswerError(f"{template.name} does not stand in a frame of {words}: {error}") from None
