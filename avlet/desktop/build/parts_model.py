"""The parts as an item model: one row a part, front to back, members under their group; under a space also its camera and lights."""

from typing import Any

from PyQt6.QtCore import QAbstractListModel, QModelIndex, QObject, QSize, Qt

from avlet.desktop.sessions.template_session import Session
from avlet.document.editing import edits
from avlet.document.editing.grouping import listed
from avlet.document.metadata import type_at
from avlet.document.parts import AnyPart
from avlet.document.targets import path_words

ROW = 32
PIECES = {"camera": "Camera", "sun": "Sun", "sky": "Sky"}
"""What of a space has a row of its own, and its name there."""


class PartsModel(QAbstractListModel):
    """Follows the session's template. The name of a part can be edited; what is read aloud says its kind and what it follows."""

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self._listed = _rows(session)
        session.changed.connect(self._follow)

    def _follow(self) -> None:
        """Other parts or another order reset the rows; else only what they show has changed."""
        new = _rows(self.session)
        same = [(p.id, *rest) for p, *rest in new] == [(p.id, *rest) for p, *rest in self._listed]
        if not same:
            self.beginResetModel()
        self._listed = new
        if not same:
            self.endResetModel()
        elif new:
            self.dataChanged.emit(self.index(0), self.index(len(new) - 1))

    @property
    def rows(self) -> list[AnyPart]:
        """The part of each row; for a row of a piece of a space, the space."""
        return [part for part, _, _ in self._listed]

    def piece(self, row: int) -> str:
        """Which piece of a space a row is; empty for a part."""
        return self._listed[row][2]

    def depth(self, row: int) -> int:
        """In how many groups a part lies."""
        return self._listed[row][1]

    def row_of(self, part_id: str | None, piece: str = "") -> int:
        """The row of a part, or of a piece of it; −1 if it has none."""
        return next((n for n, (part, _, of) in enumerate(self._listed) if (part.id, of) == (part_id, piece)), -1)

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self._listed)

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        usual = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        return usual if index.isValid() and self.piece(index.row()) else usual | Qt.ItemFlag.ItemIsEditable

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if not index.isValid() or index.row() >= len(self._listed):
            return None
        part, _, piece = self._listed[index.row()]
        if piece:
            return self._of_piece(part, piece, role)
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return part.name
        if role == Qt.ItemDataRole.ToolTipRole:
            return self.sentence(part)
        if role == Qt.ItemDataRole.AccessibleTextRole:
            hidden = "" if part.shown else ", hidden"
            return f"{part.name}, {part.kind}{hidden}. {self.sentence(part)}"
        return QSize(180, ROW) if role == Qt.ItemDataRole.SizeHintRole else None

    def _of_piece(self, part: AnyPart, piece: str, role: int) -> Any:
        if role == Qt.ItemDataRole.DisplayRole:
            return PIECES[piece]
        if role in (Qt.ItemDataRole.ToolTipRole, Qt.ItemDataRole.AccessibleTextRole):
            return f"{PIECES[piece]} of {part.name}"
        return QSize(180, ROW) if role == Qt.ItemDataRole.SizeHintRole else None

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        part = self._listed[index.row()][0]
        if role != Qt.ItemDataRole.EditRole or self.piece(index.row()) or str(value) == part.name:
            return False
        return self.session.edit(f"Rename {part.name}", lambda t: edits.rename_part(t, part.id, str(value)))

    def sentence(self, part: AnyPart) -> str:
        """What a part follows, in words."""
        verbs = {"fit": "fits around", "place": "is placed on", "matte": "shows inside", "echo": "is an echo of"}
        follows = part.follows().items()
        said = [f"{verbs[how]} {self.session.template.name_of(other)}" for other, hows in follows for how in sorted(hows)]
        running: dict[str, list[str]] = {}
        for run in part.runs:
            running.setdefault(run.counter, []).append(path_words(part, run.path, type_at(part, run.path).label))
        said += [f"has its {' and '.join(words)} run with {self.session.template.name_of(i)}" for i, words in running.items()]
        return f"{part.name} {', '.join(said)}" if said else f"{part.name} follows nothing"


def _rows(session: Session) -> list[tuple[AnyPart, int, str]]:
    """Parts as they are listed, how deep they lie in groups; after the members of a space its pieces."""
    found: list[tuple[AnyPart, int, str]] = []
    open_spaces: list[tuple[AnyPart, int]] = []

    def close(depth: int) -> None:
        while open_spaces and open_spaces[-1][1] >= depth:
            space, at = open_spaces.pop()
            found.extend((space, at + 1, piece) for piece in PIECES)

    for part, depth in listed(session.template):
        close(depth)
        found.append((part, depth, ""))
        if part.has_depth:
            open_spaces.append((part, depth))
    close(0)
    return found
