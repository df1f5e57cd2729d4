"""Spreadsheets of every kind: which one a file is, and its first sheet that holds something."""

import io
import lzma
import struct
import zipfile
import zlib
from xml.parsers import expat

from avlet.document.metadata import brief
from avlet.document.tables.ods import read_ods
from avlet.document.tables.table import Table, cells_of
from avlet.document.tables.written_cells import cell_words
from avlet.document.tables.xlsx import read_xlsx
from avlet.document.tables.xml_parts import Parts
from avlet.errors import AnswerError

SPREADSHEETS = (".xlsx", ".ods", ".xls", ".xlsb", ".xlsm")
_ZIP, _OLE = b"PK\x03\x04", b"\xd0\xcf\x11\xe0"
_LOCKED = "EncryptedPackage".encode("utf-16-le")
_DAMAGED = (
    zipfile.BadZipFile, expat.ExpatError, OSError, NotImplementedError, RuntimeError, EOFError, ValueError, OverflowError, LookupError,
    zlib.error, lzma.LZMAError, struct.error,
)  # fmt: skip
"""What reading a damaged zip, or damaged XML in it, raises."""


def is_spreadsheet(data: bytes) -> bool:
    """Whether bytes begin as spreadsheets do."""
    return data[:4] in (_ZIP, _OLE)


def read_spreadsheet(data: bytes, name: str) -> Table:
    """The rows of a spreadsheet; raises ``AnswerError`` in words."""
    try:
        title, count, table = _read(data, name)
    except _DAMAGED as error:
        reason = brief(error) or "it is damaged"
        raise AnswerError(f"“{brief(name)}” cannot be read as a spreadsheet ({reason}). Save it again, or as CSV.") from None
    if not table.rows:
        return Table(())
    said = (f"Of {count} sheets in “{brief(name)}” “{brief(title)}” was read.",) if count > 1 else ()
    return Table(table.rows, (*said, *table.remarks), f"sheet {brief(title)}", table.remarks)


def _read(data: bytes, name: str) -> tuple[str, int, Table]:
    if data[:4] == _OLE:
        if _LOCKED in data:
            raise AnswerError(f"“{brief(name)}” is locked with a password. Save it without one.")
        return _by_calamine(data, name)
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        parts = Parts(archive, name)
        if parts.has("content.xml"):
            if parts.has("META-INF/manifest.xml") and b"encryption-data" in parts.start("META-INF/manifest.xml", 1 << 16):
                raise AnswerError(f"“{brief(name)}” is locked with a password. Save it without one.")
            return read_ods(parts, name)
        if parts.has("xl/workbook.bin"):
            return _by_calamine(data, name)
        return read_xlsx(parts, name)


def _by_calamine(data: bytes, name: str) -> tuple[str, int, Table]:
    """The binary kinds, XLS and XLSB."""
    from python_calamine import CalamineError, CalamineWorkbook, ZipError

    try:
        book = CalamineWorkbook.from_filelike(io.BytesIO(data))
        sheets = list(book.sheet_names)
        for title in sheets:
            given = book.get_sheet_by_name(title).to_python(skip_empty_area=True)
            if rows := cells_of(((cell_words(value) for value in row) for row in given), name):
                return title, len(sheets), Table(rows)
    except (CalamineError, ZipError) as error:
        raise AnswerError(f"“{brief(name)}” cannot be read as a spreadsheet ({brief(error)}). Save it again, or as CSV.") from None
    return "", len(sheets), Table(())
