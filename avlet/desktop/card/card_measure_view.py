"""The card's measure: how full it is, what it feels like to a stranger, and what lets the design break. Each line leads to its place."""

from PyQt6.QtCore import QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPaintEvent
from PyQt6.QtWidgets import QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.theme import GOOD, LINE, MARIGOLD, WARNING
from avlet.errors import AvletError
from avlet.review.card_measure import GLANCE, MOMENT, Bench, Remark, fullness, remarks, share

_WAIT, _AT_ONCE = 350, 12
"""ms after the last change before answers are tried out; ms that trying may take before the window gets its turn."""


class CardMeasure(QWidget):
    """Measures the session's card while it is looked at."""

    wanted = pyqtSignal(object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.found: list[Remark] = []
        self._bench: Bench | None = None
        self._template: object = None
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(5)
        self.words = QLabel()
        layout.addWidget(self.words)
        self.bar = _Bar()
        layout.addWidget(self.bar)
        self.trying = QLabel()
        self.trying.setProperty("role", "small")
        layout.addWidget(self.trying)
        self.list = QWidget()
        self.rows = QVBoxLayout(self.list)
        self.rows.setContentsMargins(0, 0, 0, 0)
        self.rows.setSpacing(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(self.list)
        layout.addWidget(scroll, 1)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._try)
        session.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Say what can be said at once, and try answers out in a while."""
        if self.session.template is self._template or not self.isVisible():
            return
        self._template = self.session.template
        count = len(self.session.template.card.fields)
        self.words.setText(fullness(count))
        self.bar.show_share(share(count), count)
        self._bench = None
        self.trying.setText("")
        self._timer.start(_WAIT)

    def showEvent(self, event: object) -> None:
        self.refresh()

    def hideEvent(self, event: object) -> None:
        self._timer.stop()
        self._template = None

    def _try(self) -> None:
        """Try some answers, then let the window have its turn."""
        if self._bench is None:
            try:
                self._show(remarks(self.session.template))
                self._bench = Bench(self.session.template, self.session.book)
            except AvletError:
                return
        self._bench.work(_AT_ONCE / 1000)
        if self._bench.done:
            self._show([*remarks(self.session.template), *self._bench.remarks()])
            self.trying.setText(f"{self._bench.count} answers tried out.")
        else:
            self.trying.setText("Trying answers out …")
            self._timer.start(0)

    def _show(self, found: list[Remark]) -> None:
        self.found = found
        while self.rows.count():
            item = self.rows.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.deleteLater()
        for remark in sorted(found, key=lambda r: not r.grave):
            button = QPushButton(("⚠ " if remark.grave else "· ") + remark.words)
            button.setProperty("role", "remark")
            button.setToolTip(remark.words + "\nClick to go there.")
            if remark.grave:
                button.setStyleSheet(f"color: {WARNING};")
            button.clicked.connect(lambda _=False, r=remark: QTimer.singleShot(0, lambda: self.wanted.emit(r)))
            self.rows.addWidget(button)
        if not found and self.session.template.card.fields:
            fine = QLabel("Nothing to mend: every answer within the limits holds.")
            fine.setStyleSheet(f"color: {GOOD};")
            self.rows.addWidget(fine)
        self.rows.addStretch(1)


class _Bar(QWidget):
    """How full the card is."""

    def __init__(self) -> None:
        super().__init__()
        self.share, self.count = 0.0, 0
        self.setFixedHeight(8)

    def sizeHint(self) -> QSize:
        return QSize(300, 8)

    def show_share(self, share: float, count: int) -> None:
        self.share, self.count = share, count
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(LINE))
        painter.drawRoundedRect(QRectF(0, 0, self.width(), 8), 4, 4)
        if self.share > 0:
            painter.setBrush(QColor(GOOD if self.count <= GLANCE else MARIGOLD if self.count <= MOMENT else "#FF8A76"))
            painter.drawRoundedRect(QRectF(0, 0, max(8.0, self.width() * self.share), 8), 4, 4)
