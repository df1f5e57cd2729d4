"""Whether there is a display to open a window on, asked before Qt is, which would end the process."""

import os
import re
import socket
from collections.abc import Mapping
from pathlib import Path

_X11 = re.compile(r"(?P<host>[^:]*):(?P<number>\d+)(\.\d+)?")
_PORT, _PATIENCE = 6000, 2.0
"""Where X servers of other machines listen (X Window System Protocol), and the seconds that one has to answer."""
_NEED_NONE = ("offscreen", "minimal", "vnc", "linuxfb", "eglfs", "minimalegl", "vkkhrdisplay")
"""Platforms of Qt that need no display server."""


def fault_of_display(environment: Mapping[str, str] = os.environ) -> str:
    """Why no window can be opened here, and what to do; empty where one can."""
    platform = environment.get("QT_QPA_PLATFORM", "").partition(":")[0].partition(";")[0]
    if platform in _NEED_NONE:
        return ""
    wayland, x11 = environment.get("WAYLAND_DISPLAY", ""), environment.get("DISPLAY", "")
    if not wayland and not x11:
        return (
            "There is no display here, so no window can be opened. All other verbs work without one: “avlet help” tells them. "
            "From another machine: ssh -X."
        )
    if (wayland and platform in ("", "wayland", "wayland-egl") and _answers_wayland(wayland, environment)) or (
        x11 and platform in ("", "xcb") and _answers_x11(x11)
    ):
        return ""
    named = " and ".join(f"{name}={value}" for name, value in (("WAYLAND_DISPLAY", wayland), ("DISPLAY", x11)) if value)
    return f"The display that {named} names does not answer, so no window can be opened. All other verbs work without one."


def _answers_wayland(name: str, environment: Mapping[str, str]) -> bool:
    return _answers_at(Path(environment.get("XDG_RUNTIME_DIR", "")) / name)


def _answers_x11(words: str) -> bool:
    """Whether the X server of a ``DISPLAY`` takes connections."""
    found = _X11.fullmatch(words)
    if found is None:
        return Path(words).exists()
    if found["host"] in ("", "unix"):
        return _answers_at(Path(f"/tmp/.X11-unix/X{found['number']}")) or _answers_at(Path(f"\0/tmp/.X11-unix/X{found['number']}"))
    try:
        with socket.create_connection((found["host"], _PORT + int(found["number"])), _PATIENCE):
            return True
    except (OSError, OverflowError):
        return False


def _answers_at(path: Path) -> bool:
    """Whether somebody listens at a socket of this machine."""
    with socket.socket(socket.AF_UNIX) as one:
        one.settimeout(_PATIENCE)
        try:
            one.connect(str(path))
        except (OSError, ValueError):
            return False
    return True
