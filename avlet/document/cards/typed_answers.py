"""Answers as people type them: lengths as times, numbers as the counter writes them that they lead to."""

from collections.abc import Sequence
from decimal import Decimal
from fractions import Fraction
from typing import Any

from avlet.document.fields import Field, Files, LengthField, NumberField
from avlet.document.fields.number import answer_of, read_number
from avlet.document.parts import CounterPart
from avlet.document.template import Template
from avlet.errors import AnswerError
from avlet.numbers.lengths import frames_in, is_time
from avlet.numbers.typed import ENGLISH, read_clock
from avlet.numbers.written import Style


def as_counted(style: Style, rate: Fraction, words: str) -> Decimal | None:
    """What a counter of a style counts, from words that are no number: seconds from a clock, frames from timecode; None otherwise.

    Raises ``ValueError`` in words for timecode that is none at this rate.
    """
    if style == "clock":
        return read_clock(words)
    return Decimal(frames_in(words, rate)) if style == "timecode" and is_time(words) else None


def style_asked(template: Template, field_id: str) -> Style:
    """How the counter is written that a field leads straight to; as a number where it leads to none."""
    for part in template.parts:
        if isinstance(part, CounterPart) and any(w.source == field_id and w.target.startswith(f"{part.id}/") for w in template.wires):
            return part.writing.style
    return "number"


def read_typed(template: Template, field: Field, words: str, files: Files, languages: Sequence[str] = ENGLISH) -> Any:
    """The answer that words give to a field of a template, not yet held to its limits; raises ``AnswerError`` in words."""
    rate = template.frame.fps
    try:
        if isinstance(field, LengthField) and is_time(words):
            return frames_in(words, rate, languages)
        if isinstance(field, NumberField) and (counted := as_counted(style_asked(template, field.id), rate, words)) is not None:
            return answer_of(counted)
    except ValueError as error:
        raise AnswerError(f"“{field.label}”: {error}") from None
    if not field.numeric:
        return field.read(words, template.palette, files)
    number = read_number(field.label, words, languages)
    return number if field.kind == "number" else float(number)
