"""Tables that are kept as text: CSV, TSV and other signs between cells, and what spreadsheets put on the clipboard (RFC 4180)."""

import csv
import io
import itertools
import re
from pathlib import PurePath

from avlet.document.metadata import brief
from avlet.document.tables.table import Table, trimmed
from avlet.errors import AnswerError
from avlet.limits import MOST_CELL, MOST_COLUMNS, MOST_ROWS, MOST_TABLE_LETTERS

TEXTS = (".csv", ".tsv", ".txt", ".tab")
_SNIFFED = 20
_MOST_OPEN = 20
_END = "\ue000end of the table\ue000"
"""A last line that no table has: it shows whether a quotation mark before it is still open."""
_NAMED = re.compile(r'"?sep=([,;|\t])"?(?:\r\n|\r|\n|$)', re.IGNORECASE)
_DELIMITERS = {"\t": "tabs", ",": "commas", ";": "semicolons", "|": "bars"}


def read_text(data: bytes, name: str) -> Table:
    """A table that is kept as text; raises ``AnswerError`` in words."""
    suffix = PurePath(name).suffix.lower()
    if len(data) > MOST_TABLE_LETTERS:
        raise AnswerError(f"“{brief(name)}” has more than {MOST_TABLE_LETTERS // 1024**2} MB; that is no table to be read here. Split it.")
    if suffix not in TEXTS and b"\0" in data[:1000] and data[:2] not in (b"\xff\xfe", b"\xfe\xff"):
        raise AnswerError(f"“{brief(name)}” is no table. Give it as CSV, TSV, XLSX or ODS.")
    words, remarks = decoded(data, name)
    delimiter = "\t" if suffix in (".tsv", ".tab") else delimiter_of(words)
    encoding = "UTF-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "Windows-1252" if remarks else "UTF-8"
    rows, said = rows_and_remarks(words, name, delimiter)
    named = _named_sign(words)[0] or delimiter
    return Table(rows, (*remarks, *said), f"{encoding}, {_DELIMITERS[named]} between cells", (*remarks, *said))


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
    """The rows of a table that is written as text; raises ``AnswerError``."""
    return rows_and_remarks(words, name, delimiter)[0]


def rows_and_remarks(words: str, name: str, delimiter: str | None = None) -> tuple[tuple[tuple[str, ...], ...], tuple[str, ...]]:
    """The rows of a table that is written as text, by RFC 4180 or with other signs between cells, and what is to be said of them.

    A quotation mark that is never closed would take all that follows into one cell: it counts as a sign of its own, and that is said.
    Raises ``AnswerError``.
    """
    csv.field_size_limit(MOST_CELL)
    named, words = _named_sign(words)
    given = named or delimiter or delimiter_of(words)
    lines = io.StringIO(words, newline="").readlines()
    rows: list[tuple[str, ...]] = []
    remarks: list[str] = []
    first, letters = 0, 0
    while (open_line := _take(rows, lines, first, given, name)) is not None:
        if len(remarks) == _MOST_OPEN:
            raise AnswerError(f"“{brief(name)}” has {_MOST_OPEN} quotation marks and more that are never closed. Save it again.")
        try:
            rows.append(tuple(next(csv.reader([lines[open_line]], delimiter=given, quoting=csv.QUOTE_NONE), ())))
        except csv.Error as error:
            raise AnswerError(f"“{brief(name)}” cannot be read as a table near row {len(rows) + 1}: {error}.") from None
        remarks.append(f"Row {len(rows)} opens a quotation mark that is never closed; it was read as a sign like any other.")
        first = open_line + 1
    for number, row in enumerate(rows):
        letters += sum(map(len, row))
        if len(row) > MOST_COLUMNS and any(cell.strip() for cell in row[MOST_COLUMNS:]):
            raise AnswerError(f"“{brief(name)}” has more than {MOST_COLUMNS:,} columns in row {number + 1}.")
        if letters > MOST_TABLE_LETTERS:
            raise AnswerError(f"“{brief(name)}” has more than {MOST_TABLE_LETTERS:,} letters up to row {number + 1}. Split it.")
    return trimmed(rows), tuple(remarks)


def _named_sign(words: str) -> tuple[str, str]:
    """The sign between cells that some spreadsheets name in a first line such as ``sep=;``, and the words below it."""
    found = _NAMED.match(words)
    return (found[1], words[found.end() :]) if found else ("", words)


def _take(rows: list[tuple[str, ...]], lines: list[str], first: int, delimiter: str, name: str) -> int | None:
    """Take rows from lines on; the number of the line whose quotation mark is never closed, None where all are."""
    reader = csv.reader(itertools.chain(itertools.islice(lines, first, None), (_END,)), delimiter=delimiter)
    begin = first
    try:
        for row in reader:
            if row == [_END]:
                return None
            if reader.line_num > len(lines) - first:
                return begin
            if len(rows) > MOST_ROWS and any(cell.strip() for cell in row):
                raise AnswerError(f"“{brief(name)}” has more than {MOST_ROWS:,} rows below its heads. Split it.")
            rows.append(tuple(row))
            begin = first + reader.line_num
    except csv.Error as error:
        if "limit" in str(error) and '"' in lines[begin]:
            return begin
        raise AnswerError(f"“{brief(name)}” cannot be read as a table near row {len(rows) + 1}: {error}.") from None
    return None


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


def as_csv(rows: tuple[tuple[str, ...], ...], delimiter: str = ",") -> str:
    """Rows as text by RFC 4180."""
    out = io.StringIO(newline="")
    csv.writer(out, delimiter=delimiter, lineterminator="\r\n" if delimiter == "," else "\n").writerows(rows)
    return out.getvalue()
