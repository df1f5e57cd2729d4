"""Memory that the C library holds and nobody uses, given back to the machine.

What a process lets go in pieces stays with its allocator, which for a window that is open all day comes to a hundred MB and more.
glibc is asked (``malloc_trim``, as its manual has it); elsewhere nothing happens.
"""

import contextlib
import ctypes
import functools
import os
from collections.abc import Callable
from pathlib import Path

MOST_GROWN = 24 * 2**20
"""Bytes by which a process may grow before it is asked again: asking takes some ms."""

_MMAP_THRESHOLD, _ARENA_MAX = -3, -8
"""Names that ``malloc.h`` gives to what is set."""
_LARGE = 256 * 2**10
"""Bytes from which a piece has pages of its own: a small picture."""
_MOST_ARENAS = 2
"""Heaps, one of them for all threads beside the first: each keeps what it has freed."""
_STATM = Path("/proc/self/statm")
_least = [0]
MUCH_HELD = 400 * 2**20
"""Bytes from which a process holds so much that what it keeps only to be quick goes as well, see :func:`holds_much`."""
_eased_to = [MUCH_HELD - MOST_GROWN]
_quick: list[Callable[[], object]] = []


@functools.cache
def _library() -> ctypes.CDLL | None:
    library = ctypes.CDLL(None)
    return library if hasattr(library, "malloc_trim") else None


def keep_large_pieces_apart() -> None:
    """From now on each large piece of memory has pages of its own, which go back to the machine when it is let go.

    Left to itself glibc raises the size from which that is so whenever such a piece is freed (``mallopt``, as its manual has it), up to
    32 MB; then pictures lie between small pieces that stay, and what they leave is too torn for the next one.
    """
    library = _library()
    if library is not None:
        library.mallopt(_MMAP_THRESHOLD, _LARGE)
        library.mallopt(_ARENA_MAX, _MOST_ARENAS)


def held() -> int:
    """Bytes of the machine's memory that this process holds; 0 where that is not told."""
    with contextlib.suppress(OSError, ValueError, IndexError):
        return int(_STATM.read_text(encoding="ascii").split()[1]) * os.sysconf("SC_PAGE_SIZE")
    return 0


def holds_much() -> bool:
    """Whether this process holds much, and has grown since it was last asked to let go of what it can."""
    return held() > _eased_to[0] + MOST_GROWN


def kept_to_be_quick(clear: Callable[[], object]) -> None:
    """Name what lets go of things that are kept only to be quick: it is called where the process holds much."""
    _quick.append(clear)


def ease() -> None:
    """Let go of what is kept only to be quick, and give back what nobody uses: what is held then is what is needed."""
    for clear in _quick:
        clear()
    _least[0] = 0
    give_back()
    _eased_to[0] = max(MUCH_HELD - MOST_GROWN, held())


def give_back() -> bool:
    """Give back what nobody uses, where this process has grown since the last time; whether it was asked to."""
    library = _library()
    if library is None or held() - _least[0] <= MOST_GROWN:
        return False
    library.malloc_trim(0)
    _least[0] = held()
    return True
