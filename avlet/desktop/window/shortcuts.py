"""The keyboard: one table of keys and what they do."""

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent, QKeySequence, QShortcut
from PyQt6.QtWidgets import QAbstractButton, QAbstractItemView, QApplication, QComboBox, QLineEdit, QPlainTextEdit, QSlider

from avlet.desktop.build.new_parts import add_echo, add_pattern, add_rule, add_shape, add_text
from avlet.desktop.build.part_commands import copy_selected, duplicate_selected, group_selected, paste_part, remove_selected, take_apart
from avlet.desktop.sessions.history_session import HistorySession
from avlet.desktop.stage.frame_view import FrameView
from avlet.desktop.window.files import Files
from avlet.desktop.window.shell import Shell
from avlet.motion.ruler_rows import rows_of


class Shortcuts(QObject):
    """Keys of the whole window. Plain keys stay with a box that is being typed into."""

    def __init__(self, window: Shell, files: Files) -> None:
        super().__init__(window)
        self.window = window
        session = window.session
        combined: dict[str, Callable[[], object]] = {
            "Ctrl+N": files.new, "Ctrl+O": files.open, "Ctrl+S": files.save, "Ctrl+Shift+S": files.save_as, "Ctrl+H": files.hand_over,
            "Ctrl+Q": window.close, "Ctrl+Z": window.undo, "Ctrl+Shift+Z": window.redo, "Ctrl+Y": window.redo,
            **{f"Ctrl+{n + 1}": partial(window.show_bench, n) for n in range(4)},
            "Ctrl+0": lambda: self._view().zoom_to(None), "Ctrl++": lambda: self._view().zoom_to(self._view().scale * 1.25),
            "Ctrl+-": lambda: self._view().zoom_to(self._view().scale / 1.25),
            "Ctrl+D": self._on_either(lambda: duplicate_selected(session), window.desk.commands.duplicate),
            "Ctrl+C": self._copy,
            "Ctrl+G": self._on_build(lambda: group_selected(session)),
            "Ctrl+Shift+G": self._on_build(lambda: take_apart(session)),
            "Ctrl+V": self._paste,
            **{
                f"Alt+{shift}{key}": self._on_build(partial(window.build.stage.nudge, dx * step, dy * step))
                for key, dx, dy in (("Left", -1, 0), ("Right", 1, 0), ("Up", 0, -1), ("Down", 0, 1))
                for shift, step in (("", 1), ("Shift+", 10))
            },
        }  # fmt: skip
        for keys, action in combined.items():
            QShortcut(QKeySequence(keys), window).activated.connect(action)
        self.plain: dict[Qt.Key, Callable[[], object]] = {
            Qt.Key.Key_Space: self._play,
            Qt.Key.Key_Left: lambda: self._step(-1), Qt.Key.Key_Right: lambda: self._step(1),
            Qt.Key.Key_Home: lambda: self._go(0), Qt.Key.Key_End: lambda: self._go(10**9),
            Qt.Key.Key_PageUp: lambda: self._edge(-1), Qt.Key.Key_PageDown: lambda: self._edge(1),
            Qt.Key.Key_T: self._on_build(lambda: add_text(session)),
            Qt.Key.Key_S: self._on_either(lambda: add_shape(session), window.desk.commands.split),
            Qt.Key.Key_R: self._on_build(lambda: add_rule(session)),
            Qt.Key.Key_N: self._on_build(lambda: add_pattern(session)), Qt.Key.Key_E: self._on_build(lambda: add_echo(session)),
            Qt.Key.Key_Z: self._on_build(window.build.stage.zoom_to_selection),
            Qt.Key.Key_P: self._on_build(files.add_picture),
            Qt.Key.Key_Delete: self._remove,
            Qt.Key.Key_Escape: lambda: session.select(None),
            Qt.Key.Key_Return: self._on_build(self._type),
        }  # fmt: skip
        application = QApplication.instance()
        assert application is not None
        application.installEventFilter(self)

    def remove(self) -> None:
        """The window closes: let the keys go."""
        application = QApplication.instance()
        if application is not None:
            application.removeEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress or watched is not self.window.windowHandle():
            return False
        focus = QApplication.focusWidget()
        if isinstance(focus, QLineEdit | QPlainTextEdit) or QApplication.activePopupWidget() or QApplication.activeModalWidget():
            return False
        plain = event.modifiers() in (Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.KeypadModifier)
        action = self.plain.get(Qt.Key(event.key())) if plain else None
        if action is None or self._kept_by(focus, Qt.Key(event.key())):
            return False
        action()
        return True

    def _kept_by(self, focus: object, key: Qt.Key) -> bool:
        """Some keys belong to the widget that has the focus: a button's Space and Return, the cut's Delete."""
        if isinstance(focus, QComboBox | QAbstractItemView | QSlider):
            return True
        if isinstance(focus, QAbstractButton):
            return key in (Qt.Key.Key_Space, Qt.Key.Key_Return) and focus.focusPolicy() != Qt.FocusPolicy.NoFocus and not self._rail(focus)
        return key == Qt.Key.Key_Delete and self.window.on_desk

    def _rail(self, focus: object) -> bool:
        return focus in self.window.rail_buttons

    def _on_build(self, action: Callable[[], object]) -> Callable[[], object]:
        return lambda: action() if self.window.stack.currentWidget() is self.window.build else None

    def _on_either(self, build: Callable[[], object], desk: Callable[[], object]) -> Callable[[], object]:
        return lambda: desk() if self.window.on_desk else self._on_build(build)()

    @property
    def _on_time(self) -> bool:
        return self.window.stack.currentWidget() is self.window.time

    def _type(self) -> None:
        if self.window.session.selected:
            self.window.build.stage.type_on(self.window.session.selected)

    def _copy(self) -> None:
        """The chosen keys on the Time bench, a title's answers on the desk, else the selected part."""
        if self._on_time and self.window.time.ruler.keys:
            self.window.time.ruler.copy_keys()
        elif self.window.on_desk:
            self.window.desk.commands.copy_answers()
        else:
            copy_selected(self.window.session)

    def _paste(self) -> None:
        if self.window.on_desk:
            self.window.desk.commands.paste_answers()
        elif not (self._on_time and self.window.time.ruler.paste_keys()):
            paste_part(self.window.session)

    def _remove(self) -> None:
        """Keys or moves on the Time bench, titles and clips on the desk, parts on the Build bench."""
        if self._on_time:
            self.window.time.ruler.remove_chosen()
        elif self.window.on_desk:
            self.window.desk.commands.remove()
        elif self.window.stack.currentWidget() is self.window.build:
            remove_selected(self.window.session, self.window)

    def _view(self) -> FrameView:
        return self.window.desk.picture if self.window.on_desk else self.window.bench.stage

    def _play(self) -> None:
        (self.window.desk if self.window.on_desk else self.window.bench.transport).toggle()

    def _session(self) -> HistorySession[Any]:
        return self.window.cut_session if self.window.on_desk else self.window.session

    def _step(self, by: int) -> None:
        self._go(self._session().frame + by)

    def _go(self, frame: int) -> None:
        (self.window.desk.player if self.window.on_desk else self.window.bench.transport.player).stop()
        self._session().go_to(frame)

    def _edge(self, way: int) -> None:
        """The next begin or end of a move or title."""
        session = self._session()
        edges = self._cut_edges() if self.window.on_desk else self._move_edges()
        ahead = [e for e in edges if (e > session.frame if way > 0 else e < session.frame)]
        if ahead:
            self._go(min(ahead) if way > 0 else max(ahead))

    def _cut_edges(self) -> set[int]:
        return {e for t in self.window.cut_session.cut.titles for e in (t.start, t.end)}

    def _move_edges(self) -> set[int]:
        """The frames at which spans and moves begin and end."""
        session = self.window.session
        spans, last = session.scene().spans, session.template.length - 1
        found = {0, spans.way_in, last - spans.way_out, last, *(mark.frame for mark in session.template.marks)}
        for row in rows_of(session.template, session.scene().choreography):
            found |= {round(edge) for bar in row.bars for edge in (bar.start, bar.end)}
            found |= {round(time) for lane in row.keys for time in lane.times}
        return {e for e in found if 0 <= e <= last}
