"""The chosen cell, large, with its facts; what would mend it; what is meant so."""

from collections.abc import Callable, Mapping
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPixmap, QResizeEvent
from PyQt6.QtWidgets import QGridLayout, QInputDialog, QLabel, QPushButton, QVBoxLayout, QWidget

from avlet.desktop.proof.proof_model import ProofModel
from avlet.desktop.proof.sheet_view import SheetView
from avlet.desktop.widgets.asking import lasting
from avlet.numbers.exact import about
from avlet.review.checks import CHECKS
from avlet.review.mends import Mend

ShowPart = Callable[[str, Mapping[str, Any] | None, int | None], None]
"""Shows a part on Build, by its id, with answers, at a frame."""


class CellPanel(QWidget):
    """``show_part`` brings a part that something was found of to the front."""

    def __init__(self, model: ProofModel, sheet: SheetView, show_part: ShowPart) -> None:
        super().__init__()
        self.model, self.sheet, self._show_part = model, sheet, show_part
        self.setProperty("role", "panel")
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(14, 12, 14, 12)
        self._layout.setSpacing(8)
        self.head = QLabel()
        self.head.setProperty("role", "title")
        self.head.setWordWrap(True)
        self._layout.addWidget(self.head)
        self.picture = QLabel()
        self.picture.setAccessibleName("The chosen cell")
        self._layout.addWidget(self.picture)
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.words.setTextFormat(Qt.TextFormat.PlainText)
        self._layout.addWidget(self.words)
        self.facts = QGridLayout()
        self.facts.setColumnStretch(1, 1)
        self.facts.setVerticalSpacing(4)
        self._layout.addLayout(self.facts)
        self.mending = QLabel("To mend it")
        self.mending.setStyleSheet("font-weight: 600;")
        self._layout.addWidget(self.mending)
        self._mends = QVBoxLayout()
        self._mends.setSpacing(6)
        self._layout.addLayout(self._mends)
        self.build = QPushButton("Show the part on Build")
        self.build.clicked.connect(self.show_part)
        self._layout.addWidget(self.build)
        self.meant = QPushButton("It is meant so…")
        self.meant.clicked.connect(self.mean_it)
        self._layout.addWidget(self.meant)
        self._layout.addStretch(1)
        for signal in (model.chosen_changed, model.changed):
            signal.connect(self.show_cell)
        self.show_cell()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.show_cell()

    def show_cell(self) -> None:
        """Follow what is chosen."""
        model = self.model
        if not model.rows:
            return
        scene, finding = model.scene(model.row), model.chosen
        self.head.setText(f"{model.rows[model.row].name} · frame {model.frame}")
        if isinstance(scene, str):
            self.picture.setPixmap(QPixmap())
            self.words.setText(scene)
        else:
            image = self.sheet.drawn(model.row, model.moment, max(80, self.width() - 28))
            image.setDevicePixelRatio(self.sheet.devicePixelRatioF())
            self.picture.setPixmap(QPixmap.fromImage(image))
            self.words.setText(finding.words if finding is not None else "Nothing was found in this row.")
        self._show_facts()
        self._show_mends(model.mends())
        known = finding is not None
        self.build.setEnabled(known and bool(finding and finding.part_id))
        self.meant.setEnabled(known and bool(finding and finding.level != "told"))

    def _show_facts(self) -> None:
        while (item := self.facts.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.deleteLater()
        finding = self.model.chosen
        if finding is None:
            return
        check = next(c for c in CHECKS if c.id == finding.check)
        unit = f" {finding.unit}".rstrip()
        rows = [
            ("Check", check.name), ("Measured", f"{about(finding.amount)}{unit}"), ("Limit", f"{about(finding.limit)}{unit}"),
            ("Source", check.source or "for information; there is no limit"),
        ]  # fmt: skip
        if finding.first is not None:
            last = finding.last if finding.last is not None else finding.first
            rows.insert(1, ("Frames", f"{finding.first}" if last == finding.first else f"{finding.first} – {last}"))
        for number, (name, words) in enumerate(rows):
            left, right = QLabel(name), QLabel(words)
            left.setProperty("role", "muted")
            right.setWordWrap(True)
            right.setAlignment(Qt.AlignmentFlag.AlignRight)
            self.facts.addWidget(left, number, 0, Qt.AlignmentFlag.AlignTop)
            self.facts.addWidget(right, number, 1)

    def _show_mends(self, offered: list[Mend]) -> None:
        while (item := self._mends.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.deleteLater()
        self.mending.setVisible(bool(offered))
        for mend in offered:
            button = QPushButton(mend.words)
            button.setProperty("chip", "follow")
            button.setToolTip("One click, one undo")
            button.clicked.connect(lambda _=False, m=mend: self.model.mend(m))
            self._mends.addWidget(button)

    def show_part(self) -> None:
        """Show the part that something was found of, with the row's answers and at the frame where it is so."""
        finding = self.model.chosen
        if finding is not None and finding.part_id:
            row = next((row for row in self.model.rows if row.name == finding.sample), None)
            frame = finding.first if row is None or row.length is None else None
            self._show_part(finding.part_id, row.answers if row is not None else None, frame)

    def mean_it(self) -> None:
        """Ask for the reason why it is meant so."""
        finding = self.model.chosen
        if finding is None:
            return
        reason, sure = QInputDialog.getText(lasting(self), "It is meant so", f"{finding.words}\nThe reason, for whoever reads the proof:")
        if sure and reason.strip():
            self.model.mean_it(finding, reason.strip()[:500])
