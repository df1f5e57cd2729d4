"""The Time bench's right side: the chosen move as a sentence, its ease, and its displaced look; or keys; or several moves."""

import math

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QInputDialog, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from avlet.desktop.recipe.look_rows import LookRow, show_in
from avlet.desktop.recipe.move_sentences import move_sentence, sway_sentences, way_in_sentences, way_out_sentences
from avlet.desktop.recipe.sentences import Sentence
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.time.ease_view import EaseBox
from avlet.desktop.time.key_panel import KeyPanel, slopes_word
from avlet.desktop.time.ruler import Ruler
from avlet.desktop.time.time_facts import TimeFacts
from avlet.desktop.widgets.asking import lasting
from avlet.desktop.widgets.kept_panel import KeptPanel
from avlet.desktop.widgets.theme import WARNING
from avlet.document.editing import edits, timing
from avlet.document.editing.keying import keyed_of
from avlet.document.editing.timing import MoveAt, move_at
from avlet.document.metadata import Property, properties, property_types
from avlet.document.parts import AnyPart
from avlet.document.template import Template
from avlet.document.time.eases import Ease
from avlet.document.time.moves import Move, name_of_move
from avlet.errors import AvletError
from avlet.motion.plans import Plan
from avlet.numbers.exact import about, in_figures
from avlet.storage.kept import keep, read_kept

LOOK = tuple(name for name, kind in property_types(Move).items() if kind.group == "displaced")


def _words_of(move: Move) -> object:
    """What of a move decides which words and rows there are."""
    tie = move.tie and (move.tie.on, move.tie.how, move.tie.to)
    faded = move.opacity < 100, move.opened < 100, move.opens_from, bool(move.turn_x or move.turn_y)
    late = move.start != 0 if move.tie is None else move.tie.frames != 0
    return name_of_move(move), late, move.counts_from, move.by, move.order, move.pace, tie, move.travel, move.side, move.coloured, faded


def _key_words(template: Template, keys: tuple[tuple[str, str, int], ...]) -> object:
    """What of the first chosen key decides which words there are, and the values that the panel shows."""
    if not keys:
        return None
    part = template.part(keys[0][0])
    keyed = keyed_of(part, keys[0][1]) if part is not None else None
    if keyed is None or keys[0][2] >= len(keyed.keys):
        return None
    key = keyed.keys[keys[0][2]]
    return keyed.how, key.tied, key.to_next, slopes_word(key)


