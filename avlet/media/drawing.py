"""Drawing ahead: worker processes that paint frames and turn them into an encoder's planes."""

import contextlib
import os
import shutil
import signal
import sys
import tempfile
import threading
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, field
from multiprocessing import get_context
from multiprocessing.connection import Connection
from pathlib import Path
from types import ModuleType
from typing import Any

import numpy as np

from avlet.document.template import Template
from avlet.errors import RenderError
from avlet.geometry import Box
from avlet.layout.rest import faces_of
from avlet.media.planes import Layout, fill_planes, regions
from avlet.media.plates import paint_plate
from avlet.paint.painter import Pixels, new_pixels
from avlet.paint.scene import Scene
from avlet.storage.atomic import sweep
from avlet.storage.processes import end_with_parent
from avlet.text.fonts import Face, FontBook, bundled_fonts
from avlet.text.setting import named_faces

_MEMORY = "/dev/shm"
_DIED = "A drawing process ended unexpectedly (out of memory?). Try a smaller size."
_LOOK = 1.0
"""Seconds after which it is looked whether the workers are there still."""
_ENOUGH_FOR_WORKERS = 12
"""From so many frames on, starting processes is worth their time."""


@dataclass(frozen=True)
class Drawing:
    """What is drawn: a scene, or a ``view`` of it, at a size, over a plate or over nothing, so that it can be sent to another process.

    ``own_faces`` are the fonts that came with the template, ``named_faces`` those of the machine that its texts name: as in any book,
    these stand in for no other but by ``aliases``, the machine's own rules for families that are not there.
    """

    template: Template
    own_faces: tuple[Face, ...]
    named_faces: tuple[Face, ...]
    aliases: tuple[tuple[str, str], ...]
    answers: dict[str, Any]
    length: int
    width: int
    height: int
    plate: str | None = None
    view: Box | None = None
    _made: Scene | None = field(default=None, repr=False, compare=False)

    def scene(self) -> Scene:
        """The scene that it is drawn from: here the one that it was made of, in another process the same made anew."""
        return self._made if self._made is not None else Scene(self.template, self.book(), self.answers, self.length)

    def book(self) -> FontBook:
        """The fonts that it is set in, those that ship included."""
        return FontBook((*self.own_faces, *bundled_fonts().faces), lambda: self.named_faces, dict(self.aliases).get)

    def __getstate__(self) -> dict[str, Any]:
        """Scenes stay in their own process."""
        return {**self.__dict__, "_made": None}

    @classmethod
    def of(cls, scene: Scene, size: tuple[int, int] | None = None, plate: str | None = None, view: Box | None = None) -> "Drawing":
        """A drawing of a scene, in the template's own size unless another is given; of all of its frame, or of a view."""
        frame = scene.template.frame
        width, height = size or (frame.width, frame.height)
        ships = set(bundled_fonts().faces)
        own = tuple(face for face in scene.book.faces if face not in ships)
        named = tuple(dict.fromkeys(face for face in faces_of(scene.rest, scene.book) if face not in ships and face not in own))
        families = dict.fromkeys(family for part in scene.rest.parts.values() for family, _ in named_faces(part.part))
        aliases = tuple((family, other) for family in families if (other := scene.book.standing_in_for(family)) is not None)
        return cls(scene.template, own, named, aliases, dict(scene.bound.answers), scene.length, width, height, plate, view, scene)


class Painter:
    """Paints frames of one drawing and turns them into planes."""

    def __init__(self, drawing: Drawing) -> None:
        self.drawing = drawing
        self.scene = drawing.scene()
        self.pixels = new_pixels(drawing.width, drawing.height)
        self.coder: object = None
        """What codes its frames, kept between them."""

    def paint(self, frame: int) -> Pixels:
        """Premultiplied RGBA of a frame, over the plate if there is one. The array is used again for the next."""
        if self.drawing.plate:
            paint_plate(self.drawing.plate, float(frame / self.drawing.template.frame.fps), self.pixels)
        self.scene.paint(frame, self.pixels, clear=self.drawing.plate is None, view=self.drawing.view)
        return self.pixels

    def fill(self, frame: int, planes: list[np.ndarray], layout: Layout, used: Box | None) -> Box | None:
        """Paint a frame into an encoder's planes, of which no more than an area is ``used``. Returns the area that is now."""
        for plane, nothing in zip(regions(planes, layout, used) if used is not None else (), layout.empty, strict=used is not None):
            plane[...] = nothing
        return fill_planes(self.paint(frame), planes, layout)

    @property
    def whole(self) -> Box:
        """The whole picture."""
        return Box(0, 0, self.drawing.width, self.drawing.height)


