"""First steps: a strip along the stage's foot that shows the way to a first template, on the real program.

Each of five sentences waits for the thing itself to be done. What is undone has to be done again: the strip always shows the first
step that is not done.
"""

from typing import NamedTuple

from PyQt6.QtCore import QRect, Qt, QTimer
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QWidget

from avlet.desktop.recipe.recipe import Recipe
from avlet.desktop.sessions.template_session import Session
from avlet.document.parts import ShapePart, TextPart
from avlet.document.starts import PEOPLE
from avlet.document.template import Template

_ROSE = "#E58FA0"
_WATCH = 300
"""ms between two looks at where what is marked lies now."""


class Step(NamedTuple):
    """One step: what to do, why, and what of the window is marked while it is not done (names of widgets, the first that is seen)."""

    do: str
    why: str
    marks: tuple[str, ...]


STEPS = (
    Step("Press T, and type a name where it stands.", "Words come first: all else will go by them.", ("stage",)),
    Step("Esc leaves the words. With them selected, press S: a shape lies round them.", "Type a longer name, and it follows.",
         ("stage",)),
    Step("Press Space and watch it rise. Then choose another way: in the recipe, the first word of “Way in”.",
         "How a part comes is a sentence, too.", ("way_in kind", "recipe")),
    Step("Select the plate, and press the dot at its colour: Put on the card.",
         "What is on the card an editor may change, and nothing else.", ("dot plate fill", "recipe")),
    Step("Press Hand over…, or Ctrl+H, and write it into the library.", "An editor takes it from there, types, and never meets the rest.",
         ("hand over",)),
)  # fmt: skip
DONE = "That is a template. On the desk it waits for a hundred names; on Proof you see what they do to it."


