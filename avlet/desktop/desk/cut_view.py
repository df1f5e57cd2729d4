"""The cut as three tracks: two of words over one of pictures. Titles and clips are dropped, moved, trimmed and split here."""

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QContextMenuEvent,
    QDragEnterEvent,
    QDragMoveEvent,
    QDropEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPixmap,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QWidget

from avlet.desktop.desk.cut_picture import paint_cut, paint_playhead
from avlet.desktop.desk.cut_rows import GAP, MOST_HEIGHT, RULER, WORDS, Rows, rows_of
from avlet.desktop.desk.cut_scale import CutScale
from avlet.desktop.desk.waveforms import Waveforms
from avlet.desktop.sessions.cut_session import CutSession
from avlet.document.cut import (
    TRACKS,
    Cut,
    PictureClip,
    Title,
    change_titles,
    frames_in_title,
    move_picture,
    move_titles,
    trim_picture,
    trim_title,
    trim_with_later,
)
from avlet.media.footage import FILMS, STILLS, footage_at
from avlet.media.titles import words_of_title
from avlet.motion.credits import lists_of
from avlet.motion.rolling import pace_words, whole_lengths
from avlet.review.samples import said_of

MIME = "application/x-avlet-package"
_EDGE = 7


KEYS: tuple[tuple[str, str], ...] = (
    ("Down", "The next title, with the playhead"), ("Up", "The title before"), ("Return", "To the title's card; Esc comes back"),
    ("Del", "Remove what is selected"), ("Menu", "What can be done with the title"),
)  # fmt: skip
"""What the keys do on the cut, in words."""


