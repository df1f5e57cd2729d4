"""Lists and tables: which column means what, blocks from rows, and rows from blocks."""

import difflib
from collections.abc import Callable, Iterable, Sequence
from typing import NamedTuple

import msgspec

from avlet.document.lists.blocks import (
    BLOCK_KINDS,
    Block,
    Blocks,
    Gap,
    Heading,
    Names,
    PageBreak,
    Pictures,
    Role,
    RuleLine,
    Words,
)
from avlet.document.parts import PictureFile
from avlet.document.tables import Table, as_csv
from avlet.errors import AnswerError
from avlet.numbers.exact import in_full

replace = msgspec.structs.replace
HEADS: dict[str, tuple[str, ...]] = {
    "section": ("section", "heading", "group", "department"),
    "role": ("role", "job", "character", "position", "credit"),
    "name": ("name", "person", "names", "who"),
    "words": ("words", "text", "note"),
    "picture": ("picture", "logo", "image", "mark"),
    "kind": ("kind", "block"),
    "height": ("height", "px"),
    "columns": ("columns",),
}
"""What a column may be called, by what it means."""
MEANINGS = ("section", "role", "name", "words", "picture")
"""What people choose for a column; the others are those of lists that Avlet wrote."""
Columns = dict[str, int]
"""By meaning: the number of the column."""
LoadPicture = Callable[[str], bytes]
"""The bytes of a picture by its name in a table; none where there is no such file."""


def no_pictures(name: str) -> bytes:
    """Finds no picture."""
    return b""


class Recognised(NamedTuple):
    """The columns of a table, and whether its first row is their heads."""

    columns: Columns
    heads: bool


def recognised(table: Table) -> Recognised:
    """What the columns of a table mean: by their heads, else by how many there are: names; roles and names; sections before those."""
    first = table.rows[0] if table.rows else ()
    found: Columns = {}
    for number, cell in enumerate(first):
        word = " ".join(cell.casefold().split()).rstrip(":")
        meaning = next((m for m, names in HEADS.items() if word in names or word.removesuffix("s") in names), None)
        if meaning is not None and meaning not in found:
            found[meaning] = number
    if found and ("name" in found or "kind" in found or len(found) > 1):
        return Recognised(found, True)
    filled = [n for n in range(max((len(row) for row in table.rows), default=0)) if any(_at(row, n) for row in table.rows)]
    if len(filled) == 1:
        return Recognised({"name": filled[0]}, False)
    names: Sequence[str] = ("role", "name") if len(filled) == 2 else ("section", "role", "name", "picture")
    return Recognised(dict(zip(names, filled, strict=False)), False)


def led(known: Recognised, table: Table, given: Sequence[str]) -> Recognised:
    """The same with columns that were told what they mean, as ``COLUMN=MEANING``; nothing behind the sign lets a column go.

    A column is named by its head or its number, from 1. Raises ``AnswerError`` that lists what there is.
    """
    if not given:
        return known
    heads = [" ".join(cell.casefold().split()) for cell in (table.rows[0] if table.rows else ())]
    columns, named = dict(known.columns), known.heads
    for words in given:
        head, equals, meaning = (piece.strip() for piece in words.rpartition("=")) if "=" in words else (words, "", "")
        plain = " ".join(head.casefold().split())
        if not equals or (meaning and meaning.casefold() not in HEADS):
            raise AnswerError(f"“{words}” is not COLUMN=MEANING. A column of a list is: {', '.join(HEADS)}.")
        if plain in heads:
            column, named = heads.index(plain), True
        elif plain.isdigit() and 1 <= int(plain) <= max(map(len, table.rows), default=0):
            column = int(plain) - 1
        else:
            raise AnswerError(f"There is no column “{head}”. The columns: {', '.join(table.rows[0][:20]) if table.rows else 'none'}.")
        columns = {m: c for m, c in columns.items() if c != column and m != meaning.casefold()}
        if meaning:
            columns[meaning.casefold()] = column
    return Recognised(columns, named)


def _at(row: Sequence[str], column: int | None) -> str:
    return row[column].strip() if column is not None and column < len(row) else ""


def _kept(row: Sequence[str], column: int | None) -> str:
    """A cell as it stands, blanks and all: proofreading tells of them. One of blanks alone is empty."""
    return _raw(row, column) if _at(row, column) else ""


def _same(words: str) -> str:
    """Words as they are compared: without regard to case and blanks."""
    return " ".join(words.casefold().split())


def blocks_from(table: Table, known: Recognised, load: LoadPicture = no_pictures) -> Blocks:
    """The blocks of a table. Sections and roles that come again are merged with the first of their name.

    A row with a role but no name, in a table of two columns without heads, is a heading; one with a name alone goes on with the role above.
    """
    rows = table.rows[1:] if known.heads else table.rows
    if "kind" in known.columns:
        return _written(rows, known.columns, load)
    made = _Sections(known, load)
    for row in rows:
        made.take(row)
    return made.blocks()


