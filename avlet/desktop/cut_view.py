"""The cut as two tracks: words over pictures. Titles are dropped, moved and trimmed here."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QDragEnterEvent,
    QDragMoveEvent,
    QDropEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QWheelEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QWidget

from avlet.desktop.cut_session import CutSession
from avlet.desktop.theme import MUTED, ROSE, SMALL, TEXT, WARNING, font
from avlet.document.cut import Title, put_title, remove_title, trim_title
from avlet.document.edits import replace

LEFT, RULER, TRACK, GAP = 84, 30, 40, 10
MIME = "application/x-avlet-package"
_EDGE = 7


class CutView(QWidget):
    """Draws the cut and edits it by mouse and keys."""

    dropped = pyqtSignal(str, int)

    def __init__(self, session: CutSession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setMouseTracking(True)
        self.setAcceptDrops(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("The cut")
        self._held: tuple[str, Title | None, float] | None = None
        self._gesture = 0
        self._drop_at: int | None = None
        self._shown: int | None = None
        for signal in (session.changed, session.selection_changed, session.library_changed):
            signal.connect(self.update)
        session.frame_changed.connect(lambda _: self.update())

    def sizeHint(self) -> QSize:
        return QSize(900, RULER + 2 * (TRACK + GAP) + 10)

    def minimumSizeHint(self) -> QSize:
        return QSize(300, self.sizeHint().height())

    # Time and place

    @property
    def shown_frames(self) -> int:
        """How many frames lie across the view."""
        if self._shown is not None:
            return self._shown
        return max(self.session.cut.length, round(20 * self.session.cut.frame.fps)) + round(2 * self.session.cut.frame.fps)

    def x_of(self, frame: float) -> float:
        return LEFT + frame / self.shown_frames * (self.width() - LEFT - 12)

    def frame_at(self, x: float) -> int:
        return round((x - LEFT) / max(1, self.width() - LEFT - 12) * self.shown_frames)

    def title_area(self, title: Title) -> QRectF:
        return QRectF(self.x_of(title.start), RULER + 4, max(3.0, self.x_of(title.end) - self.x_of(title.start)), TRACK)

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._paint_ruler(painter)
        painter.setFont(font())
        painter.setPen(QColor(TEXT))
        for row, words in enumerate(("Words", "Pictures")):
            painter.drawText(QRectF(16, RULER + 4 + row * (TRACK + GAP), LEFT - 20, TRACK), Qt.AlignmentFlag.AlignVCenter, words)
        self._paint_pictures(painter)
        if not self.session.cut.titles:
            painter.setPen(QColor(MUTED))
            area = QRectF(LEFT, RULER + 4, self.width() - LEFT - 12, TRACK)
            painter.drawRoundedRect(area, 5, 5)
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, "Drag a template here, or double-click it in the library")
        for title in self.session.cut.titles:
            self._paint_title(painter, title)
        if self._drop_at is not None:
            painter.setPen(QPen(QColor(ROSE), 2))
            x = self.x_of(self._drop_at)
            painter.drawLine(QPointF(x, RULER), QPointF(x, RULER + TRACK + 8))
        x = self.x_of(self.session.frame + 0.5)
        painter.setPen(QPen(QColor("#FFFFFF"), 1.5))
        painter.drawLine(QPointF(x, 12), QPointF(x, self.height()))
        painter.setBrush(QColor("#FFFFFF"))
        painter.drawEllipse(QPointF(x, 12), 4.5, 4.5)

    def _paint_ruler(self, painter: QPainter) -> None:
        rate = float(self.session.cut.frame.fps)
        seconds = self.shown_frames / rate
        step = next((s for s in (1, 2, 5, 10, 30, 60, 300) if (self.width() - LEFT) / (seconds / s) > 52), 600)
        painter.setFont(font(SMALL, figures=True))
        for second in range(0, int(seconds) + 1, step):
            x = self.x_of(second * rate)
            painter.setPen(QPen(QColor("#59636A"), 1))
            painter.drawLine(QPointF(x, 16), QPointF(x, RULER))
            painter.setPen(QColor(MUTED))
            words = f"{second}s" if second < 60 else f"{second // 60}:{second % 60:02}"
            painter.drawText(QPointF(x + 4, 24), words)

    def _paint_pictures(self, painter: QPainter) -> None:
        begin = 0
        y = RULER + 4 + TRACK + GAP
        for clip in self.session.cut.pictures:
            area = QRectF(self.x_of(begin), y, self.x_of(begin + clip.length) - self.x_of(begin) - 2, TRACK)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor("#3C4C53"))
            painter.drawRoundedRect(area, 4, 4)
            painter.setPen(QColor("#D5DEE2"))
            painter.drawText(area.adjusted(10, 0, -6, 0), Qt.AlignmentFlag.AlignVCenter, f"{clip.plate.capitalize()} (made picture)")
            begin += clip.length

    def _paint_title(self, painter: QPainter, title: Title) -> None:
        area = self.title_area(title)
        selected = title.id == self.session.selected
        scene = self.session.scene_of(title)
        broken = isinstance(scene, str)
        painter.setPen(QPen(QColor("#FF8A76" if broken else "#FFFFFF" if selected else ROSE), 2 if selected else 1.2))
        painter.setBrush(QColor("#5B3033" if broken else "#7C525B" if selected else "#644249"))
        painter.drawRoundedRect(area, 5, 5)
        if not isinstance(scene, str):
            share = area.width() / scene.length
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(244, 178, 62, 190))
            way_in, way_out = scene.spans.way_in * share, scene.spans.way_out * share
            painter.drawRect(QRectF(area.x() + 1, area.bottom() - 4, way_in, 3))
            painter.drawRect(QRectF(area.right() - way_out - 1, area.bottom() - 4, way_out, 3))
        painter.setFont(font())
        painter.setPen(QColor("#FFEFF2"))
        label = f"⚠ {title.template}" if broken else self.label_of(title)
        room = area.adjusted(9, 0, -6, -4)
        painter.drawText(
            room, Qt.AlignmentFlag.AlignVCenter, painter.fontMetrics().elidedText(label, Qt.TextElideMode.ElideRight, int(room.width()))
        )
        if not isinstance(scene, str) and scene.spans.shortened:
            painter.setPen(QColor(WARNING))
            painter.drawText(room.adjusted(0, -16, 0, -16), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, "short")

    def label_of(self, title: Title) -> str:
        """The first words that its editor typed."""
        opened = self.session.template_of(title)
        if isinstance(opened, str):
            return title.template
        for field in opened.template.card.fields:
            words = title.answers.get(field.id, field.default)
            if isinstance(words, str) and not words.startswith("#") and words.strip():
                return words.replace("\n", " / ")
        return opened.template.name

    # Mouse

    def _title_at(self, point: QPointF) -> tuple[Title, str] | None:
        for title in self.session.cut.titles:
            area = self.title_area(title)
            if area.adjusted(-3, 0, 3, 0).contains(point):
                edge = min(_EDGE, area.width() / 4)
                if point.x() < area.left() + edge:
                    return title, "start"
                return title, "end" if point.x() > area.right() - edge else "move"
        return None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self._gesture += 1
        found = self._title_at(event.position())
        if found:
            title, how = found
            self._held = (how, title, self.frame_at(event.position().x()))
            self.session.select(title.id)
        else:
            if event.position().y() > RULER:
                self.session.select(None)
            self._held = ("playhead", None, 0)
            self.session.go_to(self.frame_at(event.position().x()))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._held is None:
            found = self._title_at(event.position())
            edge = found is not None and found[1] != "move"
            self.setCursor(Qt.CursorShape.SizeHorCursor if edge else Qt.CursorShape.ArrowCursor)
            self._tell(found[0] if found else None)
            return
        how, title, from_frame = self._held
        at = self.frame_at(event.position().x())
        if title is None:
            self.session.go_to(at)
            return
        moved = round(at - from_frame)
        gesture = ("cut", self._gesture)
        if how == "move":
            start = self._snapped(title.start + moved, title)
            self.session.edit("Move a title", lambda c: put_title(c, replace(c.title(title.id), start=start)), gesture)
        elif how == "start":
            start = self._snapped(title.start + moved, title)
            self.session.edit("Trim a title", lambda c: trim_title(c, title.id, start, title.end), gesture)
        else:
            end = self._snapped(title.end + moved, title)
            self.session.edit("Trim a title", lambda c: trim_title(c, title.id, title.start, end), gesture)

    def _snapped(self, frame: int, title: Title) -> int:
        """Caught on the playhead, the cuts of the pictures and the ends of other titles."""
        edges = [self.session.frame, 0]
        begin = 0
        for clip in self.session.cut.pictures:
            begin += clip.length
            edges.append(begin)
        edges += [e for t in self.session.cut.titles if t.id != title.id for e in (t.start, t.end)]
        near = min(edges, key=lambda e: abs(e - frame))
        return near if abs(self.x_of(near) - self.x_of(frame)) < 5 else frame

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._held = None
        self.session.history.close_gesture()

    def _tell(self, title: Title | None) -> None:
        if title is None:
            self.setToolTip("")
            return
        scene = self.session.scene_of(title)
        notes = [scene] if isinstance(scene, str) else scene.notes()
        rate = float(self.session.cut.frame.fps)
        self.setToolTip("\n".join([f"{self.label_of(title)}: {title.length} frames, {title.length / rate:.2f} s", *notes]))

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            shown = self.shown_frames * 0.85 ** (event.angleDelta().y() / 120)
            fits = max(self.session.cut.length, round(20 * self.session.cut.frame.fps)) + round(2 * self.session.cut.frame.fps)
            self._shown = None if shown >= fits else max(25, round(shown))
            self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.session.selected:
            at = self.session.selected
            self.session.edit("Remove a title", lambda c: remove_title(c, at))
        else:
            super().keyPressEvent(event)

    # Dropping

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        assert event is not None
        data = event.mimeData()
        if data is not None and data.hasFormat(MIME):
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent | None) -> None:
        assert event is not None
        self._drop_at = max(0, self.frame_at(event.position().x()))
        event.acceptProposedAction()
        self.update()

    def dragLeaveEvent(self, event: object) -> None:
        self._drop_at = None
        self.update()

    def dropEvent(self, event: QDropEvent | None) -> None:
        assert event is not None
        data = event.mimeData()
        self._drop_at = None
        if data is not None and data.hasFormat(MIME):
            self.dropped.emit(bytes(data.data(MIME)).decode(), max(0, self.frame_at(event.position().x())))
            event.acceptProposedAction()
        self.update()
