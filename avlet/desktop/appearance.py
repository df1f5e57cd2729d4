"""How large the interface is and how strong its contrast: read before anything of Qt is loaded, as both count from the start on."""

import os
from pathlib import Path

from avlet.storage.settings import read_settings

SCALE, CONTRAST, STRONG = "QT_SCALE_FACTOR", "AVLET_CONTRAST", "strong"
"""Variables of the environment: Qt's own for the size of all that is drawn, ours for the colours (:mod:`avlet.desktop.widgets.theme`)."""


def prepare(state: Path) -> None:
    """Let a person's settings count for the window that is about to open; what the environment says already stays."""
    settings = read_settings(state)
    if settings.interface != 100:
        os.environ.setdefault(SCALE, f"{settings.interface / 100:.2f}")
    if settings.strong_contrast:
        os.environ.setdefault(CONTRAST, STRONG)
