"""The cut on the desk: its history, its titles' templates, the playhead."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from avlet.document.cut import Cut, Title, frame_in_title, frames_in_title, fresh_cut
from avlet.document.history import History
from avlet.errors import AvletError
from avlet.media.plates import PLATES
from avlet.paint.scene import Scene
from avlet.storage.library import signature
from avlet.storage.package import Opened, open_template


class CutSession(QObject):
    """One cut over a library folder. Templates are opened when they are needed and again when their package changes."""

    changed = pyqtSignal()
    selection_changed = pyqtSignal()
    frame_changed = pyqtSignal(int)
    library_changed = pyqtSignal()
    refused = pyqtSignal(str)

    def __init__(self, library: Path) -> None:
        super().__init__()
        self.library = library
        self.path: Path | None = None
        self.selected: str | None = None
        self.frame = 0
        self.history: History[Cut] = History(fresh_cut(PLATES))
        self._saved = self.history.value
        self._opened: dict[str, tuple[object, Opened | str]] = {}
        self._scenes: dict[str, tuple[Title, Opened, Scene]] = {}

    @property
    def cut(self) -> Cut:
        return self.history.value

    @property
    def unsaved(self) -> bool:
        return self.cut is not self._saved

    def open(self, cut: Cut, path: Path | None, library: Path | None = None) -> None:
        """Take another cut."""
        self.history = History(cut)
        self._saved, self.path = cut, path
        if library is not None and library != self.library:
            self.library = library
            self._opened.clear()
            self.library_changed.emit()
        self._scenes.clear()
        self.selected = None
        self.frame = 0
        self.changed.emit()
        self.selection_changed.emit()
        self.frame_changed.emit(0)

    def mark_saved(self, path: Path) -> None:
        self.path, self._saved = path, self.cut
        self.changed.emit()

    def edit(self, label: str, change: Callable[[Cut], Cut], gesture: object = None) -> None:
        self.history.push(change(self.cut), label, gesture)
        self._announce()

    def undo(self) -> None:
        self.history.undo()
        self._announce()

    def redo(self) -> None:
        self.history.redo()
        self._announce()

    def _announce(self) -> None:
        if self.selected and self.cut.title(self.selected) is None:
            self.select(None)
        self.changed.emit()

    def select(self, title_id: str | None) -> None:
        if title_id != self.selected:
            self.selected = title_id
            self.history.close_gesture()
            self.selection_changed.emit()

    @property
    def title(self) -> Title | None:
        """The selected title."""
        return self.cut.title(self.selected) if self.selected else None

    def go_to(self, frame: int) -> None:
        frame = max(0, min(frame, max(0, self.cut.length - 1)))
        if frame != self.frame:
            self.frame = frame
            self.frame_changed.emit(frame)

    # Templates

    def forget_templates(self) -> None:
        """The library has changed: packages are read again."""
        self._opened.clear()
        self.library_changed.emit()
        self.changed.emit()

    def template_of(self, title: Title) -> Opened | str:
        """The opened template of a title, or the reason why it is not to be had."""
        kept = self._opened.get(title.template)
        if kept is None:
            path = self.library / title.template
            try:
                found: Opened | str = open_template(path)
            except AvletError as error:
                found = str(error)
            kept = (signature(self.library), found)
            self._opened[title.template] = kept
        return kept[1]

    def scene_of(self, title: Title) -> Scene | str:
        """A title's scene at its length on the cut, or the reason why there is none."""
        opened = self.template_of(title)
        if isinstance(opened, str):
            return opened
        kept = self._scenes.get(title.id)
        if kept is not None and kept[0].answers == title.answers and kept[0].length == title.length and kept[1] is opened:
            return kept[2]
        frames = frames_in_title(title.length, self.cut.frame.fps, opened.template.frame.fps)
        try:
            known = {f.id for f in opened.template.card.fields}
            scene = Scene(opened.template, opened.book, {k: v for k, v in title.answers.items() if k in known}, frames)
        except AvletError as error:
            return str(error)
        self._scenes[title.id] = (title, opened, scene)
        return scene

    def frame_of(self, title: Title, scene: Scene) -> int:
        """Which of a title's own frames shows at the playhead."""
        inside = max(0, min(title.length - 1, self.frame - title.start))
        return frame_in_title(inside, self.cut.frame.fps, scene.template.frame.fps, scene.length)
