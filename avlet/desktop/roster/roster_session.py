"""The open roster, as all views of its bench show it: the table with its threads, what is said of each row, how far its films are."""

import dataclasses
import time
from collections import Counter, OrderedDict
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QFileSystemWatcher, QTimer, pyqtSignal

from avlet.desktop.roster.plan_runner import PlanRunner
from avlet.desktop.sessions.history_session import HistorySession
from avlet.desktop.sessions.template_session import Session
from avlet.document.template import Template
from avlet.errors import AvletError
from avlet.paint.scene import Scene
from avlet.roster.looking import VERDICTS, Said, Verdict, look_at, scene_of
from avlet.roster.ordering import found_in, in_order_of
from avlet.roster.remembered import Remembered
from avlet.roster.roster import Plan, Roster, leads_to_fields, plan_of, with_wanted
from avlet.roster.sheet import Sheet, open_sheet, pasted_sheet
from avlet.roster.threads import Thread, threads_for, with_thread
from avlet.storage.atomic import write_whole
from avlet.storage.contents import GONE, content_of

if TYPE_CHECKING:
    from avlet.roster.rendering import State

_BUDGET = 0.012
"""Seconds of looking at rows at a time: less than a frame's."""
WORST_FIRST = -1
"""An order of rows, where others are columns."""
_MOST_SCENES = 64
PLANNED_AT_ONCE = 3_000
"""Rows whose files are worked out in the window's thread; more are worked out beside it."""
_SETTLING = 250
"""ms in which a file that changes is left to settle."""


