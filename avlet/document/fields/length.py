"""A length in time."""

from collections.abc import Iterator
from typing import Annotated, Any, ClassVar, Self

import msgspec

from avlet.document.fields.base import Answer, BaseField, Files, House
from avlet.document.fields.number import limits_schema, number_fault, read_number
from avlet.document.metadata import PropertyType
from avlet.limits import MOST_FRAMES
from avlet.numbers.exact import in_figures

_Frames = Annotated[int, msgspec.Meta(ge=0, le=MOST_FRAMES)]


class LengthField(BaseField, frozen=True, kw_only=True, tag="length"):
    """A length in time, in whole frames of the template."""

    default: _Frames = 25
    low: _Frames = 0
    high: _Frames = 1_000

    numeric: ClassVar[bool] = True
    wants_hint: ClassVar[bool] = True

    @property
    def measured_in(self) -> str:
        return "frames"

    def fault(self, answer: Any, house: House = ()) -> str:
        fault = number_fault(self.label, answer, self.low, self.high, "frames")
        return fault or ("" if float(answer).is_integer() else f"“{self.label}” takes whole frames, not {in_figures(answer)}.")

    def kept(self, answer: Any) -> Answer:
        return int(answer)

    def read(self, words: str, house: House, files: Files) -> Answer:
        return float(read_number(self.label, words))

    def schema(self, house: House) -> dict[str, Any]:
        return {"type": "integer"} | limits_schema(self.low, self.high)

    def tried(self) -> list[tuple[str, Any]]:
        return [(f"{self.label} {in_figures(v)}", v) for v in (self.low, self.high)]

    def own_faults(self, house: House) -> Iterator[str]:
        if self.low > self.high:
            yield f"goes from {in_figures(self.low)} to {in_figures(self.high)}. Swap its limits."

    def news(self, before: Self) -> Iterator[str]:
        if (self.low, self.high) != (before.low, before.high):
            yield f"“{self.label}” has other limits."

    def multiplied(self, factor: float) -> Self:
        low, high = round(self.low * factor), round(self.high * factor)
        default = min(high, max(low, round(self.default * factor)))
        return msgspec.structs.replace(self, default=default, low=low, high=high)

    def multiplied_answer(self, answer: Any, factor: float) -> Any:
        return min(round(self.high * factor), max(round(self.low * factor), round(answer * factor)))

    @classmethod
    def for_property(cls, kind: PropertyType, field_id: str, label: str, value: Any, style: str) -> Self | None:
        if kind.kind != "whole" or not kind.is_time:
            return None
        high = int(kind.high) if kind.high is not None and kind.high <= 1000 else max(250, value * 4)
        return cls(id=field_id, label=label, default=value, low=int(kind.low or 0), high=high)

    @classmethod
    def example(cls) -> tuple[str, Self] | None:
        return "Length in time", cls(id="f", label="Length")
