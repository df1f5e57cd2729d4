"""How large each kind of part is where nothing else decides it: its words, its own numbers, what it holds or copies."""

from collections.abc import Callable, Mapping
from typing import Any, Protocol

from avlet.document.parts import (
    AnyPart,
    BallPart,
    CounterPart,
    CreditsPart,
    EchoPart,
    GroupPart,
    LampPart,
    PatternPart,
    PicturePart,
    RulePart,
    ShapePart,
    SpacePart,
    TextPart,
    TypesetPart,
)
from avlet.geometry import Axis
from avlet.layout.copies import Copies
from avlet.layout.pages import Page
from avlet.text.setting import Setting
from avlet.text.strip import Strip


class Known(Protocol):
    """What is known of a layout so far."""

    settings: Mapping[str, Setting]
    copies: Mapping[str, Copies]
    strips: Mapping[str, Strip]
    pages: Mapping[str, tuple[Page, ...]]
    sizes: dict[tuple[str, Axis], float]

    def joint(self, part_id: str, axis: Axis) -> tuple[float, float]:
        """Low and high edge of a group."""


def _of_words(layout: Known, part: TypesetPart, axis: Axis) -> float:
    return layout.settings[part.id].line_box[axis + 2]


def _of_numbers(layout: Known, part: AnyPart, axis: Axis) -> float:
    name = part.size_names[axis]
    return float(getattr(part, name)) if name is not None else 0.0


def _of_copies(layout: Known, part: PatternPart, axis: Axis) -> float:
    if part.id in layout.copies:
        box = layout.copies[part.id].ink_box
        return box[axis + 2] if box else 0.0
    return part.width if axis == 0 else part.height


def _of_members(layout: Known, part: GroupPart, axis: Axis) -> float:
    low, high = layout.joint(part.id, axis)
    return high - low


def _of_the_original(layout: Known, part: EchoPart, axis: Axis) -> float:
    """As large as its original, or as its own words."""
    own = layout.settings.get(part.id)
    return own.line_box[axis + 2] if own is not None else layout.sizes[part.of, axis]


def _of_a_list(layout: Known, part: CreditsPart, axis: Axis) -> float:
    """As wide as its columns and as long as all its rows; in pages as high as the highest."""
    strip = layout.strips[part.id]
    if part.movement.how == "pages" and axis == 1:
        return max((float(strip.ends[p.first : p.last].max() - strip.begins[p.first]) for p in layout.pages[part.id]), default=0.0)
    return strip.length if axis == strip.axis else strip.breadth


OWN_SIZES: dict[type[AnyPart], Callable[[Any, Any, Axis], float]] = {
    TextPart: _of_words, CounterPart: _of_words, CreditsPart: _of_a_list, ShapePart: _of_numbers, RulePart: _of_numbers,
    BallPart: _of_numbers, LampPart: _of_numbers,
    PicturePart: _of_numbers, PatternPart: _of_copies, GroupPart: _of_members, SpacePart: _of_members, EchoPart: _of_the_original,
}  # fmt: skip
"""By kind of part: its size in px along an axis."""
