"""Answers: finding the field they belong to, reading them from words and files, holding them to their kinds and limits."""

import base64
import json
from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path
from typing import Any

from avlet.document.answers import answer_fault, brief
from avlet.document.fields import (
    Answer,
    ChoiceField,
    ColourField,
    Field,
    FontField,
    GradientField,
    LengthField,
    NumberField,
    PictureField,
    SwitchField,
)
from avlet.document.house import HouseColour
from avlet.document.template import Template
from avlet.errors import AnswerError

_YES = ("yes", "true", "on", "1")
_NO = ("no", "false", "off", "0")


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


def check_answer(field: Field, value: Any, palette: Sequence[HouseColour] = ()) -> Answer:
    """``value`` if the field accepts it; raises ``AnswerError`` in words."""
    fault = answer_fault(field, value, palette)
    if fault:
        raise AnswerError(fault)
    answer: Answer = float(value) if isinstance(field, NumberField) else int(value) if isinstance(field, LengthField) else value
    return answer


def read_answer(field: Field, words: str, palette: Sequence[HouseColour] = ()) -> Answer:
    """An answer typed as words, e.g. on the command line.

    ``\\n`` is a line break, ``yes``/``no`` a switch; options and swatches go by id or name, pictures by the path of their file,
    gradients as ``#20435C 0, #6CC7B0 100``.
    """
    plain = words.strip()
    match field:
        case NumberField() | LengthField():
            try:
                return check_answer(field, float(plain.replace(",", ".")))
            except ValueError:
                raise AnswerError(f"“{field.label}” takes a number, not “{brief(words)}”.") from None
        case SwitchField():
            if plain.casefold() not in _YES + _NO:
                raise AnswerError(f"“{field.label}” takes yes or no, not “{brief(words)}”.")
            return plain.casefold() in _YES
        case ChoiceField():
            return check_answer(field, _by_name(plain, [(o.id, o.name) for o in field.options]))
        case ColourField():
            swatches = field.swatches if field.may_be == "swatches" else palette if field.may_be == "house palette" else ()
            return check_answer(field, _by_name(plain, [(s.id, s.name) for s in swatches]), palette)
        case FontField():
            return check_answer(field, _by_name(plain, [(f.name, f.name) for f in field.fonts]))
        case GradientField():
            stops = [piece.split() for piece in plain.split(",")]
            try:
                return check_answer(field, [{"at": float(at), "colour": colour} for colour, at in stops])
            except ValueError:
                raise AnswerError(f"“{field.label}” takes stops such as #20435C 0, #6CC7B0 100, not “{brief(words)}”.") from None
        case PictureField():
            return picture_answer(Path(plain))
    return check_answer(field, words.replace("\\n", "\n"))


def _by_name(words: str, known: list[tuple[str, str]]) -> str:
    """An id from an id or a name."""
    return next((i for i, name in known if words in (i, name) or words.casefold() == name.casefold()), words)


def picture_answer(path: Path) -> dict[str, str]:
    """The answer to a picture field from a file."""
    try:
        return {"name": path.name, "data": base64.b64encode(path.read_bytes()).decode()}
    except OSError as error:
        raise AnswerError(f"The picture “{path}” cannot be read: {error.strerror}.") from None


def read_answers(template: Template, typed: Iterable[str]) -> dict[str, Answer]:
    """Answers from ``FIELD=VALUE`` words."""
    answers: dict[str, Answer] = {}
    for pair in typed:
        name, equals, words = pair.partition("=")
        if not equals:
            raise AnswerError(f"“{pair}” is not FIELD=VALUE.")
        field = find_field(template, name.strip())
        answers[field.id] = read_answer(field, words, template.palette)
    return answers


def answers_from_file(template: Template, path: Path) -> dict[str, Answer]:
    """Answers from a JSON file: an object of field ids or labels. Raises ``AnswerError`` in words."""
    try:
        found = json.loads(path.read_bytes())
    except OSError as error:
        raise AnswerError(f"The answers “{path}” cannot be read: {error.strerror}.") from None
    except (ValueError, RecursionError) as error:
        raise AnswerError(f"“{path.name}” is not JSON ({brief(error)}).") from None
    if not isinstance(found, dict):
        raise AnswerError(f"“{path.name}” holds no object of answers, such as {{“name”: “Bo Li”}}.")
    return check_answers(template, found)


def check_answers(template: Template, answers: Mapping[str, Any]) -> dict[str, Answer]:
    """All answers, held to their fields; raises ``AnswerError`` for the first that is not accepted."""
    found: dict[str, Answer] = {}
    for key, value in answers.items():
        field = find_field(template, key)
        found[field.id] = check_answer(field, value, template.palette)
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
