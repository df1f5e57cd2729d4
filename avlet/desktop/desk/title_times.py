"""When the selected title is on the cut and how long it lasts: shown, and typed."""

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QWidget

from avlet.desktop.sessions.cut_session import CutSession
from avlet.desktop.widgets.numbers import NumberBox
from avlet.document.cut import Title, trim_title
from avlet.limits import MOST_FRAMES
from avlet.numbers.timecode import DROP_RATES, timecode


class TitleTimes(QWidget):
    """*From 00:00:12:05, 125 frames, 5.00 s*: the number of frames is typed, dragged or turned, for all titles that are selected."""

    def __init__(self, session: CutSession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(5)
        self.begin, self.rest = QLabel(), QLabel()
        self.frames = NumberBox(1, low=1, high=MOST_FRAMES, whole=True)
        self.frames.setAccessibleName("Length of the title in frames")
        self.frames.value_changed.connect(self._take)
        self.frames.finished.connect(session.history.close_gesture)
        for widget in (self.begin, self.frames, self.rest):
            layout.addWidget(widget)
        layout.addStretch(1)
        session.changed.connect(self.refresh)
        session.selection_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Follow the selection."""
        title = self.session.title
        self.setVisible(title is not None)
        if title is None:
            return
        rate = self.session.cut.frame.fps
        self.frames.takes_times(rate)
        self.begin.setText(f"From {timecode(title.start, rate, rate in DROP_RATES)},")
        self.frames.show_value(title.length)
        self.rest.setText(f"frames, {title.length / float(rate):.2f} s")

    def _take(self, frames: float) -> None:
        chosen = [title for i in self.session.selection if (title := self.session.cut.title(i)) is not None]
        gesture = ("length", *(title.id for title in chosen))
        for title in chosen:
            self._trim(title, round(frames), gesture)
        now = self.session.title
        if now is not None and now.length < frames:
            self.session.refused.emit(f"The title lasts {now.length} frames: what follows on its track begins there.")
        if now is not None:
            self.frames.show_value(now.length)

    def _trim(self, title: Title, frames: int, gesture: object) -> None:
        self.session.edit("Length of a title", lambda c: trim_title(c, title.id, title.start, title.start + frames), gesture)
