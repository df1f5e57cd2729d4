"""The table of a roster: heads, and rows of cells under them."""

import re
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path, PurePath

import msgspec

from avlet.document.metadata import brief
from avlet.document.tables import as_csv, rows_of
from avlet.errors import AnswerError, StorageError
from avlet.numbers.languages import is_known
from avlet.storage.reading import UNREADABLE
from avlet.storage.table_files import table_in_file

_LANGUAGE = re.compile(r"(?P<name>.*\S)\s*[(\[](?P<code>[A-Za-z]{2,3}(?:[-_][A-Za-z0-9]{2,8})*)[)\]]\s*")
PASTED = "what was pasted"


@dataclass(frozen=True)
class Head:
    """A column's head: its words, and for ``Role (cy)`` the name without the language, and that."""

    words: str
    name: str
    language: str = ""

    @classmethod
    def read(cls, words: str) -> "Head":
        """A head from its cell."""
        found = _LANGUAGE.fullmatch(words)
        code = found["code"].replace("-", "_") if found else ""
        known = bool(code) and (is_known(code.lower()) or is_known(code))
        return cls(words, found["name"], code.lower() if is_known(code.lower()) else code) if found and known else cls(words, words)


@dataclass(frozen=True)
class Line:
    """One row that has something in it. ``number`` counts from 1 below the heads, empty rows counted as well."""

    number: int
    cells: tuple[str, ...]


@dataclass(frozen=True)
class Sheet:
    """A table. Each line has a cell for each head; ``folder`` is where files that cells name are looked for. One that lies nowhere has
    None: its cells name only what was ``sent`` with it, by names in small letters.

    ``remarks`` say what was done to read it, and ``guessed`` are those of them that tell of a guess.
    """

    name: str
    heads: tuple[Head, ...]
    lines: tuple[Line, ...]
    folder: Path | None
    remarks: tuple[str, ...] = ()
    kept_as: str = ""
    guessed: tuple[str, ...] = ()
    sent: Mapping[str, bytes] = field(default_factory=dict, hash=False)

    @property
    def languages(self) -> tuple[str, ...]:
        """The languages that columns name, in order; a column without one counts for all that have none of their own."""
        return tuple(dict.fromkeys(head.language for head in self.heads if head.language))

    def column(self, name: str) -> int:
        """A column by its head; raises ``AnswerError`` that lists what there is."""
        wanted = name.strip().casefold()
        found = [n for n, head in enumerate(self.heads) if wanted == head.words.casefold()]
        found = found or [n for n, head in enumerate(self.heads) if wanted == head.name.casefold()]
        if not found:
            known = brief(", ".join(head.words for head in self.heads))
            raise AnswerError(f"“{brief(self.name)}” has no column “{brief(name)}”. Its columns: {known}.")
        return found[0]

    def with_cell(self, line: int, column: int, words: str) -> "Sheet":
        """With other words in a cell; ``line`` is its place among the lines."""
        cells = self.lines[line].cells
        changed = replace(self.lines[line], cells=(*cells[:column], words, *cells[column + 1 :]))
        return replace(self, lines=(*self.lines[:line], changed, *self.lines[line + 1 :]))

    @property
    def rows(self) -> tuple[tuple[str, ...], ...]:
        """Heads and all rows, the empty ones between them too."""
        by_number = {line.number: line.cells for line in self.lines}
        last = max(by_number, default=0)
        return (tuple(head.words for head in self.heads), *(by_number.get(n, ("",) * len(self.heads)) for n in range(1, last + 1)))

    def as_csv(self, delimiter: str = ",") -> bytes:
        """The table as text in UTF-8, by RFC 4180 where commas part the cells."""
        return as_csv(self.rows, delimiter).encode()


def open_sheet(path: Path) -> Sheet:
    """A table from a file; raises ``AvletError`` in words."""
    table = table_in_file(path)
    return _sheet(table.rows, path.name, path.resolve().parent, table.remarks, table.kept_as, table.guessed)


