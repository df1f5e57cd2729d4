"""Rows of a table that are proved: columns are fields, by id or label; a column that is no field names the rows."""

from collections.abc import Sequence
from pathlib import Path

from avlet.document.cards.answers import find_field
from avlet.document.cards.typed_answers import read_typed
from avlet.document.fields import Answer, Field
from avlet.document.template import Template
from avlet.errors import AnswerError
from avlet.limits import MOST_PROVED
from avlet.review.awkward import Row
from avlet.storage.answer_files import NAMED_FILES
from avlet.storage.table_files import table_in_file


def rows_from_table(template: Template, path: Path, given: Sequence[str] = ()) -> list[Row]:
    """The rows of a table, each with its answers; raises ``AvletError`` that names row and column.

    ``given`` are ``COLUMN=FIELD`` words for columns that lead to a field of another name, or to none.
    """
    table = table_in_file(path)
    if len(table.rows) < 2:
        raise AnswerError(f"“{path.name}” has no rows below its heads. The first line names fields, the others are answers.")
    if len(table.rows) > MOST_PROVED:
        raise AnswerError(f"“{path.name}” has {len(table.rows) - 1:,} rows; at most {MOST_PROVED:,} are proved at once.")
    led = _led(template, path, table.rows[0], given)
    fields = [led[head.strip().casefold()] if head.strip().casefold() in led else _field_of(template, head) for head in table.rows[0]]
    known = [field.id for field in fields if field is not None]
    if not known:
        heads = ", ".join(head for head in table.rows[0][:8] if head.strip())
        raise AnswerError(f"“{path.name}” has no column that is a field of the card. Its heads: {heads}.")
    if twice := next((i for i in known if known.count(i) > 1), None):
        raise AnswerError(f"“{path.name}” has two columns for the field “{twice}”.")
    return [_row(template, fields, row, number, path) for number, row in enumerate(table.rows[1:], 2) if any(cell.strip() for cell in row)]


def _led(template: Template, path: Path, heads: Sequence[str], given: Sequence[str]) -> dict[str, Field | None]:
    """Where columns lead that were told to, by their heads."""
    known = {head.strip().casefold() for head in heads}
    found: dict[str, Field | None] = {}
    for words in given:
        column, equals, name = words.partition("=")
        if not equals:
            raise AnswerError(f"“{words}” is not COLUMN=FIELD.")
        if column.strip().casefold() not in known:
            raise AnswerError(f"“{path.name}” has no column “{column.strip()}”. Its columns: {', '.join(heads[:20])}.")
        found[column.strip().casefold()] = find_field(template, name.strip()) if name.strip() else None
    return found


def _field_of(template: Template, head: str) -> Field | None:
    try:
        return find_field(template, head.strip())
    except AnswerError:
        return None


def _row(template: Template, fields: list[Field | None], cells: tuple[str, ...], number: int, path: Path) -> Row:
    answers: dict[str, Answer] = {}
    name = ""
    for field, cell in zip(fields, cells, strict=False):
        if field is None:
            name = name or cell.strip()
        elif cell.strip():
            try:
                answers[field.id] = field.checked(read_typed(template, field, cell, NAMED_FILES), template.palette)
            except AnswerError as error:
                raise AnswerError(f"“{path.name}”, row {number}, {field.label}: {error}") from None
    said = name or " · ".join(str(value) for value in answers.values() if isinstance(value, str))[:60]
    return Row(f"{number}: {said}" if said else f"Row {number}", answers, None, "own")
