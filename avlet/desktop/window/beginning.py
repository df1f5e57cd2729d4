"""What the first page leads to besides a start: the first steps, and the six of a family."""

from collections.abc import Callable
from pathlib import Path

import platformdirs
from PyQt6.QtWidgets import QFileDialog

from avlet.desktop.widgets.asking import lasting
from avlet.desktop.window.shell import BENCHES, BUILD, Shell
from avlet.document.starts import blank
from avlet.document.template import Frame, Template
from avlet.errors import AvletError
from avlet.storage.family import take_family
from avlet.text.system_fonts import machine_fonts


def first_steps(window: Shell, start: Callable[[Template], bool] | None = None) -> None:
    """Show the way: on what is on the stage, from the first step that is not done there, or on an empty frame, put there by ``start``."""
    if start is not None and not start(blank()):
        return
    window.show_bench(BENCHES.index(BUILD))
    window.build.steps.begin()


def take_six(window: Shell, open_path: Callable[[Path], bool], name: str, frame: Frame) -> None:
    """Choose a folder, write the six of a family into it, and open the first."""
    chosen = QFileDialog.getExistingDirectory(lasting(window), f"A folder for the six of {name}", str(platformdirs.user_documents_path()))
    if not chosen or not window.may_leave():
        return
    folder = Path(chosen)
    try:
        paths = take_family(name, frame, folder, machine_fonts())
    except AvletError as error:
        window.say(str(error))
        return
    open_path(paths[0])
    window.say(f"The six of {name} are in “{folder.name}”. A colour changed in one comes to the others on Card by “Take on the house of…”.")
