"""What stands in a space, as bodies in light: meshes of outlines, their colours, their places."""

import dataclasses
import functools
import hashlib
import math
import weakref
from collections import OrderedDict
from collections.abc import Callable, Iterator

import numpy as np
import skia

from avlet.arrays import Floats
from avlet.document.looks.colours import channels, mixed
from avlet.document.looks.paints import Paint, Solid
from avlet.document.parts import BallPart, LampPart, PaintedPart, PatternPart, PicturePart, SpacePart
from avlet.document.solids import Solidity
from avlet.document.time.moves import Unit
from avlet.geometry import Box
from avlet.layout.bodies.body import Body as Made
from avlet.layout.bodies.numbers import Numbers
from avlet.layout.bodies.outline import Ball, Outline, Picture
from avlet.layout.bodies.repeated import Repeated
from avlet.layout.bodies.rolling_list import PageOfList
from avlet.layout.bodies.words import Words
from avlet.light import to_linear
from avlet.motion.camera import camera_matrix, position
from avlet.motion.posed import Pose
from avlet.motion.posed_part import PosedPart
from avlet.motion.stands import depth_of, form_matrices, in_depth, lifted, unit_matrices
from avlet.paint.contours import FINE, TOLERANCE, contours_of
from avlet.paint.layers import Layer, draw_layer, fills_of
from avlet.paint.outlines import copies_in, copy_matrix, copy_path, filled_pieces, part_path, turning_pieces, unit_paths
from avlet.paint.pictures import paint_picture
from avlet.solid.balls import ball_mesh
from avlet.solid.bodies import Body, Lamp, Light, Linear, Stage, Texture, View, white_of
from avlet.solid.meshes import Edging, Mesh, mesh_of
from avlet.text.setting import Setting

_SHINE = {"matt": (0.0, 1.0), "satin": (0.12, 24.0), "gloss": (0.45, 90.0)}
"""How much of the sun a surface mirrors, and how sharply."""
_DARKER = 0.45
"""What is left of the front's light on sides that are darker."""
_MOST_MESHES, _COVER = 512, 1024
_COARSEST = 1 / 16
"""px of the picture to the px of the frame below which balls are made no coarser."""
_unit_meshes: "weakref.WeakKeyDictionary[Setting, dict[tuple[object, ...], list[Mesh]]]" = weakref.WeakKeyDictionary()
_form_meshes: "OrderedDict[bytes, Mesh]" = OrderedDict()


def stage_of(pose: Pose, space: SpacePart, only: str | None = None, scale: float = 1.0) -> Stage:
    """All that a space's picture follows from, but for its masks; with ``only`` of one member, whether or not that is shown.

    ``scale`` is px of the picture to the px of the frame, for what is made of facets.
    """
    standing = list(pose.standing_in(space.id)) if only is None else list(_alone(pose, only))
    bodies = [_masked(body, where, posed) for where, posed, opacity in standing for body in bodies_of(posed, opacity, scale)]
    view = View(camera_matrix(space.camera, pose.shape), position(space.camera, pose.shape))
    return Stage(tuple(bodies), light_of(pose, space), view)


def _alone(pose: Pose, part_id: str) -> Iterator[tuple[Pose, PosedPart, float]]:
    if pose.inner(part_id) is None:
        yield pose, pose.parts[part_id], 1.0
    else:
        yield from pose.standing_in(part_id)


def _masked(body: Body, where: Pose, posed: PosedPart) -> Body:
    """A body with the name of what it is seen through, if that is anything."""
    return dataclasses.replace(body, mask=posed.rest.part.id) if any(masking(where, posed)) else body


def masking(pose: Pose, posed: PosedPart) -> Iterator[PosedPart]:
    """A member and the groups that it is in within its space, as far as they have mattes."""
    at: PosedPart | None = posed
    while at is not None and not at.rest.part.has_depth:
        if pose.mattes_of(at):
            yield at
        group = at.rest.part.group
        at = pose.parts.get(group) if group is not None else None


def light_of(pose: Pose, space: SpacePart) -> Light:
    """The light in a space. What is white in it is as designed, so that a sun that comes up makes it lighter."""
    made = []
    for _, posed, opacity in pose.lamps_in(space.id):
        lamp = posed.rest.part
        assert isinstance(lamp, LampPart)
        where = unit_matrices(posed)[0] @ np.array([*posed.rest.box.middle, lamp.before, 1.0])
        x, y, z = (where[:3] / where[3]).tolist()
        light = _times(linear(lamp.colour), lamp.strength / 100 * opacity * posed.most_opacity)
        if max(light) > 0:
            made.append(Lamp((x, y, z), light, lamp.reach_of_light, lamp.soft))
    sky, sun, to_sun = _sky_and_sun(space)
    return Light(sky, sun, to_sun, space.sun.soft, tuple(made), _white(pose, space))


def _sky_and_sun(space: SpacePart) -> tuple[Linear, Linear, tuple[float, float, float]]:
    a, b = math.radians(space.sun.round), math.radians(space.sun.up)
    to_sun = (math.sin(a) * math.cos(b), -math.sin(b), math.cos(a) * math.cos(b))
    return _times(linear(space.sky.colour), space.sky.strength / 100), _times(linear(space.sun.colour), space.sun.strength / 100), to_sun


