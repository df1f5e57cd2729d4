"""One wire in a small window of its own."""

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QApplication, QDialog, QVBoxLayout, QWidget

from avlet.desktop.card.wire_editor import WireEditor
from avlet.desktop.sessions.template_session import Session


class WireDialog(QDialog):
    """One wire in a small window; it follows the document and closes when the wire is gone."""

    def __init__(self, session: Session, target: str, parent: QWidget | None) -> None:
        super().__init__(parent)
        self.session, self.target = session, target
        self.setWindowTitle("Wire")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setMinimumWidth(340)
        self.column = QVBoxLayout(self)
        self._shown: object = None
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.refresh)
        session.changed.connect(self._later)
        self.refresh()

    def _later(self) -> None:
        self._timer.start(0)

    def refresh(self) -> None:
        """Show the wire as it is now, but not under a pressed mouse button."""
        wire = self.session.template.wire_to(self.target)
        if wire is None:
            self.close()
            return
        if wire == self._shown:
            return
        if QApplication.mouseButtons() != Qt.MouseButton.NoButton:
            self._timer.start(80)
            return
        self._shown = wire
        item = self.column.takeAt(0)
        old = item.widget() if item is not None else None
        if old is not None:
            old.deleteLater()
        self.column.addWidget(WireEditor(self.session, self.target, from_source=True))
