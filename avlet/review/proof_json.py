"""A proof as JSON, with a published schema (``docs/format/proof.schema.json``)."""

from typing import Annotated, Any

import msgspec

from avlet.geometry import Box
from avlet.review.proof import Proof

FORMAT = 1


class FoundJson(msgspec.Struct, frozen=True, kw_only=True):
    """One finding. ``box`` is left, top, width, height in px of the frame; ``meant`` the reason why it is meant so."""

    check: str
    level: Annotated[str, msgspec.Meta(pattern="^(breaks|to look at|told)$")]
    part: str
    sample: str
    words: str
    verdict: str
    amount: float
    limit: float
    unit: str
    first: int | None
    last: int | None
    box: Box | None
    meant: str | None


class CheckJson(msgspec.Struct, frozen=True, kw_only=True):
    """One check that was made, its limit and whose that is. ``holds``: it found nothing that breaks or is to be looked at."""

    id: str
    name: str
    limit: str
    source: str
    holds: bool


class RowJson(msgspec.Struct, frozen=True, kw_only=True):
    """One row that was proved: its answers, its length in frames if that is not the designed one, and where it comes from."""

    name: str
    kind: str
    answers: dict[str, Any]
    length: int | None


class ProofJson(msgspec.Struct, frozen=True, kw_only=True):
    """A whole proof."""

    format: int = FORMAT
    template: str
    holds: bool
    whole: bool
    rows: tuple[RowJson, ...]
    checks: tuple[CheckJson, ...]
    findings: tuple[FoundJson, ...]


def as_json(proof: Proof) -> ProofJson:
    """A proof as plain values."""
    rows = tuple(RowJson(name=r.name, kind=r.kind, answers=dict(r.answers), length=r.length) for r in proof.rows)
    grave = {f.check for f in proof.open if f.level != "told"}
    checks = tuple(CheckJson(id=c.id, name=c.name, limit=c.limit, source=c.source, holds=c.id not in grave) for c in proof.checks)
    found = tuple(
        FoundJson(
            check=f.check, level=f.level, part=f.part_id, sample=f.sample, words=f.words, verdict=f.verdict, amount=float(f.amount),
            limit=float(f.limit), unit=f.unit, first=f.first, last=f.last, box=f.box,
            meant=proof.meant.get(f),
        )
        for f in proof.findings
    )  # fmt: skip
    return ProofJson(template=proof.name, holds=proof.holds, whole=proof.done, rows=rows, checks=checks, findings=found)


def proof_bytes(proof: Proof) -> bytes:
    """The bytes of a report in JSON."""
    return msgspec.json.format(msgspec.json.encode(as_json(proof)), indent=2) + b"\n"


def proof_schema() -> dict[str, Any]:
    """The JSON Schema of such a report."""
    schema = msgspec.json.schema(ProofJson)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Proof of an Avlet template", **schema}
