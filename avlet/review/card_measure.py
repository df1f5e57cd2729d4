"""How a card will feel: what a stranger cannot tell apart, what does nothing, and which answers let the design break."""

import difflib
import re
import time
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Literal

from avlet.document.cards.wire_plans import inputs
from avlet.document.fields import ColourField
from avlet.document.looks.colours import READABLE, contrast, is_opaque
from avlet.document.looks.paints import Solid
from avlet.document.parts import ShapePart, TextPart, TypesetPart
from avlet.document.template import Template
from avlet.errors import AvletError
from avlet.layout.bind import bind
from avlet.numbers.exact import in_figures
from avlet.paint.scene import Scene
from avlet.review.card_ranges import idle_ranges
from avlet.review.samples import findings
from avlet.text.fonts import FontBook

Kind = Literal["field", "part", "card"]
GLANCE, MOMENT, MOST = 7, 12, 20
"""Up to so many fields are read at a glance, in a moment, with patience (common practice, no source: few controls, not dozens)."""
LARGE, LARGE_SIZE = 3.0, 24.0
"""Contrast that large words need at least by WCAG 2 (SC 1.4.3), and from how many px on they are large."""
ALIKE = 0.86
"""Labels whose letters agree by more than this share are easily mixed up."""


@dataclass(frozen=True)
class Remark:
    """What there is to say, and where a click leads: to a field, a part, or the card itself."""

    kind: Kind
    place: str
    words: str
    grave: bool = False


@dataclass(frozen=True)
class Trial:
    """Answers that the engine tries: a sample, and one field at an end of what it takes."""

    field_id: str
    words: str
    sample: str
    answers: dict[str, Any]


def fullness(count: int) -> str:
    """How much a card holds, in words."""
    if count == 0:
        return "Nothing to fill in yet"
    fields = "1 field" if count == 1 else f"{count} fields"
    feel = (
        "a stranger can read it at a glance" if count <= GLANCE
        else "a stranger needs a moment" if count <= MOMENT
        else "a stranger needs patience" if count <= MOST
        else "too many: an editor will not read them all"
    )  # fmt: skip
    return f"{fields} · {feel}"


def share(count: int) -> float:
    """How full a card is, 0 to 1: half where a glance no longer does."""
    return min(1.0, count / (2 * GLANCE))


def remarks(template: Template) -> list[Remark]:
    """All that can be said without trying answers out."""
    return [*_labels(template), *_hints(template), *_idle(template), *_ranges(template), *_unreached(template), *_unreadable(template)]


def _labels(template: Template) -> Iterator[Remark]:
    fields = template.card.fields
    counted = Counter(f.label.strip().casefold() for f in fields)
    said: set[str] = set()
    for index, field in enumerate(fields):
        plain = field.label.strip().casefold()
        if counted[plain] > 1:
            if plain not in said:
                yield Remark("field", field.id, f"{counted[plain]} fields are called “{field.label}”.", grave=True)
            said.add(plain)
            continue
        for other in fields[:index]:
            twin = other.label.strip().casefold()
            if twin != plain and _easily_mixed_up(plain, twin):
                yield Remark("field", field.id, f"A stranger can hardly tell “{other.label}” and “{field.label}” apart.")
                break


def _easily_mixed_up(one: str, other: str) -> bool:
    """Labels that differ in a figure alone, or in hardly a letter."""
    bare = [re.sub(r"[\d\s#.–-]+", "", words) for words in (one, other)]
    return bare[0] == bare[1] or difflib.SequenceMatcher(None, one, other).ratio() > ALIKE


def _hints(template: Template) -> Iterator[Remark]:
    for field in template.card.fields:
        if not field.hint.strip() and field.wants_hint:
            yield Remark("field", field.id, f"“{field.label}” has no hint.")
        yield from (Remark("field", field.id, words, grave=True) for words in field.remarks())


def _idle(template: Template) -> Iterator[Remark]:
    """Fields that no wire, formula or condition uses."""
    used = {source for wire in template.wires for source in inputs(template, wire)}
    used |= {f.shown_if.field for f in template.card.entries if f.shown_if is not None}
    for field in template.card.fields:
        if field.id not in used:
            yield Remark("field", field.id, f"“{field.label}” changes nothing: it has no wire.", grave=True)


def _ranges(template: Template) -> Iterator[Remark]:
    """Numbers that change nothing beyond some limit (common practice, no source: a bar's range on the card is found by trial)."""
    for field, above, limit in idle_ranges(template):
        unit = f" {field.unit}" if field.unit else ""
        where = "above" if above else "below"
        yield Remark("field", field.id, f"“{field.label}”: {where} {in_figures(limit)}{unit} nothing changes. Let its range end there.")


def _unreached(template: Template) -> Iterator[Remark]:
    reached = {w.target for w in template.wires}
    for part in template.parts:
        if isinstance(part, TextPart) and part.shown and f"{part.id}/text" not in reached and part.text.strip():
            yield Remark("part", part.id, f"No field reaches the words of {part.name}. Is that meant?")


