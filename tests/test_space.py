"""Spaces: what stands where, and what is the same as without one."""

import math

import msgspec
import numpy as np
import pytest
import skia
from conftest import DEMO
from space_parts import FLAT_LIGHT, MIDDLE, SMALL, STAYS, pinhole, rgb, scene, sheet, srgb, template, word

from avlet.document.editing import grouping
from avlet.document.faults.checking import check
from avlet.document.looks.paints import Linear, Stop
from avlet.document.parts import Camera, GroupPart, PatternPart, RulePart, SpacePart, Sun
from avlet.document.solids import Solidity, Stand
from avlet.document.template import Template
from avlet.document.time.keys import Key, Keyed
from avlet.document.time.moves import READY_MOVES, Move
from avlet.errors import DocumentError
from avlet.layout.holding import hold
from avlet.media.drawing import Drawing, drawn_results
from avlet.motion.camera import camera_matrix, position, projected
from avlet.paint.scene import Scene
from avlet.paint.space_bodies import bodies_of
from avlet.review.measuring import measure
from avlet.storage.package import open_template

# The camera


@pytest.mark.parametrize("angle", [10.0, 34.0, 90.0])
def test_a_camera_at_rest_keeps_px(angle):
    points = np.array([(0, 0, 0), (480, 270, 0), (100, 50, 0)], float)
    assert np.allclose(projected(camera_matrix(Camera(angle=angle), SMALL), points), points[:, :2], atol=1e-9)


@pytest.mark.parametrize(
    "camera",
    [
        Camera(round=30),
        Camera(up=25),
        Camera(round=-70, up=40, distance=180),
        Camera(to_x=60, to_y=-30, to_z=50, round=10),
        Camera(angle=70, up=-60),
    ],
)
def test_corners_are_where_a_pinhole_camera_sees_them(camera):
    points = np.random.default_rng(3).uniform((-100, -100, -80), (580, 370, 120), (50, 3))
    assert np.abs(projected(camera_matrix(camera, SMALL), points) - pinhole(camera, SMALL, points)).max() < 0.1
    seen = camera_matrix(camera, SMALL) @ np.append(position(camera, SMALL), 1.0)
    assert abs(seen[3]) < 1e-9, "the eye is where nothing is before it"


def test_a_box_is_drawn_where_the_camera_sees_it(book):
    """The silhouette of a turned box against the hull of its eight projected corners."""
    camera = Camera(round=35, up=20)
    box = sheet("box", "#4080C0", 120.0, 80.0, solid=Solidity(depth=60.0))
    picture = scene(book, box, camera=camera, **FLAT_LIGHT).picture(30)
    corners = np.array([(240 + x, 135 + y, z) for x in (-60, 60) for y in (-40, 40) for z in (0, 60)], float)
    path = skia.Path()
    from scipy.spatial import ConvexHull

    flat = pinhole(camera, SMALL, corners)
    hull = flat[ConvexHull(flat).vertices]
    path.addPoly([skia.Point(*map(float, p)) for p in hull], True)
    wanted = np.zeros((270, 480, 4), np.uint8)
    from avlet.paint.painter import canvas_over

    canvas_over(wanted).getCanvas().drawPath(path, skia.Paint(AntiAlias=True, Color=0xFFFFFFFF))
    assert np.abs(picture[..., 3].astype(int) - wanted[..., 3]).mean() < 0.12
    assert (picture[..., 3] > 0).sum() == pytest.approx((wanted[..., 3] > 0).sum(), rel=0.02)


# Flat members


def flat_parts():
    shade = Linear(stops=(Stop(0, "#20435C"), Stop(100, "#6CC7B0")))
    return (
        sheet(width=400.0, height=200.0, corner=30.0), sheet("bar", "#20435C", 260.0, 90.0, fill=shade, turn=8.0),
        word(solid=None, size=70.0, opacity=80.0), RulePart(id="rule", name="Rule", group="space", length=200.0, width=5.0, **MIDDLE),
    )  # fmt: skip


def test_flat_members_paint_as_without_a_space(book):
    parts = flat_parts()
    inside = scene(book, *parts)
    plain = Template(name="Flat", frame=SMALL, length=60, way_in=20, way_out=0, parts=(*parts, GroupPart(id="space", name="Group")))
    for frame in (0, 30):
        one, other = inside.picture(frame).astype(int), Scene(plain, book).picture(frame).astype(int)
        assert np.abs(one - other).mean() < 1.0
    assert inside.picture(30)[135, 50].tolist() == Scene(plain, book).picture(30)[135, 50].tolist(), "colours are what they are called"


