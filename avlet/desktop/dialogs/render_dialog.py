"""Rendering titles from the desk: what kind of film, where to, progress, stopping."""

from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from avlet.desktop.sessions.runner import Runner
from avlet.desktop.widgets.buttons import FolderRow
from avlet.desktop.widgets.forms import name_controls
from avlet.errors import AvletError
from avlet.media.drawing import Drawing
from avlet.media.films import FILMS
from avlet.media.render import StoppedError, render
from avlet.roster.cut_render import CutRender, Done

KINDS: dict[str, tuple[str, str | None]] = {
    **{f"{film.words[0].upper()}{film.words[1:]} ({film.suffix})": (film.suffix, film.name) for film in FILMS if not film.over},
    "A folder of PNGs": ("", None),
}
"""What a title may be rendered as, in words: the ending, and the film by its name."""


@dataclass(frozen=True)
class Job:
    """One title to render: the name of its file, without an ending, and what is drawn."""

    name: str
    drawing: Drawing


class RenderThread(Runner):
    """Renders jobs one after another beside the window."""

    progressed = pyqtSignal(int, int, str)
    failed = pyqtSignal(str)
    done = pyqtSignal(list)
    whole_done = pyqtSignal(object)

    def __init__(self, jobs: list[Job], folder: Path, kind: str, whole: CutRender | None = None) -> None:
        super().__init__()
        self.jobs, self.folder, self.whole = jobs, folder, whole
        self.suffix, self.codec = KINDS[kind]

    def run(self) -> None:
        if self.whole is not None:
            self._run_whole(self.whole)
            return
        total = sum(job.drawing.length for job in self.jobs)
        before = 0
        written: list[str] = []
        try:
            for job in self.jobs:
                path = self.folder / f"{job.name}{self.suffix}"

                def progress(done: int, _: int, start: int = before, name: str = path.name) -> bool:
                    self.progressed.emit(start + done, total, name)
                    return not self.stopping

                render(job.drawing, path, self.codec, progress)
                written.append(str(path))
                before += job.drawing.length
        except StoppedError:
            self.failed.emit(f"Stopped. {len(written)} of {len(self.jobs)} were written; nothing half-done was left.")
        except AvletError as error:
            self.failed.emit(str(error))
        else:
            self.done.emit(written)

    def _run_whole(self, whole: CutRender) -> None:
        """Titles, the film of the cut and the timeline."""
        whole.folder, whole.suffix, whole.codec = self.folder, self.suffix, self.codec
        total = whole.total

        def told(done: int, words: str) -> bool:
            self.progressed.emit(done, total, words)
            return not self.stopping

        try:
            done = whole.run(told)
        except StoppedError:
            self.failed.emit(f"Stopped. {_finished(whole)}Nothing half-done was left.")
        except AvletError as error:
            self.failed.emit(f"{error} {_finished(whole)}".rstrip())
        else:
            self.whole_done.emit(done)


def _finished(whole: CutRender) -> str:
    """What is whole already, as a sentence."""
    names = [path.name for path in whole.finished]
    return f"{len(names)} finished before: {', '.join(names[:6])}{'…' if len(names) > 6 else ''}. " if names else ""


