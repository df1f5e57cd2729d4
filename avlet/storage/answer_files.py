"""Answers that lie in files: JSON files of them, and pictures and lists that they name."""

import json
import sys
from dataclasses import dataclass
from json.decoder import scanstring  # type: ignore[attr-defined]  # it is there, and typeshed does not say so
from pathlib import Path
from typing import Any

from avlet.document.cards.answers import find_field
from avlet.document.fields import Answer, brief
from avlet.document.tables import Table
from avlet.document.template import Template
from avlet.errors import AnswerError, AvletError
from avlet.limits import MOST_DOCUMENT, MOST_ROWS
from avlet.storage.reading import read_whole, refuse_crowded
from avlet.storage.table_files import table_in

STANDARD_INPUT = Path("-")
_MOST_SAID = 20
"""Faults of one file that are told; of the others how many there are."""


@dataclass(frozen=True)
class NamedFiles:
    """The files of this machine that answers name, looked for from a folder."""

    folder: Path = Path()

    def read(self, path: str) -> bytes:
        """The bytes of a file; raises ``AnswerError`` in words."""
        try:
            return read_whole(self.folder / path)
        except (OSError, ValueError) as error:
            reason = getattr(error, "strerror", None) or "that is no path"
            raise AnswerError(f"“{brief(path)}” cannot be read: {reason}.") from None

    def table(self, path: str) -> Table:
        """The table in a file; raises ``AvletError`` in words."""
        return table_in(self.read(path), Path(path).name)


NAMED_FILES = NamedFiles()


@dataclass(frozen=True)
class _Given:
    """One answer of a file, and where its name begins: line and column, from 1."""

    name: str
    value: Any
    line: int
    column: int


def answers_from_file(template: Template, path: Path) -> dict[str, Answer]:
    """Answers from a JSON file that holds one object of field ids or labels. Raises ``AnswerError`` in words."""
    found = answer_sets(template, path)
    if len(found) != 1:
        raise AnswerError(f"“{_called(path)}” holds {len(found)} sets of answers; here one is taken.")
    return found[0]


def answer_sets(template: Template, path: Path) -> list[dict[str, Answer]]:
    """The sets of answers of a JSON file: one object of field ids or labels, or a list of such. ``-`` is standard input.

    A value that begins with ``@`` is the path of a file, seen from the JSON file, where its field takes a list or a picture. Raises
    ``AnswerError`` that tells every fault with its line and column.
    """
    name = _called(path)
    words = _text_of(path, name)
    files = NamedFiles(Path() if path == STANDARD_INPUT else path.resolve().parent)
    try:
        objects = _objects(words)
    except json.JSONDecodeError as error:
        raise AnswerError(f"“{name}” is not JSON: line {error.lineno}, column {error.colno}: {error.msg}.") from None
    except (ValueError, RecursionError) as error:
        raise AnswerError(f"“{name}” is not JSON ({brief(error)}).") from None
    if objects is None:
        raise AnswerError(f"“{name}” holds no object of answers, such as {{“name”: “Bo Li”}}.")
    if len(objects) > MOST_ROWS:
        raise AnswerError(f"“{name}” holds {len(objects):,} sets of answers; at most {MOST_ROWS:,} are possible.")
    faults: list[str] = []
    found = [_checked(template, given, files, faults) for given in objects]
    if faults:
        raise AnswerError(_in_words(name, faults))
    return found


def _called(path: Path) -> str:
    return "standard input" if path == STANDARD_INPUT else path.name


def _text_of(path: Path, name: str) -> str:
    try:
        data = sys.stdin.buffer.read(MOST_DOCUMENT + 1) if path == STANDARD_INPUT else read_whole(path, MOST_DOCUMENT)
        if len(data) > MOST_DOCUMENT:
            raise AnswerError(f"“{name}” is over {MOST_DOCUMENT // 2**20} MB; answers are smaller.")
        refuse_crowded(data, name)
        return data.decode("utf-8-sig")
    except OSError as error:
        raise AnswerError(f"The answers “{path}” cannot be read: {error.strerror}.") from None
    except UnicodeDecodeError:
        raise AnswerError(f"“{name}” is not JSON: it is not text in UTF-8.") from None


