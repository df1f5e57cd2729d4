"""Motion blur: a frame as what is seen while it is exposed."""

import itertools
import math
from collections.abc import Iterator

import numpy as np
import skia

from avlet.document.looks.paints import SOFT_REACH
from avlet.document.parts import EchoPart, GroupPart, PaintedPart, PatternPart
from avlet.document.template import MotionBlur
from avlet.document.time.moves import OwnWayOut
from avlet.geometry import Box
from avlet.motion.pose import Choreography
from avlet.motion.posed import Pose
from avlet.motion.ways import travel
from avlet.paint.painter import Pixels, canvas_over, new_pixels, paint_one, paint_pose

WHEELS = MotionBlur(shutter=180.0)
MOST_SAMPLES = 72
"""Moments that are looked at in one frame at most: each then adds under 4 of 255 levels, so that no copy is seen by itself."""
STILL = 0.2
"""px of travel up to which a part is as sharp as ever: the exposure lies round the frame, so that nothing of it can be seen."""
_CLOSE, _APART = 14, 5.0
"""Up to so many, moments are a px of travel apart; further ones are ``_APART`` px apart, as each adds little by then."""


def moments(blur: MotionBlur, count: int) -> list[float]:
    """``count`` moments spread evenly over the exposure, in frames from the frame's own."""
    begin, lasts = blur.phase / 360, blur.shutter / 360
    return [begin + lasts * (n + 0.5) / count for n in range(count)]


def shown_by(blur: MotionBlur) -> MotionBlur:
    """The exposure of what is blurred: the template's, or where that has none the usual one, for wheels that are blurred all the same."""
    return blur if blur.shutter > 0 else WHEELS


def samples_for(travel: float) -> int:
    """How many moments a travel of px of the picture needs."""
    close = min(travel, float(_CLOSE))
    return max(2, min(MOST_SAMPLES, math.ceil(close + (travel - close) / _APART)))


def moving(choreography: Choreography, frame: int, blur: MotionBlur) -> dict[str, float]:
    """The parts that are painted by themselves and change while a frame is exposed, each with how far it travels, in px of the frame.

    Wheels roll without travelling: what of them is seen in a time is known from one pose (:mod:`avlet.paint.wheels`). The first and
    the last frame are those moments alone, so that nothing has come yet, or is still there.
    """
    template = choreography.rest.bound.template
    first_frame, last_frame = frame <= 0 and template.plays_in, frame >= choreography.spans.length - 1 and template.plays_out
    only = None if blur.shutter > 0 else choreography.blurred
    if (only is not None and not only) or first_frame or last_frame:
        return {}
    blur = shown_by(blur)
    begin, lasts = blur.phase / 360, blur.shutter / 360
    poses = [choreography.pose_within(frame, begin + lasts * at) for at in (_LOOKS if choreography.turns else (0.0, 1.0))]
    drifted = lasts / float(choreography.rest.frame.fps)
    found = {}
    for part_id in by_themselves(poses[0]):
        if choreography.rest.parts[part_id].part.motion_blur and (only is None or part_id in only):
            far = sum(travel(one, other, part_id) for one, other in itertools.pairwise(poses))
            far = max(far, _drifting(poses[0], part_id, drifted), choreography.rolled(part_id, frame, begin, begin + lasts, True))
            if far > STILL or choreography.rolled(part_id, frame, begin, begin + lasts) > STILL:
                found[part_id] = far
    return found


def by_themselves(pose: Pose, group: str | None = None) -> Iterator[str]:
    """The parts that are painted one by one: those outside of groups, and the members of groups that only hold them together.

    So each is exposed as its own way needs it, in a group as outside of one.
    """
    for part_id in pose.members.get(group, ()):
        part = pose.parts[part_id].rest.part
        if type(part) is GroupPart and part.motion_blur and pose.parts[part_id].shown and _only_holds(part):
            yield from by_themselves(pose, part_id)
        else:
            yield part_id


def _only_holds(group: GroupPart) -> bool:
    """Whether a group changes nothing about how its members are seen."""
    stands = group.opacity == 100 and group.blend == "normal" and group.turn == 0 and (group.scale_x, group.scale_y) == (100, 100)
    return stands and not (group.mattes or group.keys or group.runs or group.sways or group.way_in or isinstance(group.way_out, OwnWayOut))


_LOOKS = (0.0, 0.21, 0.47, 0.76, 1.0)
"""Moments of an exposure, as shares of it, between which way is measured where parts turn: uneven, so that no spin hides in them."""


def _drifting(pose: Pose, part_id: str, seconds: float) -> float:
    """How far the copies of a pattern drift in a time, in px: those that fill a box start anew with each step, and seem to stay."""
    part = pose.parts[part_id].rest.part
    own = math.hypot(part.drift_x, part.drift_y) * seconds if isinstance(part, PatternPart) else 0.0
    return max([own, *(_drifting(where, i, seconds) for where, i in pose.inner(part_id) or ())])


_LANES, _EIGHT = np.uint64(0x00FF00FF00FF00FF), np.uint64(8)
"""Sums of eight channels at once, four to a word of 64 bits with 16 bits each: enough for 257 pictures."""


