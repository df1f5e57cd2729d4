"""The sign that an option is being recorded: which one, and a way to stop."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QWidget

from avlet.desktop.sessions.template_session import Session


class RecordingSign(QWidget):
    """Stands above the benches of the template while what is changed there counts for one option only."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setProperty("role", "recording sign")
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 4, 14, 4)
        self.words = QLabel()
        row.addWidget(self.words, 1)
        self.stop = QPushButton("Stop recording")
        self.stop.setObjectName("stop recording")
        self.stop.setToolTip("What you change counts for every option again")
        self.stop.clicked.connect(lambda: session.record(None))
        row.addWidget(self.stop)
        self.wanted = True
        session.changed.connect(self.refresh)
        session.answers_changed.connect(self.refresh)
        self.refresh()

    def show_on(self, template_bench: bool) -> None:
        """Whether a bench of the template is in front."""
        self.wanted = template_bench
        self.refresh()

    def refresh(self) -> None:
        """Follow what is recorded, and the option that is on the stage."""
        option = self.session.recording_words()
        self.words.setText(f"● Recording “{option}”: what you drag, type or choose counts for this option only.")
        self.setVisible(bool(option) and self.wanted)