def _unreadable(template: Template) -> Iterator[Remark]:
    """Words that are hard to read on the shape that fits around them, with the starting answers and each swatch."""
    for label, answers in (("to start with", {}), *_swatches(template)):
        parts = {p.id: p for p in bind(template, answers).parts}
        for shape in parts.values():
            if not isinstance(shape, ShapePart) or shape.fit is None or not _covers(shape):
                continue
            for part_id in shape.fit.around:
                text = parts.get(part_id)
                if isinstance(text, TypesetPart) and isinstance(text.fill, Solid) and text.shown and isinstance(shape.fill, Solid):
                    ratio, wanted = contrast(text.fill.colour, shape.fill.colour), LARGE if text.size >= LARGE_SIZE else READABLE
                    if ratio < wanted:
                        found = f"contrast {ratio:.1f}, where {in_figures(wanted)} is wanted"
                        words = f"{text.name} is hard to read on {shape.name} {label}: {found}."
                        yield Remark("part", part_id, words)


def _covers(shape: ShapePart) -> bool:
    """Whether a shape is a ground to read words on: plain, opaque, shown, with nothing cut out of it."""
    plain = isinstance(shape.fill, Solid) and is_opaque(shape.fill.colour)
    return plain and shape.shown and shape.opacity >= 100 and not any(m.hides for m in shape.mattes)


def _swatches(template: Template) -> Iterator[tuple[str, dict[str, Any]]]:
    for field in template.card.fields:
        if isinstance(field, ColourField):
            for swatch in field.offered(template.palette):
                if swatch.id != field.default:
                    yield f"with {field.label} “{swatch.name}”", {field.id: swatch.id}


# Trying answers out


def trials(template: Template) -> Iterator[Trial]:
    """Every end of every field with the starting answers and with each sample's."""
    sets = [("As designed", {}), *((s.name, s.answers) for s in template.samples)]
    for field in template.card.fields:
        for words, answer in field.tried():
            for sample, answers in sets:
                yield Trial(field.id, words, sample, {**answers, field.id: answer})


class Bench:
    """Tries answers one by one, so that a window can do so a few at a time."""

    def __init__(self, template: Template, book: FontBook) -> None:
        self.template, self.book = template, book
        self._left = trials(template)
        self._known: dict[str, set[tuple[str, str]]] = {}
        self._plain = bind(template)
        self._moved: set[str] = set()
        self._tried: set[str] = set()
        self.done = False
        self.count = 0
        self.found: dict[tuple[str, str, str], Remark] = {}

    def work(self, seconds: float) -> None:
        """Try answers for about so long."""
        end = time.monotonic() + seconds
        while not self.done and time.monotonic() < end:
            self.step()

    def step(self) -> None:
        """Try the next answers."""
        trial = next(self._left, None)
        if trial is None:
            self.done = True
            return
        self.count += 1
        field = self.template.card.field(trial.field_id)
        assert field is not None
        self._tried.add(field.id)
        try:
            scene = Scene(self.template, self.book, trial.answers)
        except AvletError as error:
            self.found[field.id, trial.words, ""] = Remark("field", field.id, f"With {trial.words} it cannot be shown: {error}", grave=True)
            return
        if trial.sample == "As designed" and (scene.bound.parts, scene.bound.template) != (self._plain.parts, self._plain.template):
            self._moved.add(field.id)
        for finding in findings(scene):
            if (finding.verdict, finding.part_id) not in self._without(trial):
                key = (field.id, trial.words, finding.part_id)
                words = f"With {trial.words} and {trial.sample}: {finding.words}"
                self.found.setdefault(key, Remark("field", field.id, words, grave=True))

    def _without(self, trial: Trial) -> set[tuple[str, str]]:
        """What is wrong with the sample anyway."""
        if trial.sample not in self._known:
            answers = next((s.answers for s in self.template.samples if s.name == trial.sample), {})
            self._known[trial.sample] = {(f.verdict, f.part_id) for f in findings(Scene(self.template, self.book, answers))}
        return self._known[trial.sample]

    def remarks(self) -> list[Remark]:
        """What trying has shown so far; fields whose every answer gives the same only at the end."""
        said = list(self.found.values())
        if self.done:
            wired = {w.source for w in self.template.wires}
            for field_id in self._tried - self._moved:
                field = self.template.card.field(field_id)
                if field is not None and field_id in wired:
                    said.append(Remark("field", field_id, f"“{field.label}” changes nothing, whatever it answers.", grave=True))
        return said


def tried_out(template: Template, book: FontBook) -> list[Remark]:
    """All remarks, with every answer tried."""
    bench = Bench(template, book)
    while not bench.done:
        bench.step()
    return [*remarks(template), *bench.remarks()]
