"""*Keys and habits*: every key, as the window has it, and what can be done with the mouse, to be searched."""

from collections.abc import Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QHeaderView, QLineEdit, QPushButton, QTreeWidget, QTreeWidgetItem, QVBoxLayout, QWidget

from avlet.desktop.widgets.theme import STRONG, font

Row = tuple[str, str, str]
"""Where it works, the key or gesture, and what it does."""

HABITS: tuple[Row, ...] = (
    ("Numbers", "Drag sideways", "Change a number; the wheel does so by steps"),
    ("Numbers", "Type 1920/2", "A sum is worked out"),
    ("Numbers", "Click the dot beside it", "Put it on the card, wire it, key it"),
    ("Build", "Drag a part", "Move it; it catches on edges and equal gaps, with Alt it does not, with Shift it keeps to one way"),
    ("Build", "Drag an edge or a corner", "Change its size, or the padding of what fits around others"),
    ("Build", "Drag the ring above a part", "Turn it; with Shift in whole steps"),
    ("Build", "Double-click words", "Type them in place"),
    ("Build", "Ctrl and a click", "Select one more"),
    ("Build", "Click once more", "Go into a group; with Alt, to what lies underneath"),
    ("Build", "Alt+1, Alt+2 while typing", "Mark an accent; Alt+0 takes the mark away"),
    ("Build", "Ctrl and the wheel", "Come nearer, or go further away"),
    ("Build", "Drag while a space is selected", "Carry its camera round and over it; with Shift by 15°"),
    ("Build", "Right click", "What can be done with what lies there; the menu key, with what is selected"),
    ("Build", "Right click on a number or a row", "Key it, put it on the card, wire it, let it run, make it as usual"),
    ("Time", "Drag a bar or its end", "Move a move, or change how long it takes"),
    ("Time", "Double-click the key graph", "A new key; with Alt a key's two slopes go apart"),
    ("Card", "Drag a field", "Put it elsewhere; sections go by their headings"),
    ("Desk", "Drag a template in", "Put a title on the cut; a film or still goes on the picture track"),
    ("Desk", "Drag a title or its end", "Move it, or trim it"),
    ("Desk", "Double-click words on the picture", "Type them there"),
)
"""What can be done by mouse, and what views do by themselves."""


class KeysDialog(QDialog):
    """A list of keys and gestures by where they work; what is typed above narrows it.

    ``guide_wanted`` tells that the guide is to be opened instead.
    """

    guide_wanted = pyqtSignal()

    def __init__(self, keys: Sequence[Row], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Keys and habits")
        self.resize(620, 560)
        layout = QVBoxLayout(self)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Search keys and habits")
        self.search.setAccessibleName("Search keys and habits")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(self.narrow)
        guide = QPushButton("Open the guide")
        guide.setToolTip("Fifteen short pages, with pictures")
        guide.clicked.connect(self._to_the_guide)
        top = QHBoxLayout()
        top.addWidget(self.search, 1)
        top.addWidget(guide)
        layout.addLayout(top)
        self.tree = QTreeWidget()
        self.tree.setColumnCount(2)
        self.tree.setHeaderHidden(True)
        self.tree.setRootIsDecorated(False)
        self.tree.setStyleSheet("QTreeWidget::item { padding: 3px 2px; }")
        self.tree.setAccessibleName("Keys and habits")
        header = self.tree.header()
        if header is not None:
            header.setSectionResizeMode(0, QHeaderView.ResizeMode.ResizeToContents)
        layout.addWidget(self.tree)
        self._fill([*keys, *HABITS])
        self.narrow("")
        self.search.setFocus(Qt.FocusReason.OtherFocusReason)

    def _to_the_guide(self) -> None:
        self.accept()
        self.guide_wanted.emit()

    def _fill(self, rows: Sequence[Row]) -> None:
        groups: dict[str, QTreeWidgetItem] = {}
        for where, keys, words in rows:
            if where not in groups:
                groups[where] = QTreeWidgetItem(self.tree, [where])
                groups[where].setFont(0, font(STRONG))
                groups[where].setFirstColumnSpanned(True)
                groups[where].setExpanded(True)
            QTreeWidgetItem(groups[where], [keys, words])

    def narrow(self, words: str) -> None:
        """Show only what has all of these words, in its key, in what it does or in where it works."""
        wanted = words.casefold().split()
        for n in range(self.tree.topLevelItemCount()):
            group = self.tree.topLevelItem(n)
            assert group is not None
            shown = 0
            for m in range(group.childCount()):
                row = group.child(m)
                assert row is not None
                said = f"{group.text(0)} {row.text(0)} {row.text(1)}".casefold()
                row.setHidden(not all(word in said for word in wanted))
                shown += not row.isHidden()
            group.setHidden(not shown)

    def shown(self) -> list[Row]:
        """The rows that are to be seen."""
        found = []
        for n in range(self.tree.topLevelItemCount()):
            group = self.tree.topLevelItem(n)
            assert group is not None
            rows = [row for m in range(group.childCount()) if (row := group.child(m)) is not None and not row.isHidden()]
            found += [(group.text(0), row.text(0), row.text(1)) for row in rows]
        return found
