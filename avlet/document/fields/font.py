"""One of a list of faces."""

from collections.abc import Iterator
from typing import Annotated, Any, Self

import msgspec

from avlet.document.fields.base import Answer, BaseField, Files, House, Label, by_name, one_of
from avlet.document.fields.choice import doubled, options_schema
from avlet.document.metadata import PropertyType, Value
from avlet.errors import DocumentError


class FontChoice(Value, frozen=True):
    """A face by family and style."""

    family: Label
    style: Label

    @property
    def name(self) -> str:
        """What an editor reads, and what is answered."""
        return f"{self.family} {self.style}"


class FontField(BaseField, frozen=True, kw_only=True, tag="font"):
    """One of a list of faces; the answer is its name, such as *Fira Sans Bold*."""

    default: str
    fonts: Annotated[tuple[FontChoice, ...], msgspec.Meta(min_length=1, max_length=100)]

    def fault(self, answer: Any, house: House = ()) -> str:
        return one_of(self.label, answer, [f.name for f in self.fonts])

    def read(self, words: str, house: House, files: Files) -> Answer:
        return by_name(words.strip(), self.options_with(house))

    def schema(self, house: House) -> dict[str, Any]:
        return options_schema(self.options_with(house))

    def tried(self) -> list[tuple[str, Any]]:
        return [(f"{self.label} {f.name}", f.name) for f in self.fonts]

    def options_with(self, house: House) -> list[tuple[str, str]]:
        return [(f.name, f.name) for f in self.fonts]

    def _face(self, answer: Any) -> FontChoice:
        return next(f for f in self.fonts if f.name == answer)

    def value(self, answer: Any, house: House) -> Any:
        return self._face(answer).family

    def formatting(self, answer: Any) -> dict[str, Any]:
        return {"style": self._face(answer).style}

    def answer_to(self, value: Any, present: Any, named: str, house: House) -> Any:
        found = next((f.name for f in self.fonts if f.family == value), None)
        if found is None:
            raise DocumentError(f"{named} takes one of the fonts of “{self.label}”. Add it to them on the Card bench.")
        return found

    @property
    def faces(self) -> tuple[tuple[str, str], ...]:
        return tuple((f.family, f.style) for f in self.fonts)

    def own_faults(self, house: House) -> Iterator[str]:
        yield from doubled([f.name for f in self.fonts])

    def news(self, before: Self) -> Iterator[str]:
        if self.fonts != before.fonts:
            yield f"“{self.label}” has other fonts."

    @classmethod
    def for_property(cls, kind: PropertyType, field_id: str, label: str, value: Any, style: str) -> Self | None:
        face = FontChoice(value, style) if kind.kind == "font" else None
        return None if face is None else cls(id=field_id, label=label, default=face.name, fonts=(face,))
