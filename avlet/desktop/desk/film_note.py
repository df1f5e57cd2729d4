"""What is said of the film of the selected title: when it was made, and whether it still shows the title."""

from datetime import datetime
from pathlib import Path

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QLabel, QWidget

from avlet.desktop.sessions.cut_session import CutSession
from avlet.desktop.widgets.theme import WARNING
from avlet.roster.film_state import FilmState, FilmWatch

_WAITS = 250
"""ms after a change, so that typing does not wait for it."""


class FilmNote(QLabel):
    """Looks for the film in the folder that was rendered into last; hidden while there is none."""

    def __init__(self, session: CutSession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.state: FilmState | None = None
        self.setWordWrap(True)
        self.setAccessibleName("Film of the title")
        self._watch = FilmWatch()
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(_WAITS)
        self._soon.timeout.connect(self.refresh)
        session.changed.connect(self._soon.start)
        session.selection_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Look again."""
        self._soon.stop()
        self.state = self._found()
        if self.state is not None:
            self.setText(self.state.words(datetime.now()))
            self.setToolTip(str(self.state.path))
            self.setStyleSheet("" if self.state.shows else f"color: {WARNING};")
            self.setProperty("role", "muted")
        self.setVisible(self.state is not None)

    def _found(self) -> FilmState | None:
        title, folder = self.session.title, self.session.settings.renders
        opened = self.session.template_of(title) if title is not None else ""
        if title is None or isinstance(opened, str) or not folder:
            return None
        return self._watch.state(self.session.cut, title, opened, Path(folder))

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._soon.start()
