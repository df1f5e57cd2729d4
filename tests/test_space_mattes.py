"""Mattes in and out of a space, by outline and by coverage; outlines of members as they are seen."""

import math

import msgspec
import numpy as np
import pytest
import skia
from scipy.ndimage import binary_dilation
from space_parts import FLAT_LIGHT, MIDDLE, SMALL, pinhole, rgb, scene, sheet, srgb, word

from avlet.document.looks.forms import Ellipse
from avlet.document.looks.paints import Linear, Solid, Stop
from avlet.document.parts import BallPart, Camera, GroupPart, LampPart, Matte, Place, ShapePart, SpacePart
from avlet.document.solids import Solidity, Stand
from avlet.document.template import Template
from avlet.document.time.moves import Move
from avlet.motion.camera import position
from avlet.paint.painter import canvas_over
from avlet.paint.posed_outlines import posed_outline
from avlet.paint.scene import Scene


def disc(diameter=120.0, **more):
    return ShapePart(
        id="disc", name="Disc", width=diameter, height=diameter, form=Ellipse(), **{"fill": Solid("#FFFFFF"), **MIDDLE, **more}
    )


def in_a_space(book, *parts, after=(), **space):
    """Parts of which those without a group lie behind a space, and others before it."""
    made = Template(
        name="Mattes", frame=SMALL, length=60, way_in=20, way_out=0, parts=(*parts, SpacePart(id="space", name="Space", **space), *after)
    )
    return Scene(made, book)


def disc_mask(diameter):
    v, u = np.mgrid[0:270, 0:480] + 0.5
    return np.hypot(u - 240, v - 135) <= diameter / 2


def near(mask):
    return binary_dilation(mask, iterations=2)


@pytest.mark.parametrize("by", ["outline", "coverage"])
@pytest.mark.parametrize("hides", [False, True])
def test_a_member_shows_inside_what_is_outside(book, by, hides):
    """Through a disc that lies behind the space: what shows is the whole picture times the disc."""
    space = {"camera": Camera(round=25, up=10), **FLAT_LIGHT}
    whole = in_a_space(book, disc(shown=False), sheet(width=300.0, height=200.0), word(), **space).picture(30).astype(float)
    plate = sheet(width=300.0, height=200.0, mattes=(Matte("disc", by=by, hides=hides),))
    letters = word(mattes=(Matte("disc", by=by, hides=hides),))
    made = in_a_space(book, disc(shown=False), plate, letters, **space).picture(30).astype(float)
    inside = disc_mask(120.0) != hides
    border = near(inside) & near(~inside)
    apart = np.abs(made - whole)[inside & ~border].max(axis=1)
    assert apart.max() <= 5 and (apart > 1).sum() <= 4, "where an edge is as faint as one that nobody sees"
    assert made[~inside & ~border].max() == 0
    assert whole[~inside & ~border].max() > 0


@pytest.mark.parametrize("by", ["outline", "coverage"])
def test_one_member_alone_is_masked(book, by):
    """The word shows inside the disc; the sheet behind it is whole, and takes the word's whole shadow."""
    made = in_a_space(book, disc(60.0, shown=False), sheet(), word(mattes=(Matte("disc", by=by),)), **FLAT_LIGHT).picture(30)
    free = in_a_space(book, disc(60.0, shown=False), sheet(), word(), **FLAT_LIGHT).picture(30)
    inside = disc_mask(60.0)
    border = near(inside) & near(~inside)
    assert (made[..., 3] == 255).all()
    assert np.abs(rgb(made) - rgb(free))[inside & ~border].max() <= 1
    cloth = (srgb("#D9D5C8") * 255).round()
    assert np.abs(rgb(made)[~inside & ~border] - cloth).max() <= 1


def test_coverage_lets_through_as_much_as_there_is(book):
    """A gradient from nothing to all is a matte by degrees."""
    fade = Linear(angle=0.0, stops=(Stop(0, "#FFFFFF00"), Stop(100, "#FFFFFFFF")))
    band = ShapePart(id="band", name="Band", width=480, height=270, fill=fade, shown=False, **MIDDLE)
    plate = sheet(colour="#808080", mattes=(Matte("band", by="coverage"),))
    made = in_a_space(book, band, plate, **FLAT_LIGHT).picture(30)
    row = made[135, ::40, 3].astype(float)
    assert np.all(np.diff(row) > 10) and row[0] < 12 and row[-1] > 220
    half = in_a_space(book, disc(opacity=50.0, shown=False), sheet(mattes=(Matte("disc", by="coverage"),)), **FLAT_LIGHT).picture(30)
    assert half[135, 240, 3] == pytest.approx(128, abs=2)
    whole = in_a_space(book, disc(opacity=50.0, shown=False), sheet(mattes=(Matte("disc"),)), **FLAT_LIGHT).picture(30)
    assert whole[135, 240, 3] == 255, "by outline, whatever its opacity"


