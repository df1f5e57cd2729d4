"""The proof of the open template, as all views of its bench show it: what was found, what is chosen, how far it is."""

import functools
import itertools
from collections.abc import Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from avlet.desktop.proof.proof_runner import ProofRunner
from avlet.desktop.sessions.template_session import Session
from avlet.document.cards.card import Sample
from avlet.document.editing.edits import replace
from avlet.document.editing.naming import free_id
from avlet.document.proofing import Meant
from avlet.document.template import Template
from avlet.errors import AvletError
from avlet.paint.scene import Scene
from avlet.review.awkward import KINDS, Kind, Row, rows_of
from avlet.review.checks import Finding
from avlet.review.looked import Looked
from avlet.review.mends import Mend, mends
from avlet.review.proof import Proof, together
from avlet.review.proof_sheet import MOMENTS, Moment, moments_of
from avlet.review.proved_rows import ProvedRows
from avlet.review.traces import Traces, traces_of

_SETTLING = 700
"""ms after a change until it is proved anew."""


@dataclass(frozen=True)
class Told:
    """A thing that was found, at its worst, and the rows that it was found in."""

    finding: Finding
    rows: tuple[str, ...]


class ProofModel(QObject):
    """``changed``: other findings or another sheet; ``chosen_changed``: another cell; ``progressed``: how far it is; ``traced``: the
    chosen row over time."""

    changed = pyqtSignal()
    chosen_changed = pyqtSignal()
    progressed = pyqtSignal(str)
    traced = pyqtSignal()
    _made = pyqtSignal(object, object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.proof: Proof | None = None
        self.of: Template | None = None
        """The template that was proved."""
        self.moments: tuple[Moment, ...] = MOMENTS
        """What is shown of each row, in the order of the title."""
        self.kinds: frozenset[Kind] = frozenset(KINDS)
        """Which rows are proved."""
        self._known = ProvedRows()
        self.row, self.moment = 0, 2
        self.chosen: Finding | None = None
        self.traces: Traces | None = None
        self._runner: ProofRunner | None = None
        self._scenes: dict[int, Scene | str] = {}
        self._tracing = ThreadPoolExecutor(1, "traces")
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.begin)
        self.active = False
        session.changed.connect(self._follow)
        self._made.connect(self._show_traces)
        self._rows: list[Row] = []
        self._rows_of: Template | None = None

    # What is proved

    def wake(self) -> None:
        """The bench is looked at: prove what is not proved yet."""
        self.active = True
        if self.of is not self.session.template:
            self._forget()
            self._timer.start(0)

    def sleep(self) -> None:
        """Another bench is in front: let it be."""
        self.active = False
        self._timer.stop()
        self._stop()

    def _follow(self) -> None:
        if self.active and self.of is not self.session.template:
            self._forget()
            self._timer.start(_SETTLING)

    def _forget(self) -> None:
        self._stop()
        self._scenes.clear()
        self.traces = None
        self.row = min(self.row, max(0, len(self.rows) - 1))
        self.progressed.emit("Proving …")
        self.changed.emit()

    def _stop(self) -> None:
        if self._runner is not None:
            self._runner.stop()
            self._runner = None

    def begin(self) -> None:
        """Prove the template as it is now."""
        self._stop()
        template = self.session.template
        runner = self._runner = ProofRunner(template, self.session.book, self.rows, self._known)
        runner.progressed.connect(functools.partial(self._progress, runner))
        runner.proved.connect(lambda proof: self._proved(runner, template, proof))
        runner.failed.connect(self.progressed)
        runner.begin()
        self._trace()

    def _progress(self, runner: ProofRunner, done: int, of: int, name: str) -> None:
        if self._runner is runner:
            self.progressed.emit(f"{name}, {done} of {of} rows …")

    def _proved(self, runner: ProofRunner, template: Template, proof: Proof) -> None:
        if self._runner is not runner:
            return
        self._runner, self.proof, self.of = None, proof, template
        self.chosen = next((f for f in proof.open if f.level != "told"), None) if self.chosen is None else self._same(self.chosen)
        if self.chosen is not None and self.row == 0:
            self._go_to(self.chosen)
            self._trace()
        self.progressed.emit("")
        self.changed.emit()
        self.chosen_changed.emit()

    def _same(self, finding: Finding) -> Finding | None:
        key = (finding.check, finding.part_id, finding.sample)
        return next((f for f in self.findings if (f.check, f.part_id, f.sample) == key), None)

    @property
    def rows(self) -> list[Row]:
        """The rows of the sheet."""
        if self._rows_of is not self.session.template:
            self._rows = [row for row in rows_of(self.session.template) if row.kind in self.kinds]
            self._rows_of = self.session.template
        return self._rows

    @property
    def findings(self) -> tuple[Finding, ...]:
        """What stands open."""
        return self.proof.open if self.proof is not None else ()

    def told(self) -> list[Told]:
        """What stands open, once each, worst first."""
        return [Told(finding, tuple(dict.fromkeys(names))) for finding, names in together(self.findings)]

    def scene(self, row: int) -> Scene | str:
        """A row's scene, or why it cannot be shown."""
        if row not in self._scenes:
            one = self.rows[row]
            try:
                self._scenes[row] = Scene(self.session.template, self.session.book, one.answers, one.length)
            except AvletError as error:
                self._scenes[row] = str(error)
        return self._scenes[row]

    # What is chosen

    def choose(self, row: int, moment: int) -> None:
        """Choose a cell."""
        row, moment = max(0, min(len(self.rows) - 1, row)), max(0, min(len(self.moments) - 1, moment))
        other = row != self.row
        self.row, self.moment = row, moment
        here = [f for f in self.findings if f.sample == self.rows[row].name and f.level != "told"]
        if self.chosen not in here:
            self.chosen = here[0] if here else None
        self.chosen_changed.emit()
        if other:
            self._trace()

    def choose_finding(self, finding: Finding) -> None:
        """Choose what was found, and the cell that shows it."""
        self.chosen = finding
        self._go_to(finding)
        self.chosen_changed.emit()
        self._trace()

    def _go_to(self, finding: Finding) -> None:
        self.row = next((n for n, row in enumerate(self.rows) if row.name == finding.sample), self.row)
        scene = self.scene(self.row)
        if not isinstance(scene, str) and finding.first is not None:
            frames = moments_of(scene, self.moments)
            last = finding.last if finding.last is not None else finding.first
            inside = [n for n, frame in enumerate(frames) if finding.first <= frame <= last]
            self.moment = inside[0] if inside else min(range(len(frames)), key=lambda n: abs(frames[n] - (finding.first or 0)))

    @property
    def frame(self) -> int:
        """The frame of the chosen cell."""
        scene = self.scene(self.row)
        return 0 if isinstance(scene, str) else moments_of(scene, self.moments)[self.moment]

    # Which rows and moments

    def show_moments(self, moments: Sequence[Moment]) -> None:
        """Show other moments of each row; one at least."""
        ordered = [m for m in MOMENTS if m in moments] + sorted({m for m in moments if isinstance(m, int)})
        if ordered:
            self.moments = tuple(ordered)
            self.moment = min(self.moment, len(ordered) - 1)
            self.changed.emit()
            self.chosen_changed.emit()

    def prove_kinds(self, kinds: frozenset[Kind]) -> None:
        """Prove other rows; what was found of those that stay is known."""
        if kinds and kinds != self.kinds:
            self.kinds = kinds
            self._rows_of = self.of = None
            self._forget()
            self._timer.start(0)

    def keep_rows(self, rows: Sequence[Row], label: str = "Rows to prove") -> bool:
        """Keep rows of the designer's own in the template."""
        template = self.session.template
        taken, names = {row.id for row in template.proofing.rows}, {row.name for row in rows_of(template)}
        own = []
        for row in rows:
            name = next(n for k in itertools.count(1) if (n := row.name[:190] if k == 1 else f"{row.name[:190]} {k}") not in names)
            own.append(Sample(free_id(name, taken), name, dict(row.answers)))
            taken.add(own[-1].id)
            names.add(name)

        def change(template: Template) -> Template:
            kept = template.proofing
            return replace(template, proofing=type(kept)((*kept.rows, *own), kept.meant))

        return self.session.edit(label, change)

    def remove_row(self) -> None:
        """Take the chosen row out of the template, if it is one of the designer's own."""
        row = self.rows[self.row]

        def change(template: Template) -> Template:
            kept = template.proofing
            return replace(template, proofing=type(kept)(tuple(r for r in kept.rows if r.name != row.name), kept.meant))

        if row.kind == "own":
            self.session.edit("Remove the row", change)

    # Over time

    def _trace(self) -> None:
        scene, row = self.scene(self.row), self.rows[self.row]
        self.traces = None
        if isinstance(scene, str):
            self.traced.emit()
            return
        work = self._tracing.submit(traces_of, Looked(scene, row.name))
        work.add_done_callback(functools.partial(self._tell, scene))

    def _tell(self, scene: Scene, work: "Future[Traces]") -> None:
        if not work.cancelled() and work.exception() is None:
            self._made.emit(scene, work.result())

    def _show_traces(self, scene: Scene, traces: Traces) -> None:
        if self.scene(self.row) is scene:
            self.traces = traces
            self.traced.emit()

    # Mending

    def mends(self) -> list[Mend]:
        """What would mend what is chosen."""
        scene = self.scene(self.row)
        if self.chosen is None or isinstance(scene, str) or self.chosen.sample != self.rows[self.row].name:
            return []
        return mends(self.chosen, Looked(scene, self.rows[self.row].name))

    def mend(self, mend: Mend) -> None:
        """Do it: one undo."""
        self.session.edit(mend.words.capitalize(), mend.change)

    def mean_it(self, finding: Finding, reason: str) -> None:
        """What was found is meant so, in every row that it was found in."""
        same = [f for f in self.findings if (f.check, f.part_id, f.verdict) == (finding.check, finding.part_id, finding.verdict)]
        notes = tuple(Meant(f.check, f.part_id, f.sample, float(f.amount), reason) for f in same)

        def change(template: Template) -> Template:
            kept = template.proofing
            return replace(template, proofing=type(kept)(kept.rows, (*kept.meant, *notes)))

        self.session.edit("It is meant so", change)
