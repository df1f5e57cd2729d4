"""When the selected title is on the cut, how long it lasts, and where it lies on the picture: shown, and typed."""

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from avlet.desktop.sessions.cut_session import CutSession
from avlet.desktop.widgets.asking import show_within
from avlet.desktop.widgets.buttons import flat_button
from avlet.desktop.widgets.numbers import NumberBox
from avlet.desktop.widgets.time_box import TimeBox
from avlet.document.cut import LEAST_SCALE, MOST_MOVED, MOST_SCALE, Cut, Title, change_titles, place_title, put_title, replace, trim_title
from avlet.limits import MOST_FRAMES
from avlet.media.placing import is_same_shape
from avlet.media.titles import number_words


class TitleTimes(QWidget):
    """*T0012 from 00:00:12:05, 125 frames, 5.00 s*: where it begins is typed, its length typed, dragged or turned.

    The length counts for all titles that are selected.
    """

    def __init__(self, session: CutSession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(5)
        self.number, self.rest = QLabel(), QLabel()
        self.begin = TimeBox("Where the title begins")
        self.begin.typed.connect(self._begin_at)
        self.begin.refused.connect(session.refused)
        self.frames = NumberBox(1, low=1, high=MOST_FRAMES, whole=True)
        self.frames.setAccessibleName("Length of the title in frames")
        self.frames.value_changed.connect(self._take)
        self.frames.finished.connect(session.history.close_gesture)
        for widget in (self.number, self.begin, self.frames, self.rest):
            layout.addWidget(widget)
        layout.addStretch(1)
        session.changed.connect(self.refresh)
        session.selection_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Follow the selection."""
        title = self.session.title
        show_within(self, title is not None)
        if title is None:
            return
        rate = self.session.cut.frame.fps
        self.frames.takes_times(rate)
        self.number.setText(number_words(title))
        self.begin.show_frame(title.start, rate, self.session.cut.start_time)
        self.frames.show_value(title.length)
        self.rest.setText(f"f · {title.length / float(rate):.2f} s")

    def _begin_at(self, frame: int) -> None:
        """Let the selected title begin at a frame, or as near to it as there is room."""
        title = self.session.title
        if title is None:
            return
        self.session.edit("Begin of a title", lambda c: put_title(c, replace(title, start=frame)))
        now = self.session.title
        if now is not None and now.start != frame:
            self.session.refused.emit(f"There is no room at frame {frame}: it begins at frame {now.start}.")
        if now is not None and not now.start <= self.session.frame < now.end:
            self.session.go_to(now.start)

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


class TitlePlace(QWidget):
    """*Placed 180 px right, −40 down, at 90 %*: typed, dragged or turned; and back to where the template has it.

    A title of another shape than the cut may be brought to that shape.
    """

    def __init__(self, session: CutSession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(4)
        row = QHBoxLayout()
        row.setSpacing(4)
        self.across = NumberBox(0, low=-MOST_MOVED, high=MOST_MOVED, whole=True)
        self.down = NumberBox(0, low=-MOST_MOVED, high=MOST_MOVED, whole=True)
        self.scale = NumberBox(100, low=LEAST_SCALE, high=MOST_SCALE)
        for box, name in (
            (self.across, "px that the title is moved to the right"), (self.down, "px that the title is moved down"),
            (self.scale, "How large the title is shown, in per cent"),
        ):  # fmt: skip
            box.setAccessibleName(name)
            box.value_changed.connect(self._take)
            box.finished.connect(session.history.close_gesture)
        for widget in (QLabel("Placed"), self.across, QLabel("right"), self.down, QLabel("down"), self.scale, QLabel("%")):
            row.addWidget(widget)
        row.addStretch(1)
        self.back = flat_button("undo", "Back to where the template has it", lambda: self._place(0.0, 0.0, 100.0))
        row.addWidget(self.back)
        whole.addLayout(row)
        self.reframe = QPushButton()
        self.reframe.clicked.connect(self._reframe)
        whole.addWidget(self.reframe)
        session.changed.connect(self.refresh)
        session.selection_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Follow the selection."""
        title, frame = self.session.title, self.session.cut.frame
        opened = self.session.template_of(title) if title is not None else ""
        show_within(self, title is not None and not isinstance(opened, str))
        if title is None or isinstance(opened, str):
            return
        self.across.show_value(title.x)
        self.down.show_value(title.y)
        self.scale.show_value(title.scale)
        self.back.setEnabled(title.is_placed)
        shape = f"{frame.width}×{frame.height}"
        self.reframe.setVisible(not is_same_shape(opened.template.frame, frame))
        own = f"{opened.template.frame.width}×{opened.template.frame.height}"
        self.reframe.setText(f"Show it whole, as {own}" if title.reframed else f"Bring it to this shape, {shape}")

    def _take(self, _: float) -> None:
        self._place(self.across.value, self.down.value, self.scale.value)

    def _place(self, x: float, y: float, scale: float) -> None:
        chosen = tuple(self.session.selection)

        def change(cut: Cut) -> Cut:
            for title_id in chosen:
                cut = place_title(cut, title_id, x, y, scale)
            return cut

        self.session.edit("Place a title", change, ("place", *chosen))

    def _reframe(self) -> None:
        title = self.session.title
        if title is None:
            return
        self.session.edit("Shape of a title", lambda c: change_titles(c, [title.id], reframed=not title.reframed))
        now = self.session.title
        scene = self.session.scene_of(now) if now is not None else ""
        if isinstance(scene, str) and scene:
            self.session.refused.emit(scene)
