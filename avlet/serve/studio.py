"""What is made for browsers: pictures at once, reels in a breath, films one after another; each once, and swept when nobody wants it."""

import asyncio
import contextlib
import hashlib
import secrets
import shutil
import tempfile
import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, field
from multiprocessing import get_context
from pathlib import Path
from typing import Any, Literal, TypeVar

import msgspec

from avlet.document.editing.naming import slug
from avlet.errors import AvletError, RenderError
from avlet.limits import MOST_FILMS_WAITING, MOST_KEPT_FOR_BROWSERS, MOST_LOOKS_WAITING
from avlet.media.drawing import starting_processes
from avlet.media.reel import Reel
from avlet.serve import painting
from avlet.serve.painting import Failed, Kind, Seen
from avlet.serve.sent import SentFiles
from avlet.serve.tables import AskedRows
from avlet.serve.titles import Asked
from avlet.storage.atomic import sweep

Given = TypeVar("Given")
TABLE: Literal["table"] = "table"
"""The kind of what is made of a table: all its rows."""
ENDINGS: dict[Kind | Literal["table"], str] = {
    "prores": ".mov", "webm": ".webm", "frames": ".zip", "still": ".png", "reel": ".zip", "live": ".zip", TABLE: ".zip",
}  # fmt: skip
KEPT_FOR = 3600.0
"""Seconds that a film or a reel is kept after somebody asked for it last."""
_MOST_PICTURES = 512
"""Pictures of frames that are kept."""
_MOST_TRIES = 2
_DIED = "A painting process ended unexpectedly (out of memory?). Try again, or with a smaller picture."


class BusyError(AvletError):
    """More is asked for at once than can be made; it may be asked again in a while."""


class GoneError(AvletError):
    """A film, reel or picture that is not kept, or not any more."""


@dataclass
class Film:
    """Something to take away: on its way, there, failed or stopped."""

    id: str
    name: str
    kind: Kind | Literal["table"]
    asked: Asked | AskedRows
    frame: int | None
    path: Path
    state: str = "waiting"
    done: int = 0
    total: int = 0
    said: str = ""
    wanted_at: float = field(default_factory=time.monotonic)
    stopped: threading.Event = field(default_factory=threading.Event)


class Painters:
    """Processes that paint; those that died are made anew."""

    def __init__(self, count: int) -> None:
        self.count = count
        self._pool: ProcessPoolExecutor | None = None

    async def run(self, work: Callable[..., Given], *given: Any) -> Given:
        """What a process makes of what is given; once more where it died. Raises what went wrong there."""
        for _ in range(_MOST_TRIES):
            try:
                return await asyncio.wrap_future(self._submitted(work, *given))
            except BrokenProcessPool:
                self._pool = None
        raise RenderError(_DIED)

    def _submitted(self, work: Callable[..., Given], *given: Any) -> Any:
        if self._pool is None:
            self._pool = ProcessPoolExecutor(self.count, get_context("spawn"), initializer=painting.begin)
        with starting_processes():
            return self._pool.submit(work, *given)

    def end(self) -> None:
        """End all, whatever they are at."""
        if self._pool is not None:
            for process in list(getattr(self._pool, "_processes", {}).values()):
                process.kill()
            self._pool.shutdown(wait=True, cancel_futures=True)