class CutView(QWidget):
    """Draws the cut and edits it by mouse. ``clip`` is the clip of the picture track that is chosen, by its place.

    ``dropped`` tells a package's file name, frame and track; ``film_dropped`` a film or still; ``menu_wanted`` where a menu is
    asked for; ``removed`` that what is selected is to go; ``card_wanted`` that its card is to be filled. By keyboard, Up and Down go
    from title to title.
    """

    dropped = pyqtSignal(str, int, int)
    film_dropped = pyqtSignal(object)
    menu_wanted = pyqtSignal(QPoint)
    removed = pyqtSignal()
    card_wanted = pyqtSignal()

    def __init__(self, session: CutSession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setMouseTracking(True)
        self.setAcceptDrops(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("The cut")
        self.clip: int | None = None
        self.drop_at: tuple[int, int] | None = None
        self._held: tuple[str, Title | int | None, float] | None = None
        self._gesture = 0
        self._start_cut: Cut | None = None
        """The cut as it was when a title was pressed."""
        self._pressed: float | None = None
        self._alone: str | None = None
        """The one of several selected titles that a click without a drag selects alone."""
        self.scale = CutScale()
        self.rows: Rows = rows_of(session.cut)
        self.waveforms = Waveforms(self)
        self.waveforms.ready.connect(self.draw_again)
        self._drawn: QPixmap | None = None
        """All but the playhead, until something changes."""
        for signal in (session.changed, session.selection_changed, session.library_changed):
            signal.connect(self._follow)
        session.frame_changed.connect(self._reveal)

    def draw_again(self) -> None:
        """Something else is to be seen than before."""
        self._drawn = None
        self.update()

    def _reveal(self, frame: int) -> None:
        if self._held is None and self.scale.reveal(frame):
            self._drawn = None
        self.update()

    def _follow(self) -> None:
        self._fit()
        if self.clip is not None and (self.clip >= len(self.session.cut.pictures) or self.session.selected is not None):
            self.clip = None
        self.draw_again()

    def _fit(self) -> None:
        rate = self.session.cut.frame.fps
        before, self.rows = self.rows, rows_of(self.session.cut)
        if before.height != self.rows.height:
            self.updateGeometry()
        self.scale.fit(self.width(), max(self.session.cut.length, round(20 * rate)) + round(2 * rate))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._fit()
        self._drawn = None

    def sizeHint(self) -> QSize:
        return QSize(900, min(MOST_HEIGHT, self.rows.height))

    def minimumSizeHint(self) -> QSize:
        return QSize(300, min(MOST_HEIGHT, self.rows.height))

    # Time and place

    @property
    def shown_frames(self) -> int:
        """How many frames lie across the view."""
        return self.scale.shown

    @property
    def first_frame(self) -> int:
        """The first of them."""
        return self.scale.first

    def x_of(self, frame: float) -> float:
        return self.scale.x_of(frame)

    def frame_at(self, x: float) -> int:
        return self.scale.frame_at(x)

    def track_at(self, y: float) -> int:
        """The words track at a height: the upper one is number 1."""
        lower = self.rows.of("words")
        return 1 if lower is not None and y < lower.top - GAP / 2 else 0

    def title_area(self, title: Title) -> QRectF:
        x = self.x_of(title.start)
        row = self.rows.of("words", min(title.track, TRACKS - 1))
        return QRectF(x, row.top if row is not None else RULER, max(3.0, self.x_of(title.end) - x), WORDS)

    def clip_area(self, index: int) -> QRectF:
        row = self.rows.of("pictures")
        if row is None:  # a stranger's tracks are looked at
            return QRectF()
        begin = self.session.cut.clip_begin(index)
        x = self.x_of(begin)
        return QRectF(x, row.top, max(3.0, self.x_of(begin + self.session.cut.pictures[index].length) - x - 2), row.height)

    def missing(self, clip: PictureClip) -> str:
        """Why a clip cannot be shown; empty when it can."""
        found = footage_at(Path(clip.file)) if clip.file else ""
        return found if isinstance(found, str) else ""

    def label_of(self, title: Title) -> str:
        """The first words that its editor typed."""
        opened = self.session.template_of(title)
        return title.template if isinstance(opened, str) else words_of_title(title, opened)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        ratio = self.devicePixelRatioF()
        if self._drawn is None:
            self._drawn = QPixmap(self.size() * ratio)
            self._drawn.setDevicePixelRatio(ratio)
            self._drawn.fill(Qt.GlobalColor.transparent)
            painter = QPainter(self._drawn)
            paint_cut(painter, self)
            painter.end()
        painter = QPainter(self)
        painter.drawPixmap(0, 0, self._drawn)
        paint_playhead(painter, self)

    # Mouse

    def title_at(self, point: QPointF) -> tuple[Title, str] | None:
        """The title under a point, and whether it is its start, its end or between."""
        for title in self.session.cut.titles:
            area = self.title_area(title)
            if area.adjusted(-3, 0, 3, 0).contains(point):
                return title, _piece(area, point)
        return None

    def clip_under(self, point: QPointF) -> tuple[int, str] | None:
        """The clip under a point, by its place, and whether it is its end or before."""
        for index in range(len(self.session.cut.pictures)):
            area = self.clip_area(index)
            if area.adjusted(0, 0, 3, 0).contains(point):
                return index, _piece(area, point)
        return None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self._gesture += 1
        found, clip = self.title_at(event.position()), self.clip_under(event.position())
        more = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if found:
            title, how = found
            self._alone = title.id if not more and len(self.session.selection) > 1 else None
            if more or title.id not in self.session.selection:
                self.session.select(title.id, more)
            elif title.id != self.session.selected:
                self.session.select_all([*(i for i in self.session.selection if i != title.id), title.id])
            self._start_cut = self.session.cut
            self._held = (how, title, self.frame_at(event.position().x())) if event.button() == Qt.MouseButton.LeftButton else None
            self._pressed = event.position().x() if self._held is not None and not more else None
        elif clip:
            self.session.select(None)
            self.clip = clip[0]
            self._held = (f"clip {clip[1]}", clip[0], self.frame_at(event.position().x()))
            self.session.go_to(self.frame_at(event.position().x()))
            self.draw_again()
        else:
            if event.position().y() > RULER:
                self.session.select(None)
                self.clip = None
                self.draw_again()
            self._held = ("playhead", None, 0)
            self.session.go_to(self.frame_at(event.position().x()))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._held is None:
            found, clip = self.title_at(event.position()), self.clip_under(event.position())
            edge = (found is not None and found[1] != "move") or (clip is not None and clip[1] == "end")
            self.setCursor(Qt.CursorShape.SizeHorCursor if edge else Qt.CursorShape.ArrowCursor)
            self._tell(found[0] if found else None, clip[0] if clip else None)
            return
        how, what, from_frame = self._held
        at = self.frame_at(event.position().x())
        self._alone = None
        if self._pressed is not None and abs(event.position().x() - self._pressed) > 2:
            self._pressed = None  # a drag, and no click
        gesture = ("cut", self._gesture)
        if isinstance(what, Title):
            along = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self._drag_title(how, what, round(at - from_frame), self.track_at(event.position().y()), gesture, along)
        elif what is not None and how == "clip end":
            length = self._snapped(at) - self.session.cut.clip_begin(what)
            self.session.edit("Trim a picture", lambda c: trim_picture(c, what, length), gesture)
        elif what is not None and abs(at - from_frame) > 3:
            self._drag_clip(what, at, gesture)
        elif what is None:
            self.session.go_to(at)

    def _drag_title(self, how: str, title: Title, moved: int, track: int, gesture: object, along: bool = False) -> None:
        """Move or trim a title; with ``along`` those behind its end go with that."""
        if how == "move":
            start = self._snapped(title.start + moved, title)
            others = [i for i in self.session.selection if i != title.id]
            if others:
                present = self.session.cut.title(title.id)
                step = start - present.start if present is not None else 0
                self.session.edit("Move titles", lambda c: move_titles(c, [*others, title.id], step), gesture)
                return
            self.session.edit("Move a title", lambda c: change_titles(c, [title.id], start=start, track=track), gesture)
        elif how == "start":
            start = self._snapped(title.start + moved, title, self.whole_lengths(title, title.end - title.start - moved), -1)
            self.session.edit("Trim a title", lambda c: trim_title(c, title.id, start, title.end), gesture)
        else:
            end = self._snapped(title.end + moved, title, self.whole_lengths(title, title.length + moved), 1)
            start_from = self._start_cut if along and self._start_cut is not None else None
            if start_from is not None:
                self.session.edit(
                    "Trim a title and take the later ones along", lambda _: trim_with_later(start_from, title.id, end), gesture
                )
            else:
                self.session.edit("Trim a title", lambda c: trim_title(c, title.id, title.start, end), gesture)

    def _drag_clip(self, index: int, at: int, gesture: object) -> None:
        """Carry a clip past its neighbours."""
        found = self.session.cut.clip_at(max(0, at))
        to = found[0] if found else len(self.session.cut.pictures) - 1
        if to != index:
            self.session.edit("Move a picture", lambda c: move_picture(c, index, to), gesture)
            self.clip = to
            self._held = ("clip move", to, at)

    def whole_lengths(self, title: Title, length: int) -> list[int]:
        """The lengths near one, in frames of the cut, at which the credits of a title roll whole px a frame."""
        scene, rate = self.session.scene_of(title), self.session.cut.frame.fps
        if isinstance(scene, str) or length < 2:
            return []
        fps = scene.template.frame.fps
        own = frames_in_title(length, rate, fps)
        lists = (m for m in lists_of(scene.choreography.movers).values() if m.ends is not None and m.part.movement.leads == "length")
        offers = (o for m in lists if m.ends is not None for o in whole_lengths(m.part.movement, m.ends, own))
        return [frames_in_title(offer.length, fps, rate) for offer in offers]

    def _snapped(self, frame: int, title: Title | None = None, lengths: Sequence[int] = (), way: int = 0) -> int:
        """Caught on the playhead, the cuts of the pictures, the ends of titles, and on ``lengths`` of the title where its start (−1) or
        end (1) is dragged.
        """
        edges = [self.session.frame, 0]
        held = () if title is None else (title.id, *self.session.selection)
        if title is not None:
            edges += [self.session.cut.clip_begin(n + 1) for n in range(len(self.session.cut.pictures))]
        edges += [e for t in self.session.cut.titles if t.id not in held for e in (t.start, t.end)]
        if title is not None and way:
            edges += [title.start + n if way > 0 else title.end - n for n in lengths]
        near = min(edges, key=lambda e: abs(e - frame))
        return near if abs(self.x_of(near) - self.x_of(frame)) < 5 else frame

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._pressed is not None and event is not None:
            self._show_clicked(self.frame_at(self._pressed))
        self._held = self._pressed = None
        self.session.history.close_gesture()
        if self._alone is not None and event is not None and event.button() == Qt.MouseButton.LeftButton:
            self.session.select(self._alone)
        self._alone = None

    def _show_clicked(self, frame: int) -> None:
        """Bring the playhead to where a title was clicked, unless that is seen already."""
        title = self.session.title
        if title is not None and not title.start <= self.session.frame < title.end:
            self.session.go_to(max(title.start, min(title.end - 1, frame)))

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        assert event is not None
        self.menu_wanted.emit(event.globalPos())

    def _tell(self, title: Title | None, clip: int | None) -> None:
        if title is None:
            self.setToolTip(self.missing(self.session.cut.pictures[clip]) if clip is not None else "")
            return
        scene = self.session.scene_of(title)
        notes = [scene] if isinstance(scene, str) else said_of(scene)
        rate = float(self.session.cut.frame.fps)
        facts = f"{self.label_of(title)}: {title.length} frames, {title.length / rate:.2f} s"
        rolls = (
            []
            if isinstance(scene, str)
            else [pace_words(m.part.name, m.roll) for m in lists_of(scene.choreography.movers).values() if m.roll]
        )
        self.setToolTip("\n".join([facts, *rolls, *notes, *self.session.newer(title)]))

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        notches = (event.angleDelta().y() or event.angleDelta().x()) / 120
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.scale.zoom(0.85**notches, event.position().x())
        else:
            self.scale.scroll(round(-notches * self.shown_frames / 8))
        self.draw_again()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.removed.emit()
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._step(1 if event.key() == Qt.Key.Key_Down else -1)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.session.title is not None:
            self.card_wanted.emit()
        elif event.key() == Qt.Key.Key_Menu:
            self.menu_wanted.emit(self.mapToGlobal(self.rect().center()))
        else:
            super().keyPressEvent(event)

    def _step(self, by: int) -> None:
        """Select the next or the previous title in time, and bring the playhead to it."""
        titles = sorted(self.session.cut.titles, key=lambda t: (t.start, t.track))
        if not titles:
            return
        present = self.session.title
        at = next((n for n, t in enumerate(titles) if present is not None and t.id == present.id), -1 if by > 0 else len(titles))
        title = titles[max(0, min(len(titles) - 1, at + by))]
        self.session.select(title.id)
        self.session.go_to(title.start + title.length // 2)
        self.setAccessibleDescription(f"{self.label_of(title)}, {at + by + 1} of {len(titles)}")

    # Dropping

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        assert event is not None
        data = event.mimeData()
        if data is not None and (data.hasFormat(MIME) or any(_is_footage(Path(u.toLocalFile())) for u in data.urls())):
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent | None) -> None:
        assert event is not None
        self.drop_at = max(0, self.frame_at(event.position().x())), self.track_at(event.position().y())
        event.acceptProposedAction()
        self.update()

    def dragLeaveEvent(self, event: object) -> None:
        self.drop_at = None
        self.update()

    def dropEvent(self, event: QDropEvent | None) -> None:
        assert event is not None
        data = event.mimeData()
        self.drop_at = None
        self.update()
        if data is None:
            return
        event.acceptProposedAction()
        if data.hasFormat(MIME):
            at = max(0, self.frame_at(event.position().x()))
            self.dropped.emit(data.data(MIME).data().decode(), at, self.track_at(event.position().y()))
            return
        for url in data.urls():
            if _is_footage(Path(url.toLocalFile())):
                self.film_dropped.emit(Path(url.toLocalFile()))


def _piece(area: QRectF, point: QPointF) -> str:
    edge = min(_EDGE, area.width() / 4)
    if point.x() < area.left() + edge:
        return "start"
    return "end" if point.x() > area.right() - edge else "move"


def _is_footage(path: Path) -> bool:
    return path.suffix.lower() in (*FILMS, *STILLS)
