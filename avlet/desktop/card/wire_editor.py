"""One wire: what it leads to, its map drawn, and its map to be changed as a range, a table or a formula."""

from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QComboBox, QFrame, QGridLayout, QHBoxLayout, QLabel, QLineEdit, QToolButton, QVBoxLayout, QWidget

from avlet.desktop.card.field_editors import quiet_combo
from avlet.desktop.recipe.sentences import Sentence
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.colour_button import ColourButton
from avlet.desktop.widgets.numbers import NumberBox
from avlet.desktop.widgets.switch import Switch
from avlet.desktop.widgets.theme import MUTED, ROSE, SMALL, WARNING, font, qcolor
from avlet.document.cards import carding
from avlet.document.cards.formulas import FUNCTIONS
from avlet.document.cards.wire_checks import plain_range
from avlet.document.cards.wire_sources import FRAME_NAMES, NUMBERS, source_kind, source_words, table_rows
from avlet.document.cards.wires import Formula, Map, Range, Straight, Table, Wire, row_of
from avlet.document.fields import plain
from avlet.document.looks.forms import READY_FORMS, name_of_form
from avlet.document.metadata import PropertyType
from avlet.document.targets import type_of, value_of, words_for
from avlet.document.time.eases import READY_EASES, name_of_ease
from avlet.easing import ease_progress
from avlet.errors import AvletError


class MapPicture(QWidget):
    """A map as a small drawing: a line for straight, the curve of a range, the steps of a table, a sign for a formula."""

    def __init__(self, wire: Wire, rows: int) -> None:
        super().__init__()
        self.wire, self.rows = wire, rows
        self.setFixedSize(QSize(58, 26))
        self.setAccessibleName("Map of the wire")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(ROSE), 1.8))
        area = QRectF(4, 4, self.width() - 8, self.height() - 8)
        match self.wire.map:
            case Straight():
                painter.drawLine(area.bottomLeft(), area.topRight())
            case Range() as span:
                at = np.linspace(0, 1, 32)
                value = at if span.ease is None else ease_progress(span.ease, at)
                value = np.clip(value, -0.1, 1.1) if span.to_high >= span.to_low else 1 - value
                points = [QPointF(area.x() + x * area.width(), area.bottom() - y * area.height()) for x, y in zip(at, value, strict=True)]
                painter.drawPolyline(QPolygonF(points))
            case Table(rows=rows):
                values = list(rows.values()) or [0]
                step = area.width() / max(1, len(values))
                kinds = sorted({str(v) for v in values})
                for index, value in enumerate(values):
                    x = area.x() + index * step
                    if isinstance(value, str) and value.startswith("#"):
                        painter.setPen(Qt.PenStyle.NoPen)
                        painter.setBrush(qcolor(value))
                        painter.drawRoundedRect(QRectF(x + 1, area.y() + 2, step - 2, area.height() - 4), 2, 2)
                        continue
                    y = area.bottom() - kinds.index(str(value)) / max(1, len(kinds) - 1) * area.height()
                    painter.drawLine(QPointF(x + 1, y), QPointF(x + step - 1, y))
            case Formula():
                painter.setFont(font(SMALL))
                painter.drawText(area, Qt.AlignmentFlag.AlignCenter, "ƒ(x)")


