"""What tests of spaces are made of: a sheet, a word, a small frame."""

import math

import numpy as np

from avlet.document.faults.checking import check
from avlet.document.looks.paints import Solid
from avlet.document.parts import Place, ShapePart, Sky, SpacePart, Sun, TextPart
from avlet.document.solids import Solidity
from avlet.document.template import Frame, Template
from avlet.document.time.moves import StaysToTheEnd
from avlet.paint.scene import Scene

SMALL = Frame(480, 270, "25/1")
MIDDLE = {"across": Place("frame", "middle", "middle"), "down": Place("frame", "middle", "middle")}
FLAT_LIGHT = {"sun": Sun(strength=0.0), "sky": Sky(strength=100.0)}
STAYS = {"way_out": StaysToTheEnd()}


def sheet(part_id="sheet", colour="#D9D5C8", width=700.0, height=500.0, **more):
    given = {"fill": Solid(colour), **MIDDLE, **more}
    return ShapePart(id=part_id, name=part_id, width=width, height=height, group="space", **given)


def word(text="TIDE", **more):
    given = {"size": 110.0, "fill": Solid("#C0485A"), "group": "space", "solid": Solidity(depth=20.0), **MIDDLE}
    return TextPart(id="word", name="Word", text=text, **{**given, **more})


def template(*parts, frame=SMALL, length=60, **space):
    made = Template(
        name="Space", frame=frame, length=length, way_in=20, way_out=0, parts=(*parts, SpacePart(id="space", name="Space", **space))
    )
    return check(made)


def scene(book, *parts, **space):
    return Scene(template(*parts, **space), book)


def rgb(picture):
    return picture[..., :3].astype(int)


def srgb(colour):
    return np.array([int(colour[n : n + 2], 16) for n in (1, 3, 5)]) / 255


def pinhole(camera, frame, points):
    """A pinhole camera of one's own: where the line from a point to the eye meets a plane before it, in px of the frame."""
    far = frame.height / 2 / math.tan(math.radians(camera.angle / 2))
    target = np.array([frame.width / 2 + camera.to_x, frame.height / 2 + camera.to_y, camera.to_z])
    a, b = math.radians(camera.round), math.radians(camera.up)
    back = np.array([math.sin(a) * math.cos(b), -math.sin(b), math.cos(a) * math.cos(b)])  # from what it looks at to the eye
    eye = target + back * far * camera.distance / 100
    right = np.cross(np.array([0.0, 1.0, 0.0]), back)
    right /= np.linalg.norm(right)
    down = np.cross(back, right)
    seen = points - eye
    away = -(seen @ back)
    return np.column_stack([frame.width / 2 + far * (seen @ right) / away, frame.height / 2 + far * (seen @ down) / away])
