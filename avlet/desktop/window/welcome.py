"""The first page: what to begin with. The demo, the first steps, the gallery of starts, and what was open last."""

import contextlib
from pathlib import Path

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from avlet.desktop.gallery.gallery import Gallery
from avlet.desktop.gallery.tile import Tile
from avlet.desktop.widgets.flow import flowing
from avlet.document.template import Frame
from avlet.errors import AvletError
from avlet.storage.package import SUFFIX, open_template
from avlet.storage.reading import is_there
from avlet.storage.recent import forget, picture_of, recent_paths

_MOST_RECENT = 6
SIDE = 32
"""Room at the sides of the page, in px."""


class WelcomePage(QWidget):
    """``start_wanted`` tells the start that was chosen, in its frame, ``family_wanted`` a family's name and the frame.

    ``open_wanted`` tells a path, ``demo_wanted`` that the demo is to be opened, ``steps_wanted`` that somebody wants to be shown the way,
    ``told`` what is to be said.
    """

    start_wanted = pyqtSignal(object)
    family_wanted = pyqtSignal(str, object)
    open_wanted = pyqtSignal(object)
    demo_wanted = pyqtSignal()
    steps_wanted = pyqtSignal()
    told = pyqtSignal(str)

    def __init__(self, state: Path) -> None:
        super().__init__()
        self.state = state
        self.setProperty("role", "panel")
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        whole.addWidget(self.area)
        body = QWidget()
        self.area.setWidget(body)
        column = QVBoxLayout(body)
        column.setContentsMargins(SIDE, 16, SIDE, 20)
        column.setSpacing(12)
        self.top = self._top()
        column.addWidget(self.top)
        self.gallery = Gallery()
        self.gallery.start_wanted.connect(self.start_wanted)
        self.gallery.family_wanted.connect(self.family_wanted)
        self.gallery.told.connect(self.told)
        column.addWidget(self.gallery)
        heading = QLabel("Open last")
        heading.setProperty("role", "heading")
        column.addWidget(heading)
        self.recent = flowing()
        column.addWidget(self.recent)
        self.nothing = QLabel("Nothing yet. What you save or open is shown here.")
        self.nothing.setProperty("role", "small")
        column.addWidget(self.nothing)
        column.addStretch(1)
        self._waiting: list[RecentFile] = []
        self._paint = QTimer(self)
        self._paint.setInterval(0)
        self._paint.timeout.connect(self._paint_next)

    def _top(self) -> QWidget:
        whole = flowing()
        row = whole.layout()
        assert row is not None
        title = QLabel("What do you build today?")
        title.setStyleSheet("font-size: 22px; font-weight: 600;")
        title.setMinimumWidth(400)
        row.addWidget(title)
        for name, words, role, signal in (
            ("open the demo", "Open the demo", "handover", self.demo_wanted),
            ("first steps", "First steps (5 minutes)", "", self.steps_wanted),
        ):
            button = QPushButton(words)
            button.setObjectName(name)
            if role:
                button.setProperty("role", role)
            button.clicked.connect(signal)
            row.addWidget(button)
        return whole

    def resizeEvent(self, event: object) -> None:
        """Rows take the height that they need, and no more."""
        width = self.width() - 2 * SIDE - 16
        self.gallery.fit(width)
        for flow in (self.top, self.recent):
            layout = flow.layout()
            assert layout is not None
            flow.setFixedHeight(max(1, layout.heightForWidth(width)))

    def refresh(self) -> None:
        """Draw the starts once, and show what was open last."""
        self.gallery.refresh_own()
        self.gallery.begin()
        layout = self.recent.layout()
        assert layout is not None
        while layout.count():
            item = layout.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        self._waiting = []
        for path in recent_paths(self.state)[:_MOST_RECENT]:
            tile = RecentFile(path)
            tile.clicked.connect(lambda _=False, p=path: self.open_wanted.emit(p))
            tile.unwanted.connect(lambda p=path: self._forget(p))
            layout.addWidget(tile)
            self._waiting.append(tile)
        self.nothing.setVisible(not self._waiting)
        self._paint.start()
        self.resizeEvent(None)

    def _paint_next(self) -> None:
        if not self._waiting:
            self._paint.stop()
            return
        self._waiting.pop(0).draw()

    def _forget(self, path: Path) -> None:
        forget(self.state, path)
        self.refresh()


class RecentFile(Tile):
    """A file that was open, with its picture; a template plays as starts do. Delete takes it from the list. One that has gone says so."""

    def __init__(self, path: Path) -> None:
        there = is_there(path)
        super().__init__(path.stem, path.name if there else f"{path.name}: gone", lambda _: open_template(path))
        self.path, self._plays = path, there and path.suffix.lower() == SUFFIX
        self.setObjectName(f"recent {path.name}")
        self.setAccessibleName(f"Open {path.name}" if there else f"{path.name} is no longer there")
        self.setToolTip(
            f"{path}\nDelete takes it from this list." if there else f"{path} is no longer there. Delete takes it from this list."
        )

    def draw(self) -> None:
        """Show the picture that the file has of itself."""
        picture = QPixmap()
        if picture.loadFromData(picture_of(self.path)):
            self.show_still(picture)

    def play(self) -> None:
        """Play a template; what cannot be opened lies still, and says why when it is pressed."""
        if self._plays and self.opened is None:
            self._plays = False
            with contextlib.suppress(AvletError):
                self.opened = self.begin(Frame())
        super().play()
