"""The window: rail, header, benches, messages."""

from collections.abc import Callable, Mapping
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QEvent, QTimer
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QIcon, QResizeEvent, QShowEvent
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QMenu,
    QMessageBox,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from avlet.desktop.build.build_bench import BuildBench
from avlet.desktop.proof.proof_runner import ProofRunner
from avlet.desktop.roster.roster_session import RosterSession
from avlet.desktop.sessions.cut_session import CutSession
from avlet.desktop.sessions.history_session import HistorySession
from avlet.desktop.sessions.template_session import AS_DESIGNED, TRIED, Session
from avlet.desktop.stage.frame_cache import FrameCache
from avlet.desktop.widgets.buttons import flat_button
from avlet.desktop.widgets.hint import Hint
from avlet.desktop.widgets.numbers import NumberBox
from avlet.desktop.window.beginning import first_steps, take_six
from avlet.desktop.window.bench_stack import BenchStack
from avlet.desktop.window.files import PICTURE_SUFFIXES, Files
from avlet.desktop.window.message import Message
from avlet.desktop.window.outside import Outside
from avlet.desktop.window.rail import Rail
from avlet.desktop.window.recording_sign import RecordingSign
from avlet.desktop.window.resting import Resting
from avlet.desktop.window.shell import BENCHES, BUILD, CUT_SUFFIX, DESK, PROOF, ROSTER, WELCOME, Bench, Shell
from avlet.desktop.window.shortcuts import Shortcuts
from avlet.desktop.window.view_keys import view_keys
from avlet.document.cut import Cut
from avlet.document.tables import TABLES
from avlet.errors import AvletError
from avlet.media.timeline import cut_bytes
from avlet.numbers.languages import machine_language
from avlet.numbers.timecode import rate_words
from avlet.places import demo_library, state_folder
from avlet.roster.sheet import Sheet, kept_bytes
from avlet.storage.open_files import OpenFiles
from avlet.storage.recovery import Recovery
from avlet.storage.settings import Settings, replace

OPENED = (".avlet", CUT_SUFFIX, *PICTURE_SUFFIXES, *TABLES)
"""What may be dropped on the window."""

if TYPE_CHECKING:
    from avlet.desktop.dialogs.guide_window import GuideWindow


