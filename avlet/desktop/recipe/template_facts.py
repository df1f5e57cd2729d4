"""What the recipe shows when no part is selected: the template's own name, frame, length and category."""

from fractions import Fraction
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QDialog, QFormLayout, QLabel, QLineEdit, QPlainTextEdit, QVBoxLayout, QWidget

from avlet.desktop.dialogs.frame_dialog import FrameDialog
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.asking import lasting
from avlet.desktop.widgets.families import FamilyBox
from avlet.desktop.widgets.forms import name_controls
from avlet.desktop.widgets.numbers import NumberBox
from avlet.desktop.widgets.quiet_combo import QuietCombo
from avlet.document.editing.edits import replace
from avlet.document.editing.naming import keywords_in
from avlet.document.editing.refont import families_in, with_family
from avlet.document.editing.reframing import retimed_to, rounded_by
from avlet.document.template import Frame, Guides, Template
from avlet.layout.other_frame import Way, brought_to, limits_of
from avlet.numbers.timecode import rate_words, read_rate
from avlet.review.samples import Unheld, unheld_words

FRAMES = {"1920 × 1080": (1920, 1080), "3840 × 2160": (3840, 2160), "1280 × 720": (1280, 720), "1080 × 1080": (1080, 1080),
          "1080 × 1920": (1080, 1920)}  # fmt: skip
RATES = ("24000/1001", "24/1", "25/1", "30000/1001", "30/1", "50/1", "60000/1001", "60/1")
CATEGORIES = ("Lower thirds", "Titles", "Counters", "Credits", "Tags")