def _white(pose: Pose, space: SpacePart) -> Linear:
    """The light in which colours are what they are called: that of the space and its lamps as they are designed."""
    designed = pose.designed[space.id].part if space.id in pose.designed else space
    sky, sun, to_sun = _sky_and_sun(designed if isinstance(designed, SpacePart) else space)
    inside = [i for i in pose.designed if (there := pose.space_of(i)) is not None and there.id == space.id] if pose.designed else []
    lamps = [part for i in inside if isinstance(part := pose.designed[i].part, LampPart) and part.shown]
    return white_of(sky, sun, to_sun, [_times(linear(lamp.colour), lamp.strength / 100) for lamp in lamps])


def bodies_of(posed: PosedPart, opacity: float, scale: float = 1.0) -> Iterator[Body]:
    """The bodies of one member: one for each unit and each of its fills; none of what is not drawn in depth."""
    part, solid = posed.rest.part, _SOLID.get(type(posed.rest.body))
    if isinstance(part, PaintedPart) and solid is not None:
        for layer in fills_of(part):
            yield from solid(posed, part, layer, opacity, scale)


def _of_units(posed: PosedPart, part: PaintedPart, layer: Layer, opacity: float, scale: float) -> Iterator[Body]:
    setting, corner = posed.rest.body.setting, posed.rest.box
    assert setting is not None
    matrices = unit_matrices(posed)
    there = np.eye(4)
    there[:2, 3] = corner.x, corner.y
    cover = _cover(layer.paint, posed.rest.body.spread)
    for index, mesh in enumerate(unit_meshes(setting, posed.unit, layer.accents, part.solid)):
        shown = opacity * part.opacity / 100 * float(posed.opacity[index])
        if shown > 0 and not mesh.empty:
            yield _body(posed, part, layer, mesh, matrices[index] @ there, shown, index, cover)
    for index, pieces in turning_pieces(setting, posed.unit, layer.accents).items():
        for path, share in pieces:
            shown = opacity * part.opacity / 100 * float(posed.opacity[index]) * share
            if shown > 0 and not (mesh := form_mesh(path, part.solid)).empty:
                yield _body(posed, part, layer, mesh, matrices[index] @ there, shown, index, cover)


def _of_ball(posed: PosedPart, part: PaintedPart, layer: Layer, opacity: float, scale: float) -> Iterator[Body]:
    assert isinstance(part, BallPart)
    fine = 2.0 ** math.floor(math.log2(max(scale, _COARSEST)))
    shown, there = opacity * part.opacity / 100 * float(posed.opacity[0]), np.eye(4)
    there[:2, 3] = posed.rest.box.x, posed.rest.box.y
    if part.diameter > 0 and shown > 0:
        cover = _cover(layer.paint, Box(0, 0, part.diameter, part.diameter))
        yield _body(posed, part, layer, ball_mesh(part.diameter, fine), unit_matrices(posed)[0] @ there, shown, 0, cover)


def _of_form(posed: PosedPart, part: PaintedPart, layer: Layer, opacity: float, scale: float) -> Iterator[Body]:
    box = posed.form_box
    shown = opacity * part.opacity / 100 * float(posed.opacity[0])
    if box.empty or shown <= 0:
        return
    matrix = form_matrices(posed)[0]
    if isinstance(part, PicturePart):
        cover = Texture(_cover_of_picture(part, box.w, box.h), (box.x, box.y, box.right, box.bottom))
        yield _body(posed, part, layer, form_mesh(part_path(posed), part.solid), matrix, shown, 0, cover)
        return
    for path, paint in filled_pieces(posed):
        if not (mesh := form_mesh(path, part.solid)).empty:
            own = layer if paint is None else layer._replace(paint=paint)
            yield _body(posed, part, own, mesh, matrix, shown, 0, _cover(own.paint, box))


def _of_copies(posed: PosedPart, part: PaintedPart, layer: Layer, opacity: float, scale: float) -> Iterator[Body]:
    copies = copies_in(posed).units
    assert isinstance(part, PatternPart)
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


_Solid = Callable[[PosedPart, PaintedPart, Layer, float, float], Iterator[Body]]
_SOLID: dict[type[Made], _Solid] = {
    Words: _of_units, Numbers: _of_units, PageOfList: _of_units, Repeated: _of_copies, Outline: _of_form, Picture: _of_form, Ball: _of_ball,
}  # fmt: skip
"""By what a part is made of: what makes solid bodies of it. Lists of credits have none."""


def _body(
    posed: PosedPart, part: PaintedPart, layer: Layer, mesh: Mesh, matrix: Floats, opacity: float, index: int, cover: Texture | None
) -> Body:
    solid, stand = part.solid, part.stand
    colour = layer.paint.colour if isinstance(layer.paint, Solid) else "#FFFFFF"
    front = linear(colour)
    if posed.tint is not None:
        share = float(posed.tint.share[index])
        front = _mixed(front, linear(posed.tint.colour), share)
    shine, sharp = _SHINE[part.shines]
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
        kept[key] = [
            mesh_of(contours_of(path, FINE if flat else TOLERANCE), edging, width, flat) for path in unit_paths(setting, unit, accents)
        ]
    return kept[key]


def form_mesh(path: skia.Path, solid: Solidity | None) -> Mesh:
    """The mesh of a shape's outline in px of the frame."""
    edging: Edging = solid.edging if solid is not None else "square"
    width = solid.edge if solid is not None and solid.edging != "square" else 0.0
    flat = solid is None or solid.depth <= 0
    key = hashlib.blake2b(bytes(path.serialize()) + repr((edging, width, flat)).encode(), digest_size=16).digest()
    if key not in _form_meshes:
        _form_meshes[key] = mesh_of(contours_of(path, FINE if flat else TOLERANCE), edging, width, flat)
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
