"""What a template keeps for its proof: rows of the designer's own, and findings that are meant so."""

from typing import Annotated

import msgspec

from avlet.document.cards.card import Sample
from avlet.document.metadata import Value

CLOSE = 0.1
"""The share by which a finding may change and still be the one that was meant."""


class Meant(Value, frozen=True):
    """A finding that is meant so, for a reason: the check, the part, the sample, and how much it was."""

    check: Annotated[str, msgspec.Meta(max_length=40)]
    part: Annotated[str, msgspec.Meta(max_length=64)] = ""
    sample: Annotated[str, msgspec.Meta(max_length=200)] = ""
    amount: float = 0.0
    reason: Annotated[str, msgspec.Meta(min_length=1, max_length=500)] = "It is meant so."

    def covers(self, check: str, part: str, sample: str, amount: float) -> bool:
        """Whether it is this finding, changed by no more than a tenth."""
        return (self.check, self.part, self.sample) == (check, part, sample) and abs(amount - self.amount) <= CLOSE * abs(
            self.amount
        ) + 1e-9


class Proofing(Value, frozen=True):
    """Rows that are proved besides the samples, and what is meant so."""

    rows: Annotated[tuple[Sample, ...], msgspec.Meta(max_length=200)] = ()
    meant: Annotated[tuple[Meant, ...], msgspec.Meta(max_length=1_000)] = ()
