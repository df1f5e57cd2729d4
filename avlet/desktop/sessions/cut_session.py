"""The cut on the desk: its history, its titles' templates at their versions, the library's folders, the playhead."""

from collections.abc import Callable
from pathlib import Path
from typing import Any, NamedTuple

from PyQt6.QtCore import pyqtSignal

from avlet.desktop.sessions.history_session import HistorySession
from avlet.document.cut import Cut, Title, change_titles, frame_in_title, frames_in_title, fresh_cut, numbered, trim_title
from avlet.document.versions import carried_over, what_is_new
from avlet.errors import AvletError
from avlet.media.plates import PLATES
from avlet.media.titles import title_scene
from avlet.motion.credits import leads_by_speed
from avlet.paint.scene import Scene
from avlet.places import library_folder
from avlet.storage.handing_over import version_path
from avlet.storage.library import Stamp, find_package, stamp_of
from avlet.storage.package import Opened, open_template
from avlet.storage.settings import Settings, read_settings, write_settings

_MOST_PACKAGES = 40
"""Packages that are kept open besides those that titles of the cut are of."""
_MOST_SCENES = 32
"""Titles whose scenes are kept, those made last."""


class _Package(NamedTuple):
    """A package as it was read: where, what it was like, and its template, or why there is none."""

    path: Path
    stamp: Stamp
    opened: Opened | str

    def is_as_it_was(self, path: Path) -> bool:
        return path == self.path and stamp_of(path) == self.stamp and not isinstance(self.opened, str)


def _opened(path: Path) -> Opened | str:
    try:
        return open_template(path)
    except AvletError as error:
        return str(error)


