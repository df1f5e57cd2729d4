"""The cutting desk: a small stand-in for an editor's own program. Library, picture, card, and a short cut below."""

from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QSplitter, QVBoxLayout, QWidget

from avlet.desktop.buttons import flat_button
from avlet.desktop.card_view import CardView
from avlet.desktop.cut_session import CutSession
from avlet.desktop.cut_view import CutView
from avlet.desktop.frame_view import FrameView
from avlet.desktop.icons import icon
from avlet.desktop.library_view import LibraryView
from avlet.desktop.player import Player
from avlet.desktop.theme import SMALL, STRONG, WARNING, font
from avlet.document.cut import Title, put_title, set_answers
from avlet.document.naming import free_id
from avlet.motion.timecode import DROP_RATES, timecode


class DeskBench(QWidget):
    """Where an editor drops templates on a cut, fills their cards and renders them."""

    render_wanted = pyqtSignal(bool)

    def __init__(self, session: CutSession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.library = LibraryView(session)
        self.picture = FrameView()
        self.picture.safe_areas = False
        self.card = CardView()
        self.view = CutView(session)
        self.player = Player(lambda: max(1, session.cut.length), lambda: session.cut.frame.fps, self)
        self.player.frame_due.connect(session.go_to)
        self.player.playing_changed.connect(self._show_playing)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        upper = QSplitter(Qt.Orientation.Horizontal)
        upper.setHandleWidth(2)
        self.library.setMinimumWidth(190)
        upper.addWidget(self.library)
        upper.addWidget(self.picture)
        upper.addWidget(self._right())
        upper.setSizes([284, 620, 300])
        upper.setStretchFactor(1, 1)
        layout.addWidget(upper, 1)
        layout.addWidget(self._transport())
        layout.addWidget(self.view)
        self.setAutoFillBackground(True)
        self._card_of: object = None
        self._shown_answers: dict[str, Any] | None = None
        self.library.chosen.connect(lambda name: self.add_title(name, session.frame))
        self.view.dropped.connect(self.add_title)
        self.card.answered.connect(self._answered)
        self.card.finished.connect(session.history.close_gesture)
        session.changed.connect(self.refresh)
        session.selection_changed.connect(self.refresh)
        session.frame_changed.connect(lambda _: self._show_picture())
        self.refresh()

    def _right(self) -> QWidget:
        right = QWidget()
        right.setProperty("role", "panel")
        right.setMinimumWidth(250)
        layout = QVBoxLayout(right)
        layout.setContentsMargins(10, 12, 12, 12)
        layout.addWidget(self.card, 1)
        self.note = QLabel()
        self.note.setWordWrap(True)
        self.note.setStyleSheet(f"color: {WARNING};")
        layout.addWidget(self.note)
        buttons = QHBoxLayout()
        self.render_one = QPushButton("Render this title…")
        self.render_one.clicked.connect(lambda: self.render_wanted.emit(False))
        self.render_all = QPushButton("Render all…")
        self.render_all.setProperty("role", "render")
        self.render_all.clicked.connect(lambda: self.render_wanted.emit(True))
        buttons.addWidget(self.render_one)
        buttons.addWidget(self.render_all)
        layout.addLayout(buttons)
        return right

    def _transport(self) -> QWidget:
        bar = QWidget()
        bar.setProperty("role", "panel")
        layout = QHBoxLayout(bar)
        layout.setContentsMargins(12, 4, 12, 0)
        self.button = flat_button("play", "Play or stop (Space)", self.toggle)
        layout.addWidget(self.button)
        self.time = QLabel()
        self.time.setFont(font(STRONG, figures=True))
        layout.addWidget(self.time)
        self.dropped = QLabel()
        self.dropped.setFont(font(SMALL, figures=True))
        self.dropped.setProperty("role", "small")
        layout.addWidget(self.dropped)
        layout.addStretch(1)
        hint = QLabel("Drag a title to move it, its ends to trim it; Ctrl and the wheel zoom")
        hint.setProperty("role", "small")
        layout.addWidget(hint)
        return bar

    # Editing

    def add_title(self, template: str, start: int) -> None:
        """Put a template on the cut at a frame, at its designed length, and select it."""
        cut = self.session.cut
        new_id = free_id(template.removesuffix(".avlet"), {t.id for t in cut.titles})
        title = Title(new_id, template, start, 1)
        opened = self.session.template_of(title)
        if isinstance(opened, str):
            self.session.refused.emit(opened)
            return
        designed = opened.template
        length = max(1, round(designed.length * cut.frame.fps / designed.frame.fps))
        self.session.edit(f"Add {designed.name}", lambda c: put_title(c, Title(new_id, template, start, length)))
        self.session.select(new_id)
        added = self.session.title
        if added is not None and not added.start <= self.session.frame < added.end:
            self.session.go_to(added.start + added.length // 2)

    def _answered(self, field_id: str, value: Any) -> None:
        title = self.session.title
        if title is not None:
            answers = {**title.answers, field_id: value}
            self._shown_answers = answers
            self.session.edit("Fill the card", lambda c: set_answers(c, title.id, answers), ("card", title.id, field_id))

    # Showing

    def refresh(self) -> None:
        """Follow the cut and the selection."""
        self._show_card()
        self._show_picture()

    def _show_card(self) -> None:
        title = self.session.title
        opened = self.session.template_of(title) if title else None
        key = (title.id, id(opened)) if title else None
        if key == self._card_of and title is not None and not self._answers_differ(title):
            self._show_notes(title)
            return
        self._card_of = key
        self.render_one.setEnabled(title is not None and not isinstance(opened, str))
        self.render_all.setEnabled(bool(self.session.cut.titles))
        self.note.setText("")
        if title is None:
            self.card.show_nothing("Select a title on the words track to fill its card.")
        elif isinstance(opened, str):
            self.card.show_nothing(opened)
        elif opened is not None:
            self.card.show_card(opened.template, title.answers)
            self._show_notes(title)
        self._shown_answers = dict(title.answers) if title else {}

    def _answers_differ(self, title: Title) -> bool:
        """Whether answers changed by other means than the card, e.g. undo."""
        focus = self.card.focusWidget()
        typing = focus is not None and focus.hasFocus()
        return not typing and title.answers != self._shown_answers

    def _show_notes(self, title: Title | None) -> None:
        if title is None:
            return
        self._shown_answers = dict(title.answers)
        scene = self.session.scene_of(title)
        self.note.setText(scene if isinstance(scene, str) else "\n".join(scene.notes()))

    def _show_picture(self) -> None:
        cut, frame = self.session.cut, self.session.frame
        poses: tuple[Any, ...] = ()
        title = cut.title_at(frame)
        if title is not None:
            scene = self.session.scene_of(title)
            if not isinstance(scene, str):
                poses = ((scene.pose(self.session.frame_of(title, scene)), scene.template.frame),)
        under = cut.picture_at(frame)
        self.picture.background.name = under[0] if under else "black"
        self.picture.show_frame(cut.frame, poses, float((under[1] if under else frame) / cut.frame.fps))
        rate = cut.frame.fps
        self.time.setText(timecode(frame, rate, rate in DROP_RATES))
        self.dropped.setText(f"{self.player.dropped} dropped" if self.player.playing and self.player.dropped else "")

    def toggle(self) -> None:
        self.player.toggle(self.session.frame)

    def _show_playing(self, playing: bool) -> None:
        self.button.setIcon(icon("pause" if playing else "play"))

    def leave(self) -> None:
        """Another bench comes to the front."""
        self.player.stop()
