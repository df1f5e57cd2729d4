"""What there is to say of a template's time: its spans, whether they play, motion blur, marks."""

from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QInputDialog, QLabel, QLineEdit, QVBoxLayout, QWidget

from avlet.desktop.recipe.dot import Dot
from avlet.desktop.recipe.look_rows import LookRow, show_in
from avlet.desktop.recipe.sentences import Sentence
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.asking import lasting
from avlet.desktop.widgets.numbers import NumberBox
from avlet.desktop.widgets.switch import Switch
from avlet.document.editing import edits
from avlet.document.editing.marks import move_mark, put_mark, remove_mark
from avlet.document.metadata import Property, get_at, type_at
from avlet.document.template import TEMPLATE, Mark
from avlet.numbers.timecode import DROP_RATES

_LABEL = 100
_NAMED = 24
"""Letters of a mark's name that are said."""
_PATHS = ("pace", "plays_in", "plays_out", "motion_blur.shutter", "motion_blur.phase")


class TimeFacts(QWidget):
    """Shown while no part is selected."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(8)
        self._heading("Time", "title")
        fps = float(session.template.frame.fps)
        for name, words in (("length", "Length"), ("way_in", "Way in"), ("way_out", "Way out")):
            self._frames(name, words, fps)
        for name, words in (("fits_in", "Way in as long as its moves need"), ("fits_out", "Way out as long as its moves need")):
            self._switch(name, words)
        if session.template.frame.fps in DROP_RATES:
            self._switch("drop_frame", "Timecode drops numbers to keep up with the clock")
        for path in _PATHS:
            kind = type_at(session.template, path)
            self.column.addWidget(LookRow(session, TEMPLATE, Property(path, kind, get_at(session.template, path)), _LABEL))
        hint = QLabel("180° is the usual shutter; 0° is sharp. At −90° its exposure lies round the frame.")
        hint.setWordWrap(True)
        hint.setProperty("role", "small")
        self.column.addWidget(hint)
        self._marks()

    def _heading(self, words: str, role: str = "heading") -> None:
        label = QLabel(words)
        label.setProperty("role", role)
        self.column.addWidget(label)

    def _frames(self, name: str, words: str, fps: float) -> None:
        value = getattr(self.session.template, name)
        row = QHBoxLayout()
        label = QLabel(words)
        label.setProperty("role", "muted")
        label.setFixedWidth(_LABEL)
        row.addWidget(label)
        box = NumberBox(float(value), 1 if name == "length" else 0, 100_000, whole=True).takes_times(self.session.template.frame.fps)
        box.setProperty("chip", "time")
        box.setObjectName(f"time {name}")
        box.setAccessibleName(words)
        box.value_changed.connect(lambda v: self.session.write({f"{TEMPLATE}/{name}": round(v)}, ("time", name)))
        box.finished.connect(self.session.history.close_gesture)
        row.addWidget(box)
        seconds = QLabel(f"frames, {value / fps:.2f} s")
        seconds.setObjectName(f"seconds of {name}")
        seconds.setProperty("role", "small")
        row.addWidget(seconds)
        row.addStretch(1)
        row.addWidget(Dot(self.session, f"{TEMPLATE}/{name}", words))
        self.column.addLayout(row)

    def show_values(self) -> None:
        """Follow the document."""
        template = self.session.template
        fps = float(template.frame.fps)
        for name in ("length", "way_in", "way_out"):
            for box in self.findChildren(NumberBox, f"time {name}"):
                show_in(box, getattr(template, name))
            for seconds in self.findChildren(QLabel, f"seconds of {name}"):
                seconds.setText(f"frames, {getattr(template, name) / fps:.2f} s")
        for name in ("fits_in", "fits_out", "drop_frame"):
            for switch in self.findChildren(Switch, f"time {name}"):
                show_in(switch, getattr(template, name))
        for path in _PATHS:
            for editor in self.findChildren(QWidget, f"{TEMPLATE}/{path}"):
                show_in(editor, get_at(template, path))

    def _switch(self, name: str, words: str) -> None:
        row = QHBoxLayout()
        switch = Switch(getattr(self.session.template, name))
        switch.setObjectName(f"time {name}")
        switch.setAccessibleName(words)
        switch.toggled.connect(lambda on: self.session.edit(words, lambda t: edits.replace(t, **{name: on})))
        row.addWidget(switch)
        row.addWidget(QLabel(words), 1)
        self.column.addLayout(row)

    def _marks(self) -> None:
        self._heading("Marks")
        for number, mark in enumerate(self.session.template.marks):
            say = Sentence(self.session, "time").words(f"{_short(mark.name)} at frame {mark.frame}")
            say.button("go there", partial(self.session.go_to, mark.frame), f"go to mark {number}")
            say.button("bring it here", partial(self._bring, number), f"bring mark {number}", "Bring this mark to the playhead (I or O)")
            self.column.addWidget(say.button("×", partial(self._without, number), f"remove mark {number}", "Take this mark away").widget)
        say = Sentence(self.session, "time")
        self.column.addWidget(say.button("mark this frame…", self.add_mark, "add mark").widget)

    def add_mark(self) -> None:
        """Name the present frame."""
        name, sure = QInputDialog.getText(lasting(self), "Mark", "Name of the mark:", QLineEdit.EchoMode.Normal, "")
        if sure and name.strip():
            mark = Mark(self.session.frame, name.strip()[:100])
            self.session.edit("Mark", lambda t: put_mark(t, mark))

    def _without(self, number: int) -> None:
        self.session.edit("Remove a mark", lambda t: remove_mark(t, number))

    def _bring(self, number: int) -> None:
        self.session.edit("Bring a mark here", lambda t: move_mark(t, number, self.session.frame))


def _short(name: str) -> str:
    return name if len(name) <= _NAMED else f"{name[: _NAMED - 1]}…"