def pasted_sheet(words: str, folder: Path) -> Sheet:
    """A table from the clipboard; raises ``AnswerError``."""
    return _sheet(rows_of(words), PASTED, folder, (), "")


def table_sheet(rows: Sequence[Sequence[str]], folder: Path | None, name: str = PASTED, kept_as: str = "") -> Sheet:
    """A table from rows of words, the first of them its heads; raises ``AnswerError``."""
    return _sheet(tuple(tuple(row) for row in rows), name, folder, (), kept_as)


class _Kept(msgspec.Struct):
    name: str
    folder: str
    kept_as: str
    rows: tuple[tuple[str, ...], ...]


def kept_bytes(sheet: Sheet) -> bytes:
    """A table as JSON, to be kept in case of a crash."""
    return msgspec.json.encode(_Kept(sheet.name, str(sheet.folder), sheet.kept_as, sheet.rows))


def kept_sheet(data: bytes) -> Sheet:
    """The table that was kept; raises ``StorageError``."""
    try:
        kept = msgspec.json.decode(data, type=_Kept)
        return _sheet(kept.rows, kept.name, Path(kept.folder), (), kept.kept_as)
    except (*UNREADABLE, AnswerError) as error:
        raise StorageError(f"The table that was kept cannot be read ({brief(error)}).") from None


def _sheet(
    rows: tuple[tuple[str, ...], ...], name: str, folder: Path | None, said: tuple[str, ...], kept_as: str, guessed: tuple[str, ...] = ()
) -> Sheet:
    rows = tuple(tuple(cell.strip() for cell in row) for row in rows)
    first = next((n for n, row in enumerate(rows) if any(row)), len(rows))
    if not any(any(row) for row in rows[first + 1 :]):
        raise AnswerError(f"“{brief(name)}” has no rows below its heads. The first line names columns, each line below is one title.")
    width = max((n + 1 for n, cell in enumerate(rows[first]) if cell), default=1)
    heads, remarks = _heads(rows[first][:width])
    lines, beyond = [], []
    for number, row in enumerate(rows[first + 1 :], 1):
        if any(row[width:]):
            beyond.append(number)
        if any(row[:width]):
            lines.append(Line(number, (*row[:width], *[""] * (width - len(row)))))
    if beyond:
        which = f"Row {beyond[0]} has" if len(beyond) == 1 else f"{len(beyond)} rows, the first of them row {beyond[0]}, have"
        remarks.append(f"{which} cells without a head above them; these are left out.")
    if formulas := [(line.number, head.words) for line in lines for head, cell in zip(heads, line.cells, strict=True) if _formula(cell)]:
        number, head = formulas[0]
        remarks.append(f"Row {number}, {head}: a formula is not worked out here, it is taken as words. Save the table with its values.")
    return Sheet(PurePath(name).name, tuple(heads), tuple(lines), folder, (*said, *remarks), kept_as, (*guessed, *remarks))


def _formula(cell: str) -> bool:
    return cell.startswith("=") and len(cell) > 2 and bool(re.match(r"=[A-Z]+\d*[(:+*/-]|=[A-Z]+\d+$", cell))


def _heads(cells: tuple[str, ...]) -> tuple[list[Head], list[str]]:
    """Heads that differ from each other, and what was done to make them so."""
    named = [cell or f"Column {n}" for n, cell in enumerate(cells, 1)]
    seen: Counter[str] = Counter()
    heads, remarks = [], []
    taken = {name.casefold() for name in named}
    for words in named:
        seen[words.casefold()] += 1
        unique, number = words, seen[words.casefold()]
        if number > 1:
            while (unique := f"{words} {number}").casefold() in taken:
                number += 1
            taken.add(unique.casefold())
            remarks.append(f"Two columns are called “{brief(words)}”; the later one is “{brief(unique)}” here.")
        heads.append(Head.read(unique))
    return heads, remarks
