"""Motion blur: a frame as what is seen while it is exposed."""

import math

import numpy as np
import skia

from avlet.document.template import MotionBlur
from avlet.geometry import Box
from avlet.motion.pose import Choreography
from avlet.motion.posed import Pose, PosedPart
from avlet.paint.painter import Pixels, canvas_over, new_pixels, paint_one

MOST_SAMPLES = 96
"""Moments that are looked at in one frame at most: each then adds under 3 of 255 levels, so that no copy is seen by itself."""
_PX_A_SAMPLE = 1.0


def moments(blur: MotionBlur, count: int) -> list[float]:
    """``count`` moments spread evenly over the exposure, in frames from the frame's own."""
    begin, lasts = blur.phase / 360, blur.shutter / 360
    return [begin + lasts * (n + 0.5) / count for n in range(count)]


def moving(choreography: Choreography, frame: int, blur: MotionBlur) -> dict[str, float]:
    """The parts outside of groups that move while a frame is exposed, each with how far it travels, in px of the frame.

    The first and the last frame are those moments alone, so that nothing has come yet, or is still there.
    """
    template = choreography.rest.bound.template
    first_frame, last_frame = frame <= 0 and template.plays_in, frame >= choreography.spans.length - 1 and template.plays_out
    if blur.shutter <= 0 or first_frame or last_frame:
        return {}
    ends = [choreography.pose_within(frame, offset) for offset in (blur.phase / 360, (blur.phase + blur.shutter) / 360)]
    first, last = ends
    found = {}
    for part_id in first.members.get(None, ()):
        if choreography.rest.parts[part_id].part.motion_blur:
            far = _travel(first, last, part_id, set())
            if far > 0:
                found[part_id] = far
    return found


def _travel(first: Pose, last: Pose, part_id: str, asked: set[str]) -> float:
    """The longest way that any unit of a part goes between two poses, its mattes, members and original included."""
    if part_id in asked:
        return 0.0
    asked.add(part_id)
    a, b = first.parts[part_id], last.parts[part_id]
    far = 0.0 if a is b else _unit_travel(a, b)
    if part_id in first.echoes:
        copy, other = first.echoes[part_id], last.echoes[part_id]
        far = max([far, *(_travel(copy, other, i, set()) for i in copy.members.get(None, ()))])
    related = [*first.members.get(part_id, ()), *(m.inside for m in first.mattes_of(a))]
    return max([far, *(_travel(first, last, i, asked) for i in related)])


def _unit_travel(a: PosedPart, b: PosedPart) -> float:
    edges, others = a.ink_edges, b.ink_edges
    if a.shown != b.shown or edges.shape != others.shape:
        return 1.0
    gone = (a.opacity <= 0) & (b.opacity <= 0)
    ways = np.abs(np.nan_to_num(edges - others)).max(axis=1)
    ways[gone] = 0.0
    far = float(ways.max(initial=0.0))
    if far == 0 and (not np.array_equal(a.opacity, b.opacity) or a.rest is not b.rest):
        return 0.0  # what only fades or changes its look is as sharp as ever
    return far


def paint_exposed(choreography: Choreography, frame: int, canvas: skia.Canvas, blur: MotionBlur) -> None:
    """Paint a frame on a canvas in px of the template's frame: what moves is seen at many moments, all else once."""
    pose = choreography.pose(frame)
    ways = moving(choreography, frame, blur)
    if not ways:
        for part_id in pose.members.get(None, ()):
            paint_one(canvas, pose, part_id)
        return
    scale = canvas.getTotalMatrix().mapRadius(1.0)
    counts = {i: max(2, min(MOST_SAMPLES, math.ceil(way * scale / _PX_A_SAMPLE))) for i, way in ways.items()}
    poses: dict[int, list[Pose]] = {}
    for count in sorted(set(counts.values())):
        poses[count] = [choreography.pose_within(frame, offset) for offset in moments(blur, count)]
    for part_id in pose.members.get(None, ()):
        if part_id in counts:
            _paint_blurred(canvas, poses[counts[part_id]], part_id)
        else:
            paint_one(canvas, pose, part_id)


def _paint_blurred(canvas: skia.Canvas, poses: list[Pose], part_id: str) -> None:
    """The mean of a part's pictures at several moments, over what is there; no larger than all of them need."""
    boxes = [pose.visible_box(part_id) for pose in poses]
    reach = max(pose.reach(part_id) for pose in poses) + 2
    joint = Box.union(box for box in boxes if box is not None)
    if joint is None:
        return
    matrix = canvas.getTotalMatrix()
    mapped = matrix.mapRect(skia.Rect.MakeXYWH(*joint.grown(*[reach] * 4)))
    corner, end = (mapped.left(), mapped.top()), (mapped.right(), mapped.bottom())
    bounds = skia.IRect.MakeLTRB(*map(math.floor, corner), *map(math.ceil, end))
    if not bounds.intersect(canvas.getDeviceClipBounds()):
        return
    total = np.zeros((bounds.height(), bounds.width(), 4), np.uint16)
    pixels: Pixels = new_pixels(bounds.width(), bounds.height())
    for pose in poses:
        pixels[...] = 0
        surface = canvas_over(pixels)
        inner = surface.getCanvas()
        inner.translate(-bounds.left(), -bounds.top())
        inner.concat(matrix)
        paint_one(inner, pose, part_id)
        surface.flushAndSubmit()
        total += pixels
    mean = ((total + len(poses) // 2) // len(poses)).astype(np.uint8)
    image = skia.Image.fromarray(mean, colorType=skia.kRGBA_8888_ColorType, alphaType=skia.kPremul_AlphaType, copy=True)
    canvas.save()
    canvas.resetMatrix()
    canvas.drawImage(image, bounds.left(), bounds.top())
    canvas.restore()
