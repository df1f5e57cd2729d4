"""Processes on this machine that make a roster's files. One that dies costs only the file that it was at."""

import contextlib
import os
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from multiprocessing import get_context
from multiprocessing.connection import Connection, wait
from multiprocessing.process import BaseProcess
from typing import Any, Protocol

from avlet.errors import AvletError
from avlet.media.drawing import begin_worker, starting_processes
from avlet.media.render import Progress, StoppedError
from avlet.roster.making import Job, Made, Source, learn, make

MOST_TRIES = 3
"""How often a file is begun whose worker dies."""
_PATIENCE = 20.0
"""Seconds that a worker has to stop where it is."""
_TELLS = 5
"""Frames after which a worker says how far it is."""


@dataclass(frozen=True)
class Going:
    """A file is being made: frames done, and frames in all."""

    number: int
    done: int
    total: int


@dataclass(frozen=True)
class Failed:
    """A file that cannot be made, and why."""

    number: int
    words: str


Event = Going | Made | Failed


class Crew(Protocol):
    """Whoever makes files: processes here, or a cluster."""

    def begin(self) -> None:
        """Make sure that there is somebody to make them; raises ``RenderError`` before anything is written."""

    def run(self, jobs: Iterable[Job], sources: Mapping[str, Source]) -> Iterator[Event]:
        """Make all, in whatever order; closing the iterator stops it. Raises ``RenderError`` when nothing can go on."""


@dataclass
class _Worker:
    process: BaseProcess
    pipe: Connection
    job: Job | None = None
    knows: set[str] = field(default_factory=set)


class OwnCrew:
    """The process itself makes them, one after another; ``told`` hears how far each is, and says whether to go on."""

    def __init__(self, told: Progress = lambda done, total: True) -> None:
        self.told = told

    def begin(self) -> None:
        pass

    def run(self, jobs: Iterable[Job], sources: Mapping[str, Source]) -> Iterator[Event]:
        for job in jobs:
            yield made_or_failed(job, sources[job.source], self.told)


class LocalCrew:
    """So many processes on this machine; one a core where nothing else is said."""

    def __init__(self, count: int | None = None) -> None:
        self.count = max(1, count or os.cpu_count() or 2)
        self._workers: list[_Worker] = []

    def begin(self) -> None:
        pass

    def run(self, jobs: Iterable[Job], sources: Mapping[str, Source]) -> Iterator[Event]:
        waiting = iter(jobs)
        again: list[Job] = []
        tries: dict[int, int] = {}
        try:
            while True:
                while len(self._busy) < self.count and (job := again.pop(0) if again else next(waiting, None)) is not None:
                    tries[job.number] = tries.get(job.number, 0) + 1
                    self._give(self._free(), job, sources)
                if not self._busy:
                    return
                for worker in self._ready():
                    for event in self._heard(worker):
                        if not isinstance(event, Job):
                            yield event
                        elif tries[event.number] < MOST_TRIES:
                            again.append(event)
                        else:
                            yield Failed(event.number, f"{event.name}: {MOST_TRIES} processes ended while they made it. It is left out.")
        finally:
            self._stop()

    @property
    def _busy(self) -> list[_Worker]:
        return [w for w in self._workers if w.job is not None]

    @property
    def processes(self) -> list[int]:
        """The process numbers of those at work."""
        return [w.process.pid for w in self._workers if w.process.pid is not None]

    def _free(self) -> _Worker:
        found = next((w for w in self._workers if w.job is None), None)
        if found is not None:
            return found
        context = get_context("spawn")
        mine, theirs = context.Pipe()
        process = context.Process(target=work, args=(theirs,), daemon=True)
        with starting_processes():
            process.start()
        theirs.close()
        self._workers.append(_Worker(process, mine))
        return self._workers[-1]

    def _give(self, worker: _Worker, job: Job, sources: Mapping[str, Source]) -> None:
        worker.job = job
        source = None if job.source in worker.knows else sources[job.source]
        with contextlib.suppress(OSError):  # one that has died is noticed where its answer is waited for
            worker.pipe.send((job, source))
            worker.knows.add(job.source)

    def _ready(self) -> list[_Worker]:
        heard = set(wait([x for w in self._busy for x in (w.pipe, w.process.sentinel)]))
        return [w for w in self._busy if w.pipe in heard or w.process.sentinel in heard]

    def _heard(self, worker: _Worker) -> Iterator[Event | Job]:
        """What a worker tells; its job where it has died."""
        assert worker.job is not None
        try:
            if not worker.pipe.poll(0.05):
                if worker.process.is_alive():
                    return
                raise EOFError
            event: Event = worker.pipe.recv()
        except (EOFError, OSError):
            job = worker.job
            self._bury(worker)
            yield job
            return
        if not isinstance(event, Going):
            worker.job = None
        yield event

    def _bury(self, worker: _Worker) -> None:
        """Let a worker go that has died."""
        self._workers.remove(worker)
        worker.process.join()
        worker.pipe.close()

    def _stop(self) -> None:
        """Tell all to stop where they are, and wait until they have."""
        for worker in self._workers:
            with contextlib.suppress(OSError):
                worker.pipe.send(None)
        for worker in list(self._workers):
            worker.process.join(_PATIENCE)
            if worker.process.is_alive():
                worker.process.kill()
            self._bury(worker)


def work(pipe: Connection) -> None:
    """A worker's life: jobs come down the pipe, with sources that it does not know yet; events go up. Nothing more is the end."""
    begin_worker()
    with contextlib.suppress(EOFError, OSError):
        while (given := pipe.recv()) is not None:
            job, source = given
            try:
                pipe.send(made_or_failed(job, source, _telling(pipe, job)))
            except StoppedError:
                return


def made_or_failed(job: Job, source: Source | None, progress: Progress) -> Made | Failed:
    """A file, or why it cannot be made. ``source`` is None for one that this process knows. Raises ``StoppedError``."""
    try:
        if source is not None:
            learn(source)
        return make(job, progress)
    except StoppedError:
        raise
    except AvletError as error:
        return Failed(job.number, str(error))
    except MemoryError:
        return Failed(job.number, f"{job.name} needs more memory than there is. Make it smaller, or with fewer processes.")
    except Exception as error:  # whatever it is, the other rows go on
        return Failed(job.number, f"{job.name} cannot be made ({type(error).__name__}: {error}). This is a fault of Avlet.")


def _telling(pipe: Connection, job: Job) -> Any:
    def progress(done: int, total: int) -> bool:
        if done % _TELLS == 0:
            pipe.send(Going(job.number, done, total))
        return not pipe.poll()

    return progress
