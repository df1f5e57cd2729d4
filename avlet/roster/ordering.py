"""Rows of a table in another order, those that are looked for, and those that say the same."""

from collections.abc import Sequence

import icu

from avlet.roster.sheet import Line

_NUMERIC = icu.UCollAttribute.NUMERIC_COLLATION, icu.UCollAttributeValue.ON


def in_order_of(lines: Sequence[Line], rows: Sequence[int], column: int, language: str = "") -> list[int]:
    """Rows by the words of a column, as a language orders them (CLDR's collation), figures by their value; empty cells last.

    Rows with the same words stay in their order.
    """
    collator = icu.Collator.createInstance(icu.Locale(language) if language else icu.Locale.getRoot())
    collator.setAttribute(*_NUMERIC)
    return sorted(rows, key=lambda row: (not lines[row].cells[column], collator.getSortKey(lines[row].cells[column])))


def found_in(lines: Sequence[Line], rows: Sequence[int], words: str) -> list[int]:
    """The rows in whose cells every word that is typed stands, whatever its case."""
    wanted = words.casefold().split()
    if not wanted:
        return list(rows)
    return [row for row in rows if all(word in "\n".join(lines[row].cells).casefold() for word in wanted)]


def said_before(lines: Sequence[Line]) -> dict[int, int]:
    """Rows that say the same in every cell as an earlier one: by their place, the place of that one. Case and blanks do not count."""
    first: dict[tuple[str, ...], int] = {}
    found = {}
    for row, line in enumerate(lines):
        key = tuple(" ".join(cell.casefold().split()) for cell in line.cells)
        before = first.setdefault(key, row)
        if before != row:
            found[row] = before
    return found
