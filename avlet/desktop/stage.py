"""The stage: the template's picture, to be selected, moved and typed on."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter
from PyQt6.QtWidgets import QWidget

from avlet.desktop.drafting import Dimension, Drafting
from avlet.desktop.frame_view import FrameView
from avlet.desktop.numbers import NumberBox
from avlet.desktop.session import Session
from avlet.desktop.theme import qcolor
from avlet.desktop.typing_box import TypingBox
from avlet.document import edits
from avlet.document.alignment import leader, leaders, shifted
from avlet.document.parts import FRAME_AREAS, PicturePart, TextPart, fit_of, followed_by
from avlet.document.resizing import Sides, handles, resized
from avlet.document.template import Frame, Template
from avlet.geometry import Box
from avlet.layout.arrange import frame_area

_DRAG_BEGINS = 3.0
_GRIP_CURSORS = {
    1: Qt.CursorShape.SizeFDiagCursor, -1: Qt.CursorShape.SizeBDiagCursor, 2: Qt.CursorShape.SizeHorCursor, 3: Qt.CursorShape.SizeVerCursor,
}  # fmt: skip
_SNAP = 6.0
"""View px within which a dragged part catches on an edge or middle."""


class Stage(FrameView):
    """Shows the session's frame; a click selects, a drag moves, a double click types."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.drafting = Drafting(self.to_view)
        self.drafting_on = True
        self.playing = False
        self.typing: TypingBox | None = None
        self.number: NumberBox | None = None
        self._pressed: QPointF | None = None
        self._held: Dimension | None = None
        self._held_value = 0.0
        self._moving: dict[tuple[str, str], float] | None = None
        self._gesture = 0
        self._caught: list[tuple[str, float]] = []
        self._band: QRectF | None = None
        self._grip: Sides | None = None
        self.setMouseTracking(True)
        for signal in (session.changed, session.answers_changed, session.selection_changed):
            signal.connect(self.refresh)
        session.frame_changed.connect(lambda _: self.refresh())
        self.zoom_changed.connect(self._place_typing)
        self.refresh()

    def refresh(self) -> None:
        """Show the session's present frame."""
        template, frame = self.session.template, self.session.frame
        pose = self.session.scene().pose(min(frame, template.length - 1))
        self.show_frame(template.frame, ((pose, template.frame),), float(frame / template.frame.fps))
        self._pose = pose
        self._place_typing()

    # Painting

    def paint_over(self, painter: QPainter) -> None:
        self._draw_band(painter)
        selected = self.session.selected
        scene = self.session.scene()
        if selected is None or selected not in scene.rest.parts or self.playing or not self.drafting_on:
            self.drafting.labels, self.drafting.grips = [], []
            return
        painter.setClipRect(self.rect())
        for other in self.session.also:
            self.drafting.outline(painter, scene.rest.parts[other].box)
        self.drafting.draw(painter, scene.rest, selected, self._pose.outline_box(selected))
        part = self.session.template.part(selected)
        sides = handles(part) if part is not None and not self.session.also else []
        self.drafting.handles(painter, scene.rest.parts[selected].box, sides)
        self._draw_caught(painter)

    def _draw_band(self, painter: QPainter) -> None:
        if self._band is not None:
            painter.setPen(Qt.GlobalColor.white)
            painter.setBrush(qcolor("#FFFFFF30"))
            painter.drawRect(self._band)

    def _draw_caught(self, painter: QPainter) -> None:
        area = self.picture_area()
        painter.setPen(Qt.GlobalColor.white)
        for axis, at in self._caught:
            if axis == "across":
                x = self.to_view(at, 0).x()
                painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()))
            else:
                y = self.to_view(0, at).y()
                painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))

    # Mouse

    def part_at(self, point: QPointF) -> str | None:
        """The foremost part that shows under a point of the view; at rest it also counts by its line box."""
        at = self.to_frame(point)
        for part_id, posed in reversed(self._pose.parts.items()):
            box = self._pose.visible_box(part_id)
            if box is None:
                continue
            if posed.still and posed.rest.setting is not None:
                box = Box.union((box, posed.rest.box))
            slack = 3 / self.scale
            if box is not None and box.grown(slack, slack, slack, slack).holds_point(at.x(), at.y()):
                return part_id
        return None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        super().mousePressEvent(event)
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        self.finish_typing()
        if event.button() != Qt.MouseButton.LeftButton:
            return
        self._pressed = event.position()
        self._gesture += 1
        self._grip = self.drafting.grip_at(event.position())
        if self._grip is not None:
            self._rest_box = self.session.scene().rest.parts[self.session.selection[-1]].box
            return
        label = self.drafting.at(event.position())
        if label:
            self._held, self._held_value = label[1], label[1].value
            return
        self._held = None
        found = self.part_at(event.position())
        more = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if found is None:
            self._band = QRectF(event.position(), event.position())
            if not more:
                self.session.select(None)
        elif more or found not in self.session.selection:
            self.session.select(found, more)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        super().mouseMoveEvent(event)
        if self._pressed is None:
            self._show_cursor(event.position())
            return
        if self._band is not None:
            self._band = QRectF(self._pressed, event.position()).normalized()
            self.update()
            return
        moved = (event.position() - self._pressed) / self.scale
        far = (event.position() - self._pressed).manhattanLength() >= _DRAG_BEGINS
        if self._grip is not None:
            self._moving = {}
            self._resize(self._grip, moved, event.modifiers())
        elif self._held is not None and (far or self._moving is not None):
            self._moving = {}
            along = moved.x() if self._held.across else moved.y()
            self.session.set_value(self._held.target, round(self._held_value + along * self._held.grows), ("drag", self._gesture))
        elif self._held is None and self.session.selected and (far or self._moving is not None):
            self._drag_part(moved, event.modifiers())

    def _select_within(self, band: QRectF) -> None:
        """Select every part that shows wholly within a band drawn on the stage."""
        corner, end = self.to_frame(band.topLeft()), self.to_frame(band.bottomRight())
        area = Box.from_edges(corner.x(), corner.y(), end.x(), end.y())
        seen = [(i, self._pose.visible_box(i)) for i in self._pose.parts]
        inside = [i for i, box in seen if box is not None and area.contains(box)]
        if inside:
            self.session.select_all(inside)

    def _show_cursor(self, point: QPointF) -> None:
        grip, label = self.drafting.grip_at(point), self.drafting.at(point)
        if grip is not None:
            self.setCursor(_GRIP_CURSORS[grip[0] * grip[1] if 0 not in grip else 2 if grip[0] else 3])
        elif label:
            self.setCursor(Qt.CursorShape.SizeHorCursor if label[1].across else Qt.CursorShape.SizeVerCursor)
        elif self.part_at(point):
            self.setCursor(Qt.CursorShape.SizeAllCursor if self.part_at(point) == self.session.selected else Qt.CursorShape.ArrowCursor)
        else:
            self.unsetCursor()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        super().mouseReleaseEvent(event)
        if event.button() != Qt.MouseButton.LeftButton:
            return
        held, moving = self._held, self._moving
        clicked = held is None and moving is None and self._band is None and self._grip is None
        self._grip = None
        if clicked and not event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.session.select(self.part_at(event.position()))
        if self._band is not None:
            self._select_within(self._band)
            self._band = None
        self._pressed = self._held = self._moving = None
        self._caught = []
        if moving is not None:
            self.session.history.close_gesture()
        elif held is not None:
            self._type_number(held)
        self.update()

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
        fit = fit_of(part)
        inside = [i for i in (fit.around if fit else ()) if isinstance(self.session.template.part(i), TextPart)]
        return inside[0] if inside else None

    # Moving

    def _drag_part(self, moved: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        template = self.session.template
        selected = self.session.selected
        assert selected is not None
        if self._moving is None:
            starts = ((axis, at) for axis in ("across", "down") for at in leaders(template, self.session.selection, axis))
            self._moving = {(axis, at): getattr(template.part(at), axis).gap for axis, at in starts}
            self._rest_box = self.session.scene().rest.parts[selected].box
        dx, dy = moved.x(), moved.y()
        if modifiers & Qt.KeyboardModifier.ShiftModifier:
            dx, dy = (dx, 0.0) if abs(dx) >= abs(dy) else (0.0, dy)
        if not modifiers & Qt.KeyboardModifier.AltModifier:
            dx, dy = self._snapped(selected, dx, dy)
        steps = {"across": round(dx), "down": round(dy)}

        def change(t: Template) -> Template:
            for (axis, at), start in (self._moving or {}).items():
                t = edits.set_property(t, f"{at}/{axis}.gap", start + steps[axis])
            return t

        self.session.edit(f"Move {template.name_of(selected)}", change, ("move", self._gesture))

    def _resize(self, sides: Sides, moved: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        """Pull an edge or corner. Pictures keep their shape at the corners, other parts with Shift."""
        part = self.session.part
        if part is None:
            return
        corner = 0 not in sides
        shift = bool(modifiers & Qt.KeyboardModifier.ShiftModifier)
        keep = corner and (shift != isinstance(part, PicturePart))
        box, dx, dy = self._rest_box, float(round(moved.x())), float(round(moved.y()))
        self.session.edit(f"Size of {part.name}", lambda t: resized(t, part.id, box, sides, dx, dy, keep), ("resize", self._gesture))

    def nudge(self, dx: float, dy: float) -> None:
        """Move the selected part, or what leads it, by px of the frame."""
        chosen = self.session.selection
        if chosen:
            self.session.edit("Move by keys", lambda t: shifted(t, chosen, dx, dy), ("nudge", chosen))

    def _snapped(self, selected: str, dx: float, dy: float) -> tuple[float, float]:
        """The drag, caught on edges and middles of the frame, the safe areas and other parts."""
        rest = self.session.scene().rest
        moving = self._rest_box.moved(dx, dy)
        others = [p.box for i, p in rest.parts.items() if i != selected and not _moves_with(self.session.template, i, selected)]
        boxes = [*others, *areas(rest.frame)]
        self._caught = []
        shifts = []
        for axis, name in ((0, "across"), (1, "down")):
            lines = {v for b in boxes for v in (b[axis], b[axis] + b[axis + 2] / 2, b[axis] + b[axis + 2])}
            mine = (moving[axis], moving[axis] + moving[axis + 2] / 2, moving[axis] + moving[axis + 2])
            near = min(((abs(line - m), line - m, line) for line in lines for m in mine), default=(1e9, 0.0, 0.0))
            caught = near[0] * self.scale <= _SNAP
            shifts.append(near[1] if caught else 0.0)
            if caught:
                self._caught.append((name, near[2]))
        return dx + shifts[0], dy + shifts[1]

    # Typing

    def type_on(self, part_id: str) -> None:
        """Edit a text part's words where they stand."""
        part = self.session.template.part(part_id)
        if not isinstance(part, TextPart):
            return
        self.finish_typing()
        self.session.select(part_id)
        rest = self.session.scene().rest.parts[part_id]
        assert isinstance(rest.part, TextPart)
        box = TypingBox(rest.part, self.scale, self)
        box.typed.connect(lambda words: self.session.set_value(f"{part_id}/text", words, ("type", id(box))))
        box.left.connect(self.finish_typing)
        self.typing = box
        self._place_typing()
        box.show()
        box.setFocus()
        box.selectAll()

    def _place_typing(self) -> None:
        if self.typing is not None:
            rest = self.session.scene().rest.parts.get(self.typing.part_id)
            if rest is not None:
                self.typing.place(self.box_in_view(rest.box), QRectF(self.rect()))

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

    def _type_number(self, dimension: Dimension) -> None:
        """Put a number box over a dimension's number."""
        area = next((a for a, d in self.drafting.labels if d.target == dimension.target), None)
        if area is None:
            return
        box = NumberBox(dimension.value, parent=self)
        box.setProperty("chip", "follow")
        box.move(round(area.center().x() - box.width() / 2), round(area.center().y() - 11))
        box.value_changed.connect(lambda v: self.session.set_value(dimension.target, v, ("number", id(box))))
        box.finished.connect(self.finish_typing)
        self.number = box
        box.show()
        box.setFocus()
        box.selectAll()


def _moves_with(template: Template, part_id: str, moving: str) -> bool:
    """Whether a part moves along when ``moving`` is dragged, so that it is nothing to catch on."""
    seen: set[str] = set()
    todo = [moving, *(a for axis in ("across", "down") if (a := leader(template, moving, axis)))]
    while todo:
        current = todo.pop()
        if current in seen:
            continue
        seen.add(current)
        todo += [p.id for p in template.parts if {"fit", "place"} & followed_by(p).get(current, set())]
    return part_id in seen


def areas(frame: Frame) -> list[Box]:
    """The frame and its safe areas, to catch on."""
    return [frame_area(name, frame) for name in FRAME_AREAS]
