"""The stage: the template's picture, to be selected, moved and typed on."""

import skia
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QMouseEvent, QPainter, QShowEvent, QTransform
from PyQt6.QtWidgets import QWidget

from avlet.desktop.sessions.template_session import Session
from avlet.desktop.stage.drafting import Dimension, Drafting
from avlet.desktop.stage.frame_cache import AheadDrawing
from avlet.desktop.stage.frame_view import FrameView, Laid
from avlet.desktop.stage.gestures import Gesture, Hand, begun
from avlet.desktop.stage.guides import Rulers
from avlet.desktop.stage.handles import Handle, draw_handles, handle_at, handles_of
from avlet.desktop.stage.lamp_marks import draw_lamps
from avlet.desktop.stage.marks import draw_caught, draw_distance, draw_marks
from avlet.desktop.stage.motion_path import draw_path, is_on_a_path, path_handles
from avlet.desktop.stage.moving import Moving
from avlet.desktop.stage.typing_box import TypingBox, shown_words, when_at_rest
from avlet.desktop.widgets.numbers import NumberBox
from avlet.desktop.widgets.theme import qcolor
from avlet.document.editing.alignment import shifted
from avlet.document.editing.resizing import handles
from avlet.document.parts import Accent, TextPart
from avlet.geometry import Box
from avlet.layout.snapping import Caught, EqualGap
from avlet.media.drawing import Drawing
from avlet.motion.credits import lists_of
from avlet.motion.list_places import line_at
from avlet.motion.picking import deeper, parts_under, picked
from avlet.motion.posed import Pose
from avlet.motion.rolling import axis_of
from avlet.paint.painter import Pixels, paint_pose

_GRIP_CURSORS = {
    1: Qt.CursorShape.SizeFDiagCursor, -1: Qt.CursorShape.SizeBDiagCursor, 2: Qt.CursorShape.SizeHorCursor, 3: Qt.CursorShape.SizeVerCursor,
}  # fmt: skip


