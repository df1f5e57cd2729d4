"""Rendering titles from the desk: what kind of film, where to, progress, stopping."""

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
from avlet.media.films import FILMS
from avlet.media.render import StoppedError
from avlet.roster.cut_render import CutRender, Done

KINDS: dict[str, tuple[str, str | None]] = {
    **{f"{film.words[0].upper()}{film.words[1:]} ({film.suffix})": (film.suffix, film.name) for film in FILMS if not film.over},
    "A folder of PNGs": ("", None),
}
"""What a title may be rendered as, in words: the ending, and the film by its name."""


class RenderThread(Runner):
    """Renders a cut, or some titles of it, beside the window."""

    progressed = pyqtSignal(int, int, str)
    failed = pyqtSignal(str)
    done = pyqtSignal(object)

    def __init__(self, whole: CutRender) -> None:
        super().__init__()
        self.whole = whole

    def run(self) -> None:
        whole = self.whole
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
            self.done.emit(done)


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

    def __init__(self, whole: CutRender, names: list[str], folder: Path, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.whole, self.names = whole, names
        self.thread_: RenderThread | None = None
        self.setWindowTitle("Render")
        self.setMinimumWidth(480)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 18, 20, 18)
        layout.setSpacing(12)
        title = QLabel("Render one title" if len(names) == 1 else f"Render {len(names)} titles, each by itself")
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
        if not whole.only:
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
        self.words = QLabel(", ".join(names[:6]) + ("…" if len(names) > 6 else ""))
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
        whole = self.whole
        whole.folder, (whole.suffix, whole.codec) = self.folder.folder, KINDS[self.kind.currentText()]
        whole.film, whole.height = self.film.isChecked(), int(self.lines.currentData())
        thread = RenderThread(whole)
        thread.progressed.connect(self._progressed)
        thread.failed.connect(self._failed)
        thread.done.connect(self._done)
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

    def _done(self, done: Done) -> None:
        self.bar.setRange(0, 1)
        self.bar.setValue(1)
        said = [f"⚠ {words}" for words in done.said]
        if done.new:
            said.append(f"Wrote {', '.join(path.name for path in done.new)} into {self.folder.line.text()}.")
        if done.kept:
            said.append(f"{done.kept} {'file was' if done.kept == 1 else 'files were'} there already.")
        self.words.setText(" ".join(said))
        self.sweep.setVisible(bool(done.superseded))
        self.sweep.setText(f"Take away {len(done.superseded)} film{'s' * (len(done.superseded) > 1)} that no title wants")
        self.sweep.setToolTip(", ".join(done.superseded))

    def _sweep(self) -> None:
        """Take away what the last run named."""
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
