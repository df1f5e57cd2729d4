"""The Roster bench: threads and what is wanted on the left, the rows, the chosen row's cells, and rendering."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QHideEvent, QKeyEvent, QShowEvent
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QMenu,
    QMessageBox,
    QProgressBar,
    QPushButton,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from avlet.desktop.dialogs.theirs_dialog import Choice, TheirsDialog
from avlet.desktop.roster.render_runner import RenderRunner
from avlet.desktop.roster.roster_session import RosterSession
from avlet.desktop.roster.row_panel import RowPanel
from avlet.desktop.roster.rows_bar import RowsBar
from avlet.desktop.roster.rows_view import RowsView
from avlet.desktop.roster.threads_view import ThreadsView
from avlet.desktop.roster.wanted_panel import WantedPanel, heading
from avlet.desktop.widgets.asking import lasting
from avlet.desktop.widgets.sides import Sides
from avlet.document.editing.differences import of_rows
from avlet.document.editing.naming import slug
from avlet.document.metadata import brief
from avlet.document.tables import TABLES, TEXTS
from avlet.errors import AvletError
from avlet.roster.delivery import LIST
from avlet.roster.looking import counted
from avlet.roster.ordering import said_before
from avlet.roster.rendering import Outcome, State, in_the_way, in_the_way_words
from avlet.roster.roster import Plan
from avlet.roster.sheet import open_sheet
from avlet.roster.time_left import TimeLeft

_PATTERNS = " ".join(f"*{suffix}" for suffix in TABLES)


class RosterBench(QWidget):
    """One template, a table, many films. ``demo`` is a folder with a table to try it with."""

    def __init__(self, session: RosterSession, say: Callable[[str], None], folder: Path, demo: Path) -> None:
        super().__init__()
        self.session, self.say, self.demo = session, say, demo
        self.runner: RenderRunner | None = None
        self._left_of: TimeLeft | None = None
        self._counted: tuple[Plan, int] | None = None
        self.threads = ThreadsView(session)
        self.wanted = WantedPanel(session, folder)
        self.wanted.told.connect(say)
        self.view = RowsView(session)
        self.cells = RowPanel(session)
        self.view.opened.connect(self.cells.begin)
        self.view.played.connect(self.cells.picture.play_or_rest)
        self.view.asked.connect(self.ask)
        self.setAcceptDrops(True)
        self.setAutoFillBackground(True)
        self.pages = QStackedWidget()
        self.pages.addWidget(self._welcome())
        self.pages.addWidget(self._work())
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.pages)
        session.changed.connect(self.show_state)
        session.looked.connect(self._show_counts)
        session.rendered.connect(self._show_progress)
        session.selection_changed.connect(self._show_progress)
        self.show_state()

    # What there is to see

    def _welcome(self) -> QWidget:
        page = QWidget()
        page.setProperty("role", "ground")
        column = QVBoxLayout(page)
        column.addStretch(2)
        title = QLabel("Many films from one table")
        title.setProperty("role", "title")
        words = QLabel(
            "Open a table or drop one here: CSV, TSV, XLSX or ODS.\nIts first line names columns, each line below it is one title. "
            "Columns find their fields by name; you draw the others."
        )
        words.setProperty("role", "muted")
        words.setAlignment(Qt.AlignmentFlag.AlignCenter)
        row = QHBoxLayout()
        row.addStretch(1)
        self.open_button = QPushButton("Open a table…")
        self.open_button.setProperty("role", "render")
        self.open_button.clicked.connect(self.open)
        self.paste_button = QPushButton("Paste a table")
        self.paste_button.clicked.connect(self.paste)
        self.demo_button = QPushButton("Try it with the demo's guests")
        self.demo_button.clicked.connect(self.open_demo)
        for button in (self.open_button, self.paste_button, self.demo_button):
            row.addWidget(button)
        row.addStretch(1)
        for widget in (title, words):
            column.addWidget(widget, 0, Qt.AlignmentFlag.AlignHCenter)
        column.addSpacing(10)
        column.addLayout(row)
        column.addStretch(3)
        return page

    def _work(self) -> QWidget:
        page = QWidget()
        layout = QHBoxLayout(page)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        rows = QWidget()
        right = QVBoxLayout(rows)
        right.setSpacing(0)
        right.setContentsMargins(0, 0, 0, 0)
        right.addLayout(self._head())
        right.addWidget(self.view, 1)
        right.addWidget(self.cells)
        self.sides = Sides(rows, self._left(), None, ("Columns and files", ""))
        layout.addWidget(self.sides)
        return page

    def _left(self) -> QWidget:
        left = QWidget()
        left.setProperty("role", "panel")
        left.setFixedWidth(286)
        outer = QVBoxLayout(left)
        outer.setContentsMargins(0, 8, 0, 0)
        head = QHBoxLayout()
        head.setContentsMargins(14, 0, 10, 0)
        self.table = QPushButton()
        self.table.setToolTip("Open another table, paste one, or write this one")
        menu = QMenu(self.table)
        menu.aboutToShow.connect(lambda: self._fill_menu(menu))
        self.table.setMenu(menu)
        head.addWidget(self.table, 1)
        outer.addLayout(head)
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(14, 4, 10, 12)
        column.setSpacing(8)
        self.kept_as = QLabel()
        self.kept_as.setProperty("role", "small")
        self.kept_as.setWordWrap(True)
        column.addWidget(self.kept_as)
        column.addWidget(heading("Columns and fields"))
        column.addWidget(self.threads)
        column.addSpacing(4)
        column.addWidget(self.wanted)
        column.addStretch(1)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(inside)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        outer.addWidget(area, 1)
        return left

    def _head(self) -> QVBoxLayout:
        both = QVBoxLayout()
        both.setSpacing(0)
        both.addLayout(self._head_of_all())
        self.rows_bar = RowsBar(self.session, self.view)
        self.rows_bar.looked_for.connect(self._show_counts)
        both.addWidget(self.rows_bar)
        return both

    def _head_of_all(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setContentsMargins(14, 10, 14, 2)
        self.counts = QLabel()
        self.counts.setAccessibleName("How many rows hold")
        row.addWidget(self.counts, 1)
        self.left_words = QLabel()
        self.left_words.setProperty("role", "muted")
        self.left_words.hide()
        row.addWidget(self.left_words)
        self.bar = QProgressBar()
        self.bar.setFixedWidth(140)
        self.bar.setRange(0, 1000)
        self.bar.setAccessibleName("How much is rendered")
        self.bar.hide()
        row.addSpacing(4)
        row.addWidget(self.bar)
        row.addSpacing(8)
        self.render_button = QPushButton("Render")
        self.render_button.setProperty("role", "render")
        self.render_button.clicked.connect(self.render_or_stop)
        row.addWidget(self.render_button)
        return row

    # Tables

    def _fill_menu(self, menu: QMenu) -> None:
        menu.clear()
        menu.addAction("Open a table…", self.open)
        menu.addAction("Paste a table", self.paste)
        menu.addAction("The demo's guests", self.open_demo)
        menu.addSeparator()
        path = self.session.path
        own = path is not None and path.suffix.lower() in TEXTS
        action = menu.addAction(f"Write into {path.name}" if own and path is not None else "Write into its file", self.write)
        assert action is not None
        action.setEnabled(own and self.session.cells_unwritten)
        menu.addAction("Write as CSV…", self.write_as)

    def open(self) -> None:
        """Choose a table."""
        start = str(self.session.path.parent if self.session.path is not None else self.demo)
        name, _ = QFileDialog.getOpenFileName(lasting(self), "Open a table", start, f"Tables ({_PATTERNS})")
        if name:
            self.open_path(Path(name))

    def open_path(self, path: Path) -> bool:
        """Open a table from a file."""
        return self.session.open_table(path)

    def open_demo(self) -> None:
        """Open the demo's guests."""
        self.open_path(self.demo / "guests.csv")

    def paste(self) -> None:
        """Take the table from the clipboard."""
        clipboard = QApplication.clipboard()
        self.session.paste(clipboard.text() if clipboard is not None else "")

    def write(self) -> bool:
        """Write the table into its file, or ask where to."""
        path = self.session.path
        if path is None or path.suffix.lower() not in TEXTS:
            return self.write_as()
        if self.session.is_theirs(path):
            return self._write_over_theirs(path)
        return self.session.write_table(path)

    def _write_over_theirs(self, path: Path) -> bool:
        """Somebody else has written the file since it was read: show what differs, and ask which is to stay."""
        roster = self.session.roster
        try:
            differs = of_rows(roster.sheet.rows if roster is not None else (), open_sheet(path).rows)
        except AvletError as error:
            differs = [str(error)]
        match TheirsDialog.ask(path.name, (), differs, lasting(self)):
            case Choice.OTHER:
                return self.write_as()
            case Choice.THEIRS:
                return self.session.take_theirs()
            case Choice.OVER:
                return self.session.write_table(path)
        return False

    def write_as(self) -> bool:
        """Write the table as CSV somewhere else."""
        path = self.session.path
        suggestion = (path.parent if path is not None else Path.home()) / f"{path.stem if path is not None else 'table'}.csv"
        name, _ = QFileDialog.getSaveFileName(lasting(self), "Write the table", str(suggestion), "Tables (*.csv *.tsv)")
        return bool(name) and self.session.write_table(Path(name) if Path(name).suffix else Path(name).with_suffix(".csv"))

    # State

    def show_state(self) -> None:
        """What all of the bench shows of the roster."""
        roster = self.session.roster
        self.pages.setCurrentIndex(0 if roster is None else 1)
        if roster is None:
            return
        star = " •" if self.session.cells_unwritten else ""
        self.table.setText(f"{roster.sheet.name}{star} ▾")
        remarks = self.session.plan.remarks if self.session.plan is not None else roster.sheet.remarks
        self.kept_as.setText("\n".join(filter(None, (roster.sheet.kept_as, *remarks))))
        self.rows_bar.show_orders()
        self._show_counts()
        self._show_progress()

    def _show_counts(self) -> None:
        plan = self.session.plan
        if plan is None:
            self.counts.setText(self.session.fault)
            return
        looked = len(self.session.said)
        words = counted(dict(self.session.counts))
        words = words if looked == len(plan.rows) else f"{len(plan.rows):,} rows · {looked:,} looked at …"
        if twice := self._twice(plan):
            words += f" · {twice:,} twice"
        if self.view.words:
            words += f" · {len(self.view.rows):,} with “{brief(self.view.words)}”"
        self.counts.setText(words)

    def _twice(self, plan: Plan) -> int:
        """How many rows say the same as an earlier one; worked out once for a plan."""
        if self._counted is None or self._counted[0] is not plan:
            self._counted = plan, len(said_before(plan.rows))
        return self._counted[1]

    def _show_progress(self) -> None:
        plan, running = self.session.plan, self.runner is not None
        chosen = self.session.chosen
        rows = sum(1 for line in chosen or range(len(plan.rows)) if line not in plan.faulty) if plan is not None else 0
        self.render_button.setText("Stop" if running else f"Render {rows:,} chosen" if chosen else f"Render {rows:,}")
        self.render_button.setToolTip(
            "Only the rows that are chosen; Esc among the rows chooses one alone, then all are rendered" if chosen else ""
        )
        self.render_button.setEnabled(running or rows > 0)
        self.bar.setVisible(running)
        self.left_words.setVisible(running)
        if running and plan is not None and self._left_of is not None:
            states, only = self.session.states.values(), self.runner.only if self.runner is not None else ()
            files = sum(1 for item in plan.items if not only or item.line in only)
            share = sum(1.0 if s.done or s.words else s.share for s in states) / max(1, files)
            self._left_of.tell(share)
            self.bar.setValue(round(share * 1000))
            done = sum(1 for s in states if s.done)
            self.left_words.setText(" · ".join(filter(None, (f"{done} of {files}", self._left_of.words))))

    # Rendering

    def ask(self, at: QPoint) -> None:
        """A menu of what can be done with the chosen rows, at a place on the screen."""
        menu = self.menu_of_rows()
        menu.aboutToHide.connect(menu.deleteLater)
        menu.popup(at)

    def menu_of_rows(self) -> QMenu:
        """What can be done with the chosen rows."""
        session, menu = self.session, QMenu(self)
        taken, plan = session.taken, session.plan
        faulty = plan.faulty if plan is not None else {}
        whole = [line for line in taken if line not in faulty]
        words = "this row" if len(taken) == 1 else f"these {len(taken):,} rows"
        holding = [line for line in self.view.rows if line in session.said and session.said[line].verdict == "holds"]
        for said, act, possible in (
            (f"Render {words}", lambda: self.make(frozenset(whole)), bool(whole) and self.runner is None),
            ("Play it", self.cells.picture.play_or_rest, session.row not in faulty),
            ("Put its cells right", self.cells.begin, True),
            (f"Copy {words}", self.view.copy_chosen, True),
            ("", None, True),
            (f"Choose all that hold ({len(holding):,})", lambda: session.choose_all(holding), bool(holding)),
            (f"Choose all that are shown ({len(self.view.rows):,})", lambda: session.choose_all(self.view.rows), bool(self.view.rows)),
            ("Choose this one alone", lambda: session.choose(session.row), bool(session.chosen)),
        ):
            if act is None:
                menu.addSeparator()
                continue
            action = menu.addAction(said, act)
            assert action is not None
            action.setEnabled(possible)
        return menu

    def render_or_stop(self) -> None:
        """Render all rows, or those that are chosen where they are several; or stop that."""
        if self.runner is not None:
            self.runner.stop()
            self.render_button.setEnabled(False)
            self.left_words.setText("Stopping …")
            return
        self.make(self.session.chosen)

    def make(self, only: frozenset[int] = frozenset()) -> None:
        """Render rows by their places; all where none are named."""
        plan = self.session.plan
        if plan is None or not plan.items or self.runner is not None:
            return
        folder = self.wanted.folder.folder
        names = in_the_way(plan, folder, only)
        if names and not self._may_replace(in_the_way_words(names, folder)):
            return
        self.session.states = {}
        self._left_of = TimeLeft()
        runner = self.runner = RenderRunner(plan, self.session.session.book, folder, self.wanted.crew, bool(names), only)
        runner.progressed.connect(lambda states: self._take(runner, states))
        runner.done.connect(lambda outcome: self._done(runner, outcome))
        runner.failed.connect(lambda words: self._failed(runner, words))
        runner.begin()
        self._show_progress()

    def _may_replace(self, words: str) -> bool:
        """Ask before films of something else are written over."""
        buttons = QMessageBox.StandardButton
        question = f"{words} Write over them? Else choose another folder, or another pattern of names."
        return QMessageBox.question(lasting(self), "Render", question, buttons.Yes | buttons.Cancel, buttons.Cancel) == buttons.Yes

    def _take(self, runner: RenderRunner, states: list[State]) -> None:
        if self.runner is runner and self.session.plan is runner.plan:
            self.session.take_states(states)

    def _done(self, runner: RenderRunner, outcome: Outcome) -> None:
        self._ended(runner)
        files, left = len(outcome.delivery.files), len(outcome.delivery.left_out)
        kept = f", {outcome.kept} of them were there" if outcome.kept else ""
        gone = f" {left} {'is' if left == 1 else 'are'} left out; their rows say why." if left else ""
        if outcome.stopped:
            self.say(f"Stopped. {files} of {len(runner.plan.items)} files are whole; render again to go on from there.")
        elif runner.only:
            rows = len(runner.only)
            said = f"{outcome.made + outcome.alike} files of {'one row' if rows == 1 else f'{rows:,} rows'} are made"
            self.say(f"{said}{kept}; {files} of {len(runner.plan.items)} files are in {runner.folder}.{gone}".rstrip())
        else:
            self.say(f"{files} files{kept}, and {LIST}, are in {runner.folder}.{gone} {outcome.superseded_words}".rstrip())

    def _failed(self, runner: RenderRunner, words: str) -> None:
        self._ended(runner)
        self.say(words)

    def _ended(self, runner: RenderRunner) -> None:
        if self.runner is runner:
            self.runner = None
        self._show_progress()

    @property
    def renders(self) -> bool:
        """Whether films are being made."""
        return bool(RenderRunner.at_work())

    @staticmethod
    def stop_all() -> None:
        """Stop making films, and wait until that has ended: the window closes."""
        RenderRunner.stop_all()

    # The window

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.session.wake()

    def hideEvent(self, event: QHideEvent | None) -> None:
        super().hideEvent(event)
        self.session.sleep()

    def leave(self) -> None:
        """Another bench comes to the front."""
        self.session.sleep()

    def take_focus(self) -> None:
        """The bench came to the front."""
        (self.view if self.session.roster is not None else self.open_button).setFocus()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_Escape and any(box.hasFocus() for box in self.cells.boxes):
            self.view.setFocus()
        else:
            super().keyPressEvent(event)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        assert event is not None
        data = event.mimeData()
        if data is not None and any(Path(url.toLocalFile()).suffix.lower() in TABLES for url in data.urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        assert event is not None
        data = event.mimeData()
        found = next(
            (p for url in (data.urls() if data is not None else ()) if (p := Path(url.toLocalFile())).suffix.lower() in TABLES), None
        )
        if found is not None:
            self.open_path(found)


def usual_folder(name: str) -> Path:
    """Where films go unless somebody says otherwise."""
    return Path.home() / "renders" / slug(name)
