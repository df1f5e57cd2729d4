"""The gallery: families as rows, then starts by themselves and those of one's own; found by kind and words, shown in any frame."""

from fractions import Fraction
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QComboBox, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from avlet.desktop.gallery.tile import Tile
from avlet.desktop.recipe.template_facts import FRAMES, RATES
from avlet.desktop.widgets.flow import flowing
from avlet.desktop.widgets.numbers import NumberBox
from avlet.document.starts import FAMILIES, FAMILY_WORDS, STARTS, Making
from avlet.document.template import Frame
from avlet.errors import AvletError
from avlet.limits import MOST_SIDE
from avlet.numbers.timecode import rate_words
from avlet.places import starts_folder
from avlet.storage.handing_over import remove
from avlet.storage.library import Entry
from avlet.storage.own_starts import begin_from, own_starts
from avlet.storage.package import Opened
from avlet.text.fonts import bundled_fonts

MINE = "Mine"
OWN_SIZE = "own size"
KINDS = {"All": "", "Names": "Lower thirds", "Titles": "Titles", "Tags": "Tags", "Counts": "Counters", "Credits": "Credits", MINE: ""}
"""What can be shown alone: the word on its button, and the category of templates."""
_FAMILY = 158
"""px that what is said of a family takes beside its tiles."""
_NONE = "Nothing of that kind. Search for what you need: a name, a roll, a count, two lines."
_NONE_MINE = "No start of yours yet. Open a template and choose “Keep as a start” in the menu: it is here the next time."


