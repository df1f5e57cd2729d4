"""A number between limits."""

from collections.abc import Iterator, Sequence
from decimal import Decimal
from typing import Annotated, Any, ClassVar, Self

import msgspec

from avlet.document.fields.base import Answer, BaseField, Files, House
from avlet.document.metadata import PropertyType, brief, is_number
from avlet.errors import AnswerError
from avlet.numbers.exact import exact, in_figures, plain
from avlet.numbers.typed import ENGLISH, AmbiguousNumberError
from avlet.numbers.typed import read_number as read

PLAIN = r"^-?[0-9]{1,16}(\.[0-9]{1,9})?$"
"""An exact number as plain text, where a float would not hold it."""
_EXACT = 4
"""Decimals that a multiplied number keeps."""


def number_fault(label: str, value: Any, low: float | None, high: float | None, unit: str) -> str:
    """Why a value is no number between two limits, as a sentence; empty when it is."""
    if not is_number(value) and not isinstance(value, Decimal):
        return f"“{label}” takes a number, not “{brief(value)}”."
    if (low is not None and value < low) or (high is not None and value > high):
        from_low = "" if low is None else f"from {in_figures(low)} "
        to_high = "" if high is None else f"to {in_figures(high)} "
        return f"“{label}” takes a number {from_low}{to_high}{unit}".rstrip() + f", not {in_figures(value)}."
    return ""


def read_number(label: str, words: str, languages: Sequence[str] = ENGLISH) -> float | str:
    """A number from words, as people of these languages write them; raises ``AnswerError``."""
    try:
        return answer_of(exact(read(words, languages)))
    except AmbiguousNumberError as error:
        raise AnswerError(f"“{label}”: {error}") from None
    except ValueError:
        raise AnswerError(f"“{label}” takes a number, not “{brief(words)}”.") from None


def answer_of(number: Decimal) -> float | str:
    """A number as an answer has it: as plain text only where a float would not be exact."""
    as_float = float(number)
    return as_float if Decimal(repr(as_float)) == number else plain(number)


class NumberField(BaseField, frozen=True, kw_only=True, tag="number"):
    """A number between limits, answered on a slider or typed as a figure."""

    default: float | Annotated[str, msgspec.Meta(pattern=PLAIN)] = 0.0
    low: float | None = None
    high: float | None = None
    step: Annotated[float, msgspec.Meta(gt=0)] = 1.0
    unit: str = ""
    figure_only: bool = False

    numeric: ClassVar[bool] = True
    wants_hint: ClassVar[bool] = True

    @property
    def measured_in(self) -> str:
        return self.unit

    def fault(self, answer: Any, house: House = ()) -> str:
        if isinstance(answer, str):
            try:
                answer = exact(answer)
            except ValueError as error:
                return f"“{self.label}” {error}."
        return number_fault(self.label, answer, self.low, self.high, self.unit)

    def kept(self, answer: Any) -> Answer:
        return answer_of(exact(answer)) if isinstance(answer, str) else float(answer)

    def read(self, words: str, house: House, files: Files) -> Answer:
        return read_number(self.label, words)

    def schema(self, house: House) -> dict[str, Any]:
        return {"anyOf": [{"type": "number"} | limits_schema(self.low, self.high), {"type": "string", "pattern": PLAIN}]}

    def tried(self) -> list[tuple[str, Any]]:
        return [(f"{self.label} {in_figures(v)}", v) for v in (self.low, self.high) if v is not None]

    def own_faults(self, house: House) -> Iterator[str]:
        if self.low is not None and self.high is not None and self.low > self.high:
            yield f"goes from {in_figures(self.low)} to {in_figures(self.high)}. Swap its limits."

    def remarks(self) -> Iterator[str]:
        if self.low is None or self.high is None:
            yield f"“{self.label}” has no limits; any number can be typed."

    def news(self, before: Self) -> Iterator[str]:
        if (self.low, self.high) != (before.low, before.high):
            yield f"“{self.label}” has other limits."

    def multiplied(self, factor: float) -> Self:
        names = ("default", "low", "high", "step")
        made = {n: round(float(v) * factor, _EXACT) for n in names if (v := getattr(self, n)) is not None}
        return msgspec.structs.replace(self, **{**made, "step": max(made["step"], 10.0**-_EXACT)})

    def multiplied_answer(self, answer: Any, factor: float) -> Any:
        return round(float(answer) * factor, _EXACT)

    @classmethod
    def for_property(cls, kind: PropertyType, field_id: str, label: str, value: Any, style: str) -> Self | None:
        if kind.kind not in ("number", "whole", "decimal"):
            return None
        return cls(id=field_id, label=label, default=float(value), low=kind.low, high=kind.high, step=float(kind.step), unit=kind.unit)

    @classmethod
    def example(cls) -> tuple[str, Self] | None:
        return "Number", cls(id="f", label="Number", default=50, low=0, high=100, unit="%")


def limits_schema(low: float | None, high: float | None) -> dict[str, Any]:
    """The limits of a number in a JSON Schema."""
    return {key: v for key, v in (("minimum", low), ("maximum", high)) if v is not None}
