"""The dot of a property: fixed, keyed or on the card, and the menu that changes that."""

from collections.abc import Callable

from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QAction, QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QAbstractButton, QInputDialog, QLineEdit, QMenu, QWidget

from avlet.desktop.session import Session
from avlet.desktop.theme import MARIGOLD, MUTED, ROSE
from avlet.document import carding, edits, keying
from avlet.document.fields import TextField


class Dot(QAbstractButton):
    """Hollow: fixed. Rose: on the card. Marigold: keyed. A click offers the others."""

    def __init__(self, session: Session, target: str, label: str, field_label: str | None = None) -> None:
        super().__init__()
        self.session, self.target, self.field_label = session, target, field_label
        self.setFixedSize(22, 22)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setObjectName(f"dot {target}")
        self.setAccessibleName(f"{label}: fixed, keyed or on the card")
        self.clicked.connect(self.open_menu)
        wire = session.template.wire_to(target)
        field = session.template.card.field(wire.source) if wire else None
        self.on_card = field is not None
        part_id, _, path = target.partition("/")
        part = session.template.part(part_id)
        self.keyed = keying.keyed_of(part, path) is not None if part is not None else False
        words = "It has keys; a change makes one at this frame." if self.keyed else "Fixed. Click to put it on the card or to key it."
        self.setToolTip(f"On the card as “{field.label}”" if field else words)

    def sizeHint(self) -> QSize:
        return QSize(22, 22)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ring = QRectF(5, 5, 12, 12)
        if self.on_card:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(ROSE))
            painter.drawEllipse(ring)
            painter.setBrush(QColor("#2A1016"))
            painter.drawRoundedRect(QRectF(8, 9.5, 6, 3), 1, 1)
        elif self.keyed:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(MARIGOLD))
            painter.drawPolygon(QPolygonF([QPointF(11, 5), QPointF(17, 11), QPointF(11, 17), QPointF(5, 11)]))
        else:
            painter.setPen(QPen(QColor("#FFFFFF") if self.underMouse() or self.hasFocus() else QColor(MUTED), 1.6))
            painter.drawEllipse(ring.adjusted(1, 1, -1, -1))

    def menu(self) -> QMenu:
        """What can be done with the property."""
        return DotMenu(self.session, self.target, self.field_label, self)

    def open_menu(self) -> None:
        self.menu().popup(self.mapToGlobal(QPoint(0, self.height())))

    def put_on_card(self) -> None:
        """Put the property on the card."""
        self.session.edit("Put on the card", lambda t: carding.put_on_card(t, self.target, self.field_label)[0])


class DotMenu(QMenu):
    """Keys, and the card, for one property."""

    def __init__(self, session: Session, target: str, field_label: str | None, parent: QWidget) -> None:
        super().__init__(parent)
        self.session, self.target, self.field_label = session, target, field_label
        self._fill()

    def _fill(self) -> None:
        template = self.session.template
        wire = template.wire_to(self.target)
        field = template.card.field(wire.source) if wire else None
        part_id, _, path = self.target.partition("/")
        part = template.part(part_id)
        if part is not None and keying.may_be_keyed(part, path):
            self._add("Key it at this frame", lambda: self.session.key(part_id, path))
            if keying.keyed_of(part, path) is not None:
                self._add("No keys", lambda: self.session.edit("No keys", lambda t: keying.without_keys(t, part_id, path)))
        if field is None:
            self._add("Put on the card", self.put_on_card)
        else:
            self._add(f"On the card as “{field.label}”", None)
            self._add("Change its label…", lambda: self._relabel(field.id, field.label))
            self._add("Change its hint…", lambda: self._rehint(field.id, field.hint))
            if isinstance(field, TextField):
                lines = not field.several_lines
                words = "Let it have several lines" if lines else "Keep it to one line"
                self._add(words, lambda: self._relined(field.id, lines))
            self._add("Take off the card", self.take_off)

    def _add(self, words: str, chosen: Callable[[], object] | None) -> None:
        action = QAction(words, self)
        action.setEnabled(chosen is not None)
        if chosen is not None:
            action.triggered.connect(chosen)
        self.addAction(action)

    def put_on_card(self) -> None:
        self.session.edit("Put on the card", lambda t: carding.put_on_card(t, self.target, self.field_label)[0])

    def take_off(self) -> None:
        self.session.edit("Take off the card", lambda t: carding.take_off_card(t, self.target))

    def _relined(self, field_id: str, several: bool) -> None:
        """Let a field have several lines or only one; refused while an answer has more."""
        self.session.edit("Lines of a field", lambda t: _with_field(t, field_id, several_lines=several))

    def _relabel(self, field_id: str, label: str) -> None:
        words, sure = QInputDialog.getText(self, "Label on the card", "The editor reads:", QLineEdit.EchoMode.Normal, label)
        if sure and words.strip():
            self.session.edit("Label of a field", lambda t: _with_field(t, field_id, label=words.strip()))

    def _rehint(self, field_id: str, hint: str) -> None:
        words, sure = QInputDialog.getText(self, "Hint on the card", "A short hint for the editor:", QLineEdit.EchoMode.Normal, hint)
        if sure:
            self.session.edit("Hint of a field", lambda t: _with_field(t, field_id, hint=words.strip()))


def _with_field(template: edits.Template, field_id: str, **changes: object) -> edits.Template:
    field = template.card.field(field_id)
    return template if field is None else carding.put_field(template, edits.replace(field, **changes))
