"""Work on what may be anything, in a process of its own that is ended when it takes too long or too much."""

import contextlib
import multiprocessing
import os
import resource
import time
from collections.abc import Callable
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, TypeVar

from avlet.errors import AvletError, StorageError
from avlet.limits import BYTES_OF_CHECKING, SECONDS_OF_CHECKING

T = TypeVar("T")


class Clock:
    """Says when there is no time left to begin with anything further."""

    def __init__(self, seconds: float = 0.75 * SECONDS_OF_CHECKING) -> None:
        self._end = time.monotonic() + seconds

    @property
    def is_over(self) -> bool:
        """Whether the time is over."""
        return time.monotonic() > self._end


def bounded(work: Callable[[], T], name: str, seconds: float = SECONDS_OF_CHECKING, most: int = BYTES_OF_CHECKING) -> T:
    """What ``work`` gives, which is done in a copy of this process; its ``AvletError`` is raised here.

    Raises ``StorageError`` when that takes longer than ``seconds`` or more than ``most`` bytes besides what is there already.
    """
    context = multiprocessing.get_context("fork")
    here, there = context.Pipe(duplex=False)
    process = context.Process(target=_in_the_copy, args=(work, there, most), daemon=True)
    process.start()
    there.close()
    try:
        if not here.poll(seconds):
            raise StorageError(f"“{name}” takes longer than {seconds:g} seconds to be worked out and was left. It may not be what it says.")
        answer = here.recv()
    except EOFError:
        raise StorageError(_too_much(name, most)) from None
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


def _too_much(name: str, most: int) -> str:
    return f"“{name}” needs more than {most // 1024**2:,} MB to be worked out, and was left. It may not be what it says."


def _in_the_copy(work: Callable[[], Any], there: Connection, most: int) -> None:
    """Does the work, and sends what comes of it."""
    pages = int(Path("/proc/self/statm").read_text().split()[0])
    with contextlib.suppress(ValueError, OSError):
        size = pages * resource.getpagesize() + most
        resource.setrlimit(resource.RLIMIT_AS, (size, size))
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
