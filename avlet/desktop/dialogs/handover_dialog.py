"""Hand over: what goes into the package and what cannot, before it is written into the library."""

from pathlib import Path

from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QLabel,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from avlet.desktop.proof.proof_runner import ProofRunner, in_short
from avlet.desktop.recipe.template_facts import CATEGORIES
from avlet.desktop.sessions.template_session import AS_DESIGNED, Session
from avlet.desktop.widgets.buttons import FolderRow
from avlet.desktop.widgets.forms import name_controls
from avlet.desktop.widgets.theme import WARNING
from avlet.document.editing.edits import replace
from avlet.document.parts import TextPart
from avlet.review.card_measure import remarks
from avlet.review.proof import Proof, together
from avlet.review.samples import findings
from avlet.storage.embedding import fonts_to_carry
from avlet.storage.handing_over import package_path, versions_of

_MOST_OPEN = 4
"""Findings that are listed."""


class HandoverDialog(QDialog):
    """Says what the editor will get, and asks for the library."""

    def __init__(self, session: Session, library: Path, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setWindowTitle("Hand over")
        self.setMinimumWidth(520)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 18, 20, 18)
        layout.setSpacing(10)
        title = QLabel(f"Hand over {session.template.name}")
        title.setProperty("role", "title")
        layout.addWidget(title)
        layout.addLayout(self._form(library))
        for role, words in self._facts():
            label = QLabel(words)
            label.setWordWrap(True)
            if role == "warn":
                label.setStyleSheet(f"color: {WARNING};")
            layout.addWidget(label)
        self.proof = QLabel("Proving: its samples and awkward answers …")
        self.proof.setWordWrap(True)
        self.proof.setAccessibleName("What its proof says")
        layout.addWidget(self.proof)
        self.exists = QLabel()
        self.exists.setWordWrap(True)
        self.exists.setProperty("role", "muted")
        layout.addWidget(self.exists)
        self.folder.line.textChanged.connect(self._show_exists)
        self.name.textChanged.connect(self._show_exists)
        self._show_exists()
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        hand = buttons.addButton("Hand over", QDialogButtonBox.ButtonRole.AcceptRole)
        assert hand is not None
        hand.setProperty("role", "handover")
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        layout.addWidget(buttons)
        self.runner = ProofRunner(session.template, session.book)
        self.runner.progressed.connect(self._proving)
        self.runner.proved.connect(self._proved)
        self.runner.failed.connect(self.proof.setText)
        self.finished.connect(lambda _: self.runner.stop())

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.runner.begin()

    def _proving(self, done: int, of: int, name: str) -> None:
        self.proof.setText(f"Proving: {name}, {done} of {of} …")

    def _proved(self, proof: Proof) -> None:
        """Say what stands open; nothing of it forbids handing over."""
        shown = [(f, names) for f, names in together(proof.open) if f.level == "breaks"][:_MOST_OPEN]
        lines = [f"⚠ {f.words} ({', '.join(dict.fromkeys(names[:3]))})" for f, names in shown]
        self.proof.setText("\n".join([in_short(proof), *lines]))
        self.proof.setStyleSheet("" if proof.holds else f"color: {WARNING};")
        self.proof.setMinimumHeight(self.proof.heightForWidth(self.proof.width()))
        self.adjustSize()

    def _form(self, library: Path) -> QFormLayout:
        """Where it goes, and what the library is told of it."""
        template = self.session.template
        form = QFormLayout()
        self.folder = FolderRow(library, "Library")
        form.addRow("Library", self.folder)
        self.name = QLineEdit(template.name)
        self.name.setAccessibleName("Name of the template")
        form.addRow("Name", self.name)
        self.category = QComboBox()
        self.category.setEditable(True)
        self.category.addItems(CATEGORIES)
        self.category.setCurrentText(template.category)
        form.addRow("Category", self.category)
        self.keywords = QLineEdit(", ".join(template.keywords))
        self.keywords.setAccessibleName("Keywords")
        self.keywords.setPlaceholderText("Words that editors may look for, with commas between them")
        form.addRow("Keywords", self.keywords)
        self.category.setAccessibleName("Category")
        self.note = QLineEdit()
        self.note.setMaxLength(400)
        self.note.setPlaceholderText("One sentence for the editors who have it on a cut")
        self.note.setAccessibleName("What is new")
        form.addRow("What is new", self.note)
        name_controls(form)
        return form

    @property
    def library(self) -> Path:
        return self.folder.folder

    def _facts(self) -> list[tuple[str, str]]:
        """What goes with it, and what to think about first."""
        template, book = self.session.template, self.session.book
        carried = fonts_to_carry(template, book)
        fields = template.card.fields
        facts = [("", f"On the card: {', '.join(f.label for f in fields) or 'nothing'}.")]
        facts.append(("", f"Fonts that travel with it: {', '.join(f.full_name for f in carried.faces) or 'none'}."))
        facts += [("warn", "⚠ " + words) for words in carried.left_out]
        reached = {w.target for w in template.wires}
        loose = [p.name for p in template.parts if isinstance(p, TextPart) and f"{p.id}/text" not in reached]
        if loose:
            facts.append(("warn", f"⚠ No field reaches the words of {', '.join(loose)}; editors cannot change them."))
        for source, name in ((AS_DESIGNED, "As designed"), *((s.id, s.name) for s in template.samples)):
            for finding in findings(self.session.scene(source)):
                facts.append(("warn", f"⚠ {name}: {finding.words}"))
        facts += [("warn", "⚠ " + r.words) for r in remarks(template) if r.grave]
        if template.derived_from:
            facts.append(("", f"A variant of {template.derived_from}."))
        return facts

    def _show_exists(self) -> None:
        named = replace(self.session.template, name=self.name.text().strip() or self.session.template.name)
        path = package_path(named, self.library)
        versions = versions_of(path)
        if versions:
            number = max(v.number for v in versions) + 1
            words = f"{path.name} is in the library. This becomes version {max(2, number)}; the one before stays and can be gone back to."
        else:
            words = f"It is written as {path.name}, version 1, with a preview."
        self.exists.setText(words)
