"""Live copies: of what their original shows, or of its look with words of their own."""

from dataclasses import dataclass, replace

import msgspec

from avlet.document.parts import AnyPart, EchoPart, TextPart
from avlet.document.template import Frame
from avlet.geometry import Axis, Box
from avlet.layout.bodies.body import Body, Layout, Making
from avlet.layout.bodies.words import Words, setting_notes
from avlet.layout.rest import RestPart
from avlet.text.fonts import Face, FontBook
from avlet.text.setting import Setting, faces_used


class LiveCopy(Body):
    """What its original is just then; as large, there and filled as that."""

    def size(self, part: AnyPart, layout: Layout, axis: Axis) -> float:
        assert isinstance(part, EchoPart)
        return layout.sizes[part.of, axis]

    def there(self, part: AnyPart, layout: Layout, asked: frozenset[str], grouped: bool) -> bool:
        assert isinstance(part, EchoPart)
        return part.of in asked or layout.hidden(part.of) or layout.there(part.of, asked | {part.id})

    def filled(self, part: AnyPart, layout: Layout) -> bool:
        assert isinstance(part, EchoPart)
        return layout.filled(part.of)


@dataclass(frozen=True, eq=False)
class SpokenCopy(LiveCopy):
    """Its original's look and moves, with words of its own: ``text`` is the original with those, ``rest`` that at rest."""

    text: TextPart
    spoken: Setting
    rest: RestPart | None = None

    @property
    def words(self) -> Setting:
        return self.spoken

    @property
    def standing_in(self) -> RestPart | None:
        return self.rest

    def size(self, part: AnyPart, layout: Layout, axis: Axis) -> float:
        return self.spoken.line_box[axis + 2]

    def filled(self, part: AnyPart, layout: Layout) -> bool:
        return self.spoken.ink_box is not None

    def settled(self, part: AnyPart, layout: Layout) -> "SpokenCopy":
        box, original = layout.box(part.id), layout.box(self.text.id)
        there = Box(original.x, original.y, box.w, box.h)
        return replace(self, rest=RestPart(self.text, there, Words(self.spoken), *layout.presence(self.text.id)))

    def notes(self, part: AnyPart, frame: Frame) -> list[str]:
        return setting_notes(part.name, self.spoken)

    def faces(self, part: AnyPart, book: FontBook) -> list[Face]:
        return faces_used(self.text, self.spoken, book)


def copy_of(part: EchoPart, making: Making) -> LiveCopy:
    """An echo's body."""
    original = making.parts.get(part.of)
    if not part.words or not isinstance(original, TextPart):
        return LiveCopy()
    text = msgspec.structs.replace(original, text=part.words, name=part.name)
    return SpokenCopy(text, making.set_again(part.id, text))
