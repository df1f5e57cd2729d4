"""Painting a space: its members as solid bodies in light, drawn by OpenGL into a picture that lies in the stack like any other part.

Without OpenGL the fronts are painted flat, as in a group.
"""

import functools
import hashlib
import math
import weakref
from collections import OrderedDict
from collections.abc import Callable, Iterator

import numpy as np
import skia

from avlet.arrays import Floats
from avlet.document.colours import channels, mixed
from avlet.document.moves import Unit
from avlet.document.paints import Paint, Solid
from avlet.document.parts import PaintedPart, PatternPart, PicturePart, SpacePart
from avlet.document.solids import Solidity
from avlet.geometry import Box
from avlet.motion.camera import camera_matrix, position
from avlet.motion.posed import Pose, PosedPart
from avlet.motion.stands import depth_of, form_matrices, in_depth, lifted, unit_matrices
from avlet.paint.brushes import blend_mode, tint_filter
from avlet.paint.contours import contours_of
from avlet.paint.layers import Layer, draw_layer, fills_of
from avlet.paint.outlines import copy_matrix, copy_path, part_path, unit_paths
from avlet.paint.pictures import paint_picture
from avlet.solid import drawing
from avlet.solid.bodies import Body, Light, Linear, Stage, Texture, View, to_linear
from avlet.solid.meshes import Edging, Mesh, mesh_of
from avlet.text.setting import Setting

_SHINE = {"matt": (0.0, 1.0), "satin": (0.12, 24.0), "gloss": (0.45, 90.0)}
"""How much of the sun a surface mirrors, and how sharply."""
_DARKER = 0.45
"""What is left of the front's light on sides that are darker."""
_MOST_PICTURES, _MOST_MESHES, _COVER = 12, 512, 1024
_pictures: "OrderedDict[bytes, skia.Image]" = OrderedDict()
_unit_meshes: "weakref.WeakKeyDictionary[Setting, dict[tuple[object, ...], list[Mesh]]]" = weakref.WeakKeyDictionary()
_form_meshes: "OrderedDict[bytes, Mesh]" = OrderedDict()


def paint_space(canvas: skia.Canvas, pose: Pose, posed: PosedPart, space: SpacePart) -> bool:
    """Paint a space on a canvas in px of the frame; False where nothing here can, so that it is painted flat."""
    if drawing.fault():
        return False
    box = pose.seen_space(space)
    opacity = space.opacity / 100 * float(posed.opacity[0])
    matrix = canvas.getTotalMatrix()
    if box is None or opacity <= 0:
        return True
    area = matrix.mapRect(skia.Rect.MakeXYWH(*box.grown(2, 2, 2, 2)))
    device = skia.IRect.MakeLTRB(*map(math.floor, (area.left(), area.top())), *map(math.ceil, (area.right(), area.bottom())))
    if not device.intersect(canvas.getDeviceClipBounds()) or device.isEmpty():
        return True
    back = skia.Matrix()
    if not matrix.invert(back):
        return True
    view = back.mapRect(skia.Rect.Make(device))
    stage = stage_of(pose, space)
    image = _picture(stage, (view.left(), view.top(), view.right(), view.bottom()), device.width(), device.height())
    paint = skia.Paint(BlendMode=blend_mode(space.blend))
    paint.setAlphaf(min(1.0, opacity))
    blur = float(posed.blur[0]) * matrix.mapRadius(1.0) if posed.blur is not None else 0.0
    if blur > 0:
        paint.setImageFilter(skia.ImageFilters.Blur(blur / 2, blur / 2))
    if posed.tint is not None and (tint := tint_filter(posed.tint.colour, float(posed.tint.share[0]))) is not None:
        paint.setColorFilter(tint)
    canvas.save()
    canvas.resetMatrix()
    canvas.drawImage(image, device.left(), device.top(), skia.SamplingOptions(), paint)
    canvas.restore()
    return True


def _picture(stage: Stage, view: tuple[float, float, float, float], width: int, height: int) -> skia.Image:
    """The picture of a stage; what was drawn lately is not drawn again."""
    key = _key(stage, view, width, height)
    if key not in _pictures:
        pixels = drawing.draw(stage, view, width, height)
        made = skia.Image.fromarray(pixels, colorType=skia.kRGBA_8888_ColorType, alphaType=skia.kPremul_AlphaType, copy=True)
        _pictures[key] = made
        while len(_pictures) > _MOST_PICTURES:
            _pictures.popitem(last=False)
    _pictures.move_to_end(key)
    return _pictures[key]


