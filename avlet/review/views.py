"""What of a title is looked at once it has arrived."""

from avlet.geometry import Box
from avlet.paint.scene import Scene
from avlet.paint.views import only_for_shadows
from avlet.review.at_rest import seen_at_rest


def rest_box(scene: Scene) -> Box | None:
    """The bounds of all that shows once it has arrived, as far as it lies in the picture; None when nothing does.

    What is there only for shadows to fall on does not count.
    """
    shape = scene.template.frame
    whole = Box(0, 0, shape.width, shape.height)
    shown = (one for one in scene.rest.parts.values() if one.present and one.part.opacity > 0)
    boxes = (seen_at_rest(one, scene) for one in shown if not one.part.holds and not only_for_shadows(one.part))
    return Box.union(cut for box in boxes if box is not None and not (cut := box.cut(whole)).empty)
