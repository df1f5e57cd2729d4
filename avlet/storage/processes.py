"""Processes that do not outlive the one that began them."""

import contextlib
import ctypes
import os
import signal
from multiprocessing import parent_process

_PR_SET_PDEATHSIG = 1


def end_with_parent() -> None:
    """Let this process end when the one that began it does, however that ends (Linux: prctl(2), PR_SET_PDEATHSIG)."""
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)
    parent = parent_process()
    if parent is not None and os.getppid() != parent.pid:
        os._exit(1)  # it ended before this was said
