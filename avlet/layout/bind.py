"""Bind: a template whose wired properties have the values that the answers give them."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from avlet.document.cards.answers import check_answers, find_field
from avlet.document.cards.wire_plans import plan_of
from avlet.document.cards.wires import Wire
from avlet.document.faults.crowding import crowded_by
from avlet.document.fields import Answer
from avlet.document.parts import AnyPart
from avlet.document.template import Template
from avlet.errors import AnswerError
from avlet.layout.wires_at_work import Measures, WiresAtWork
from avlet.limits import MOST_FRAMES


@dataclass(frozen=True)
class Bound:
    """A template with answers in it, at a length. ``parts`` are the parts with their wired values, back to front.

    ``template`` has its own wired values; its parts are those of the document, which is ``own``. ``measured`` are the wires, in
    order, that hang on the resting layout, with the parts and measures that each target hangs on; :func:`with_measures` applies
    them. ``notes`` say what a wire could not do.
    """

    own: Template
    template: Template
    answers: dict[str, Answer]
    parts: tuple[AnyPart, ...]
    length: int
    given_length: int | None
    measured: tuple[Wire, ...] = ()
    hangs_on: Mapping[str, frozenset[tuple[str, str]]] = field(default_factory=dict)
    notes: tuple[str, ...] = ()


def bind(template: Template, answers: Mapping[str, Any] | None = None, length: int | None = None) -> Bound:
    """Put answers into a template. Fields without an answer take their starting answer.

    ``length`` is in frames; what the template says when None. Raises ``AnswerError``.
    """
    if length is not None and length < 1:
        raise AnswerError(f"A title lasts at least 1 frame, not {length}.")
    if length is not None and length > MOST_FRAMES:
        raise AnswerError(f"A title lasts at most {MOST_FRAMES:,} frames, not {length:,}.")
    given = {find_field(template, name).id: value for name, value in (answers or {}).items()}
    full = check_answers(template, {**template.starting_answers(), **given})
    plan = plan_of(template)
    at_work = WiresAtWork.begin(template, full, length)
    for wire in plan.wires:
        if wire.target not in plan.hangs_on:
            at_work.apply(wire)
    return _bound(at_work, tuple(w for w in plan.wires if w.target in plan.hangs_on), plan.hangs_on)


def _bound(at_work: WiresAtWork, measured: tuple[Wire, ...], hangs_on: Mapping[str, frozenset[tuple[str, str]]]) -> Bound:
    length = at_work.length if at_work.length is not None else at_work.template.length
    parts, notes = tuple(at_work.parts.values()), tuple(at_work.notes)
    if fault := crowded_by(parts):
        raise AnswerError(fault)
    return Bound(at_work.own, at_work.template, dict(at_work.answers), parts, length, at_work.length, measured, hangs_on, notes)


def with_measures(bound: Bound, measures: Measures) -> Bound:
    """The same, with the wires that hang on the resting layout put to work on these measures."""
    parts = {part.id: part for part in bound.parts}
    at_work = WiresAtWork(bound.own, bound.answers, bound.given_length, bound.template, parts, [], measures)
    for wire in bound.measured:
        at_work.apply(wire)
    return replace(_bound(at_work, bound.measured, bound.hangs_on), notes=(*bound.notes, *at_work.notes))