class Stage(FrameView):
    """Shows the session's frame; a click selects, a drag moves, a double click types. ``line_picked`` tells the line of credits."""

    line_picked = pyqtSignal(object)
    menu_wanted = pyqtSignal(QPoint)
    let_go = pyqtSignal()
    """A button is up again."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName("The stage")
        self.session = session
        self.drafting = Drafting(self.to_view)
        self.drafting_on = True
        self.playing = False
        self.blurred = False
        self.typing: TypingBox | None = None
        self.number: NumberBox | None = None
        self._gesture: Gesture | None = None
        self._down = False
        self.rulers = Rulers(self, session)
        self.handles: list[Handle] = []
        self.ahead = AheadDrawing(self)
        self.ahead.drawn.connect(self._take_drawn)
        self._ahead_key: tuple[object, ...] = ()
        session.changed.connect(self.ahead.stop)
        self.setMouseTracking(True)
        session.changed.connect(self._follow_change)
        for signal in (session.answers_changed, session.selection_changed):
            signal.connect(self.refresh)
        session.frame_changed.connect(lambda _: self.refresh())
        self.zoom_changed.connect(self._place_typing)
        self.pose = session.scene().pose(0)

    def _follow_change(self) -> None:
        """Within a gesture the picture follows the hand, however heavy it is."""
        self.hurry.follow(self.session.history.in_gesture)
        self.refresh()

    def refresh(self) -> None:
        """Show the session's present frame; while it is hidden, when it is shown again."""
        if not self.isVisible():
            return
        template, frame = self.session.template, self.session.frame
        pose = self.session.scene().pose(min(frame, self.session.length() - 1))
        self.show_frame(template.frame, (Laid(pose, template.frame),), float(frame / template.frame.fps))
        self.pose = pose
        self._place_typing()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.refresh()

    def played(self, playing: bool) -> None:
        """The title begins or ends to play."""
        self.playing = playing
        if playing:
            self.draw_ahead()
            self.finish_typing()
        else:
            self.ahead.stop()
        self.update()

    def leave(self) -> None:
        """Another bench comes to the front."""
        self.ahead.stop()
        self.finish_typing()

    # Painting

    def picture_key(self) -> tuple[object, ...]:
        return id(self.session.template), self.session.answers_from, self.session.scene(), self.blurred

    def draw_ahead(self) -> None:
        """While the title plays: let worker processes draw what is not drawn yet, if drawing a frame takes half its time or more."""
        template, rate = self.session.template, float(self.session.template.frame.fps)
        blurred = self.blurred or template.motion_blur.shutter == 0
        if self.seconds_a_frame < 0.5 / rate or not self.fits or self.ahead.busy or not blurred:
            return
        area = self.picture_area()
        seen = area.toAlignedRect()
        ratio = self.devicePixelRatioF()
        size = (round(seen.width() * ratio), round(seen.height() * ratio))
        drawing = Drawing.of(self.session.scene(), size)
        key = (*self.picture_key(), *size, area.x() - seen.x(), area.y() - seen.y(), area.width())
        length = self.session.length()
        missing = [f for f in range(length) if f not in self.cache.frames]
        order = sorted(missing, key=lambda f: (f - self.session.frame - 3) % length)
        self._ahead_key = key
        self.ahead.start(drawing, order)

    def _take_drawn(self, frame: int, pixels: Pixels) -> None:
        self.cache.put(self._ahead_key, frame, pixels)

    def paint_title(self, canvas: skia.Canvas, pose: Pose) -> None:
        """The session's frame, with motion blur where that is wanted."""
        if self.blurred:
            self.session.scene().paint_on(canvas, pose.frame)
        else:
            paint_pose(canvas, pose)

    def paint_over(self, painter: QPainter) -> None:
        self._draw_band(painter)
        if not self.playing:
            draw_marks(painter, self.session.scene(), self.box_in_view)
            draw_lamps(painter, self.session, self.to_view)
        self.rulers.draw(painter)
        selected = self.session.selected
        scene = self.session.scene()
        self.handles = []
        if selected is not None and selected in scene.rest.parts and not self.playing and is_on_a_path(scene, selected):
            draw_path(painter, scene, selected, self.to_view)
            self.handles = path_handles(scene, selected)
            draw_handles(painter, self.handles, self.to_view)
        if selected is None or selected not in scene.rest.parts or self.playing or not self.drafting_on or self.typing is not None:
            self.drafting.labels, self.drafting.grips = [], []
            return
        painter.setClipRect(self.rect())
        for other in self.session.also:
            self.drafting.outline(painter, scene.rest.parts[other].box)
        self.drafting.draw(painter, scene.rest, selected, self.pose.outline_box(selected))
        part = self.session.template.part(selected)
        sides = handles(part) if part is not None and not self.session.also else []
        self.drafting.handles(painter, scene.rest.parts[selected].box, sides if part is not None and not part.locked else [])
        alone = part is not None and not self.session.also and not part.locked
        rest = scene.rest.parts[selected]
        drawn = handles_of(rest.part, rest.box, rest.ink, self.scale) if alone else []
        draw_handles(painter, drawn, self.to_view)
        self.handles = [*self.handles, *drawn]
        if self._gesture is not None:
            draw_caught(painter, self._gesture.caught, self.picture_area(), self.to_view)
            if not self._gesture.step.isNull():
                draw_distance(painter, self._gesture.step, self.box_in_view(rest.box))

    def _draw_band(self, painter: QPainter) -> None:
        band = self._gesture.band if self._gesture is not None else None
        if band is not None:
            painter.setPen(Qt.GlobalColor.white)
            painter.setBrush(qcolor("#FFFFFF30"))
            painter.drawRect(band)

    # Mouse

    def part_at(self, point: QPointF) -> str | None:
        """The foremost part under a point of the view, groups aside."""
        return next(iter(self.parts_at(point)), None)

    def parts_at(self, point: QPointF) -> list[str]:
        """The parts that show under a point of the view, front to back, groups and locked ones aside."""
        at = self.to_frame(point)
        return parts_under(self.pose, at.x(), at.y(), 3 / self.scale)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        super().mousePressEvent(event)
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        self.finish_typing()
        if event.button() == Qt.MouseButton.LeftButton:
            self._down = True  # before anything is selected: what that brings must not move the stage
            self._gesture = begun(self, Hand(event.position(), event.modifiers()))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        super().mouseMoveEvent(event)
        if self._gesture is not None:
            self._gesture.drag(Hand(event.position(), event.modifiers()))
        else:
            self._show_cursor(event.position())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        super().mouseReleaseEvent(event)
        if event.button() == Qt.MouseButton.LeftButton and self._gesture is not None:
            gesture, self._gesture = self._gesture, None
            gesture.release(Hand(event.position(), event.modifiers()))
            self._down = False
            self.let_go.emit()
            self.update()

    @property
    def held(self) -> bool:
        """Whether a button is down on it: nothing round the stage may move it then."""
        return self._down

    @property
    def caught(self) -> tuple[Caught | EqualGap, ...]:
        """What the present drag has caught on."""
        return self._gesture.caught if self._gesture is not None else ()

    def give_up(self) -> bool:
        """Give up the present drag, so that all is as before the press; False where there is none."""
        if self._gesture is None:
            return False
        gesture, self._gesture = self._gesture, None
        gesture.cancel()
        self._down = False
        self.let_go.emit()
        self.update()
        return True

    def moving(self, hand: Hand, pick: bool = True) -> Moving:
        """A drag that moves what is selected; with ``pick`` the press selects first."""
        return Moving(self, hand, pick)

    def click(self, hand: Hand, before: str | None) -> None:
        """Select what was clicked; ``before`` was selected until then.

        A second click goes into a group, and one with Alt to what lies under the selected part.
        """
        if hand.freely:
            under = self.parts_at(hand.at)
            at = under.index(self.session.selected) + 1 if self.session.selected in under else 0
            self.session.select(under[at % len(under)] if under else None)
        elif before != self.session.selected or len(self.session.selection) > 1:
            self.session.select(self.picked_at(hand.at))
        else:
            self.session.select(deeper(self.session.template, self.session.selection, self.part_at(hand.at)))
        self._pick_line(hand.at)

    def _pick_line(self, point: QPointF) -> None:
        """Tell which line of the selected credits was clicked."""
        selected = self.session.selected
        moving = lists_of(self.session.scene().choreography.movers).get(selected) if selected is not None else None
        if moving is not None and self.part_at(point) == selected:
            at = self.to_frame(point)
            line = line_at(moving, min(self.session.frame, moving.length - 1), at.x() if axis_of(moving.part) == 0 else at.y())
            if line is not None:
                self.line_picked.emit(line)

    def picked_at(self, point: QPointF) -> str | None:
        """What a click selects."""
        return picked(self.session.template, self.session.selection, self.part_at(point))

    def _show_cursor(self, point: QPointF) -> None:
        grip, label = self.drafting.grip_at(point), self.drafting.at(point)
        ruler = self.rulers.cursor(point)
        if ruler is not None:
            self.setCursor(ruler)
        elif handle_at(self.handles, point, self.to_view) is not None:
            self.setCursor(Qt.CursorShape.PointingHandCursor)
        elif grip is not None:
            self.setCursor(_GRIP_CURSORS[grip[0] * grip[1] if 0 not in grip else 2 if grip[0] else 3])
        elif label:
            self.setCursor(Qt.CursorShape.SizeHorCursor if label[1].across else Qt.CursorShape.SizeVerCursor)
        elif self.part_at(point):
            self.setCursor(Qt.CursorShape.SizeAllCursor if self.part_at(point) == self.session.selected else Qt.CursorShape.ArrowCursor)
        else:
            self.unsetCursor()

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """Tell that a menu is wanted: of what was clicked, which is selected first, or by its key of what is selected."""
        assert event is not None
        if event.reason() == QContextMenuEvent.Reason.Mouse:
            found = self.picked_at(QPointF(event.pos()))
            if found not in self.session.selection:
                self.session.select(found)
            self.menu_wanted.emit(event.globalPos())
        else:
            chosen = self.session.scene().rest.parts.get(self.session.selected or "")
            at = self.box_in_view(chosen.box).center().toPoint() if chosen is not None else self.rect().center()
            self.menu_wanted.emit(self.mapToGlobal(at))

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self.drafting.at(event.position()):
            return
        part_id = self._text_at(event.position())
        if part_id:
            self.type_on(part_id)

    def _text_at(self, point: QPointF) -> str | None:
        found = self.part_at(point)
        part = self.session.template.part(found) if found else None
        if isinstance(part, TextPart) or part is None:
            return found
        fit = part.fitted
        inside = [i for i in (fit.around if fit else ()) if isinstance(self.session.template.part(i), TextPart)]
        return inside[0] if inside else None

    # Moving

    def zoom_to_selection(self) -> None:
        """Bring what is selected into view as large as it fits; the whole picture when nothing is."""
        boxes = [self.session.scene().rest.parts[i].box for i in self.session.selection]
        box = Box.union(b for b in boxes if not b.empty)
        if box is None:
            self.zoom_to(None)
        else:
            self.zoom_to_box(box)

    def nudge(self, dx: float, dy: float) -> None:
        """Move the selected part, or what leads it, by px of the frame."""
        chosen = self.session.selection
        if chosen:
            values = shifted(self.session.template, chosen, dx, dy, self.session.shown)
            self.session.write(values, ("nudge", chosen), "Move by keys")

    # Typing

    def type_on(self, part_id: str) -> None:
        """Edit a text part's words where they stand."""
        part = self.session.template.part(part_id)
        if not isinstance(part, TextPart):
            return
        self.finish_typing()
        self.session.select(part_id)
        scene = self.session.scene()
        self.session.go_to(when_at_rest(scene, part_id, min(self.session.frame, scene.length - 1)))
        rest = scene.rest.parts[part_id]
        assert isinstance(rest.part, TextPart)
        box = TypingBox(part_id, rest.part.text, self)
        box.typed.connect(lambda words: self.session.write({f"{part_id}/text": words}, ("type", id(box))))
        box.left.connect(self.finish_typing)
        box.accent_wanted.connect(lambda number: self._need_accent(part_id, number))
        self.typing = box
        self._place_typing()
        box.show()
        box.setFocus()
        box.selectAll()

    def _need_accent(self, part_id: str, number: int) -> None:
        """See to it that a text has an accent of this number."""
        part = self.session.template.part(part_id)
        if isinstance(part, TextPart) and len(part.accents) < number:
            more = (Accent(part.family),)
            self.session.change(f"{part_id}/accents", lambda accents: accents + more * (number - len(accents)), f"{part.name}: accent")

    def _place_typing(self) -> None:
        if self.typing is not None:
            area, scale = self.picture_area(), self.scale
            shown = shown_words(self.pose, self.typing.part_id, QTransform(scale, 0, 0, scale, area.x(), area.y()))
            if shown is not None:
                self.typing.show_as(shown, QRectF(self.rect()))

    def finish_typing(self) -> None:
        """Leave the typing box; what was typed stands."""
        if self.typing is not None:
            box, self.typing = self.typing, None
            box.hide()
            box.deleteLater()
            self.session.history.close_gesture()
            self.setFocus()
        if self.number is not None:
            number, self.number = self.number, None
            number.hide()
            number.deleteLater()

    def type_number(self, dimension: Dimension) -> None:
        """Put a number box over a dimension's number."""
        area = next((a for a, d in self.drafting.labels if d.target == dimension.target), None)
        if area is None:
            return
        box = NumberBox(dimension.value, parent=self)
        box.setProperty("chip", "follow")
        box.move(round(area.center().x() - box.width() / 2), round(area.center().y() - 11))
        box.value_changed.connect(lambda v: self.session.write({dimension.target: v}, ("number", id(box))))
        box.finished.connect(self.finish_typing)
        self.number = box
        box.show()
        box.setFocus()
        box.selectAll()