class Gallery(QWidget):
    """``start_wanted`` tells the start that was chosen, in its frame, ``family_wanted`` a family's name and the frame, ``told`` what is to
    be said."""

    start_wanted = pyqtSignal(object)
    family_wanted = pyqtSignal(str, object)
    told = pyqtSignal(str)

    def __init__(self, folder: Path | None = None) -> None:
        super().__init__()
        self.folder = folder or starts_folder()
        self._own: list[Entry] = []
        self.tiles: list[Tile] = []
        self._rows: list[tuple[QWidget, QWidget]] = []
        self._waiting: list[Tile] = []
        self._taking: list[QPushButton] = []
        self._paint = QTimer(self)
        self._paint.setInterval(0)
        self._paint.timeout.connect(self._paint_next)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        self.choices = self._choices()
        column.addWidget(self.choices)
        self.none = QLabel(_NONE)
        self.none.setProperty("role", "muted")
        self.none.hide()
        column.addWidget(self.none)
        for family, kinds in FAMILIES.items():
            flow = self._row(column, self._about(family))
            for kind in kinds:
                self._shipped(flow, f"{family} {kind}", kind.capitalize())
        flow = self._row(column, _said("By themselves", "each with an idea of its own"))
        for name in STARTS:
            if not any(name.startswith(f"{family} ") for family in FAMILIES):
                self._shipped(flow, name, name)
        self.mine = self._row(column, _said(MINE, "Keep as a start in the menu puts a template here; Delete takes it away"))

    @property
    def frame(self) -> Frame:
        """The frame and rate in which all tiles are shown."""
        width, height = FRAMES.get(self.size_box.currentText(), (int(self.width_box.value), int(self.height_box.value)))
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
        self.size_box.addItems([*FRAMES, OWN_SIZE])
        self.width_box, self.height_box = NumberBox(1920, 16, MOST_SIDE, 2, True), NumberBox(1080, 16, MOST_SIDE, 2, True)
        for number, name in ((self.width_box, "Width of the frame"), (self.height_box, "Height of the frame")):
            number.setAccessibleName(name)
            number.setToolTip(name)
            number.setVisible(False)
            number.value_changed.connect(self._other_frame)
        self.rate_box.setAccessibleName("Rate of the starts")
        for rate in RATES:
            self.rate_box.addItem(f"{rate_words(Fraction(rate))} f/s", rate)
        self.rate_box.setCurrentIndex(RATES.index("25/1"))
        for box in (self.size_box, self.width_box, self.height_box, self.rate_box):
            row.addWidget(box)
        for chosen in (self.size_box, self.rate_box):
            chosen.currentIndexChanged.connect(self._other_frame)
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
        self._taking.append(take)
        return said

    def for_one(self) -> None:
        """Offer single starts alone, no families to be taken whole."""
        for button in self._taking:
            button.hide()

    def _row(self, column: QVBoxLayout, said: QWidget) -> QWidget:
        """A row for tiles, with what is said of them at its side."""
        whole, flow = QWidget(), flowing()
        row = QHBoxLayout(whole)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(10)
        said.setFixedWidth(_FAMILY)
        row.addWidget(said, 0, Qt.AlignmentFlag.AlignTop)
        row.addWidget(flow, 1)
        self._rows.append((whole, flow))
        column.addWidget(whole)
        return flow

    def _shipped(self, flow: QWidget, name: str, label: str) -> None:
        """A tile of a start that ships."""
        self._add(flow, Tile(name, label, partial(_begun, STARTS[name])))

    def _add(self, flow: QWidget, tile: Tile) -> None:
        layout = flow.layout()
        assert layout is not None
        tile.clicked.connect(lambda: self._chosen(tile))
        tile.moved.connect(lambda across, down: self._go(tile, across, down))
        layout.addWidget(tile)
        self.tiles.append(tile)
        self._waiting.append(tile)

    def _chosen(self, tile: Tile) -> None:
        """Tell what is begun with; one that cannot be is said."""
        if tile.opened is None or tile in self._waiting:
            tile.show_in(self.frame)
        if tile.opened is None:
            self.told.emit(tile.fault)
        else:
            self.start_wanted.emit(tile.opened)

    def _go(self, tile: Tile, across: int, down: int) -> None:
        """Give the keyboard to the tile that lies nearest in a direction."""
        here = tile.mapTo(self, tile.rect().center())
        best: tuple[float, Tile] | None = None
        for other in self.tiles:
            if other is tile or other.isHidden() or not other.isVisibleTo(self):
                continue
            there = other.mapTo(self, other.rect().center())
            wide, high = there.x() - here.x(), there.y() - here.y()
            along, aside = (wide * across, abs(high)) if across else (high * down, abs(wide))
            near = (tile.height() if across else tile.width()) / 2
            if along > 0 and (not across or aside < near) and (best is None or along + 3 * aside < best[0]):
                best = along + 3 * aside, other
        if best is not None:
            best[1].setFocus(Qt.FocusReason.TabFocusReason)

    def refresh_own(self) -> None:
        """Show the starts of one's own as they are now."""
        try:
            own = own_starts(self.folder)
        except AvletError as error:
            self.told.emit(str(error))
            own = []
        if own == self._own:
            return
        self._own = own
        for tile in [tile for tile in self.tiles if tile.parent() is self.mine]:
            self.tiles.remove(tile)
            if tile in self._waiting:
                self._waiting.remove(tile)
            tile.hide()
            tile.deleteLater()
        for entry in own:
            label = f"{entry.name}, version {entry.version}" if entry.version > 1 else entry.name
            tile = Tile(entry.name, label, partial(begin_from, entry.path))
            tile.setObjectName(f"own {entry.name}")
            tile.unwanted.connect(lambda e=entry: self._take_away(e))
            self._add(self.mine, tile)
        self._sift()
        self.begin()

    def _take_away(self, entry: Entry) -> None:
        """Take a start of one's own from the gallery; its versions stay beside it."""
        try:
            remove(entry.path)
        except AvletError as error:
            self.told.emit(str(error))
            return
        self.told.emit(f"{entry.name} is no start of yours any more. What it was is in “{entry.path.parent / 'versions'}”.")
        self.refresh_own()

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
        own = self.size_box.currentText() == OWN_SIZE
        for box in (self.width_box, self.height_box):
            box.setVisible(own)
        self.fit(self.width())
        self._waiting = list(self.tiles)
        self._paint.start()

    def _sift(self) -> None:
        """Show the tiles of the chosen kind that the words find; rows without any go."""
        chosen = self.kinds.checkedButton()
        name, words = chosen.text() if chosen is not None else "All", self.search.text()
        category = KINDS[name]
        for tile in self.tiles:
            of_kind = not category or (tile.template is not None and tile.template.category == category)
            if name == MINE:
                of_kind = tile.parent() is self.mine
            tile.setVisible(of_kind and tile.found_by(words))
        for whole, flow in self._rows:
            whole.setVisible(any(not tile.isHidden() for tile in self.tiles if tile.parent() is flow))
        only_mine = name == MINE and not self._own
        self.none.setText(_NONE_MINE if only_mine else _NONE)
        self.none.setVisible(all(tile.isHidden() for tile in self.tiles))
        self.fit(self.width())


def _begun(make: Making, frame: Frame) -> Opened:
    return Opened(make(frame), bundled_fonts())


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
