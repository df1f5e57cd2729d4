"""Sentences whose words can be changed in place: plain words, choices, numbers."""

from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QLabel, QLineEdit, QMenu, QPushButton, QWidget

from avlet.desktop.recipe.dot_menu import DotMenu
from avlet.desktop.recipe.plain import line_of
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.colour_button import ColourButton
from avlet.desktop.widgets.decimal_box import DecimalBox
from avlet.desktop.widgets.flow import flowing
from avlet.desktop.widgets.menus import pop_up
from avlet.desktop.widgets.numbers import NumberBox
from avlet.document.cards.typed_answers import as_counted
from avlet.document.editing import keying
from avlet.document.metadata import get_at, type_at
from avlet.document.parts import CounterPart
from avlet.errors import AvletError

Choice = tuple[str, Any]
"""What a menu shows, and what choosing it means."""
Ticked = tuple[str, str, bool]
"""What a menu shows, what ticking it means, and whether it is ticked."""


class Chip(QPushButton):
    """A word that opens a menu. ``tone`` is ``follow``, ``time`` or ``plain``."""

    def __init__(self, words: str, tone: str) -> None:
        super().__init__(words + " ▾")
        self.setProperty("chip", tone)
        self.setAccessibleName(words)


class Sentence:
    """Builds one sentence into a flowing widget."""

    def __init__(self, session: Session, tone: str) -> None:
        self.session, self.tone = session, tone
        self.widget: QWidget = flowing()

    def _add(self, widget: QWidget) -> None:
        layout = self.widget.layout()
        assert layout is not None
        layout.addWidget(widget)

    def add(self, widget: QWidget) -> "Sentence":
        """Any other widget."""
        self._add(widget)
        return self

    def words(self, text: str) -> "Sentence":
        """Plain words; each may wrap on its own."""
        for word in text.split(" "):
            self._add(QLabel(word))
        return self

    def choice(self, shown: str, choices: Sequence[Choice], chosen: Callable[[Any], object], name: str = "") -> "Sentence":
        """A word with a menu of others."""
        chip = Chip(shown, self.tone)
        chip.setObjectName(name)
        chip.setToolTip(line_of(name))
        chip.clicked.connect(lambda: self._open_menu(chip, shown, choices, chosen))
        self._add(chip)
        return self

    def _open_menu(self, chip: Chip, shown: str, choices: Sequence[Choice], chosen: Callable[[Any], object]) -> None:
        menu = QMenu(chip)
        for words, value in choices:
            action = QAction(words, menu)
            action.setCheckable(words == shown)
            action.setChecked(words == shown)
            action.triggered.connect(partial(self._tell, chosen, value))
            menu.addAction(action)
        pop_up(menu, chip.mapToGlobal(QPoint(0, chip.height() + 2)))

    def _tell(self, chosen: Callable[[Any], object], value: Any, _: bool = False) -> None:
        """Take what was chosen; what it was about may be gone by now, which is said."""
        try:
            chosen(value)
        except AvletError as error:
            self.session.refused.emit(str(error))

    def several(
        self, shown: str, choices: Callable[[], Sequence[Ticked]], chosen: Callable[[tuple[str, ...]], object], name: str = ""
    ) -> "Sentence":
        """A word with a menu in which several may be ticked, as they are when it is opened."""
        chip = Chip(shown, self.tone)
        chip.setObjectName(name)
        chip.setToolTip(line_of(name))

        def open_menu() -> None:
            menu, offered = QMenu(chip), choices()
            for words, value, ticked in offered:
                action = QAction(words, menu)
                action.setCheckable(True)
                action.setChecked(ticked)
                others = tuple(v for _, v, t in offered if t and v != value)
                action.triggered.connect(partial(_tick, chosen, others, value))
                menu.addAction(action)
            pop_up(menu, chip.mapToGlobal(QPoint(0, chip.height() + 2)))

        chip.clicked.connect(open_menu)
        self._add(chip)
        return self

    def number(self, *targets: str) -> "Sentence":
        """A number that sets one property, or several alike."""
        part_id, _, path = targets[0].partition("/")
        part = self.session.bound(part_id)
        kind = type_at(part, path)
        box = NumberBox(float(get_at(part, path)), kind.low, kind.high, kind.step, kind.kind == "whole")
        if kind.is_time:
            box.takes_times(self.session.template.frame.fps)
        box.setProperty("chip", self.tone)
        box.setObjectName(targets[0])
        box.setAccessibleName(f"{part.name}: {kind.label}")

        def take(value: float) -> None:
            self.session.write(dict.fromkeys(targets, value), ("box", id(box)))

        self._offer_dot(box, targets[0])
        box.value_changed.connect(take)
        box.finished.connect(self.session.history.close_gesture)
        self._add(box)
        return self

    def exact(self, target: str, language: str, step: str) -> "Sentence":
        """An exact number, typed as the person or as ``language`` writes it."""
        part = self.session.bound(target.partition("/")[0])
        box = DecimalBox(str(get_at(part, target.partition("/")[2])), step, (language,))
        if isinstance(part, CounterPart):
            box.other = partial(as_counted, part.writing.style, self.session.template.frame.fps)
        box.setProperty("chip", self.tone)
        box.setObjectName(target)
        box.setAccessibleName(f"{part.name}: {type_at(part, target.partition('/')[2]).label}")
        self._offer_dot(box, target)
        box.value_changed.connect(lambda value: self.session.write({target: value}, ("box", id(box))))
        box.finished.connect(self.session.history.close_gesture)
        self._add(box)
        return self

    def line(self, target: str) -> "Sentence":
        """A few words that set one property."""
        part = self.session.bound(target.partition("/")[0])
        path = target.partition("/")[2]
        box = QLineEdit(str(get_at(part, path)))
        box.setProperty("chip", self.tone)
        box.setObjectName(target)
        box.setAccessibleName(f"{part.name}: {type_at(part, path).label}")
        box.setFixedWidth(max(60, box.fontMetrics().horizontalAdvance(box.text()) + 22))
        self._offer_dot(box, target)

        def take() -> None:
            if box.isModified() and not self.session.write({target: box.text()}):
                box.setText(str(self.session.shown(target)))
            box.setModified(False)

        box.editingFinished.connect(take)
        self._add(box)
        return self

    def colour(self, target: str) -> "Sentence":
        """A colour that is one property."""
        part = self.session.bound(target.partition("/")[0])
        path = target.partition("/")[2]
        button = ColourButton(str(get_at(part, path)))
        button.setObjectName(target)
        button.setAccessibleName(f"{part.name}: {type_at(part, path).label}")

        def take(colour: str) -> None:
            if not self.session.write({target: colour}, ("box", id(button))):
                button.show_colour(str(self.session.shown(target)))

        self._offer_dot(button, target)
        button.changed.connect(take)
        button.finished.connect(self.session.history.close_gesture)
        self._add(button)
        return self

    def menu(self, shown: str, fill: Callable[[QMenu], object], name: str) -> "Sentence":
        """A word with a menu of menus."""
        chip = Chip(shown, self.tone)
        chip.setObjectName(name)

        def open_menu() -> None:
            menu = QMenu(chip)
            fill(menu)
            pop_up(menu, chip.mapToGlobal(QPoint(0, chip.height() + 2)))

        chip.clicked.connect(open_menu)
        self._add(chip)
        return self

    def _offer_dot(self, box: QWidget, target: str) -> None:
        """A right click offers keys and the card; a keyed number has the colour of time."""
        part_id, _, path = target.partition("/")
        part = self.session.template.part(part_id)
        if part is not None and keying.keyed_of(part, path) is not None:
            box.setProperty("chip", "time")
        if self.session.template.wire_to(target) is not None:
            box.setProperty("chip", "card")
        box.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        box.customContextMenuRequested.connect(lambda at: pop_up(DotMenu(self.session, target, None, box), box.mapToGlobal(at)))
        box.setToolTip(f"{box.toolTip()}.\nA right click keys it or puts it on the card.")

    def button(self, words: str, pressed: Callable[[], object], name: str = "", tip: str = "") -> "Sentence":
        """A word, or a sign with a ``tip`` in words, that does something."""
        made = QPushButton(words)
        made.setToolTip(tip or line_of(name))
        made.setAccessibleName(tip or words)
        made.setProperty("chip", self.tone)
        made.setObjectName(name)
        made.clicked.connect(lambda _=False: pressed())
        self._add(made)
        return self


def _tick(chosen: Callable[[tuple[str, ...]], object], others: tuple[str, ...], value: str, on: bool) -> None:
    chosen((*others, value) if on else others)