def planes_in(memory: np.ndarray, layout: Layout, width: int, height: int) -> list[np.ndarray]:
    """Arrays over one stretch of bytes, one for each plane."""
    planes, at = [], 0
    for shape in layout.shapes(width, height):
        size = int(np.prod(shape)) * np.dtype(layout.dtype).itemsize
        planes.append(memory[at : at + size].view(layout.dtype).reshape(shape))
        at += size
    return planes


def bytes_of_planes(layout: Layout, width: int, height: int) -> int:
    """How much memory the planes of one picture take."""
    return sum(int(np.prod(s)) for s in layout.shapes(width, height)) * np.dtype(layout.dtype).itemsize


_worker: Painter | None = None
_slots: list[np.ndarray] = []


def _start_worker(drawing: Drawing, slot_names: list[str]) -> None:
    global _worker
    begin_worker()
    _worker = Painter(drawing)
    _slots.extend(np.memmap(name, np.uint8, "r+") for name in slot_names)


def begin_worker() -> None:
    """What a worker process does first: interrupts are its parent's, and it does not outlive it."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    signal.signal(signal.SIGTERM, signal.SIG_DFL)
    end_with_parent()


def _draw_into(slot: int, frame: int, layout: Layout, used: Box | None) -> Box | None:
    assert _worker is not None
    planes = planes_in(_slots[slot], layout, _worker.drawing.width, _worker.drawing.height)
    return _worker.fill(frame, planes, layout, used)


def draw_with(work: Callable[[Painter, int], Any], frame: int) -> Any:
    """In a worker: what ``work(painter, frame)`` makes of a frame."""
    assert _worker is not None
    return work(_worker, frame)


def drawn_planes(
    drawing: Drawing, frames: list[int], layout: Layout, workers: int | None = None
) -> Iterator[tuple[int, list[np.ndarray], Box | None]]:
    """The planes of each frame, in order, drawn ahead by workers, with the area outside of which they are empty.

    A frame's arrays hold until the next is asked for.
    """
    count = workers_for(len(frames), workers)
    size = bytes_of_planes(layout, drawing.width, drawing.height)
    if count == 0:
        painter = Painter(drawing)
        planes = planes_in(np.empty(size, np.uint8), layout, drawing.width, drawing.height)
        used: Box | None = painter.whole
        for frame in frames:
            used = painter.fill(frame, planes, layout, used)
            yield frame, planes, used
        return
    with _shared_slots(count * 2 + 1, size) as names, Pool(count, drawing, names) as pool:
        slots = [np.memmap(name, np.uint8, "r+") for name in names]
        areas: list[Box | None] = [Box(0, 0, drawing.width, drawing.height)] * len(slots)
        waiting: list[tuple[int, int, Future[Box | None]]] = []
        todo = list(enumerate(frames))
        while todo or waiting:
            while todo and len(waiting) < len(slots) - 1:
                number, frame = todo.pop(0)
                slot = number % len(slots)
                waiting.append((frame, slot, pool.submit(_draw_into, slot, frame, layout, areas[slot])))
            frame, slot, future = waiting.pop(0)
            areas[slot] = pool.answer(future)
            yield frame, planes_in(slots[slot], layout, drawing.width, drawing.height), areas[slot]


@contextlib.contextmanager
def _shared_slots(count: int, size: int) -> Iterator[list[str]]:
    """Files in memory that workers and the encoder share, each the size of one picture's planes."""
    roomy = os.access(_MEMORY, os.W_OK) and shutil.disk_usage(_MEMORY).free > count * size * 1.25
    memory = _MEMORY if roomy else None
    if memory is not None:
        sweep(Path(memory))
    with tempfile.TemporaryDirectory(prefix=f"avlet-{os.getpid()}-", dir=memory) as folder:
        names = [str(Path(folder) / str(number)) for number in range(count)]
        for name in names:
            with open(name, "wb") as file:
                os.posix_fallocate(file.fileno(), 0, size)
        yield names


