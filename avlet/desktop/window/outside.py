"""A document's file is changed from outside: it is taken in while nothing is unsaved here, and told otherwise."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QFileSystemWatcher, QObject, QTimer

from avlet.desktop.sessions.history_session import HistorySession
from avlet.storage.contents import GONE, content_of

_SETTLES = 350
"""ms after a file was touched until it is looked at: it may be written in several goes."""


class Outside(QObject):
    """Watches the file of one session; ``take`` reads it again."""

    def __init__(self, session: HistorySession[Any], take: Callable[[Path], bool], say: Callable[[str], None], parent: QObject) -> None:
        super().__init__(parent)
        self.session, self._take, self._say = session, take, say
        self._watched: Path | None = None
        self._told: str | None = None
        self._watcher = QFileSystemWatcher(self)
        self._settling = QTimer(self)
        self._settling.setSingleShot(True)
        self._settling.timeout.connect(self.look)
        self._watcher.fileChanged.connect(self._touched)
        self._watcher.directoryChanged.connect(self._touched)
        session.changed.connect(self._follow)

    def _touched(self, _: str) -> None:
        self._settling.start(_SETTLES)

    def _follow(self) -> None:
        if self.session.path != self._watched:
            self._watched, self._told = self.session.path, None
            self._watch()

    def _watch(self) -> None:
        wanted = []
        if self._watched is not None:
            inside = self._watched / "template.json"
            wanted = [str(p) for p in (self._watched, self._watched.parent, inside) if p.exists()]
        watched = [*self._watcher.files(), *self._watcher.directories()]
        if gone := [p for p in watched if p not in wanted]:
            self._watcher.removePaths(gone)
        if new := [p for p in wanted if p not in watched]:
            self._watcher.addPaths(new)

    def look(self) -> None:
        """See whether the file is still what was read from it, or written into it."""
        path = self.session.path
        self._watch()
        if path is None:
            return
        now = content_of(path)
        if now in (self.session.content, self._told):
            return
        self._told = now
        if now == GONE:
            self._say(f"“{path.name}” is not where it was any more. What is here stays; save it to have it there again.")
        elif self.session.unsaved:
            self._say(f"“{path.name}” was changed by somebody else. What is here stays as it is; saving shows both and asks.")
        elif self._take(path):
            self._say(f"“{path.name}” was changed outside and was read again. Undo brings back what was here.")
