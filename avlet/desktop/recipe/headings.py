"""Headings of the recipe: each folds its part and stays so, and a strip over the recipe leads to all of them."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.flow import FlowLayout, flowing

MARK = "heading "
"""What the object names of headings begin with."""


class FoldHeading(QPushButton):
    """A heading over a ``body`` that a click folds and unfolds: for every part, until it is clicked again, and the next time too."""

    def __init__(self, session: Session, words: str, body: QWidget) -> None:
        super().__init__()
        self.session, self.words, self.body = session, words, body
        self.setProperty("role", "fold")
        self.setObjectName(MARK + words)
        self.setToolTip("Fold or unfold")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.clicked.connect(lambda _=False: self.fold(words not in session.folded))
        self._show()

    def fold(self, folded: bool) -> None:
        """Hide what is under the heading, or show it again."""
        (self.session.folded.add if folded else self.session.folded.discard)(self.words)
        self.body.setVisible(not folded)
        self._show()
        self.session.folds_changed.emit()

    def _show(self) -> None:
        folded = self.words in self.session.folded
        self.setText(f"{'▸' if folded else '▾'} {self.words}")
        self.setAccessibleName(f"{self.words}, {'folded' if folded else 'unfolded'}")
        if folded:
            self.body.hide()


class HeadingsStrip(QWidget):
    """The headings of a recipe, always in sight; a click brings one into view."""

    def __init__(self, recipe: QScrollArea, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.recipe = recipe
        self.setProperty("role", "panel")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(11, 12, 10, 0)
        inner = flowing()
        layout.addWidget(inner)
        flow = inner.layout()
        assert isinstance(flow, FlowLayout)
        self._flow = flow
        self._buttons: list[QPushButton] = []

    def follow(self) -> None:
        """Take the headings that the recipe has now; buttons that are there already are used again."""
        body = self.recipe.widget()
        found = [w.objectName().removeprefix(MARK) for w in body.findChildren(QWidget) if w.objectName().startswith(MARK)] if body else []
        for words in found[len(self._buttons) :]:
            self._buttons.append(self._new_button(words))
        for button, words in zip(self._buttons, found, strict=False):
            if button.text() != words:
                button.setText(words)
                button.setToolTip(f"Go to {words}")
        for number, button in enumerate(self._buttons):
            if button.isHidden() == (number < len(found)):
                button.setVisible(number < len(found))
        self.setVisible(bool(found))

    def _new_button(self, words: str) -> QPushButton:
        button = QPushButton(words)
        button.setProperty("role", "jump")
        button.setToolTip(f"Go to {words}")
        button.clicked.connect(lambda: self.go_to(button.text()))
        self._flow.addWidget(button)
        return button

    def go_to(self, words: str) -> None:
        """Bring a heading to the top of the recipe, unfolded."""
        body = self.recipe.widget()
        heading = body.findChild(QWidget, MARK + words) if body is not None else None
        if heading is None or body is None:
            return
        if isinstance(heading, FoldHeading):
            heading.fold(False)
        layout = body.layout()
        if layout is not None:
            layout.activate()
        bar = self.recipe.verticalScrollBar()
        if bar is not None:
            bar.setValue(heading.mapTo(body, heading.rect().topLeft()).y() - 8)


def plain_heading(label: QLabel, words: str) -> QLabel:
    """A label that the strip leads to, too."""
    label.setObjectName(MARK + words)
    return label
