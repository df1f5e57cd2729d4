"""Words: a text as it is set, a page of a list, and what a text and a counter have in common."""

from collections.abc import Iterable
from dataclasses import dataclass

from avlet.document.parts import AnyPart, TextPart, TypesetPart
from avlet.document.template import Frame
from avlet.geometry import Axis
from avlet.layout.bodies.body import Body, Layout, Making, lacking_words
from avlet.text.fonts import Face, FontBook
from avlet.text.setting import Setting, faces_used


def setting_notes(name: str, setting: Setting) -> list[str]:
    """What is to be said of set words."""
    found = [
        *setting.substitutes,
        *([f"{name} {setting.drawn}."] if setting.drawn else []),
        *(f"{name} {remark}." for remark in setting.remarks),
    ]
    return [*found, lacking_words(name, setting.lacking)] if setting.lacking else found


@dataclass(frozen=True, eq=False)
class Words(Body):
    """Set words, which are as large as their lines."""

    set: Setting

    @property
    def setting(self) -> Setting:
        return self.set

    def size(self, part: AnyPart, layout: Layout, axis: Axis) -> float:
        return self.set.line_box[axis + 2]

    def notes(self, part: AnyPart, frame: Frame) -> list[str]:
        return setting_notes(part.name, self.set)

    def faces(self, part: AnyPart, book: FontBook) -> Iterable[Face]:
        return faces_used(part, self.set, book) if isinstance(part, TypesetPart) else ()


def words_of(part: TextPart, making: Making) -> Words:
    """A text, set."""
    return Words(making.set_again(part.id, part))