class MovePanel(KeptPanel):
    """Follows what is chosen on the ruler."""

    def __init__(self, session: Session, ruler: Ruler, parent: QWidget | None = None) -> None:
        super().__init__((16, 12, 12, 16), 8, parent)
        self.session, self.ruler = session, ruler
        self.ease: EaseBox | None = None
        self.warning: QLabel | None = None
        self.as_needed: QPushButton | None = None
        for signal in (session.changed, session.selection_changed, session.answers_changed, ruler.chosen_changed):
            signal.connect(self.later)
        session.frame_changed.connect(lambda _: self.update_graph())

    def subject(self) -> object:
        return self.session.selected, self.ruler.chosen, self.ruler.keys[:1]

    def update_graph(self) -> None:
        for panel in self.findChildren(KeyPanel):
            panel.graph_update()

    def shape(self) -> object:
        part, template = self.session.bound_part, self.session.template
        chosen = self.ruler.chosen
        moves = [move_at(template, at) for at in chosen]
        words = [m and _words_of(m) for m in moves]
        listed = [(p.id, p.name, len(p.way_in), type(p.way_out), len(p.sways), [k.path for k in p.keys]) for p in template.parts]
        wires = [w.target for w in template.wires]
        return (
            part and part.id,
            (template.drop_frame, template.frame),
            len(self.ruler.keys),
            _key_words(template, self.ruler.keys),
            words,
            listed,
            wires,
            template.marks,
        )

    def show_values(self) -> None:
        for facts in self.findChildren(TimeFacts):
            facts.show_values()
        for panel in self.findChildren(KeyPanel):
            panel.show_values()
        part = self.session.bound_part
        if part is None:
            return
        for prop in properties(part):
            for editor in self.editors(f"{part.id}/{prop.path}"):
                show_in(editor, prop.value)
        found = self._chosen()
        if found is not None and self.ease is not None:
            at, move = found
            self.ease.show_ease(move.ease, *self._travel(at, move))
            self._warn(at, move)
        self.update_graph()

    def _chosen(self) -> tuple[MoveAt, Move] | None:
        at = self.ruler.chosen[0] if len(self.ruler.chosen) == 1 else None
        move = move_at(self.session.template, at) if at is not None else None
        return (at, move) if at is not None and move is not None else None

    def _travel(self, at: MoveAt, move: Move) -> tuple[float, float]:
        """The farthest way of a unit in px, and the frames that it takes."""
        plan = self._plan(at)
        if plan is None:
            return 0.0, 0.0
        way = float(np.abs(plan.shift).max(initial=0.0))
        return way, plan.times.unit_frames if move.ease_over == "each unit" else plan.times.total

    def _plan(self, at: MoveAt) -> Plan | None:
        plans = self.session.scene().choreography.plans_of(at.part, at.where == "way_in")
        return plans[at.number] if at.number < len(plans) else None

    def build(self, layout: QVBoxLayout) -> None:
        self.ease = self.warning = self.as_needed = None
        part, found = self.session.bound_part, self._chosen()
        if self.ruler.keys:
            layout.addWidget(KeyPanel(self.session, self.ruler))
        elif len(self.ruler.chosen) > 1:
            self._several(layout)
        elif part is not None and found is not None and found[0].part == part.id:
            self._move(layout, part, *found)
        elif part is not None:
            self._part(layout, part)
        else:
            layout.addWidget(TimeFacts(self.session))

    @staticmethod
    def _title(layout: QVBoxLayout, words: str, role: str = "title") -> None:
        label = QLabel(words)
        label.setProperty("role", role)
        label.setWordWrap(True)
        layout.addWidget(label)

    def _move(self, layout: QVBoxLayout, part: AnyPart, at: MoveAt, move: Move) -> None:
        self._title(layout, f"{part.name} — {'way in' if at.where == 'way_in' else 'way out'}")
        layout.addWidget(move_sentence(self.session, part, at.where, at.number, move))
        self.warning = QLabel()
        self.warning.setWordWrap(True)
        self.warning.setStyleSheet(f"color: {WARNING};")
        layout.addWidget(self.warning)
        side = "way in" if at.where == "way_in" else "way out"
        self.as_needed = QPushButton(f"Make the {side} as long as the moves need")
        self.as_needed.setProperty("chip", "time")
        self.as_needed.clicked.connect(lambda: self._as_needed(at.where))
        layout.addWidget(self.as_needed, 0, Qt.AlignmentFlag.AlignLeft)
        self.ease = EaseBox(move.ease, *self._travel(at, move), read_kept().eases, lambda ease, done: self._put_ease(at, ease, done))
        layout.addWidget(self.ease)
        say = Sentence(self.session, "time")
        say.button("keep this ease…", lambda: self._keep("ease", at), "keep ease")
        say.button("keep this move…", lambda: self._keep("move", at), "keep move")
        layout.addWidget(say.widget)
        self._title(layout, "Where it comes from" if at.where == "way_in" else "Where it goes", "heading")
        rows = {p.path: p for p in properties(part)}
        for name in LOOK:
            prop: Property | None = rows.get(f"{at.where}.{at.number}.{name}")
            if prop is not None and not self._hidden(name, move):
                layout.addWidget(LookRow(self.session, part.id, prop))
        self._warn(at, move)
        self._others(layout, part, at)

    @staticmethod
    def _hidden(name: str, move: Move) -> bool:
        return (
            (name in ("x", "y") and move.goes_out)
            or (name == "depth" and not (move.turn_x or move.turn_y))
            or (name == "colour" and not move.coloured)
            or (name in ("opens_from", "opens_soft") and move.opened >= 100)
            or (name == "opens_angle" and (move.opened >= 100 or move.opens_from != "an angle"))
        )

    def _others(self, layout: QVBoxLayout, part: AnyPart, at: MoveAt) -> None:
        """Ways to give the part more: another move, another way out, something to do while it holds."""
        self._title(layout, "More of this part", "heading")
        if at.where == "way_in":
            layout.addWidget(way_in_sentences(self.session, part)[-1])
            layout.addWidget(way_out_sentences(self.session, part)[0])
        for sentence in sway_sentences(self.session, part):
            layout.addWidget(sentence)
        layout.addWidget(LookRow(self.session, part.id, next(p for p in properties(part) if p.path == "motion_blur")))

    def _part(self, layout: QVBoxLayout, part: AnyPart) -> None:
        """A part of which no move is chosen."""
        self._title(layout, part.name)
        session = self.session
        for sentence in (*way_in_sentences(session, part), *way_out_sentences(session, part), *sway_sentences(session, part)):
            layout.addWidget(sentence)

    def _several(self, layout: QVBoxLayout) -> None:
        chosen, template = self.ruler.chosen, self.session.template
        self._title(layout, f"{len(chosen)} moves")
        self._title(layout, ", ".join(dict.fromkeys(template.name_of(at.part) for at in chosen)), "muted")
        for words, label, value, change in (
            ("Shift all by … frames", "shift", 5.0, timing.shifted), ("Stretch all to … %", "stretch", 150.0, timing.stretched),
            ("Stagger them by … frames", "stagger", 3.0, timing.staggered),
        ):  # fmt: skip
            line = QLineEdit(f"{in_figures(value)}")
            line.setObjectName(f"{label} several")
            line.setAccessibleName(words)

            def do(field: QLineEdit = line, how: object = change, name: str = label) -> None:
                try:
                    by = float(field.text())
                except ValueError:
                    self.session.refused.emit(f"“{field.text()}” is not a number of frames.")
                    return
                if math.isfinite(by):
                    self.session.edit(f"{name.capitalize()} moves", lambda t: how(t, chosen, by))  # type: ignore[operator]

            say = Sentence(self.session, "time").words(words.partition(" …")[0])
            say.add(line)
            layout.addWidget(say.words(words.partition("… ")[2]).button("do it", do, f"do {label}").widget)

    # Changes

    def _put_ease(self, at: MoveAt, ease: Ease, done: bool) -> None:
        move = move_at(self.session.template, at)
        if move is not None and move.ease != ease:
            self.session.edit("Ease", lambda t: timing.put_move(t, at, edits.replace(timing.need_move(t, at), ease=ease)), ("ease", at))
        if done:
            self.session.history.close_gesture()

    def _keep(self, what: str, at: MoveAt) -> None:
        """Keep the ease or the move under a name, for this template and others."""
        move = move_at(self.session.template, at)
        name, sure = QInputDialog.getText(lasting(self), f"Keep this {what}", "Under which name?", QLineEdit.EchoMode.Normal, "")
        if not sure or move is None:
            return
        try:
            keep(name, move.ease if what == "ease" else move)
        except AvletError as error:
            self.session.refused.emit(str(error))
        self.forget()

    def _warn(self, at: MoveAt, move: Move) -> None:
        """Point out a travel that is too quick to be read: more than a third of the letters' height in a frame."""
        if self.warning is None or self.ease is None:
            return
        setting = self.session.scene().rest.parts[at.part].body.setting
        fastest = self.ease.curve.fastest
        quick = setting is not None and fastest > setting.cap_height / 3
        spans = self.session.scene().spans
        plan = self._plan(at)
        span = spans.designed_in if at.where == "way_in" else spans.designed_out
        over = plan is not None and not plan.times.from_end and plan.times.end > span + 1e-6
        words = []
        if quick and setting is not None:
            height = f"a third of the letters’ height ({setting.cap_height:.0f} px)"
            words.append(f"⚠ {fastest:.0f} px in one frame, more than {height}: it may flicker.")
        if over and plan is not None:
            done = f"⚠ It is done after {about(plan.times.end)} frames, later than its span."
            words.append(f"{done} Make the span longer, or as long as the moves need.")
        self.warning.setText("\n".join(words))
        self.warning.setVisible(bool(words))
        if self.as_needed is not None:
            self.as_needed.setVisible(over)

    def _as_needed(self, where: str) -> None:
        """Let the way in, or the way out, be as long as its moves need."""
        name, words = ("fits_in", "Way in") if where == "way_in" else ("fits_out", "Way out")
        self.session.edit(f"{words} as long as its moves need", lambda t: edits.replace(t, **{name: True}))
