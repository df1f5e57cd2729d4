"""Bind: a template whose wired properties have the values that the answers give them."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from avlet.document.card import Answer
from avlet.document.metadata import put_at, type_at
from avlet.document.parts import AnyPart
from avlet.document.template import TEMPLATE, Template
from avlet.errors import AnswerError
from avlet.layout.answers import check_answers, find_field


@dataclass(frozen=True)
class Bound:
    """A template with answers in it, at a length. ``parts`` are the parts with their wired values, back to front.

    ``template`` has its own wired values; its parts are those of the document.
    """

    template: Template
    answers: dict[str, Answer]
    parts: tuple[AnyPart, ...]
    length: int


def bind(template: Template, answers: Mapping[str, Any] | None = None, length: int | None = None) -> Bound:
    """Put answers into a template. Fields without an answer take their starting answer.

    ``length`` is in frames; the designed one when None. Raises ``AnswerError``.
    """
    length = template.length if length is None else length
    if length < 1:
        raise AnswerError(f"A title lasts at least 1 frame, not {length}.")
    if length > 1_000_000:
        raise AnswerError(f"A title lasts at most 1,000,000 frames, not {length:,}.")
    given = {find_field(template, name).id: value for name, value in (answers or {}).items()}
    full = check_answers(template, {**template.starting_answers(), **given})
    parts = {part.id: part for part in template.parts}
    bound = template
    for wire in template.wires:
        part_id, _, path = wire.target.partition("/")
        part = bound if part_id == TEMPLATE else parts[part_id]
        kind = type_at(part, path)
        try:
            value = kind.check(full[wire.source])
        except ValueError as error:
            raise AnswerError(f"The answer “{wire.source}” sets {kind.label} of {part.name}, which {error}.") from None
        if isinstance(part, Template):
            bound = put_at(part, path, value)
        else:
            parts[part_id] = put_at(part, path, value)
    return Bound(bound, full, tuple(parts.values()), length)