def _key(stage: Stage, view: tuple[float, float, float, float], width: int, height: int) -> bytes:
    """Equal for stages that give the same picture."""
    digest = hashlib.blake2b(repr((view, width, height, stage.light)).encode(), digest_size=16)
    digest.update(stage.view.matrix.tobytes())
    for body in stage.bodies:
        texture = b"" if body.texture is None else body.texture.pixels.tobytes() + repr(body.texture.box).encode()
        digest.update(body.mesh.vertices.tobytes() + body.matrix.tobytes() + hashlib.blake2b(texture).digest())
        told = (body.depth, body.front, body.side, body.edge, body.opacity, body.shine, body.sharp, body.only_shadows, body.casts)
        digest.update(repr(told).encode())
    return digest.digest()


# What stands there


def stage_of(pose: Pose, space: SpacePart) -> Stage:
    """All that a space's picture follows from."""
    bodies = [body for _, posed, opacity in pose.standing_in(space.id) for body in bodies_of(posed, opacity)]
    view = View(camera_matrix(space.camera, pose.shape), position(space.camera, pose.shape))
    return Stage(tuple(bodies), light_of(space), view)


def light_of(space: SpacePart) -> Light:
    """The light in a space."""
    a, b = math.radians(space.sun.round), math.radians(space.sun.up)
    to_sun = (math.sin(a) * math.cos(b), -math.sin(b), math.cos(a) * math.cos(b))
    sky = _times(linear(space.sky.colour), space.sky.strength / 100)
    return Light(sky, _times(linear(space.sun.colour), space.sun.strength / 100), to_sun, space.sun.soft)


def bodies_of(posed: PosedPart, opacity: float) -> Iterator[Body]:
    """The bodies of one member: one for each unit and each of its fills."""
    part = posed.rest.part
    if not isinstance(part, PaintedPart):
        return
    for layer in fills_of(part):
        if posed.rest.setting is not None:
            yield from _of_units(posed, part, layer, opacity)
        elif posed.rest.copies is not None:
            yield from _of_copies(posed, part, layer, opacity)
        elif posed.rest.strip is None:
            yield from _of_form(posed, part, layer, opacity)


def _of_units(posed: PosedPart, part: PaintedPart, layer: Layer, opacity: float) -> Iterator[Body]:
    setting, corner = posed.rest.setting, posed.rest.box
    assert setting is not None
    matrices = unit_matrices(posed)
    there = np.eye(4)
    there[:2, 3] = corner.x, corner.y
    cover = _cover(layer.paint, setting.ink_box)
    for index, mesh in enumerate(unit_meshes(setting, posed.unit, layer.accents, part.solid)):
        shown = opacity * part.opacity / 100 * float(posed.opacity[index])
        if shown > 0 and not mesh.empty:
            yield _body(posed, part, layer, mesh, matrices[index] @ there, shown, index, cover)


def _of_form(posed: PosedPart, part: PaintedPart, layer: Layer, opacity: float) -> Iterator[Body]:
    box = posed.form_box
    shown = opacity * part.opacity / 100 * float(posed.opacity[0])
    if box.empty or shown <= 0:
        return
    mesh = form_mesh(part_path(posed), part.solid)
    if isinstance(part, PicturePart):
        cover: Texture | None = Texture(_cover_of_picture(part, box.w, box.h), (box.x, box.y, box.right, box.bottom))
    else:
        cover = _cover(layer.paint, box)
    yield _body(posed, part, layer, mesh, form_matrices(posed)[0], shown, 0, cover)


def _of_copies(posed: PosedPart, part: PaintedPart, layer: Layer, opacity: float) -> Iterator[Body]:
    copies = posed.rest.copies
    assert isinstance(part, PatternPart) and copies is not None
    if copies.width <= 0 or copies.height <= 0:
        return
    mesh, depths, units = form_mesh(copy_path(part, copies.width, copies.height), part.solid), in_depth(posed), copies.unit_of[posed.unit]
    cover = _cover(layer.paint, Box(-copies.width / 2, -copies.height / 2, copies.width, copies.height))
    for number, unit in enumerate(units.tolist()):
        shown = opacity * part.opacity / 100 * float(posed.opacity[unit] * copies.opacity[number])
        if shown > 0:
            plane = lifted(np.array([copy_matrix(posed, number).get9()], float).reshape(3, 3))
            own = layer
            if part.colour_runs and isinstance(layer.paint, Solid):
                own = layer._replace(paint=Solid(mixed(layer.paint.colour, part.colour_last, float(copies.share[number]))))
            yield _body(posed, part, own, mesh, depths[unit] @ plane, shown, unit, cover)


