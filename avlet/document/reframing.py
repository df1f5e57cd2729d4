"""Bringing a template to another frame: scaled with all its px, or re-placed with its sizes kept."""

import msgspec

from avlet.document.checking import check
from avlet.document.keys import Key
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
    lengths = {prop.path for prop in properties(part) if prop.type.unit == "px"}
    keys = tuple(
        msgspec.structs.replace(keyed, keys=tuple(_scaled_key(key, factor) for key in keyed.keys))
        if keyed.path in lengths and keyed.how != "times"
        else keyed
        for keyed in part.keys
    )
    return msgspec.structs.replace(part, keys=keys)


def _scaled_key(key: Key, factor: float) -> Key:
    values = {
        name: round(v * factor, 4) for name in ("value", "slope_in", "slope_out") if isinstance(v := getattr(key, name), (int, float))
    }
    return msgspec.structs.replace(key, **values)


def _corner_in_px(part: AnyPart, path: str) -> bool:
    return path in _CORNERS and isinstance(part, ShapePart | PicturePart | PatternPart) and part.corner_unit == "px"


def _slant_in_px(part: AnyPart, path: str) -> bool:
    return path == "form.slant" and isinstance(part, ShapePart | PatternPart) and getattr(part.form, "unit", "") == "px"


def retimed_to(template: Template, rate: str) -> Template:
    """Another frame rate at the same seconds; frames of moves, keys and spans are rounded to whole ones."""
    frame = msgspec.structs.replace(template.frame, rate=rate)
    factor = float(frame.fps / template.frame.fps)
    times = {key: max(1 if key == "length" else 0, round(getattr(template, key) * factor)) for key in ("length", "way_in", "way_out")}
    marks = tuple(msgspec.structs.replace(mark, frame=round(mark.frame * factor)) for mark in template.marks)
    parts = tuple(_retimed(part, factor) for part in template.parts)
    return check(msgspec.structs.replace(template, frame=frame, parts=parts, marks=marks, **times))


def _retimed(part: AnyPart, factor: float) -> AnyPart:
    for prop in properties(part):
        if prop.type.unit == "frames":
            value = prop.value * factor
            low = prop.type.low if prop.type.low is not None else value
            part = put_at(part, prop.path, max(round(low), round(value)) if prop.type.kind == "whole" else max(low, round(value, 3)))
    keys = tuple(msgspec.structs.replace(keyed, keys=tuple(_moved_key(key, factor) for key in keyed.keys)) for keyed in part.keys)
    return msgspec.structs.replace(part, keys=keys)


def _moved_key(key: Key, factor: float) -> Key:
    """A key at the same second, its slopes per frame of the new rate. One in the hold stays at its share."""
    slopes = {name: slope / factor for name in ("slope_in", "slope_out") if (slope := getattr(key, name)) is not None}
    at = key.at if key.tied == "hold" else float(round(key.at * factor))
    return msgspec.structs.replace(key, at=at, **slopes)


def rounded_by(template: Template, rate: str) -> list[str]:
    """What bringing a template to a rate has to round by more than a fiftieth of a frame, in words."""
    frame = msgspec.structs.replace(template.frame, rate=rate)
    factor = float(frame.fps / template.frame.fps)
    said = []
    for label, frames in (("length", template.length), ("way in", template.way_in), ("way out", template.way_out)):
        new = frames * factor
        if abs(new - round(new)) > 0.02:
            said.append(f"{label} {frames} → {round(new)} frames (exactly {new:.2f})")
    for part in template.parts:
        for prop in properties(part):
            new = prop.value * factor if prop.type.unit == "frames" and prop.type.kind == "whole" else 0.0
            if abs(new - round(new)) > 0.02:
                said.append(f"{part.name}, {prop.type.label.lower()}: {prop.value} → {round(new)} frames (exactly {new:.2f})")
    return said
