"""What differs between two states of the same document, in words: for whoever has to choose between them."""

from collections.abc import Iterable
from typing import Any

from avlet.document.cut import Cut
from avlet.document.template import Template

_MOST = 8


def of_templates(mine: Template, theirs: Template) -> list[str]:
    """Parts that only one has, or that differ, and what else does."""
    said = _items("part", {p.id: (p.name, p) for p in mine.parts}, {p.id: (p.name, p) for p in theirs.parts})
    own, other = ({f.id: (f.label, f) for f in t.card.fields} for t in (mine, theirs))
    said += _items("field", own, other)
    said += _items("sample", {s.id: (s.name, s) for s in mine.samples}, {s.id: (s.name, s) for s in theirs.samples})
    for name, words in (
        ("name", "the name"), ("frame", "the frame"), ("length", "the length"), ("way_in", "the way in"), ("way_out", "the way out"),
        ("wires", "wires"), ("palette", "house colours"), ("gradients", "gradients"), ("text_styles", "text styles"), ("marks", "marks"),
    ):  # fmt: skip
        if getattr(mine, name, None) != getattr(theirs, name, None):
            said.append(f"{words} {'differ' if words.endswith('s') else 'differs'}")
    return _short(said)


def of_cuts(mine: Cut, theirs: Cut) -> list[str]:
    """Titles that only one has, or that differ, and what else does."""

    def named(cut: Cut) -> dict[str, tuple[str, Any]]:
        return {t.id: (next((str(a) for a in t.answers.values() if isinstance(a, str)), t.template)[:40], t) for t in cut.titles}

    said = _items("title", named(mine), named(theirs))
    for name, words in (("name", "the name"), ("pictures", "pictures"), ("frame", "the frame")):
        if getattr(mine, name, None) != getattr(theirs, name, None):
            said.append(f"{words} {'differ' if words.endswith('s') else 'differs'}")
    return _short(said)


def of_rows(mine: Iterable[tuple[str, ...]], theirs: Iterable[tuple[str, ...]]) -> list[str]:
    """Rows of two tables that differ, counted from 1 with their heads."""
    own, other = list(mine), list(theirs)
    said = [f"{len(own)} rows here, {len(other)} in the file"] if len(own) != len(other) else []
    for number, (here, there) in enumerate(zip(own, other, strict=False), 1):
        if here != there:
            cells = [f"“{a}” here, “{b}” in the file" for a, b in zip(here, there, strict=False) if a != b]
            said.append(f"row {number}: {cells[0] if cells else 'another number of cells'}")
    return _short(said)


def _items(what: str, mine: dict[str, tuple[str, Any]], theirs: dict[str, tuple[str, Any]]) -> list[str]:
    said = [f"the {what} “{name}” is only in yours" for i, (name, _) in mine.items() if i not in theirs]
    said += [f"the {what} “{name}” is only in theirs" for i, (name, _) in theirs.items() if i not in mine]
    said += [f"the {what} “{name}” differs" for i, (name, value) in mine.items() if i in theirs and theirs[i][1] != value]
    if [i for i in mine if i in theirs] != [i for i in theirs if i in mine]:
        said.append(f"the order of {what}s differs")
    return said


def _short(said: list[str]) -> list[str]:
    return said if len(said) <= _MOST else [*said[: _MOST - 1], f"and {len(said) - _MOST + 1} more"]
