"""A table that was read, and the limits that every kind of table is held to while it is read."""

from collections.abc import Iterable
from dataclasses import dataclass

from avlet.document.metadata import brief
from avlet.errors import AnswerError
from avlet.limits import MOST_CELL, MOST_CELLS, MOST_COLUMNS, MOST_ROWS, MOST_TABLE_LETTERS


@dataclass(frozen=True)
class Table:
    """Rows of cells, each row as long as it is; ``remarks`` say what was done to read them, ``kept_as`` how they are kept.

    ``guessed`` are those remarks that tell of a guess: what the rows say may be something else.
    """

    rows: tuple[tuple[str, ...], ...]
    remarks: tuple[str, ...] = ()
    kept_as: str = ""
    guessed: tuple[str, ...] = ()


def cell_name(row: int, column: int) -> str:
    """The name of a cell as spreadsheets have it, such as B7; both numbers count from 0."""
    letters, left = "", column + 1
    while left:
        left, rest = divmod(left - 1, 26)
        letters = chr(65 + rest) + letters
    return f"{letters}{row + 1}"


def trimmed(rows: list[tuple[str, ...]]) -> tuple[tuple[str, ...], ...]:
    """Rows without the empty ones at the end."""
    while rows and not any(cell.strip() for cell in rows[-1]):
        rows.pop()
    return tuple(rows)


class Cells:
    """The cells of one sheet that hold something, gathered one by one. Raises ``AnswerError`` with the cell that is too much.

    Rows and columns are counted from the first that holds something, so that a sheet of a few cells takes little room wherever they lie.
    """

    def __init__(self, name: str) -> None:
        self._name = brief(name)
        self._rows: dict[int, dict[int, str]] = {}
        self._top: int | None = None
        self._count = self._letters = 0

    def put(self, row: int, column: int, words: str) -> None:
        """Take the words of a cell; one that is empty takes no room."""
        if not words or words.isspace():
            return
        self._count += 1
        self._letters += len(words)
        top = self._top = row if self._top is None or row < self._top else self._top
        if (
            column >= MOST_COLUMNS or row - top > MOST_ROWS or len(words) > MOST_CELL or self._count > MOST_CELLS
            or self._letters > MOST_TABLE_LETTERS
        ):  # fmt: skip
            raise AnswerError(f"“{self._name}” {self._fault(row, top, column, words)}")
        cells = self._rows.get(row)
        if cells is None:
            cells = self._rows[row] = {}
        cells[column] = words

    def _fault(self, row: int, top: int, column: int, words: str) -> str:
        cell = cell_name(row, column)
        if row - top > MOST_ROWS:
            return f"has something in {cell}, below {MOST_ROWS:,} rows and their heads. Delete a stray cell, or split the table."
        if column >= MOST_COLUMNS:
            return f"has something in {cell}, beyond {MOST_COLUMNS:,} columns. Delete a stray cell."
        if len(words) > MOST_CELL:
            return f"has {len(words):,} letters in {cell}; a cell has at most {MOST_CELL:,}."
        if self._count > MOST_CELLS:
            return f"has more than {MOST_CELLS:,} cells with something in them, counted up to {cell}. Split it."
        return f"has more than {MOST_TABLE_LETTERS:,} letters in all, counted up to {cell}. Split it."

    def rows(self) -> tuple[tuple[str, ...], ...]:
        """All rows from the first to the last that holds something, each from the first column that does to its own last."""
        if not self._rows:
            return ()
        left = min(min(cells) for cells in self._rows.values())
        empty: dict[int, str] = {}
        return tuple(
            tuple(cells.get(column, "") for column in range(left, max(cells, default=left - 1) + 1))
            for cells in (self._rows.get(row, empty) for row in range(min(self._rows), max(self._rows) + 1))
        )


def cells_of(rows: Iterable[Iterable[str]], name: str) -> tuple[tuple[str, ...], ...]:
    """Rows that came whole, held to the same limits; raises ``AnswerError``."""
    cells = Cells(name)
    for row, given in enumerate(rows):
        for column, words in enumerate(given):
            cells.put(row, column, words)
    return cells.rows()


class Remarks:
    """What is to be said of single cells: of each kind the first cell, and how many more there are."""

    def __init__(self) -> None:
        self._found: dict[str, tuple[str, int]] = {}

    def note(self, words: str, row: int, column: int) -> None:
        """Note a cell; ``words`` has ``{cell}`` where its name stands."""
        first, count = self._found.get(words, (cell_name(row, column), 0))
        self._found[words] = first, count + 1

    def said(self) -> tuple[str, ...]:
        """The sentences."""
        return tuple(
            words.format(cell=first if count == 1 else f"{first} and {count - 1:,} more") for words, (first, count) in self._found.items()
        )
