"""Where a title lies on a cut: whole, never squashed, and moved or scaled by its editor about the corner in which it stands."""

from typing import NamedTuple

from avlet.document.cut import Title
from avlet.document.parts import TITLE_SAFE
from avlet.document.template import Frame, Template
from avlet.geometry import Box
from avlet.keeping import kept_of_the_last
from avlet.layout.areas import frame_area
from avlet.paint.scene import Scene
from avlet.paint.views import only_for_shadows
from avlet.text.fonts import FontBook

_THIRD = 1 / 3
"""A title whose middle lies in the first or last third of its frame stands at that side, else in the middle."""


class Anchor(NamedTuple):
    """The point of a title that stays where it is when the title is scaled, in px of its frame.

    ``shares`` tell, across and down, which point of the title that is: 0 its first edge, 0.5 its middle, 1 its last edge.
    """

    x: float
    y: float
    shares: tuple[float, float]


class Placed(NamedTuple):
    """How px of a title become px of a cut: times ``scale``, then moved by ``x`` and ``y``."""

    scale: float
    x: float
    y: float

    def box(self, box: Box) -> Box:
        """A box of the title on the cut."""
        return Box(self.x + self.scale * box.x, self.y + self.scale * box.y, self.scale * box.w, self.scale * box.h)

    def point(self, x: float, y: float) -> tuple[float, float]:
        """A point of the cut as one of the title."""
        return (x - self.x) / self.scale, (y - self.y) / self.scale

    def view(self, cut: Frame) -> Box:
        """What of the title's plane the whole of a cut's frame shows, in px of the title."""
        return Box(-self.x / self.scale, -self.y / self.scale, cut.width / self.scale, cut.height / self.scale)


def rest_box(scene: Scene) -> Box:
    """The joint box of all that a title shows at rest, within its frame; the frame where it shows nothing."""
    whole = Box(0, 0, scene.template.frame.width, scene.template.frame.height)
    shown = (rest.box.cut(whole) for rest in scene.rest.parts.values()
             if rest.present and not rest.part.holds and not only_for_shadows(rest.part))  # fmt: skip
    return Box.union(box for box in shown if not box.empty) or whole


@kept_of_the_last(64)
def anchor_of(template: Template, book: FontBook) -> Anchor:
    """Where a template stands in its frame, with the answers that it starts with, so that longer words do not move it."""
    box, frame = rest_box(Scene(template, book)), template.frame
    shares = _share(box.middle[0], frame.width), _share(box.middle[1], frame.height)
    return Anchor(box.edge(shares[0], 0), box.edge(shares[1], 1), shares)


def _share(middle: float, size: int) -> float:
    return 0.0 if middle < size * _THIRD else 1.0 if middle > size * (1 - _THIRD) else 0.5


def is_same_shape(template: Frame, cut: Frame) -> bool:
    """Whether two frames have the same proportions."""
    return template.width * cut.height == template.height * cut.width


def view_of(title: Title, scene: Scene, cut: Frame) -> Box | None:
    """What of a title's plane a cut shows, in px of the title; None for just its frame."""
    if not title.is_placed and is_same_shape(scene.template.frame, cut):
        return None
    return placed(title, scene.template, scene.book, cut).view(cut)


def placed(title: Title, template: Template, book: FontBook, cut: Frame) -> Placed:
    """Where a title lies on a cut of a size.

    In a cut of its own shape it fills that. In another its whole frame fits, and it stands in the same corner of title-safe as designed.
    """
    frame = template.frame
    base = min(cut.width / frame.width, cut.height / frame.height)
    anchor = (0.0, 0.0) if not title.is_placed and is_same_shape(frame, cut) else anchor_of(template, book)[:2]
    if is_same_shape(frame, cut):
        at = base * anchor[0], base * anchor[1]
    else:
        shares = anchor_of(template, book).shares
        own, theirs = frame_area(TITLE_SAFE, frame), frame_area(TITLE_SAFE, cut)
        at = (
            theirs.edge(shares[0], 0) + base * (anchor[0] - own.edge(shares[0], 0)),
            theirs.edge(shares[1], 1) + base * (anchor[1] - own.edge(shares[1], 1)),
        )
    scale = base * title.scale / 100
    return Placed(scale, at[0] + title.x - scale * anchor[0], at[1] + title.y - scale * anchor[1])
