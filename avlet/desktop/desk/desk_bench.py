"""The cutting desk: a small stand-in for an editor's own program. Library, picture, card, and a short cut below."""

from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QLabel, QMenu, QPushButton, QScrollArea, QVBoxLayout, QWidget

from avlet.desktop.card.card_view import CardView
from avlet.desktop.desk.cut_shape import ShapeButton
from avlet.desktop.desk.cut_view import CutView
from avlet.desktop.desk.desk_commands import DeskCommands
from avlet.desktop.desk.desk_picture import DeskPicture
from avlet.desktop.desk.film_note import FilmNote
from avlet.desktop.desk.library_view import LibraryView
from avlet.desktop.desk.sound_output import SoundOutput
from avlet.desktop.desk.title_times import TitlePlace, TitleTimes
from avlet.desktop.sessions.cut_session import CutSession
from avlet.desktop.sessions.player import Player
from avlet.desktop.widgets.buttons import flat_button, flat_switch
from avlet.desktop.widgets.hint import Hint
from avlet.desktop.widgets.icons import icon
from avlet.desktop.widgets.menus import pop_up
from avlet.desktop.widgets.sides import Sides
from avlet.desktop.widgets.theme import SMALL, WARNING, font
from avlet.desktop.widgets.time_box import TimeBox
from avlet.document.cut import Title, answer_on_all, free_track, put_title
from avlet.document.editing.naming import free_id
from avlet.media.placing import is_same_shape
from avlet.media.sound import sample_of, sound_clips
from avlet.media.theirs import theirs_of
from avlet.numbers.timecode import rate_words
from avlet.review.samples import said_of
from avlet.storage.settings import used

_LEAST_CARD = 190
"""px of the card that are in sight at least; in a low window the panel is scrolled."""


