"""What is made of each row: names of files, kinds, frames, languages, where and into which folder."""

import os
from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from avlet.desktop.roster.roster_session import RosterSession
from avlet.desktop.widgets.buttons import FolderRow
from avlet.desktop.widgets.flow import FlowLayout
from avlet.desktop.widgets.quiet_combo import QuietCombo
from avlet.errors import AvletError
from avlet.media.plates import PLATES
from avlet.roster.cluster import ClusterCrew
from avlet.roster.crew import Crew, LocalCrew
from avlet.roster.kinds import KINDS
from avlet.roster.names import Names
from avlet.roster.roster import language_words, usual_frames


def heading(words: str) -> QLabel:
    """The head of a few controls."""
    made = QLabel(words)
    made.setProperty("role", "heading")
    return made


class WantedPanel(QWidget):
    """Everything here is of the roster, but where it is rendered and into which folder. ``told`` gives words for the window."""

    told = pyqtSignal(str)

    def __init__(self, session: RosterSession, folder: Path) -> None:
        super().__init__()
        self.session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self._names(column)
        self._kinds(column)
        column.addSpacing(6)
        column.addWidget(heading("Frames"))
        self._frames_holder = QWidget()
        self._frames_flow = FlowLayout(self._frames_holder)
        self.frames: dict[tuple[int, int], QPushButton] = {}
        column.addWidget(self._frames_holder)
        self._languages_head = heading("Languages")
        column.addWidget(self._languages_head)
        self._languages_holder = QWidget()
        self._languages_flow = FlowLayout(self._languages_holder)
        self.languages: dict[str, QPushButton] = {}
        column.addWidget(self._languages_holder)
        self.empty = QCheckBox("An empty cell is an empty text")
        self.empty.setToolTip("Otherwise an empty cell is the designed answer")
        self.empty.clicked.connect(lambda on: self.session.want("Empty cells", empty=on))
        column.addWidget(self.empty)
        column.addSpacing(6)
        column.addWidget(heading("Where"))
        self._where(column)
        self.folder = FolderRow(folder, "Render into")
        column.addWidget(self.folder)
        session.changed.connect(self.show_again)
        session.selection_changed.connect(self._show_example)
        session.session.changed.connect(self.show_again)

    def _names(self, column: QVBoxLayout) -> None:
        column.addWidget(heading("File names"))
        self.pattern = QLineEdit()
        self.pattern.setAccessibleName("Pattern of file names")
        self.pattern.setToolTip("{row} is the row's number, {Name} what stands in a column of that name")
        self.pattern.editingFinished.connect(self._want_pattern)
        column.addWidget(self.pattern)
        self.example = QLabel()
        self.example.setProperty("role", "small")
        self.example.setWordWrap(True)
        column.addWidget(self.example)
        column.addSpacing(6)

    def _kinds(self, column: QVBoxLayout) -> None:
        column.addWidget(heading("Written as"))
        holder = QWidget()
        flow = FlowLayout(holder)
        self.kinds: dict[str, QPushButton] = {}
        self._pills(flow, self.kinds, {kind.id: kind.short for kind in KINDS}, set(), self._want_kind)
        for kind in KINDS:
            self.kinds[kind.id].setToolTip(kind.words)
            self.kinds[kind.id].setAccessibleName(kind.words)
        column.addWidget(holder)
        self.plate = QuietCombo()
        self.plate.setAccessibleName("The plate that films lie over")
        for name in PLATES:
            self.plate.addItem(f"over {name}", name)
        self.plate.activated.connect(lambda _: self.session.want("Plate", plate=self.plate.currentData()))
        column.addWidget(self.plate)

    def _where(self, column: QVBoxLayout) -> None:
        self.where = QuietCombo()
        self.where.setAccessibleName("Where it is rendered")
        cores = os.cpu_count() or 2
        for count in dict.fromkeys((cores, *(n for n in (1, 2, 4, 8, 16) if n < cores))):
            self.where.addItem(f"this machine, {count} at a time", count)
        self.where.addItem("a cluster", 0)
        self.where.currentIndexChanged.connect(lambda _: self.address.setVisible(self.where.currentData() == 0))
        column.addWidget(self.where)
        self.address = QLineEdit()
        self.address.setPlaceholderText("tcp://host:8786")
        self.address.setAccessibleName("The address of a Dask scheduler")
        self.address.hide()
        column.addWidget(self.address)

    @property
    def crew(self) -> Crew:
        """Whoever makes the files."""
        count = int(self.where.currentData())
        return LocalCrew(count) if count else ClusterCrew(self.address.text().strip())

    # Wanting

    def _want_pattern(self) -> None:
        roster = self.session.roster
        words = self.pattern.text().strip()
        if roster is None or words == roster.pattern:
            return
        try:
            Names(roster.sheet, words)
        except AvletError as error:
            self.told.emit(str(error))
            self.pattern.setText(roster.pattern)
            return
        self.session.want("File names", pattern=words)

    def _want_kind(self, kind_id: str) -> None:
        roster = self.session.roster
        if roster is None:
            return
        wanted = {k.id for k in roster.wanted.kinds} ^ {kind_id}
        if not wanted:
            self.kinds[kind_id].setChecked(True)
            self.told.emit("One kind of file at least is written.")
            return
        self.session.want("Written as", kinds=tuple(k for k in KINDS if k.id in wanted))

    def _want_frame(self, size: tuple[int, int]) -> None:
        roster = self.session.roster
        if roster is None:
            return
        frame = self.session.session.template.frame
        own = (frame.width, frame.height)
        present = roster.wanted.frames or (own,)
        new = tuple(s for s in present if s != size) if size in present else (*present, size)
        if not new:
            self.frames[size].setChecked(True)
            self.told.emit("One frame at least is rendered.")
            return
        ordered = tuple(s for s in self.frames if s in new)
        self.session.want("Frames", frames=() if ordered == (own,) else ordered)

    def _want_language(self, language: str) -> None:
        roster = self.session.roster
        if roster is None:
            return
        present = roster.languages
        new = tuple(lang for lang in roster.sheet.languages if (lang in present) != (lang == language))
        if not new:
            self.languages[language].setChecked(True)
            self.told.emit("One language at least is rendered.")
            return
        self.session.want("Languages", languages=new)

    # Showing

    def show_again(self) -> None:
        """Another roster, or another template."""
        roster = self.session.roster
        self.setEnabled(roster is not None)
        if roster is None:
            return
        if not self.pattern.hasFocus():
            self.pattern.setText(roster.pattern)
        self._show_example()
        for kind in KINDS:
            self.kinds[kind.id].setChecked(kind in roster.wanted.kinds)
        self.plate.setVisible(any(kind.over for kind in roster.wanted.kinds))
        self.plate.setCurrentIndex(PLATES.index(roster.wanted.plate))
        self.empty.setChecked(roster.wanted.empty)
        frame = self.session.session.template.frame
        present = roster.wanted.frames or ((frame.width, frame.height),)
        sizes = {size: f"{size[0]}×{size[1]}" for size in dict.fromkeys((*usual_frames(self.session.session.template), *present))}
        self._pills(self._frames_flow, self.frames, sizes, set(present), self._want_frame)
        languages = {language: language_words(language) for language in roster.sheet.languages}
        self._pills(self._languages_flow, self.languages, languages, set(roster.languages), self._want_language)
        self._languages_head.setVisible(bool(languages))
        self._languages_holder.setVisible(bool(languages))

    def _show_example(self) -> None:
        plan = self.session.plan
        if plan is None:
            self.example.setText("" if self.session.is_planning else self.session.fault)
            return
        here = [item.name for item in plan.items if item.line == self.session.row] if len(plan.items) < 20_000 else []
        names = here or [item.name for item in plan.items[:1]]
        self.example.setText(names[0] + (f" and {len(names) - 1} more" if len(names) > 1 else "") if names else "no row can be rendered")

    @staticmethod
    def _pills(flow: FlowLayout, known: dict, words: dict, on: set, wanted: object) -> None:  # type: ignore[type-arg]
        """Buttons that are on or off, one for each of ``words``; those that are there already stay."""
        if list(known) != list(words):
            for button in known.values():
                flow.removeWidget(button)
                button.deleteLater()
            known.clear()
            for key, label in words.items():
                button = QPushButton(label)
                button.setProperty("role", "pill")
                button.setCheckable(True)
                button.clicked.connect(lambda _=False, k=key: wanted(k))  # type: ignore[operator]
                flow.addWidget(button)
                known[key] = button
        for key, button in known.items():
            button.setChecked(key in on)
