"""Words."""

from typing import Annotated, Any, ClassVar, Literal, Self, get_args

import msgspec

from avlet.document.fields.base import Answer, BaseField, Files, House
from avlet.document.metadata import PropertyType, brief, is_number
from avlet.document.parts import Align
from avlet.limits import MOST_LETTERS
from avlet.numbers.exact import in_figures

Formatting = Literal["font", "size", "alignment"]
"""What an editor may change of a text besides its words; a font is a family and a style."""
FORMATS: dict[str, tuple[str, ...]] = {"font": ("family", "style"), "size": ("size",), "alignment": ("align",)}
"""The keys that an answer may have besides its words, by what the editor may change."""
ALIGNED: dict[Align, str] = {"start": "left", "middle": "middle", "end": "right", "justified": "justified"}
"""How an editor calls each alignment."""
WEIGHTS = ("Light", "Regular", "Medium", "Bold", "Italic")
"""Styles that an editor is offered."""
SMALLEST, LARGEST = 1.0, 4000.0
"""Limits of the size of formatted words, in px."""
LINE_ENDS = "\n\r\v\f\x1c\x1d\x1e\x85\u2028\u2029"
"""All that ends a line (UAX #14, classes BK, CR, LF and NL, and the separators of ASCII)."""


def words_of(answer: Any) -> str:
    """The words of an answer, with or without formatting."""
    return str(answer.get("text", "")) if isinstance(answer, dict) else str(answer)


class TextField(BaseField, frozen=True, kw_only=True, tag="text"):
    """Words, on one line or on several. ``may`` is what else of the text can be changed.

    The answer is the words, or an object with ``text`` and any of ``family``, ``style``, ``size`` (px) and ``align``.
    """

    default: str = ""
    several_lines: bool = False
    longest: Annotated[int, msgspec.Meta(ge=1, le=MOST_LETTERS)] = 10_000
    may: tuple[Formatting, ...] = ()

    wants_hint: ClassVar[bool] = True

    def fault(self, answer: Any, house: House = ()) -> str:
        words = answer
        if isinstance(answer, dict):
            words = answer.get("text")
            allowed = [key for may in self.may for key in FORMATS[may]]
            for key, given in answer.items():
                if key != "text" and key not in allowed:
                    return f"“{self.label}” does not let its {brief(key)} be changed."
                if key != "text" and (fault := self._formatting_fault(key, given)):
                    return fault
        if not isinstance(words, str):
            return f"“{self.label}” takes words, not “{brief(words)}”."
        if not self.several_lines and any(end in words for end in LINE_ENDS):
            return f"“{self.label}” takes one line. Remove the line break."
        if len(words) > self.longest:
            return f"“{self.label}” takes at most {self.longest} characters; this has {len(words)}."
        return ""

    def _formatting_fault(self, key: str, given: Any) -> str:
        if key == "size":
            fits = is_number(given) and SMALLEST <= given <= LARGEST
            return "" if fits else f"The size of “{self.label}” is {in_figures(SMALLEST)} to {in_figures(LARGEST)} px."
        if key == "align":
            return "" if given in get_args(Align) else f"“{self.label}” is aligned to one of {', '.join(get_args(Align))}."
        return "" if isinstance(given, str) else f"The {brief(key)} of “{self.label}” is given by its name."

    def read(self, words: str, house: House, files: Files) -> Answer:
        return words.replace("\\n", "\n")

    def schema(self, house: House) -> dict[str, Any]:
        bare: dict[str, Any] = {"type": "string", "maxLength": self.longest}
        if not self.several_lines:
            bare["pattern"] = "^[^" + "".join(f"\\u{ord(end):04x}" for end in LINE_ENDS) + "]*$"
        formats: dict[str, dict[str, Any]] = {
            "family": {"type": "string"}, "style": {"type": "string"}, "align": {"enum": list(get_args(Align))},
            "size": {"type": "number", "minimum": SMALLEST, "maximum": LARGEST},
        }  # fmt: skip
        allowed = {key: formats[key] for may in self.may for key in FORMATS[may]}
        whole = {"type": "object", "properties": {"text": bare, **allowed}, "additionalProperties": False, "required": ["text"]}
        return {"anyOf": [bare, whole]}

    def value(self, answer: Any, house: House) -> Any:
        return words_of(answer)

    def answer_to(self, value: Any, present: Any, named: str, house: House) -> Any:
        return {**present, "text": value} if isinstance(present, dict) else value

    def formatting(self, answer: Any) -> dict[str, Any]:
        return {key: value for key, value in answer.items() if key != "text"} if isinstance(answer, dict) else {}

    def multiplied_answer(self, answer: Any, factor: float) -> Any:
        if isinstance(answer, dict) and "size" in answer:
            return {**answer, "size": round(answer["size"] * factor, 4)}
        return answer

    @classmethod
    def for_property(cls, kind: PropertyType, field_id: str, label: str, value: Any, style: str) -> Self | None:
        return cls(id=field_id, label=label, default=value, several_lines="\n" in value) if kind.kind == "text" else None

    @classmethod
    def example(cls) -> tuple[str, Self] | None:
        return "Words", cls(id="f", label="Words")
