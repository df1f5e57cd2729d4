"""What was found of rows, for as long as it counts: an edit that leaves what a row shows as it was leaves what was found of it."""

import hashlib
from collections import OrderedDict
from collections.abc import Sequence

import msgspec

from avlet.document.cards.card import Card
from avlet.document.proofing import Proofing
from avlet.document.template import Guides, Template
from avlet.errors import AvletError
from avlet.layout.bind import bind
from avlet.review.awkward import Row
from avlet.review.checks import Check, Finding
from avlet.text.fonts import FontBook

_MOST = 2_000


class ProvedRows:
    """Findings by what they follow from: the parts with a row's answers in them, and what of the template is not a row's."""

    def __init__(self) -> None:
        self._found: OrderedDict[bytes, list[Finding]] = OrderedDict()
        self._book: FontBook | None = None

    def use(self, book: FontBook) -> None:
        """Other fonts: nothing counts any more."""
        if book is not self._book:
            self._found.clear()
            self._book = book

    def get(self, key: bytes | None) -> list[Finding] | None:
        """What was found; None where it has to be looked for."""
        found = self._found.get(key) if key is not None else None
        if found is not None and key is not None:
            self._found.move_to_end(key)
        return found

    def put(self, key: bytes | None, found: list[Finding]) -> None:
        """Keep what was found."""
        if key is not None:
            self._found[key] = found
            while len(self._found) > _MOST:
                self._found.popitem(last=False)


def key_of(template: Template, row: Row, checks: Sequence[Check]) -> bytes | None:
    """What the findings of a row follow from, as one name; None for a row that cannot be bound."""
    try:
        bound = bind(template, row.answers, row.length)
    except AvletError:
        return None
    bare = msgspec.structs.replace(
        bound.template, name="", category="", keywords=(), derived_from="", marks=(), parts=(), card=Card(), wires=(), samples=(),
        guides=Guides(), proofing=Proofing(),
    )  # fmt: skip
    answers = bound.answers if bound.measured else None
    told = (bare, bound.parts, bound.measured, answers, bound.length, bound.given_length, bound.notes)
    return hashlib.sha256(msgspec.json.encode((told, row.name, row.kind, [check.id for check in checks]))).digest()