class Window(Shell):
    """One window, one template, one cut."""

    def __init__(self, library: Path | None = None, state: Path | None = None) -> None:
        super().__init__()
        self.session = Session()
        self.cut_session = CutSession(library, state or state_folder())
        self.roster_session = RosterSession(self.session, state or state_folder())
        self.roster_session.may_leave = self._may_leave_roster
        self.roster_session.setParent(self)
        self.state = state or state_folder()
        self.guide: GuideWindow | None = None
        self.recovery = Recovery.of_templates(self.state / "recovery")
        self.cut_recovery = Recovery[Cut](self.state / "recovery", "cut", lambda cut, path: cut_bytes(cut, path or self.state / "cut.otio"))
        self.table_recovery = Recovery[Sheet](self.state / "recovery", "table", lambda sheet, _: kept_bytes(sheet))
        self.files = Files(self)
        self.setWindowTitle("Avlet")
        self.setWindowIcon(QIcon(str(Path(__file__).parents[2] / "icons" / "avlet.svg")))
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        body = QWidget()
        layout = QHBoxLayout(body)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        self.rail = Rail(self.files.fill_menu, self.show_bench)
        self.brand, self.rail_buttons = self.rail.brand, self.rail.buttons
        layout.addWidget(self.rail)
        right = QVBoxLayout()
        right.setSpacing(0)
        right.addWidget(self._header())
        self.recording = RecordingSign(self.session)
        right.addWidget(self.recording)
        benches = (self._make_build, self._make_time, self._make_card, self._make_proof, self._make_desk, self._make_roster)
        self.stack = BenchStack((*benches, self._make_welcome))
        right.addWidget(self.stack, 1)
        layout.addLayout(right, 1)
        self.setCentralWidget(body)
        sessions = (self.session, self.cut_session, self.roster_session)
        self.message = Message(self.stack, lambda: tuple(session.history for session in sessions))
        self._start_timers()
        self._watch_outside()
        self.put_to_work(self.cut_session.settings)
        self.shortcuts = Shortcuts(self, self.files)
        for session in (self.session, self.cut_session, self.roster_session):
            session.refused.connect(self.say)
            session.changed.connect(self.show_state)
            session.changed.connect(self.message.follow)
        self.session.answers_changed.connect(self.show_state)
        self.session.wire_wanted.connect(self.open_wire)
        self.session.folded = set(self.cut_session.settings.folded)
        self.session.folds_changed.connect(self._keep_folds)
        self.show_bench(0)

    def _make_build(self) -> QWidget:
        made = BuildBench(self.session)
        made.picture_wanted.connect(self.files.add_picture)
        made.template_wanted.connect(self.files.take_in)
        return made

    def _make_time(self) -> QWidget:
        from avlet.desktop.time.time_bench import TimeBench

        return TimeBench(self.session)

    def _make_card(self) -> QWidget:
        from avlet.desktop.card.card_bench import CardBench

        return CardBench(self.session)

    def _make_proof(self) -> QWidget:
        from avlet.desktop.proof.proof_bench import ProofBench

        return ProofBench(self.session, self.show_part)

    def show_part(self, part_id: str, answers: Mapping[str, Any] | None = None, frame: int | None = None) -> None:
        """Bring a part to the front on Build, with the answers and at the frame that something was found in."""
        if answers is not None:
            self.session.try_all(answers)
        if frame is not None:
            self.session.go_to(frame)
        self.session.select(part_id)
        self.show_bench(BENCHES.index(BUILD))

    def _make_desk(self) -> QWidget:
        from avlet.desktop.desk.desk_bench import DeskBench

        made = DeskBench(self.cut_session)
        made.render_wanted.connect(self.files.render)
        made.library.open_wanted.connect(self.files.open_path)
        return made

    def _make_roster(self) -> QWidget:
        from avlet.desktop.roster.roster_bench import RosterBench, usual_folder

        return RosterBench(self.roster_session, self.say, usual_folder(self.session.template.name), demo_library())

    def _start_timers(self) -> None:
        self._keeper = QTimer(self)
        self._keeper.timeout.connect(self.keep_unsaved)
        Resting(self)

    def _watch_outside(self) -> None:
        """Files of open documents may be changed by others, and be open in another window as well."""
        theirs = self.files.theirs
        self.outside = (
            Outside(self.session, theirs.take_template, self.say, self),
            Outside(self.cut_session, theirs.take_cut, self.say, self),
        )
        self.open_files = OpenFiles(self.state / "open")
        for session in (self.session, self.cut_session, self.roster_session):
            session.changed.connect(self._tell_twice)

    def _tell_twice(self) -> None:
        """Say so where a file that was opened is open in another window of this machine."""
        sessions: tuple[HistorySession[Any], ...] = (self.session, self.cut_session, self.roster_session)
        for path in self.open_files.are([session.path for session in sessions if session.path is not None]):
            self.say(f"“{path.name}” is open in another window of Avlet as well. What is saved there is taken in here, and asked about.")

    def changeEvent(self, event: QEvent | None) -> None:
        """Coming back to the window, one sees files as they are now: not every shared folder tells of changes."""
        super().changeEvent(event)
        if event is not None and event.type() == QEvent.Type.ActivationChange and self.isActiveWindow():
            for outside in getattr(self, "outside", ()):
                outside.look()

    def _make_welcome(self) -> QWidget:
        from avlet.desktop.window.welcome import WelcomePage

        made = WelcomePage(self.state)
        made.start_wanted.connect(self.files.begin)
        made.told.connect(self.say)
        made.family_wanted.connect(lambda name, frame: take_six(self, self.files.open_path, name, frame))
        made.steps_wanted.connect(lambda: first_steps(self, self.files.start))
        made.open_wanted.connect(self.files.open_path)
        made.demo_wanted.connect(self.files.open_demo)
        return made

    def _header(self) -> QWidget:
        header = QWidget()
        header.setProperty("role", "panel")
        header.setFixedHeight(44)
        layout = QHBoxLayout(header)
        layout.setContentsMargins(16, 0, 14, 0)
        layout.setSpacing(8)
        self.title, self.facts = Hint("", "title", 60), Hint("", "muted")
        layout.addWidget(self.title)
        layout.addWidget(self.facts)
        layout.addStretch(1)
        self.undo_button = flat_button("undo", "Undo", self.undo)
        self.redo_button = flat_button("redo", "Redo", self.redo)
        layout.addWidget(self.undo_button)
        layout.addWidget(self.redo_button)
        self.answers = QPushButton()
        self.answers.setToolTip("Whose answers are on the stage; what you type there goes into them")
        menu = QMenu(self.answers)
        menu.aboutToShow.connect(lambda: self._fill_answers(menu))
        self.answers.setMenu(menu)
        layout.addWidget(self.answers)
        self.hand = QPushButton("Hand over…")
        self.hand.setProperty("role", "handover")
        self.hand.setObjectName("hand over")
        self.hand.setToolTip("Write the template with its fonts into the library")
        self.hand.clicked.connect(self.files.hand_over)
        layout.addWidget(self.hand)
        return header

    def _fill_answers(self, menu: QMenu) -> None:
        menu.clear()
        for source, name in ((AS_DESIGNED, "As designed"), *((s.id, s.name) for s in self.session.template.samples)):
            action = menu.addAction(name)
            assert action is not None
            action.setCheckable(True)
            action.setChecked(source == self.session.answers_from)
            action.triggered.connect(lambda _=False, s=source: self.session.show_answers(s))

    # Benches

    def show_bench(self, index: int) -> None:
        """Bring a bench to the front."""
        bench = self.stack.bench(index)
        self._leave_all_but(bench)
        self.stack.setCurrentIndex(index)
        if self.in_front(PROOF):
            self.proof.sheet.setFocus()
        elif self.in_front(ROSTER):
            self.roster.take_focus()
        else:
            (self.desk.view if self.on_desk else self.bench.stage).setFocus()  # not a text box, so that Space plays at once
        for i, button in enumerate(self.rail_buttons):
            button.setChecked(i == index)
        self.show_state()

    def _leave_all_but(self, front: QWidget | None) -> None:
        for bench in self.stack.made:
            if bench is not front and isinstance(bench, Bench):
                bench.leave()

    def open_wire(self, target: str) -> None:
        """Change a property's wire in a small window of its own."""
        from avlet.desktop.card.wire_dialog import WireDialog

        WireDialog(self.session, target, self).show()

    def show_welcome(self) -> None:
        """Show what there is to begin with."""
        self._leave_all_but(None)
        self.welcome.refresh()
        self.stack.setCurrentIndex(WELCOME)
        for button in self.rail_buttons:
            button.setChecked(False)
        self.show_state()

    def house_colours(self) -> list[tuple[str, str]]:
        """Names and values of the template's palette, for every colour that is chosen in this window."""
        return [(colour.name, colour.colour) for colour in self.session.template.palette]

    def _keep_folds(self) -> None:
        """Headings that are folded stay so the next time."""
        self.cut_session.keep_settings(replace(self.cut_session.settings, folded=tuple(sorted(self.session.folded))))

    def show_guide(self, page: str = "") -> None:
        """Show the guide, at a page, or at the one that tells of the bench in front."""
        from avlet.desktop.dialogs.guide_window import GuideWindow

        if self.guide is None:
            self.guide = GuideWindow(self)
        if page:
            self.guide.show_page(page)
        else:
            at = self.stack.currentIndex()
            self.guide.show_for(BENCHES[at] if 0 <= at < len(BENCHES) else "")
        self.guide.show()
        self.guide.raise_()
        self.guide.activateWindow()

    def show_keys(self) -> None:
        """Show what keys and gestures there are."""
        own = [(where, command.keys, words) for command in self.shortcuts.commands for where, words in command.says]
        from avlet.desktop.dialogs.keys_dialog import KeysDialog

        dialog = KeysDialog([*own, *view_keys()], self)
        dialog.guide_wanted.connect(self.show_guide)
        dialog.exec()

    def show_settings(self) -> None:
        """Ask for the person's own settings, keep them and put them to work."""
        from avlet.desktop.dialogs.settings_dialog import SettingsDialog

        dialog = SettingsDialog(self.cut_session.settings, self.cut_session.library, self)
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self.take_settings(dialog.taken)

    def take_settings(self, settings: Settings) -> None:
        """Keep settings, and put them to work at once."""
        self.cut_session.keep_settings(settings)
        self.cut_session.take_library(Path(settings.library))
        self.put_to_work(settings)

    def put_to_work(self, settings: Settings) -> None:
        """Let settings count: how numbers are written, how often work is kept, how much memory drawn frames take."""
        self._keeper.start(settings.keeps_every * 1000)
        FrameCache.most_bytes = settings.frames_mb * 1024 * 1024
        NumberBox.language = settings.numbers or machine_language()
        for box in self.findChildren(NumberBox):
            box.show_value(box.value)

    def show_desk(self) -> None:
        """Bring the cutting desk to the front."""
        self.show_bench(BENCHES.index(DESK))

    @property
    def document(self) -> HistorySession[Any]:
        """What undo counts for: the cut on the desk, the roster on its bench, else the template."""
        return self.cut_session if self.on_desk else self.roster_session if self.in_front(ROSTER) else self.session

    def undo(self) -> None:
        self.document.undo()

    def redo(self) -> None:
        self.document.redo()

    def show_state(self) -> None:
        """Header and title bar follow the documents."""
        template = self.session.template
        history = self.document.history
        for button, label, words, keys in (
            (self.undo_button, history.undo_label, "Undo", "Ctrl+Z"),
            (self.redo_button, history.redo_label, "Redo", "Ctrl+Shift+Z"),
        ):
            button.setEnabled(label is not None)
            button.setToolTip(f"{words}: {label} ({keys})" if label else f"Nothing to {words.lower()}")
        welcome = self.stack.currentIndex() == WELCOME
        self.recording.show_on(not self.on_desk and not welcome)
        self.answers.setVisible(not self.on_desk and not welcome and not self.in_front(ROSTER))
        self.hand.setVisible(not self.on_desk and not welcome)
        self.undo_button.setVisible(not welcome)
        self.redo_button.setVisible(not welcome)
        if welcome:
            self.title.setText("Welcome")
            self.facts.setText("")
        elif self.on_desk:
            from avlet.desktop.desk.cut_shape import cut_words

            cut = self.cut_session.cut
            self.title.setText(cut.name + (" •" if self.cut_session.unsaved else ""))
            self.facts.setText(cut_words(cut))
        else:
            self.title.setText(template.name + (" •" if self.session.unsaved else ""))
            frame = template.frame
            seconds = f"{float(template.length / frame.fps):.2f}".rstrip("0").rstrip(".")
            self.facts.setText(f"{frame.width}×{frame.height} · {rate_words(frame.fps)} fps · {seconds} s")
        usual = "tried" if self.session.answers_from == TRIED else "As designed"
        source = next((s.name for s in template.samples if s.id == self.session.answers_from), usual)
        self.answers.setText(f"Answers: {source} ▾")
        self.setWindowTitle(f"{template.name} – Avlet")

    # Messages and unsaved work

    def say(self, words: str) -> None:
        """Show a message for a while."""
        self.message.say(words)

    def keep_unsaved(self) -> None:
        """Write unsaved work down, so that a crash loses at most a few seconds."""
        try:
            if self.session.has_work:
                self.recovery.keep(self.session.template, self.session.path, content=self.session.content)
            else:
                self.recovery.forget()
            if self.cut_session.has_work:
                session = self.cut_session
                self.cut_recovery.keep(session.cut, session.path, session.library, session.content)
            else:
                self.cut_recovery.forget()
            if self.roster_session.has_work and self.roster_session.roster is not None:
                table = self.roster_session
                self.table_recovery.keep(self.roster_session.roster.sheet, table.path, content=table.content)
            else:
                self.table_recovery.forget()
        except AvletError as error:
            self.say(str(error))

    def may_leave(self) -> bool:
        """Ask about unsaved work on the template before it is closed."""
        return not self.session.has_work or self._ask_to_save(self.session.template.name, self.files.save_template)

    def may_leave_cut(self) -> bool:
        """Ask about unsaved work on the cut before it is closed."""
        return not self.cut_session.has_work or self._ask_to_save(self.cut_session.cut.name, self.files.save_cut)

    def _may_leave_roster(self) -> bool:
        """Ask about cells that were put right and are in no file."""
        roster = self.roster_session.roster
        if roster is None or not self.roster_session.has_work:
            return True
        return self._ask_to_save(f"The table {roster.sheet.name}", self.roster.write)

    def _roster_renders(self) -> bool:
        """Whether films of a roster are being made; a bench that nobody has asked for makes none."""
        return any(getattr(bench, "renders", False) for bench in self.stack.made)

    def _may_stop_rendering(self) -> bool:
        """Ask about a render that is at work."""
        if not self.files.is_rendering and not self._roster_renders():
            return True
        buttons, words = QMessageBox.StandardButton, "Films are being rendered. Stop that and close? What is finished stays."
        return QMessageBox.question(self, "Rendering", words, buttons.Yes | buttons.Cancel) == buttons.Yes

    def _ask_to_save(self, name: str, save: Callable[[], bool]) -> bool:
        buttons = QMessageBox.StandardButton
        words = f"{name} has changes that are not saved."
        answer = QMessageBox.question(self, "Unsaved changes", words, buttons.Save | buttons.Discard | buttons.Cancel)
        return save() if answer == buttons.Save else answer == buttons.Discard

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.rail.fit(self.size())
        super().resizeEvent(event)

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.shortcuts.watch()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        assert event is not None
        if not (self._may_stop_rendering() and self.may_leave() and self.may_leave_cut() and self._may_leave_roster()):
            event.ignore()
            return
        self.files.stop_rendering()
        ProofRunner.stop_all()
        if self._roster_renders():
            self.roster.stop_all()
        self._leave_all_but(None)
        self._keeper.stop()
        self.shortcuts.remove()
        self.recovery.forget()
        self.cut_recovery.forget()
        self.table_recovery.forget()
        self.open_files.close()
        event.accept()

    # Files dropped on the window

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        assert event is not None
        data = event.mimeData()
        if data is not None and any(Path(u.toLocalFile()).suffix.lower() in OPENED for u in data.urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        assert event is not None
        data = event.mimeData()
        for url in data.urls() if data is not None else ():
            self.files.open_path(Path(url.toLocalFile()))
