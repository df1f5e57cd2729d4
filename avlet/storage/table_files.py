"""Tables in files that may be anything: read in a process of their own, with bounds on time and memory."""

from functools import partial
from pathlib import Path

from avlet.document.metadata import brief
from avlet.document.tables import Table, read_table
from avlet.document.tables.spreadsheets import is_spreadsheet
from avlet.limits import SECONDS_OF_READING
from avlet.storage.bounded import bounded
from avlet.storage.reading import read_named_file

_PLAIN = 1 << 20
"""Bytes of a table as text that is read at once: it takes no more than that comes to."""


def table_in(data: bytes, name: str) -> Table:
    """The table that a file's bytes are; raises ``AnswerError`` or ``StorageError`` in words."""
    if len(data) <= _PLAIN and not is_spreadsheet(data):
        return read_table(data, name)
    return bounded(partial(read_table, data, name), brief(name), SECONDS_OF_READING)


def table_in_file(path: Path) -> Table:
    """The table in a file; raises ``AnswerError`` or ``StorageError`` in words."""
    return table_in(read_named_file(str(path)), path.name)