def test_the_demo_strap_in_a_space_is_the_same(book):
    strap = open_template(DEMO / "name-strap.avlet")
    bare = msgspec.structs.replace(strap.template, parts=tuple(msgspec.structs.replace(p, mattes=()) for p in strap.template.parts))
    inside, space = grouping.grouped(bare, [p.id for p in bare.parts], SpacePart)
    one, other = Scene(bare, strap.book).picture(62, 960, 540).astype(int), Scene(inside, strap.book).picture(62, 960, 540).astype(int)
    assert np.abs(one - other).mean() < 0.2 and isinstance(inside.part(space), SpacePart)


# Depth


def test_a_letter_half_through_a_sheet_shows_what_is_before_it(book):
    """What shows of a bar that is half through: its front as large as its nearness makes it, by the pinhole's rule."""
    bar = sheet("bar", "#C0485A", 100.0, 60.0, solid=Solidity(depth=80.0, sides="as the front"), stand=Stand(before=-40.0))
    picture = scene(book, sheet(), bar, **FLAT_LIGHT).picture(30)
    red = np.abs(rgb(picture) - srgb("#C0485A") * 255).max(axis=2) < 12
    far = SMALL.height / 2 / math.tan(math.radians(17))
    nearer = far / (far - 40)
    assert red.sum() == pytest.approx(100 * 60 * nearer**2, rel=0.03)
    behind = msgspec.structs.replace(bar, stand=Stand(before=-81.0))
    assert not (np.abs(rgb(scene(book, sheet(), behind, **FLAT_LIGHT).picture(30)) - srgb("#C0485A") * 255).max(axis=2) < 12).any()


def test_it_comes_through_letter_by_letter(book):
    move = msgspec.structs.replace(READY_MOVES["comes through"], frames=20)
    made = scene(book, sheet(), word(way_in=(move,), **STAYS))

    def red(frame):
        return (np.abs(rgb(made.picture(frame)) - srgb("#C0485A") * 255).max(axis=2) < 20).sum()

    assert red(0) == 0, "just behind the sheet"
    assert 0 < red(9) < red(30) and red(30) == red(45)
    assert made.pose(0).parts["word"].stand.lift.tolist() == [-21.0] * 4, "its depth, and a hair"
    assert made.pose(9).parts["word"].stand.lift.argmax() in (0, 1)


def test_moves_in_depth_are_depth_only_in_a_space(book):
    move = Move(z=-200.0, turn_y=40.0, frames=20)
    inside = scene(book, word(way_in=(move,), **STAYS))
    posed = inside.pose(0).parts["word"]
    assert (
        posed.stand.lift.tolist() == [-200.0]
        and posed.stand.tilts.tolist() == [[0.0, 40.0]]
        and posed.matrix[0, 2].tolist() == [0.0, 0.0, 1.0]
    )
    outside = Scene(check(Template(frame=SMALL, parts=(msgspec.structs.replace(word(way_in=(move,)), group=None),))), book)
    assert outside.pose(0).parts["word"].stand.lift is None and outside.pose(0).parts["word"].matrix[0, 2, 0] != 0
    assert outside.pose(60).parts["word"].still


def test_opacity_is_laid_over_what_is_behind(book):
    """The alpha of one thing over another, nearest last: c = Σ, whatever order they are listed in."""
    front = sheet("front", "#FF0000", 200.0, 150.0, opacity=50.0, stand=Stand(before=40.0))
    back = sheet("back", "#0000FF", 200.0, 150.0, opacity=50.0)
    for parts in ((front, back), (back, front)):
        pixel = scene(book, *parts, **FLAT_LIGHT).picture(30)[135, 240].astype(int)
        assert np.abs(pixel - [127, 0, 64, 191]).max() <= 2


def test_keys_take_depth_and_colour_and_make_no_new_mesh(book):
    keys = (Keyed("solid.depth", (Key(0, 40.0), Key(20, 0.0))), Keyed("fill.colour", (Key(0, "#FFFFFF"), Key(20, "#C0485A"))))
    made = scene(book, word(keys=keys, **STAYS))
    bodies = {frame: list(bodies_of(made.pose(frame).parts["word"], 1.0)) for frame in (0, 10, 15)}
    assert [bodies[frame][0].depth for frame in (0, 10, 15)] == [40.0, pytest.approx(20.0, abs=0.5), pytest.approx(6.25, abs=4)]
    assert bodies[0][0].front == (1.0, 1.0, 1.0) and bodies[10][0].front != bodies[0][0].front
    assert bodies[0][0].mesh is bodies[10][0].mesh


