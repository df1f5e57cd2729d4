"""Does a template hold, whatever it is answered? What every change and every file has to pass."""

from collections import OrderedDict

from avlet.document.cards.answers import check_answers
from avlet.document.cards.wire_plans import plan_of
from avlet.document.faults.checking import check
from avlet.document.targets import type_of
from avlet.document.template import Template
from avlet.errors import AnswerError, DocumentError
from avlet.layout.bind import bind
from avlet.layout.graph import order

_held: OrderedDict[int, Template] = OrderedDict()
_MOST_HELD = 16


def hold(template: Template) -> Template:
    """The template itself if it holds together with its starting answers and with every sample.

    Raises ``DocumentError`` in words: the place and the first fault. What was found to hold is not looked at again.
    """
    if _held.get(id(template)) is template:
        return template
    check(template)
    for number, sample in enumerate(template.samples):
        try:
            check_answers(template, sample.answers)
        except AnswerError as error:
            raise DocumentError(f"samples[{number}].answers: {error}") from None
    if _relations_are_wired(template):
        for answers in ({}, *(s.answers for s in template.samples)):
            bound = bind(template, answers)
            order({part.id: part for part in bound.parts}, bound.hangs_on)
    else:
        order({part.id: part for part in template.parts}, plan_of(template).hangs_on)
    _held[id(template)] = template
    while len(_held) > _MOST_HELD:
        _held.popitem(last=False)
    return template


def _relations_are_wired(template: Template) -> bool:
    """Whether answers decide along which axes parts follow each other, so that each sample may run in a circle of its own."""
    kinds = (type_of(template, wire.target) for wire in template.wires)
    return any(kind.kind == "choice" and kind.changes == "layout" for kind in kinds)
