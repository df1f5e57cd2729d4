"""Processes: when one began, and that none outlives the one that began it."""

import contextlib
import ctypes
import os
import signal
from multiprocessing import parent_process
from pathlib import Path

_PR_SET_PDEATHSIG = 1


def end_with_parent() -> None:
    """Let this process end when the one that began it does, however that ends (Linux: prctl(2), PR_SET_PDEATHSIG)."""
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)
    parent = parent_process()
    if parent is not None and os.getppid() != parent.pid:
        os._exit(1)  # it ended before this was said


def begun(process: int) -> float:
    """When a process began, in ticks since the machine started; 0 if there is no such process. Numbers are used again."""
    try:
        stat = Path(f"/proc/{process}/stat").read_text()
        return float(stat.rpartition(")")[2].split()[19])
    except (OSError, IndexError, ValueError):
        return 0.0
