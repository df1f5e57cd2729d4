"""The recipe: how the selected part is made, as sentences and rows."""

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QApplication, QFrame, QGridLayout, QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from avlet.desktop.gradients import GradientStrip
from avlet.desktop.look_section import LookSection
from avlet.desktop.move_sentences import way_in_sentences, way_out_sentences
from avlet.desktop.numbers import NumberBox
from avlet.desktop.relations import matte_sentences, place_sentences, size_sentence
from avlet.desktop.session import Session
from avlet.desktop.several_parts import SeveralParts
from avlet.desktop.template_facts import TemplateFacts
from avlet.document.metadata import get_at, properties
from avlet.document.parts import AnyPart, TextPart, kind_of
from avlet.motion.spans import spans_at


class Recipe(QScrollArea):
    """Shows the recipe of the session's selected part, or what there is to say of the template when none is selected."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setProperty("role", "panel")
        self._shape: object = None
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.refresh)
        session.selection_changed.connect(self.rebuild)
        session.answers_changed.connect(self.rebuild)
        session.changed.connect(lambda: self._timer.start(0))
        self.rebuild()

    def refresh(self) -> None:
        """Follow the document. A row that is being typed into is left alone; everything else is built anew."""
        focus = QApplication.focusWidget()
        if focus is not None and self.isAncestorOf(focus) and self._same_shape():
            self._show_values()
        else:
            self.rebuild()

    def _same_shape(self) -> bool:
        return self._shape == self._present_shape()

    def _present_shape(self) -> object:
        """Changes whenever other words or rows are needed, not when a value does."""
        part = self.session.bound_part
        if part is None:
            return None
        found = [(p.path, p.value if p.type.kind == "choice" else None) for p in properties(part) if ".stops." not in p.path]
        wires = [w.target for w in self.session.template.wires]
        names = [p.name for p in self.session.template.parts]
        words = (part.features, part.room and part.room.remedies) if isinstance(part, TextPart) else ()
        return (
            part.id,
            self.session.also,
            found,
            wires,
            names,
            words,
            part.across and part.across.on,
            part.down and part.down.on,
            part.mattes,
        )

    def _show_values(self) -> None:
        part = self.session.bound_part
        values = {f"{part.id}/{p.path}": p.value for p in properties(part)} if part else {}
        for box in self.findChildren(NumberBox):
            if box.objectName() in values and box.value != values[box.objectName()]:
                box.show_value(float(values[box.objectName()]))
        for strip in self.findChildren(GradientStrip):
            assert part is not None
            strip.show_stops(get_at(part, strip.objectName().partition("/")[2]))

    def rebuild(self) -> None:
        """Build the panel for the selected part."""
        self._timer.stop()
        at = self.verticalScrollBar()
        scrolled = at.value() if at else 0
        part = self.session.bound_part
        same = self._shape is not None and part is not None and self._shape[0] == part.id  # type: ignore[index]
        self._shape = self._present_shape()
        body = QWidget()
        body.setProperty("role", "panel")
        layout = QVBoxLayout(body)
        layout.setContentsMargins(16, 14, 12, 16)
        layout.setSpacing(9)
        if part is None:
            layout.addWidget(TemplateFacts(self.session))
        elif self.session.also:
            layout.addWidget(SeveralParts(self.session))
        else:
            self._build(layout, part)
        layout.addStretch(1)
        self.setWidget(body)
        if same and at:
            at.setValue(scrolled)

    def _build(self, layout: QVBoxLayout, part: AnyPart) -> None:
        heading = QHBoxLayout()
        name = QLabel(part.name)
        name.setProperty("role", "title")
        kind = QLabel(kind_of(part))
        kind.setProperty("role", "muted")
        heading.addWidget(name, 1)
        heading.addWidget(kind)
        layout.addLayout(heading)
        grid = QGridLayout()
        grid.setColumnMinimumWidth(0, 48)
        grid.setColumnStretch(1, 1)
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(11)
        session = self.session
        for role, words, sentences in (
            ("size", "Size", [size_sentence(session, part)]),
            ("place", "Place", place_sentences(session, part)),
            ("matte", "Matte", matte_sentences(session, part)),
            ("time", "Way in", way_in_sentences(session, part)),
            ("time", "Way out", way_out_sentences(session, part)),
        ):
            for number, sentence in enumerate(sentences):
                row = grid.rowCount()
                if number == 0:
                    label = QLabel(words)
                    label.setProperty("role", role)
                    label.setContentsMargins(0, 4, 0, 0)
                    grid.addWidget(label, row, 0, Qt.AlignmentFlag.AlignTop)
                grid.addWidget(sentence, row, 1)
        layout.addLayout(grid)
        self._warn(layout, part)
        line = QFrame()
        line.setFixedHeight(1)
        line.setStyleSheet("background: #3A4045;")
        layout.addWidget(line)
        layout.addWidget(LookSection(session, part))
        key = QLabel("The dot: hollow = fixed, rose = on the card. Click it to change that.")
        key.setWordWrap(True)
        key.setProperty("role", "small")
        layout.addWidget(key)

    def _warn(self, layout: QVBoxLayout, part: AnyPart) -> None:
        """Say what about the part does not hold: missing fonts and glyphs, moves longer than their span."""
        spans = spans_at(self.session.template, self.session.template.length)
        notes = list(self.session.scene().rest.parts[part.id].notes)
        if any(m.start + m.frames > spans.way_in for m in part.way_in):
            last = max(m.start + m.frames for m in part.way_in)
            notes.append(f"Its way in lasts {last} frames, longer than the template's {spans.way_in}. Drag the way in on the time bar.")
        for words in notes:
            label = QLabel("⚠ " + words)
            label.setWordWrap(True)
            label.setStyleSheet("color: #FFD08A;")
            layout.addWidget(label)