def paint_exposed(choreography: Choreography, frame: int, canvas: skia.Canvas, blur: MotionBlur) -> None:
    """Paint a frame on a canvas in px of the template's frame: what moves is seen at many moments, all else once."""
    pose = choreography.pose(frame)
    ways = moving(choreography, frame, blur)
    if not ways:
        paint_pose(canvas, pose)
        return
    scale, blur = canvas.getTotalMatrix().mapRadius(1.0), shown_by(blur)
    begin, lasts = blur.phase / 360, blur.shutter / 360
    for part_id in by_themselves(pose):
        if part_id not in ways:
            paint_one(canvas, pose, part_id)
            continue
        needed, far = choreography.needed_by(part_id), ways[part_id]
        if far <= STILL:
            paint_one(canvas, choreography.pose_within(frame, begin + lasts / 2, needed, lasts), part_id)
            continue
        count = samples_for(far * scale)
        each = lasts / count
        poses = [choreography.pose_within(frame, offset, needed, each) for offset in moments(blur, count)]
        _paint_blurred(canvas, poses, part_id)


def _paint_blurred(canvas: skia.Canvas, poses: list[Pose], part_id: str) -> None:
    """The mean of a part's pictures at several moments, over what is there; no larger than all of them need."""
    boxes = [pose.visible_box(part_id) for pose in poses]
    reach = max(pose.reach(part_id) + _softness(pose, part_id) for pose in poses) + 2
    joint = Box.union(box for box in boxes if box is not None)
    if joint is None:
        return
    matrix = canvas.getTotalMatrix()
    mapped = matrix.mapRect(skia.Rect.MakeXYWH(*joint.grown(*[reach] * 4)))
    corner, end = (mapped.left(), mapped.top()), (mapped.right(), mapped.bottom())
    bounds = skia.IRect.MakeLTRB(*map(math.floor, corner), *map(math.ceil, end))
    if not bounds.intersect(canvas.getDeviceClipBounds()):
        return
    width = bounds.width() + bounds.width() % 2
    pixels: Pixels = new_pixels(width, bounds.height())
    words = pixels.reshape(bounds.height(), width * 4).view(np.uint64)
    even, odd, lane = np.zeros_like(words), np.zeros_like(words), np.empty_like(words)
    surface = canvas_over(pixels)
    inner = surface.getCanvas()
    inner.translate(-bounds.left(), -bounds.top())
    inner.concat(matrix)
    behind = _what_is_behind(canvas, bounds, pixels) if any(_blends(pose, part_id) for pose in poses) else None
    for pose in poses:
        pixels[...] = 0 if behind is None else behind
        paint_one(inner, pose, part_id)
        surface.flushAndSubmit()
        even += np.bitwise_and(words, _LANES, out=lane)
        np.right_shift(words, _EIGHT, out=lane)
        odd += np.bitwise_and(lane, _LANES, out=lane)
    mean = pixels
    for first, lanes in ((0, even), (1, odd)):
        mean.reshape(-1)[first::2] = ((lanes.view(np.uint16) + np.uint16(len(poses) // 2)) // np.uint16(len(poses))).reshape(-1)
    image = skia.Image.fromarray(mean, colorType=skia.kRGBA_8888_ColorType, alphaType=skia.kPremul_AlphaType, copy=True)
    canvas.save()
    canvas.resetMatrix()
    if behind is None:
        canvas.drawImage(image, bounds.left(), bounds.top())
    else:
        replacing = skia.Paint(BlendMode=skia.BlendMode.kSrc)
        canvas.clipRect(skia.Rect.Make(bounds))
        canvas.drawImage(image, bounds.left(), bounds.top(), skia.SamplingOptions(), replacing)
    canvas.restore()


def _softness(pose: Pose, part_id: str) -> float:
    """How far beyond the outlines of its mattes a part shows where those are soft, in px; that of what is in it included."""
    own = max((SOFT_REACH * matte.soft for matte in pose.mattes_of(pose.parts[part_id])), default=0.0)
    return max([own, *(_softness(where, i) for where, i in pose.inner(part_id) or ())])


def _blends(pose: Pose, part_id: str) -> bool:
    """Whether a part, or anything in it, is more to what lies behind it than laid over it: that has to be seen at every moment."""
    part = pose.parts[part_id].rest.part
    own = isinstance(part, PaintedPart | GroupPart | EchoPart) and part.blend != "normal"
    return own or any(_blends(where, i) for where, i in pose.inner(part_id) or ())


def _what_is_behind(canvas: skia.Canvas, bounds: skia.IRect, like: Pixels) -> Pixels:
    """The pixels of a canvas within ``bounds``, as an array like the one given."""
    behind = np.zeros_like(like)
    info = skia.ImageInfo.Make(like.shape[1], like.shape[0], skia.kRGBA_8888_ColorType, skia.kPremul_AlphaType)
    canvas.readPixels(info, behind, behind.strides[0], bounds.left(), bounds.top())
    return behind
