"""The rail at the left: the menu of files, and a button for each bench; without words where the window is small."""

from collections.abc import Callable

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import QMenu, QToolButton, QVBoxLayout, QWidget

from avlet.desktop.widgets.icons import quiet
from avlet.desktop.window.shell import BENCHES

_WIDE, _NARROW = 72, 50
_ROOMY = QSize(1000, 560)
"""The window in which its words have room."""


class Rail(QWidget):
    """``fill`` fills the menu of files, ``go`` shows a bench by its place."""

    def __init__(self, fill: Callable[[QMenu], None], go: Callable[[int], None]) -> None:
        super().__init__()
        self.setProperty("role", "rail")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        layout = QVBoxLayout(self)
        layout.setSpacing(8)
        self.brand = QToolButton()
        self.brand.setText("avlet")
        self.brand.setProperty("role", "brand")
        self.brand.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.brand.setToolTip("New, open, save …")
        menu = QMenu(self.brand)
        menu.aboutToShow.connect(lambda: fill(menu))
        self.brand.setMenu(menu)
        layout.addWidget(self.brand, 0, Qt.AlignmentFlag.AlignHCenter)
        self.buttons: list[QToolButton] = []
        for index, name in enumerate(BENCHES):
            button = QToolButton()
            button.setText(name)
            button.setProperty("role", "rail")
            button.setIcon(quiet(name.lower()))
            button.setCheckable(True)
            button.setToolTip(f"{name} (Ctrl+{index + 1})")
            button.setAccessibleName(name)
            button.setIconSize(button.iconSize().scaled(26, 26, Qt.AspectRatioMode.KeepAspectRatio))
            button.clicked.connect(lambda _=False, i=index: go(i))
            layout.addWidget(button, 0, Qt.AlignmentFlag.AlignHCenter)
            self.buttons.append(button)
        layout.addStretch(1)
        self._small: bool | None = None
        self.fit(_ROOMY)

    def fit(self, window: QSize) -> None:
        """Follow the size of the window."""
        small = window.width() < _ROOMY.width() or window.height() < _ROOMY.height()
        if small == self._small:
            return
        self._small = small
        self.setFixedWidth(_NARROW if small else _WIDE)
        layout = self.layout()
        assert layout is not None
        layout.setContentsMargins(3, 6, 3, 6) if small else layout.setContentsMargins(6, 8, 6, 10)
        layout.setSpacing(4 if small else 8)
        for button in self.buttons:
            style = Qt.ToolButtonStyle.ToolButtonIconOnly if small else Qt.ToolButtonStyle.ToolButtonTextUnderIcon
            button.setToolButtonStyle(style)
            button.setFixedSize(QSize(42, 42) if small else QSize(60, 60))