def _checked(template: Template, given: list[_Given], files: NamedFiles, faults: list[str]) -> dict[str, Answer]:
    """One set of answers; its faults join the others."""
    found: dict[str, Answer] = {}
    first: dict[str, _Given] = {}
    for one in given:
        where = f"line {one.line}, column {one.column}"
        try:
            field = find_field(template, one.name)
            if field.id in first:
                raise AnswerError(f"“{one.name}” is answered twice, first in line {first[field.id].line}. Take one of them out.")
            first[field.id] = one
            value = one.value
            if field.reads_files and isinstance(value, str) and value.startswith("@"):
                value = field.read(value.removeprefix("@"), template.palette, files)
            found[field.id] = field.checked(value, template.palette)
        except AvletError as error:
            faults.append(f"{where}: {error}")
    return found


def _in_words(name: str, faults: list[str]) -> str:
    if len(faults) == 1:
        return f"“{name}”, {faults[0]}"
    more = [f"and {len(faults) - _MOST_SAID} more."] * (len(faults) > _MOST_SAID)
    return "\n  ".join([f"“{name}” has {len(faults)} faults:", *faults[:_MOST_SAID], *more])


# JSON with the places of its names

_DECODER = json.JSONDecoder()
_BLANKS = " \t\r\n"


def _objects(text: str) -> list[list[_Given]] | None:
    """The objects of a text, with the names of each and their places; None where it holds something else. Raises ``ValueError``."""
    at = _after_blanks(text, 0)
    if text[at : at + 1] == "{":
        found, at = _members(text, at)
        sets = [found]
    elif text[at : at + 1] == "[":
        sets, at = [], _after_blanks(text, at + 1)
        while text[at : at + 1] != "]":
            if text[at : at + 1] != "{":
                json.loads(text)  # says what is wrong, if it is no JSON at all
                return None
            found, at = _members(text, at)
            sets.append(found)
            at = _next(text, at, "]")
        at += 1
    else:
        json.loads(text)
        return None
    if _after_blanks(text, at) != len(text):
        raise json.JSONDecodeError("something follows the end", text, _after_blanks(text, at))
    return sets


def _members(text: str, at: int) -> tuple[list[_Given], int]:
    """The members of the object that begins at a place, and where it ends."""
    found = []
    at = _after_blanks(text, at + 1)
    while text[at : at + 1] != "}":
        begin = at
        if text[at : at + 1] != '"':
            raise json.JSONDecodeError("a name in quotation marks belongs here", text, at)
        name, at = scanstring(text, at + 1)
        at = _after_blanks(text, at)
        if text[at : at + 1] != ":":
            raise json.JSONDecodeError("a colon belongs here", text, at)
        value, at = _DECODER.raw_decode(text, _after_blanks(text, at + 1))
        line = text.count("\n", 0, begin) + 1
        found.append(_Given(name, value, line, begin - text.rfind("\n", 0, begin)))
        at = _next(text, at, "}")
    return found, at + 1


def _next(text: str, at: int, end: str) -> int:
    """The place of the next member, or of the end."""
    at = _after_blanks(text, at)
    if text[at : at + 1] == ",":
        following = _after_blanks(text, at + 1)
        if text[following : following + 1] == end:
            raise json.JSONDecodeError("a comma is followed by nothing", text, at)
        return following
    if text[at : at + 1] != end:
        raise json.JSONDecodeError("a comma belongs here", text, at)
    return at


def _after_blanks(text: str, at: int) -> int:
    while at < len(text) and text[at] in _BLANKS:
        at += 1
    return at
