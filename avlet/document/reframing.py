"""Bringing a template to another frame: scaled with all its px, or re-placed with its sizes kept."""

import msgspec

from avlet.document.checking import check
from avlet.document.metadata import properties, put_at
from avlet.document.parts import AnyPart, PatternPart, PicturePart, ShapePart
from avlet.document.template import Frame, Guides, Template

_CORNERS = ("corner",)


def scaled_to(template: Template, frame: Frame) -> Template:
    """Every length in px grows by the smaller of the two ratios, so that nothing leaves the frame; rates are kept."""
    factor = min(frame.width / template.frame.width, frame.height / template.frame.height)
    parts = tuple(_scaled(part, factor) for part in template.parts)
    across, down = (tuple(round(at * factor, 3) for at in lines) for lines in (template.guides.across, template.guides.down))
    return check(msgspec.structs.replace(template, frame=frame, parts=parts, guides=Guides(across, down)))


def replaced_in(template: Template, frame: Frame) -> Template:
    """Sizes and gaps stay as they are; what is placed on the frame and its safe areas goes with their edges."""
    return msgspec.structs.replace(template, frame=frame)


def _scaled(part: AnyPart, factor: float) -> AnyPart:
    for prop in properties(part):
        in_px = prop.type.unit in ("px", "px/s") or _corner_in_px(part, prop.path) or _slant_in_px(part, prop.path)
        if in_px and prop.type.kind == "number" and prop.value:
            part = put_at(part, prop.path, round(prop.value * factor, 3))
    return part


def _corner_in_px(part: AnyPart, path: str) -> bool:
    return path in _CORNERS and isinstance(part, ShapePart | PicturePart | PatternPart) and part.corner_unit == "px"


def _slant_in_px(part: AnyPart, path: str) -> bool:
    return path == "form.slant" and isinstance(part, ShapePart | PatternPart) and getattr(part.form, "unit", "") == "px"


def retimed_to(template: Template, rate: str) -> Template:
    """Another frame rate at the same seconds; frames of moves and spans are rounded to whole ones."""
    frame = msgspec.structs.replace(template.frame, rate=rate)
    factor = float(frame.fps / template.frame.fps)
    parts = []
    for part in template.parts:
        for prop in properties(part):
            if prop.type.unit == "frames":
                part = put_at(part, prop.path, round(prop.value * factor))  # noqa: PLW2901
        parts.append(part)
    times = {key: max(1 if key == "length" else 0, round(getattr(template, key) * factor)) for key in ("length", "way_in", "way_out")}
    return check(msgspec.structs.replace(template, frame=frame, parts=tuple(parts), **times))
