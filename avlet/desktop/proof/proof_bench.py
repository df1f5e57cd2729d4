"""The Proof bench: what was found, the sheet with its faults marked, the chosen cell, and the chosen row over time."""

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QHideEvent, QKeyEvent, QShowEvent
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QLabel, QMenu, QPushButton, QVBoxLayout, QWidget

from avlet.desktop.proof.cell_panel import CellPanel, ShowPart
from avlet.desktop.proof.choosing import fill_menu
from avlet.desktop.proof.findings_view import FindingsView
from avlet.desktop.proof.proof_model import ProofModel
from avlet.desktop.proof.sheet_view import SheetView
from avlet.desktop.proof.traces_view import TracesView
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.asking import lasting
from avlet.desktop.widgets.buttons import flat_switch
from avlet.desktop.widgets.sides import Sides
from avlet.document.editing.naming import slug
from avlet.errors import AvletError
from avlet.review.proof_html import proof_html
from avlet.review.proof_json import proof_bytes
from avlet.review.proof_pdf import proof_pdf
from avlet.storage.atomic import write_whole

_REPORTS = {".html": "A page that stands by itself (HTML)", ".pdf": "The sheet as vectors (PDF)", ".json": "For programs (JSON)"}


class ProofBench(QWidget):
    """Where a template is measured before it leaves. ``show_part`` brings a part to the front on Build."""

    def __init__(self, session: Session, show_part: ShowPart) -> None:
        super().__init__()
        self.session = session
        self.model = ProofModel(session)
        self.findings = FindingsView(self.model)
        self.sheet = SheetView(self.model)
        self.traces = TracesView(self.model)
        self.panel = CellPanel(self.model, self.sheet, show_part)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        left = QWidget()
        left.setProperty("role", "panel")
        left.setFixedWidth(292)
        column = QVBoxLayout(left)
        column.setContentsMargins(0, 0, 0, 12)
        column.addWidget(self.findings, 1)
        self.report = QPushButton("Write the report… ▾")
        menu = QMenu(self.report)
        for suffix, words in _REPORTS.items():
            action = menu.addAction(words)
            assert action is not None
            action.triggered.connect(lambda _=False, s=suffix: self.write_report(s))
        self.report.setMenu(menu)
        row = QHBoxLayout()
        row.setContentsMargins(12, 0, 12, 0)
        row.addWidget(self.report)
        column.addLayout(row)
        sheet = QWidget()
        middle = QVBoxLayout(sheet)
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(0)
        middle.addLayout(self._head())
        middle.addWidget(self.sheet, 1)
        middle.addWidget(self.traces)
        self.panel.setFixedWidth(262)
        self.sides = Sides(sheet, left, self.panel, ("Findings", "The chosen cell"))
        layout.addWidget(self.sides)
        self.setAutoFillBackground(True)
        self.model.changed.connect(self._show_state)
        self._show_state()

    def _head(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setContentsMargins(14, 8, 10, 4)
        words = QLabel("Rows down, moments across")
        words.setProperty("role", "muted")
        row.addWidget(words)
        row.addStretch(1)
        self.choosing = QPushButton("Rows and moments ▾")
        self.choosing.setToolTip("Which rows are proved, and which of their frames are shown")
        menu = QMenu(self.choosing)
        menu.aboutToShow.connect(lambda: fill_menu(menu, self.model, self))
        self.choosing.setMenu(menu)
        row.addWidget(self.choosing)
        self.whole = flat_switch("frame", "Show the whole frame in each cell", self.sheet.show_whole, False)
        row.addWidget(self.whole)
        return row

    def _show_state(self) -> None:
        self.report.setEnabled(self.model.proof is not None and self.model.of is self.session.template)

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.model.wake()
        self.sheet.setFocus()

    def hideEvent(self, event: QHideEvent | None) -> None:
        super().hideEvent(event)
        self.model.sleep()

    def leave(self) -> None:
        """Another bench comes to the front."""
        self.model.sleep()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.panel.show_part()
        else:
            super().keyPressEvent(event)

    def write_report(self, suffix: str) -> None:
        """Ask where to, and write what was found."""
        suggestion = str(Path.home() / f"{slug(self.session.template.name)}-proof{suffix}")
        name, _ = QFileDialog.getSaveFileName(lasting(self), "Write the report", suggestion, f"{_REPORTS[suffix]} (*{suffix})")
        if name:
            path = Path(name)
            self.write_to(path if path.suffix else path.with_suffix(suffix), suffix)

    def write_to(self, path: Path, suffix: str) -> None:
        """Write the report of what was proved."""
        proof, template, book = self.model.proof, self.model.of, self.session.book
        if proof is None or template is None:
            return
        try:
            if suffix == ".json":
                data = proof_bytes(proof)
            else:
                data = proof_html(template, book, proof).encode() if suffix == ".html" else proof_pdf(template, book, proof)
            write_whole(path, data)
        except AvletError as error:
            self.session.refused.emit(str(error))
            return
        self.session.refused.emit(f"The report is in {path}.")
