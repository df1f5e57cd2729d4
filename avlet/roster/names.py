"""What the files of a roster are called: from a pattern of columns, safe and unlike each other in any script."""

import re
from collections.abc import Iterable

from avlet.document.editing.naming import plain_letters
from avlet.document.metadata import brief
from avlet.errors import AnswerError
from avlet.roster.sheet import Line, Sheet

ROW = "row"
_BLANK = re.compile(r"\{([^{}]*)\}")
_LONGEST = 120
"""Letters of a name, so that endings and numbers still fit into what file systems take (255 bytes)."""
_TAKEN = frozenset(("con", "prn", "aux", "nul", *(f"{device}{n}" for device in ("com", "lpt") for n in range(1, 10))))
"""Names that another system would not take."""


def usual_pattern(sheet: Sheet, columns: Iterable[int]) -> str:
    """The row's number, and the first column that leads to a field."""
    first = next(iter(columns), 0)
    return f"{{{ROW}}}-{{{sheet.heads[first].words}}}"


class Names:
    """Names of a table's lines by a pattern such as ``{row}-{Person}``; raises ``AnswerError`` for a column that is not there."""

    def __init__(self, sheet: Sheet, pattern: str) -> None:
        self.pattern = pattern
        self._columns = {name: sheet.column(name) for name in _BLANK.findall(pattern) if name.strip().casefold() != ROW}
        rest = _BLANK.sub("", pattern)
        if "{" in rest or "}" in rest:
            raise AnswerError(f"The pattern “{brief(pattern)}” has a bracket without its other half. Write columns as {{Person}}.")
        self._digits = max(2, len(str(sheet.lines[-1].number))) if sheet.lines else 2

    def of(self, line: Line) -> str:
        """A line's name without its ending: small plain letters, figures and hyphens."""

        def filled(found: re.Match[str]) -> str:
            name = found[1]
            return f"{line.number:0{self._digits}}" if name.strip().casefold() == ROW else line.cells[self._columns[name]]

        made = plain_letters(_BLANK.sub(filled, self.pattern))[:_LONGEST].strip("-") or f"row-{line.number:0{self._digits}}"
        return f"{made}-" if made in _TAKEN else made


def unlike(names: Iterable[str]) -> tuple[list[str], list[tuple[int, int]]]:
    """The names with a number behind those that were taken, and which of them were: the place of each, and of the one before it."""
    first: dict[str, int] = {}
    later: dict[str, int] = {}
    made: list[str] = []
    changed: list[tuple[int, int]] = []
    for place, name in enumerate(names):
        unique, number = name, later.get(name, 2)
        while unique in first:
            unique, number = f"{name}-{number}", number + 1
        later[name] = number
        if unique != name:
            changed.append((place, first[name]))
        first[unique] = place
        made.append(unique)
    return made, changed
