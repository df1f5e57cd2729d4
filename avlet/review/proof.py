"""The proof of a template: every row against every check, in worker processes, and what of it is meant so."""

import dataclasses
import functools
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from avlet.document.template import Template
from avlet.errors import AnswerError, AvletError
from avlet.media.drawing import Drawing, Painter, Pool, draw_with, workers_for
from avlet.paint.scene import Scene
from avlet.review.awkward import Row, rows_of
from avlet.review.checks import CHECKS, LEVELS, Check, Finding, fonts
from avlet.review.looked import Looked
from avlet.review.proved_rows import ProvedRows, key_of
from avlet.storage.embedding import faces_used
from avlet.text.fonts import FontBook, bundled_fonts

Told = Callable[[int, int, str], bool]
"""Called with the rows done, the rows in all, and the row that was done last; says whether to go on."""


@dataclass(frozen=True)
class Proof:
    """What a proof has found. ``findings`` are worst first; ``meant`` gives the reason for each that is meant so.

    ``done`` is False when it was stopped before its end.
    """

    name: str
    rows: tuple[Row, ...]
    checks: tuple[Check, ...]
    findings: tuple[Finding, ...]
    meant: Mapping[Finding, str]
    done: bool = True

    @property
    def open(self) -> tuple[Finding, ...]:
        """What is not meant so."""
        return tuple(f for f in self.findings if f not in self.meant)

    @property
    def holds(self) -> bool:
        """Whether nothing breaks that is not meant so."""
        return not any(f.level == "breaks" for f in self.open)

    @property
    def counted(self) -> str:
        """How many things break and are to be looked at, in words."""
        return f"{self.count('breaks')} break · {self.count('to look at')} to look at"

    def of_row(self, name: str) -> tuple[Finding, ...]:
        """What was found in one row."""
        return tuple(f for f in self.findings if f.sample == name)

    def count(self, level: str) -> int:
        """How many different things are open at a level: the same of one part in several rows is one."""
        return sum(1 for one in together(self.open) if one[0].level == level)


def together(findings: Sequence[Finding]) -> list[tuple[Finding, list[str]]]:
    """The same of one part in several rows as one: the worst of them, and the names of the rows."""
    groups: dict[tuple[str, str, str, str], list[Finding]] = {}
    for finding in findings:
        groups.setdefault((finding.level, finding.check, finding.part_id, finding.verdict), []).append(finding)
    found = [(max(group, key=_excess), [f.sample for f in group]) for group in groups.values()]
    order = [check.id for check in CHECKS]
    return sorted(found, key=lambda one: (LEVELS.index(one[0].level), order.index(one[0].check), one[0].part_id))


def _excess(finding: Finding) -> float:
    """How far a finding is from its limit."""
    return abs(finding.amount - finding.limit)


def checks_named(names: Sequence[str]) -> tuple[Check, ...]:
    """The checks with these ids or names, all where none is named; raises ``AnswerError`` that lists what there is."""
    plain = {name.strip().casefold().replace(" ", "-").replace(",", "") for name in names}
    known = {check.id: check for check in CHECKS} | {check.name.casefold().replace(" ", "-").replace(",", ""): check for check in CHECKS}
    for name in plain:
        if name not in known:
            raise AnswerError(f"There is no check “{name}”. There are: {', '.join(check.id for check in CHECKS)}.")
    return tuple(check for check in CHECKS if not plain or any(known[name] is check for name in plain))


def look(template: Template, book: FontBook, row: Row, checks: Sequence[Check]) -> list[Finding]:
    """What the checks find in one row; answers that cannot be shown are a finding themselves."""
    try:
        looked = Looked(Scene(template, book, row.answers, row.length), row.name)
    except AvletError as error:
        return [Finding("fonts", "breaks", "", str(error), "cannot be shown", sample=row.name)]
    if row.kind == "made" and (lacking := [f for f in fonts.run(looked) if f.verdict in ("lacks glyphs", "font missing")]):
        # nobody has asked for this script: that no font here has it is told, and breaks nothing
        words = f"{row.name}: no font here has its letters."
        return [dataclasses.replace(lacking[0], sample=row.name, level="told", part_id="", words=words)] if fonts.CHECK in checks else []
    return [dataclasses.replace(f, sample=row.name) for check in checks for f in check.run(looked)]


def _look_in_worker(row: Row, ids: tuple[str, ...], painter: Painter, number: int) -> list[Finding]:
    return look(painter.scene.template, painter.scene.book, row, [check for check in CHECKS if check.id in ids])


def prove(
    template: Template, book: FontBook, checks: Sequence[Check] = CHECKS, rows: Sequence[Row] | None = None,
    told: Told = lambda done, of, name: True, workers: int | None = None, proved: ProvedRows | None = None,
) -> Proof:  # fmt: skip
    """Prove a template. Rows are looked at in worker processes where there are enough of them; ``proved`` are kept and not done again."""
    wanted = list(rows_of(template) if rows is None else rows)
    proved = proved or ProvedRows()
    proved.use(book)
    found: list[Finding] = []
    done = 0
    for row, findings in _known_or_worked(template, book, wanted, checks, workers, proved):
        found += findings
        done += 1
        if not told(done, len(wanted), row.name):
            break
    place = {row.name: n for n, row in enumerate(wanted)}
    ordered = sorted(found, key=lambda f: (LEVELS.index(f.level), place[f.sample]))
    meant = {f: m.reason for f in ordered for m in template.proofing.meant if m.covers(f.check, f.part_id, f.sample, f.amount)}
    return Proof(template.name, tuple(wanted), tuple(checks), tuple(ordered), meant, done == len(wanted))


def _known_or_worked(
    template: Template, book: FontBook, rows: Sequence[Row], checks: Sequence[Check], workers: int | None, proved: ProvedRows
) -> Iterator[tuple[Row, list[Finding]]]:
    """The findings of rows, those that are known first."""
    keys = [key_of(template, row, checks) for row in rows]
    left = []
    for row, key in zip(rows, keys, strict=True):
        known = proved.get(key)
        if known is None:
            left.append((row, key))
        else:
            yield row, known
    for (row, key), (_, findings) in zip(left, _worked(template, book, [row for row, _ in left], checks, workers), strict=True):
        proved.put(key, findings)
        yield row, findings


def _worked(
    template: Template, book: FontBook, rows: Sequence[Row], checks: Sequence[Check], workers: int | None
) -> Iterator[tuple[Row, list[Finding]]]:
    count = workers_for(3 * len(rows), workers, 0)
    if count == 0:
        yield from ((row, look(template, book, row, checks)) for row in rows)
        return
    ids = tuple(check.id for check in checks)
    with Pool(count, _drawing(template, book), []) as pool:
        waiting = [(row, pool.submit(draw_with, functools.partial(_look_in_worker, row, ids), 0)) for row in rows]
        for row, future in waiting:
            yield row, pool.answer(future)


def _drawing(template: Template, book: FontBook) -> Drawing:
    """What workers make scenes of: the template, with all fonts that any row may ask for."""
    made, ships = Drawing.of(Scene(template, book), (16, 16)), set(bundled_fonts().faces)
    more = tuple(face for face in faces_used(template, book) if face not in ships and face not in made.own_faces)
    return dataclasses.replace(made, named_faces=tuple(dict.fromkeys((*made.named_faces, *more))), _made=None)
