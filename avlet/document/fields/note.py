"""Words to read; nothing to answer."""

from typing import Any, ClassVar, Self

from avlet.document.fields.base import BaseField, House


class NoteField(BaseField, frozen=True, kw_only=True, tag="note"):
    """Words to read; nothing to answer."""

    words: str = ""

    asks: ClassVar[bool] = False

    def fault(self, answer: Any, house: House = ()) -> str:
        return f"“{self.label}” is a note; it takes no answer."

    @classmethod
    def example(cls) -> tuple[str, Self] | None:
        return "Note to read", cls(id="f", label="Note", words="What an editor should know")
