"""The sign that an option is being recorded: which one, a way to go on with another, and one to stop."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QWidget

from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.quiet_combo import QuietCombo


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
        row.addWidget(self.words)
        self.options = QuietCombo()
        self.options.setAccessibleName("Option that is recorded")
        self.options.setToolTip("Go on with another option")
        self.options.activated.connect(self._go_to)
        row.addWidget(self.options)
        self.hint = QLabel("What you drag, type or choose counts for this option only.")
        row.addWidget(self.hint, 1)
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
        options = self.session.recorded_options()
        if options is not None:
            self.words.setText(f"● Recording {options.label}:")
            if [self.options.itemText(n) for n in range(self.options.count())] != list(options.names):
                self.options.clear()
                self.options.addItems(options.names)
            self.options.setCurrentIndex(options.present)
        self.setVisible(options is not None and self.wanted)

    def _go_to(self, number: int) -> None:
        """Show another option on the stage, and record that."""
        options = self.session.recorded_options()
        if options is not None and options.present != number:
            self.session.try_answer(options.field, options.answers[number])