class FirstSteps(QWidget):
    """The strip. It is hidden until it is asked for, and hidden again when it is left."""

    def __init__(self, session: Session, stage: QWidget, recipe: Recipe) -> None:
        super().__init__()
        self.session, self.stage, self.recipe = session, stage, recipe
        self.setProperty("role", "first steps")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 6, 8, 6)
        row.setSpacing(10)
        self.count, self.words, self.why = QLabel(), QLabel(), QLabel()
        self.count.setProperty("role", "heading")
        self.words.setWordWrap(True)
        self.words.setAccessibleName("First steps")
        self.why.setProperty("role", "small")
        self.why.setWordWrap(True)
        row.addWidget(self.count)
        row.addWidget(self.words, 3)
        row.addWidget(self.why, 2)
        self.undo = QPushButton("Undo")
        self.undo.setToolTip("Take the last step back (Ctrl+Z)")
        self.undo.clicked.connect(lambda _=False: session.undo())
        row.addWidget(self.undo)
        leave = QPushButton("Leave")
        leave.setToolTip("What was done stays; the menu brings the steps back")
        leave.clicked.connect(self.leave)
        row.addWidget(leave)
        self._ways_in: tuple[object, ...] | None = None
        self._handed = False
        self._mark: _Mark | None = None
        self._met = ""
        self._watch = QTimer(self)
        self._watch.setInterval(_WATCH)
        self._watch.timeout.connect(self._follow_mark)
        session.changed.connect(self.look)
        session.selection_changed.connect(self.look)
        session.handed_over.connect(self._was_handed_over)
        self.hide()

    @property
    def at(self) -> int:
        """Which step is to be done next; as many as there are when all are done."""
        done = self._done()
        return next((n for n, one in enumerate(done) if not one), len(done))

    def begin(self) -> None:
        """Show the way, from the first step that is not done."""
        self._ways_in, self._handed = None, False
        self.show()
        self.look()
        self._watch.start()

    def leave(self) -> None:
        """Hide the strip. What was done stays."""
        self._watch.stop()
        self.hide()
        self._unmark()

    def hideEvent(self, event: object) -> None:
        """Another bench in front: nothing is marked there."""
        self._unmark()

    def look(self) -> None:
        """Say the step that is to be done now."""
        if not self.isVisibleTo(self.parentWidget()):
            return
        at = self.at
        self.undo.setVisible(self.session.history.undo_label is not None)
        if at == len(STEPS):
            self.count.setText("Done")
            self.words.setText(DONE)
            self.why.setText("")
        else:
            step = STEPS[at]
            self.count.setText(f"{at + 1} of {len(STEPS)}")
            self.words.setText(step.do)
            self.why.setText(step.why)
        self.why.setVisible(at < len(STEPS))
        target = self._marked()
        name = target.objectName() if target is not None else ""
        if target is not None and name != self._met:  # brought into sight once, and not each time that something changes
            QTimer.singleShot(0, self._bring_into_sight)
        self._met = name
        self._follow_mark()

    def _bring_into_sight(self) -> None:
        target = self._marked()
        if target is not None and self.recipe.isAncestorOf(target):
            self.recipe.ensureWidgetVisible(target)
        self._follow_mark()

    def _done(self) -> list[bool]:
        template = self.session.template
        texts = {p.id: p for p in template.parts if isinstance(p, TextPart)}
        plates = [p for p in template.parts if isinstance(p, ShapePart) and p.fit is not None and texts.keys() & set(p.fit.around)]
        ways = _ways_in(template)
        shown = [rest.part for rest in self.session.scene().rest.parts.values()]
        typed = any(isinstance(p, TextPart) and p.text.strip() and p.text != PEOPLE["typical"] for p in shown)
        if not (typed and plates):
            self._ways_in = None
        elif self._ways_in is None:
            self._ways_in = ways
        fields = {f.id for f in template.card.fields}
        coloured = any(w.source in fields and ".colour" in w.target.partition("/")[2] for w in template.wires)
        return [typed, bool(plates), self._ways_in is not None and ways != self._ways_in, coloured, self._handed]

    def _was_handed_over(self) -> None:
        self._handed = True
        self.look()

    # What is marked

    def _marked(self) -> QWidget | None:
        at = self.at
        if at == len(STEPS) or not self.isVisible():
            return None
        return next((one for name in STEPS[at].marks if (one := self._widget(name)) is not None and one.isVisible()), None)

    def _widget(self, name: str) -> QWidget | None:
        if name == "stage":
            return self.stage
        if name == "recipe":
            return self.recipe
        if name == "dot plate fill":
            part = self.session.part
            name = f"dot {part.id}/fill.colour" if isinstance(part, ShapePart) else ""
        window = self.window()
        return window.findChild(QWidget, name) if name and window is not None else None

    def _follow_mark(self) -> None:
        target, window = self._marked(), self.window()
        if target is None or window is None:
            self._unmark()
            return
        if self._mark is None:
            self._mark = _Mark(window)
        area = target.visibleRegion().boundingRect()
        self._mark.lie_round(QRect(target.mapTo(window, area.topLeft()), area.size()))

    def _unmark(self) -> None:
        if self._mark is not None:
            self._mark.hide()
            self._mark.deleteLater()
            self._mark = None


class _Mark(QWidget):
    """A rose line round what a step is about. It takes no click."""

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self.setObjectName("first step's mark")
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)

    def lie_round(self, area: QRect) -> None:
        """Lie round a part of the window."""
        wanted = area.adjusted(-4, -4, 4, 4).intersected(self.parentWidget().rect())  # type: ignore[union-attr]
        if self.geometry() != wanted:
            self.setGeometry(wanted)
        self.show()
        self.raise_()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(_ROSE), 2))
        painter.drawRoundedRect(self.rect().adjusted(1, 1, -2, -2), 6, 6)


def _ways_in(template: Template) -> tuple[object, ...]:
    """How the words of a template come."""
    return tuple((p.id, p.way_in) for p in template.parts if isinstance(p, TextPart))
