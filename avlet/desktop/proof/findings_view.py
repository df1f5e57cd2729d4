"""What was found, in words: what breaks, what is to be looked at, what holds."""

from PyQt6.QtCore import QModelIndex, QRect, QSize, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPen
from PyQt6.QtWidgets import (
    QLabel,
    QListWidget,
    QListWidgetItem,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from avlet.desktop.proof.proof_model import ProofModel, Told
from avlet.desktop.widgets.theme import BASE, CONTROL, GOOD, LINE, MARIGOLD, MUTED, SMALL, STRONG, TEXT, font

SIGNS = {"breaks": "▲", "to look at": "○", "told": "·"}
_TOLD = Qt.ItemDataRole.UserRole
_PAD, _SIGN = 10, 26


def beside(told: Told) -> str:
    """In which rows, and from when."""
    rows = ", ".join(told.rows[:3]) + (f" and {len(told.rows) - 3} more" if len(told.rows) > 3 else "")
    first = told.finding.first
    return f"{rows} · from frame {first}" if first is not None and told.finding.level == "breaks" else rows


class _Delegate(QStyledItemDelegate):
    """A box with a sign, what was found, and below it where."""

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        assert painter is not None
        told: Told = index.data(_TOLD)
        box = option.rect.adjusted(1, 3, -2, -3)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        grave = told.finding.level == "breaks"
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(MARIGOLD if grave else "#FFFFFF" if chosen else LINE), 1.5 if chosen else 1))
        painter.setBrush(QColor(CONTROL if chosen else "#00000000"))
        painter.drawRoundedRect(box, 5, 5)
        painter.setPen(QColor(MARIGOLD if grave else MUTED))
        painter.setFont(font(STRONG))
        painter.drawText(box.adjusted(_PAD, _PAD - 2, 0, 0), Qt.AlignmentFlag.AlignTop, SIGNS[told.finding.level])
        words = self._words(box)
        painter.setPen(QColor(TEXT))
        painter.setFont(self._font(grave))
        painter.drawText(words, Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap, told.finding.words)
        painter.setPen(QColor(MUTED))
        painter.setFont(font(SMALL))
        where = painter.fontMetrics().elidedText(beside(told), Qt.TextElideMode.ElideRight, words.width())
        painter.drawText(QRect(words.left(), box.bottom() - 23, words.width(), 18), Qt.AlignmentFlag.AlignVCenter, where)
        painter.restore()

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        told: Told = index.data(_TOLD)
        view = self.parent()
        viewport = view.viewport() if isinstance(view, QListWidget) else None
        width = viewport.width() if viewport is not None else 240
        room = self._words(QRect(0, 0, width - 4, 1000))
        metrics = option.fontMetrics
        tall = metrics.boundingRect(room, int(Qt.TextFlag.TextWordWrap), told.finding.words).height()
        return QSize(width - 4, tall + 46)

    def _words(self, box: QRect) -> QRect:
        return box.adjusted(_SIGN + 4, _PAD, -_PAD, -24)

    def _font(self, grave: bool) -> QFont:
        return font(BASE, QFont.Weight.DemiBold if grave else QFont.Weight.Normal)


class FindingsView(QWidget):
    """The list of what stands open, and under it what holds."""

    def __init__(self, model: ProofModel) -> None:
        super().__init__()
        self.model = model
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 10, 10, 10)
        layout.setSpacing(6)
        self.head = QLabel()
        self.head.setProperty("role", "title")
        layout.addWidget(self.head)
        self.state = QLabel()
        self.state.setProperty("role", "small")
        layout.addWidget(self.state)
        self.list = QListWidget()
        self.list.setAccessibleName("What was found")
        self.list.setItemDelegate(_Delegate(self.list))
        self.list.setFrameShape(QListWidget.Shape.NoFrame)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setStyleSheet("QListWidget { background: transparent; outline: none; }")
        self.list.setResizeMode(QListWidget.ResizeMode.Adjust)
        self.list.currentItemChanged.connect(self._choose)
        layout.addWidget(self.list, 3)
        self.holds = QLabel()
        self.holds.setAccessibleName("What holds")
        self.holds.setWordWrap(True)
        self.holds.setTextFormat(Qt.TextFormat.PlainText)
        self.holds.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.good = QLabel("Holds")
        self.good.setStyleSheet(f"color: {GOOD}; font-weight: 600;")
        layout.addWidget(self.good)
        layout.addWidget(self.holds)
        layout.addStretch(1)
        model.changed.connect(self._show)
        model.progressed.connect(self._show_state)
        model.chosen_changed.connect(self._mark)
        self._show()

    def _show_state(self, words: str) -> None:
        self.state.setText(words)
        self.state.setVisible(bool(words))

    def _show(self) -> None:
        proof = self.model.proof
        self.list.blockSignals(True)
        self.list.clear()
        for told in self.model.told():
            item = QListWidgetItem()
            item.setData(_TOLD, told)
            item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{told.finding.level}: {told.finding.words} {beside(told)}")
            item.setToolTip(f"{told.finding.words}\n{', '.join(told.rows)}")
            self.list.addItem(item)
        self.list.blockSignals(False)
        self.list.setVisible(bool(self.list.count()))
        if proof is None:
            self.head.setText("Proof")
            self.holds.setText("")
            self.good.hide()
            return
        self.head.setText(proof.counted if any(f.level != "told" for f in proof.open) else "Everything holds")
        grave = {f.check for f in proof.open if f.level != "told"}
        held = [f"✓ {check.holds}" for check in proof.checks if check.id not in grave]
        meant = [f"— {f.words} It is meant so: {why}" for f, why in proof.meant.items()]
        self.good.setVisible(bool(held))
        self.holds.setText("\n".join([*held, *dict.fromkeys(meant)]))
        self._mark()

    def _choose(self, item: QListWidgetItem | None, _: object = None) -> None:
        if item is not None:
            self.model.choose_finding(item.data(_TOLD).finding)

    def _mark(self) -> None:
        """Show in the list what is chosen on the sheet."""
        chosen = self.model.chosen
        row = -1
        for number in range(self.list.count()):
            item = self.list.item(number)
            told: Told = item.data(_TOLD) if item is not None else None  # type: ignore[assignment]
            key = (told.finding.check, told.finding.part_id, told.finding.verdict, told.finding.level)
            if chosen is not None and key == (chosen.check, chosen.part_id, chosen.verdict, chosen.level):
                row = number
        self.list.blockSignals(True)
        self.list.setCurrentRow(row)
        self.list.blockSignals(False)