class CutSession(HistorySession[Cut]):
    """One cut over a library: a folder of one's own and any number of shared ones.

    Templates are opened when they are needed and again when their package changes. ``settings`` are the person's own.
    """

    library_changed = pyqtSignal()

    def __init__(self, library: Path | None = None, state: Path | None = None) -> None:
        super().__init__(fresh_cut(PLATES))
        self.state = state
        self.settings = read_settings(state) if state is not None else Settings()
        own = Path(self.settings.library) if self.settings.library else library_folder()
        self.library = library or own
        self._seen: set[Path] = set()
        self.has_seen(self.library)
        self._opened: dict[tuple[str, int], _Package] = {}
        self._scenes: dict[str, tuple[tuple[Any, ...], Opened, Scene]] = {}

    @property
    def cut(self) -> Cut:
        return self.history.value

    @property
    def folders(self) -> list[Path]:
        """The library's folders, the person's own first."""
        return [self.library, *(Path(name) for name in self.settings.shared if Path(name) != self.library)]

    def length(self) -> int:
        return max(1, self.cut.length)

    def open(self, cut: Cut, path: Path | None, library: Path | None = None, saved: bool = True, content: str | None = None) -> None:
        """Take another cut; ``content`` as in ``take``."""
        self.take(numbered(cut), path, saved, 0, content)
        if library is not None:
            self.take_library(library)
        self._scenes.clear()
        self.changed.emit()
        self.selection_changed.emit()
        self.frame_changed.emit(0)

    def take_library(self, folder: Path) -> None:
        """Another folder is the library."""
        if folder != self.library:
            self.library = folder
            self.has_seen(folder)
            self.forget_templates()

    def has_seen(self, folder: Path) -> None:
        """Remember that a library's folder was there."""
        if folder.is_dir():
            self._seen.add(folder)

    def has_vanished(self, folder: Path) -> bool:
        """Whether a library's folder is gone that was there before, or that the settings name."""
        return not folder.exists() and (folder in self._seen or str(folder) == self.settings.library)

    def edit(self, label: str, change: Callable[[Cut], Cut], gesture: object = None) -> None:
        """Apply an edit. Titles whose credits lead them last as long as these make them."""
        before, new = self.cut, change(self.cut)
        if before.foreign and new.pictures != before.pictures:
            self.refused.emit("The pictures of this timeline come from elsewhere and stay as they are: change them there.")
            return
        known = {title.id: title for title in before.titles}
        changed = [title for title in new.titles if title is not known.get(title.id)]
        lasting = [(title, frames) for title in changed if (frames := self.led_length(title)) not in (None, title.length)]
        for title, frames in lasting:
            new = trim_title(new, title.id, title.start, title.start + (frames or 1))
        self.history.push(new, label, gesture)
        self.announce()
        for title, frames in lasting:
            self._say_of_length(before.title(title.id), title, frames or 1)

    def reshape(self, cut: Cut) -> None:
        """Take the cut at another size or rate; the pictures of a timeline from elsewhere follow that."""
        self._scenes.clear()
        self.history.push(cut, "Size or rate of the cut", None)
        self.announce()

    def led_length(self, title: Title) -> int | None:
        """How many frames of the cut a title lasts whose credits lead it; None for one whose length leads."""
        opened = self.template_of(title)
        if isinstance(opened, str) or title.whole != title.length or not leads_by_speed(opened.template):
            return None
        scene = self.scene_of(title)
        return None if isinstance(scene, str) else frames_in_title(scene.length, scene.template.frame.fps, self.cut.frame.fps)

    def _say_of_length(self, before: Title | None, title: Title, frames: int) -> None:
        """Tell why a title is not as long as it was made, or as its list asks for."""
        now = self.cut.title(title.id)
        if now is not None and now.length < frames:
            self.refused.emit(f"Its list needs {frames} frames; what follows on its track begins after {now.length}. Make room for it.")
        elif before is not None and before.answers == title.answers and before.template == title.template and before.length != title.length:
            self.refused.emit("Its length comes from the list at its speed. What is in the list decides how long it lasts.")

    def announce(self) -> None:
        """Tell of a change, and let go of titles that are not there any more."""
        there = [i for i in self.selection if self.cut.title(i) is not None]
        if len(there) != len(self.selection):
            self.select_all(there)
        super().announce()

    @property
    def title(self) -> Title | None:
        """The selected title."""
        return self.cut.title(self.selected) if self.selected else None

    def keep_settings(self, settings: Settings) -> None:
        """Other settings, written down; says why when that cannot be done."""
        self.settings = settings
        try:
            if self.state is not None:
                write_settings(self.state, settings)
        except AvletError as error:
            self.refused.emit(str(error))

    # Templates

    def forget_templates(self) -> None:
        """The library has changed: packages that are not what they were are read again."""
        self._opened = {key: package for key, package in self._opened.items() if package.is_as_it_was(self._path_of(*key))}
        self.library_changed.emit()
        self.changed.emit()

    def package(self, file_name: str) -> Path:
        """Where a package of the library stands."""
        return find_package(self.folders, file_name)

    def template_of(self, title: Title) -> Opened | str:
        """The opened template of a title at its version, or the reason why it is not to be had."""
        return self._open(title.template, title.version)

    def newest_of(self, title: Title) -> Opened | str:
        """The present version of a title's template."""
        return self._open(title.template, 0)

    def _open(self, file_name: str, version: int) -> Opened | str:
        key = file_name, version
        if key not in self._opened:
            path = self._path_of(*key)
            stamp, opened = stamp_of(path), _opened(path)
            if len(self._opened) >= _MOST_PACKAGES:
                used = {(one.template, one.version) for one in self.cut.titles}
                self._opened = {k: package for k, package in self._opened.items() if k in used}
            self._opened[key] = _Package(path, stamp, opened)
        return self._opened[key].opened

    def _path_of(self, file_name: str, version: int) -> Path:
        return version_path(self.package(file_name), version)

    def newer(self, title: Title) -> list[str]:
        """What is new in the library's version of a title's template; nothing when it shows that already."""
        shown, newest = self.template_of(title), self.newest_of(title)
        if isinstance(newest, str) or newest.manifest is None or title.version in (newest.manifest.version, 0):
            return []
        note = [newest.manifest.note] if newest.manifest.note else []
        news = what_is_new(shown.template, newest.template) if not isinstance(shown, str) else []
        return [f"Version {newest.manifest.version} is in the library.", *note, *news]

    def take_version(self, title_ids: list[str], version: int | None = None) -> list[str]:
        """Bring titles to a version of their templates, the newest if none is named, with their answers kept; says what was set aside."""
        said: list[str] = []
        cut = self.cut
        for title_id in title_ids:
            title = cut.title(title_id)
            opened = None if title is None else self._open(title.template, version or 0)
            if title is None or opened is None or isinstance(opened, str):
                said += [opened] if isinstance(opened, str) else []
                continue
            number = version or (opened.manifest.version if opened.manifest is not None else 0)
            over = carried_over(opened.template, title.answers, title.aside)
            said += over.said
            cut = change_titles(cut, [title_id], answers=over.answers, aside=over.aside, version=number)
        if cut != self.cut:
            self.edit("Take another version", lambda _: cut)
        return said

    def replace_template(self, title_ids: list[str], file_name: str) -> list[str]:
        """Another template for titles; answers to fields of the same name come along, the others are set aside."""
        opened = self._open(file_name, 0)
        if isinstance(opened, str):
            return [opened]
        said: list[str] = []
        cut = self.cut
        for title_id in title_ids:
            title = cut.title(title_id)
            if title is not None:
                over = carried_over(opened.template, title.answers, title.aside)
                said += over.said
                version = opened.manifest.version if opened.manifest is not None else 0
                cut = change_titles(cut, [title_id], template=file_name, answers=over.answers, aside=over.aside, version=version)
        self.edit("Another template", lambda _: cut)
        return said

    def scene_of(self, title: Title) -> Scene | str:
        """A title's scene at its length on the cut, or the reason why there is none."""
        opened = self.template_of(title)
        if isinstance(opened, str):
            return opened
        kept = self._scenes.get(title.id)
        made_for = (title.answers, title.whole, self.cut.frame.fps, title.reframed and (self.cut.frame.width, self.cut.frame.height))
        if kept is not None and kept[0] == made_for and kept[1] is opened:
            return kept[2]
        try:
            scene = title_scene(title, opened, self.cut.frame)
        except AvletError as error:
            return str(error)
        self._scenes = {i: one for i, one in self._scenes.items() if self.cut.title(i) is not None}
        self._scenes[title.id] = (made_for, opened, scene)
        while len(self._scenes) > _MOST_SCENES:
            del self._scenes[next(iter(self._scenes))]
        return scene

    def frame_of(self, title: Title, scene: Scene) -> int:
        """Which of a title's own frames shows at the playhead."""
        inside = max(0, min(title.length - 1, self.frame - title.start))
        return frame_in_title(title.before + inside, self.cut.frame.fps, scene.template.frame.fps, scene.length)

    def answers_of(self, title: Title, touched: bool = False) -> dict[str, Any]:
        """A title's answers by the labels of their fields, as they can be given to a title of another template.

        With ``touched`` only those that somebody gave.
        """
        opened = self.template_of(title)
        if isinstance(opened, str):
            return {}
        asked = [f for f in opened.template.card.fields if f.asks and (f.id in title.answers or not touched)]
        return {f.label: title.answers.get(f.id, f.start) for f in asked}

    def give_answers(self, title_ids: list[str], named: dict[str, Any]) -> None:
        """Give titles answers by label or id; what a card has no field for, or does not take, is left out."""
        cut = self.cut
        for title_id in title_ids:
            title = cut.title(title_id)
            opened = self.template_of(title) if title is not None else ""
            if title is None or isinstance(opened, str):
                continue
            by_name = {f.label.casefold(): f.id for f in opened.template.card.fields}
            found = {by_name.get(name.casefold(), name): value for name, value in named.items()}
            over = carried_over(opened.template, found, {})
            cut = change_titles(cut, [title_id], answers={**title.answers, **over.answers})
        if cut != self.cut:
            self.edit("Give answers", lambda _: cut)
