"""Answers: finding the field they belong to, and holding them to its kind and limits."""

import math
import re
from collections.abc import Iterable, Mapping
from typing import Any

from avlet.document.card import Answer, ColourField, Field, NumberField, SwitchField, TextField
from avlet.document.metadata import COLOUR_PATTERN
from avlet.document.template import Template
from avlet.errors import AnswerError

_YES = ("yes", "true", "on", "1")
_NO = ("no", "false", "off", "0")
_COLOUR = re.compile(COLOUR_PATTERN)


def brief(value: object) -> str:
    """A value for a message, cut where it would fill the screen."""
    words = str(value)
    return words if len(words) <= 60 else f"{words[:57]}…"


def find_field(template: Template, name: str) -> Field:
    """A field by its id or its label; raises ``AnswerError`` that lists what there is."""
    fields = template.card.fields
    found = [f for f in fields if f.id == name] or [f for f in fields if f.label.casefold() == name.casefold()]
    if len(found) == 1:
        return found[0]
    if found:
        raise AnswerError(f"{len(found)} fields are called “{name}”. Use an id: {', '.join(f.id for f in found)}.")
    known = ", ".join(f"{f.id} ({f.label})" for f in fields) or "none"
    raise AnswerError(f"{template.name} has no field “{name}”. Its fields: {known}.")


def check_answer(field: Field, value: Any) -> Answer:
    """``value`` if the field accepts it; raises ``AnswerError`` in words."""
    match field:
        case TextField():
            return _text(field, value)
        case NumberField():
            return _number(field, value)
        case ColourField():
            if not isinstance(value, str) or not _COLOUR.match(value):
                raise AnswerError(f"“{field.label}” takes a colour such as #20435C, not “{brief(value)}”.")
            return value
        case SwitchField():
            if not isinstance(value, bool):
                raise AnswerError(f"“{field.label}” takes yes or no, not “{brief(value)}”.")
            return value


def _text(field: TextField, value: Any) -> str:
    if not isinstance(value, str):
        raise AnswerError(f"“{field.label}” takes words, not “{brief(value)}”.")
    if "\n" in value and not field.several_lines:
        raise AnswerError(f"“{field.label}” takes one line. Remove the line break.")
    if len(value) > field.longest:
        raise AnswerError(f"“{field.label}” takes at most {field.longest} characters; this has {len(value)}.")
    return value


def _number(field: NumberField, value: Any) -> float:
    if isinstance(value, bool) or not isinstance(value, (int, float)) or not math.isfinite(value):
        raise AnswerError(f"“{field.label}” takes a number, not “{brief(value)}”.")
    if (field.low is not None and value < field.low) or (field.high is not None and value > field.high):
        low = "" if field.low is None else f"from {field.low:g} "
        high = "" if field.high is None else f"to {field.high:g} "
        raise AnswerError(f"“{field.label}” takes a number {low}{high}{field.unit}".rstrip() + f", not {value:g}.")
    return float(value)


def read_answer(field: Field, words: str) -> Answer:
    """An answer typed as words, e.g. on the command line: ``\\n`` is a line break, ``yes``/``no`` a switch."""
    match field:
        case TextField():
            return check_answer(field, words.replace("\\n", "\n"))
        case NumberField():
            try:
                return check_answer(field, float(words.replace(",", ".")))
            except ValueError:
                raise AnswerError(f"“{field.label}” takes a number, not “{brief(words)}”.") from None
        case SwitchField():
            plain = words.strip().casefold()
            if plain not in _YES + _NO:
                raise AnswerError(f"“{field.label}” takes yes or no, not “{brief(words)}”.")
            return plain in _YES
        case ColourField():
            return check_answer(field, words.strip())


def read_answers(template: Template, typed: Iterable[str]) -> dict[str, Answer]:
    """Answers from ``FIELD=VALUE`` words."""
    answers: dict[str, Answer] = {}
    for pair in typed:
        name, equals, words = pair.partition("=")
        if not equals:
            raise AnswerError(f"“{pair}” is not FIELD=VALUE.")
        field = find_field(template, name.strip())
        answers[field.id] = read_answer(field, words)
    return answers


def check_answers(template: Template, answers: Mapping[str, Any]) -> dict[str, Answer]:
    """All answers, held to their fields; raises ``AnswerError`` for the first that is not accepted."""
    return {find_field(template, key).id: check_answer(find_field(template, key), value) for key, value in answers.items()}
