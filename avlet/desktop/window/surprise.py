"""What happens when Avlet itself is at fault while its window is open."""

import sys
import time
import traceback
from types import TracebackType

from avlet.desktop.window.window import Window

_AGAIN = 1.0
"""Seconds within which a fault at the same place is the same: what fails while painting fails in every frame."""


class Surprise:
    """Keeps the work, writes the trace to the log, tells the person, and lets the window go on. To be made ``sys.excepthook``.

    A fault in the middle of painting leaves a painter at work on what Qt is about to put away, which would end the process: all that the
    frames of the trace hold is let go of, so that the painter ends here.
    """

    def __init__(self, window: Window) -> None:
        self._window = window
        self._told: dict[tuple[str, int], float] = {}

    def __call__(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        try:
            self._tell(kind, error, trace)
        finally:
            traceback.clear_frames(trace)

    def _tell(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        place, now = _place_of(trace), time.monotonic()
        before, self._told[place] = self._told.get(place), now
        if before is not None and now - before < _AGAIN:
            return
        self._window.keep_unsaved()
        log = self._window.state / "faults.log"
        try:
            log.parent.mkdir(parents=True, exist_ok=True)
            with log.open("a") as file:
                traceback.print_exception(kind, error, trace, file=file)
        except OSError:
            traceback.print_exception(kind, error, trace, file=sys.stderr)
        self._window.say(f"Something went wrong inside Avlet ({kind.__name__}: {error}). Your work is kept; the details are in {log}.")


def _place_of(trace: TracebackType | None) -> tuple[str, int]:
    """The file and line in which it happened."""
    steps = list(traceback.walk_tb(trace))
    return (steps[-1][0].f_code.co_filename, steps[-1][1]) if steps else ("", 0)
