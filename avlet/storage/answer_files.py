"""Answers that lie in files: a JSON file of them, and pictures that they name."""

import json
from pathlib import Path

from avlet.document.cards.answers import check_answers
from avlet.document.fields import Answer, brief
from avlet.document.tables import Table
from avlet.document.template import Template
from avlet.errors import AnswerError
from avlet.limits import MOST_DOCUMENT
from avlet.storage.reading import read_named_file, read_whole, refuse_crowded
from avlet.storage.table_files import table_in_file


class NamedFiles:
    """The files of this machine that answers name."""

    def read(self, path: str) -> bytes:
        """The bytes of a file; raises ``AnswerError`` in words."""
        return read_named_file(path)

    def table(self, path: str) -> Table:
        """The table in a file; raises ``AvletError`` in words."""
        return table_in_file(Path(path))


NAMED_FILES = NamedFiles()


def answers_from_file(template: Template, path: Path) -> dict[str, Answer]:
    """Answers from a JSON file: an object of field ids or labels. Raises ``AnswerError`` in words."""
    try:
        data = read_whole(path, MOST_DOCUMENT)
        refuse_crowded(data, path.name)
        found = json.loads(data)
    except OSError as error:
        raise AnswerError(f"The answers “{path}” cannot be read: {error.strerror}.") from None
    except (ValueError, RecursionError) as error:
        raise AnswerError(f"“{path.name}” is not JSON ({brief(error)}).") from None
    if not isinstance(found, dict):
        raise AnswerError(f"“{path.name}” holds no object of answers, such as {{“name”: “Bo Li”}}.")
    return check_answers(template, found)