class Studio:
    """Makes what is asked for, in ``workers`` processes; films in one process each, one at a time."""

    def __init__(self, workers: int) -> None:
        self.workers = max(1, workers)
        sweep(Path(tempfile.gettempdir()))
        self.folder = Path(tempfile.mkdtemp(prefix="avlet-serve-"))
        self._looks, self._reel_makers = Painters(self.workers), Painters(max(1, self.workers // 2))
        self.needed: Callable[[], set[str]] = set
        """The reels that are kept whoever asks for them: those on air."""
        self._going = 0
        self._waiting: dict[str, int] = {}
        self._pictures: OrderedDict[str, bytes] = OrderedDict()
        self._reels: OrderedDict[str, tuple[Reel, float]] = OrderedDict()
        self._making: dict[str, asyncio.Task[Reel]] = {}
        self.films: OrderedDict[str, Film] = OrderedDict()
        self.sent = SentFiles()
        self._queue: asyncio.Queue[Film] = asyncio.Queue()
        self._runner: asyncio.Task[None] | None = None
        self._sweeper: asyncio.Task[None] | None = None
        self._ready: list[asyncio.Task[None]] = []

    async def begin(self) -> None:
        """Start what runs beside the server."""
        self._runner = asyncio.create_task(self._run_films())
        self._ready = [asyncio.create_task(self._looks.run(painting.ready)) for _ in range(self.workers)]
        self._sweeper = asyncio.create_task(self._sweep())

    async def end(self) -> None:
        """End all processes, and leave no files."""
        for film in self.films.values():
            film.stopped.set()
        for task in (self._runner, self._sweeper, *self._ready, *self._making.values()):
            if task is not None:
                task.cancel()
                with contextlib.suppress(asyncio.CancelledError, Exception):
                    await task
        for painters in (self._looks, self._reel_makers):
            painters.end()
        shutil.rmtree(self.folder, ignore_errors=True)

    # Pictures

    async def see(self, asked: Asked, frame: int | None, width: int, close: bool = False) -> tuple[str, Seen]:
        """A frame of a title, and the name that its picture is kept by; see :func:`painting.see`. Raises ``BusyError``."""
        seen: Seen = await self._painted(painting.see, asked, frame, width, close)
        return self._keep(seen.picture), seen

    async def plate(self, name: str, width: int) -> bytes:
        """A plate to look at titles against."""
        key = f"plate {name} {width}"
        if key not in self._pictures:
            self._pictures[key] = await self._painted(painting.plate, name, width)
        return self._pictures[key]

    def picture(self, name: str) -> bytes:
        """A picture that was painted lately; raises ``GoneError``."""
        if name not in self._pictures:
            raise GoneError("That picture is not kept any more. Ask for the frame again.")
        return self._pictures[name]

    def _keep(self, picture: bytes) -> str:
        name = hashlib.blake2b(picture, digest_size=16).hexdigest()
        self._pictures[name] = picture
        self._pictures.move_to_end(name)
        while len(self._pictures) > _MOST_PICTURES:
            self._pictures.popitem(last=False)
        return name

    async def _painted(self, work: Callable[..., Given], *given: Any) -> Given:
        """What a process makes; once more where it died."""
        if self._going >= MOST_LOOKS_WAITING:
            raise BusyError("Too many pictures are asked for at once. Try again in a second.")
        self._going += 1
        try:
            return await self._looks.run(work, *given)
        finally:
            self._going -= 1

    # Reels

    async def reel(self, asked: Asked, width: int) -> tuple[str, Reel]:
        """A title's reel, and the name that it is kept by. Who asks for the same at the same time gets the same."""
        name = hashlib.blake2b(
            msgspec.json.encode((asked.place, asked.stamp, dict(asked.answers), asked.length, asked.size, width)), digest_size=16
        ).hexdigest()
        known = self._reels.get(name)
        reel = known[0] if known is not None else await self._waited_for(name, asked, width)
        self._reels[name] = reel, time.monotonic()
        self._reels.move_to_end(name)
        self._make_room()
        return name, reel

    async def _waited_for(self, name: str, asked: Asked, width: int) -> Reel:
        """A reel that is being made; it is stopped when the last who waits for it has gone."""
        stop = painting.stop_file(self.folder / name)
        if name not in self._making:
            if len(self._making) >= MOST_LOOKS_WAITING:
                raise BusyError("Too many reels are asked for at once. Try again in a second.")
            stop.unlink(missing_ok=True)
            self._making[name] = asyncio.create_task(self._reel_makers.run(painting.reel, asked, width, self.folder / name))
            self._making[name].add_done_callback(lambda _: self._making.pop(name, None))
        making = self._making[name]
        self._waiting[name] = self._waiting.get(name, 0) + 1
        try:
            return await asyncio.shield(making)
        finally:
            self._waiting[name] -= 1
            if not self._waiting[name]:
                del self._waiting[name]
                if not making.done():
                    stop.touch()
                    self._making.pop(name, None)
                    making.add_done_callback(lambda task: task.cancelled() or task.exception())

    def reel_file(self, name: str, file: str) -> Path:
        """A file of a reel; raises ``GoneError`` for one that is not kept."""
        known = self._reels.get(name)
        if known is None or (file != "reel.json" and all(file != picture.file for picture in known[0].pictures)):
            raise GoneError("That reel is not kept any more. Ask for it again.")
        self._reels[name] = known[0], time.monotonic()
        return self.folder / name / file

    # Films

    def want(self, name: str, kind: Kind | Literal["table"], asked: Asked | AskedRows, frame: int | None = None) -> Film:
        """Have something made to be taken away. Raises ``BusyError`` where too many wait."""
        if sum(film.state in ("waiting", "going") for film in self.films.values()) >= MOST_FILMS_WAITING:
            raise BusyError(f"{MOST_FILMS_WAITING} films wait to be made. Try again when some are done.")
        film_id = secrets.token_hex(8)
        path = self.folder / "films" / film_id / f"{slug(name)}{ENDINGS[kind]}"
        with painting.on_the_servers_disk():
            path.parent.mkdir(parents=True, exist_ok=True)
        film = self.films[film_id] = Film(film_id, path.name, kind, asked, frame, path)
        self._queue.put_nowait(film)
        return film

    def film(self, film_id: str) -> Film:
        """Something that was wanted; raises ``GoneError``."""
        film = self.films.get(film_id)
        if film is None:
            raise GoneError("That film is not kept any more. It was made more than an hour ago, or taken away. Make it again.")
        film.wanted_at = time.monotonic()
        return film

    def stop(self, film_id: str) -> None:
        """Stop a film where it is, and take away what is there of it."""
        film = self.film(film_id)
        film.stopped.set()
        if film.state != "going":
            self._drop(film)

    def _drop(self, film: Film) -> None:
        shutil.rmtree(film.path.parent, ignore_errors=True)
        self.films.pop(film.id, None)

    async def _run_films(self) -> None:
        while True:
            film = await self._queue.get()
            if film.stopped.is_set():
                continue
            film.state = "going"
            making = asyncio.get_running_loop().run_in_executor(None, have_made, film)
            try:
                await asyncio.shield(making)
            except asyncio.CancelledError:
                film.stopped.set()
                await making
                raise
            if film.stopped.is_set():
                self._drop(film)

    # Keeping

    async def _sweep(self) -> None:
        while True:
            await asyncio.sleep(30)
            self.sweep(time.monotonic())

    def sweep(self, now: float) -> None:
        """Let go of what nobody asked for in the last hour."""
        needed = self.needed()
        for name, (_, wanted_at) in list(self._reels.items()):
            if now - wanted_at > KEPT_FOR and name not in needed:
                self._forget_reel(name)
        self.sent.sweep(now - KEPT_FOR)
        for film in list(self.films.values()):
            if film.state in ("done", "failed") and now - film.wanted_at > KEPT_FOR:
                self._drop(film)

    def _make_room(self) -> None:
        held = sum(picture.bytes for reel, _ in self._reels.values() for picture in reel.pictures)
        needed = self.needed()
        for oldest in [name for name in self._reels if name not in needed][:-1]:
            if held <= MOST_KEPT_FOR_BROWSERS:
                return
            held -= sum(picture.bytes for picture in self._reels[oldest][0].pictures)
            self._forget_reel(oldest)

    def _forget_reel(self, name: str) -> None:
        self._reels.pop(name, None)
        shutil.rmtree(self.folder / name, ignore_errors=True)


def have_made(film: Film) -> None:
    """In a thread: have a process make a film, and follow it."""
    context = get_context("spawn")
    mine, theirs = context.Pipe()
    process = context.Process(target=painting.work, args=(theirs, film.kind, film.asked, film.frame, film.path), daemon=True)
    with starting_processes():
        process.start()
    theirs.close()
    try:
        while True:
            if film.stopped.is_set():
                with contextlib.suppress(OSError):
                    mine.send(None)
                process.join(2)
                return
            if not mine.poll(0.2):
                continue
            told = mine.recv()
            if told is None:
                film.state = "done"
                return
            if isinstance(told, Failed):
                film.state, film.said = "failed", told.words
                return
            film.done, film.total = told
    except (EOFError, OSError):
        film.state, film.said = "failed", _DIED
    finally:
        if process.is_alive():
            process.join(1)
            process.kill()
        process.join()
        mine.close()
        if film.state != "done":
            shutil.rmtree(film.path.parent, ignore_errors=True)
