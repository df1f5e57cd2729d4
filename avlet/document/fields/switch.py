"""Yes or no."""

from typing import Any, Self

from avlet.document.fields.base import Answer, BaseField, Files, House
from avlet.document.metadata import PropertyType, brief
from avlet.errors import AnswerError

_YES = ("yes", "true", "on", "1", "y", "✓", "ja", "oui", "si", "sí", "sì", "ie", "tak", "ano")
_NO = ("no", "false", "off", "0", "n", "✗", "nein", "nee", "non", "na", "nie", "ne")
"""In words of some languages as well: tables are filled in by many hands."""


class SwitchField(BaseField, frozen=True, kw_only=True, tag="switch"):
    """Yes or no."""

    default: bool = True

    def fault(self, answer: Any, house: House = ()) -> str:
        return "" if isinstance(answer, bool) else f"“{self.label}” takes yes or no, not “{brief(answer)}”."

    def read(self, words: str, house: House, files: Files) -> Answer:
        word = words.strip().casefold()
        if word not in _YES + _NO:
            raise AnswerError(f"“{self.label}” takes yes or no, not “{brief(words)}”.")
        return word in _YES

    def schema(self, house: House) -> dict[str, Any]:
        return {"type": "boolean"}

    def tried(self) -> list[tuple[str, Any]]:
        return [(f"{self.label} {'on' if on else 'off'}", on) for on in (True, False)]

    def options_with(self, house: House) -> list[tuple[str, str]]:
        return [("yes", "yes"), ("no", "no")]

    def option_of(self, key: str) -> Any:
        return key == "yes"

    @classmethod
    def for_property(cls, kind: PropertyType, field_id: str, label: str, value: Any, style: str) -> Self | None:
        return cls(id=field_id, label=label, default=value) if kind.kind == "switch" else None

    @classmethod
    def example(cls) -> tuple[str, Self] | None:
        return "Switch", cls(id="f", label="Switch")