class _Growing:
    """A block of names that more are added to."""

    def __init__(self, block: Role | Names, names: Iterable[str] = ()) -> None:
        self.block, self.names = block, list(names)

    def done(self) -> Block:
        """The block as it is in the end."""
        return replace(self.block, names=tuple(self.names) or ("",))


def _done(blocks: Iterable[Block | _Growing]) -> Blocks:
    return tuple(block.done() if isinstance(block, _Growing) else block for block in blocks)


class _Sections:
    """Sections in the order in which they are met, and in each its roles."""

    def __init__(self, known: Recognised, load: LoadPicture) -> None:
        columns = known.columns
        self.columns, self.load = columns, load
        self.sections: dict[str, tuple[str, list[Block | _Growing]]] = {}
        self.roles: dict[tuple[str, str], _Growing] = {}
        self.section, self.role = "", ""
        self.alone = not known.heads and "section" not in columns and "role" in columns and "name" in columns

    def take(self, row: Sequence[str]) -> None:
        """One more row."""
        cell = {meaning: _kept(row, self.columns.get(meaning)) for meaning in MEANINGS}
        if not any(cell.values()):
            self.role = ""
            return
        if cell["section"]:
            if _same(cell["section"]) != _same(self.section):
                self.role = ""
            self.section = cell["section"]
        elif self.alone and cell["role"] and not (cell["name"] or cell["words"] or cell["picture"]):
            self.section, self.role = cell["role"], ""
            self._blocks()
            return
        listed = self._blocks()
        if cell["role"]:
            self.role = cell["role"]
        names = [line for line in cell["name"].splitlines() if line.strip()]
        if self.role and (names or cell["role"]):
            self._add_to_role(listed, names)
        elif names:
            last = listed[-1] if listed else None
            if not (isinstance(last, _Growing) and isinstance(last.block, Names)):
                listed.append(last := _Growing(Names()))
            last.names += names
        if cell["words"]:
            listed.append(Words(text=cell["words"]))
        if cell["picture"]:
            listed.append(Pictures(pictures=(_picture(cell["picture"], self.load),)))

    def _blocks(self) -> list[Block | _Growing]:
        return self.sections.setdefault(_same(self.section), (self.section, []))[1]

    def _add_to_role(self, listed: list[Block | _Growing], names: Sequence[str]) -> None:
        key = _same(self.section), _same(self.role)
        if key not in self.roles:
            self.roles[key] = _Growing(Role(role=self.role))
            listed.append(self.roles[key])
        self.roles[key].names += names

    def blocks(self) -> Blocks:
        """All of them, each section under its heading."""
        found: list[Block | _Growing] = []
        for name, blocks in self.sections.values():
            found += [Heading(text=name), *blocks] if name else blocks
        return _done(found)


# Lists that Avlet wrote

_MORE = "and"
"""The kind of a row that goes on with the block above."""
_COLUMNS = ("kind", "section", "role", "name", "words", "picture", "height", "columns")


def rows_from(blocks: Iterable[Block]) -> tuple[tuple[str, ...], ...]:
    """A list as rows with heads, from which :func:`blocks_from` makes the same list; pictures by the names of their files."""
    rows: list[tuple[str, ...]] = [_COLUMNS]

    def add(kind: str, **cells: str) -> None:
        rows.append((kind, *(cells.get(name, "") for name in _COLUMNS[1:])))

    for block in blocks:
        match block:
            case Heading(text=text):
                add("heading", section=text)
            case Words(text=text):
                add("words", words=text)
            case Role(role=role, names=names):
                for number, name in enumerate(names or ("",)):
                    add(_MORE if number else "role", role="" if number else role, name=name)
            case Names(names=names):
                how = f"{block.columns} {block.filled} {block.sorted_in}".strip()
                for number, name in enumerate(names or ("",)):
                    add(_MORE if number else "names", name=name, columns="" if number else how)
            case Pictures(pictures=pictures):
                for number, picture in enumerate(pictures or (PictureFile(""),)):
                    add(_MORE if number else "picture", picture=picture.name, height="" if number else f"{in_full(block.height)}")
            case RuleLine():
                add("rule", height=f"{in_full(block.thickness)}", columns=f"{in_full(block.width)}")
            case Gap():
                add("gap", height=f"{in_full(block.height)}")
            case PageBreak():
                add("page break")
    return tuple(rows)


def csv_of(blocks: Iterable[Block]) -> str:
    """A list as CSV."""
    return as_csv(rows_from(blocks))


def tabbed_of(blocks: Iterable[Block]) -> str:
    """A list as a table that people type in: all of it, with heads, tabs between its cells, and without columns that nothing stands in."""
    rows = rows_from(blocks)
    used = [n for n, name in enumerate(_COLUMNS) if name in ("kind", "role", "name") or any(row[n] for row in rows[1:])]
    return as_csv(tuple(tuple(row[n] for n in used) for row in rows), "\t")


