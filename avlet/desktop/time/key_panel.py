"""The chosen keys: the graph of their property, and how it goes on from each."""

from typing import Any, get_args

from PyQt6.QtWidgets import QLabel, QVBoxLayout, QWidget

from avlet.desktop.recipe.sentences import Choice, Sentence
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.time.key_graph import KeyGraph
from avlet.desktop.time.ruler import Ruler
from avlet.desktop.widgets.numbers import NumberBox
from avlet.document.editing import edits, keying
from avlet.document.metadata import type_at
from avlet.document.template import Template
from avlet.document.time.keys import Between, How, Key, Tied
from avlet.motion.keyed import key_time

_TIED: dict[Tied, str] = {"start": "frames after the start", "end": "frames before the end", "hold": "% of the hold"}
_HOW = {"instead": "stand instead of its own value", "added": "are added to its own value", "times": "multiply its own value (%)"}


def slopes_word(key: Key) -> str:
    """How a curve runs through a key, in a word."""
    if key.slope_in is None and key.slope_out is None:
        return "smooth by itself"
    return "joined" if key.slope_in == key.slope_out else "broken"


class KeyPanel(QWidget):
    """Value and speed of the first chosen key's property; changes go to all chosen keys of it."""

    def __init__(self, session: Session, ruler: Ruler) -> None:
        super().__init__()
        self.session, self.ruler = session, ruler
        self.part_id, self.path, self.number = ruler.keys[0]
        part = session.template.part(self.part_id)
        assert part is not None
        self.keyed = keying.keyed_of(part, self.path)
        kind = type_at(part, self.path)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(8)
        title = QLabel(f"{part.name} — {kind.label.lower()}")
        title.setProperty("role", "title")
        layout.addWidget(title)
        self.graph: KeyGraph | None = None
        if kind.kind != "colour":
            self.graph = KeyGraph(session, self.part_id, self.path)
            self.graph.chosen = self.number
            layout.addWidget(self.graph)
            self._graph_choice(layout)
        self._sentences(layout)

    def show_values(self) -> None:
        """Follow the document."""
        part = self.session.template.part(self.part_id)
        keyed = keying.keyed_of(part, self.path) if part is not None else None
        if keyed is not None and self.number < len(keyed.keys):
            key = keyed.keys[self.number]
            for name, value in (("key at", key.at), ("key value", key.value)):
                for box in self.findChildren(NumberBox, name):
                    box.show_value(float(value))

    def graph_update(self) -> None:
        """The document or the frame has changed."""
        if self.graph is not None:
            self.graph.update()

    def _graph_choice(self, layout: QVBoxLayout) -> None:
        graph = self.graph
        assert graph is not None

        def show(what: Any) -> None:
            graph.shows = what
            graph.update()

        say = Sentence(self.session, "time").words("The graph shows its")
        say.button("how far", lambda: show("value"), "value graph").button("how fast", lambda: show("speed"), "speed graph")
        layout.addWidget(say.widget)

    def _change(self, label: str, change: Any) -> None:
        numbers = [k[2] for k in self.ruler.keys if k[:2] == (self.part_id, self.path)]
        self.session.edit(label, lambda t: keying.changed_keys(t, self.part_id, self.path, numbers, change), ("keys", id(self), label))

    def _sentences(self, layout: QVBoxLayout) -> None:
        keyed = self.keyed
        assert keyed is not None
        key = keyed.keys[self.number]
        say = Sentence(self.session, "time")
        say.words("At")
        at = NumberBox(key.at, 0, 100 if key.tied == "hold" else None)
        at.setObjectName("key at")
        if key.tied != "hold":
            at.takes_times(self.session.template.frame.fps)
        at.setProperty("chip", "time")
        at.value_changed.connect(lambda value: self._change("Time of a key", lambda k: edits.replace(k, at=float(value))))
        at.finished.connect(self.session.history.close_gesture)
        say.add(at)
        ties: list[Choice] = [(words, tied) for tied, words in _TIED.items()]
        say.choice(_TIED[key.tied], ties, self._retie, "key tied")
        if not isinstance(key.value, str):
            say.words("it is")
            value = NumberBox(float(key.value))
            value.setObjectName("key value")
            value.setProperty("chip", "time")
            value.value_changed.connect(lambda v: self._change("Value of a key", lambda k: edits.replace(k, value=float(v))))
            value.finished.connect(self.session.history.close_gesture)
            say.add(value)
        ways: list[Choice] = [(way, way) for way in get_args(Between)]
        say.words(", then").choice(key.to_next, ways, self._go_on, "key to next")
        slopes: list[Choice] = [("smooth by itself", "smooth"), ("level", "level"), ("broken", "broken")]
        say.words(", its slopes").choice(slopes_word(key), slopes, self._reslope, "key slopes")
        layout.addWidget(say.widget)
        say = Sentence(self.session, "time").words("The keys")
        hows: list[Choice] = [(words, how) for how, words in _HOW.items()]
        say.choice(_HOW[keyed.how], hows, self._combine, "key how")
        say.button("the other way round", self._reverse, "reverse keys").button("remove", self.ruler.remove_keys, "remove keys")
        layout.addWidget(say.widget)
        say = Sentence(self.session, "time").words("Those chosen:")
        say.button("all at this frame", self._align, "align keys").button("half as far", lambda: self._stretch(50), "nearer keys")
        layout.addWidget(say.button("twice as far", lambda: self._stretch(200), "further keys").widget)
        hint = QLabel("Ctrl chooses several keys, Delete removes them, a double click on their line adds one.")
        hint.setWordWrap(True)
        hint.setProperty("role", "small")
        layout.addWidget(hint)

    def _go_on(self, way: Between) -> None:
        self._change("Way to the next key", lambda k: edits.replace(k, to_next=way))

    def _retie(self, tied: Tied) -> None:
        """Tie the keys otherwise, so that they stay at the frame where they are now."""
        spans = self.session.scene().spans

        def change(key: Key) -> Key:
            frame, last = key_time(key, spans), spans.length - 1
            hold = max(1, last - spans.way_in - spans.way_out)
            at = {"start": frame, "end": last - frame, "hold": min(100.0, max(0.0, (frame - spans.way_in) / hold * 100))}[tied]
            return edits.replace(key, tied=tied, at=round(max(0.0, at), 3))

        self._change("Tie of a key", change)

    def _reslope(self, how: str) -> None:
        slopes = {"smooth": (None, None), "level": (0.0, 0.0), "broken": (-1.0, 1.0)}[how]
        self._change("Slopes of a key", lambda k: edits.replace(k, slope_in=slopes[0], slope_out=slopes[1]))

    def _combine(self, how: How) -> None:
        self.session.edit("Keys", lambda t: keying.combined(t, self.part_id, self.path, how))

    def _align(self) -> None:
        chosen, frame = self.ruler.keys, self.session.frame
        self.session.edit("Align keys", lambda t: keying.aligned_keys(t, chosen, frame))

    def _stretch(self, percent: float) -> None:
        numbers = [k[2] for k in self.ruler.keys if k[:2] == (self.part_id, self.path)]
        self.session.edit("Stretch keys", lambda t: keying.stretched_keys(t, self.part_id, self.path, numbers, percent))

    def _reverse(self) -> None:
        def change(t: Template) -> Template:
            return keying.reversed_keys(t, self.part_id, self.path)

        self.session.edit("Reverse keys", change)