def drawn_results(
    drawing: Drawing, frames: list[int], work: Callable[[Painter, int], Any], workers: int | None = None
) -> Iterator[tuple[int, Any]]:
    """What ``work(painter, frame)`` makes of each frame, in order, made by workers. ``work`` is a function of a module."""
    count = workers_for(len(frames), workers, 0)
    if count == 0:
        painter = Painter(drawing)
        yield from ((frame, work(painter, frame)) for frame in frames)
        return
    with Pool(count, drawing, []) as pool:
        waiting: list[tuple[int, Future[Any]]] = []
        todo = list(frames)
        while todo or waiting:
            while todo and len(waiting) < count * 4:
                frame = todo.pop(0)
                waiting.append((frame, pool.submit(draw_with, work, frame)))
            frame, future = waiting.pop(0)
            yield frame, pool.answer(future)


@contextlib.contextmanager
def starting_processes() -> Iterator[None]:
    """Processes may be started: they need only this package.

    Python would import the running script into each, so it is out of sight here. What interrupts this process does not interrupt
    them: it ends them itself, and not while one is being told what it is.
    """
    script = sys.modules["__main__"]
    sys.modules["__main__"] = ModuleType("__main__")
    before = signal.pthread_sigmask(signal.SIG_BLOCK, {signal.SIGINT})
    try:
        with _interrupted_later():
            yield
    finally:
        signal.pthread_sigmask(signal.SIG_SETMASK, before)
        sys.modules["__main__"] = script


@contextlib.contextmanager
def _interrupted_later() -> Iterator[None]:
    """What interrupts meanwhile does so at the end: whichever thread a signal reaches, it is the main one that is interrupted."""
    if threading.current_thread() is not threading.main_thread():
        yield
        return
    came: list[tuple[int, Any]] = []
    usual = {number: signal.signal(number, lambda n, at: came.append((n, at))) for number in (signal.SIGINT, signal.SIGTERM)}
    try:
        yield
    finally:
        for number, handler in usual.items():
            signal.signal(number, handler if handler is not None else signal.SIG_DFL)
        for came_first, at in came[:1]:
            handler = usual[signal.Signals(came_first)]
            if callable(handler):
                handler(came_first, at)
            else:
                os.kill(os.getpid(), came_first)


class Pool(ProcessPoolExecutor):
    """Workers for one drawing; leaving it drops what is not yet drawn."""

    def __init__(self, count: int, drawing: Drawing, slots: list[str]) -> None:
        super().__init__(count, get_context("spawn"), _start_worker, (drawing, slots))

    def submit(self, fn: Callable[..., Any], /, *args: Any, **kwargs: Any) -> "Future[Any]":
        """Have something done by the next worker that is free, which is started where none is."""
        try:
            with starting_processes():
                return super().submit(fn, *args, **kwargs)
        except BrokenProcessPool:
            raise RenderError(_DIED) from None

    def answer(self, future: "Future[Any]") -> Any:
        """A worker's result; a worker that died is said in words, also one that died in the middle of its answer."""
        dead = False
        while True:
            try:
                return result_of(future, _LOOK)
            except TimeoutError:
                if dead:
                    raise RenderError(_DIED) from None
                dead = any(process.exitcode is not None for process in list((self._processes or {}).values()))

    def __exit__(self, kind: object, *_: object) -> None:
        if kind is not None:
            self._let_go()
        self.shutdown(wait=True, cancel_futures=True)

    def _let_go(self) -> None:
        """End all workers, whatever they are at, and the wait for what they may have begun to answer."""
        for process in list((self._processes or {}).values()):
            process.kill()
            process.join()
        writer: Connection = self._result_queue._writer  # type: ignore[attr-defined]  # nothing public lets go of it
        writer.close()  # else half an answer would be waited for for ever: this end is the last that is open


def result_of(future: "Future[Any]", seconds: float | None = None) -> Any:
    """A worker's result; a worker that died is said in words. Raises ``TimeoutError`` where there is none within some seconds."""
    try:
        return future.result(seconds)
    except BrokenProcessPool:
        raise RenderError(_DIED) from None


def workers_for(frames: int, wanted: int | None, beside: int = 1) -> int:
    """How many processes to draw with: none for a handful of frames, else one a core but for those that have work beside it."""
    if wanted is not None:
        return wanted
    return 0 if frames < _ENOUGH_FOR_WORKERS else max(1, (os.cpu_count() or 2) - beside)
