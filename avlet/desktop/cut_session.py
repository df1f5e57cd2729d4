"""The cut on the desk: its history, its titles' templates, the playhead."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import pyqtSignal

from avlet.desktop.history_session import HistorySession
from avlet.document.cut import Cut, Title, frame_in_title, frames_in_title, fresh_cut
from avlet.errors import AvletError
from avlet.media.plates import PLATES
from avlet.paint.scene import Scene
from avlet.storage.package import Opened, open_template


class CutSession(HistorySession[Cut]):
    """One cut over a library folder. Templates are opened when they are needed and again when their package changes."""

    library_changed = pyqtSignal()

    def __init__(self, library: Path) -> None:
        super().__init__(fresh_cut(PLATES))
        self.library = library
        self._opened: dict[str, Opened | str] = {}
        self._scenes: dict[str, tuple[Title, Opened, Scene]] = {}

    @property
    def cut(self) -> Cut:
        return self.history.value

    def length(self) -> int:
        return max(1, self.cut.length)

    def open(self, cut: Cut, path: Path | None, library: Path | None = None) -> None:
        """Take another cut."""
        self.take(cut, path, True, 0)
        if library is not None and library != self.library:
            self.library = library
            self._opened.clear()
            self.library_changed.emit()
        self._scenes.clear()
        self.changed.emit()
        self.selection_changed.emit()
        self.frame_changed.emit(0)

    def edit(self, label: str, change: Callable[[Cut], Cut], gesture: object = None) -> None:
        """Apply an edit."""
        self.history.push(change(self.cut), label, gesture)
        self.announce()

    def announce(self) -> None:
        """Tell of a change, and let go of a title that is not there any more."""
        if self.selected and self.cut.title(self.selected) is None:
            self.select(None)
        super().announce()

    @property
    def title(self) -> Title | None:
        """The selected title."""
        return self.cut.title(self.selected) if self.selected else None

    # Templates

    def forget_templates(self) -> None:
        """The library has changed: packages are read again."""
        self._opened.clear()
        self.library_changed.emit()
        self.changed.emit()

    def template_of(self, title: Title) -> Opened | str:
        """The opened template of a title, or the reason why it is not to be had."""
        if title.template not in self._opened:
            try:
                self._opened[title.template] = open_template(self.library / title.template)
            except AvletError as error:
                self._opened[title.template] = str(error)
        return self._opened[title.template]

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