def test_a_group_in_a_space_is_masked_with_its_members(book):
    both = GroupPart(id="both", name="Both", group="space", mattes=(Matte("disc"),))
    parts = sheet(width=300.0), word()
    made = in_a_space(book, disc(shown=False), *(msgspec.structs.replace(p, group="both") for p in parts), both, **FLAT_LIGHT).picture(30)
    inside = disc_mask(120.0)
    border = near(inside) & near(~inside)
    assert made[~inside & ~border].max() == 0 and made[inside & ~border, 3].min() == 255


@pytest.mark.parametrize("by", ["outline", "coverage"])
def test_what_is_outside_shows_inside_a_turned_member(book, by):
    """A plate over the space, cut by a box that stands turned in it: by the hull of the box's eight projected corners."""
    from scipy.spatial import ConvexHull

    camera = Camera(round=35, up=20)
    box = sheet("box", "#4080C0", 120.0, 80.0, solid=Solidity(depth=60.0))
    cut = ShapePart(id="cut", name="Cut", width=480, height=270, fill=Solid("#F4B23E"), mattes=(Matte("box", by=by),), **MIDDLE)
    made = in_a_space(book, box, after=(cut,), camera=camera, **FLAT_LIGHT)
    corners = np.array([(240 + x, 135 + y, z) for x in (-60, 60) for y in (-40, 40) for z in (0, 60)], float)
    flat = pinhole(camera, SMALL, corners)
    path = skia.Path()
    path.addPoly([skia.Point(*map(float, p)) for p in flat[ConvexHull(flat).vertices]], True)
    wanted = np.zeros((270, 480, 4), np.uint8)
    canvas_over(wanted).getCanvas().drawPath(path, skia.Paint(Color=0xFFFFFFFF))
    inside = wanted[..., 3] > 0
    picture = made.picture(30)
    marigold = np.abs(rgb(picture) - srgb("#F4B23E") * 255).max(axis=2) < 3
    assert inside.sum() > 5000
    assert not (marigold & ~near(inside)).any() and not (inside & ~near(marigold)).any()
    area = posed_outline(made.pose(30), "box").computeTightBounds()
    assert abs(area.left() - flat[:, 0].min()) < 0.1 and abs(area.bottom() - flat[:, 1].max()) < 0.1


def test_a_balls_outline_is_an_ellipse(book):
    camera = Camera(angle=60.0, to_x=100.0)
    ball = BallPart(id="ball", name="Ball", diameter=100.0, fill=Solid("#4080C0"), group="space", **MIDDLE)
    made = in_a_space(book, ball, camera=camera, **FLAT_LIGHT)
    far = 135 / math.tan(math.radians(30))
    middle = np.array([240.0, 135.0, 50.0]) - position(camera, SMALL)
    along, away = middle[0], -middle[2]
    turn, reach = math.atan2(along, away), math.asin(50 / math.hypot(along, away))
    left, right = (240 + far * math.tan(turn + way * reach) for way in (-1, 1))
    area = posed_outline(made.pose(30), "ball").computeTightBounds()
    assert area.left() == pytest.approx(left, abs=0.5) and area.right() == pytest.approx(right, abs=0.5)


def test_letters_that_move_apart_are_a_matte_as_they_stand(book):
    """A plate inside a word whose letters swing: the matte moves with them."""
    move = Move(turn_y=80.0, by="character", overlap=0.0, frames=20)
    cut = ShapePart(id="cut", name="Cut", width=480, height=270, fill=Solid("#F4B23E"), mattes=(Matte("word"),), **MIDDLE)
    made = in_a_space(book, word(way_in=(move,)), after=(cut,), **FLAT_LIGHT)
    for frame in (4, 11, 30):
        picture = made.picture(frame)
        alone = in_a_space(book, word(way_in=(move,)), **FLAT_LIGHT).picture(frame)
        there, cut_out = alone[..., 3] > 127, np.abs(rgb(picture) - srgb("#F4B23E") * 255).max(axis=2) < 3
        assert cut_out.sum() > 500
        assert not (cut_out & ~near(there)).any() and not (there & ~near(cut_out)).any()


def test_a_flat_member_at_rest_is_a_matte_as_without_a_space(book):
    cut = ShapePart(id="cut", name="Cut", width=480, height=270, fill=Solid("#F4B23E"), mattes=(Matte("word"),), **MIDDLE)
    made = in_a_space(book, word(solid=None), after=(cut,), **FLAT_LIGHT).picture(30)
    flat = Template(frame=SMALL, length=60, way_in=20, way_out=0, parts=(word(solid=None, group=None), cut))
    assert np.abs(rgb(made) - rgb(Scene(flat, book).picture(30))).mean() < 0.5


