"""Words."""

from typing import Annotated

from avlet.document.metadata import prop
from avlet.document.parts.typeset import TypesetPart


class TextPart(TypesetPart, frozen=True, kw_only=True, tag="text"):
    """Words in one style and up to two accents; a line ends where a line break was typed, or where its room ends.

    A typed line is a paragraph. With ``equal_room`` each letter stands in the middle of a room as wide as the widest. ``slant`` and
    ``weight`` make letters slanted and heavier than their face has them, for families without such faces.
    """

    text: Annotated[str, prop("Text", group="words", keyed=False)] = "Words"
    equal_room: Annotated[bool, prop("Equal room for each letter", keyed=False, changes="setting")] = False
    slant: Annotated[float, prop("Slanted by", unit="°", low=-45, high=45, keyed=False, changes="setting")] = 0.0
    weight: Annotated[float, prop("Heavier by", unit="px", low=0, high=100, keyed=False, changes="setting")] = 0.0

    @property
    def written(self) -> dict[str, str]:
        return {"text": self.text}
