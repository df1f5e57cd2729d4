"""Moving parts on the stage, and selecting them by clicks."""

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF

from avlet.desktop.stage.gestures import Gesture, Hand
from avlet.document.editing.alignment import leaders
from avlet.document.parts import FRAME_AREAS, members_of
from avlet.document.template import Frame, Guides
from avlet.geometry import Box
from avlet.layout.areas import frame_area
from avlet.layout.snapping import Snap, snap
from avlet.motion.picking import moves_with

if TYPE_CHECKING:
    from avlet.desktop.stage.stage import Stage

_SNAP = 6.0
"""View px within which a dragged part catches on an edge or middle."""


class Moving(Gesture):
    """A press on a part: it selects it, a drag moves all that is selected, a click goes on to what lies in it or under it.

    With Alt what lies under the selected parts is taken hold of, once it is dragged. Without ``pick`` what is selected already is moved.
    """

    def __init__(self, stage: "Stage", hand: Hand, pick: bool = True) -> None:
        super().__init__(stage, hand)
        session, found = stage.session, stage.picked_at(hand.at) if pick else None
        self.before, self._under = session.selected, None
        self._starts: dict[str, float] = {}
        self._box = Box(0, 0, 0, 0)
        if hand.freely and found is not None:
            self._under = found if not set(stage.parts_at(hand.at)) & set(session.selection) else None
        elif found is not None and (hand.adds or found not in session.selection):
            session.select(found, hand.adds)

    def pull(self, hand: Hand, moved: QPointF) -> None:
        if not self._starts and not self._begin():
            return
        template, selected = self.session.template, self.session.selected
        assert selected is not None
        dx, dy = moved.x(), moved.y()
        if hand.in_steps:
            dx, dy = (dx, 0.0) if abs(dx) >= abs(dy) else (0.0, dy)
        self.caught = ()
        if not hand.freely:
            found = self._snapped(selected, dx, dy)
            dx, dy, self.caught = dx + found.dx, dy + found.dy, found.caught
        self.step = QPointF(round(dx), round(dy))
        values = {target: start + round(dx if target.endswith("/across.gap") else dy) for target, start in self._starts.items()}
        self.session.write(values, ("move", self.number), f"Move {template.name_of(selected)}")

    def _begin(self) -> bool:
        """Remember from where what is selected is moved; whether there is anything."""
        if self._under is not None:
            self.session.select(self._under)
        selected, template = self.session.selected, self.session.template
        if selected is None:
            return False
        targets = [f"{at}/{axis}.gap" for axis in ("across", "down") for at in leaders(template, self.session.selection, axis)]
        self._starts = {target: float(self.session.shown(target)) for target in targets}
        self._box = self.session.scene().rest.parts[selected].box
        return bool(self._starts)

    def _snapped(self, selected: str, dx: float, dy: float) -> Snap:
        """What a drag catches on: the frame, the safe areas, guides, other parts, equal gaps."""
        rest, template = self.session.scene().rest, self.session.template
        taken = {i for i in rest.parts if i == selected or i in self.session.selection or moves_with(template, i, selected)}
        mine = {m for i in self.session.selection for m in members_of(template.parts, i, deep=True)}
        others = [p.box for i, p in rest.parts.items() if i not in taken | mine and p.present and not p.part.holds]
        guides = template.guides if self.stage.rulers.shown else Guides()
        lines = guides.lines(0, template.frame.width), guides.lines(1, template.frame.height)
        for area in areas(rest.frame):
            for axis in (0, 1):
                lines[axis].extend(area.edge(share, axis) for share in (0.0, 0.5, 1.0))
        return snap(self._box.moved(dx, dy), others, (lines[0], lines[1]), _SNAP / self.stage.scale)

    def click(self, hand: Hand) -> None:
        if not hand.adds:
            self.stage.click(hand, self.before)


def areas(frame: Frame) -> list[Box]:
    """The frame and its safe areas, to catch on."""
    return [frame_area(name, frame) for name in FRAME_AREAS]