class RosterSession(HistorySession[Roster | None]):
    """One table for the template that is open. ``looked``: more is known of rows; ``rendered``: their films are further."""

    looked = pyqtSignal()
    rendered = pyqtSignal()

    def __init__(self, session: Session, state: Path | None = None) -> None:
        super().__init__(None)
        self.remembered = Remembered(state)
        self.may_leave: Callable[[], bool] = lambda: True
        """Asks whether the present table may be left, where something of it is in no file."""
        self.session = session
        self.plan: Plan | None = None
        self.fault = ""
        """Why there is no plan, in words."""
        self.said: dict[int, Said] = {}
        self.states: dict[int, State] = {}
        """How far each file is, by its number in the plan."""
        self.row = 0
        """The place of the chosen row among the table's lines."""
        self.chosen: frozenset[int] = frozenset()
        """Places of all chosen rows where those are several, ``row`` among them; else none."""
        self.moment: float | None = None
        """Which part of its time every row is shown at; None for the middle of its hold."""
        self.wanted_rows: Callable[[], list[int]] = list
        """Rows that are in sight: they are looked at first."""
        self._planner: PlanRunner | None = None
        self._of: tuple[Template | None, Roster | None] = (None, None)
        self._scenes: OrderedDict[int, Scene | str] = OrderedDict()
        self._looking = QTimer(self)
        self._looking.timeout.connect(self._look)
        self._watcher = QFileSystemWatcher(self)
        self._settling = QTimer(self)
        self._settling.setSingleShot(True)
        self._settling.timeout.connect(self._read_again)
        self._watcher.fileChanged.connect(self._touched)
        self.active = False
        self.on_disk: Sheet | None = None
        """The table as its file has it."""
        session.changed.connect(self._follow)

    def _touched(self, _: str) -> None:
        self._settling.start(_SETTLING)

    # The table

    @property
    def is_planning(self) -> bool:
        """Whether the files of a long table are being worked out beside the window."""
        return self._planner is not None

    @property
    def roster(self) -> Roster | None:
        """The roster; None while no table is open."""
        return self.history.value

    def open_table(self, path: Path) -> bool:
        """Open a table from a file; says why where that cannot be done."""
        content = content_of(path)
        try:
            sheet = open_sheet(path)
        except AvletError as error:
            self.refused.emit(str(error))
            return False
        if not self.may_leave():
            return False
        self._begin(sheet, path, content)
        return True

    def paste(self, words: str) -> bool:
        """Take a table from the clipboard."""
        try:
            sheet = pasted_sheet(words, Path.home())
        except AvletError as error:
            self.refused.emit(str(error))
            return False
        if not self.may_leave():
            return False
        self._begin(sheet, None)
        return True

    def _begin(self, sheet: Sheet, path: Path | None, content: str = "") -> None:
        wanted = self.roster.wanted if self.roster is not None else None
        roster = dataclasses.replace(Roster.of(sheet, self.session.template), threads=self._suggested(sheet))
        if wanted is not None:
            kept = tuple(language for language in wanted.languages if language in sheet.languages)
            roster = dataclasses.replace(roster, wanted=dataclasses.replace(wanted, pattern="", languages=kept))
        self.take(roster, path, saved=True, frame=0, content=content)
        self.on_disk = sheet if path is not None else None
        self.row, self.chosen, self.states = 0, frozenset(), {}
        self.watch(path)
        self.announce()

    def _suggested(self, sheet: Sheet) -> tuple[Thread, ...]:
        """Threads as they were drawn for the same heads before, else as they suggest themselves."""
        return self.remembered.threads(sheet.heads, self.session.template) or threads_for(sheet.heads, self.session.template)

    def go_on_with(self, sheet: Sheet, path: Path | None, content: str = "") -> None:
        """Go on with a table that was found again after a crash: what its file has not is unsaved."""
        self._begin(sheet, path, content)
        self.recovered = True
        try:
            self.on_disk = open_sheet(path) if path is not None else None
        except AvletError:
            self.on_disk = None

    def watch(self, path: Path | None) -> None:
        """Notice when a file changes; None for none."""
        if self._watcher.files():
            self._watcher.removePaths(self._watcher.files())
        if path is not None and path.exists():
            self._watcher.addPath(str(path))

    def _read_again(self) -> None:
        """The file has changed: rows that changed are done anew. Cells that were put right here and not written are kept."""
        path, roster = self.path, self.roster
        if path is None or roster is None:
            return
        content = content_of(path)
        try:
            sheet = open_sheet(path)
        except AvletError as error:
            self.refused.emit(f"The table has changed, and cannot be read now: {error} What is shown is as it was.")
            self.watch(path)
            return
        self.watch(path)
        self.content = content
        before, self.on_disk = self.on_disk, sheet
        if sheet == before:
            return
        if before is not None and self.cells_unwritten:
            sheet = _with_own_cells(sheet, before, roster.sheet)
        self.push(with_sheet(roster, sheet, self.session.template), "The table's file")
        self.refused.emit(f"“{path.name}” has changed and was read again.")

    def is_theirs(self, path: Path) -> bool:
        """Whether a file that the table came from holds something else by now, which nobody here has seen."""
        return path == self.path and content_of(path) not in (self.content, GONE)

    def take_theirs(self) -> bool:
        """Take the table as its file has it now, as one undo; cells that were put right here go."""
        path, roster = self.path, self.roster
        if path is None or roster is None:
            return False
        self.on_disk, self.content = None, content_of(path)
        try:
            sheet = open_sheet(path)
        except AvletError as error:
            self.refused.emit(str(error))
            return False
        self.push(with_sheet(roster, sheet, self.session.template), "Take the table's file")
        self.on_disk = sheet
        return True

    @property
    def cells_unwritten(self) -> bool:
        """Whether cells were put right here that no file has."""
        if self.roster is None or self.roster.sheet is self.on_disk or (self.history.undo_label is None and not self.recovered):
            return False
        return self.on_disk is None or self.on_disk.lines != self.roster.sheet.lines

    @property
    def has_work(self) -> bool:
        return self.cells_unwritten

    def write_table(self, path: Path) -> bool:
        """Write the table as CSV, or as TSV where it is called so; says why where that cannot be done."""
        if self.roster is None:
            return False
        try:
            write_whole(path, self.roster.sheet.as_csv("\t" if path.suffix.lower() in (".tsv", ".tab") else self._sign(path)))
            written = open_sheet(path)
        except AvletError as error:
            self.refused.emit(str(error))
            return False
        self.path, self.on_disk, self.content = path, written, content_of(path)
        roster = self.roster
        self.push(dataclasses.replace(roster, sheet=dataclasses.replace(roster.sheet, name=written.name, folder=written.folder)), "Written")
        self.on_disk = dataclasses.replace(written, lines=self.roster.sheet.lines)
        self.watch(path)
        self.refused.emit(f"The table is in {path}.")
        return True

    def _sign(self, path: Path) -> str:
        """What parts the cells of a file that is written over: the same as before."""
        kept_as = self.roster.sheet.kept_as if self.roster is not None and path == self.path else ""
        return ";" if "semicolons" in kept_as else "|" if "bars" in kept_as else ","

    # Changes, each one undo

    def push(self, roster: Roster, label: str, gesture: object = None) -> None:
        """Another roster."""
        self.history.push(roster, label, gesture)
        self.announce()

    def put_cell(self, line: int, column: int, words: str) -> None:
        """Other words in a cell."""
        roster = self.roster
        if roster is not None and roster.sheet.lines[line].cells[column] != words:
            head, number = roster.sheet.heads[column].words, roster.sheet.lines[line].number
            self.push(dataclasses.replace(roster, sheet=roster.sheet.with_cell(line, column, words)), f"{head} of row {number}")

    def tie(self, column: int, target: str | None) -> None:
        """Let a column lead to a field, or to nothing."""
        roster = self.roster
        if roster is not None:
            threads = with_thread(roster.threads, roster.sheet.heads, column, target)
            self.remembered.keep(roster.sheet.heads, threads)
            self.push(dataclasses.replace(roster, threads=threads), "Thread")

    def want(self, label: str, gesture: object = None, **changes: object) -> None:
        """Something else is wanted of each row."""
        if self.roster is not None:
            self.push(with_wanted(self.roster, **changes), label, gesture)

    def announce(self) -> None:
        self._plan()
        super().announce()

    # What follows

    def wake(self) -> None:
        """The bench is looked at."""
        self.active = True
        self._follow()

    def sleep(self) -> None:
        """Another bench is in front."""
        self.active = False
        self._looking.stop()

    def _follow(self) -> None:
        """The template has changed, or the bench came to the front."""
        if self.active and self.roster is not None and self._of != (self.session.template, self.roster):
            self._tie_anew(self.roster)
            self.announce()
        elif self.active and self.roster is not None and len(self.said) < len(self.roster.sheet.lines):
            self._looking.start(0)

    def _tie_anew(self, roster: Roster) -> None:
        """Another template is open, of which no field is led to: let threads suggest themselves again."""
        threads = self._suggested(roster.sheet)
        if not leads_to_fields(roster.threads, self.session.template) and leads_to_fields(threads, self.session.template):
            self.history.push(dataclasses.replace(roster, threads=threads), "Threads")

    def _plan(self) -> None:
        roster, template = self.roster, self.session.template
        known = self._known_of(template, roster)
        self._of = (template, roster)
        self._scenes.clear()
        self.plan, self.fault, self.said, self.states = None, "", {}, {}
        if self._planner is not None:
            self._planner.stop()
            self._planner = None
        if roster is None:
            return
        if len(roster.sheet.lines) > PLANNED_AT_ONCE:
            self.fault = f"Working out {len(roster.sheet.lines):,} rows …"
            self._planner = PlanRunner(roster, template)
            self._planner.planned.connect(lambda runner: self._planned(runner, known))
            self._planner.begin()
            return
        try:
            plan = plan_of(roster, template)
        except AvletError as error:
            self.fault = str(error)
            return
        self._take_plan(plan, known)

    def _planned(self, runner: PlanRunner, known: dict[tuple[str, ...], Said]) -> None:
        """What was worked out beside the window is there, if it is still what is wanted."""
        if runner is not self._planner:
            return
        self._planner, self.fault = None, runner.fault
        if runner.plan is not None:
            self._take_plan(runner.plan, known)
        super().announce()

    def _take_plan(self, plan: Plan, known: dict[tuple[str, ...], Said]) -> None:
        self.plan, roster = plan, plan.roster
        found = {n: known.get(line.cells) for n, line in enumerate(roster.sheet.lines)}
        self.said = {n: said for n, said in found.items() if said is not None}
        self.row = max(0, min(self.row, len(roster.sheet.lines) - 1))
        self.chosen = frozenset(line for line in self.chosen if line < len(roster.sheet.lines))
        self.chosen = self.chosen if self.row in self.chosen else frozenset()
        if self.active:
            self._looking.start(0)

    def _known_of(self, template: Template, roster: Roster | None) -> dict[tuple[str, ...], Said]:
        """What was said of rows that still counts, by their cells."""
        old_template, old = self._of
        if old is None or roster is None or old_template is not template or (old.threads, old.wanted) != (roster.threads, roster.wanted):
            return {}
        if old.sheet.folder != roster.sheet.folder or old.sheet.heads != roster.sheet.heads:
            return {}
        return {old.sheet.lines[n].cells: said for n, said in self.said.items() if n < len(old.sheet.lines)}

    def _look(self) -> None:
        """Look at some rows more, those in sight first."""
        plan, end = self.plan, time.monotonic() + _BUDGET
        if plan is None:
            self._looking.stop()
            return
        left = [n for n in self.wanted_rows() if n not in self.said] or [n for n in range(len(plan.rows)) if n not in self.said][:64]
        for line in left:
            try:
                self.said[line] = look_at(plan, self.session.book, line)
            except AvletError as error:
                self.said[line] = Said("cannot be rendered", "cannot be rendered", (str(error),))
            if time.monotonic() > end:
                break
        if not left:
            self._looking.stop()
        self.looked.emit()

    @property
    def counts(self) -> "Counter[Verdict]":
        """How many of the rows that were looked at hold, and how many do not."""
        return Counter(one.verdict for one in self.said.values())

    def rows_shown(self, only: Verdict | None, order: int | None = None, words: str = "") -> list[int]:
        """The places of the rows that are shown: of one verdict alone, with ``words`` in them; in the table's order, or by a column.

        Worst first where ``order`` is ``WORST_FIRST``.
        """
        if self.plan is None:
            return []
        lines = self.plan.rows
        rows = [n for n in range(len(lines)) if only is None or (n in self.said and self.said[n].verdict == only)]
        rows = found_in(lines, rows, words)
        if order == WORST_FIRST:
            rows.sort(key=lambda n: VERDICTS.index(self.said[n].verdict) if n in self.said else len(VERDICTS))
        elif order is not None and order < len(self.plan.roster.sheet.heads):
            rows = in_order_of(lines, rows, order, self.plan.roster.sheet.heads[order].language)
        return rows

    def scene(self, line: int) -> Scene | str:
        """A row's scene, or why it cannot be shown."""
        if line not in self._scenes:
            if self.plan is None or line in self.plan.faulty:
                return self.fault if self.plan is None else self.plan.faulty[line]
            try:
                self._scenes[line] = scene_of(self.plan, self.session.book, line, self.plan.roster.languages[0])
            except AvletError as error:
                self._scenes[line] = str(error)
            while len(self._scenes) > _MOST_SCENES:
                self._scenes.popitem(last=False)
        self._scenes.move_to_end(line)
        return self._scenes[line]

    def frame_of(self, scene: Scene) -> int:
        """The frame that a row is shown at."""
        last = scene.length - 1
        return scene.spans.middle if self.moment is None else max(0, min(last, round(self.moment * last)))

    # Choosing and rendering

    def choose(self, line: int) -> None:
        """Choose a row, and no others."""
        if self.plan is not None and 0 <= line < len(self.plan.rows) and (line != self.row or self.chosen):
            self.row, self.chosen = line, frozenset()
            self.history.close_gesture()
            self.selection_changed.emit()

    def choose_all(self, lines: Iterable[int], row: int | None = None) -> None:
        """Choose several rows; ``row`` of them is the one whose cells are shown, the present one if it is among them, else the first."""
        count = len(self.plan.rows) if self.plan is not None else 0
        found = sorted(line for line in set(lines) if 0 <= line < count)
        if not found:
            return
        here = row if row in found else self.row if self.row in found else found[0]
        assert here is not None
        self.row, self.chosen = here, frozenset(found) if len(found) > 1 else frozenset()
        self.history.close_gesture()
        self.selection_changed.emit()

    def choose_also(self, line: int) -> None:
        """Choose a row as well, or no more where it was chosen."""
        chosen = self.chosen or {self.row}
        if line not in chosen:
            self.choose_all([*chosen, line], line)
        elif len(chosen) > 1:
            left = [one for one in chosen if one != line]
            self.choose_all(left, self.row if self.row != line else left[0])

    @property
    def taken(self) -> tuple[int, ...]:
        """All chosen rows, in the table's order."""
        return tuple(sorted(self.chosen)) or (self.row,)

    def show_moment(self, share: float | None) -> None:
        """Show all rows at another moment."""
        if share != self.moment:
            self.moment = share
            self.frame_changed.emit(0)

    def take_states(self, states: "list[State]") -> None:
        """What has happened to files."""
        self.states.update({state.item: state for state in states})
        self.rendered.emit()

    def progress_of(self) -> dict[int, tuple[float, bool, str]]:
        """How far each row is, whether all its files are whole, and why one is not, by the row's place."""
        found: dict[int, list[State | None]] = {}
        for number, item in enumerate(self.plan.items if self.plan is not None and self.states else ()):
            found.setdefault(item.line, []).append(self.states.get(number))
        return {
            line: (
                sum(s.share if s else 0.0 for s in states) / len(states), all(s is not None and s.done for s in states),
                next((s.words for s in states if s is not None and s.words), ""),
            )
            for line, states in found.items()
        }  # fmt: skip

    def length(self) -> int:
        return 1


