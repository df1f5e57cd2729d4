"""Rendering all of a cut: the film to approve, each title alone with alpha, and the timeline that points at those.

What is finished is known by what it was made of, as a roster's files are: it is not made again, and keeps its place under another name.
"""

import contextlib
import hashlib
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import msgspec

from avlet.document.cut import Cut, Title, frames_in_title, numbered
from avlet.document.versions import carried_over
from avlet.errors import AvletError, StorageError
from avlet.media.cut_film import render_cut
from avlet.media.drawing import Drawing
from avlet.media.formats import film_format
from avlet.media.render import Progress, render
from avlet.media.timeline import write_rendered
from avlet.media.titles import film_name, title_drawing, title_scene
from avlet.paint.scene import Scene
from avlet.roster.delivery import Delivered, Ledger, read_delivery, source_of, still_there
from avlet.roster.making import Source, measured, versions
from avlet.roster.moving import moved_to_their_names, removed
from avlet.storage.handing_over import version_path
from avlet.storage.library import find_package
from avlet.storage.package import Opened, open_template, refuse_as_output

Told = Callable[[int, str], bool]
"""Called with the frames done in all and what is being written; says whether to go on."""


def title_mark(cut: Cut, title: Title, opened: Opened, source: str, suffix: str, codec: str) -> str:
    """What the film of a title follows from, as one name: its template's ``source``, answers, length, place, and how it is coded."""
    frames = frames_in_title(title.whole, cut.frame.fps, opened.template.frame.fps)
    answers = carried_over(opened.template, title.answers, {}).answers
    place = (title.x, title.y, title.scale, title.reframed, cut.frame.width, cut.frame.height)
    return _digest(source, answers, frames, place, suffix, codec)


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
    """What was written or was there, what of it is ``new``, what is to be said, and which files of this cut no title wants any more."""

    written: tuple[Path, ...]
    new: tuple[Path, ...]
    said: tuple[str, ...]
    kept: int = 0
    renamed: int = 0
    superseded: tuple[str, ...] = ()