class RenderDialog(QDialog):
    """Asks for kind and folder, then shows how far it is. ``began`` tells the folder that is rendered into, ``ended`` that it is over.

    Films of this cut that no title wants any more are named, and taken away by a press.
    """

    began = pyqtSignal(str)
    ended = pyqtSignal()

    def __init__(self, jobs: list[Job], folder: Path, parent: QWidget | None = None, whole: CutRender | None = None) -> None:
        super().__init__(parent)
        self.jobs, self.whole = jobs, whole
        self.thread_: RenderThread | None = None
        self.setWindowTitle("Render")
        self.setMinimumWidth(480)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 18, 20, 18)
        layout.setSpacing(12)
        title = QLabel("Render one title" if len(jobs) == 1 else f"Render {len(jobs)} titles, each by itself")
        title.setProperty("role", "title")
        layout.addWidget(title)
        form = QFormLayout()
        self.kind = QComboBox()
        self.kind.addItems(list(KINDS))
        form.addRow("As", self.kind)
        self.folder = FolderRow(folder, "Render into")
        form.addRow("Into", self.folder)
        self.film = QCheckBox("One film of the whole cut, to be approved (.mp4)")
        self.film.setChecked(True)
        self.lines = QComboBox()
        for lines in (540, 720, 1080):
            self.lines.addItem(f"{lines} lines", lines)
        self.lines.setCurrentIndex(1)
        if whole is not None:
            row = QHBoxLayout()
            row.addWidget(self.film, 1)
            row.addWidget(self.lines)
            form.addRow("And", row)
            form.addRow("", QLabel("A timeline (.otio) that points at these films is written beside them."))
        name_controls(form)
        layout.addLayout(form)
        self.bar = QProgressBar()
        self.bar.hide()
        layout.addWidget(self.bar)
        self.words = QLabel(", ".join(job.name for job in jobs[:6]) + ("…" if len(jobs) > 6 else ""))
        self.words.setWordWrap(True)
        self.words.setProperty("role", "muted")
        layout.addWidget(self.words)
        layout.addLayout(self._buttons())

    def _buttons(self) -> QHBoxLayout:
        buttons = QHBoxLayout()
        self.sweep = QPushButton()
        self.sweep.hide()
        self.sweep.clicked.connect(self._sweep)
        buttons.addWidget(self.sweep)
        buttons.addStretch(1)
        self.close_button = QPushButton("Close")
        self.close_button.clicked.connect(self.reject)
        self.start_button = QPushButton("Render")
        self.start_button.setProperty("role", "render")
        self.start_button.setDefault(True)
        self.start_button.clicked.connect(self.start)
        buttons.addWidget(self.close_button)
        buttons.addWidget(self.start_button)
        return buttons

    def start(self) -> None:
        """Begin; the window stays usable."""
        self.start_button.setEnabled(False)
        self.sweep.hide()
        self.close_button.setText("Stop")
        self.bar.show()
        self.bar.setRange(0, 0)
        if self.whole is not None:
            self.whole.film, self.whole.height = self.film.isChecked(), int(self.lines.currentData())
        thread = RenderThread(self.jobs, self.folder.folder, self.kind.currentText(), self.whole)
        thread.progressed.connect(self._progressed)
        thread.failed.connect(self._failed)
        thread.done.connect(self._done)
        thread.whole_done.connect(self._whole_done)
        thread.finished.connect(self._ended)
        self.thread_ = thread
        self.began.emit(str(self.folder.folder))
        thread.begin()

    def _progressed(self, done: int, total: int, name: str) -> None:
        self.bar.setRange(0, total)
        self.bar.setValue(done)
        self.words.setText(f"{name}: frame {done} of {total} in all")

    def _failed(self, words: str) -> None:
        self.words.setText(words)

    def _done(self, written: list[str]) -> None:
        self.bar.setRange(0, 1)
        self.bar.setValue(1)
        self.words.setText(f"Wrote {', '.join(Path(path).name for path in written)} into {self.folder.line.text()}.")

    def _whole_done(self, done: Done) -> None:
        self.bar.setRange(0, 1)
        self.bar.setValue(1)
        said = [f"⚠ {words}" for words in done.said]
        said.append(f"Wrote {', '.join(path.name for path in done.new)} into {self.folder.line.text()}.")
        if done.kept:
            said.append(f"{done.kept} {'file was' if done.kept == 1 else 'files were'} there already.")
        self.words.setText(" ".join(said))
        self.sweep.setVisible(bool(done.superseded))
        self.sweep.setText(f"Take away {len(done.superseded)} film{'s' * (len(done.superseded) > 1)} that no title wants")
        self.sweep.setToolTip(", ".join(done.superseded))

    def _sweep(self) -> None:
        """Take away what the last run named."""
        assert self.whole is not None
        gone = self.whole.prune()
        self.sweep.hide()
        self.words.setText(f"Took away {', '.join(gone)}." if gone else "Nothing was taken away: those files are not as they were made.")

    def _ended(self) -> None:
        if self.thread_ is None:
            return
        self.thread_ = None
        self.ended.emit()
        self.start_button.setEnabled(True)
        self.close_button.setText("Close")

    def reject(self) -> None:
        if self.thread_ is not None:
            self.thread_.stop()
            self.words.setText("Stopping…")
        else:
            super().reject()

    @property
    def is_running(self) -> bool:
        """Whether something is being rendered."""
        return self.thread_ is not None and self.thread_.isRunning()

    def stop(self) -> None:
        """Stop what is being rendered, wait until nothing of it is left, and close."""
        thread = self.thread_
        if thread is not None:
            thread.stop(wait=True)
            self._ended()
        super().reject()
