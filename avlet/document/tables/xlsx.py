"""Sheets of an XLSX file, cell by cell (ECMA-376 part 1, SpreadsheetML)."""

import re
from dataclasses import dataclass, field

from avlet.document.tables.table import Cells, Remarks, Table
from avlet.document.tables.written_cells import format_code, number_words, serial_words, shown_as
from avlet.document.tables.xml_parts import Parts, relations
from avlet.errors import AnswerError
from avlet.limits import MOST_CELLS

_ESCAPED = re.compile(r"_x([0-9A-Fa-f]{4})_")
_PLAIN = re.compile(r"0|-?[1-9][0-9]{0,14}")
"""Numbers that are written as they are kept."""
_REFERENCE = re.compile(r"\$?([A-Za-z]{1,3})\$?([0-9]{1,7})")
NO_RESULT = "In {cell} there is a formula without a kept result; it counts as empty. Open and save the table where it was made."
AN_ERROR = "In {cell} the spreadsheet has an error, such as #N/A; it counts as empty."


@dataclass
class _Book:
    """What cells of all sheets refer to."""

    sheets: list[tuple[str, str]] = field(default_factory=list)
    """Names and parts, those that are shown first."""
    strings: list[str] = field(default_factory=list)
    shown: list[str] = field(default_factory=list)
    """What each cell style shows a number as."""
    since_1904: bool = False


def read_xlsx(parts: Parts, name: str) -> tuple[str, int, Table]:
    """The first sheet that holds something: its name, how many sheets there are, and its rows. Raises ``AnswerError``."""
    book = _book(parts, name)
    for title, part in book.sheets:
        sheet = _Sheet(book, name)
        parts.parse(part, sheet.begin, sheet.end, sheet.words)
        if rows := sheet.cells.rows():
            return title, len(book.sheets), Table(rows, sheet.remarks.said())
    return "", len(book.sheets), Table(())


def _book(parts: Parts, name: str) -> _Book:
    book = _Book()
    main = next((part for kind, part in relations(parts, "").values() if kind == "officeDocument"), "xl/workbook.xml")
    related = relations(parts, main)
    hidden: list[tuple[str, str]] = []

    def begin(element: str, given: dict[str, str]) -> None:
        if element == "workbookPr":
            book.since_1904 = given.get("date1904", "") in ("1", "true", "on")
        elif element == "sheet":
            kind, part = related.get(_relation_id(given), ("", ""))
            if kind == "worksheet" and parts.has(part):
                (book.sheets if given.get("state", "visible") == "visible" else hidden).append((given.get("name", ""), part))

    parts.parse(main, begin)
    book.sheets += hidden
    for kind, part in related.values():
        if kind == "sharedStrings" and parts.has(part):
            book.strings = _strings(parts, part, name)
        elif kind == "styles" and parts.has(part):
            book.shown = _shown(parts, part)
    return book


def _relation_id(given: dict[str, str]) -> str:
    return next((value for key, value in given.items() if key.endswith(":id")), "")


def _strings(parts: Parts, part: str, name: str) -> list[str]:
    """The words that cells name by their number. Those for how signs are spoken are none."""
    found: list[str] = []
    pieces: list[str] = []
    open_elements: list[str] = []

    def begin(element: str, given: dict[str, str]) -> None:
        open_elements.append(element)

    def words(piece: str) -> None:
        if open_elements[-1] == "t" and "rPh" not in open_elements:
            pieces.append(piece)

    def end(element: str) -> None:
        open_elements.pop()
        if element == "si":
            if len(found) >= MOST_CELLS:
                raise AnswerError(f"“{name}” has more than {MOST_CELLS:,} words to be named by cells. Split it.")
            found.append(_unescaped("".join(pieces)))
            pieces.clear()

    parts.parse(part, begin, end, words)
    return found


def _unescaped(words: str) -> str:
    """Words with the signs that XML cannot hold (ECMA-376 part 1, 22.9.2.19)."""
    return _ESCAPED.sub(lambda found: chr(int(found[1], 16)), words).replace("\r\n", "\n") if "_x" in words else words


def _shown(parts: Parts, part: str) -> list[str]:
    codes: dict[int, str] = {}
    numbers: list[int] = []
    within = ""

    def begin(element: str, given: dict[str, str]) -> None:
        nonlocal within
        if element == "numFmt":
            codes[_whole(given.get("numFmtId", ""))] = given.get("formatCode", "")
        elif element in ("cellXfs", "cellStyleXfs"):
            within = element
        elif element == "xf" and within == "cellXfs":
            numbers.append(_whole(given.get("numFmtId", "")))

    parts.parse(part, begin)
    return [shown_as(format_code(number, codes)) for number in numbers]


def _whole(words: str) -> int:
    return int(words) if words.isascii() and words.isdigit() and len(words) < 10 else 0


class _Sheet:
    """Takes the elements of a sheet as they go by."""

    def __init__(self, book: _Book, name: str) -> None:
        self.book, self.cells, self.remarks = book, Cells(name), Remarks()
        self._row = self._column = -1
        self._kind = self._style = self._value = self._said = ""
        self._formula = self._spoken = False
        self._taking = ""

    def begin(self, element: str, given: dict[str, str]) -> None:
        if element == "c":
            self._cell(given)
        elif element in ("v", "t") and not self._spoken:
            self._taking = element
        elif element == "row":
            number = _whole(given.get("r", ""))
            self._row, self._column = number - 1 if number else self._row + 1, -1
        elif element == "f":
            self._formula = True
        elif element == "rPh":
            self._spoken = True

    def _cell(self, given: dict[str, str]) -> None:
        found = _REFERENCE.fullmatch(given.get("r", ""))
        if found:
            column = 0
            for letter in found[1].upper():
                column = column * 26 + ord(letter) - 64
            self._row, self._column = int(found[2]) - 1, column - 1
        else:
            self._row, self._column = max(self._row, 0), self._column + 1
        self._kind, self._style = given.get("t", "n"), given.get("s", "")
        self._value, self._said, self._formula = "", "", False

    def words(self, piece: str) -> None:
        if self._taking == "v":
            self._value += piece
        elif self._taking == "t":
            self._said += piece

    def end(self, element: str) -> None:
        if element == "c":
            if self._value or self._said or self._formula:
                self.cells.put(self._row, self._column, self._written())
        elif element in ("v", "t"):
            self._taking = ""
        elif element == "rPh":
            self._spoken = False

    def _written(self) -> str:
        value = self._value
        match self._kind:
            case "inlineStr":
                return _unescaped(self._said or value)
            case "s":
                number = _whole(value.strip())
                return self.book.strings[number] if value and number < len(self.book.strings) else ""
            case "b":
                return {"1": "yes", "true": "yes", "0": "no", "false": "no"}.get(value.strip(), "")
            case "e":
                self.remarks.note(AN_ERROR, self._row, self._column)
                return ""
            case "str" if value:
                return _unescaped(value)
            case "d":
                return value.strip().removesuffix("T00:00:00")
        if not value:
            if self._formula and self._kind != "str":
                self.remarks.note(NO_RESULT, self._row, self._column)
            return ""
        return self._number(value)

    def _number(self, value: str) -> str:
        style = _whole(self._style)
        if not (style < len(self.book.shown) and self.book.shown[style]) and _PLAIN.fullmatch(value):
            return value
        try:
            number = float(value)
        except ValueError:
            return value
        shown = self.book.shown[style] if style < len(self.book.shown) else ""
        return serial_words(number, shown, self.book.since_1904) if shown else number_words(number)
