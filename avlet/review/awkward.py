"""Awkward answers, made from the card itself and within its limits, and awkward lengths."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

from avlet.document.fields import LengthField, TextField
from avlet.document.template import Template
from avlet.layout.bind import bind
from avlet.numbers.exact import in_figures

Kind = Literal["as designed", "sample", "own", "made"]
KINDS: tuple[Kind, ...] = ("as designed", "sample", "own", "made")
"""Where rows come from."""
LONGEST = 40
"""Letters that are tried where a field allows more: no name is longer (common practice, no source)."""
_LONG_WORD = "Donaudampfschifffahrtsgesellschaftskapitänsmütze"


@dataclass(frozen=True)
class Row:
    """One title that is proved: its name, its answers, its length if it is another than designed, and where it comes from."""

    name: str
    answers: Mapping[str, Any] = field(default_factory=dict)
    length: int | None = None
    kind: Kind = "made"


def _cut(words: str, longest: int) -> str:
    return words[:longest].rstrip() or words[:1]


def words_to_try(longest: int, several_lines: bool) -> list[tuple[str, str]]:
    """Names and words of awkward texts of at most so many letters."""
    most = min(longest, LONGEST)
    tried = {
        "Nothing": "", "One letter": "I", "Widest letters": "WM " * most, "Narrowest letters": "lil " * most, "One long word": _LONG_WORD,
        "Many short words": "a i o u y " * most, "Marks above capitals": "ÅÊŐ ŽŚČ ÑĞ ẤỖ", "Descenders": "gypsy jogging qyp",
        "Figures": "0123456789 4711", "Right to left": "ياسمين الحداد", "Hebrew": "יעל בן־דוד", "Devanagari": "नर्मदा क्षत्रिय",
        "Japanese": "渡辺 汐", "Thai": "ผู้เชี่ยวชาญ", "Emoji": "👩‍🔬 🌊",
    }  # fmt: skip
    found = [(name, _cut(words, most)) for name, words in tried.items()]
    return [*found, ("Two lines", "Odalys\nBrandt")] if several_lines else found


def _text_rows(template: Template) -> Iterator[Row]:
    """One row for each awkward text, in all fields that take words."""
    fields = [f for f in template.card.fields if isinstance(f, TextField)]
    if not fields:
        return
    names = [name for name, _ in words_to_try(LONGEST, any(f.several_lines for f in fields))]
    for name in names:
        answers = {f.id: words for f in fields for other, words in words_to_try(f.longest, f.several_lines) if other == name}
        yield Row(name, {k: v for k, v in answers.items() if not _fault(template, k, v)})


def _fault(template: Template, field_id: str, answer: Any) -> str:
    asked = template.card.field(field_id)
    return "" if asked is None else asked.fault(answer, template.palette)


def _end_rows(template: Template) -> Iterator[Row]:
    """Every option of a choice, both ends of every number, on and off."""
    for asked in template.card.fields:
        if not isinstance(asked, TextField | LengthField):
            yield from (Row(words, {asked.id: answer}) for words, answer in asked.tried() if answer != asked.start)


def _length_rows(template: Template) -> Iterator[Row]:
    """The shortest and a long length that an editor may give."""
    limits = next((f for f in template.card.fields if isinstance(f, LengthField)), None)
    designed = bind(template).length
    shortest = max(2, template.way_in + template.way_out + 1)
    if limits is not None:
        yield Row(f"Shortest length ({in_figures(limits.low)})", {limits.id: limits.low})
        yield Row(f"Longest length ({in_figures(limits.high)})", {limits.id: limits.high})
        return
    if shortest < designed:
        yield Row(f"Short ({shortest} frames)", length=shortest)
    yield Row(f"Long ({designed * 3} frames)", length=designed * 3)


def rows_of(template: Template) -> list[Row]:
    """All rows of a proof: as designed, the samples, the designer's own, and awkward ones."""
    rows = [Row("As designed", kind="as designed"), *(Row(s.name, s.answers, kind="sample") for s in template.samples)]
    rows += [Row(s.name, s.answers, kind="own") for s in template.proofing.rows]
    made = [*_text_rows(template), *_end_rows(template), *_length_rows(template)]
    return [*rows, *made]
