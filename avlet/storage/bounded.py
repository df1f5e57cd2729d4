"""Work on what may be anything, in a process of its own that is ended when it takes too long or too much."""

import contextlib
import faulthandler
import gc
import multiprocessing
import os
import resource
import signal
import time
from collections.abc import Callable
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, TypeVar

from avlet.errors import AvletError, StorageError
from avlet.limits import BYTES_OF_CHECKING, SECONDS_OF_CHECKING
from avlet.numbers.exact import in_figures
from avlet.storage.processes import end_with_parent

T = TypeVar("T")
_WALL = 15
"""How much longer than its seconds of CPU work may take on a busy machine before it counts as stuck."""
Patience = Callable[[str, Callable[[float], bool]], None]
"""Waits for work: gets its name, and a function that waits so many seconds and says whether there is an answer.

What it raises ends the work.
"""


def _wait(name: str, answered: Callable[[float], bool]) -> None:
    while not answered(60.0):
        pass


_patience: Patience = _wait


def wait_with(patience: Patience) -> None:
    """How all bounded work is waited for from now on: a window says what is going on, and lets it be stopped."""
    global _patience
    _patience = patience


class Clock:
    """Says when there is no time left to begin with anything further. Counted is the CPU that this process uses."""

    def __init__(self, seconds: float = 0.75 * SECONDS_OF_CHECKING) -> None:
        self._end = time.process_time() + seconds

    @property
    def is_over(self) -> bool:
        """Whether the time is over."""
        return time.process_time() > self._end


def bounded(work: Callable[[], T], name: str, seconds: float = SECONDS_OF_CHECKING, most: int = BYTES_OF_CHECKING) -> T:
    """What ``work`` gives, which is done in a copy of this process; its ``AvletError`` is raised here.

    Raises ``StorageError`` when that takes more than ``seconds`` of CPU, or more than ``most`` bytes besides what is there already.
    """
    context = multiprocessing.get_context("fork")
    here, there = context.Pipe(duplex=False)
    process = context.Process(target=_in_the_copy, args=(work, there, seconds, most), daemon=True)
    process.start()
    there.close()
    until = time.monotonic() + seconds * _WALL
    answer: Any = None
    stuck = False

    def answered(patience: float) -> bool:
        nonlocal stuck
        if here.poll(min(patience, max(0.0, until - time.monotonic()))):
            return True
        stuck = time.monotonic() > until
        return stuck

    try:
        _patience(name, answered)
        if stuck:
            raise StorageError(_too_long(name, seconds))
        answer = here.recv()
    except (EOFError, OSError):
        process.join()
        raise StorageError(_too_long(name, seconds) if process.exitcode == -signal.SIGPROF else _too_much(name, most)) from None
    finally:
        process.kill()
        process.join()
        here.close()
    if isinstance(answer, MemoryError):
        raise StorageError(_too_much(name, most))
    if isinstance(answer, BaseException):
        raise answer
    done: T = answer[0]
    return done


def _too_long(name: str, seconds: float) -> str:
    return f"“{name}” takes longer than {in_figures(seconds)} seconds to be worked out and was left. It may not be what it says."


def _too_much(name: str, most: int) -> str:
    return f"“{name}” needs more than {most // 1024**2:,} MB to be worked out, and was left. It may not be what it says."


def _in_the_copy(work: Callable[[], Any], there: Connection, seconds: float, most: int) -> None:
    """Does the work, and sends what comes of it. Nothing of the process that this is a copy of is taken down here."""
    end_with_parent()
    gc.disable()
    faulthandler.disable()
    signal.signal(signal.SIGTERM, signal.SIG_DFL)
    pages = int(Path("/proc/self/statm").read_text().split()[0])
    with contextlib.suppress(ValueError, OSError):
        size = pages * resource.getpagesize() + most
        resource.setrlimit(resource.RLIMIT_AS, (size, size))
        resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    signal.signal(signal.SIGPROF, signal.SIG_DFL)
    signal.setitimer(signal.ITIMER_PROF, seconds)
    with contextlib.suppress(OSError):
        os.dup2(os.open(os.devnull, os.O_WRONLY), 2)  # a library's own last words are not for the person
    answer: Any
    try:
        answer = (work(),)
    except (AvletError, MemoryError, RecursionError, KeyboardInterrupt) as error:
        answer = error
    except Exception as error:
        answer = error if type(error).__module__ == "builtins" else RuntimeError(f"{type(error).__name__}: {error}")
    with contextlib.suppress(OSError):
        there.send(answer)
    os._exit(0)
