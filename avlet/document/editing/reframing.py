"""Bringing a template to another frame: scaled with all its px, or re-placed with its sizes kept; and to another rate."""

import math

import msgspec

from avlet.document.editing.converting import Conversion, converted, limited_by
from avlet.document.faults.checking import check
from avlet.document.metadata import properties
from avlet.document.parts import CounterPart
from avlet.document.template import Frame, Guides, Template

replace = msgspec.structs.replace


def smaller_ratio(template: Template, frame: Frame) -> float:
    """The smaller of the ratios of widths and heights: nothing leaves the frame when all goes by it."""
    return min(frame.width / template.frame.width, frame.height / template.frame.height)


def ratio_between(template: Template, frame: Frame) -> float:
    """Half-way, as ratios go, between the smaller ratio and that of the shorter sides.

    Upright frames are looked at as near as wide ones: by the shorter side type is as large in both, but less goes beside each other.
    """
    shorter = min(frame.width, frame.height) / min(template.frame.width, template.frame.height)
    return math.sqrt(smaller_ratio(template, frame) * shorter)


def scaled_to(template: Template, frame: Frame) -> Template:
    """Every length in px goes by the smaller of the two ratios, so that nothing leaves the frame; rates are kept."""
    return scaled_by(template, frame, smaller_ratio(template, frame))


def scaled_by(template: Template, frame: Frame, ratio: float) -> Template:
    """Every length in px is multiplied, in another frame; rates are kept."""
    conversion = Conversion("px", ratio)
    across, down = (tuple(conversion.number(at) for at in lines) for lines in (template.guides.across, template.guides.down))
    return check(
        replace(converted(template, conversion), frame=frame, guides=Guides(across, down, conversion.number(template.guides.grid)))
    )


def held_by(template: Template, frame: Frame, ratio: float | None = None) -> list[str]:
    """What cannot grow or shrink as far as bringing a template to a frame asks for, in words; by the smaller ratio unless one is given."""
    return limited_by(template, Conversion("px", smaller_ratio(template, frame) if ratio is None else ratio))


def replaced_in(template: Template, frame: Frame) -> Template:
    """Sizes and gaps stay as they are; what is placed on the frame and its safe areas goes with their edges."""
    return replace(template, frame=frame)


def _retiming(template: Template, rate: str) -> tuple[Frame, Conversion]:
    frame = replace(template.frame, rate=rate)
    return frame, Conversion("frames", float(frame.fps / template.frame.fps))


def retimed_to(template: Template, rate: str) -> Template:
    """Another frame rate at the same seconds; frames of moves, keys, spans and answers are rounded to whole ones."""
    frame, conversion = _retiming(template, rate)
    marks = tuple(replace(mark, frame=round(mark.frame * conversion.factor)) for mark in template.marks)
    kept = converted(template, Conversion("px a frame", 1 / conversion.factor))  # as many px a second as before
    return check(replace(converted(kept, conversion), frame=frame, marks=marks))


def rounded_by(template: Template, rate: str) -> list[str]:
    """What bringing a template to a rate has to round by more than a fiftieth of a frame, in words."""
    conversion = _retiming(template, rate)[1]
    factor = conversion.factor
    said = []
    for label, frames in (("length", template.length), ("way in", template.way_in), ("way out", template.way_out)):
        new = frames * factor
        if abs(new - round(new)) > 0.02:
            said.append(f"{label} {frames} → {round(new)} frames (exactly {new:.2f})")
    for part in template.parts:
        if isinstance(part, CounterPart) and part.writing.style == "timecode":
            for label, words in (("from", part.start), ("to", part.end)):
                exact = conversion.exactly(words)
                if exact.denominator > 1:
                    said.append(f"{part.name}, {label}: {words} → {conversion.in_frames(words)} frames (exactly {float(exact):.2f})")
        for prop in properties(part):
            new = prop.value * factor if prop.type.is_time and prop.type.kind == "whole" else 0.0
            if abs(new - round(new)) > 0.02:
                said.append(f"{part.name}, {prop.type.label.lower()}: {prop.value} → {round(new)} frames (exactly {new:.2f})")
    return said
