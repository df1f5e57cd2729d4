"""Titles at the markers of a timeline: which markers, of which template, how long; shown as a list before anything is done."""

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QFormLayout,
    QHeaderView,
    QLabel,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from avlet.desktop.sessions.cut_session import CutSession
from avlet.desktop.widgets.asking import lasting
from avlet.desktop.widgets.numbers import NumberBox
from avlet.document.cut import Title
from avlet.document.fields import words_of
from avlet.document.metadata import brief
from avlet.errors import AvletError
from avlet.limits import MOST_PASTED
from avlet.media.at_markers import Lasts, Marked, chosen_marks, titles_at
from avlet.media.theirs import theirs_of
from avlet.numbers.timecode import DROP_RATES, timecode
from avlet.storage.library import Entry
from avlet.storage.package import Opened
from avlet.storage.table_files import table_in_file

TABLES = "Tables (*.csv *.tsv *.txt *.xlsx *.ods)"
_LASTS: tuple[tuple[Lasts, str], ...] = (
    ("template", "As its template does"), ("next", "Up to the next marker"), ("marker", "As long as the marker marks"),
)  # fmt: skip


class MarkersDialog(QDialog):
    """*Titles at markers…*: what will be made is worked out anew with each choice. ``rows`` are those of a copied table."""

    def __init__(self, session: CutSession, entries: Sequence[Entry], rows: Sequence[Sequence[str]], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Titles at markers")
        self.resize(720, 520)
        self.session = session
        self.marks = theirs_of(session.cut).marks
        self.made: Marked | None = None
        self.template, self.colour, self.track, self.lasts, self.words = (QComboBox() for _ in range(5))
        for entry in entries:
            self.template.addItem(entry.name, entry.file_name)
        self.colour.addItem("Of any colour", "")
        for colour in dict.fromkeys(mark.colour for mark in self.marks if mark.colour):
            self.colour.addItem(colour.capitalize(), colour)
        self.track.addItem("Wherever they are", None)
        for track in dict.fromkeys(mark.track for mark in self.marks):
            self.track.addItem(f"On {track}" if track else "On the timeline itself", track)
        for lasts, words in _LASTS:
            self.lasts.addItem(words, lasts)
        self.words.addItem("The marker’s name, then “field: value” in its comment", None)
        if rows:
            self.words.addItem(f"The rows of the copied table, in order ({len(rows)})", rows)
        self.from_file = QPushButton("A table from a file…")
        self.from_file.clicked.connect(self._choose_table)
        form = QFormLayout()
        for label, box in (
            ("Template", self.template), ("Markers", self.colour), ("", self.track), ("Each lasts", self.lasts), ("Its words", self.words),
        ):  # fmt: skip
            box.setAccessibleName(label or "Where the markers are")
            box.currentIndexChanged.connect(self.refresh)
            form.addRow(label, box)
        form.addRow("", self.from_file)
        self.list = QTableWidget(0, 4)
        self.list.setAccessibleName("What is made")
        self.list.setHorizontalHeaderLabels(["At", "Marker", "Words", "What is done"])
        self.list.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.list.setSelectionMode(QAbstractItemView.SelectionMode.NoSelection)
        head, side = self.list.horizontalHeader(), self.list.verticalHeader()
        assert head is not None and side is not None
        head.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        head.setStretchLastSection(True)
        side.hide()
        self.told = QLabel()
        self.told.setWordWrap(True)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        made = buttons.addButton("Make titles", QDialogButtonBox.ButtonRole.AcceptRole)
        assert made is not None
        self.make = made
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        layout = QVBoxLayout(self)
        layout.addLayout(form)
        layout.addWidget(self.list, 1)
        layout.addWidget(self.told)
        layout.addWidget(buttons)
        self.refresh()

    def _choose_table(self) -> None:
        name, _ = QFileDialog.getOpenFileName(lasting(self), "A table of answers", "", TABLES)
        if name:
            self.take_table(Path(name))

    def take_table(self, path: Path) -> None:
        """Fill the titles from the rows of a table in a file, column by column as the card has its fields."""
        try:
            table = table_in_file(path)
        except AvletError as error:
            self.told.setText(str(error))
            return
        rows = [list(row) for row in table.rows[:MOST_PASTED]]
        self.words.addItem(f"The rows of “{brief(path.name)}”, in order ({len(rows)})", rows)
        self.words.setCurrentIndex(self.words.count() - 1)
        if len(table.rows) > MOST_PASTED:
            self.told.setText(f"{self.told.text()} Only the first {MOST_PASTED} of {len(table.rows):,} rows are taken.")

    def _opened(self) -> tuple[str, Opened | str]:
        name = self.template.currentData()
        if name is None:
            return "", "The library has no template yet. Hand one over first."
        return name, self.session.newest_of(Title("", name, 0, 1))

    def refresh(self) -> None:
        """Work out what the choices make, and show it."""
        name, opened = self._opened()
        marks = chosen_marks(self.marks, self.colour.currentData(), self.track.currentData())
        self.list.setRowCount(0)
        if isinstance(opened, str):
            self.made = None
            self.told.setText(opened)
            self.make.setEnabled(False)
            return
        version = opened.manifest.version if opened.manifest is not None else 0
        rows, languages = self.words.currentData(), (NumberBox.language, "en")
        self.made = titles_at(self.session.cut, marks, name, opened.template, version, self.lasts.currentData(), rows, languages)
        self.list.setRowCount(len(self.made.marks))
        cut = self.made.cut
        for row, one in enumerate(self.made.marks):
            title = cut.title(one.title)
            answers = title.answers.values() if title is not None else ()
            words = " · ".join(words_of(v).replace("\n", " / ") for v in answers if isinstance(v, str | dict))
            at = timecode(one.mark.frame + cut.start_time, cut.frame.fps, cut.frame.fps in DROP_RATES)
            for column, cell in enumerate((at, one.mark.name, words, " ".join([f"{one.done}.", *one.said]))):
                item = QTableWidgetItem(cell)
                item.setToolTip(cell)
                self.list.setItem(row, column, item)
        self.list.resizeColumnsToContents()
        done = [one.done for one in self.made.marks]
        new = done.count("new")
        changed = len(done) - new - done.count("as it is")
        said = [f"{new} new, {changed} brought up to date, {len(done) - new - changed} as they are."]
        if self.made.gone:
            said.append(f"{len(self.made.gone)} titles are on the cut whose markers are gone or not among these; they stay.")
        self.told.setText(" ".join(said))
        self.make.setText(f"Make {new} title{'' if new == 1 else 's'}" if new or not changed else f"Bring {changed} up to date")
        self.make.setEnabled(bool(new or changed))