class TemplateFacts(QWidget):
    """The template's own settings, as a short form."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.size_box: QComboBox
        self.rate_box: QComboBox
        template = session.template
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(10)
        title = QLabel("Template")
        title.setProperty("role", "title")
        layout.addWidget(title)
        layout.addLayout(self._form(template))
        if not template.parts:
            empty = "An empty frame. Press T for words; then S lays a shape round them, R a rule under them."
        else:
            empty = "Click a part on the stage or in the list to see how it is made. Double-click words to type."
        hint = QLabel(empty)
        hint.setWordWrap(True)
        hint.setProperty("role", "muted")
        layout.addWidget(hint)

    def _form(self, template: Template) -> QFormLayout:
        """Name, frame, length and what else is the template's own."""
        form = QFormLayout()
        form.setLabelAlignment(Qt.AlignmentFlag.AlignLeft)
        form.setHorizontalSpacing(12)
        form.setVerticalSpacing(7)
        name = QLineEdit(template.name)
        name.setObjectName("template name")
        name.editingFinished.connect(lambda: self._set("Name of the template", name=name.text().strip() or "Untitled"))
        form.addRow("Name", name)
        form.addRow("Category", self._combo(CATEGORIES, template.category, lambda v: self._set("Category", category=v), editable=True))
        keywords = QLineEdit(", ".join(template.keywords))
        keywords.setObjectName("template keywords")
        keywords.setPlaceholderText("Words that editors may look for")
        keywords.editingFinished.connect(lambda: self._keywords(keywords.text()))
        form.addRow("Keywords", keywords)
        if template.derived_from:
            form.addRow("Variant of", QLabel(template.derived_from))
        sizes = [f"{template.frame.width} × {template.frame.height}"]
        size = self.size_box = self._combo((*FRAMES, *(s for s in sizes if s not in FRAMES)), sizes[0], self._size)
        form.addRow("Frame", size)
        rates = {rate_words(Fraction(r)): r for r in (*RATES, template.frame.rate)}
        chosen = rate_words(template.frame.fps)
        self.rate_box = self._combo(tuple(rates), chosen, lambda v: self._rate(rates.get(v, v)), editable=True)
        form.addRow("Rate", self.rate_box)
        length = NumberBox(template.length, 1, 100_000, 1, whole=True).takes_times(template.frame.fps)
        length.setObjectName("template length")
        length.value_changed.connect(lambda v: self._set("Length", ("length", id(length)), length=int(v)))
        length.finished.connect(self.session.history.close_gesture)
        form.addRow("Length, frames", length)
        grid = NumberBox(template.guides.grid, 0, 4_000, 10)
        grid.setObjectName("template grid")
        grid.setToolTip("How far the lines of the grid are apart; 0 is none. It shows with the rulers, and parts catch on it.")
        grid.value_changed.connect(self._grid)
        grid.finished.connect(self.session.history.close_gesture)
        form.addRow("Grid, px", grid)
        note = QPlainTextEdit(template.card.note)
        note.setFixedHeight(52)
        note.setTabChangesFocus(True)
        note.textChanged.connect(
            lambda: self._set("Note on the card", ("note", id(note)), card=replace(self.session.template.card, note=note.toPlainText()))
        )
        form.addRow("Note to the\neditor", note)
        for number, family in enumerate(families_in(template)):
            box = FamilyBox(self.session.book, family, partial(self._other_family, family))
            box.setAccessibleName(f"Font in place of {family}, everywhere")
            box.setToolTip(f"Choose another family in place of {family}: in all texts, accents, text styles and on the card")
            form.addRow("Fonts" if number == 0 else "", box)
        name_controls(form)
        return form

    def _grid(self, apart: float) -> None:
        guides = self.session.template.guides
        self.session.edit("Grid", lambda t: t.with_guides(Guides(guides.across, guides.down, apart)), ("grid", id(self)))

    def _other_family(self, old: str, new: str) -> None:
        """Another family wherever one is named."""
        if new == old:
            return
        book = self.session.book
        self.session.edit(f"{new} for {old}", lambda t: with_family(t, old, new, lambda family, style: book.find(family, style)[0].style))

    def _combo(self, choices: tuple[str, ...], value: str, chosen: object, editable: bool = False) -> QComboBox:
        combo = QuietCombo()
        combo.setEditable(editable)
        combo.addItems(choices)
        combo.setCurrentText(value)
        combo.textActivated.connect(chosen)  # type: ignore[arg-type]
        if editable:
            edit = combo.lineEdit()
            assert edit is not None
            edit.editingFinished.connect(lambda: chosen(combo.currentText()))  # type: ignore[operator]
        return combo

    def _keywords(self, words: str) -> None:
        found = keywords_in(words)
        if found != self.session.template.keywords:
            self._set("Keywords", keywords=found)

    def _set(self, label: str, gesture: object = None, **changes: object) -> None:
        self.session.edit(label, lambda t: replace(t, **changes), gesture)

    def _size(self, words: str) -> None:
        """Another frame, by the way that is chosen once all are seen."""
        width, _, height = words.partition(" × ")
        frame: Frame = replace(self.session.template.frame, width=int(width), height=int(height))
        if frame == self.session.template.frame:
            return
        dialog = FrameDialog(self.session.template, frame, self.session.book, lasting(self))
        if dialog.exec() == QDialog.DialogCode.Accepted and dialog.way is not None:
            self.bring_to(frame, dialog.way, dialog.found[dialog.way])
        else:
            self.size_box.setCurrentText(f"{self.session.template.frame.width} × {self.session.template.frame.height}")

    def bring_to(self, frame: Frame, way: Way, found: list[Unheld]) -> None:
        """Bring the template to another frame. What could not grow as far is said; what does not hold is said, chosen and shown."""
        template, book = self.session.template, self.session.book
        limits = limits_of(template, frame, way)
        if not self.session.edit("Frame size", lambda t: brought_to(t, frame, way, book)):
            return
        said = [unheld_words(found)] if found else []
        if limits:
            more = f" and {len(limits) - 3} more" if len(limits) > 3 else ""
            said.append(f"As far as their limits let them: {'; '.join(limits[:3])}{more}.")
        if found:
            self.session.show_answers(found[0].sample)
            self.session.select(found[0].finding.part_id)
        if said:
            self.session.refused.emit(" ".join(said))

    def _rate(self, typed: str | None) -> None:
        """Another rate at the same seconds; what had to be rounded is said."""
        try:
            rate = read_rate(typed or "")
        except ValueError as error:
            self.session.refused.emit(str(error))
            self.rate_box.setCurrentText(rate_words(self.session.template.frame.fps))
            return
        if Fraction(rate) == self.session.template.frame.fps:
            return
        said = rounded_by(self.session.template, rate)
        if self.session.edit("Frame rate", lambda t: retimed_to(t, rate)) and said:
            more = f" and {len(said) - 3} more" if len(said) > 3 else ""
            self.session.refused.emit(f"Seconds are kept; rounded to whole frames: {'; '.join(said[:3])}{more}.")
