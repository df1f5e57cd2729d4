"""A list of credits: its rows as they are set, how they are dealt out into pages, and one such page."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from avlet.document.looks.pictures import read_picture
from avlet.document.parts import FRAME, TITLE_SAFE, AnyPart, CreditsPart
from avlet.document.template import Frame
from avlet.geometry import Axis, Box
from avlet.layout.areas import frame_area
from avlet.layout.bodies.body import Body, Layout, Making, lacking_words
from avlet.layout.bodies.words import Words
from avlet.layout.pages import Page, dealt
from avlet.text.fonts import Face, FontBook
from avlet.text.setting import named_faces
from avlet.text.strip import Strip, strip_of


@dataclass(frozen=True, eq=False)
class RollingList(Body):
    """All rows of a list along one axis; ``frame`` is what it moves through. ``pace`` is the whole px a frame at which it moves just now,
    while it lies whole px from where it lies in other frames; else 0.
    """

    strip: Strip
    pages: tuple[Page, ...]
    frame: Box
    pace: float = 0.0

    def size(self, part: AnyPart, layout: Layout, axis: Axis) -> float:
        """As wide as its columns and as long as all its rows; in pages as high as the highest."""
        assert isinstance(part, CreditsPart)
        if part.movement.how == "pages" and axis == 1:
            return max((_height(self.strip, page) for page in self.pages), default=0.0)
        return self.strip.length if axis == self.strip.axis else self.strip.breadth

    def filled(self, part: AnyPart, layout: Layout) -> bool:
        return bool(self.strip.rows)

    def ink(self, box: Box) -> Box | None:
        low, high = self.strip.extent
        if box.empty or high <= low:
            return None
        return Box(box.x + low, box.y, high - low, box.h) if self.strip.axis == 1 else box

    def ever(self, ink: Box, part: AnyPart, box: Box, safe: Box) -> Box:
        """What rolls is everywhere along its way."""
        assert isinstance(part, CreditsPart)
        if not part.rolls:
            return ink
        return Box(safe.x, ink.y, safe.w, ink.h) if part.movement.how == "crawls" else Box(ink.x, safe.y, ink.w, safe.h)

    def notes(self, part: AnyPart, frame: Frame) -> list[str]:
        assert isinstance(part, CreditsPart)
        return list_notes(part, self.strip, self.pages, frame_area(TITLE_SAFE, frame).h)

    def faces(self, part: AnyPart, book: FontBook) -> Iterable[Face]:
        return (face.base for face in (*(book.find(*named)[0] for named in named_faces(part)), *self.strip.standing_in))

    @property
    def lacking(self) -> tuple[str, ...]:
        return tuple(self.strip.lacking)

    @property
    def substitutes(self) -> tuple[str, ...]:
        return tuple(self.strip.setter.substitutes())


class PageOfList(Words):
    """The rows of one page, set as any words."""


def list_of(part: CreditsPart, making: Making) -> RollingList:
    """A list, set and dealt out."""
    strip = strip_of(part, making.book)
    pages = dealt(strip, part.blocks, frame_area(TITLE_SAFE, making.frame).h) if part.movement.how == "pages" else ()
    return RollingList(strip, pages, frame_area(FRAME, making.frame))


def _height(strip: Strip, page: Page) -> float:
    return float(strip.ends[page.first : page.last].max() - strip.begins[page.first])


def list_notes(part: CreditsPart, strip: Strip, pages: Sequence[Page], room: float) -> list[str]:
    """What is to be said of a list: faces and glyphs that are missing, lines and pages that are too long, pictures that cannot be shown."""
    said = [*strip.setter.substitutes(), *(f"{part.name}: {remark}." for remark in strip.remarks)]
    if lacking := strip.lacking:
        said.append(lacking_words(part.name, lacking))
    if not strip.rows:
        said.append(f"{part.name} has an empty list. Add a row, paste some from a spreadsheet, or open a list file.")
    high = sum(_height(strip, page) > room + 0.01 for page in pages)
    if high:
        said.append(f"{part.name}: {high} of {len(pages)} pages are higher than the safe area. Break them, or set them smaller.")
    for picture in strip.pictures:
        facts = read_picture(picture)
        said += [f"{part.name}: {words}" for words in ((facts.fault,) if facts.fault else ()) + facts.left_out]
    return said
