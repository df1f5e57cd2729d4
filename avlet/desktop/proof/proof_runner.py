"""Proves a template beside the window, and can be stopped."""

from collections.abc import Sequence

from PyQt6.QtCore import pyqtSignal

from avlet.desktop.sessions.runner import Runner
from avlet.document.template import Template
from avlet.errors import AvletError
from avlet.review.awkward import Row
from avlet.review.proof import Proof, prove
from avlet.review.proved_rows import ProvedRows
from avlet.text.fonts import FontBook


class ProofRunner(Runner):
    """One proof of one template. ``progressed`` tells rows done, rows in all and the row; ``proved`` what was found."""

    progressed = pyqtSignal(int, int, str)
    proved = pyqtSignal(object)
    failed = pyqtSignal(str)

    def __init__(self, template: Template, book: FontBook, rows: Sequence[Row] | None = None, proved: ProvedRows | None = None) -> None:
        super().__init__()
        self.template, self.book, self.rows, self.proved_rows = template, book, rows, proved

    def run(self) -> None:
        try:
            proof = prove(self.template, self.book, rows=self.rows, told=self._told, proved=self.proved_rows)
        except AvletError as error:
            self.failed.emit(str(error))
            return
        if not self.stopping:
            self.proved.emit(proof)

    def _told(self, done: int, of: int, name: str) -> bool:
        self.progressed.emit(done, of, name)
        return not self.stopping


def in_short(proof: Proof) -> str:
    """What a proof has found, in a line."""
    breaks, look = proof.count("breaks"), proof.count("to look at")
    if not breaks and not look:
        return f"Proof: everything holds in {len(proof.rows)} rows."
    return f"Proof: {breaks} {'breaks' if breaks == 1 else 'break'}, {look} to look at, in {len(proof.rows)} rows."
