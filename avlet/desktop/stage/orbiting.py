"""Carrying the camera of a space round by dragging on the stage, while that space is selected."""

import itertools

from PyQt6.QtCore import QPointF

from avlet.desktop.sessions.template_session import Session
from avlet.document.editing.edits import set_relations
from avlet.document.editing.grouping import stands_in
from avlet.document.parts import Camera, SpacePart

_DEGREES = 0.25
"""Degrees that the camera is carried for each px of the screen."""
_STEP = 15.0
_MOST_UP = 89.0
_numbers = itertools.count()


class Orbit:
    """One drag: to the side carries the camera round, up and down over it. With whole steps it goes by 15°."""

    def __init__(self, session: Session, space: SpacePart, at: QPointF) -> None:
        self.session, self.space, self._begun = session, space, at
        self._gesture = "orbit", next(_numbers)
        self.far = False
        """Whether the hand has moved, and not only pressed."""

    def drag(self, to: QPointF, in_steps: bool) -> None:
        """The hand is somewhere else."""
        moved = to - self._begun
        if not self.far and moved.manhattanLength() < 4:
            return
        self.far = True
        camera = self.space.camera
        angles = [camera.round - moved.x() * _DEGREES, camera.up + moved.y() * _DEGREES]
        if in_steps:
            angles = [round(angle / _STEP) * _STEP for angle in angles]
        across = (angles[0] + 180) % 360 - 180
        up = max(-_MOST_UP, min(_MOST_UP, angles[1]))
        values = {f"{self.space.id}/camera.round": round(across, 1), f"{self.space.id}/camera.up": round(up, 1)}
        self.session.write(values, self._gesture, f"{self.space.name}: camera")


def begin_orbit(session: Session, at: QPointF) -> Orbit | None:
    """A drag that begins while a space alone is selected; None else."""
    part = session.bound_part
    alone = len(session.selection) == 1
    return Orbit(session, part, at) if isinstance(part, SpacePart) and alone and not part.locked else None


def rest_camera(session: Session) -> None:
    """Let the camera of the selected space rest, or of the one that what is selected stands in."""
    part = session.part
    space = part if isinstance(part, SpacePart) else stands_in(session.template, part.id) if part is not None else None
    if space is None:
        session.refused.emit("Select a space, or something in one, to let its camera rest.")
        return
    rest = Camera(angle=space.camera.angle)
    session.edit(f"{space.name}: camera at rest", lambda t: set_relations(t, space.id, camera=rest))
