"""Rows of a roster proved in every frame, by all checks."""

from collections.abc import Sequence

from avlet.review.awkward import Row
from avlet.review.proof import prove
from avlet.roster.looking import VERDICTS, Said, Verdict
from avlet.roster.roster import Plan
from avlet.text.fonts import FontBook


def rows_to_prove(plan: Plan) -> list[Row]:
    """The rows that can be rendered, in the first language, under their numbers."""
    rows = []
    for place, line in enumerate(plan.rows):
        if place not in plan.faulty:
            answered = plan.answered(place, plan.roster.languages[0])
            rows.append(Row(str(line.number), answered.answers, answered.length, "own"))
    return rows


def proved(plan: Plan, book: FontBook, said: Sequence[Said]) -> list[Said]:
    """What is said of rows, with what a proof finds in their films: the worse of both, each sentence once."""
    proof = prove(plan.templates[0], book, rows=rows_to_prove(plan))
    found = []
    for line, before in zip(plan.rows, said, strict=True):
        open_ = [f for f in proof.of_row(str(line.number)) if f not in proof.meant and f.level != "told"]
        verdict: Verdict = "breaks" if any(f.level == "breaks" for f in open_) else "to look at" if open_ else "holds"
        worse = VERDICTS.index(verdict) < VERDICTS.index(before.verdict)
        words = tuple(dict.fromkeys((*before.words, *(f.words for f in open_))))
        found.append(Said(verdict if worse else before.verdict, open_[0].verdict if worse else before.short, words))
    return found
