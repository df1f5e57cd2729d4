"""Painting a space: its members as solid bodies in light, drawn by OpenGL into a picture that lies in the stack like any other part.

Without OpenGL the fronts are painted flat, as in a group.
"""

import contextlib
import dataclasses
import hashlib
import math
import threading
from collections.abc import Callable, Iterator

import numpy as np
import skia

from avlet.document.parts import SpacePart
from avlet.kept_lately import KeptLately
from avlet.motion.posed import Pose
from avlet.motion.posed_part import PosedPart
from avlet.paint.brushes import blend_mode, tint_filter
from avlet.paint.mattes import begin_mattes, end_mattes
from avlet.paint.space_bodies import masking, stage_of
from avlet.solid import drawing
from avlet.solid.bodies import Stage
from avlet.solid.sights import Area

_MOST_PIXELS = 3_000_000
"""px of all pictures that are kept, the last one in any case; each takes 4 bytes."""
_pictures: KeptLately[skia.Image] = KeptLately(_MOST_PIXELS, lambda image: image.width() * image.height())
_edges = threading.local()
"""Whether edges are left rough, of each thread by itself: one may work on a proof while another paints the stage."""
Source = Callable[[skia.Canvas, Pose, str, str], None]
"""Paints, on a canvas and of a pose, the part that another one's matte goes by: its id, and that of the other."""


@contextlib.contextmanager
def rough_edges(on: bool = True) -> Iterator[None]:
    """Within this, edges in spaces are not drawn finer than px, which takes most of the time: where a hand moves something and the picture
    is to follow it, and where large areas alone are measured.
    """
    before, _edges.rough = _are_rough(), on
    try:
        yield
    finally:
        _edges.rough = before


def _are_rough() -> bool:
    return getattr(_edges, "rough", False)


def paint_space(canvas: skia.Canvas, pose: Pose, posed: PosedPart, space: SpacePart, paint_source: Source) -> bool:
    """Paint a space on a canvas in px of the frame; False where nothing here can, so that it is painted flat.

    Of a ``posed`` part that is a member of the space, that one alone.
    """
    if drawing.fault():
        return False
    only = None if posed.rest.part.id == space.id else posed.rest.part.id
    box = pose.seen_in(space, only or space.id)
    opacity = space.opacity / 100 * float(posed.opacity[0]) if only is None else 1.0
    matrix = canvas.getTotalMatrix()
    if box is None or opacity <= 0:
        return True
    area = matrix.mapRect(skia.Rect.MakeXYWH(*box.grown(2, 2, 2, 2)))
    device = skia.IRect.MakeLTRB(*map(math.floor, (area.left(), area.top())), *map(math.ceil, (area.right(), area.bottom())))
    back = skia.Matrix()
    if not device.intersect(canvas.getDeviceClipBounds()) or device.isEmpty() or not matrix.invert(back):
        return True
    view = back.mapRect(skia.Rect.Make(device))
    seen = view.left(), view.top(), view.right(), view.bottom()
    stage = dataclasses.replace(stage_of(pose, space, only, matrix.mapRadius(1.0)), fine=not _are_rough())
    masked = {body.mask for body in stage.bodies if body.mask}
    if masked:
        masks = {}
        for where, member in _members(pose, only or space.id):
            if member.rest.part.id in masked:
                masks[member.rest.part.id] = _mask(where, member, seen, device.width(), device.height(), paint_source)
        stage = dataclasses.replace(stage, masks=masks)
    try:
        image = _picture(stage, seen, device.width(), device.height())
    except drawing.NoDrawingError:  # it could a moment ago
        return False
    canvas.save()
    canvas.resetMatrix()
    paint = _over(posed, space, opacity, matrix.mapRadius(1.0)) if only is None else skia.Paint()
    canvas.drawImage(image, device.left(), device.top(), skia.SamplingOptions(), paint)
    canvas.restore()
    return True


def _over(posed: PosedPart, space: SpacePart, opacity: float, scale: float) -> skia.Paint:
    """How the picture of a space is laid over what is there."""
    paint = skia.Paint(BlendMode=blend_mode(space.blend))
    paint.setAlphaf(min(1.0, opacity))
    blur = float(posed.blur[0]) * scale if posed.blur is not None else 0.0
    if blur > 0:
        paint.setImageFilter(skia.ImageFilters.Blur(blur / 2, blur / 2))
    if posed.tint is not None and (tint := tint_filter(posed.tint.colour, float(posed.tint.share[0]))) is not None:
        paint.setColorFilter(tint)
    return paint


def _members(pose: Pose, part_id: str) -> Iterator[tuple[Pose, PosedPart]]:
    if pose.inner(part_id) is None:
        yield pose, pose.parts[part_id]
    else:
        yield from ((where, posed) for where, posed, _ in pose.standing_in(part_id))


def _mask(pose: Pose, posed: PosedPart, view: Area, width: int, height: int, paint_source: Source) -> np.ndarray:
    """What the mattes of a member, and of the groups that it is in, let through: (height, width), 0 to 255."""
    found = np.full((height, width), 255, np.uint8)
    for one in masking(pose, posed):
        pixels = np.zeros((height, width, 4), np.uint8)
        info = skia.ImageInfo.Make(width, height, skia.kRGBA_8888_ColorType, skia.kPremul_AlphaType)
        surface = skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0])
        canvas = surface.getCanvas()
        canvas.scale(width / (view[2] - view[0]), height / (view[3] - view[1]))
        canvas.translate(-view[0], -view[1])
        mattes, name = pose.mattes_of(one), one.rest.part.id
        layered = begin_mattes(canvas, pose, one, mattes)
        canvas.drawColor(skia.ColorWHITE)
        end_mattes(canvas, pose, layered, lambda source, canvas=canvas, name=name: paint_source(canvas, pose, source, name))  # type: ignore[misc]
        surface.flushAndSubmit()
        found = (found.astype(np.uint16) * pixels[..., 3] // 255).astype(np.uint8)
    return found


def stands_flat(pose: Pose, part_id: str) -> bool:
    """Whether a part is painted as it is: it stands in no space, or only holds what does."""
    space = pose.space_of(part_id)
    return space is None or space.id == part_id or pose.parts[part_id].rest.part.copied is not None


def _picture(stage: Stage, view: Area, width: int, height: int) -> skia.Image:
    """The picture of a stage; what was drawn lately is not drawn again."""
    key = _key(stage, view, width, height)
    found = _pictures.get(key)
    if found is None:
        pixels = drawing.draw(stage, view, width, height)
        made = skia.Image.fromarray(pixels, colorType=skia.kRGBA_8888_ColorType, alphaType=skia.kPremul_AlphaType, copy=True)
        found = _pictures.put(key, made)
    return found


def _key(stage: Stage, view: Area, width: int, height: int) -> bytes:
    """Equal for stages that give the same picture."""
    digest = hashlib.blake2b(repr((view, width, height, stage.light, stage.fine)).encode(), digest_size=16)
    digest.update(stage.view.matrix.tobytes())
    for body in stage.bodies:
        texture = b"" if body.texture is None else body.texture.pixels.tobytes() + repr(body.texture.box).encode()
        digest.update(body.mesh.vertices.tobytes() + body.matrix.tobytes() + hashlib.blake2b(texture).digest())
        told = (body.depth, body.front, body.side, body.edge, body.opacity, body.shine, body.sharp, body.only_shadows, body.casts,
                body.mask)  # fmt: skip
        digest.update(repr(told).encode())
    for name, mask in stage.masks.items():
        digest.update(name.encode() + mask.tobytes())
    return digest.digest()
