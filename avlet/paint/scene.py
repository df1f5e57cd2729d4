"""A scene: a template with answers at a length, ready to show any frame. What every picture is made with."""

from collections.abc import Mapping
from typing import Any

import skia

from avlet.document.template import MotionBlur, Template
from avlet.geometry import Box
from avlet.layout.bind import Bound
from avlet.motion.counting import count_notes
from avlet.motion.credits import credits_notes, lists_of, rest_of
from avlet.motion.pose import Choreography
from avlet.motion.posed import Pose
from avlet.motion.spans import Spans
from avlet.motion.ties import hurried, late_ends
from avlet.paint.exposure import moving, paint_exposed
from avlet.paint.painter import Pixels, canvas_over, new_pixels, paint_pose
from avlet.paint.space_notes import space_notes
from avlet.text.fonts import FontBook


class Scene:
    """``bind → arrange`` done once; :meth:`pose` and :meth:`paint` for each frame.

    Where the speed of credits leads, its length comes from their list, and not from ``length``.

    It follows from the template, the answers, the length and the fonts alone: the stage, the samples, the command line, films and
    worker processes all have it from here.
    """

    def __init__(self, template: Template, book: FontBook, answers: Mapping[str, Any] | None = None, length: int | None = None) -> None:
        self.template, self.book = template, book
        self.rest, self.led_from = rest_of(template, book, answers, length)
        self.bound: Bound = self.rest.bound
        self.choreography = Choreography(self.rest)

    @property
    def length(self) -> int:
        """How many frames it has."""
        return self.bound.length

    @property
    def spans(self) -> Spans:
        """Its way in, hold and way out."""
        return self.choreography.spans

    def pose(self, frame: int) -> Pose:
        """Every part as it stands in ``frame``."""
        return self.choreography.pose(frame)

    def paint(self, frame: int, pixels: Pixels, clear: bool = True, view: Box | None = None) -> None:
        """Paint ``frame``, or what of it lies within ``view``, into ``pixels``, over what is there when ``clear`` is False.

        What lies outside of the template's frame is not seen in a view that is larger.
        """
        if clear:
            pixels[...] = 0
        whole = Box(0, 0, self.template.frame.width, self.template.frame.height)
        shown, surface = view or whole, canvas_over(pixels)
        canvas = surface.getCanvas()
        canvas.scale(pixels.shape[1] / shown.w, pixels.shape[0] / shown.h)
        canvas.translate(-shown.x, -shown.y)
        if not whole.contains(shown):
            canvas.clipRect(skia.Rect.MakeWH(whole.w, whole.h), doAntiAlias=True)
        self.paint_on(canvas, frame)
        surface.flushAndSubmit()

    def paint_on(self, canvas: skia.Canvas, frame: int, blurred: bool = True) -> None:
        """Paint ``frame`` on a canvas in px of the template's frame; with motion blur if the template has it and it is wanted."""
        if blurred and (self.motion_blur.shutter > 0 or self.choreography.blurred):
            paint_exposed(self.choreography, frame, canvas, self.motion_blur)
        else:
            paint_pose(canvas, self.pose(frame))

    @property
    def motion_blur(self) -> MotionBlur:
        """How long each frame is exposed, with the answers that this scene has."""
        return self.bound.template.motion_blur

    def moves_while_exposed(self, frame: int) -> bool:
        """Whether motion blur makes a frame more than the picture of its pose."""
        return bool(moving(self.choreography, frame, self.motion_blur))

    def picture(self, frame: int, width: int | None = None, height: int | None = None) -> Pixels:
        """``frame`` as a new picture, in the template's own size unless another is given."""
        pixels = new_pixels(width or self.template.frame.width, height or self.template.frame.height)
        self.paint(frame, pixels)
        return pixels

    def notes(self) -> list[str]:
        """What is to be said about this title: fonts that are missing, ends that were shortened."""
        found = [*self.bound.notes, *(note for part in self.rest.parts.values() for note in part.notes)]
        found += late_ends(self.rest, self.choreography.timings)
        found += hurried(self.rest, self.choreography.timings, self.spans)
        found += count_notes(self.rest, self.choreography.movers, self.spans)
        found += credits_notes(self.choreography.movers)
        found += space_notes(self.rest)
        if self.led_from is not None:
            how = "as its pages are read" if any(m.pages for m in lists_of(self.choreography.movers).values()) else "at its speed"
            found.append(f"The length comes from the list {how}: {self.length} frames, not {self.led_from}.")
        if self.spans.shortened:
            found.append(
                f"{self.length} frames are under the way in and way out together "
                f"({self.spans.designed_in} + {self.spans.designed_out}); both were shortened in proportion."
            )
        return found


def first_alike(scene: Scene) -> list[int]:
    """For each frame the first one that paints the very same picture; itself if none does."""
    found: list[int] = []
    kept: dict[tuple[bytes, tuple[int, ...]], list[tuple[int, Pose]]] = {}
    for frame in range(scene.length):
        pose = scene.pose(frame)
        if scene.moves_while_exposed(frame):
            found.append(frame)
            continue
        key = (pose.key, tuple(id(posed.rest) for posed in pose.parts.values()))
        same = next((f for f, p in kept.get(key, []) if p.same_picture(pose)), None)
        if same is None:
            kept.setdefault(key, []).append((frame, pose))
        found.append(frame if same is None else same)
    return found
