"""Tables as people keep them: CSV, TSV, XLSX and ODS, and what spreadsheets put on the clipboard, as rows of words."""

from pathlib import PurePath

from avlet.document.tables.spreadsheets import SPREADSHEETS, is_spreadsheet, read_spreadsheet
from avlet.document.tables.table import Table
from avlet.document.tables.texts import TEXTS, as_csv, read_text, rows_of

TABLES = (*TEXTS, *SPREADSHEETS)
"""Endings of files that are tables."""

__all__ = ["SPREADSHEETS", "TABLES", "TEXTS", "Table", "as_csv", "read_table", "rows_of"]


def read_table(data: bytes, name: str) -> Table:
    """Read a table from a file's bytes; ``name`` is the file's. Raises ``AnswerError`` in words.

    A stranger's file is read through ``avlet.storage.table_files``, which does this in a process with bounds.
    """
    if PurePath(name).suffix.lower() in SPREADSHEETS or is_spreadsheet(data):
        return read_spreadsheet(data, name)
    return read_text(data, name)
