"""The picture of the desk: the cut at the playhead. Titles are placed and scaled on it; a double click on words types them there."""

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QTransform

from avlet.desktop.desk.placing import Placing, begun, cursor_at, paint_placing
from avlet.desktop.sessions.cut_session import CutSession
from avlet.desktop.stage.frame_view import FrameView, Laid
from avlet.desktop.stage.gestures import Hand
from avlet.desktop.stage.typing_box import TypingBox, shown_words, when_at_rest
from avlet.document.cards.wires import Straight
from avlet.document.cut import Title, place_title
from avlet.document.fields import TextField, words_of
from avlet.document.parts import TextPart
from avlet.media.placing import placed, view_of
from avlet.paint.scene import Scene


class DeskPicture(FrameView):
    """Shows the cut. ``typed`` tells title, field and words; ``left`` that typing is over."""

    typed = pyqtSignal(str, str, str)
    left = pyqtSignal()

    def __init__(self, session: CutSession) -> None:
        super().__init__()
        self.setAccessibleName("The picture of the cut")
        self.session = session
        self.safe_areas = False
        self.typing: TypingBox | None = None
        self.hand: Placing | None = None
        self.playing: Callable[[], bool] = lambda: False
        """Whether the film plays: nothing is drawn over it then."""
        self.setMouseTracking(True)
        self._typed_on: tuple[str, str, str] | None = None
        self.setToolTip("Drag a title to another place, its corners to scale it; double-click words to type them here")
        self.zoom_changed.connect(self._place)

    def show_cut(self) -> None:
        """The picture at the playhead, titles over it."""
        session, cut, frame = self.session, self.session.cut, self.session.frame
        poses: list[Laid] = []
        for title in cut.titles_at(frame):
            scene = session.scene_of(title)
            if not isinstance(scene, str):
                lies = None if view_of(title, scene, cut.frame) is None else placed(title, scene.template, scene.book, cut.frame)
                poses.append(Laid(scene.pose(session.frame_of(title, scene)), scene.template.frame, lies))
        found = cut.clip_at(frame)
        clip = cut.pictures[found[0]] if found else None
        inside = found[1] + clip.start if found and clip else frame
        self.background.show((clip.plate or "black") if clip and not clip.file else "black", clip.file if clip else "")
        self.show_frame(cut.frame, tuple(poses), float(inside / cut.frame.fps))
        self._place()

    def words_at(self, point: QPointF) -> tuple[Title, str, str] | None:
        """The title, text part and field whose words lie under a point of the view."""
        cut = self.session.cut
        for title in reversed(cut.titles_at(self.session.frame)):
            scene = self.session.scene_of(title)
            if isinstance(scene, str):
                continue
            at = self.to_frame(point)
            x, y = placed(title, scene.template, scene.book, cut.frame).point(at.x(), at.y())
            for part_id, rest in reversed(list(scene.rest.parts.items())):
                box = rest.box.grown(*[8.0] * 4)
                if isinstance(rest.part, TextPart) and rest.present and box.x <= x <= box.right and box.y <= y <= box.bottom:
                    field = _field_of(scene, part_id)
                    if field is not None:
                        return title, part_id, field
        return None

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        found = self.words_at(event.position())
        if found is not None:
            self.type_on(*found)

    def type_on(self, title: Title, part_id: str, field_id: str) -> None:
        """Begin to type a field's words over the text that shows them."""
        self.finish_typing()
        scene = self.session.scene_of(title)
        if isinstance(scene, str):
            return
        self.session.select(title.id)
        rest = when_at_rest(scene, part_id, self.session.frame_of(title, scene))
        self.session.go_to(self.session.frame + rest - self.session.frame_of(title, scene))
        self._typed_on = title.id, part_id, field_id
        self.typing = TypingBox(part_id, words_of(scene.bound.answers[field_id]), self)
        self.typing.selectAll()
        self.typing.typed.connect(lambda words: self.typed.emit(title.id, field_id, words))
        self.typing.left.connect(self.finish_typing)
        self.typing.show()
        self.typing.setFocus(Qt.FocusReason.MouseFocusReason)
        self._place()

    def _place(self) -> None:
        if self.typing is None or self._typed_on is None:
            return
        title = self.session.cut.title(self._typed_on[0])
        scene = self.session.scene_of(title) if title is not None else ""
        if title is None or isinstance(scene, str):
            return
        lies = placed(title, scene.template, scene.book, self.session.cut.frame)
        area, scale = self.to_view(lies.x, lies.y), self.scale * lies.scale
        pose = scene.pose(self.session.frame_of(title, scene))
        shown = shown_words(pose, self._typed_on[1], QTransform(scale, 0, 0, scale, area.x(), area.y()))
        if shown is not None:
            self.typing.show_as(shown, QRectF(self.rect()))

    def finish_typing(self) -> None:
        """Put the typing box away."""
        if self.typing is not None:
            box, self.typing, self._typed_on = self.typing, None, None
            box.hide()
            box.deleteLater()
            self.left.emit()

    # Placing

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.finish_typing()
        super().mousePressEvent(event)
        if event.button() == Qt.MouseButton.LeftButton:
            self.setFocus(Qt.FocusReason.MouseFocusReason)
            self.hand = begun(self, Hand(event.position(), event.modifiers()))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        super().mouseMoveEvent(event)
        if self.hand is not None:
            self.hand.drag(Hand(event.position(), event.modifiers()))
        elif self._pan_from is None:
            self.setCursor(cursor_at(self, event.position()))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        super().mouseReleaseEvent(event)
        if event is not None and event.button() == Qt.MouseButton.LeftButton and self.hand is not None:
            hand, self.hand = self.hand, None
            hand.release()
            self.update()

    def give_up(self) -> bool:
        """Let go of what is being dragged, which is where it was then; whether anything was."""
        hand, self.hand = self.hand, None
        if hand is None:
            return False
        hand.cancel()
        self.update()
        return True

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_Escape and self.give_up():
            return
        super().keyPressEvent(event)

    def nudge(self, dx: float, dy: float) -> None:
        """Move the selected titles by some px."""
        session = self.session
        for title_id in session.selection:
            title = session.cut.title(title_id)
            if title is not None:
                change = partial(place_title, title_id=title_id, x=title.x + dx, y=title.y + dy, scale=title.scale)
                session.edit("Place a title", change, ("nudge", *session.selection))

    def paint_over(self, painter: QPainter) -> None:
        if self.typing is None and not self.playing():
            paint_placing(painter, self, self.hand.caught if self.hand is not None else ())


def _field_of(scene: Scene, part_id: str) -> str | None:
    """The field whose words go straight into a text."""
    wire = scene.template.wire_to(f"{part_id}/text")
    if wire is None or not isinstance(wire.map, Straight):
        return None
    field = scene.template.card.field(wire.source)
    return field.id if isinstance(field, TextField) else None
