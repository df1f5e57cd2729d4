"""Tables as people keep them: CSV, TSV, XLSX and ODS, and what spreadsheets put on the clipboard, as rows of words."""

import csv
import datetime
import io
from dataclasses import dataclass
from pathlib import PurePath
from typing import Any

from avlet.document.metadata import brief
from avlet.errors import AnswerError
from avlet.limits import MOST_CELL, MOST_ROWS

SPREADSHEETS = (".xlsx", ".ods", ".xls", ".xlsb", ".xlsm")
TEXTS = (".csv", ".tsv", ".txt", ".tab")
TABLES = (*TEXTS, *SPREADSHEETS)
"""Endings of files that are tables."""
_SNIFFED = 20
_DELIMITERS = {"\t": "tabs", ",": "commas", ";": "semicolons", "|": "bars"}
_ZIP, _OLE = b"PK\x03\x04", b"\xd0\xcf\x11\xe0"


@dataclass(frozen=True)
class Table:
    """Rows of cells, each row as long as it is; ``remarks`` say what was done to read them, ``kept_as`` how they are kept."""

    rows: tuple[tuple[str, ...], ...]
    remarks: tuple[str, ...] = ()
    kept_as: str = ""


def read_table(data: bytes, name: str) -> Table:
    """A table from a file's bytes; ``name`` is the file's. Raises ``AnswerError`` in words."""
    suffix = PurePath(name).suffix.lower()
    if suffix in SPREADSHEETS or data[:4] in (_ZIP, _OLE):
        return _spreadsheet(data, name)
    if suffix not in TEXTS and b"\0" in data[:1000] and data[:2] not in (b"\xff\xfe", b"\xfe\xff"):
        raise AnswerError(f"“{brief(name)}” is no table. Give it as CSV, TSV, XLSX or ODS.")
    words, remarks = decoded(data, name)
    delimiter = "\t" if suffix in (".tsv", ".tab") else delimiter_of(words)
    encoding = "UTF-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "Windows-1252" if remarks else "UTF-8"
    return Table(rows_of(words, name, delimiter), remarks, f"{encoding}, {_DELIMITERS[delimiter]} between cells")


def decoded(data: bytes, name: str) -> tuple[str, tuple[str, ...]]:
    """A text file's words, and what is to be said of how they are kept. Raises ``AnswerError``."""
    try:
        if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
            return data.decode("utf-16"), ()
        words = data.decode("utf-8-sig")
        if "\0" in words or data[:5] == b"%PDF-":
            raise AnswerError(f"“{brief(name)}” is no table. Save it as CSV in UTF-8.")
        return words, ()
    except UnicodeDecodeError:
        if data[:2] in (b"\xff\xfe", b"\xfe\xff") or b"\0" in data:
            raise AnswerError(f"“{brief(name)}” cannot be read as text. Save it as CSV in UTF-8.") from None
    said = f"“{brief(name)}” is not in UTF-8 and was read as Windows-1252. Look at the letters with accents, or save it as UTF-8."
    return data.decode("cp1252", errors="replace"), (said,)


def rows_of(words: str, name: str = "the clipboard", delimiter: str | None = None) -> tuple[tuple[str, ...], ...]:
    """The rows of a table that is written as text (RFC 4180, with other signs between cells as well). Raises ``AnswerError``."""
    csv.field_size_limit(MOST_CELL)
    rows: list[tuple[str, ...]] = []
    try:
        given = delimiter or delimiter_of(words)
        for row in csv.reader(io.StringIO(words, newline=""), delimiter=given):
            if len(rows) >= MOST_ROWS and any(cell.strip() for cell in row):
                raise AnswerError(_too_long(name))
            rows.append(tuple(row))
    except csv.Error as error:
        raise AnswerError(f"“{brief(name)}” cannot be read as a table near row {len(rows) + 1}: {error}.") from None
    return _trimmed(rows)


def _too_long(name: str) -> str:
    return f"“{brief(name)}” has more than {MOST_ROWS:,} rows. Split it."


def delimiter_of(words: str) -> str:
    """The sign between cells: the one that parts most lines at the top into the same number of several cells."""
    lines = [line for line in words.splitlines()[:_SNIFFED] if line.strip()]
    best, most = ",", 0
    for sign in _DELIMITERS:
        counts = [_cells(line, sign) for line in lines]
        agreeing = max((counts.count(n) for n in set(counts) if n > 1), default=0)
        if agreeing > most:
            best, most = sign, agreeing
    return best


def _cells(line: str, sign: str) -> int:
    """How many cells a line has with a sign between them; none where it is no line of a table."""
    try:
        return len(next(csv.reader([line], delimiter=sign), []))
    except csv.Error:
        return 0


def _trimmed(rows: list[tuple[str, ...]]) -> tuple[tuple[str, ...], ...]:
    """Without empty rows at the end."""
    while rows and not any(cell.strip() for cell in rows[-1]):
        rows.pop()
    return tuple(rows)


def _spreadsheet(data: bytes, name: str) -> Table:
    from python_calamine import CalamineError, CalamineWorkbook, ZipError

    try:
        book = CalamineWorkbook.from_filelike(io.BytesIO(data))
        sheets = list(book.sheet_names)
        for number, sheet_name in enumerate(sheets):
            sheet = book.get_sheet_by_name(sheet_name)
            if sheet.height > MOST_ROWS:
                raise AnswerError(_too_long(name))
            rows = _trimmed([tuple(_cell(value) for value in row) for row in sheet.to_python(skip_empty_area=True)])
            if rows:
                others = len(sheets) - 1
                said = (f"Of {len(sheets)} sheets in “{brief(name)}” “{sheet_name}” was read.",) if others and number < len(sheets) else ()
                return Table(rows, said, f"sheet {brief(sheet_name)}")
    except AnswerError:
        raise
    except (CalamineError, ZipError, OSError, ValueError, OverflowError) as error:
        raise AnswerError(f"“{brief(name)}” cannot be read as a spreadsheet ({brief(error)}). Save it again, or as CSV.") from None
    return Table(())


def _cell(value: Any) -> str:
    """A cell's words: whole numbers without decimals, days and times as ISO 8601 writes them."""
    match value:
        case bool():
            return "yes" if value else "no"
        case float() if value.is_integer() and abs(value) < 1e15:
            return str(int(value))
        case datetime.datetime() | datetime.date() | datetime.time():
            return value.isoformat()
    return str(value)


def as_csv(rows: tuple[tuple[str, ...], ...], delimiter: str = ",") -> str:
    """Rows as text by RFC 4180."""
    out = io.StringIO(newline="")
    csv.writer(out, delimiter=delimiter, lineterminator="\r\n" if delimiter == "," else "\n").writerows(rows)
    return out.getvalue()
