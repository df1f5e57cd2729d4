"""Answers that lie in files: a JSON file of them, and pictures that they name."""

import json
from pathlib import Path

from avlet.document.answers import check_answers
from avlet.document.fields import Answer, brief
from avlet.document.template import Template
from avlet.errors import AnswerError
from avlet.storage.reading import read_whole


def read_named_file(path: str) -> bytes:
    """The bytes of a file that an answer names; raises ``AnswerError`` in words."""
    try:
        return read_whole(Path(path))
    except (OSError, ValueError) as error:
        reason = getattr(error, "strerror", None) or "that is no path"
        raise AnswerError(f"“{brief(path)}” cannot be read: {reason}.") from None


def answers_from_file(template: Template, path: Path) -> dict[str, Answer]:
    """Answers from a JSON file: an object of field ids or labels. Raises ``AnswerError`` in words."""
    try:
        found = json.loads(read_whole(path))
    except OSError as error:
        raise AnswerError(f"The answers “{path}” cannot be read: {error.strerror}.") from None
    except (ValueError, RecursionError) as error:
        raise AnswerError(f"“{path.name}” is not JSON ({brief(error)}).") from None
    if not isinstance(found, dict):
        raise AnswerError(f"“{path.name}” holds no object of answers, such as {{“name”: “Bo Li”}}.")
    return check_answers(template, found)
