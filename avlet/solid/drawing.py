"""Drawing a space on EGL, without a window: on one thread of its own in each process, as a context belongs to a thread.

Where there is no OpenGL, ``fault`` says why, and nothing is drawn. A context that is lost is begun anew, once.
One that has built many programs gives way to a new one, and one that is not used for a while is let go (``rest``).
"""

import contextlib
import functools
import os
import threading
import time
from concurrent.futures import Future, ThreadPoolExecutor
from typing import Any

import numpy as np

from avlet.errors import RenderError
from avlet.solid.bodies import Stage
from avlet.solid.drawer import Drawer
from avlet.solid.edges import FINE
from avlet.solid.graphics_card import GraphicsCard
from avlet.solid.sights import Area

STAND_INS = ("llvmpipe", "softpipe", "swrast")
"""What draws without graphics hardware, by Mesa's names."""
INSTALL = "Install what draws it: apt-get install libegl1 libgl1-mesa-dri"


class NoDrawingError(RenderError):
    """There is no OpenGL here; why, and what to install."""


_starting = threading.Lock()
_given_up: list[str] = []
_drawn_at = [0.0]
_begun = [False]
"""Whether this process ever had a context: its driver keeps threads of its own, also once that was let go."""


@functools.cache
def _thread() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(1, "solid")


@functools.cache
def _made() -> "Drawer | str":
    """In its own thread: the drawer, or why there is none."""
    _begun[0] = True
    try:
        card = GraphicsCard(_let_go)
        return Drawer(card, lattice_for(card.words))
    except Exception as error:  # whatever a driver says
        return f"Nothing here draws solid letters ({_in_words(error)}). {INSTALL}."


def lattice_for(words: str) -> int:
    """How fine px about solids are looked at, see :class:`~avlet.solid.edges.Lattice`, by what draws: as fine as all else by a card."""
    return 3 if any(name in words.casefold() for name in STAND_INS) else FINE.side


def _in_words(error: Exception) -> str:
    """What a driver said, in one line."""
    return f"{type(error).__name__}: {' '.join(str(error).split())[:200]}"


def _let_go(held: dict[Any, Any]) -> None:
    """Release what lies in the card's memory, on the thread that it belongs to."""

    def release() -> None:
        for one in held.values():
            one.release()

    with contextlib.suppress(RuntimeError):  # the process is ending
        _thread().submit(release)


def _drawer() -> "Drawer | str":
    if _given_up:
        return _given_up[0]
    with _starting:
        return _thread().submit(_made).result()


def fault() -> str:
    """Why nothing solid can be drawn here, and what to install; empty where it can."""
    made = _drawer()
    return made if isinstance(made, str) else ""


def drawn_with() -> str:
    """What draws, in words; empty where nothing does."""
    made = _drawer()
    return "" if isinstance(made, str) else made.card.words


def draw(stage: Stage, box: Area, width: int, height: int) -> np.ndarray:
    """The picture (height, width, 4) of a stage within a box (left, top, right, bottom) of the frame, premultiplied RGBA.

    Raises ``NoDrawingError`` where there is no OpenGL, or none any more.
    """
    try:
        return _drawn(stage, box, width, height)
    except NoDrawingError:
        raise
    except Exception:  # whatever a driver says that has lost its context: once more in a new one
        _made.cache_clear()
    try:
        return _drawn(stage, box, width, height)
    except NoDrawingError:
        raise
    except Exception as error:
        words = f"Drawing solid letters failed twice ({_in_words(error)}). Start Avlet again to try once more."
        _given_up.append(words)
        raise NoDrawingError(words) from error


def _drawn(stage: Stage, box: Area, width: int, height: int) -> np.ndarray:
    if _given_up:
        raise NoDrawingError(_given_up[0])
    with _starting:
        thread = _thread()
    return thread.submit(_drawn_there, stage, box, width, height).result()


def _drawn_there(stage: Stage, box: Area, width: int, height: int) -> np.ndarray:
    """In its own thread: the picture, in a new context where the present one is worn."""
    made = _made()
    if not isinstance(made, str) and made.card.worn:
        made.let_go()
        _made.cache_clear()
        made = _made()
    if isinstance(made, str):
        raise NoDrawingError(made)
    _drawn_at[0] = time.monotonic()
    return made.draw(stage, box, width, height)


def rest(seconds: float) -> Future[None] | None:
    """Let the context go, and all that lies in its memory, where nothing was drawn for so many seconds; the next picture has a new one.

    What is given is done when that has happened; None where there is nothing to let go.
    """
    if _made.cache_info().currsize and not _given_up:
        return _thread().submit(_rest_there, seconds)
    return None


def _rest_there(seconds: float) -> None:
    if _made.cache_info().currsize and time.monotonic() - _drawn_at[0] >= seconds:
        made = _made()
        if not isinstance(made, str):
            made.let_go()
            _made.cache_clear()


def _begin_anew() -> None:
    """In a copy of this process: threads stayed behind, those of the driver too, for which a new context would wait without end."""
    if _begun[0]:
        _given_up.append("Nothing draws solid letters in a copy of a process that does.")
    _thread.cache_clear()
    _made.cache_clear()


os.register_at_fork(after_in_child=_begin_anew)
