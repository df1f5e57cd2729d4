"""What a part is made of, whatever its kind: the questions that layout, moves, checks and painting ask of it."""

from collections.abc import Iterable, Mapping
from typing import TYPE_CHECKING, Protocol

import numpy as np

from avlet.arrays import Floats, Ints
from avlet.document.looks.forms import FreeForm, path_fault
from avlet.document.looks.picture_file import PictureFile
from avlet.document.looks.pictures import read_picture
from avlet.document.parts import AnyPart, PicturePart, TextPart
from avlet.document.template import Frame
from avlet.document.time.moves import Unit
from avlet.geometry import Axis, Box
from avlet.text.fonts import Face, FontBook
from avlet.text.setting import Setting

if TYPE_CHECKING:
    from avlet.layout.rest import RestPart


class Units(Protocol):
    """Pieces that moves take one at a time: letters, words and lines of a text; copies and rows of a pattern."""

    @property
    def counts(self) -> Mapping[Unit, int]:
        """How many there are of each kind."""

    @property
    def unit_of(self) -> Mapping[Unit, Ints]:
        """For each piece the number of the unit that it belongs to."""

    @property
    def ink_box(self) -> Box | None:
        """What all of them cover, in px from the corner of the part."""

    def unit_ink(self, unit: Unit) -> Floats:
        """What each covers, (units, 4), in px from the corner of the part."""


class Making(Protocol):
    """What bodies are made of besides their part."""

    @property
    def parts(self) -> Mapping[str, AnyPart]:
        """All parts by id."""

    @property
    def frame(self) -> Frame:
        """Picture size and rate."""

    @property
    def book(self) -> FontBook:
        """Fonts."""

    def set_again(self, part_id: str, text: TextPart) -> Setting:
        """Words set, or those of a layout before where they are the same there."""


class Layout(Protocol):
    """What is known of a layout so far."""

    @property
    def sizes(self) -> Mapping[tuple[str, Axis], float]:
        """Sizes in px by part and axis, as far as they were worked out."""

    def box(self, part_id: str) -> Box:
        """The box of a part, once all of it is known."""

    def presence(self, part_id: str) -> tuple[bool, bool]:
        """Whether a part is there, and whether it would be if its groups were shown."""

    def there(self, part_id: str, asked: frozenset[str] = frozenset(), grouped: bool = True) -> bool:
        """Whether a part is there; ``asked`` are those that are being asked already, ``grouped`` False leaves groups aside."""

    def hidden(self, part_id: str) -> bool:
        """Whether a part is switched off."""

    def filled(self, part_id: str) -> bool:
        """Whether there is something in a part."""

    def members(self, group: str) -> list[str]:
        """The ids of a group's members, back to front."""

    def joint(self, group: str, axis: Axis) -> tuple[float, float]:
        """Low and high edge of a group."""


class Body:
    """What ``arrange`` makes of a part. This is one that fills its box; other kinds say what is different with them."""

    takes_room: bool = True
    """Whether a group makes room for it."""
    seen: bool = True
    """Whether it can be seen at all."""

    @property
    def units(self) -> Units | None:
        """What moves can take one at a time; None where there is only the whole."""
        return self.setting

    @property
    def setting(self) -> Setting | None:
        """Its words, as they are set, where those are its units."""
        return None

    @property
    def words(self) -> Setting | None:
        """The set words that it shows, whether or not they are its units."""
        return self.setting

    @property
    def spread(self) -> Box | None:
        """What a gradient over all of its words is spread over, in px from the corner of the part: their ink, whatever they show now."""
        return self.setting.ink_box if self.setting is not None else None

    @property
    def clips(self) -> bool:
        """Whether its box hides what of its units lies beyond."""
        return False

    def size(self, part: AnyPart, layout: Layout, axis: Axis) -> float:
        """How large it is along an axis by itself, in px."""
        name = part.size_names[axis]
        return float(getattr(part, name)) if name is not None else 0.0

    def begins(self, part: AnyPart, layout: Layout, axis: Axis) -> float | None:
        """Where it begins along an axis, in px of the frame, where it has no place of its own; None where its place says it."""
        return None

    def there(self, part: AnyPart, layout: Layout, asked: frozenset[str], grouped: bool) -> bool:
        """Whether a part that is shown, and that nothing takes along which it fits around, is there."""
        return True

    def filled(self, part: AnyPart, layout: Layout) -> bool:
        """Whether there is something in it."""
        return self.words is None or self.words.ink_box is not None

    def settled(self, part: AnyPart, layout: Layout) -> "Body":
        """The same once all boxes are known."""
        return self

    def ink(self, box: Box) -> Box | None:
        """What it paints at rest in its box, without regard to mattes; None if that is nothing."""
        drawn = self.words or self.units
        if drawn is None or self.clips:
            return None if box.empty else box
        ink = drawn.ink_box
        return ink.moved(box.x, box.y) if ink else None

    def ever(self, ink: Box, part: AnyPart, box: Box, safe: Box) -> Box:
        """Where its ink is seen while it counts or rolls, out of that at rest; ``safe`` is where titles should stay."""
        return ink

    def unit_edges(self, unit: Unit, box: Box) -> Floats:
        """The ink of each unit in px of the frame, (units, 4): left, top, right, bottom; NaN where there is none."""
        units, corner = self.units, np.array([box.x, box.y] * 2)
        if units is None:
            return np.array([[box.x, box.y, box.right, box.bottom]])
        edges: Floats = units.unit_ink(unit) + corner
        return np.clip(edges, corner, [box.right, box.bottom] * 2) if self.clips else edges

    def waiting_edges(self, unit: Unit, box: Box) -> Floats:
        """The same of all that it may show while it waits: what comes just out of something has to be out of it with that."""
        return self.unit_edges(unit, box)

    def measure(self, what: str) -> float:
        """How many lines, words or letters it has; its slots' width and its last number, for what counts."""
        unit: dict[str, Unit] = {"lines": "line", "words": "word", "letters": "character"}
        counted = self.words or self.units
        return float(counted.counts[unit[what]]) if counted is not None and what in unit else 0.0

    def notes(self, part: AnyPart, frame: Frame) -> list[str]:
        """What is to be said of it."""
        found, picture, form = [], getattr(part, "picture", None), getattr(part, "form", None)
        if isinstance(picture, PictureFile):
            facts = read_picture(picture)
            found += [f"{part.name}: {words}" for words in ((facts.fault,) if facts.fault else ()) + facts.left_out]
            if facts.intricate and isinstance(part, PicturePart) and part.outlined == "its drawing":
                found.append(f"{part.name} has too many shapes for an outline of its own; it goes by its box. Simplify the drawing.")
        if isinstance(form, FreeForm) and (fault := path_fault(form.path)):
            found.append(fault)
        return found

    def faces(self, part: AnyPart, book: FontBook) -> Iterable[Face]:
        """The faces that it is set in, as their files have them: those that are named, and those that stood in for some letters."""
        return ()

    @property
    def lacking(self) -> tuple[str, ...]:
        """Letters that no font has."""
        return tuple(self.words.lacking) if self.words is not None else ()

    @property
    def substitutes(self) -> tuple[str, ...]:
        """What is to be said of fonts that others stand in for."""
        return tuple(self.words.substitutes) if self.words is not None else ()

    @property
    def standing_in(self) -> "RestPart | None":
        """For a copy with words of its own: its original with those, where that rests."""
        return None


def lacking_words(name: str, lacking: Iterable[str]) -> str:
    """What no font has, and where."""
    return f"No font here has glyphs for {' '.join(list(lacking)[:8])} in {name}."
