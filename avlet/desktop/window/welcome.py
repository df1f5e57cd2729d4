"""The first page: what to begin with. The demo, the starting points, and what was open last."""

from pathlib import Path

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QIcon, QPixmap
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QScrollArea, QSizePolicy, QToolButton, QVBoxLayout, QWidget

from avlet.desktop.widgets.flow import flowing
from avlet.document.starts import STARTS
from avlet.document.template import Frame
from avlet.storage.recent import recent_files
from avlet.storage.thumbnail import thumbnail_png
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
        self.starts = flowing()
        column.addWidget(self.starts)
        self._shown = False
        column.addWidget(self._lower())
        column.addStretch(1)

    def resizeEvent(self, event: object) -> None:
        """The starts take the height that their rows need, and no more."""
        flow = self.starts.layout()
        assert flow is not None
        self.starts.setFixedHeight(max(1, flow.heightForWidth(self.width() - 2 * SIDE)))

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
        layout = self.starts.layout()
        assert layout is not None
        if not self._shown:
            self._shown = True
            for name, start in STARTS.items():
                button = QToolButton()
                button.setObjectName(f"start {name}")
                button.setText(name)
                button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
                picture = QPixmap()
                picture.loadFromData(thumbnail_png(start(Frame()), bundled_fonts()))
                button.setIcon(QIcon(picture))
                button.setIconSize(_PICTURE)
                button.clicked.connect(lambda _=False, n=name: self.start_wanted.emit(n))
                layout.addWidget(button)
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
