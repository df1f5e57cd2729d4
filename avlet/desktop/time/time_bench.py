"""The Time bench: the stage, the chosen move, a strip of its moments, and the folded ruler."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QScrollArea, QSizePolicy, QStackedWidget, QVBoxLayout, QWidget

from avlet.desktop.sessions.template_session import Session
from avlet.desktop.stage.count_view import CountView
from avlet.desktop.stage.stage import Stage
from avlet.desktop.stage.transport import Transport
from avlet.desktop.time.moments_strip import MomentsStrip
from avlet.desktop.time.move_panel import MovePanel
from avlet.desktop.time.ruler import Ruler
from avlet.desktop.widgets.buttons import flat_switch
from avlet.desktop.widgets.sides import Sides

_FOOT = 124
"""px of what lies under the stage: the moments, or the curve of a count."""


class TimeBench(QWidget):
    """Where a template's timing is made."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.stage = Stage(session)
        self.stage.drafting_on = False
        self.stage.blurred = True
        self.transport = Transport(session, self.stage.cache)
        self.ruler = Ruler(session)
        self.panel = MovePanel(session, self.ruler)
        self.panel.setFixedWidth(372)
        self.moments = MomentsStrip(session)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        stage = QWidget()
        left = QVBoxLayout(stage)
        left.setContentsMargins(0, 0, 0, 0)
        left.setSpacing(0)
        left.addWidget(self.stage, 1)
        self.count = CountView(session)
        self.foot = QStackedWidget()
        self.foot.setFixedHeight(_FOOT)
        strip = QWidget()
        inside = QVBoxLayout(strip)
        inside.setContentsMargins(12, 8, 12, 6)
        inside.addWidget(self.moments)
        inside.addStretch(1)
        for page in (strip, self.count):
            page.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Ignored)
            self.foot.addWidget(page)
        left.addWidget(self.foot)
        self.sides = Sides(stage, None, self.panel, ("", "Move and keys"))
        layout.addWidget(self.sides, 3)
        layout.addWidget(self._bar())
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(self.ruler)
        scroll.setProperty("role", "panel")
        layout.addWidget(scroll, 2)
        self.transport.played.connect(self.stage.played)
        self.ruler.chosen_changed.connect(self._show_moments)
        for signal in (session.changed, session.answers_changed, session.selection_changed):
            signal.connect(self._show_moments)
            signal.connect(self._show_foot)
        self.stage.let_go.connect(self._show_foot)
        session.frame_changed.connect(lambda _: self.moments.update())
        self._show_foot()
        self._show_moments()

    def _show_foot(self) -> None:
        """The curve of a selected counter, else the moments, in one height, so that the stage stays where it is."""
        if not self.stage.held:
            self.foot.setCurrentIndex(1 if self.count.counted is not None else 0)

    def _bar(self) -> QWidget:
        bar = QWidget()
        bar.setProperty("role", "panel")
        row = QHBoxLayout(bar)
        row.setContentsMargins(0, 0, 12, 0)
        row.addWidget(self.transport, 1)
        self.blur_switch = flat_switch("blur", "Show motion blur on the stage", self._set_blur)
        row.addWidget(self.blur_switch)
        note = QLabel("Only the hold stretches")
        note.setProperty("role", "small")
        row.addWidget(note)
        return bar

    def _set_blur(self, on: bool) -> None:
        self.stage.blurred = on
        self.stage.refresh()

    def _show_moments(self) -> None:
        """The strip shows the chosen move, or else the whole way in; nothing is worked out for it while it is hidden."""
        if not self.isVisible():
            return
        spans = self.session.scene().spans
        start, end = 0.0, float(max(1, spans.way_in))
        bars = [bar for row in self.ruler.rows for bar in row.bars if bar.at in self.ruler.chosen and not bar.mirrored]
        if bars:
            start, end = min(bar.start for bar in bars), max(bar.end for bar in bars)
        self.moments.show_move(start, end)

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._show_moments()

    def leave(self) -> None:
        """Another bench comes to the front."""
        self.transport.player.stop()
        self.stage.leave()