@dataclass
class CutRender:
    """All that is rendered of one cut into a folder. ``suffix`` and ``codec`` are the titles'; ``height`` the film's lines.

    ``each`` is called with every file as it is there, and whether it is new. With ``only``, ids of titles, just their films are made; all
    else stays as it is, also on the folder's list.
    """

    cut: Cut
    opened: Mapping[str, Opened | str]
    folder: Path
    name: str
    suffix: str = ".mov"
    codec: str | None = None
    height: int = 720
    film: bool = True
    each: Callable[[Path, bool], None] = lambda path, new: None
    only: frozenset[str] = frozenset()

    def __post_init__(self) -> None:
        self.cut = numbered(self.cut)
        self._scenes: dict[str, Scene | str] = {}
        self._sources: dict[tuple[str, int], str] = {}
        self._superseded: tuple[Delivered, ...] = ()
        self._new: list[Path] = []
        self.finished: list[Path] = []
        """What is whole already, also when it is stopped before its end."""

    @property
    def total(self) -> int:
        """Frames in all."""
        alone = [scene for scene in map(self.scene_of, filter(self._asked, self.cut.titles)) if isinstance(scene, Scene)]
        return sum(scene.length for scene in alone) + (self.cut.length if self.film and not self.only else 0)

    def _asked(self, title: Title) -> bool:
        return not self.only or title.id in self.only

    def scene_of(self, title: Title) -> Scene | str:
        """A title's scene, or why there is none."""
        if title.id not in self._scenes:
            opened = self.opened[title.id]
            try:
                self._scenes[title.id] = opened if isinstance(opened, str) else title_scene(title, opened, self.cut.frame)
            except AvletError as error:
                self._scenes[title.id] = str(error)
        return self._scenes[title.id]

    def _why_not(self, title: Title) -> str:
        """Why there can be no film of a title; empty where there can."""
        opened, scene = self.opened[title.id], self.scene_of(title)
        return opened if isinstance(opened, str) else scene if isinstance(scene, str) else ""

    def _made(self) -> Iterator[tuple[Title, Opened, Scene, Path]]:
        """The titles of which there are films."""
        for title in self.cut.titles:
            opened, scene = self.opened[title.id], self.scene_of(title)
            if not isinstance(opened, str) and not isinstance(scene, str):
                yield title, opened, scene, self.folder / f"{film_name(title)}{self.suffix}"

    @property
    def paths(self) -> list[Path]:
        """All that will be there."""
        films = [path for *_, path in self._made()]
        return [*films, *([self.folder / f"{self.name}.mp4"] if self.film else []), self.folder / f"{self.name}.otio"]

    def _mark(self, title: Title, opened: Opened) -> str:
        """What a title's film follows from, as one name."""
        key = title.template, title.version
        if key not in self._sources:
            self._sources[key] = Source.of(opened.template, opened.book).mark
        form = film_format(Path(f"film{self.suffix}"), self.codec, None) if self.suffix else None
        return title_mark(self.cut, title, opened, self._sources[key], self.suffix, form.name if form is not None else "")

    def _film_mark(self, marks: Mapping[str, str]) -> str:
        """What the film to approve follows from: its pictures, and where which title lies on them."""
        titles = [(t.start, t.length, t.track, marks.get(t.id)) for t in self.cut.titles]
        files = [_stamp(Path(clip.file)) for clip in self.cut.pictures if clip.file]
        return _digest(versions(), self.cut.frame, self.cut.pictures, files, titles, self.height)

    def planned(self) -> list[tuple[Path, bool]]:
        """All that will be there, and whether it is going to be made; what stands on the folder's list already is not."""
        source, delivered = source_of("cut", self.name, self.folder), read_delivery(self.folder)
        known = [one for one in (*delivered.others, *delivered.superseded, *delivered.files) if delivered.owners[one.file] == source]
        marks = {title.id: self._mark(title, opened) for title, opened, _, _ in self._made()}
        wanted = [(path, marks[title.id]) for title, _, _, path in self._made()]
        if self.film:
            wanted.append((self.folder / f"{self.name}.mp4", self._film_mark(marks)))
        there = {one.made_of for one in known if still_there(self.folder, one)}
        return [*((path, mark not in there) for path, mark in wanted), (self.folder / f"{self.name}.otio", True)]

    def run(self, told: Told) -> Done:
        """Write what is not there yet. Raises ``RenderError``, ``StorageError``, or ``StoppedError`` when it is told to stop."""
        said = [
            f"{title.template} is left out: {words}" for title in filter(self._asked, self.cut.titles) if (words := self._why_not(title))
        ]
        refuse_as_output(self.folder)
        wanted = list(self._made())
        marks = {title.id: self._mark(title, opened) for title, opened, _, _ in wanted}
        source, delivered = source_of("cut", self.name, self.folder), read_delivery(self.folder)
        known = (*delivered.others, *delivered.superseded, *delivered.files)
        before = {one.file: one for one in known if delivered.owners[one.file] == source}
        ledger = Ledger(self.folder, "", self.cut.name, source)
        ledger.others = tuple(one for one in known if one.file not in before)
        self.folder.mkdir(parents=True, exist_ok=True)
        renamed = moved_to_their_names(self.folder, before, {path.name: marks[title.id] for title, _, _, path in wanted})
        self.finished.clear()
        self._new.clear()
        run = _Run(self.folder, before, ledger, self._finish)
        whole_run = False
        try:
            films, done = self._titles(run, wanted, marks, told)
            if self.film and not self.only:
                path, shape = self.folder / f"{self.name}.mp4", self.cut.frame

                def whole(path: Path = path, start: int = done) -> None:
                    said.extend(render_cut(self.cut, self.scene_of, path, self.height, lambda frames, _: told(start + frames, path.name)))

                width = round(shape.width * self.height / shape.height)
                facts = _facts(path, None, width, self.height, self.cut.length, shape.rate)
                run.have(path, self._film_mark(marks), whole, Delivered(**facts))
            if not self.only:
                timeline = self.folder / f"{self.name}.otio"
                write_rendered(self.cut, films, timeline)
                self._finish(timeline, True)
            whole_run = not self.only or delivered.complete
        finally:
            left_out = {film_name(title) for title in self.cut.titles if self._why_not(title)}
            for path in (*self.paths, *(self.folder / name for name in before if Path(name).stem in left_out)):
                run.keep(path)  # what was not come to, or cannot be made now, is not given up
            names = {one.file for one in ledger.files.values()} | {path.name for path in self.paths}
            ledger.superseded = tuple(one for one in before.values() if one.file not in names and still_there(self.folder, one))
            if ledger.files or known or whole_run:
                with contextlib.suppress(StorageError):
                    ledger.write(complete=whole_run)
        self._superseded = ledger.superseded
        superseded = () if self.only else tuple(one.file for one in ledger.superseded)
        if superseded:
            said.append(f"No title wants {', '.join(superseded)} any more.")
        return Done(tuple(self.finished), tuple(self._new), tuple(dict.fromkeys(said)), run.kept, renamed, superseded)

    def _titles(
        self, run: "_Run", wanted: Sequence[tuple[Title, Opened, Scene, Path]], marks: Mapping[str, str], told: Told
    ) -> tuple[dict[str, Path], int]:
        """Make the films of the titles; all of them by id, and the frames that were asked for."""
        done, films = 0, {}
        for title, _, scene, path in wanted:
            if not self._asked(title):
                continue
            drawing = title_drawing(title, scene, self.cut.frame)

            def progress(frames: int, _: int, start: int = done, words: str = path.name) -> bool:
                return told(start + frames, words)

            def make(drawing: Drawing = drawing, path: Path = path, progress: Progress = progress) -> None:
                render(drawing, path, self.codec, progress)

            facts = _facts(path, self.codec, drawing.width, drawing.height, scene.length, scene.template.frame.rate)
            run.have(path, marks[title.id], make, Delivered(**facts))
            films[title.id] = path
            done += scene.length
        return films, done

    def prune(self) -> tuple[str, ...]:
        """Take away what the last run found that no title wants any more; the names of what is gone."""
        return removed(self.folder, self._superseded)

    def _finish(self, path: Path, new: bool) -> None:
        self.finished.append(path)
        self._new += [path] * new
        self.each(path, new)


