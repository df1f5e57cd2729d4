"""One of several named options."""

from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from typing import Annotated, Any, Self

import msgspec

from avlet.document.fields.base import Answer, BaseField, Files, House, Label, by_name, one_of
from avlet.document.looks.forms import READY_FORMS, name_of_form
from avlet.document.metadata import PropertyType, Value
from avlet.numbers.languages import ENGLISH, language_name


def doubled(names: Sequence[str]) -> Iterator[str]:
    """The fault of each name that stands twice among options."""
    for twice in (name for name, count in Counter(names).items() if count > 1):
        yield f"has “{twice}” twice. Remove one."


def options_schema(options: Sequence[tuple[str, str]]) -> dict[str, Any]:
    """Options in a JSON Schema."""
    return {"oneOf": [{"const": key, "title": name} for key, name in options]}


class Option(Value, frozen=True):
    """One of the answers to a choice: what stands in files, and what the editor reads."""

    id: Annotated[str, msgspec.Meta(min_length=1, max_length=64)]
    name: Label


def language_options(codes: Iterable[str]) -> tuple[Option, ...]:
    """Languages as options, by their names."""
    return tuple(Option(code, language_name(code)) for code in codes)


class ChoiceField(BaseField, frozen=True, kw_only=True, tag="choice"):
    """One of several named options; the answer is the option's id."""

    default: str
    options: Annotated[tuple[Option, ...], msgspec.Meta(min_length=1, max_length=100)]

    def fault(self, answer: Any, house: House = ()) -> str:
        return one_of(self.label, answer, [o.id for o in self.options])

    def read(self, words: str, house: House, files: Files) -> Answer:
        return by_name(words.strip(), self.options_with(house))

    def schema(self, house: House) -> dict[str, Any]:
        return options_schema(self.options_with(house))

    def tried(self) -> list[tuple[str, Any]]:
        return [(f"{self.label} {o.name}", o.id) for o in self.options]

    def options_with(self, house: House) -> list[tuple[str, str]]:
        return [(o.id, o.name) for o in self.options]

    def own_faults(self, house: House) -> Iterator[str]:
        yield from doubled([o.id for o in self.options])

    def news(self, before: Self) -> Iterator[str]:
        if self.options != before.options:
            yield f"“{self.label}” has other options."

    @classmethod
    def for_property(cls, kind: PropertyType, field_id: str, label: str, value: Any, style: str) -> Self | None:
        if kind.kind == "form":
            options = tuple(Option(name, name.capitalize()) for name in READY_FORMS)
            return cls(id=field_id, label=label, default=name_of_form(value), options=options)
        if kind.kind == "text" and kind.name == "language":
            return cls(id=field_id, label=label, default=value, options=language_options(dict.fromkeys((value, ENGLISH))))
        if kind.kind != "choice":
            return None
        return cls(id=field_id, label=label, default=value, options=tuple(Option(c, c.capitalize()) for c in kind.choices))

    @classmethod
    def example(cls) -> tuple[str, Self] | None:
        sides = tuple(Option(side, side.capitalize()) for side in ("left", "middle", "right"))
        return "Choice", cls(id="f", label="Side", default="left", options=sides)
