"""The keyboard: one table of keys and what they do."""

from collections.abc import Callable, Container, Iterator
from functools import partial
from typing import Any, NamedTuple

from PyQt6 import sip
from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent, QKeySequence, QShortcut, QWindow
from PyQt6.QtWidgets import QAbstractButton, QAbstractItemView, QApplication, QComboBox, QLineEdit, QPlainTextEdit, QSlider

from avlet.desktop.build.new_parts import (
    add_ball,
    add_counter,
    add_credits,
    add_echo,
    add_gauge,
    add_lamp,
    add_pattern,
    add_rule,
    add_shape,
    add_text,
)
from avlet.desktop.build.new_together import add_edge_rule, add_second_line, cut_out_of_a_bar, fill_with_count
from avlet.desktop.build.part_commands import (
    copy_selected,
    duplicate_selected,
    group_selected,
    lend_copied,
    paste_piece,
    remove_selected,
    space_selected,
    take_apart,
)
from avlet.desktop.sessions.history_session import HistorySession
from avlet.desktop.sessions.player import Player
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.stage.depth_views import DepthView
from avlet.desktop.stage.frame_view import FrameView
from avlet.desktop.stage.orbiting import rest_camera
from avlet.desktop.time.here import begin_here, end_here
from avlet.desktop.window.files import Files
from avlet.desktop.window.shell import BENCHES, BUILD, DESK, PROOF, ROSTER, TIME, Shell
from avlet.document.editing import timing
from avlet.motion.ruler_rows import rows_of

EVERYWHERE = "Everywhere"
OF_LISTS = frozenset((Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_F2))
"""Keys that lists keep; one that needs others names them as ``own_keys``, None for all of them."""
_OF_THE_SHEET = (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Return, Qt.Key.Key_Space, Qt.Key.Key_Home, Qt.Key.Key_End)
"""Keys that go from cell to cell on the Proof bench, and to the part; nothing plays there."""
_NUDGES = (("Left", "to the left", -1, 0), ("Right", "to the right", 1, 0), ("Up", "up", 0, -1), ("Down", "down", 0, 1))


class Command(NamedTuple):
    """A key, what it does, and what that is on which bench, in words. ``plain`` keys stay with a box that is being typed into."""

    keys: str
    action: Callable[[], object]
    says: tuple[tuple[str, str], ...]
    plain: bool = False


def everywhere(keys: str, words: str, action: Callable[[], object], plain: bool = False) -> Command:
    """A command that every bench has."""
    return Command(keys, action, ((EVERYWHERE, words),), plain)