def test_the_camera_is_keyed(book):
    made = template(sheet(width=100.0, height=80.0), camera=Camera())
    space = msgspec.structs.replace(made.part("space"), keys=(Keyed("camera.round", (Key(0, 0.0), Key(40, 60.0))),))
    turning = Scene(check(msgspec.structs.replace(made, parts=(made.parts[0], space))), book)
    wide = [turning.pose(frame).outline_box("space").w for frame in (0, 20, 40)]
    assert wide[0] == pytest.approx(100.0) and wide[0] > wide[1] > wide[2] > 40


def test_patterns_stand_in_a_space(book):
    pattern = PatternPart(id="p", name="Bars", group="space", width=20.0, height=60.0, step_x=40.0, solid=Solidity(depth=30.0), **MIDDLE)
    made = scene(book, sheet(), pattern)
    count = len(made.rest.parts["p"].body.copies.centres)
    assert len(list(bodies_of(made.pose(30).parts["p"], 1.0))) == count > 1
    assert not np.array_equal(made.picture(30), scene(book, sheet()).picture(30))


def test_what_stands_still_is_one_picture(book):
    from avlet.paint.scene import first_alike

    made = scene(book, sheet(), word(way_in=(READY_MOVES["fades"],), **STAYS))
    alike = first_alike(made)
    assert alike[25:] == [alike[25]] * len(alike[25:]) and len(set(alike[:20])) > 15


def test_the_same_picture_in_a_worker(book):
    """One engine: what a worker process paints is byte for byte what is painted here."""
    made = scene(
        book, sheet(), word(solid=Solidity(depth=20.0, edging="rounded", edge=2.0, surface="gloss")), camera=Camera(round=20, up=10)
    )
    (_, there), *_ = drawn_results(Drawing.of(made), [30], _bytes, workers=1)
    assert there == made.picture(30).tobytes()


def _bytes(painter, frame):
    return painter.paint(frame).tobytes()


# Editing


def test_depths_are_measured(book):
    made = scene(book, sheet(), word(stand=Stand(before=15.0)), camera=Camera(round=20))
    facts = {part["id"]: part for part in measure(made, 30)["parts"]}
    assert facts["word"]["depth"]["depth"] == 20.0 and (facts["word"]["depth"]["back"], facts["word"]["depth"]["front"]) == (15.0, 35.0)
    assert facts["sheet"]["depth"]["front"] == 0.0 and "depth" not in facts["space"]
    left, top, width, height = facts["word"]["depth"]["seen"]
    ink = made.rest.parts["word"].ink
    assert 0 < left < left + width < 480 and height > ink.h and width < ink.w * 1.2 and top > 0


def test_what_is_behind_a_sheet_is_not_there(book):
    """For checks and picking: what comes through a sheet is not seen before it does, unless one looks from the side."""
    move = msgspec.structs.replace(READY_MOVES["comes through"], frames=20)
    made = scene(book, sheet(), word(way_in=(move,), **STAYS))
    assert made.pose(0).visible_box("word") is None and made.pose(30).visible_box("word") is not None
    small = scene(book, sheet(width=60.0), word(way_in=(move,), **STAYS))
    assert small.pose(0).visible_box("word") is not None, "it sticks out"
    turned = scene(book, sheet(stand=Stand(swing=20.0)), word(way_in=(move,), **STAYS))
    assert turned.pose(0).visible_box("word") is not None
    clear = scene(book, sheet(opacity=50.0), word(way_in=(move,), **STAYS))
    assert clear.pose(0).visible_box("word") is not None


def test_parts_are_put_in_a_space():
    parts = (msgspec.structs.replace(sheet(), group=None), msgspec.structs.replace(word(solid=None), group=None))
    flat = Template(frame=SMALL, parts=parts)
    made, space = grouping.spaced(flat, ["sheet", "word"])
    assert [p.kind for p in made.parts] == ["shape", "text", "space"] and made.part("word").solid.depth == 15.0
    assert made.part("sheet").solid is None and hold(made) == made
    assert grouping.stands_in(made, "word").id == space and grouping.stands_in(made, space) is None
    for chosen in (["word"], [space]):
        with pytest.raises(DocumentError, match="stands in a space already"):
            grouping.spaced(made, chosen)
    again = grouping.taken_apart(made, space, dict.fromkeys(("sheet", "word", space), (0.0, 0.0, 480.0, 270.0)))
    assert [p.group for p in again.parts] == [None, None] and again.part("word").solid is not None


def test_a_template_with_a_space_is_saved_and_opened(book, tmp_path):
    from avlet.storage.package import save_template

    made = template(sheet(stand=Stand(only_shadows=True)), word(), camera=Camera(round=12.5), sun=Sun(soft=3.0))
    save_template(made, tmp_path / "a.avlet", book)
    assert open_template(tmp_path / "a.avlet").template == made