def _body(
    posed: PosedPart, part: PaintedPart, layer: Layer, mesh: Mesh, matrix: Floats, opacity: float, index: int, cover: Texture | None
) -> Body:
    solid, stand = part.solid, part.stand
    colour = layer.paint.colour if isinstance(layer.paint, Solid) else "#FFFFFF"
    front = linear(colour)
    if posed.tint is not None:
        share = float(posed.tint.share[index])
        front = _mixed(front, linear(posed.tint.colour), share)
    shine, sharp = _SHINE[solid.surface] if solid is not None else _SHINE["matt"]
    side = front if solid is None or solid.sides == "as the front" else _times(front, _DARKER)
    if solid is not None and solid.sides == "their own":
        side = linear(solid.side)
    only = stand is not None and stand.only_shadows
    opaque = 1.0 if cover is not None else channels(colour)[3] / 255
    return Body(
        mesh, matrix, depth_of(posed), front, side, front, opacity * opaque, shine, sharp, only, not only,
        cover if not only else None,
    )  # fmt: skip


# Meshes, kept


def unit_meshes(setting: Setting, unit: Unit, accents: tuple[int, ...] | None, solid: Solidity | None) -> list[Mesh]:
    """The mesh of each unit of a set text, in px from its corner; kept while the setting lives, whatever its depth and colour."""
    edging: Edging = solid.edging if solid is not None else "square"
    width = solid.edge if solid is not None and solid.edging != "square" else 0.0
    flat = solid is None or solid.depth <= 0
    kept = _unit_meshes.setdefault(setting, {})
    key = unit, accents, edging, width, flat
    if key not in kept:
        kept[key] = [mesh_of(contours_of(path), edging, width, flat) for path in unit_paths(setting, unit, accents)]
    return kept[key]


def form_mesh(path: skia.Path, solid: Solidity | None) -> Mesh:
    """The mesh of a shape's outline in px of the frame."""
    edging: Edging = solid.edging if solid is not None else "square"
    width = solid.edge if solid is not None and solid.edging != "square" else 0.0
    flat = solid is None or solid.depth <= 0
    key = hashlib.blake2b(bytes(path.serialize()) + repr((edging, width, flat)).encode(), digest_size=16).digest()
    if key not in _form_meshes:
        _form_meshes[key] = mesh_of(contours_of(path), edging, width, flat)
        while len(_form_meshes) > _MOST_MESHES:
            _form_meshes.popitem(last=False)
    _form_meshes.move_to_end(key)
    return _form_meshes[key]


# Colours and covers


@functools.lru_cache(maxsize=512)
def linear(colour: str) -> Linear:
    """A colour in linear light."""
    red, green, blue = to_linear(np.array(channels(colour)[:3]) / 255).tolist()
    return red, green, blue


def _times(light: Linear, factor: float) -> Linear:
    return light[0] * factor, light[1] * factor, light[2] * factor


def _mixed(one: Linear, other: Linear, share: float) -> Linear:
    red, green, blue = (a + (b - a) * share for a, b in zip(one, other, strict=True))
    return red, green, blue


def _cover(paint: Paint, box: Box | None) -> Texture | None:
    """A fill that is no plain colour, as a picture over a box."""
    if isinstance(paint, Solid) or box is None or box.empty:
        return None
    return Texture(_gradient(paint, box.w, box.h), (box.x, box.y, box.right, box.bottom))


def _size(width: float, height: float) -> tuple[int, int, float]:
    scale = min(1.0, _COVER / max(width, height))
    return max(2, round(width * scale)), max(2, round(height * scale)), scale


def _painted(width: float, height: float, paint: Callable[[skia.Canvas], object]) -> np.ndarray:
    """What is painted in a box at the origin, as a picture of it; large ones are made smaller."""
    wide, high, _ = _size(width, height)
    pixels = np.zeros((high, wide, 4), np.uint8)
    info = skia.ImageInfo.Make(wide, high, skia.kRGBA_8888_ColorType, skia.kPremul_AlphaType)
    surface = skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0])
    canvas = surface.getCanvas()
    canvas.scale(wide / width, high / height)
    paint(canvas)
    surface.flushAndSubmit()
    return pixels


@functools.lru_cache(maxsize=32)
def _gradient(paint: Paint, width: float, height: float) -> np.ndarray:
    path = skia.Path()
    path.addRect(skia.Rect.MakeWH(width, height))
    box = Box(0, 0, width, height)
    return _painted(width, height, lambda canvas: draw_layer(canvas, path, box, Layer(paint), 1.0, 1.0))


@functools.lru_cache(maxsize=16)
def _cover_of_picture(part: PicturePart, width: float, height: float) -> np.ndarray:
    return _painted(width, height, lambda canvas: paint_picture(canvas, part, Box(0, 0, width, height), 1.0))
