"""What the two open documents, a template and a cut, have in common: a history, a selection, a playhead, a saved state."""

from pathlib import Path
from typing import Generic, TypeVar

from PyQt6.QtCore import QObject, pyqtSignal

from avlet.document.history import History

T = TypeVar("T")


class HistorySession(QObject, Generic[T]):
    """One open document. Subclasses say how long it is, and put right what no longer fits after a change."""

    changed = pyqtSignal()
    selection_changed = pyqtSignal()
    frame_changed = pyqtSignal(int)
    refused = pyqtSignal(str)

    def __init__(self, start: T) -> None:
        super().__init__()
        self.path: Path | None = None
        self.selected: str | None = None
        self.frame = 0
        self.history: History[T] = History(start)
        self._saved: T | None = start

    @property
    def unsaved(self) -> bool:
        """Whether the present value differs from its file."""
        return self.history.value is not self._saved

    def mark_saved(self, path: Path) -> None:
        """The present value is what its file holds."""
        self.path, self._saved = path, self.history.value
        self.changed.emit()

    def take(self, value: T, path: Path | None, saved: bool, frame: int) -> None:
        """Begin with another document."""
        self.history = History(value)
        self.path = path
        self._saved = value if saved else None
        self.selected = None
        self.frame = frame

    def undo(self) -> None:
        self.history.undo()
        self.announce()

    def redo(self) -> None:
        self.history.redo()
        self.announce()

    def announce(self) -> None:
        """Tell of a change."""
        self.changed.emit()

    def select(self, what: str | None) -> None:
        if what != self.selected:
            self.selected = what
            self.history.close_gesture()
            self.selection_changed.emit()

    def length(self) -> int:
        """How many frames the document has."""
        raise NotImplementedError

    def go_to(self, frame: int) -> None:
        frame = max(0, min(frame, self.length() - 1))
        if frame != self.frame:
            self.frame = frame
            self.frame_changed.emit(frame)