class WireEditor(QFrame):
    """Changes one wire of the session's template."""

    def __init__(self, session: Session, target: str, from_source: bool = False) -> None:
        super().__init__()
        self.session, self.target = session, target
        found = session.template.wire_to(target)
        assert found is not None
        self.wire = found
        self.setProperty("role", "wire")
        self.setObjectName(f"wire {target}")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 7, 8, 8)
        layout.setSpacing(6)
        row = QHBoxLayout()
        names = QVBoxLayout()
        names.setSpacing(1)
        owner, _, path = words_for(session.template, target).partition(": ")
        heading = QLabel(owner)
        heading.setFont(font(weight=QFont.Weight.DemiBold))
        what = QLabel(f"{path} ← {source_words(session.template, self.wire.source)}" if from_source else path)
        what.setProperty("role", "small")
        what.setWordWrap(True)
        names.addWidget(heading)
        names.addWidget(what)
        row.addLayout(names, 1)
        row.addWidget(MapPicture(self.wire, 0))
        remove = QToolButton()
        remove.setText("×")
        remove.setProperty("role", "flat")
        remove.setToolTip("Take this wire off; the property keeps what it is")
        remove.setAccessibleName(f"Take the wire to {words_for(session.template, target)} off")
        remove.clicked.connect(lambda: session.edit("Wire off", lambda t: carding.unwired(t, target)))
        row.addWidget(remove, 0, Qt.AlignmentFlag.AlignTop)
        layout.addLayout(row)
        self.kind: PropertyType = type_of(session.template, target)
        self.rows = table_rows(session.template, self.wire.source)
        layout.addWidget(self._sentence())
        match self.wire.map:
            case Table():
                layout.addLayout(self._table(self.wire.map))
            case Formula():
                self._formula(layout, self.wire.map)

    def _set(self, how: Map, gesture: object = None) -> None:
        self.session.edit("Map of a wire", lambda t: carding.set_map(t, self.target, how), gesture)

    # Which map

    def _sentence(self) -> QWidget:
        say = Sentence(self.session, "card")
        names: list[tuple[str, Map]] = []
        given, _ = source_kind(self.session.template, self.wire.source)
        if self.kind.accepts(given) and (self.kind.kind != "choice" or all(key in self.kind.choices for key, _ in self.rows)):
            names.append(("straight", Straight()))
        if given in NUMBERS and self.kind.kind in NUMBERS:
            names.append(("from a range to a range", plain_range(self.session.template, self.wire)))
            names.append(("as a percentage of its own", carding.SHARE_OF_OWN))
        if self.rows:
            own = self._own()
            names.append(("by a table", Table({key: own for key, _ in self.rows})))
        if self.kind.kind not in ("gradient", "picture", "font", "form"):
            names.append(("by a formula", Formula("darker(value, 40)" if self.kind.kind == "colour" and given == "colour" else "own")))
        say.choice(self._shown(), names, self._set, f"map of {self.target}")
        if isinstance(self.wire.map, Range):
            self._range(say, self.wire.map)
        return say.widget

    def _shown(self) -> str:
        if self.wire.map == carding.SHARE_OF_OWN:
            return "as a percentage of its own"
        return {
            Straight: "straight", Range: "from a range to a range", Table: "by a table", Formula: "by a formula",
        }[type(self.wire.map)]  # fmt: skip

    def _own(self) -> Any:
        return plain(value_of(self.session.template, self.target))

    def _range(self, say: Sentence, span: Range) -> None:
        say.words(":")
        self._number(say, "from_low", span)
        say.words("to")
        self._number(say, "from_high", span)
        say.words("becomes")
        self._number(say, "to_low", span)
        say.words("to")
        self._number(say, "to_high", span)
        say.words(f"{self.kind.unit}," if self.kind.unit else ",")
        eases: list[tuple[str, Any]] = [("evenly", None), *READY_EASES.items()]
        shown = "evenly" if span.ease is None else name_of_ease(span.ease)
        say.choice(shown, eases, lambda ease: self._change_range(ease=ease), f"ease of {self.target}")
        ends: list[tuple[str, Any]] = [("stops at the ends", True), ("goes on beyond", False)]
        say.choice(ends[not span.clamp][0], ends, lambda on: self._change_range(clamp=on), f"ends of {self.target}")

    def _number(self, say: Sentence, name: str, span: Range) -> None:
        box = NumberBox(getattr(span, name))
        box.setProperty("chip", "card")
        box.setObjectName(f"{name} of {self.target}")
        box.value_changed.connect(lambda v: self._change_range(("range", id(box)), **{name: v}))
        box.finished.connect(self.session.history.close_gesture)
        say.add(box)

    def _change_range(self, gesture: object = None, **changes: Any) -> None:
        """Change the range, from what it is now."""
        present = self.session.template.wire_to(self.target)
        if present is not None and isinstance(present.map, Range):
            self._set(carding.replace(present.map, **changes), gesture)

    # Tables and formulas

    def _table(self, table: Table) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(4)
        grid.setColumnStretch(1, 1)
        answers = self.session.scene().bound.answers
        present = row_of(answers[self.wire.source]) if self.wire.source in answers else None
        for index, (key, name) in enumerate(self.rows):
            label = QLabel(f"▸ {name}" if key == present else name)
            label.setProperty("role", "rose" if key == present else "muted")
            label.setToolTip("What is on the stage answers this" if key == present else "")
            grid.addWidget(label, index, 0)
            editor = self._cell(key, table.rows.get(key, self._own()))
            editor.setObjectName(f"row {key} of {self.target}")
            editor.setAccessibleName(f"{name}: {self.kind.label}")
            grid.addWidget(editor, index, 1, Qt.AlignmentFlag.AlignLeft)
        return grid

    def _cell(self, key: str, value: Any) -> QWidget:
        def put(given: Any) -> None:
            self.session.edit("Row of a table", lambda t: carding.set_row(t, self.target, key, given), ("row", self.target, key))

        if self.kind.kind in NUMBERS:
            box = NumberBox(float(value), self.kind.low, self.kind.high, self.kind.step, self.kind.kind == "whole")
            box.setProperty("chip", "card")
            box.value_changed.connect(put)
            box.finished.connect(self.session.history.close_gesture)
            return box
        if self.kind.kind == "colour":
            button = ColourButton(str(value))
            button.changed.connect(put)
            button.finished.connect(self.session.history.close_gesture)
            return button
        if self.kind.kind == "switch":
            switch = Switch(bool(value))
            switch.toggled.connect(put)
            return switch
        if self.kind.kind in ("choice", "font"):
            combo: QComboBox = quiet_combo()
            combo.addItems(self.kind.choices if self.kind.kind == "choice" else self.session.book.families())
            combo.setCurrentText(str(value))
            combo.textActivated.connect(put)
            return combo
        if self.kind.kind == "form":
            forms: QComboBox = quiet_combo()
            forms.addItems(READY_FORMS)
            forms.setCurrentText(name_of_form(self.kind.check(value)))
            forms.textActivated.connect(lambda name: put(READY_FORMS[name]))
            return forms
        line = QLineEdit(str(value))
        line.editingFinished.connect(lambda: put(line.text()) if line.isModified() else None)
        return line

    def _formula(self, layout: QVBoxLayout, formula: Formula) -> None:
        self.line = QLineEdit(formula.formula)
        self.line.setObjectName(f"formula of {self.target}")
        self.line.setAccessibleName("Formula")
        self.line.setToolTip(formula_help(self.session, self.wire))
        self.wrong = QLabel()
        self.wrong.setWordWrap(True)
        self.wrong.setStyleSheet(f"color: {WARNING};")
        self.wrong.hide()
        self.line.textEdited.connect(self._try_formula)
        self.line.editingFinished.connect(lambda: self._set(Formula(self.line.text())) if self.line.isModified() else None)
        layout.addWidget(self.line)
        layout.addWidget(self.wrong)
        hint = QLabel("value, own, fields by their id, plate.width …")
        hint.setStyleSheet(f"color: {MUTED}; font-size: 11px;")
        layout.addWidget(hint)

    def _try_formula(self, words: str) -> None:
        """Say what is wrong while it is typed, and mark the place."""
        try:
            carding.set_map(self.session.template, self.target, Formula(words))
            self.wrong.hide()
        except AvletError as error:
            self.wrong.setText(str(error).partition("the formula for ")[2].partition(": ")[2] or str(error))
            self.wrong.show()


def formula_help(session: Session, wire: Wire) -> str:
    """The names and functions that a formula can use."""
    fields = [f.id.replace("-", "_") for f in session.template.card.fields]
    parts = [f"{p.id.replace('-', '_')}.width" for p in session.template.parts[:4]]
    return "\n".join(
        [
            f"value – what {source_words(session.template, wire.source)} gives; own – the property’s own value",
            f"Fields: {', '.join(fields[:12])}",
            f"Measures: {', '.join(parts)} … height, left, top, right, bottom, lines, words, letters",
            f"template.length, {', '.join(FRAME_NAMES)}, palette.…",
            f"Functions: {', '.join(FUNCTIONS)}; a if b > c else d",
        ]
    )
