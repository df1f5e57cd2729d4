"""A panel that keeps itself: it follows a document without taking anything from under the hand."""

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QApplication, QScrollArea, QVBoxLayout, QWidget

from avlet.desktop.widgets.asking import is_behind_a_dialog

_WAIT = 60
"""ms until it is looked again whether the hand has let go."""


class KeptPanel(QScrollArea):
    """Shows other values in the editors that it has, and builds others where those are needed.

    Nothing is built anew under a pressed mouse button, an open menu, popup or dialog, or words that are not taken yet. The scroll stays,
    and so does the keyboard's focus, with the editor of the same name. What is hidden waits until it is shown.
    """

    rebuilt = pyqtSignal()

    def __init__(self, margins: tuple[int, int, int, int] = (16, 14, 12, 16), spacing: int = 9, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setProperty("role", "panel")
        self._margins, self._spacing = margins, spacing
        self._shape: object = None
        self._named: dict[str, list[QWidget]] = {}
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.refresh)

    # What a panel says of itself

    def subject(self) -> object:
        """What it is about: the scroll is kept while that stays."""
        return None

    def shape(self) -> object:
        """Changes whenever other words or editors are needed, not when a value does."""
        raise NotImplementedError

    def build(self, layout: QVBoxLayout) -> None:
        """Put words and editors for the present document into an empty column."""
        raise NotImplementedError

    def show_values(self) -> None:
        """Bring every editor up to date."""

    def editors(self, name: str) -> list[QWidget]:
        """The editors of a name, as they were built."""
        return self._named.get(name, [])

    # Following

    def later(self) -> None:
        """The document has changed: follow once all of the change has been told."""
        self._timer.start(0)

    def follow_at_once(self) -> None:
        """What it is about has changed: nothing of it is under the hand any more."""
        if self.isVisible():
            self.rebuild()

    def refresh(self) -> None:
        """Follow the document."""
        if not self.isVisible():
            return
        whole = (self.subject(), self.shape())
        if whole == self._shape:
            self.show_values()
        elif self._shape is not None and self._is_held():
            self.show_values()
            self._timer.start(_WAIT)
        else:
            self.rebuild()

    def _is_held(self) -> bool:
        open_window = QApplication.activePopupWidget() or QApplication.activeModalWidget()
        if QApplication.mouseButtons() != Qt.MouseButton.NoButton or open_window is not None:
            return True
        focus = QApplication.focusWidget()
        modified = getattr(focus, "isModified", None)
        return focus is not None and self.isAncestorOf(focus) and callable(modified) and bool(modified())

    def forget(self) -> None:
        """Build anew, whatever the panel has: the button that asks for it outlives its own click."""
        self._shape = None
        self.later()

    def rebuild(self) -> None:
        """Build the panel for the present document; while a dialog is open, once that has closed."""
        self._timer.stop()
        if is_behind_a_dialog(self):
            self._shape = None
            self._timer.start(_WAIT)
            return
        whole = (self.subject(), self.shape())
        bar = self.verticalScrollBar()
        at = bar.value() if bar is not None and isinstance(self._shape, tuple) and self._shape[0] == whole[0] else 0
        focused = self._focused() if at or self._shape is not None else None
        self._shape = whole
        body = QWidget()
        body.setProperty("role", "panel")
        layout = QVBoxLayout(body)
        layout.setContentsMargins(*self._margins)
        layout.setSpacing(self._spacing)
        self.build(layout)
        layout.addStretch(1)
        self.setWidget(body)
        self.rebuilt.emit()
        self._named = {}
        for editor in body.findChildren(QWidget):
            if editor.objectName():
                self._named.setdefault(editor.objectName(), []).append(editor)
        if bar is not None:
            bar.setValue(at)
        if focused is not None:
            self._focus(*focused)

    def _focused(self) -> tuple[str, int] | None:
        """Name of the editor that has the keyboard's focus, and its number among those of that name."""
        focus = QApplication.focusWidget()
        if focus is None or not self.isAncestorOf(focus) or not focus.objectName():
            return None
        alike = self.findChildren(QWidget, focus.objectName())
        return focus.objectName(), alike.index(focus) if focus in alike else 0

    def _focus(self, name: str, number: int) -> None:
        body = self.widget()
        alike = body.findChildren(QWidget, name) if body is not None else []
        if alike:
            alike[min(number, len(alike) - 1)].setFocus(Qt.FocusReason.OtherFocusReason)

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.refresh()
