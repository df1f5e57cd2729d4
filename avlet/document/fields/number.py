"""A number between limits."""

from collections.abc import Iterator
from typing import Annotated, Any, ClassVar, Self

import msgspec

from avlet.document.fields.base import Answer, BaseField, House, ReadFile
from avlet.document.metadata import PropertyType, brief, is_number
from avlet.errors import AnswerError

_EXACT = 4
"""Decimals that a multiplied number keeps."""


def number_fault(label: str, value: Any, low: float | None, high: float | None, unit: str) -> str:
    """Why a value is no number between two limits, as a sentence; empty when it is."""
    if not is_number(value):
        return f"“{label}” takes a number, not “{brief(value)}”."
    if (low is not None and value < low) or (high is not None and value > high):
        from_low = "" if low is None else f"from {low:g} "
        to_high = "" if high is None else f"to {high:g} "
        return f"“{label}” takes a number {from_low}{to_high}{unit}".rstrip() + f", not {value:g}."
    return ""


def read_number(label: str, words: str) -> float:
    """A number from words; raises ``AnswerError``."""
    try:
        return float(words.strip().replace(",", "."))
    except ValueError:
        raise AnswerError(f"“{label}” takes a number, not “{brief(words)}”.") from None


class NumberField(BaseField, frozen=True, kw_only=True, tag="number"):
    """A number between limits, answered on a slider or typed as a figure."""

    default: float = 0.0
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
        return number_fault(self.label, answer, self.low, self.high, self.unit)

    def kept(self, answer: Any) -> Answer:
        return float(answer)

    def read(self, words: str, house: House, read_file: ReadFile) -> Answer:
        return read_number(self.label, words)

    def schema(self, house: House) -> dict[str, Any]:
        return {"type": "number"} | limits_schema(self.low, self.high)

    def tried(self) -> list[tuple[str, Any]]:
        return [(f"{self.label} {v:g}", v) for v in (self.low, self.high) if v is not None]

    def own_faults(self, house: House) -> Iterator[str]:
        if self.low is not None and self.high is not None and self.low > self.high:
            yield f"goes from {self.low:g} to {self.high:g}. Swap its limits."

    def remarks(self) -> Iterator[str]:
        if self.low is None or self.high is None:
            yield f"“{self.label}” has no limits; any number can be typed."

    def news(self, before: Self) -> Iterator[str]:
        if (self.low, self.high) != (before.low, before.high):
            yield f"“{self.label}” has other limits."

    def multiplied(self, factor: float) -> Self:
        names = ("default", "low", "high", "step")
        made = {n: round(v * factor, _EXACT) for n in names if (v := getattr(self, n)) is not None}
        return msgspec.structs.replace(self, **{**made, "step": max(made["step"], 10.0**-_EXACT)})

    def multiplied_answer(self, answer: Any, factor: float) -> Any:
        return round(answer * factor, _EXACT)

    @classmethod
    def for_property(cls, kind: PropertyType, field_id: str, label: str, value: Any, style: str) -> Self | None:
        if kind.kind not in ("number", "whole"):
            return None
        return cls(id=field_id, label=label, default=float(value), low=kind.low, high=kind.high, step=float(kind.step), unit=kind.unit)

    @classmethod
    def example(cls) -> tuple[str, Self] | None:
        return "Number", cls(id="f", label="Number", default=50, low=0, high=100, unit="%")


def limits_schema(low: float | None, high: float | None) -> dict[str, Any]:
    """The limits of a number in a JSON Schema."""
    return {key: v for key, v in (("minimum", low), ("maximum", high)) if v is not None}
