"""The dot of a property: fixed, keyed, wired or on the card."""

from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QAbstractButton, QMenu

from avlet.desktop.recipe.dot_menu import DotMenu
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.menus import pop_up
from avlet.desktop.widgets.theme import MARIGOLD, MUTED, ROSE
from avlet.document.cards.wire_sources import source_words
from avlet.document.editing import keying


class Dot(QAbstractButton):
    """Hollow: fixed. Rose: on the card, or wired to something else. Marigold: keyed. A click offers the others."""

    def __init__(self, session: Session, target: str, label: str, field_label: str | None = None) -> None:
        super().__init__()
        self.session, self.target, self.field_label = session, target, field_label
        self.setFixedSize(22, 22)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setObjectName(f"dot {target}")
        self.setAccessibleName(f"{label}: fixed, keyed or on the card")
        self.clicked.connect(self.open_menu)
        template = session.template
        wire = template.wire_to(target)
        field = template.card.field(wire.source) if wire else None
        self.on_card, self.wired = field is not None, wire is not None
        part_id, _, path = target.partition("/")
        part = template.part(part_id)
        self.keyed = keying.keyed_of(part, path) is not None if part is not None else False
        words = "It has keys; a change makes one at this frame." if self.keyed else "Fixed. Click to key it, wire it or put it on the card."
        if wire is not None:
            words = f"On the card as “{field.label}”" if field else f"Wired to {source_words(template, wire.source)}"
        self.setToolTip(words)

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
        elif self.wired:
            painter.setPen(QPen(QColor(ROSE), 1.8))
            painter.drawLine(QPointF(6, 16), QPointF(16, 6))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(ROSE))
            painter.drawEllipse(QPointF(6.5, 15.5), 3.4, 3.4)
            painter.drawEllipse(QPointF(15.5, 6.5), 3.4, 3.4)
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
        pop_up(self.menu(), self.mapToGlobal(QPoint(0, self.height())))
