"""What the two open documents, a template and a cut, have in common: a history, a selection, a playhead, a saved state."""

from collections.abc import Sequence
from pathlib import Path
from typing import Generic, TypeVar

from PyQt6.QtCore import QObject, pyqtSignal

from avlet.document.editing.history import History
from avlet.storage.contents import GONE, content_of

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
        self.also: tuple[str, ...] = ()
        self.frame = 0
        self.history: History[T] = History(start)
        self._saved: T | None = start
        self.recovered = False
        """Whether it was found again after a crash, and not saved since."""
        self.content = GONE
        """What its file held when it was read or written last, see :func:`avlet.storage.contents.content_of`."""

    @property
    def unsaved(self) -> bool:
        """Whether the present value differs from its file."""
        return self.history.value is not self._saved

    @property
    def has_work(self) -> bool:
        """Whether something would be lost without saving: changes, also those that were undone after saving, or work found again."""
        return self.unsaved and (self.recovered or self._saved is not None or self.history.undo_label is not None)

    def mark_saved(self, path: Path) -> None:
        """The present value is what its file holds."""
        self.path, self._saved, self.recovered = path, self.history.value, False
        self.content = content_of(path)
        self.changed.emit()

    def take(self, value: T, path: Path | None, saved: bool, frame: int, content: str | None = None) -> None:
        """Begin with another document; ``content`` is what its file held before it was read, what it holds now if left out."""
        self.content = content if content is not None else content_of(path) if path is not None else GONE
        self.history = History(value)
        self.path = path
        self._saved, self.recovered = value if saved else None, False
        self.selected, self.also = None, ()
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

    def select(self, what: str | None, more: bool = False) -> None:
        """Select one thing. With ``more`` it is added to what is selected, or taken away if it is among it."""
        also = self.also
        if more and what is not None and self.selected is not None:
            if what == self.selected:
                what, also = (also[-1], also[:-1]) if also else (None, ())
            elif what in also:
                what, also = self.selected, tuple(i for i in also if i != what)
            else:
                also = (*also, self.selected)
        else:
            also = ()
        if (what, also) != (self.selected, self.also):
            self.selected, self.also = what, also
            self.history.close_gesture()
            self.selection_changed.emit()

    def select_all(self, several: Sequence[str]) -> None:
        """Select several things, the last of them first and foremost."""
        self.selected, self.also = (several[-1], tuple(several[:-1])) if several else (None, ())
        self.history.close_gesture()
        self.selection_changed.emit()

    @property
    def selection(self) -> tuple[str, ...]:
        """All that is selected."""
        return (*self.also, self.selected) if self.selected is not None else ()

    def length(self) -> int:
        """How many frames the document has."""
        raise NotImplementedError

    def go_to(self, frame: int) -> None:
        frame = max(0, min(frame, self.length() - 1))
        if frame != self.frame:
            self.frame = frame
            self.frame_changed.emit(frame)
