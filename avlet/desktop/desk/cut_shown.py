"""What the picture of a cut is made from, and the measures that all of it shares."""

from typing import Protocol

from PyQt6.QtCore import QRectF

from avlet.desktop.desk.cut_rows import Rows
from avlet.desktop.desk.waveforms import Waveforms
from avlet.desktop.sessions.cut_session import CutSession
from avlet.document.cut import PictureClip, Title

LEFT = 84
"""px at the left of the view for the names of rows."""
LARGE, SMALLEST, NAMED = 16.0, 5.0, 13.0
"""px: a title that is narrower is painted without words, ways and remarks; or as a line alone. A row that is lower has no words."""


class CutShown(Protocol):
    """What the picture of a cut is made from: the cut itself, and where everything lies in px of the view."""

    session: CutSession
    rows: Rows
    waveforms: Waveforms
    clip: int | None
    drop_at: tuple[int, int] | None

    @property
    def shown_frames(self) -> int:
        """How many frames lie across the view."""

    @property
    def first_frame(self) -> int:
        """The first of them."""

    def width(self) -> int: ...
    def height(self) -> int: ...
    def x_of(self, frame: float) -> float: ...
    def title_area(self, title: Title) -> QRectF: ...
    def clip_area(self, index: int) -> QRectF: ...
    def label_of(self, title: Title) -> str: ...
    def missing(self, clip: PictureClip) -> str: ...
