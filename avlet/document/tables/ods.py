"""Sheets of an ODS file, cell by cell (OASIS OpenDocument 1.3 part 3)."""

import re

from avlet.document.tables.table import Cells, Remarks, Table, cell_name
from avlet.document.tables.written_cells import duration_words, number_words
from avlet.document.tables.xlsx import AN_ERROR, NO_RESULT
from avlet.document.tables.xml_parts import Parts, attribute
from avlet.errors import AnswerError
from avlet.limits import MOST_CELL, MOST_COLUMNS, MOST_ROWS

_CELLS = ("table-cell", "covered-table-cell")
_DURATION = re.compile(r"(-?)P(?:(\d{1,6})D)?T?(?:(\d{1,9})H)?(?:(\d{1,9})M)?(?:(\d{1,9}(?:[.,]\d+)?)S)?")
_FAR = 1 << 24
"""Rows and columns that are skipped at once: further than any sheet reaches."""


def read_ods(parts: Parts, name: str) -> tuple[str, int, Table]:
    """The first sheet that holds something: its name, how many sheets there are, and its rows. Raises ``AnswerError``."""
    sheets = _Sheets(name)
    parts.parse("content.xml", sheets.begin, sheets.end, sheets.words)
    return sheets.title, sheets.count, Table(sheets.rows, sheets.remarks.said() if sheets.rows else ())


class _Sheets:
    """Takes the elements of all sheets as they go by, and keeps the first sheet that holds something."""

    def __init__(self, name: str) -> None:
        self.name, self.title, self.count = name, "", 0
        self.rows: tuple[tuple[str, ...], ...] = ()
        self.remarks = Remarks()
        self._cells = Cells(name)
        self._depth = self._cell_depth = 0
        self._row = self._column = 0
        self._row_times = 1
        self._given: dict[str, str] = {}
        self._in_table = self._taking = False
        self._paragraphs: list[str] = []
        self._written: list[tuple[int, int, str]] = []

    def begin(self, element: str, given: dict[str, str]) -> None:
        self._depth += 1
        if element == "table" and not self._in_table:
            self.count += 1
            self._in_table = not self.rows
            self._cells, self._row = Cells(self.name), 0
            if self._in_table:
                self.title, self.remarks = attribute(given, "name"), Remarks()
        elif not self._in_table:
            return
        elif element == "table-row":
            self._row_times, self._column = _times(given, "number-rows-repeated"), 0
            self._written = []
        elif element in _CELLS and not self._cell_depth:
            self._given, self._cell_depth, self._paragraphs = given, self._depth, []
        elif self._cell_depth:
            self._inside(element, given)

    def _inside(self, element: str, given: dict[str, str]) -> None:
        """An element within a cell: a paragraph of its own, or what stands for blanks, tabs and lines in one."""
        if element == "p" and self._depth == self._cell_depth + 1:
            self._taking = True
            self._paragraphs.append("")
        elif self._taking and element in ("s", "tab", "line-break"):
            sign = {"s": " " * min(_times(given, "c"), MOST_CELL), "tab": "\t", "line-break": "\n"}[element]
            self.words(sign)
        elif element in ("annotation", "note"):
            self._taking = False

    def words(self, piece: str) -> None:
        if self._taking and self._paragraphs:
            self._paragraphs[-1] += piece
            if len(self._paragraphs[-1]) > MOST_CELL:
                cell = cell_name(self._row, self._column)
                raise AnswerError(f"“{self.name}” has more than {MOST_CELL:,} letters in {cell}; a cell has at most {MOST_CELL:,}.")

    def end(self, element: str) -> None:
        if self._cell_depth and element == "p" and self._depth == self._cell_depth + 1:
            self._taking = False
        elif element in _CELLS and self._depth == self._cell_depth:
            self._end_cell()
        elif element == "table-row" and self._in_table and not self._cell_depth:
            self._end_row()
        elif element == "table" and self._in_table and not self._cell_depth:
            self.rows, self._in_table = self._cells.rows(), False
        self._depth -= 1

    def _end_cell(self) -> None:
        self._cell_depth, self._taking = 0, False
        times, words = _times(self._given, "number-columns-repeated"), self._cell_words()
        if words and not words.isspace():
            for column in range(self._column, self._column + min(times, MOST_COLUMNS + 1)):
                self._cells.put(self._row, column, words)
                self._written.append((self._row, column, words))
        self._column = min(self._column + times, _FAR)

    def _end_row(self) -> None:
        if self._written:
            for row in range(self._row + 1, self._row + min(self._row_times, MOST_ROWS + 2)):
                for _, column, words in self._written:
                    self._cells.put(row, column, words)
        self._row = min(self._row + self._row_times, _FAR)

    def _cell_words(self) -> str:
        given, said = self._given, "\n".join(self._paragraphs)
        if any(key.endswith(":value-type") and value == "error" for key, value in given.items()):
            self.remarks.note(AN_ERROR, self._row, self._column)
            return ""
        match given.get("office:value-type") or attribute(given, "value-type"):
            case "float" | "percentage" | "currency":
                return _number(attribute(given, "value")) or said
            case "date":
                return attribute(given, "date-value").removesuffix("T00:00:00") or said
            case "time":
                return _time(attribute(given, "time-value")) or said
            case "boolean":
                return "yes" if attribute(given, "boolean-value") == "true" else "no"
            case "":
                if attribute(given, "formula") and not said:
                    self.remarks.note(NO_RESULT, self._row, self._column)
                return said
        return said or attribute(given, "string-value")


def _times(given: dict[str, str], name: str) -> int:
    words = attribute(given, name, "1")
    return max(1, min(int(words), _FAR)) if words.isascii() and words.isdigit() and len(words) < 12 else 1


def _number(words: str) -> str:
    try:
        return number_words(float(words))
    except ValueError:
        return ""


def _time(words: str) -> str:
    """A length of time as XML Schema writes it (part 2, 3.2.6), as hours, minutes and seconds."""
    found = _DURATION.fullmatch(words.strip())
    if found is None or not any(found.groups()[1:]):
        return ""
    days, hours, minutes = (int(piece or 0) for piece in found.group(2, 3, 4))
    seconds = days * 86_400 + hours * 3600 + minutes * 60 + float((found[5] or "0").replace(",", "."))
    return duration_words(-seconds if found[1] else seconds)
