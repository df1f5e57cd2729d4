"""The picture of the desk: the cut at the playhead; a double click on words types them there."""

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QTransform

from avlet.desktop.sessions.cut_session import CutSession
from avlet.desktop.stage.frame_view import FrameView
from avlet.desktop.stage.typing_box import TypingBox, shown_words, when_at_rest
from avlet.document.cards.wires import Straight
from avlet.document.cut import Title
from avlet.document.fields import TextField, words_of
from avlet.document.parts import TextPart
from avlet.motion.posed import Pose
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
        self._typed_on: tuple[str, str, str] | None = None
        self.setToolTip("Double-click words to type them here")
        self.zoom_changed.connect(self._place)

    def show_cut(self) -> None:
        """The picture at the playhead, titles over it."""
        session, cut, frame = self.session, self.session.cut, self.session.frame
        poses: list[tuple[Pose, object]] = []
        for title in cut.titles_at(frame):
            scene = session.scene_of(title)
            if not isinstance(scene, str):
                poses.append((scene.pose(session.frame_of(title, scene)), scene.template.frame))
        found = cut.clip_at(frame)
        clip = cut.pictures[found[0]] if found else None
        inside = found[1] + clip.start if found and clip else frame
        self.background.show((clip.plate or "black") if clip and not clip.file else "black", clip.file if clip else "")
        self.show_frame(cut.frame, tuple(poses), float(inside / cut.frame.fps))  # type: ignore[arg-type]
        self._place()

    def words_at(self, point: QPointF) -> tuple[Title, str, str] | None:
        """The title, text part and field whose words lie under a point of the view."""
        cut = self.session.cut
        area = self.picture_area()
        for title in reversed(cut.titles_at(self.session.frame)):
            scene = self.session.scene_of(title)
            if isinstance(scene, str):
                continue
            scale = scene.template.frame.width / area.width()
            x, y = (point.x() - area.x()) * scale, (point.y() - area.y()) * scale
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
        area = self.picture_area()
        scale = area.width() / scene.template.frame.width
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

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.finish_typing()
        super().mousePressEvent(event)


def _field_of(scene: Scene, part_id: str) -> str | None:
    """The field whose words go straight into a text."""
    wire = scene.template.wire_to(f"{part_id}/text")
    if wire is None or not isinstance(wire.map, Straight):
        return None
    field = scene.template.card.field(wire.source)
    return field.id if isinstance(field, TextField) else None
