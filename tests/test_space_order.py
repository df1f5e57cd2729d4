"""What one sees through is drawn from back to front, whatever lies nearer to the eye by its middle."""

import numpy as np
import pytest
from conftest import DEMO
from space_parts import rgb, scene, sheet

from avlet.document.editing.edits import replace
from avlet.document.parts import Camera, Place, SpacePart
from avlet.document.solids import Solidity, Stand
from avlet.paint.scene import Scene
from avlet.paint.space_bodies import stage_of
from avlet.solid.order import in_order, sorted_by_cover
from avlet.storage.package import open_template


def plate(name, colour, x, y, size=60.0, opacity=50.0, **changes):
    """A small sheet with its corner at x, y of the frame."""
    return sheet(name, colour, size, size, across=Place("frame", gap=x), down=Place("frame", gap=y), opacity=opacity, **changes)


def drawn_in(made, frame=30):
    """The colours of what is drawn in a frame, in the order that it is drawn in; red, green and blue by the first that is most."""
    space = next(one.part for one in made.rest.parts.values() if isinstance(one.part, SpacePart))
    stage = stage_of(made.pose(frame), space)
    return ["rgb"[int(np.argmax(body.front))] for _, body in in_order(stage, stage.bodies)]


GROUND = sheet("ground", "#FF2020", 480.0, 270.0, opacity=50.0)


@pytest.mark.parametrize("camera", [Camera(), Camera(round=40.0), Camera(round=-40.0, up=20.0), Camera(angle=70.0)])
@pytest.mark.parametrize(("x", "y"), [(2, 2), (400, 205), (210, 105)])
def test_a_plate_before_a_ground_is_drawn_over_it_wherever_it_lies(book, camera, x, y):
    """In a corner its middle is farther from the eye than that of the ground, and it is over it all the same; behind it is under it."""
    before = plate("plate", "#20FF20", x, y, stand=Stand(before=20.0))
    behind = plate("back", "#2020FF", x, y, stand=Stand(before=-20.0))
    for parts in ((GROUND, before, behind), (before, GROUND, behind), (behind, before, GROUND)):
        assert drawn_in(scene(book, *parts, camera=camera)) == ["b", "r", "g"]


def test_in_one_plane_the_later_lies_over_the_earlier(book):
    """As without a space, also where the earlier is farther away by its middle, or as deep."""
    small = plate("plate", "#20FF20", 2, 2)
    assert drawn_in(scene(book, GROUND, small)) == ["r", "g"] and drawn_in(scene(book, small, GROUND)) == ["g", "r"]


def test_what_is_whole_is_drawn_first_and_solid_bodies_by_their_sides(book):
    whole = plate("whole", "#20FF20", 2, 2, opacity=100.0, stand=Stand(before=-50.0))
    deep = plate("deep", "#2020FF", 100, 100, size=50.0, solid=Solidity(depth=40.0))
    over = plate("over", "#FF2020", 110, 110, size=30.0, stand=Stand(before=41.0))
    assert drawn_in(scene(book, over, deep, whole)) == ["g", "b", "r"]


@pytest.mark.parametrize(("before", "wanted"), [(30.0, ["r", "g"]), (-30.0, ["g", "r"])])
def test_a_plate_beside_a_leaning_ground_goes_by_the_grounds_plane(book, before, wanted):
    """The ground reaches through the plate's plane, and it is the ground's that says which of them is behind."""
    ground = sheet("ground", "#FF2020", 480.0, 200.0, opacity=50.0, stand=Stand(tilt=35.0))
    upright = plate("plate", "#20FF20", 390, 105, stand=Stand(before=before))
    assert drawn_in(scene(book, ground, upright)) == wanted == drawn_in(scene(book, upright, ground))


def test_what_covers_each_other_in_a_circle_is_drawn_all_the_same():
    """None is left out, none drawn twice: the farthest is first, and what it covers comes after what it leaves."""
    covers = np.zeros((4, 4), bool)
    covers[0, 1] = covers[1, 2] = covers[2, 0] = covers[2, 3] = True
    assert sorted_by_cover(covers, [-1.0, -5.0, -3.0, -9.0]) == [1, 2, 3, 0]


def test_what_reaches_behind_the_eye_may_cover_anything(book):
    """A sheet that runs from the ground to behind the camera."""
    ground, near = sheet("ground", "#FF2020", 480.0, 270.0, opacity=50.0), sheet("near", "#20FF20", 40.0, 3000.0, opacity=50.0)
    near = replace(near, stand=Stand(tilt=80.0, before=400.0))
    assert drawn_in(scene(book, near, ground)) == ["r", "g"]


def test_a_plate_that_fades_keeps_its_colour(book):
    """Shadow strap, whose ground shows nothing but shadows: while the plate fades, the shadow on the ground behind it is not on it."""
    opened = open_template(DEMO / "shadow-strap.avlet")
    made = Scene(opened.template, opened.book, {}, 60)
    plates = made.rest.parts["plate"].box
    x, y = round((plates.right - 30) / 2), round((plates.y + plates.h / 2) / 2)  # right of all words
    colours = [made.picture(frame, 960, 540)[y, x].astype(int) for frame in (16, 17, 30, 43)]
    assert made.pose(16).parts["plate"].opacity[0] < 1 == made.pose(30).parts["plate"].opacity[0]
    assert all(np.abs(rgb(one[None])[0] - rgb(colours[2][None])[0]).max() <= 6 for one in colours), colours


@pytest.mark.parametrize("camera", [Camera(), Camera(round=25.0), Camera(round=-30.0, up=15.0)])
@pytest.mark.parametrize("before", [-80.0, -40.0, -25.0, 0.0, 30.0])
def test_where_two_are_seen_through_both_are_there(book, camera, before):
    """A block behind a wall, flush with it, through it and before it: nowhere does one of them leave a hole in the other."""
    wall = sheet("wall", "#FF2020", 440.0, 240.0, opacity=50.0)
    block = plate("block", "#2020FF", 200, 95, size=80.0, solid=Solidity(depth=40.0), stand=Stand(before=before))
    for parts in ((wall, block), (block, wall)):
        picture = scene(book, *parts, camera=camera).picture(30, 480, 270)
        assert int(picture[135, 240, 3]) == pytest.approx(191, abs=3), "half of what half of the ground came through"
        assert picture[130:140, 235:245, 3].min() > 185


def test_flush_faces_go_as_listed_and_what_is_solid_comes_after_what_reaches_through_it(book):
    """The later of two whose faces lie in one plane lies over the other, as those do that are whole."""
    wall = sheet("wall", "#FF2020", 440.0, 240.0, opacity=50.0)
    flush, through = (
        plate("block", "#2020FF", 200, 95, size=80.0, solid=Solidity(depth=40.0), stand=Stand(before=by)) for by in (-40.0, -20.0)
    )
    assert drawn_in(scene(book, wall, flush)) == ["r", "b"] and drawn_in(scene(book, flush, wall)) == ["b", "r"]
    assert drawn_in(scene(book, wall, through)) == ["r", "b"] == drawn_in(scene(book, through, wall))
