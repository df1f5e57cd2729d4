"""Serving the library to browsers, from the desk: a process of its own, which ends with the window."""

import json
import sys
from pathlib import Path

from PyQt6.QtCore import QObject, QProcess, pyqtSignal


class Serving(QObject):
    """``told`` tells what is to be said: where the library is served, that it is no longer, or why it cannot be."""

    told = pyqtSignal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.address = ""
        self._stopped = False
        self._process: QProcess | None = None

    @property
    def is_on(self) -> bool:
        """Whether it serves, or is about to."""
        return self._process is not None

    def start(self, library: Path) -> None:
        """Serve a library to this machine; where is told as soon as it is known."""
        if self._process is not None:
            return
        self._stopped = False
        process = self._process = QProcess(self)
        process.setProgram(sys.executable)
        process.setArguments(["-m", "avlet", "serve", str(library), "--port", "0", "--tied", "--json", "lines"])
        process.readyReadStandardOutput.connect(self._read)
        process.finished.connect(lambda *_: self._ended())
        process.errorOccurred.connect(lambda error: self._ended() if error == QProcess.ProcessError.FailedToStart else None)
        process.start()

    def stop(self) -> None:
        """Serve no more."""
        if self._process is not None:
            self._stopped = True
            self._process.closeWriteChannel()

    def _read(self) -> None:
        process = self._process
        while process is not None and process.canReadLine():
            said = json.loads(process.readLine().data())
            if "address" in said:
                self.address = str(said["address"])
                self.told.emit(f"This library is served at {self.address}. The desk's menu of folders copies the address, and stops it.")

    def _ended(self) -> None:
        process, self._process, self.address = self._process, None, ""
        if process is None:
            return
        why = bytes(process.readAllStandardError().data()).decode(errors="replace").strip().splitlines()
        failed = f"The library cannot be served: {why[-1] if why else 'it ended'}"
        self.told.emit("The library is no longer served." if self._stopped else failed)
        process.deleteLater()
