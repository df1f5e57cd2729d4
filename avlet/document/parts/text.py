"""Words."""

from typing import Annotated

from avlet.document.metadata import prop
from avlet.document.parts.typeset import TypesetPart


class TextPart(TypesetPart, frozen=True, kw_only=True, tag="text"):
    """Words in one style and up to two accents; a line ends where a line break was typed, or where its room ends.

    A typed line is a paragraph.
    """

    text: Annotated[str, prop("Text", group="words", keyed=False)] = "Words"

    @property
    def written(self) -> dict[str, str]:
        return {"text": self.text}
