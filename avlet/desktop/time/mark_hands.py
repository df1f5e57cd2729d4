"""Marks in the hand: they are chosen on the ruler's head, dragged along it, brought to the playhead and taken away."""

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF

from avlet.desktop.time.ruler_picture import mark_flags
from avlet.document.editing.marks import move_mark, remove_mark
from avlet.document.template import Mark, Template

if TYPE_CHECKING:
    from avlet.desktop.time.ruler import Ruler


class MarkHands:
    """The mark of a template that is chosen on the ruler, and what is done to it there."""

    def __init__(self, ruler: "Ruler") -> None:
        self.ruler = ruler
        self.chosen: Mark | None = None
        self._start: tuple[Template, int] | None = None

    def at(self, point: QPointF) -> Mark | None:
        """The mark whose flag lies under a point, the last one where several do; the head of the playhead lies before them."""
        time = self.ruler.time
        if abs(point.x() - time.x_of(self.ruler.session.frame)) <= 5 and point.y() <= 12:
            return None
        flags = reversed(mark_flags(time, self.ruler.session.template.marks))
        return next((mark for mark, area, _ in flags if area.adjusted(-3, -1, 2, 0).contains(point)), None)

    def follow(self) -> None:
        """Let go of a mark that is gone."""
        if self.chosen not in self.ruler.session.template.marks:
            self.chosen = None

    def press(self, mark: Mark) -> None:
        """Choose a mark instead of moves and keys, and hold it."""
        template = self.ruler.session.template
        self.ruler.choose(())
        self.chosen, self._start = mark, (template, template.marks.index(mark))
        self.ruler.update()

    def drag(self, frame: float, gesture: object) -> None:
        """Bring the held mark to a frame."""
        if self._start is not None:
            template, number = self._start
            self._bring(template, number, frame, "Move a mark", gesture)

    def bring_here(self) -> bool:
        """Bring the chosen mark to the playhead; False where none is chosen."""
        template = self.ruler.session.template
        if self.chosen is None:
            return False
        self._bring(template, template.marks.index(self.chosen), self.ruler.session.frame, "Bring a mark here", None)
        return True

    def remove(self) -> bool:
        """Take the chosen mark away; False where none is chosen."""
        if self.chosen is None:
            return False
        number = self.ruler.session.template.marks.index(self.chosen)
        self.ruler.session.edit("Remove a mark", lambda t: remove_mark(t, number))
        return True

    def _bring(self, template: Template, number: int, frame: float, label: str, gesture: object) -> None:
        moved = move_mark(template, number, frame)
        held = next((mark for mark in moved.marks if mark not in template.marks), template.marks[number])
        self.ruler.session.edit(label, lambda _: moved, gesture)
        self.chosen = held
        self.follow()
