"""The first page: what to begin with. The demo, the starting points, and what was open last."""

from collections.abc import Callable, Mapping
from pathlib import Path

from PyQt6.QtCore import QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QIcon, QPixmap
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QScrollArea, QSizePolicy, QToolButton, QVBoxLayout, QWidget

from avlet.desktop.widgets.flow import flowing
from avlet.document.starts import FAMILIES, STARTS
from avlet.document.template import Frame, Template
from avlet.storage.recent import recent_files
from avlet.storage.thumbnail import GROUND, kept_thumbnail_png
from avlet.text.fonts import bundled_fonts

_PICTURE = QSize(216, 122)
_MOST_RECENT = 6
SIDE = 48
"""Room at the sides of the page, in px."""


class WelcomePage(QWidget):
    """``start_wanted`` tells the name of a starting point, ``open_wanted`` a path, ``demo_wanted`` that the demo is to be opened."""

    start_wanted = pyqtSignal(str)
    open_wanted = pyqtSignal(object)
    demo_wanted = pyqtSignal()
    other_frame_wanted = pyqtSignal()

    def __init__(self, state: Path) -> None:
        super().__init__()
        self.state = state
        self.setProperty("role", "panel")
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        whole.addWidget(scroll)
        body = QWidget()
        scroll.setWidget(body)
        column = QVBoxLayout(body)
        column.setContentsMargins(SIDE, 34, SIDE, 24)
        column.setSpacing(14)
        title = QLabel("What do you build today?")
        title.setStyleSheet("font-size: 22px; font-weight: 600;")
        column.addWidget(title)
        words = QLabel("Titles whose shapes size themselves to the words. Take a start, type on it, watch the samples, hand it over.")
        words.setProperty("role", "muted")
        column.addWidget(words)
        row = QHBoxLayout()
        heading = QLabel("Start from")
        heading.setProperty("role", "heading")
        row.addWidget(heading)
        row.addStretch(1)
        frame = QPushButton("In another frame or rate…")
        frame.clicked.connect(self.other_frame_wanted)
        row.addWidget(frame)
        column.addLayout(row)
        self.flows: list[QWidget] = []
        self._waiting: list[tuple[QToolButton, Callable[[Frame], Template]]] = []
        self._paint = QTimer(self)
        self._paint.setInterval(0)
        self._paint.timeout.connect(self._paint_next)
        singles = {name: start for name, start in STARTS.items() if not any(name.startswith(f"{family} ") for family in FAMILIES)}
        self._row(column, singles)
        column.addWidget(self._lower())
        for family in FAMILIES:
            label = QLabel(f"{family}, a family: one look for one programme")
            label.setProperty("role", "heading")
            column.addWidget(label)
            self._row(column, {name: start for name, start in STARTS.items() if name.startswith(f"{family} ")})
        column.addStretch(1)

    def resizeEvent(self, event: object) -> None:
        """The starts take the height that their rows need, and no more."""
        for row in self.flows:
            flow = row.layout()
            assert flow is not None
            row.setFixedHeight(max(1, flow.heightForWidth(self.width() - 2 * SIDE)))

    def _row(self, column: QVBoxLayout, starts: Mapping[str, Callable[[Frame], Template]]) -> None:
        """Buttons for some starts. Their pictures come one after another, so that the page is there at once."""
        flow = flowing()
        layout = flow.layout()
        assert layout is not None
        for name, start in starts.items():
            button = QToolButton()
            button.setObjectName(f"start {name}")
            button.setText(name)
            button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
            button.setIconSize(_PICTURE)
            blank = QPixmap(_PICTURE)
            blank.fill(QColor(*GROUND))
            button.setIcon(QIcon(blank))
            button.clicked.connect(lambda _=False, n=name: self.start_wanted.emit(n))
            layout.addWidget(button)
            self._waiting.append((button, start))
        self.flows.append(flow)
        column.addWidget(flow)

    def _paint_next(self) -> None:
        """The picture of the next start that has none yet."""
        if not self._waiting:
            self._paint.stop()
            return
        button, start = self._waiting.pop(0)
        picture = QPixmap()
        picture.loadFromData(kept_thumbnail_png(start(Frame()), bundled_fonts()))
        button.setIcon(QIcon(picture))

    def _lower(self) -> QWidget:
        """The demo, and what was open last."""
        both = QWidget()
        both.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
        lower = QHBoxLayout(both)
        lower.setContentsMargins(0, 0, 0, 0)
        lower.setSpacing(40)
        left = QVBoxLayout()
        left.setSpacing(8)
        heading = QLabel("Look around first")
        heading.setProperty("role", "heading")
        left.addWidget(heading)
        demo = QPushButton("Open the demo")
        demo.setProperty("role", "handover")
        demo.setObjectName("open the demo")
        demo.clicked.connect(self.demo_wanted)
        left.addWidget(demo, 0, Qt.AlignmentFlag.AlignLeft)
        facts = QLabel("Templates and a cut of an invented series, to be taken apart. Nothing that ships is changed.")
        facts.setProperty("role", "small")
        left.addWidget(facts)
        left.addStretch(1)
        lower.addLayout(left, 1)
        self.recent = QVBoxLayout()
        self.recent.setSpacing(2)
        lower.addLayout(self.recent, 1)
        return both

    def refresh(self) -> None:
        """Draw the starting points once, and list what was open last."""
        if self._waiting:
            self._paint.start()
        self.resizeEvent(None)
        while self.recent.count():
            item = self.recent.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.deleteLater()
        heading = QLabel("Open last")
        heading.setProperty("role", "heading")
        self.recent.addWidget(heading)
        paths = recent_files(self.state)[:_MOST_RECENT]
        for path in paths:
            opener = QPushButton(path.name)
            opener.setProperty("role", "remark")
            opener.setToolTip(str(path))
            opener.clicked.connect(lambda _=False, p=path: self.open_wanted.emit(p))
            self.recent.addWidget(opener)
        if not paths:
            none = QLabel("Nothing yet. What you save or open is listed here.")
            none.setProperty("role", "small")
            self.recent.addWidget(none)
        self.recent.addStretch(1)
