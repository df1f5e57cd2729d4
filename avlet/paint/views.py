"""What of a frame is looked at: the box of what shows, with some room, in the proportions of where it is shown."""

from avlet.document.parts import AnyPart
from avlet.document.template import Frame
from avlet.geometry import Box
from avlet.paint.scene import Scene

_ROOM = 0.06
"""Of the longer side, left free all round."""


def shown_box(scene: Scene, frame: int) -> Box | None:
    """The bounds of all that shows in a frame, as far as it lies in the picture; None when nothing does.

    What is there only for shadows to fall on does not count, nor what fills the whole picture behind something else, such as a veil.
    """
    pose, shape = scene.pose(frame), scene.template.frame
    boxes = (pose.visible_box(i) for i, posed in pose.parts.items() if not posed.rest.part.holds and not only_for_shadows(posed.rest.part))
    whole = Box(0, 0, shape.width, shape.height)
    seen = [cut for box in boxes if box is not None and not (cut := box.cut(whole)).empty]
    return Box.union(box for box in seen if box != whole) or Box.union(seen)


def only_for_shadows(part: AnyPart) -> bool:
    """Whether nothing of a part is seen but the shadows on it."""
    return part.own_stand is not None and part.own_stand.only_shadows


def view_round(box: Box | None, frame: Frame, ratio: float) -> Box:
    """The view, ``ratio`` times as wide as high, that shows a box with room round it; the whole frame where there is none.

    It is no larger than the frame needs, and lies within the frame as far as it can.
    """
    whole = Box(0, 0, frame.width, frame.height)
    room = max(box.w, box.h) * _ROOM if box is not None else 0.0
    inner = whole if box is None else box.grown(*[room] * 4).cut(whole)
    width, height = max(inner.w, inner.h * ratio), max(inner.h, inner.w / ratio)
    x, y = inner.middle
    return Box(_within(x - width / 2, width, whole.w), _within(y - height / 2, height, whole.h), width, height)


def _within(begin: float, size: float, whole: float) -> float:
    """Where a stretch begins so that it lies within a whole; in its middle when it is longer."""
    return (whole - size) / 2 if size >= whole else min(max(begin, 0.0), whole - size)
