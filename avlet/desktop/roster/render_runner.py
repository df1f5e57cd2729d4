"""Renders a roster beside the window, and can be stopped."""

import time
from pathlib import Path

from PyQt6.QtCore import pyqtSignal

from avlet.desktop.sessions.runner import Runner
from avlet.errors import AvletError
from avlet.roster.crew import Crew
from avlet.roster.rendering import Outcome, State, render_roster
from avlet.roster.roster import Plan
from avlet.text.fonts import FontBook

_TELLS = 0.1
"""Seconds between two reports: more often nobody can see."""


class RenderRunner(Runner):
    """One run. ``progressed`` tells what has happened to files since, ``done`` what came of it."""

    progressed = pyqtSignal(list)
    done = pyqtSignal(object)
    failed = pyqtSignal(str)

    def __init__(
        self, plan: Plan, book: FontBook, folder: Path, crew: Crew, replace: bool = False, only: frozenset[int] = frozenset()
    ) -> None:
        super().__init__()
        self.plan, self.book, self.folder, self.crew, self.replace, self.only = plan, book, folder, crew, replace, only
        self._since: dict[int, State] = {}
        self._told_at = 0.0

    def run(self) -> None:
        try:
            outcome: Outcome = render_roster(self.plan, self.book, self.folder, self.crew, self._told, replace=self.replace, only=self.only)
        except AvletError as error:
            self._tell()
            self.failed.emit(str(error))
            return
        self._tell()
        self.done.emit(outcome)

    def _told(self, state: State) -> bool:
        self._since[state.item] = state
        if time.monotonic() - self._told_at > _TELLS:
            self._tell()
        return not self.stopping

    def _tell(self) -> None:
        self._told_at = time.monotonic()
        if self._since:
            self.progressed.emit(list(self._since.values()))
            self._since = {}
