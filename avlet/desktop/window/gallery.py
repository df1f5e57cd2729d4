"""The gallery: families as rows, kinds as columns, starts of a kind of their own below; found by kind, by words, in any frame."""

from fractions import Fraction

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QComboBox, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from avlet.desktop.recipe.template_facts import FRAMES, RATES
from avlet.desktop.widgets.flow import flowing
from avlet.desktop.window.tile import Tile
from avlet.document.starts import FAMILIES, FAMILY_WORDS, STARTS
from avlet.document.template import Frame
from avlet.numbers.timecode import rate_words

KINDS = {"All": "", "Names": "Lower thirds", "Titles": "Titles", "Tags": "Tags", "Counts": "Counters", "Credits": "Credits"}
"""What can be shown alone: the word on its button, and the category of templates."""
_FAMILY = 158
"""px that what is said of a family takes beside its tiles."""


class Gallery(QWidget):
    """``start_wanted`` tells the name of a start and the frame, ``family_wanted`` that of a family and the frame."""

    start_wanted = pyqtSignal(str, object)
    family_wanted = pyqtSignal(str, object)

    def __init__(self) -> None:
        super().__init__()
        self.tiles: list[Tile] = []
        self._rows: list[tuple[QWidget, QWidget]] = []
        self._waiting: list[Tile] = []
        self._paint = QTimer(self)
        self._paint.setInterval(0)
        self._paint.timeout.connect(self._paint_next)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        self.choices = self._choices()
        column.addWidget(self.choices)
        self.none = QLabel("Nothing of that kind. Search for what you need: a name, a roll, a count, two lines.")
        self.none.setProperty("role", "muted")
        self.none.hide()
        column.addWidget(self.none)
        for family, kinds in FAMILIES.items():
            self._row(column, self._about(family), {f"{family} {kind}": kind.capitalize() for kind in kinds})
        singles = {name: name for name in STARTS if not any(name.startswith(f"{family} ") for family in FAMILIES)}
        self._row(column, _said("By themselves", "each with an idea of its own"), singles)

    @property
    def frame(self) -> Frame:
        """The frame and rate in which all tiles are shown."""
        width, height = FRAMES[self.size_box.currentText()]
        return Frame(width, height, self.rate_box.currentData())

    def _choices(self) -> QWidget:
        whole = flowing()
        row = whole.layout()
        assert row is not None
        self.kinds = QButtonGroup(self)
        for name in KINDS:
            chip = QPushButton(name)
            chip.setCheckable(True)
            chip.setProperty("role", "chip")
            chip.setObjectName(f"kind {name}")
            chip.setChecked(name == "All")
            self.kinds.addButton(chip)
            chip.clicked.connect(self._sift)
            row.addWidget(chip)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Find a start: name, roll, two lines …")
        self.search.setAccessibleName("Find a start")
        self.search.setClearButtonEnabled(True)
        self.search.setFixedWidth(260)
        self.search.textChanged.connect(self._sift)
        row.addWidget(self.search)
        self.size_box, self.rate_box = QComboBox(), QComboBox()
        self.size_box.setAccessibleName("Frame of the starts")
        self.size_box.addItems([*FRAMES])
        self.rate_box.setAccessibleName("Rate of the starts")
        for rate in RATES:
            self.rate_box.addItem(f"{rate_words(Fraction(rate))} f/s", rate)
        self.rate_box.setCurrentIndex(RATES.index("25/1"))
        for box in (self.size_box, self.rate_box):
            box.currentIndexChanged.connect(self._other_frame)
            row.addWidget(box)
        return whole

    def _about(self, family: str) -> QWidget:
        """What a family is like, its colours, and a button that takes all of it."""
        said = _said(family, FAMILY_WORDS[family])
        layout = said.layout()
        assert isinstance(layout, QVBoxLayout)
        colours = QHBoxLayout()
        colours.setSpacing(5)
        for entry in next(iter(FAMILIES[family].values()))(Frame()).palette:
            swatch = QLabel()
            swatch.setFixedSize(16, 16)
            swatch.setStyleSheet(f"background: {entry.colour}; border: 1px solid #4A5257; border-radius: 4px;")
            swatch.setToolTip(f"{entry.name}: {entry.colour}")
            colours.addWidget(swatch)
        colours.addStretch(1)
        layout.insertLayout(2, colours)
        take = QPushButton("Take all six…")
        take.setObjectName(f"take {family}")
        take.setAccessibleName(f"Take all six of {family}")
        take.setToolTip("Write the six as working files into a folder of yours, with one house")
        take.clicked.connect(lambda: self.family_wanted.emit(family, self.frame))
        layout.insertWidget(3, take, 0, Qt.AlignmentFlag.AlignLeft)
        return said

    def _row(self, column: QVBoxLayout, said: QWidget, starts: dict[str, str]) -> None:
        whole, flow = QWidget(), flowing()
        row = QHBoxLayout(whole)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(10)
        said.setFixedWidth(_FAMILY)
        row.addWidget(said, 0, Qt.AlignmentFlag.AlignTop)
        row.addWidget(flow, 1)
        layout = flow.layout()
        assert layout is not None
        for name, label in starts.items():
            tile = Tile(name, label, STARTS[name])
            tile.clicked.connect(lambda _=False, n=name: self.start_wanted.emit(n, self.frame))
            layout.addWidget(tile)
            self.tiles.append(tile)
            self._waiting.append(tile)
        self._rows.append((whole, flow))
        column.addWidget(whole)

    @property
    def drawn(self) -> bool:
        """Whether all tiles have their pictures."""
        return not self._waiting

    def begin(self) -> None:
        """Draw what is not drawn yet, one after another, so that the page is there at once."""
        if self._waiting:
            self._paint.start()

    def fit(self, width: int) -> None:
        """Take the height that the rows need at a width, and no more."""
        choices = self.choices.layout()
        assert choices is not None
        self.choices.setFixedHeight(choices.heightForWidth(width))
        for whole, flow in self._rows:
            layout = flow.layout()
            assert layout is not None
            if any(tile.isVisibleTo(whole) for tile in self.tiles if tile.parent() is flow):
                flow.setFixedHeight(max(1, layout.heightForWidth(width - _FAMILY - 10)))

    def _paint_next(self) -> None:
        if not self._waiting:
            self._paint.stop()
            return
        self._waiting.pop(0).show_in(self.frame)
        if not self._waiting and self.search.text():
            self._sift()

    def _other_frame(self) -> None:
        self._waiting = list(self.tiles)
        self._paint.start()

    def _sift(self) -> None:
        """Show the tiles of the chosen kind that the words find; rows without any go."""
        chosen = self.kinds.checkedButton()
        category, words = KINDS[chosen.text()] if chosen is not None else "", self.search.text()
        for tile in self.tiles:
            of_kind = not category or (tile.template is not None and tile.template.category == category)
            tile.setVisible(of_kind and tile.found_by(words))
        for whole, flow in self._rows:
            whole.setVisible(any(not tile.isHidden() for tile in self.tiles if tile.parent() is flow))
        self.none.setVisible(all(tile.isHidden() for tile in self.tiles))
        self.fit(self.width())


def _said(name: str, words: str) -> QWidget:
    said = QWidget()
    column = QVBoxLayout(said)
    column.setContentsMargins(0, 4, 0, 0)
    column.setSpacing(6)
    heading, about = QLabel(name), QLabel(words)
    heading.setProperty("role", "heading")
    about.setProperty("role", "small")
    about.setWordWrap(True)
    column.addWidget(heading)
    column.addWidget(about)
    column.addStretch(1)
    return said
