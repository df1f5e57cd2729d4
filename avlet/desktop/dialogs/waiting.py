"""Waiting for bounded work in a window: what takes a moment says so, and can be stopped."""

from collections.abc import Callable

from PyQt6.QtCore import QCoreApplication, QEventLoop, Qt, QThread, QTimer
from PyQt6.QtWidgets import QApplication, QProgressDialog

from avlet.errors import StorageError
from avlet.storage.bounded import wait_with

_AT_ONCE = 0.08
"""Seconds in which most work is done: the window just waits for it."""
_LOOKS = 25
"""ms between two looks at work that takes longer."""


def wait_in_windows() -> None:
    """Let bounded work that is asked for in the window's thread show a dialog when it takes a moment."""
    wait_with(_wait)


def _wait(name: str, answered: Callable[[float], bool]) -> None:
    application = QCoreApplication.instance()
    if application is None or QThread.currentThread() is not application.thread():
        while not answered(60.0):
            pass
        return
    if answered(_AT_ONCE):
        return
    loop = QEventLoop()
    dialog = QProgressDialog(f"Reading {name} …", "Stop", 0, 0, QApplication.activeWindow())
    dialog.setWindowModality(Qt.WindowModality.ApplicationModal)
    dialog.setMinimumDuration(0)
    dialog.canceled.connect(loop.quit)
    timer = QTimer()
    timer.timeout.connect(lambda: loop.quit() if answered(0.0) else None)
    timer.start(_LOOKS)
    dialog.show()
    loop.exec()
    timer.stop()
    stopped = dialog.wasCanceled()
    dialog.close()
    dialog.deleteLater()
    if stopped:
        raise StorageError(f"Reading “{name}” was stopped.")
