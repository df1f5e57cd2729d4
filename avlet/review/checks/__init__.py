"""The checks, in the order in which they are told. Each stands in a file of its own, with its limit and whose that is."""

from avlet.review.checks import (
    contrast,
    early_late,
    empty_ends,
    fine_strokes,
    flashes,
    fonts,
    inside,
    jumps,
    overlong,
    reading,
    small_type,
    spans,
    speed,
)
from avlet.review.checks.base import LEVELS, Check, Finding, Level

CHECKS: tuple[Check, ...] = (
    empty_ends.CHECK, early_late.CHECK, inside.CHECK, jumps.CHECK, reading.CHECK, contrast.CHECK, flashes.CHECK, fine_strokes.CHECK,
    small_type.CHECK, overlong.CHECK, spans.CHECK, fonts.CHECK, speed.CHECK,
)  # fmt: skip
__all__ = ["CHECKS", "LEVELS", "Check", "Finding", "Level", "fonts", "inside", "overlong"]