class Shortcuts(QObject):
    """Keys of the whole window in one table, ``commands``: what *Keys and habits* shows is made from it."""

    def __init__(self, window: Shell, files: Files) -> None:
        super().__init__(window)
        self.window = window
        self._watched: QWindow | None = None
        self.commands = (*self._of_files(files), *self._of_views(), *self._of_frames(), *self._of_parts(files))
        self.plain: dict[Qt.Key, Callable[[], object]] = {}
        for command in self.commands:
            if command.plain:
                self.plain[Qt.Key(QKeySequence(command.keys)[0].key())] = command.action
            else:
                QShortcut(QKeySequence(command.keys), window).activated.connect(command.action)

    def _of_files(self, files: Files) -> Iterator[Command]:
        window = self.window
        yield everywhere("F1", "This list", window.show_keys)
        yield everywhere("Ctrl+N", "New template", files.new)
        yield everywhere("Ctrl+O", "Open a template or a cut", files.open)
        yield everywhere("Ctrl+S", "Save the template, the cut on the desk, or the roster's table", files.save)
        yield everywhere("Ctrl+Shift+S", "Save the template as", files.save_as)
        yield everywhere("Ctrl+,", "Settings", window.show_settings)
        yield everywhere("Ctrl+H", "Hand the template over", files.hand_over)
        yield everywhere("Ctrl+Q", "Quit", window.close)
        yield everywhere("Ctrl+Z", "Undo", window.undo)
        yield everywhere("Ctrl+Shift+Z", "Redo", window.redo)
        yield everywhere("Ctrl+Y", "Redo", window.redo)

    def _of_views(self) -> Iterator[Command]:
        for number, name in enumerate(BENCHES):
            yield everywhere(f"Ctrl+{number + 1}", f"Go to {name}", partial(self.window.show_bench, number))
        yield everywhere("Ctrl+0", "Show the whole picture", lambda: self._view().zoom_to(None))
        yield everywhere("Ctrl++", "Come nearer", lambda: self._view().zoom_to(self._view().scale * 1.25))
        yield everywhere("Ctrl+-", "Go further away", lambda: self._view().zoom_to(self._view().scale / 1.25))

    def _of_frames(self) -> Iterator[Command]:
        yield everywhere("Space", "Play or stop", self._play, plain=True)
        yield everywhere("Left", "One frame back", lambda: self._step(-1), plain=True)
        yield everywhere("Right", "One frame on", lambda: self._step(1), plain=True)
        yield everywhere("Shift+Left", "Several frames back: how many, the settings say", lambda: self._jump(-1))
        yield everywhere("Shift+Right", "Several frames on", lambda: self._jump(1))
        yield everywhere("Home", "To the first frame", lambda: self._go(0), plain=True)
        yield everywhere("End", "To the last frame", lambda: self._go(10**9), plain=True)
        yield everywhere("PgUp", "Back to where a move or a title begins or ends", lambda: self._edge(-1), plain=True)
        yield everywhere("PgDown", "On to where a move or a title begins or ends", lambda: self._edge(1), plain=True)

    def _write_words(self) -> None:
        """Add words and begin to type them; all of what stands there at first is marked, so that typing replaces it."""
        session = self.window.session
        before = session.selected
        add_text(session)
        if session.selected is not None and session.selected != before:  # where there may be no more parts, nothing else is typed over
            self.window.build.stage.type_on(session.selected)

    def _write_second_line(self) -> None:
        made = add_second_line(self.window.session)
        if made is not None:
            self.window.build.stage.type_on(made)

    def _of_parts(self, files: Files) -> Iterator[Command]:
        session, build = self.window.session, self.window.build
        made: tuple[tuple[str, str, Callable[[], object]], ...] = (
            ("T", "Words, free of those that are there: type them", self._write_words),
            ("C", "A number that counts", lambda: add_counter(session)),
            ("R", "A rule under what is selected", lambda: add_rule(session)),
            ("G", "A gauge round what is selected, which fills with a counter", lambda: add_gauge(session)),
            ("N", "Stripes inside what is selected", lambda: add_pattern(session)),
            ("E", "An echo of what is selected", lambda: add_echo(session)),
            ("D", "Depth: put what is selected in a space", lambda: space_selected(session)),
            ("B", "A ball, beside what is selected", lambda: add_ball(session)),
            ("U", "Shuffle again: another chance for what comes by one", self._shuffle),
            ("0", "The camera of the selected space at rest", lambda: rest_camera(session)),
            ("P", "A picture from a file", files.add_picture),
            ("X", "Cut the selected words out of a bar of their own", lambda: cut_out_of_a_bar(session)),
            ("F", "A bar that fills with the selected counter", lambda: fill_with_count(session)),
            ("Z", "As near as what is selected allows", build.stage.zoom_to_selection),
            ("Return", "Type the words that are selected", self._type),
        )
        for keys, words, action in made:
            yield Command(keys, self._on_build(action), ((BUILD, words),), plain=True)
        for keys, words, action in (
            ("Shift+T", "A second line under the selected words, with a plate as they have: type it", self._write_second_line),
            ("Shift+R", "A rule beside what is selected; it draws first, the rest comes after", lambda: add_edge_rule(session)),
            ("Shift+F", "A ring that closes with the selected counter", lambda: fill_with_count(session, True)),
        ):
            yield Command(keys, self._on_build(action), ((BUILD, words),))
        yield from self._of_playing(session)
        shape = self._on_either(lambda: add_shape(session), self._split)
        yield Command("S", shape, ((BUILD, "A shape round all that is selected"), (DESK, "Split at the playhead")), plain=True)
        yield everywhere("Esc", "Give up what is being dragged; else select nothing", self._escape, plain=True)
        yield everywhere("Del", "Remove what is selected", self._remove, plain=True)
        every = self._on_either(self._select_all_parts, self._select_all_titles)
        yield Command("Ctrl+A", every, ((BUILD, "Select all parts"), (DESK, "Select all titles")))
        joined = self._on_either(lambda: None, self._join)
        yield Command("Ctrl+J", joined, ((DESK, "Join the selected piece of a title with the one after it"),))
        twice = self._on_either(lambda: duplicate_selected(session), self._duplicate)
        yield Command("Ctrl+D", twice, ((BUILD, "Duplicate what is selected"), (DESK, "Duplicate the selected titles")))
        yield Command("Ctrl+C", self._copy, ((BUILD, "Copy parts"), (TIME, "Copy the chosen keys"), (DESK, "Copy a title's answers")))
        yield Command("Ctrl+V", self._paste, ((BUILD, "Paste parts"), (TIME, "Paste keys"), (DESK, "Give copied answers, field by field"),
                                              (ROSTER, "Take the copied table")))  # fmt: skip
        lend = self._on_build(lambda: lend_copied(session, self.window))
        yield Command("Ctrl+Shift+V", lend, ((BUILD, "Take on a look, a setting or moves of the copied part"),))
        yield Command("Ctrl+G", self._on_build(lambda: group_selected(session)), ((BUILD, "Make a group"),))
        yield Command("Ctrl+Shift+G", self._on_build(lambda: take_apart(session)), ((BUILD, "Take a group apart"),))
        for key, way, dx, dy in _NUDGES:
            for shift, step in (("", 1), ("Shift+", 10)):
                by = dx * step, dy * step
                nudge = self._by_bench({BUILD: partial(build.stage.nudge, *by), DESK: partial(self._nudge_title, *by)})
                yield Command(f"Alt+{shift}{key}", nudge, ((BUILD, f"Move {step} px {way}"), (DESK, f"Move the title {step} px {way}")))

    def _of_playing(self, session: Session) -> Iterator[Command]:
        """J, K, L, I and O as in editing rooms, on the benches that have a time to play and edges to set."""
        wound = ((DESK, "Play back; again, faster"), (TIME, "Play back; again, faster"))
        yield Command("J", self._by_bench({DESK: partial(self._wind, -1), TIME: partial(self._wind, -1)}), wound, plain=True)
        stop = self._by_bench({DESK: self._halt, TIME: self._halt})
        yield Command("K", stop, ((DESK, "Stop"), (TIME, "Stop")), plain=True)
        on = self._by_bench({BUILD: lambda: add_credits(session), DESK: partial(self._wind, 1), TIME: partial(self._wind, 1)})
        says = ((BUILD, "Credits, from a list"), (DESK, "Play on; again, faster"), (TIME, "Play on; again, faster"))
        yield Command("L", on, says, plain=True)
        begin = self._by_bench({BUILD: lambda: add_lamp(session), DESK: self._begin_title, TIME: self._begin_moves})
        says = ((BUILD, "A lamp in the selected space"), (DESK, "The title begins here"), (TIME, "Moves, keys or a mark begin here"))
        yield Command("I", begin, says, plain=True)
        end = self._by_bench({DESK: self._end_title, TIME: self._end_moves})
        yield Command("O", end, ((DESK, "The title ends here"), (TIME, "Moves, keys or a mark end here")), plain=True)

    def _by_bench(self, actions: dict[str, Callable[[], object]]) -> Callable[[], object]:
        """What a key does on the bench in front; nothing on those that are not named."""

        def act() -> None:
            action = next((action for bench, action in actions.items() if self.window.in_front(bench)), None)
            if action is not None:
                action()

        return act

    def _begin_title(self) -> None:
        self.window.desk.commands.begin_here()

    def _end_title(self) -> None:
        self.window.desk.commands.end_here()

    def _begin_moves(self) -> None:
        begin_here(self.window.time.ruler)

    def _end_moves(self) -> None:
        end_here(self.window.time.ruler)

    def _nudge_title(self, dx: float, dy: float) -> None:
        self.window.desk.picture.nudge(dx, dy)

    def _player(self) -> Player:
        return self.window.desk.player if self.window.on_desk else self.window.bench.transport.player

    def _wind(self, way: int) -> None:
        self._player().wind(self._session().frame, way)

    def _halt(self) -> None:
        self._player().stop()

    def _escape(self) -> None:
        """Give up what is being dragged on the stage; where nothing is, select nothing."""
        view = self._view()
        if not view.give_up():
            self._session().select(None)

    def _select_all_parts(self) -> None:
        """All parts that are not locked, groups for their members."""
        parts = self.window.session.template.parts
        self.window.session.select_all([p.id for p in parts if p.group is None and not p.locked])

    def _select_all_titles(self) -> None:
        session = self.window.cut_session
        session.select_all([title.id for title in session.cut.titles])

    def _split(self) -> None:
        self.window.desk.commands.split()

    def _join(self) -> None:
        self.window.desk.commands.join()

    def _duplicate(self) -> None:
        self.window.desk.commands.duplicate()

    def watch(self) -> None:
        """The window is shown: hear its keys before any widget does. Only its own events come here, not those of all widgets."""
        handle = self.window.windowHandle()
        if handle is not None and handle is not self._watched:
            handle.installEventFilter(self)
            self._watched = handle

    def remove(self) -> None:
        """The window closes: let the keys go."""
        if self._watched is not None and not sip.isdeleted(self._watched):
            self._watched.removeEventFilter(self)
        self._watched = None

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
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
        if isinstance(focus, QAbstractItemView):
            own: Container[Qt.Key] | None = getattr(focus, "own_keys", OF_LISTS)
            return own is None or key in own
        if isinstance(focus, QComboBox | QSlider):
            return True
        if self.window.in_front(ROSTER):
            return True  # its views have keys of their own, and nothing plays there
        if isinstance(focus, DepthView):
            return key in (Qt.Key.Key_Left, Qt.Key.Key_Right)
        if self.window.in_front(PROOF):
            return key in _OF_THE_SHEET
        if isinstance(focus, QAbstractButton):
            return key in (Qt.Key.Key_Space, Qt.Key.Key_Return) and focus.focusPolicy() != Qt.FocusPolicy.NoFocus and not self._rail(focus)
        return key == Qt.Key.Key_Delete and self.window.on_desk

    def _rail(self, focus: object) -> bool:
        return focus in self.window.rail_buttons

    def _on_build(self, action: Callable[[], object]) -> Callable[[], object]:
        return lambda: action() if self.window.in_front(BUILD) else None

    def _on_either(self, build: Callable[[], object], desk: Callable[[], object]) -> Callable[[], object]:
        return lambda: desk() if self.window.on_desk else self._on_build(build)()

    @property
    def _on_time(self) -> bool:
        return self.window.in_front(TIME)

    def _shuffle(self) -> None:
        session = self.window.session
        chosen = session.selection or tuple(part.id for part in session.template.parts)
        before = session.template
        session.edit("Shuffle again", lambda t: timing.shuffled_again(t, chosen))
        if session.template is before:
            session.refused.emit("Nothing of that comes by chance: let its units come each from elsewhere, or in shuffled order.")

    def _type(self) -> None:
        if self.window.session.selected:
            self.window.build.stage.type_on(self.window.session.selected)

    def _copy(self) -> None:
        """The chosen keys on the Time bench, a title's answers on the desk, else the selected part."""
        if self._on_time and self.window.time.ruler.keys:
            self.window.time.ruler.copy_keys()
        elif self.window.on_desk:
            self.window.desk.commands.copy_answers()
        elif not self.window.in_front(ROSTER):
            copy_selected(self.window.session)

    def _paste(self) -> None:
        if self.window.in_front(ROSTER):
            self.window.roster.paste()
        elif self.window.on_desk:
            self.window.desk.commands.paste_answers()
        elif not (self._on_time and self.window.time.ruler.paste_keys()):
            paste_piece(self.window.session, self.window)

    def _remove(self) -> None:
        """Keys or moves on the Time bench, titles and clips on the desk, parts on the Build bench."""
        if self._on_time:
            self.window.time.ruler.remove_chosen()
        elif self.window.on_desk:
            self.window.desk.commands.remove()
        elif self.window.in_front(BUILD):
            remove_selected(self.window.session, self.window)

    def _view(self) -> FrameView:
        return self.window.desk.picture if self.window.on_desk else self.window.bench.stage

    def _play(self) -> None:
        (self.window.desk if self.window.on_desk else self.window.bench.transport).toggle()

    def _session(self) -> HistorySession[Any]:
        return self.window.cut_session if self.window.on_desk else self.window.session

    def _step(self, by: int) -> None:
        self._go(self._session().frame + by)

    def _jump(self, way: int) -> None:
        self._step(way * self.window.cut_session.settings.jump)

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
        spans, last = session.scene().spans, session.length() - 1
        found = {0, spans.way_in, last - spans.way_out, last, *(mark.frame for mark in session.template.marks)}
        for row in rows_of(session.template, session.scene().choreography):
            found |= {round(edge) for bar in row.bars for edge in (bar.start, bar.end)}
            found |= {round(time) for lane in row.keys for time in lane.times}
        return {e for e in found if 0 <= e <= last}
