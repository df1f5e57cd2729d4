"""Rendering all of a cut: the film to approve, each title alone with alpha, and the timeline that points at those."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

from avlet.document.cut import Cut, Title
from avlet.errors import AvletError
from avlet.media.cut_film import render_cut
from avlet.media.drawing import Drawing
from avlet.media.render import render
from avlet.media.timeline import write_rendered
from avlet.media.titles import film_name, title_scene
from avlet.paint.scene import Scene
from avlet.storage.handing_over import version_path
from avlet.storage.library import find_package
from avlet.storage.package import Opened, open_template

Told = Callable[[int, str], bool]
"""Called with the frames done in all and what is being written; says whether to go on."""


def open_titles(cut: Cut, folders: Sequence[Path]) -> dict[str, Opened | str]:
    """Each title's template at its version, or why there is none, by the title's id."""
    found: dict[str, Opened | str] = {}
    for title in cut.titles:
        try:
            found[title.id] = open_template(version_path(find_package(folders, title.template), title.version))
        except AvletError as error:
            found[title.id] = str(error)
    return found


@dataclass(frozen=True)
class Done:
    """What was written, and what is to be said."""

    written: tuple[Path, ...]
    said: tuple[str, ...]


@dataclass
class CutRender:
    """All that is rendered of one cut into a folder. ``suffix`` and ``codec`` are the titles'; ``height`` the film's lines."""

    cut: Cut
    opened: Mapping[str, Opened | str]
    folder: Path
    name: str
    suffix: str = ".mov"
    codec: str | None = None
    height: int = 720
    film: bool = True

    def __post_init__(self) -> None:
        self._scenes: dict[str, Scene | str] = {}
        self.finished: list[Path] = []
        """What is whole already, also when it is stopped before its end."""

    @property
    def total(self) -> int:
        """Frames in all."""
        alone = [scene for scene in map(self.scene_of, self.cut.titles) if isinstance(scene, Scene)]
        return sum(scene.length for scene in alone) + (self.cut.length if self.film else 0)

    def scene_of(self, title: Title) -> Scene | str:
        """A title's scene, or why there is none."""
        if title.id not in self._scenes:
            opened = self.opened[title.id]
            try:
                self._scenes[title.id] = opened if isinstance(opened, str) else title_scene(title, opened, self.cut.frame.fps)
            except AvletError as error:
                self._scenes[title.id] = str(error)
        return self._scenes[title.id]

    def run(self, told: Told) -> Done:
        """Write everything. Raises ``RenderError``, ``StorageError``, or ``StoppedError`` when it is told to stop."""
        before, films, said = 0, {}, list[str]()
        self.finished.clear()
        for title in self.cut.titles:
            opened, scene = self.opened[title.id], self.scene_of(title)
            if isinstance(opened, str) or isinstance(scene, str):
                said.append(f"{title.template} is left out: {scene if isinstance(scene, str) else opened}")
                continue
            path = self.folder / f"{film_name(self.cut, title, opened)}{self.suffix}"
            drawing = Drawing.of(scene)

            def progress(done: int, _: int, start: int = before, words: str = path.name) -> bool:
                return told(start + done, words)

            films[title.id] = render(drawing, path, self.codec, progress).path
            self.finished.append(path)
            before += scene.length
        if self.film:
            path = self.folder / f"{self.name}.mp4"
            said += render_cut(self.cut, self.scene_of, path, self.height, lambda done, _: told(before + done, path.name))
            self.finished.append(path)
        timeline = self.folder / f"{self.name}.otio"
        write_rendered(self.cut, films, timeline)
        self.finished.append(timeline)
        return Done(tuple(self.finished), tuple(dict.fromkeys(said)))