def clipboard_of(blocks: Iterable[Block]) -> str:
    """A list as spreadsheets take it from the clipboard: roles and names in two columns."""
    rows: list[tuple[str, ...]] = []
    for block in blocks:
        match block:
            case Heading(text=text) | Words(text=text):
                rows.append((text, ""))
            case Role(role=role, names=names):
                rows += [("" if number else role, name) for number, name in enumerate(names or ("",))]
            case Names(names=names):
                rows += [("", name) for name in names]
            case Pictures(pictures=pictures):
                rows += [(picture.name, "") for picture in pictures]
            case _:
                rows.append(("", ""))
    return as_csv(tuple(rows), "\t")


def _written(rows: Sequence[Sequence[str]], columns: Columns, load: LoadPicture) -> Blocks:
    """The blocks of a list with a column of kinds; a row without a kind, or with :data:`_MORE`, goes on with the block above."""
    found: list[Block | _Growing] = []
    for number, row in enumerate(rows):
        kind = _at(row, columns["kind"]).casefold()
        cell = {meaning: _raw(row, columns.get(meaning)) for meaning in HEADS}
        last = found[-1] if found else None
        if kind in ("", _MORE):
            if isinstance(last, _Growing):
                last.names.append(cell["name"])
            elif isinstance(last, Pictures) and cell["picture"]:
                found[-1] = replace(last, pictures=(*last.pictures, _picture(cell["picture"], load)))
            continue
        if kind not in BLOCK_KINDS:
            known = ", ".join(BLOCK_KINDS)
            raise AnswerError(f"Row {number + 2} is of the kind “{kind[:40]}”. The kinds are {known}.")
        block = _block(kind, cell, number + 2, load)
        found.append(_Growing(block, block.names) if isinstance(block, Role | Names) else block)
    return _done(found)


def _raw(row: Sequence[str], column: int | None) -> str:
    return row[column] if column is not None and column < len(row) else ""


def _picture(name: str, load: LoadPicture) -> PictureFile:
    return PictureFile(name.strip()[:200], load(name.strip()))


def _block(kind: str, cell: dict[str, str], row: int, load: LoadPicture) -> Block:
    match kind:
        case "heading":
            return Heading(text=cell["section"])
        case "words":
            return Words(text=cell["words"])
        case "role":
            return Role(role=cell["role"], names=(cell["name"],))
        case "names":
            count, filled, language = [*cell["columns"].split(), "", "", ""][:3]
            columns = int(count) if count in ("1", "2", "3", "4") else 1
            return Names(names=(cell["name"],), columns=columns, filled="across" if filled == "across" else "down", sorted_in=language[:40])
        case "picture":
            pictures = (_picture(cell["picture"], load),) if cell["picture"].strip() else ()
            return Pictures(pictures=pictures, height=_px(cell["height"], 120.0, row))
        case "rule":
            return RuleLine(thickness=_px(cell["height"], 3.0, row), width=_px(cell["columns"], 400.0, row))
        case "gap":
            return Gap(height=_px(cell["height"], 90.0, row))
    return PageBreak()


def _px(words: str, usual: float, row: int) -> float:
    if not words.strip():
        return usual
    try:
        value = float(words.replace(",", "."))
    except ValueError:
        value = -1.0
    if not 0 <= value <= 20_000:
        raise AnswerError(f"Row {row} has “{words[:40]}” where a number of px from 0 to 20,000 is expected.")
    return value


# What has changed


class Change(NamedTuple):
    """One stretch in which two lists differ: blocks ``old`` from ``at`` on are ``new`` ones."""

    at: int
    old: Blocks
    new: Blocks


def changes_between(mine: Blocks, theirs: Blocks) -> list[Change]:
    """Where another list differs from one's own, in order; what was said to be meant so counts for nothing."""
    bare = [replace(block, meant=()) for block in mine]
    other = [replace(block, meant=()) for block in theirs]
    matcher = difflib.SequenceMatcher(None, bare, other, autojunk=False)
    found: list[Change] = []
    for tag, a, b, c, d in matcher.get_opcodes():
        if tag == "equal":
            continue
        if b - a == d - c:
            found += [Change(a + n, mine[a + n : a + n + 1], theirs[c + n : c + n + 1]) for n in range(b - a)]
        else:
            found.append(Change(a, mine[a:b], theirs[c:d]))
    return found


def with_changes(mine: Blocks, taken: Sequence[Change]) -> Blocks:
    """A list with some of the changes to another one."""
    for change in sorted(taken, key=lambda c: c.at, reverse=True):
        mine = (*mine[: change.at], *change.new, *mine[change.at + len(change.old) :])
    return mine
