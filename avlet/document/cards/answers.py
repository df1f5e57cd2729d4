"""Answers: finding the field they belong to, reading them from words, holding them to their kinds and limits."""

from collections.abc import Iterable, Mapping
from typing import Any

from avlet.document.cards.typed_answers import read_typed
from avlet.document.fields import Answer, Field, Files, brief
from avlet.document.tables import Table
from avlet.document.template import Template
from avlet.errors import AnswerError


def find_field(template: Template, name: str) -> Field:
    """A field by its id or its label; raises ``AnswerError`` that lists what there is."""
    fields = template.card.fields
    found = [f for f in fields if f.id == name] or [f for f in fields if f.label.casefold() == name.casefold()]
    if len(found) == 1:
        return found[0]
    if found:
        raise AnswerError(f"{len(found)} fields are called “{name}”. Use an id: {', '.join(f.id for f in found)}.")
    known = ", ".join(f"{f.id} ({f.label})" for f in fields) or "none"
    raise AnswerError(f"{template.name} has no field “{brief(name)}”. Its fields: {known}.")


class NoFiles:
    """No file can be read: for answers that come from words alone."""

    def read(self, path: str) -> bytes:
        raise AnswerError(f"“{brief(path)}” cannot be read here.")

    def table(self, path: str) -> Table:
        raise AnswerError(f"“{brief(path)}” cannot be read here.")


NO_FILES = NoFiles()


def read_answers(template: Template, typed: Iterable[str], files: Files = NO_FILES) -> dict[str, Answer]:
    """Answers from ``FIELD=VALUE`` words.

    ``\\n`` is a line break, ``yes``/``no`` a switch; options and swatches go by id or name, pictures by the path of their file, which
    ``files`` reads, gradients as ``#20435C 0, #6CC7B0 100``.
    """
    answers: dict[str, Answer] = {}
    for pair in typed:
        name, equals, words = pair.partition("=")
        if not equals:
            raise AnswerError(f"“{pair}” is not FIELD=VALUE.")
        field = find_field(template, name.strip())
        answers[field.id] = field.checked(read_typed(template, field, words, files), template.palette)
    return answers


def check_answers(template: Template, answers: Mapping[str, Any]) -> dict[str, Answer]:
    """All answers, held to their fields; raises ``AnswerError`` for the first that is not accepted."""
    found: dict[str, Answer] = {}
    for key, value in answers.items():
        field = find_field(template, key)
        found[field.id] = field.checked(value, template.palette)
    return found


def shown_fields(template: Template, answers: Mapping[str, Any]) -> set[str]:
    """The ids of the fields that a card shows with these answers; a field that hangs on a hidden one is hidden too."""
    entries = {field.id: field for field in template.card.entries}
    shown: dict[str, bool] = {}

    def is_shown(field_id: str, asked: frozenset[str]) -> bool:
        if field_id not in shown:
            condition = entries[field_id].shown_if
            if condition is None or condition.field not in entries or condition.field in asked:
                shown[field_id] = True
            else:
                answer = answers.get(condition.field, entries[condition.field].start)
                fits = any(_alike(answer, wanted) for wanted in condition.answers)
                shown[field_id] = fits and is_shown(condition.field, asked | {field_id})
        return shown[field_id]

    return {field_id for field_id in entries if is_shown(field_id, frozenset({field_id}))}


def _alike(answer: Any, wanted: Any) -> bool:
    """Equal, and of one kind: yes is not 1."""
    return isinstance(answer, bool) == isinstance(wanted, bool) and answer == wanted
