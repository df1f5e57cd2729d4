"""The long strip: the whole list small, with the frame's window on it."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap
from PyQt6.QtWidgets import QLabel, QSizePolicy, QVBoxLayout, QWidget

from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.theme import MARIGOLD
from avlet.document.lists.blocks import lines_of
from avlet.motion.credits import MovingList, lists_of
from avlet.motion.list_places import frame_at, line_at, line_of, window_at
from avlet.text.rows import HEADING, ROLE
from avlet.text.strip import Strip

_BROAD = 108
_SHADES = {ROLE: "#A9B4B8", HEADING: "#FFFFFF"}
_NEAR, _INSET = 5, 0.36
_SETTLES = 120
"""ms after the last change until its bars are drawn anew."""


KEYS: tuple[tuple[str, str], ...] = (
    ("Up", "A little up the list"), ("Down", "A little down the list"), ("PgUp", "A screen up"), ("PgDown", "A screen down"),
    ("Return", "To the line in the middle of the stage"),
)  # fmt: skip
"""What the keys do on the long strip, in words."""


class StripView(QWidget):
    """Shows the selected list. A drag moves the window, and with it the time; a click on a block goes to it. ``picked`` tells its line."""

    picked = pyqtSignal(object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 2, 8, 4)
        layout.setSpacing(4)
        self.bars = _Strip(self)
        layout.addWidget(self.bars, 1)
        self.facts = QLabel()
        self.facts.setProperty("role", "small")
        self.facts.setWordWrap(True)
        layout.addWidget(self.facts)
        for signal in (session.changed, session.selection_changed, session.answers_changed):
            signal.connect(self.follow)
        session.frame_changed.connect(lambda _: self.bars.update())
        self.follow()

    @property
    def moving(self) -> MovingList | None:
        """The selected list, as it moves on the stage."""
        selected = self.session.selected
        return lists_of(self.session.scene().choreography.movers).get(selected) if selected is not None and not self.session.also else None

    def follow(self) -> None:
        """Show the list as it is now."""
        moving = self.moving
        if moving is not None:
            rows, pages = lines_of(moving.part.blocks), len(moving.pages)
            long = f"{pages} pages" if pages else f"{moving.strip.length:,.0f} px"
            self.facts.setText(f"{long} · {rows:,} lines")
        self.bars.update()


class _Strip(QWidget):
    """The strip itself."""

    def __init__(self, view: StripView) -> None:
        super().__init__(view)
        self.view = view
        self._picture: tuple[Strip, QSize, QPixmap] | None = None
        self._due = True
        self._settled = QTimer(self)
        self._settled.setSingleShot(True)
        self._settled.timeout.connect(self._draw_anew)
        self._held: float | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(120)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The whole strip of credits")
        self.setToolTip("Drag the window to go through the time; click a block to go to it in the list")
        self.setMouseTracking(True)

    # Where things are

    def _area(self, strip: Strip) -> QRectF:
        """Where the strip is drawn: as broad as there is room, as long as it is, or as high as the view."""
        part = self.view.moving
        broad = float(min(_BROAD, self.width() - 8))
        scale = broad / max(1.0, strip.breadth if strip.axis == 1 else strip.length)
        high = float(self.height() - 8)
        long = min(high, strip.length * scale) if strip.axis == 1 and part is not None else high
        return QRectF((self.width() - broad) / 2, 4, broad, max(24.0, long))

    def place_at(self, y: float) -> float:
        """The place of the strip, in px from its start, at a height of the view."""
        moving = self.view.moving
        assert moving is not None
        area = self._area(moving.strip)
        return (y - area.y()) / area.height() * moving.strip.length

    def window(self, moving: MovingList) -> QRectF:  # type: ignore[override]
        """What the present frame shows of it."""
        area = self._area(moving.strip)
        low, high = window_at(moving, min(self.view.session.frame, moving.length - 1))
        scale = area.height() / max(1.0, moving.strip.length)
        top, bottom = max(-6.0, low * scale), min(area.height() + 6.0, high * scale)
        top, bottom = min(top, area.height() + 2.0), max(bottom, -2.0)
        return QRectF(area.x() - 5, area.y() + top, area.width() + 10, max(4.0, bottom - top))

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        moving = self.view.moving
        if moving is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = self._area(moving.strip)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#3B464C"))
        painter.drawRect(area)
        painter.drawPixmap(area.topLeft(), self._drawn(moving.strip, area))
        if moving.pages:
            painter.setPen(QPen(QColor("#1B1E20"), 1.5))
            scale = area.height() / max(1.0, moving.strip.length)
            for page in moving.pages[1:]:
                y = area.y() + float(moving.strip.begins[page.first]) * scale - 1.5
                painter.drawLine(QPointF(area.x(), y), QPointF(area.right(), y))
        painter.setBrush(QColor(244, 178, 62, 26))
        painter.setPen(QPen(QColor(MARIGOLD), 2 if not self.hasFocus() else 2.8))
        window = self.window(moving)
        painter.drawRoundedRect(window, 3, 3)
        painter.setBrush(QColor(MARIGOLD))
        painter.setPen(Qt.PenStyle.NoPen)
        middle = window.center().y()
        painter.drawPolygon(
            QPointF(window.right() + 8, middle - 4), QPointF(window.right() + 8, middle + 4), QPointF(window.right() + 3, middle)
        )

    def _drawn(self, strip: Strip, area: QRectF) -> QPixmap:
        """The strip's rows as bars, kept until the list is another."""
        ratio = self.devicePixelRatioF()
        size = QSize(max(1, round(area.width() * ratio)), max(1, round(area.height() * ratio)))
        if self._picture is not None and self._picture[1] == size and (self._picture[0] is strip or not self._due):
            if self._picture[0] is not strip:
                self._settled.start(_SETTLES)
            return self._picture[2]
        self._due = False
        image = QImage(size, QImage.Format.Format_ARGB32_Premultiplied)
        image.fill(Qt.GlobalColor.transparent)
        painter = QPainter(image)
        painter.setPen(Qt.PenStyle.NoPen)
        down = size.height() / max(1.0, strip.length)
        across = size.width() / max(1.0, strip.breadth if strip.axis == 1 else 1.0)
        step = max(1, int(len(strip.rows) / (2 * size.height()))) if strip.rows else 1
        for row in range(0, len(strip.rows), step):
            self._bar(painter, strip, row, down, across, size.width())
        painter.end()
        made = QPixmap.fromImage(image)
        made.setDevicePixelRatio(ratio)
        self._picture = strip, size, made
        return made

    def _draw_anew(self) -> None:
        """Nothing has changed for a while."""
        self._due = True
        self.update()

    @staticmethod
    def _bar(painter: QPainter, strip: Strip, row: int, down: float, across: float, width: int) -> None:
        begin, end = float(strip.begins[row]), float(strip.ends[row])
        for piece in strip.rows[row].pieces:
            if not piece.text.strip():
                continue
            left, right = strip.setter.span(piece) if strip.axis == 1 else (width * _INSET, width * (1 - _INSET))
            thick = max(1.0, min(3.2 if piece.style == HEADING else 2.4, (end - begin) * down * 0.5))
            y = (begin + piece.y) * down + max(0.0, (end - begin - piece.y) * down - thick) / 2 if strip.axis == 1 else begin * down
            high = thick if strip.axis == 1 else max(1.0, (end - begin) * down - 1)
            painter.setBrush(QColor(_SHADES.get(piece.style, "#F4F6F6")))
            painter.drawRect(QRectF(left * across, y, max(1.0, (right - left) * across), high))
        painter.setBrush(QColor("#C9D2D6"))
        for extra in strip.rows[row].extras:
            box = extra.box
            painter.drawRect(QRectF(box.x * across, (begin + box.y) * down, max(1.0, box.w * across), max(1.0, box.h * down)))

    # Hands

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        moving = self.view.moving
        if moving is None or event.button() != Qt.MouseButton.LeftButton or not moving.strip.rows:
            return
        y, window = event.position().y(), self.window(moving)
        if window.top() - _NEAR <= y <= window.bottom() + _NEAR:
            self._held = y - window.center().y()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            return
        row = moving.strip.row_at(self.place_at(y))
        if row is not None:
            self.view.picked.emit(line_of(moving, row))
            self.view.session.go_to(frame_at(moving, self.place_at(y)))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        moving = self.view.moving
        if moving is None:
            return
        if self._held is None:
            window = self.window(moving)
            inside = window.top() - _NEAR <= event.position().y() <= window.bottom() + _NEAR
            self.setCursor(Qt.CursorShape.OpenHandCursor if inside else Qt.CursorShape.PointingHandCursor)
            return
        self.view.session.go_to(frame_at(moving, self.place_at(event.position().y() - self._held)))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._held = None
        self.unsetCursor()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        moving = self.view.moving
        row = moving.strip.row_at(self.place_at(event.position().y())) if moving is not None else None
        if moving is not None and row is not None:
            self.view.picked.emit(line_of(moving, row))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and Down move the window by a tenth of itself, Page keys by all of it, Return goes to the line in its middle."""
        assert event is not None
        moving = self.view.moving
        steps = {Qt.Key.Key_Up: -0.1, Qt.Key.Key_Down: 0.1, Qt.Key.Key_PageUp: -1.0, Qt.Key.Key_PageDown: 1.0}
        frame = self.view.session.frame
        if moving is not None and event.key() in steps:
            low, high = window_at(moving, min(frame, moving.length - 1))
            to = frame_at(moving, (low + high) / 2 + steps[Qt.Key(event.key())] * (high - low))
            self.view.session.go_to(to if to != frame or moving.roll is None else frame + (1 if steps[Qt.Key(event.key())] > 0 else -1))
        elif moving is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            line = line_at(moving, frame)
            if line is not None:
                self.view.picked.emit(line)
        else:
            super().keyPressEvent(event)
