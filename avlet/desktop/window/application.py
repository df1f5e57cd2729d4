"""Starting the application."""

import sys
import tempfile
import threading
from pathlib import Path
from typing import NoReturn

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication

from avlet.desktop.dialogs.waiting import wait_in_windows
from avlet.desktop.widgets import theme
from avlet.desktop.window.ending import end, end_when_told, take_down
from avlet.desktop.window.surprise import Surprise
from avlet.desktop.window.window import Window
from avlet.document.starts import blank
from avlet.errors import AvletError
from avlet.giving_back import keep_large_pieces_apart
from avlet.storage.atomic import sweep
from avlet.storage.handing_over import sweep_library
from avlet.storage.recent import recent_files


def make_application(arguments: list[str]) -> QApplication:
    """The Qt application, dressed."""
    keep_large_pieces_apart()
    application = QApplication(arguments)
    application.setApplicationName("avlet")
    application.setDesktopFileName("avlet")
    theme.apply(application)
    return application


def sweep_what_was_left(window: Window) -> threading.Thread:
    """Remove, beside what goes on, what processes that ended in the middle left wherever this person's Avlet writes."""
    near = {path.parent for path in recent_files(window.state)}
    folders = {window.state, window.state / "recovery", window.state / "open", Path(tempfile.gettempdir()), *near}
    libraries = list(window.cut_session.folders)

    def swept() -> None:
        for folder in folders:
            sweep(folder)
        for library in libraries:
            sweep_library(library)

    thread = threading.Thread(target=swept, name="sweeping", daemon=True)
    thread.start()
    return thread


def run(path: Path | None, demo: bool) -> NoReturn:
    """Open the window, with a file or the demo in it, and run until it closes."""
    application = make_application(sys.argv[:1])
    wait_in_windows()
    window = Window()
    window.session.open(blank(), window.session.book, None, saved=False)
    try:
        if demo:
            window.files.open_demo()
        elif path is not None:
            window.files.open_path(path)
        else:
            window.show_welcome()
    except (AvletError, OSError) as error:
        window.say(str(error))
    sys.excepthook = Surprise(window)
    window.show()
    sweep_what_was_left(window)
    QTimer.singleShot(0, window.files.lost.offer)
    beat = end_when_told(window, application)
    status = application.exec()
    beat.stop()
    take_down(window)
    end(status)