def with_sheet(roster: Roster, sheet: Sheet, template: Template) -> Roster:
    """The roster with another table; threads stay with columns of the same names."""
    threads = roster.threads
    if [head.words for head in sheet.heads] != [head.words for head in roster.sheet.heads]:
        by_words = {roster.sheet.heads[t.column].words: t.target for t in threads}
        kept = [Thread(n, by_words[head.words]) for n, head in enumerate(sheet.heads) if head.words in by_words]
        threads = tuple(kept) or threads_for(sheet.heads, template)
    return dataclasses.replace(roster, sheet=sheet, threads=threads)


def _with_own_cells(sheet: Sheet, before: Sheet, own: Sheet) -> Sheet:
    """A table that was read again, with the cells that were put right here where its file has not changed them as well."""
    if [h.words for h in sheet.heads] != [h.words for h in own.heads] or len(before.lines) != len(own.lines):
        return sheet
    was = {line.number: line.cells for line in before.lines}
    mine = {line.number: line.cells for line in own.lines}
    lines = []
    for line in sheet.lines:
        old, put = was.get(line.number, line.cells), mine.get(line.number, line.cells)
        cells = tuple(p if cell == o else cell for cell, o, p in zip(line.cells, old, put, strict=True))
        lines.append(dataclasses.replace(line, cells=cells))
    return dataclasses.replace(sheet, lines=tuple(lines))
