"""Building a start: a template for any frame, in px at 1080 lines."""

from collections.abc import Callable
from typing import Any

import msgspec

from avlet.document.cards.card import Card, Sample, Section
from avlet.document.cards.wires import Formula, Wire
from avlet.document.faults.checking import check
from avlet.document.fields import NumberField, TextField
from avlet.document.house import PALETTE, HouseColour
from avlet.document.looks.paints import Solid
from avlet.document.parts import AnyPart, CounterPart, Fit, Room, ShapePart, TextPart
from avlet.document.starts.answers import SAMPLES
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import Mirrored, Move, WayOut

replace = msgspec.structs.replace
Making = Callable[[Frame], Template]
SOFT = READY_EASES["quick, then soft"]


def blank(frame: Frame | None = None, name: str = "Untitled") -> Template:
    """An empty frame with the four samples that are always seen."""
    shape = frame or Frame()
    return Template(name=name, frame=shape, length=frames_of(shape, 5), way_in=frames_of(shape, 1), way_out=frames_of(shape, 1),
                    samples=tuple(Sample(i, n) for i, n in SAMPLES))  # fmt: skip


def frames_of(frame: Frame, seconds: float) -> int:
    """Frames that some seconds have, at least one."""
    return max(1, round(seconds * frame.fps))


HINTS = {"role": "What they do, in a few words", "line": "May be left empty", "place": "Where this is"}

_FIRST = ("first", "family", "name", "title")
"""Fields that a card begins with, whichever part lies behind: what somebody is called before what they do."""


class Start:
    """Builds one template in px of a frame; numbers are given for 1080 lines (or for 1080 across, upright)."""

    def __init__(self, name: str, category: str, frame: Frame) -> None:
        self.base = blank(frame, name)
        self.category = category
        self.unit = min(frame.width / 1920 * 1.25, frame.height / 1080, frame.width / 1080)
        self.parts: list[AnyPart] = []
        self.fields: list[tuple[TextField, str, dict[str, str]]] = []
        self.numbers: list[tuple[NumberField, str, dict[str, float]]] = []
        self.palette: tuple[HouseColour, ...] = ()
        self.wires: list[Wire] = []
        self.keywords: tuple[str, ...] = ()

    def px(self, value: float) -> float:
        """px of the frame for px at 1080 lines."""
        return round(value * self.unit, 2)

    def frames(self, number: float) -> int:
        """Frames of the frame's rate for frames at 25 a second."""
        return max(1, round(number / 25 * self.base.frame.fps))

    def fit(self, *around: str, sides: float = 50, ends: float = 25) -> Fit:
        """A fit around parts with the same room at both sides, and at both ends."""
        return Fit(around, left=self.px(sides), right=self.px(sides), top=self.px(ends), bottom=self.px(ends))

    def room(self, share: float = 0.72, smallest: float = 50) -> Room:
        """Words wrap before they leave the frame, and then shrink."""
        return Room(width=round(self.base.frame.width * share), remedies=("wrap", "shrink"), smallest_size=smallest, balanced=True)

    def words(self, part_id: str, name: str, words: dict[str, str], longest: int = 10_000, several: bool = True, **look: object) -> None:
        """Words with a field of their own, which takes so many letters at most."""
        values = {"text": words["typical"], "room": self.room(), "leading": 112.0, **look}
        self.parts.append(TextPart(id=part_id, name=name, **values))  # type: ignore[arg-type]
        hint = HINTS.get(part_id, "One or two lines")
        field = TextField(id=part_id, label=name, default=words["typical"], several_lines=several, hint=hint, longest=longest)
        self.fields.append((field, f"{part_id}/text", words))

    def number(self, counter: CounterPart, label: str, samples: dict[str, float], most: float) -> None:
        """A count with a field for the number that it counts to."""
        self.parts.append(counter)
        start = samples["typical"]
        field = NumberField(id=counter.id, label=label, default=start, low=0.0, high=most, figure_only=True, hint="Any whole number")
        self.numbers.append((field, f"{counter.id}/end", samples))

    def house(self, **colours: str) -> None:
        """Colours of the house, by names with underscores for blanks."""
        self.palette = tuple(
            HouseColour(name.replace("_", "-"), name.replace("_", " ").capitalize(), colour) for name, colour in colours.items()
        )

    def fill(self, entry: str) -> Solid:
        """A fill in a colour of the house; :meth:`follow` lets it follow that."""
        return Solid(next(colour.colour for colour in self.palette if colour.id == entry.replace("_", "-")))

    def follow(self, entry: str, *targets: str, formula: str = "") -> None:
        """Let colours follow one of the house."""
        self.wires += [Wire(f"{PALETTE}/{entry.replace('_', '-')}", target, *([Formula(formula)] if formula else [])) for target in targets]

    def dusk(self, entry: str, around: tuple[str, ...], opacity: float, sides: float, ends: float, way_out: WayOut | None = None) -> None:
        """A soft dusk in a colour of the house behind words: no plate, but what makes light letters read over a bright sky as well."""
        self.follow(entry, "dusk/fill.colour")
        fit = Fit(around, "line box", self.px(sides), self.px(sides), self.px(ends), self.px(ends))
        come = (Move(opacity=0, frames=self.frames(26), ease=READY_EASES["soft both"]),)
        self.parts.append(ShapePart(id="dusk", name="Dusk", corner=self.px(120), fill=self.fill(entry), opacity=opacity, blur=self.px(200),
                                    fit=fit, across=None, down=None, way_in=come, way_out=way_out or Mirrored()))  # fmt: skip

    def template(self, note: str, seconds: float = 5.0, way_in: float = 1.0, way_out: float = 1.0) -> Template:
        """All of it as a template, with the four samples."""
        self.fields.sort(key=lambda one: _FIRST.index(one[0].id) if one[0].id in _FIRST else len(_FIRST))
        answered: list[tuple[Any, str, dict[str, Any]]] = [*self.fields, *self.numbers]
        samples = tuple(Sample(i, n, {f.id: words[i] for f, _, words in answered}) for i, n in SAMPLES)
        sections = [Section("Words", tuple(f for f, _, _ in self.fields))] if self.fields else []
        sections += [Section("Number", tuple(f for f, _, _ in self.numbers))] if self.numbers else []
        wires = (*(Wire(f.id, target) for f, target, _ in answered), *self.wires)
        frame = self.base.frame
        return check(replace(
            self.base, category=self.category, keywords=self.keywords, parts=tuple(self.parts), card=Card(note, tuple(sections)),
            wires=wires,
            samples=samples, palette=self.palette, length=frames_of(frame, seconds), way_in=frames_of(frame, way_in),
            way_out=frames_of(frame, way_out),
        ))  # fmt: skip


def begun(name: str, category: str, frame: Frame, *keywords: str, **house: str) -> Start:
    """A start with its keywords and the colours of its house."""
    s = Start(name, category, frame)
    s.house(**house)
    s.keywords = keywords
    return s
