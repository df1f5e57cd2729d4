"""Panels beside what a bench is about: side by side where there is room, else drawers that lie over it, opened by a tab at the edge."""

from PyQt6.QtCore import QEvent, QObject, QRect, QSize, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QAbstractButton, QApplication, QHBoxLayout, QSizePolicy, QSplitter, QWidget

from avlet.desktop.widgets.theme import CONTROL, CONTROL_HOVER, LINE, PANEL, SEAGLASS, SMALL, TEXT, font

TAB = 26
"""px that the tab of a drawer is wide."""


class SideTab(QAbstractButton):
    """Opens and closes a drawer; its name reads upwards on the left, downwards on the right."""

    def __init__(self, name: str, leftmost: bool) -> None:
        super().__init__()
        self.leftmost = leftmost
        self.setText(name)
        self.setAccessibleName(f"Open {name}")
        self.setToolTip(name)
        self.setCheckable(True)
        self.setFixedWidth(TAB)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)
        self.hide()

    def sizeHint(self) -> QSize:
        return QSize(TAB, 60)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(CONTROL_HOVER if self.underMouse() else CONTROL if self.isChecked() else PANEL))
        painter.setPen(QPen(QColor(SEAGLASS if self.hasFocus() else LINE), 1))
        painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        painter.setFont(font(SMALL))
        painter.setPen(QColor(TEXT))
        sign = ("◂" if self.isChecked() else "▸") if self.leftmost else ("▸" if self.isChecked() else "◂")
        painter.save()
        painter.translate(self.width() / 2, self.height() / 2)
        painter.rotate(-90 if self.leftmost else 90)
        area = QRect(-self.height() // 2, -self.width() // 2, self.height(), self.width())
        words = painter.fontMetrics().elidedText(self.text(), Qt.TextElideMode.ElideRight, area.width() - 30)
        painter.drawText(area, Qt.AlignmentFlag.AlignCenter, words)
        painter.restore()
        painter.drawText(QRect(0, 6, self.width(), 14), Qt.AlignmentFlag.AlignCenter, sign)


class Sides(QWidget):
    """``middle`` with a panel to the left, to the right, or both; with ``drawn`` their widths can be drawn with the mouse.

    The left panel becomes a drawer before the right one. One drawer is open at a time; Esc in it, or its tab, closes it.
    """

    def __init__(
        self, middle: QWidget, left: QWidget | None = None, right: QWidget | None = None, names: tuple[str, str] = ("", ""),
        drawn: tuple[int, int, int] | None = None,
    ) -> None:  # fmt: skip
        super().__init__()
        self.middle = middle
        self.panels = tuple(panel for panel in (left, right) if panel is not None)
        self.tabs = {panel: SideTab(name, panel is left) for panel, name in ((left, names[0]), (right, names[1])) if panel is not None}
        self._left = left
        self._hosts = self.panels
        self._sizes: list[int] | None = None
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self._box = QSplitter(Qt.Orientation.Horizontal) if drawn is not None else None
        if self._box is not None:
            self._box.setHandleWidth(2)
            for widget in (left, middle, right):
                if widget is not None:
                    self._box.addWidget(widget)
            self._box.setStretchFactor(self._box.indexOf(middle), 1)
            self._sizes = list(drawn or ())
            self._box.splitterMoved.connect(lambda *_: self._keep_sizes())
            self._box.setSizes(self._sizes)
        parts = [left, middle, right] if self._box is None else [self._box]
        if left is not None:
            row.addWidget(self.tabs[left])
        for widget in parts:
            if widget is not None:
                row.addWidget(widget, 1 if widget in (middle, self._box) else 0)
        if right is not None:
            row.addWidget(self.tabs[right])
        self._row = row
        self._docked = set(self.panels)
        for panel, tab in self.tabs.items():
            tab.toggled.connect(lambda on, p=panel: self._open(p, on))
            panel.installEventFilter(self)

    def _keep_sizes(self) -> None:
        """Widths that somebody drew, to come back to."""
        if self._box is not None and self._docked == set(self.panels):
            self._sizes = self._box.sizes()

    # Room

    def _wide(self, panel: QWidget) -> int:
        return max(panel.minimumWidth(), panel.minimumSizeHint().width())

    def minimumSizeHint(self) -> QSize:
        """No more than the middle and the tabs; what is docked does not count, as it can be a drawer."""
        hint = self.middle.minimumSizeHint().expandedTo(self.middle.minimumSize())
        return QSize(max(0, hint.width()) + TAB * len(self.panels), max(60, hint.height()))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._arrange()
        super().resizeEvent(event)

    def event(self, event: QEvent | None) -> bool:
        """The middle may need more or less than before."""
        done = super().event(event)
        if event is not None and event.type() == QEvent.Type.LayoutRequest:
            self._arrange()
        return done

    def _arrange(self) -> None:
        """Dock what there is room for, the right panel first."""
        least = max(self.middle.minimumWidth(), self.middle.minimumSizeHint().width(), 300)
        room = self.width() - least
        wanted: set[QWidget] = set()
        for panel in reversed(self.panels):
            others = TAB * (len(self.panels) - len(wanted) - 1)
            if room - others >= self._wide(panel):
                wanted.add(panel)
                room -= self._wide(panel)
            else:
                break
        if wanted != self._docked:
            self._dock(wanted)
        for panel in self.panels:
            if panel not in self._docked and panel.isVisible():
                self._place(panel)

    def _dock(self, wanted: set[QWidget]) -> None:
        focus = QApplication.focusWidget()
        for panel in self.panels:
            tab, docked = self.tabs[panel], panel in wanted
            tab.blockSignals(True)
            tab.setChecked(False)
            tab.blockSignals(False)
            tab.setVisible(not docked)
            if docked and panel not in self._docked:
                self._put_back(panel)
                panel.show()
            elif not docked and panel in self._docked:
                self._row.removeWidget(panel)
                panel.setParent(self)
                panel.hide()
        self._docked = wanted
        if self._box is not None and self._sizes is not None and wanted == set(self.panels):
            self._box.setSizes(self._sizes)
        if focus is not None and focus.isVisible():
            focus.setFocus()
        self.updateGeometry()

    def _put_back(self, panel: QWidget) -> None:
        leftmost = panel is self._left
        if self._box is not None:
            self._box.insertWidget(0 if leftmost else self._box.count(), panel)
        else:
            self._row.insertWidget(self._row.indexOf(self.middle) + (0 if leftmost else 1), panel)

    # Drawers

    def is_drawer(self, panel: QWidget) -> bool:
        """Whether a panel has no room beside the middle."""
        return panel not in self._docked

    def reveal(self, panel: QWidget) -> None:
        """Open a panel's drawer, where it is one."""
        if panel not in self._docked:
            self.tabs[panel].setChecked(True)

    def close_drawers(self) -> None:
        """Close whatever is open."""
        for panel in self.panels:
            if panel not in self._docked:
                self.tabs[panel].setChecked(False)

    def _open(self, panel: QWidget, on: bool) -> None:
        if panel in self._docked:
            return
        if on:
            for other in self.panels:
                if other is not panel and other not in self._docked:
                    self.tabs[other].setChecked(False)
            self._place(panel)
            panel.show()
            panel.raise_()
        else:
            panel.hide()
        self.tabs[panel].setAccessibleName(f"{'Close' if on else 'Open'} {self.tabs[panel].text()}")

    def _place(self, panel: QWidget) -> None:
        tabs = [self.tabs[one] for one in self.panels if one not in self._docked]
        wide = min(max(self._wide(panel), panel.sizeHint().width() if self._box is not None else 0), self.width() - TAB * len(tabs))
        leftmost = panel is self._left
        x = TAB if leftmost else self.width() - TAB - wide
        panel.setGeometry(x, 0, wide, self.height())

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Esc closes the drawer that it is pressed in."""
        left = isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and event.key() == Qt.Key.Key_Escape
        if left and watched in self.panels and watched not in self._docked:
            self.close_drawers()
            self.middle.setFocus()
            return True
        return super().eventFilter(watched, event)
