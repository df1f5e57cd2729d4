"""What shows of a part once it has arrived."""

from avlet.document.parts import TITLE_SAFE, Camera
from avlet.geometry import Box
from avlet.layout.areas import frame_area
from avlet.layout.rest import RestPart
from avlet.paint.scene import Scene


def seen_at_rest(rest: RestPart, scene: Scene) -> Box | None:
    """What shows of a part at rest: its ink within the parts that it is shown inside of; of a counter also its widest numbers."""
    ink = rest.ink
    if ink is not None:
        ink = rest.body.ever(ink, rest.part, rest.box, frame_area(TITLE_SAFE, scene.rest.frame))
    for matte in rest.part.mattes:
        source = scene.rest.parts[matte.inside]
        if ink is not None and not matte.hides and source.words is None:
            ink = ink.cut(source.box.grown(*[matte.grow] * 4))
    return None if ink is None or ink.empty else in_the_frame(rest, ink, scene)


def in_the_frame(rest: RestPart, box: Box, scene: Scene) -> Box:
    """Where a member of a space is seen once it has arrived; the box itself for any other part."""
    if not any(one.part.has_depth for one in scene.rest.parts.values()):
        return box
    pose = scene.pose(rest_frame(scene))
    space = pose.space_of(rest.part.id)
    return box if space is None else pose.seen_in(space, rest.part.id) or box


def carried_round(part_id: str, scene: Scene) -> bool:
    """Whether a part is, or stands in, a space whose camera is not at rest: then what is no words may well reach out of the picture."""
    if not any(one.part.has_depth for one in scene.rest.parts.values()):
        return False
    space = scene.pose(rest_frame(scene)).space_of(part_id)
    return space is not None and space.camera != Camera(angle=space.camera.angle)


def rest_frame(scene: Scene) -> int:
    """A frame in which a title stands there whole: the middle of its hold."""
    return scene.spans.middle
