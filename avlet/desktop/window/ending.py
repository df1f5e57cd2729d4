"""How the program ends: from the window's own close, or because the machine says so. Everything is taken down in order."""

import contextlib
import multiprocessing
import os
import signal
import sys
import threading
import time
from collections.abc import Callable
from typing import NoReturn

from PyQt6.QtCore import QObject, QTimer
from PyQt6.QtWidgets import QApplication

from avlet.desktop.sessions.runner import Runner
from avlet.desktop.window.shell import Shell

ENDED = 128 + signal.SIGTERM
"""Exit status of a program that was told to end, as shells have it."""
_GRACE = 2.5
"""Seconds in which work beside the window may stop by itself."""
_CLEANING = 1.0
"""Seconds in which it may clean up once its processes are gone."""
_AT_MOST = 4.5
"""Seconds after which the program ends in any case."""


def take_down(window: Shell, grace: float = _GRACE) -> None:
    """Stop timers, then threads, then processes; then the window goes. What does not stop by itself in ``grace`` seconds is ended."""
    owners: list[QObject] = [*QApplication.topLevelWidgets(), window.session, window.cut_session, window.roster_session]
    for owner in owners:
        for timer in owner.findChildren(QTimer):
            timer.stop()
    until = time.monotonic() + grace
    running = Runner.at_work()
    for runner in running:
        runner.stop()
    _wait_for(running, until)
    for process in multiprocessing.active_children():
        process.kill()
    _wait_for(running, time.monotonic() + _CLEANING)
    window.hide()


def _wait_for(running: list[Runner], until: float) -> None:
    for runner in running:
        runner.wait(max(0, round(1000 * (until - time.monotonic()))))


def end(status: int) -> NoReturn:
    """Leave the program. Objects of Qt are not taken apart one by one on the way: what is left of them goes with the process."""
    for stream in (sys.stdout, sys.stderr):
        with contextlib.suppress(OSError, ValueError):
            stream.flush()
    os._exit(status)


def end_when_told(window: Shell, application: QApplication) -> QTimer:
    """The machine may end the program: unsaved work is kept for the next time, and nothing is asked. Returns a timer to be held."""
    signal.signal(signal.SIGINT, lambda *_: window.close())
    signal.signal(signal.SIGTERM, lambda *_: _told(window, application.exit))
    _end_in_any_case()
    beat = QTimer()
    beat.timeout.connect(lambda: None)  # Python looks at signals when it runs
    beat.start(300)
    return beat


def _told(window: Shell, leave: Callable[[int], None]) -> None:
    window.keep_unsaved()
    take_down(window)
    leave(ENDED)


def _end_in_any_case() -> None:
    """A thread that hears of the signal as well, for when the window's own is in the middle of something long."""
    hears, tells = os.pipe()
    os.set_blocking(tells, False)
    signal.set_wakeup_fd(tells, warn_on_full_buffer=False)

    def listen() -> None:
        while heard := os.read(hears, 1):
            if heard[0] == signal.SIGTERM:
                time.sleep(_AT_MOST)
                os._exit(ENDED)

    threading.Thread(target=listen, name="ending", daemon=True).start()