@dataclass
class _Run:
    """One run: what is on the list already is not made again."""

    folder: Path
    before: Mapping[str, Delivered]
    ledger: Ledger
    finish: Callable[[Path, bool], None]
    kept: int = 0

    def have(self, path: Path, mark: str, make: Callable[[], None], facts: Delivered) -> None:
        """Make a file unless it is there, and put it on the list. A folder of pictures is always made."""
        there = self.before.get(path.name)
        new = there is None or there.made_of != mark or not still_there(self.folder, there)
        if new:
            make()
        self.kept += not new
        self.finish(path, new)
        if path.is_file():
            size, sha256 = measured(path)
            self._put(msgspec.structs.replace(facts, size=size, sha256=sha256, made_of=mark, source=self.ledger.source))

    def keep(self, path: Path) -> None:
        """Leave a file as it is, and on the list if it is on that."""
        there = self.before.get(path.name)
        if there is not None and path.is_file() and all(one.file != path.name for one in self.ledger.files.values()):
            self._put(there)

    def _put(self, one: Delivered) -> None:
        number = len(self.ledger.files)
        self.ledger.put(number, msgspec.structs.replace(one, row=number + 1))


def _facts(path: Path, codec: str | None, width: int, height: int, frames: int, rate: str) -> dict[str, Any]:
    """What is known of a file before it is made."""
    form = film_format(path, codec, "a plate")
    name = form.name if form is not None else ""
    return {
        "file": path.name, "row": 1, "kind": name, "codec": name, "language": "", "width": width, "height": height, "frames": frames,
        "rate": rate, "size": 0, "sha256": "", "made_of": "",
    }  # fmt: skip


def _digest(*told: object) -> str:
    return hashlib.sha256(msgspec.json.encode(told)).hexdigest()


def _stamp(path: Path) -> tuple[int, int]:
    try:
        found = path.stat()
    except (OSError, ValueError):
        return 0, 0
    return found.st_mtime_ns, found.st_size
