"""Work beside the window that can be stopped."""

from typing import ClassVar, Self

from PyQt6.QtCore import QThread


class Runner(QThread):
    """A thread that looks at ``stopping`` between two steps of its work. Each kind knows those of its own that are at work."""

    _running: ClassVar[set["Runner"]] = set()
    """Those at work: whoever asked for one may be gone before it has stopped."""

    def __init__(self) -> None:
        super().__init__()
        self.stopping = False
        self.finished.connect(lambda: Runner._running.discard(self))

    def begin(self) -> None:
        """Start, if it was not started."""
        if not self.isRunning() and not self.isFinished():
            Runner._running.add(self)
            self.start()

    def stop(self, wait: bool = False) -> None:
        """Stop it after the step that it is at; with ``wait`` until its processes are gone."""
        self.stopping = True
        if wait:
            self.wait()

    @classmethod
    def at_work(cls) -> list[Self]:
        """Those of this kind that are at work."""
        return [runner for runner in Runner._running if isinstance(runner, cls) and runner.isRunning()]

    @classmethod
    def stop_all(cls) -> None:
        """Stop all of this kind, and wait until their processes are gone: the window closes."""
        for runner in [one for one in Runner._running if isinstance(one, cls)]:
            runner.stop(wait=True)