class DeskBench(QWidget):
    """Where an editor drops templates on a cut, fills their cards and renders them."""

    render_wanted = pyqtSignal(bool)

    def __init__(self, session: CutSession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.library = LibraryView(session)
        self.picture = DeskPicture(session)
        self.card = CardView()
        self.view = CutView(session)
        self.commands = DeskCommands(session, self.view, self, self.library.usual)
        self.player = Player(lambda: max(1, session.cut.length), lambda: session.cut.frame.fps, self)
        self.player.frame_due.connect(session.go_to)
        self.player.playing_changed.connect(self._show_playing)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        self.library.setMinimumWidth(190)
        self.sides = Sides(self.picture, self.library, self._right(), ("Library", "Card"), (284, 620, 300))
        layout.addWidget(self.sides, 1)
        layout.addWidget(self._transport())
        layout.addWidget(self.view)
        self.setAutoFillBackground(True)
        self._card_of: object = None
        self._told_of_sound: set[str] = set()
        self._shown_answers: dict[str, Any] | None = None
        self.library.chosen.connect(lambda name: self.add_title(name, session.frame, anywhere=True))
        self.library.given.connect(self.commands.give_template)
        self.view.dropped.connect(self.add_title)
        self.view.film_dropped.connect(self.commands.add_footage)
        self.view.menu_wanted.connect(lambda at: pop_up(self.commands.menu(), at))
        self.view.removed.connect(self.commands.remove)
        self.view.card_wanted.connect(self._to_the_card)
        self.card.left.connect(lambda: self.view.setFocus(Qt.FocusReason.OtherFocusReason))
        self.picture.typed.connect(self._typed)
        self.picture.playing = lambda: self.player.playing
        self.picture.left.connect(session.history.close_gesture)
        self.card.refused.connect(session.refused)
        self.card.answered.connect(self._answered)
        self.card.finished.connect(session.history.close_gesture)
        session.changed.connect(self.refresh)
        session.selection_changed.connect(self.refresh)
        session.frame_changed.connect(lambda _: self._show_picture())
        self.refresh()

    def _to_the_card(self) -> None:
        self.sides.reveal(self.sides.panels[1])
        self.card.begin()

    def _right(self) -> QWidget:
        right = QScrollArea()
        right.setWidgetResizable(True)
        right.setProperty("role", "panel")
        right.setMinimumWidth(268)
        right.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inside = QWidget()
        inside.setProperty("role", "panel")
        right.setWidget(inside)
        layout = QVBoxLayout(inside)
        layout.setContentsMargins(10, 12, 12, 12)
        self.card.setMinimumHeight(_LEAST_CARD)
        layout.addWidget(self.card, 1)
        self.times = TitleTimes(self.session)
        layout.addWidget(self.times)
        self.place = TitlePlace(self.session)
        layout.addWidget(self.place)
        self.film = FilmNote(self.session)
        layout.addWidget(self.film)
        self.news = QLabel()
        self.news.setWordWrap(True)
        self.news.setProperty("role", "rose")
        layout.addWidget(self.news)
        self.take = QPushButton("Take it – your answers stay")
        self.take.setProperty("chip", "card")
        self.take.clicked.connect(lambda: self.commands.take_version(list(self.session.selection), None))
        layout.addWidget(self.take)
        self.note = QLabel()
        self.note.setWordWrap(True)
        self.note.setStyleSheet(f"color: {WARNING};")
        layout.addWidget(self.note)
        layout.addLayout(self._people())
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

    def _people(self) -> QHBoxLayout:
        """Where words come from: kept answers, a table, the timeline's markers."""
        people = QHBoxLayout()
        self.people = QPushButton("Kept answers ▾")
        self.people.setToolTip("Words to pick again, such as a person's name and role")
        menu = QMenu(self.people)
        menu.aboutToShow.connect(lambda: self.commands.fill_people(menu))
        self.people.setMenu(menu)
        people.addWidget(self.people)
        self.table = QPushButton("Paste a table")
        self.table.setToolTip("One title like this for each row on the clipboard: names and roles")
        self.table.clicked.connect(self.commands.paste_table)
        people.addWidget(self.table)
        self.markers = QPushButton("At markers…")
        self.markers.setToolTip("A title at each marker of the timeline")
        self.markers.clicked.connect(self.commands.at_markers)
        people.addWidget(self.markers)
        return people

    def _transport(self) -> QWidget:
        bar = QWidget()
        bar.setProperty("role", "panel")
        layout = QHBoxLayout(bar)
        layout.setContentsMargins(12, 4, 12, 0)
        self.button = flat_button("play", "Play or stop (Space)", self.toggle)
        layout.addWidget(self.button)
        self.time = TimeBox("The present time")
        self.time.typed.connect(self._go)
        self.time.refused.connect(self.session.refused)
        layout.addWidget(self.time)
        self.sound = SoundOutput(self)
        self.player.clock = self.sound.elapsed
        self.heard = flat_switch("sound", "Play the sound of the films", self._hear)
        layout.addWidget(self.heard)
        self.dropped = QLabel()
        self.dropped.setFont(font(SMALL, figures=True))
        self.dropped.setProperty("role", "small")
        layout.addWidget(self.dropped)
        self.shape = ShapeButton(self.session)
        layout.addWidget(self.shape)
        hint = Hint(
            "J K L plays back, stops, plays on; I begins the title here, O ends it; S splits; ↑ ↓ to the next title, Enter to its card"
        )
        layout.addWidget(hint, 1)
        return bar

    # Editing

    def add_title(self, template: str, start: int, track: int = 0, anywhere: bool = False) -> None:
        """Put a template on the cut at a frame, at its designed length, and select it.

        Where titles lie there already it begins as near as there is room, which is said; ``anywhere`` tries another track first.
        """
        cut = self.session.cut
        new_id = free_id(template.removesuffix(".avlet"), {t.id for t in cut.titles})
        title = Title(new_id, template, start, 1)
        opened = self.session.template_of(title)
        if isinstance(opened, str):
            self.session.refused.emit(opened)
            return
        designed = opened.template
        length = max(1, round(designed.length * cut.frame.fps / designed.frame.fps))
        version = opened.manifest.version if opened.manifest is not None else 0
        track = free_track(cut, start, length, track) if anywhere else track
        title = Title(new_id, template, start, length, {}, version, {}, track)
        self.session.edit(f"Add {designed.name}", lambda c: put_title(c, title))
        self.session.keep_settings(used(self.session.settings, template))
        self.session.select(new_id)
        added = self.session.title
        if added is not None and added.start != start:
            self.session.refused.emit(f"There is no room for {designed.name} at frame {start}: it begins at frame {added.start}.")
        if added is not None and not added.start <= self.session.frame < added.end:
            self.session.go_to(added.start + added.length // 2)

    def _answered(self, field_id: str, value: Any) -> None:
        """One answer, on all titles that are selected."""
        title = self.session.title
        if title is not None:
            self._shown_answers = {**title.answers, field_id: value}
            chosen = [i for i in self.session.selection if self._asks(i, field_id)]
            gesture = ("card", tuple(chosen), field_id)
            self.session.edit("Fill the card", lambda c: answer_on_all(c, chosen, field_id, value), gesture)

    def _asks(self, title_id: str, field_id: str) -> bool:
        """Whether a title's card has a field."""
        title = self.session.cut.title(title_id)
        opened = self.session.template_of(title) if title is not None else ""
        return not isinstance(opened, str) and opened.template.card.field(field_id) is not None

    def _typed(self, title_id: str, field_id: str, words: str) -> None:
        """Words typed on the picture."""
        title = self.session.cut.title(title_id)
        opened = self.session.template_of(title) if title is not None else ""
        if title is None or isinstance(opened, str):
            return
        field = opened.template.card.field(field_id)
        present = title.answers.get(field_id)
        value = {**present, "text": words} if isinstance(present, dict) else words
        if field is None or (fault := field.fault(value, opened.template.palette)):
            self.session.refused.emit(fault)
            return
        self.session.edit("Type on the picture", lambda c: answer_on_all(c, [title_id], field_id, value), ("typed", title_id, field_id))

    # Showing

    def refresh(self) -> None:
        """Follow the cut and the selection."""
        self._show_card()
        self._show_picture()

    def _show_card(self) -> None:
        title = self.session.title
        opened = self.session.template_of(title) if title else None
        key = (title.id, id(opened), len(self.session.selection)) if title else None
        self.render_all.setEnabled(bool(self.session.cut.titles))
        self.markers.setVisible(bool(theirs_of(self.session.cut).marks))
        if key == self._card_of and title is not None and not self._answers_differ(title):
            self._show_notes(title)
            return
        self._card_of = key
        self.render_one.setEnabled(title is not None and not isinstance(opened, str))
        self.people.setEnabled(title is not None and not isinstance(opened, str))
        self.table.setEnabled(title is not None and not isinstance(opened, str))
        self.note.setText("")
        self.news.hide()
        self.take.hide()
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
        typing = (focus is not None and focus.hasFocus()) or QApplication.activeModalWidget() is not None
        return not typing and title.answers != self._shown_answers

    def _show_notes(self, title: Title | None) -> None:
        if title is None:
            return
        self._shown_answers = dict(title.answers)
        scene = self.session.scene_of(title)
        several = len(self.session.selection)
        said = [f"{several} titles are selected: an answer changes on all of them."] if several > 1 else []
        said += [scene] if isinstance(scene, str) else said_of(scene)
        if not isinstance(scene, str) and not is_same_shape(scene.template.frame, self.session.cut.frame):
            frame = scene.template.frame
            said.append(f"It is made for {frame.width}×{frame.height} and is shown whole, to the cut's scale.")
        rate, own = self.session.cut.frame.fps, scene.template.frame.fps if not isinstance(scene, str) else self.session.cut.frame.fps
        if rate != own:
            said.append(f"It is made for {rate_words(own)} frames a second and shows at the cut's {rate_words(rate)}; its seconds stay.")
        if title.aside:
            said.append(f"Set aside until a version asks for it again: {', '.join(title.aside)}.")
        self.note.setText("\n".join(said))
        news = self.session.newer(title)
        self.news.setText("\n".join(news))
        self.news.setVisible(bool(news))
        self.take.setVisible(bool(news))

    def _show_picture(self) -> None:
        self.picture.show_cut()
        cut = self.session.cut
        self.time.show_frame(self.session.frame, cut.frame.fps, cut.start_time)
        self.dropped.setText(f"{self.player.dropped} dropped" if self.player.playing and self.player.dropped else "")

    def toggle(self) -> None:
        self.player.toggle(self.session.frame)

    def _go(self, frame: int) -> None:
        self.player.stop()
        self.session.go_to(frame)

    def _hear(self, on: bool) -> None:
        self.sound.on = on
        if self.player.playing:
            self._sound_follows(True)

    def _sound_follows(self, playing: bool) -> None:
        """The sound begins and ends with the picture; backwards, and faster, there is none."""
        said = self.sound.stop()
        if playing and self.player.way == 1:
            cut, rate = self.session.cut, self.session.cut.frame.fps
            if self.player.begun != self.session.frame:
                self.session.go_to(self.player.begun)
            self.player.restart()
            said = [self.sound.start(sound_clips(cut), sample_of(self.player.begun, rate), sample_of(max(1, cut.length), rate))]
        for words in filter(None, said):
            if words not in self._told_of_sound:
                self._told_of_sound.add(words)
                self.session.refused.emit(words)

    def _show_playing(self, playing: bool) -> None:
        self._sound_follows(playing)
        self.picture.update()
        self.button.setIcon(icon("pause" if playing else "play"))

    def leave(self) -> None:
        """Another bench comes to the front."""
        self.picture.finish_typing()
        self.player.stop()
