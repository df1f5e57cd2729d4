"""The parts as an item model: one row a part, front to back, members under their group."""

from typing import Any

from PyQt6.QtCore import QAbstractListModel, QModelIndex, QObject, QSize, Qt

from avlet.desktop.sessions.template_session import Session
from avlet.document import edits
from avlet.document.grouping import listed
from avlet.document.metadata import type_at
from avlet.document.parts import AnyPart
from avlet.document.targets import path_words

ROW = 32


class PartsModel(QAbstractListModel):
    """Follows the session's template. The name of a part can be edited; what is read aloud says its kind and what it follows."""

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self._listed = listed(session.template)
        session.changed.connect(self._follow)

    def _follow(self) -> None:
        """Other parts or another order reset the rows; else only what they show has changed."""
        new = listed(self.session.template)
        same = [(p.id, depth) for p, depth in new] == [(p.id, depth) for p, depth in self._listed]
        if not same:
            self.beginResetModel()
        self._listed = new
        if not same:
            self.endResetModel()
        elif new:
            self.dataChanged.emit(self.index(0), self.index(len(new) - 1))

    @property
    def rows(self) -> list[AnyPart]:
        """The parts as they are listed."""
        return [part for part, _ in self._listed]

    def depth(self, row: int) -> int:
        """In how many groups a part lies."""
        return self._listed[row][1]

    def row_of(self, part_id: str | None) -> int:
        """The row of a part, −1 if it has none."""
        return next((n for n, (part, _) in enumerate(self._listed) if part.id == part_id), -1)

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self._listed)

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        return Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsEditable

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if not index.isValid() or index.row() >= len(self._listed):
            return None
        part = self._listed[index.row()][0]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return part.name
        if role == Qt.ItemDataRole.ToolTipRole:
            return self.sentence(part)
        if role == Qt.ItemDataRole.AccessibleTextRole:
            hidden = "" if part.shown else ", hidden"
            return f"{part.name}, {part.kind}{hidden}. {self.sentence(part)}"
        return QSize(180, ROW) if role == Qt.ItemDataRole.SizeHintRole else None

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        part = self._listed[index.row()][0]
        if role != Qt.ItemDataRole.EditRole or str(value) == part.name:
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