def test_the_whole_space_shows_inside_something(book):
    made = in_a_space(book, disc(shown=False), sheet(), word(), mattes=(Matte("disc"),)).picture(30)
    inside = disc_mask(120.0)
    border = near(inside) & near(~inside)
    assert made[~inside & ~border].max() == 0 and made[inside & ~border, 3].min() == 255


def test_members_behind_the_camera_are_no_matte(book):
    cut = ShapePart(id="cut", name="Cut", width=480, height=270, fill=Solid("#F4B23E"), mattes=(Matte("box"),), **MIDDLE)
    box = sheet("box", "#4080C0", 120.0, 80.0, stand=Stand(before=5_000.0), solid=Solidity(depth=10.0))
    assert in_a_space(book, box, after=(cut,), **FLAT_LIGHT).picture(30).max() == 0


def test_a_masked_member_is_the_same_at_every_size(book):
    """The stage draws smaller than the film: the mask lies at the same place."""
    made = in_a_space(book, disc(shown=False), sheet(mattes=(Matte("disc"),)), **FLAT_LIGHT)
    small, large = made.picture(30, 240, 135), made.picture(30)
    halved = large.reshape(135, 2, 240, 2, 4).mean(axis=(1, 3))
    assert np.abs(small - halved).mean() < 1.0
    assert scene(book, sheet()).picture(30, 240, 135)[..., 3].min() == 255


def test_the_outline_of_a_member_does_not_hang_on_what_is_seen_of_it(book):
    """As without a space: hidden or clear, it is a matte all the same; a lamp, which is never seen, is none."""
    cut = ShapePart(id="cut", name="Cut", width=480, height=270, fill=Solid("#F4B23E"), mattes=(Matte("box"),), **MIDDLE)
    pictures = []
    for more in ({"shown": False}, {"opacity": 0.0}):
        box = sheet("box", "#4080C0", 120.0, 80.0, solid=Solidity(depth=60.0), **more)
        pictures.append(in_a_space(book, box, after=(cut,), camera=Camera(round=35), **FLAT_LIGHT).picture(30))
    assert (pictures[0] == pictures[1]).all() and (pictures[0][..., 3] > 0).sum() > 5_000
    lamp = LampPart(id="box", name="Lamp", group="space", **MIDDLE)
    assert in_a_space(book, lamp, after=(cut,), **FLAT_LIGHT).picture(30).max() == 0


def test_a_whole_space_is_one_outline(book):
    """Something outside shows inside all that stands in a space, groups and hidden members included, and not inside its lamps."""
    camera = Camera(round=20)
    inner = GroupPart(id="inner", name="In", group="space")
    balls = [
        BallPart(id=f"b{n}", name="B", diameter=60.0, group=group, across=Place("frame", "middle", "middle", x), down=MIDDLE["down"])
        for n, (x, group) in enumerate(((-120.0, "space"), (0.0, "inner"), (120.0, "inner")))
    ]
    lamp = LampPart(id="lamp", name="Lamp", group="space", across=Place(gap=20.0), down=Place(gap=20.0))
    cut = ShapePart(id="cut", name="Cut", width=480, height=270, fill=Solid("#F4B23E"), mattes=(Matte("space"),), **MIDDLE)
    made = in_a_space(book, *balls, lamp, inner, after=(cut,), camera=camera, **FLAT_LIGHT)
    alone = in_a_space(book, *balls, lamp, inner, camera=camera, **FLAT_LIGHT).picture(30)[..., 3] > 127
    picture = made.picture(30)
    marigold = np.abs(rgb(picture) - srgb("#F4B23E") * 255).max(axis=2) < 3
    assert not (marigold & ~near(alone)).any() and not (alone & ~near(marigold)).any() and marigold.sum() > 5_000


def test_a_member_shows_inside_its_own_matte_and_its_groups(book):
    """A half by the group's matte, the other half by its own: a quarter is left."""
    left = ShapePart(id="left", name="Left", width=240, height=270, fill=Solid("#FFFFFF"), shown=False, across=Place(), down=Place())
    upper = ShapePart(id="upper", name="Upper", width=480, height=135, fill=Solid("#FFFFFF"), shown=False, across=Place(), down=Place())
    both = GroupPart(id="both", name="Both", group="space", mattes=(Matte("left"),))
    plate = msgspec.structs.replace(sheet(mattes=(Matte("upper"),)), group="both")
    there = in_a_space(book, left, upper, plate, both, **FLAT_LIGHT).picture(30)[..., 3]
    assert there[:134, :239].min() == 255 and there[136:].max() == 0 and there[:, 241:].max() == 0
