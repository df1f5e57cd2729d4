"""How spaces are drawn: the same picture by every way, a context that is lost, cameras and outlines in odd places."""

import itertools
import math

import msgspec
import numpy as np
import pytest
import trimesh
from space_parts import MIDDLE, rgb, scene, sheet, srgb, word

from avlet.document.looks.paints import Solid
from avlet.document.parts import BallPart, Camera, CounterPart, LampPart, Place, Sun
from avlet.document.solids import Solidity, Stand
from avlet.document.template import MotionBlur
from avlet.document.time.keys import Key, Keyed
from avlet.document.time.moves import READY_MOVES
from avlet.paint import spaces
from avlet.paint.painter import canvas_over, new_pixels, paint_pose
from avlet.paint.scene import Scene
from avlet.review.measuring import measure
from avlet.solid import drawer, drawing, shadow_maps
from avlet.solid.meshes import mesh_of

BALL = BallPart(
    id="ball", name="Ball", diameter=50.0, group="space", across=Place("frame", "middle", "middle", 150.0), stand=Stand(before=3.0)
)
LAMP = LampPart(id="lamp", name="Lamp", group="space", across=Place("frame", "middle", "middle", -50.0), before=80.0)


# One picture, however it is drawn


@pytest.mark.parametrize("lit", ["by a lamp", "by the sun", "by the sky"])
@pytest.mark.parametrize("frame", [4, 12, 30])
def test_what_is_drawn_is_the_same_as_all_of_it(book, frame, lit, monkeypatch):
    """Only what differs from a plain sheet is drawn: the same picture, but for rounding, as drawing every px."""
    move = msgspec.structs.replace(READY_MOVES["comes through"], frames=20)
    parts = sheet(width=480.0, height=270.0), word(way_in=(move,), size=60.0), BALL, *([LAMP] if lit == "by a lamp" else [])
    light = {"sun": Sun(strength=0.0)} if lit == "by the sky" else {}
    part, calls = scene(book, *parts, **light).picture(frame), []
    spaces._pictures.clear()
    monkeypatch.setattr(drawer, "focus", lambda *given: calls.append(given))
    monkeypatch.setattr(drawer, "shadows_on", lambda *_: None)
    whole = scene(book, *parts, **light).picture(frame)
    assert calls and np.abs(part.astype(int) - whole).max() <= (3 if lit == "by a lamp" else 2), (
        "light that grazes a sheet far away is told to some levels"
    )
    assert (part != part[0, 0]).any()


def test_a_plain_sheet_is_not_drawn_px_by_px(book, monkeypatch):
    """The regions that are drawn cover what stands there and its shadow, and little more."""
    drawn = []
    piece = drawer.Drawer._drawn
    monkeypatch.setattr(
        drawer.Drawer, "_drawn", lambda self, stage, listed, to_px, area: (drawn.append(area), piece(self, stage, listed, to_px, area))[1]
    )
    scene(book, sheet(width=480.0, height=270.0), word(text="I", size=40.0)).picture(30)
    assert drawn and sum(w * h for _, _, w, h in drawn) < 0.2 * 480 * 270
    drawn.clear()
    turned = scene(book, sheet(width=900.0, height=900.0, stand=Stand(swing=5.0)), word(text="I", size=40.0))
    turned.picture(30)
    assert drawn, "a sheet that is turned is as plain"


def test_motion_blur_is_the_mean_of_true_moments(book):
    """A camera that goes round under an open shutter, against many sharp pictures between two frames."""
    keys = (Keyed("camera.round", (Key(0, 0.0, to_next="straight"), Key(50, 50.0))),)
    sharp = scene(book, sheet(width=300.0, height=200.0), word(), keys=keys)
    blurred = Scene(msgspec.structs.replace(sharp.template, motion_blur=MotionBlur(360.0)), book).picture(25).astype(float)
    moments = [_painted(sharp.pose(25 + (n + 0.5) / 40 - 0.5)) for n in range(40)]
    mean = np.mean(moments, axis=0)
    assert np.abs(blurred - mean).mean() < 1.0 and np.abs(blurred - sharp.picture(25)).max() > 20


def _painted(pose):
    pixels = new_pixels(480, 270)
    paint_pose(canvas_over(pixels).getCanvas(), pose)
    return pixels.astype(float)


def test_counters_turn_their_figures_in_depth(book):
    counter = CounterPart(
        id="count", name="Count", group="space", size=90.0, end="40", solid=Solidity(depth=15.0), fill=Solid("#C0485A"), **MIDDLE
    )
    made = scene(book, sheet(), counter)
    pictures = [made.picture(frame) for frame in (2, 8, 50)]
    assert all((one != other).any() for one, other in itertools.pairwise(pictures))
    assert all((np.abs(rgb(p) - srgb("#C0485A") * 255).max(axis=2) < 12).sum() > 200 for p in pictures)


# A context that is lost


@pytest.fixture
def fresh():
    """What was given up in a test is taken up again."""
    yield
    drawing._given_up.clear()
    drawing._made.cache_clear()


def test_a_lost_context_is_begun_anew(book, monkeypatch, fresh):
    wanted, lost = scene(book, sheet(), word()).picture(30), []
    draw = drawer.Drawer.draw

    def once(self, *given):
        lost.append(self)
        if len(lost) == 1:
            raise RuntimeError("context lost")
        return draw(self, *given)

    monkeypatch.setattr(drawer.Drawer, "draw", once)
    spaces._pictures.clear()
    made = scene(book, sheet(), word())
    assert (made.picture(30) == wanted).all() and len(set(lost)) == 2, "by another drawer, in a context of its own"
    assert not any("flat" in note for note in made.notes())


def test_what_fails_twice_is_painted_flat_and_said(book, monkeypatch, fresh):
    def never(self, *given):
        raise RuntimeError("context\n  lost")

    monkeypatch.setattr(drawer.Drawer, "draw", never)
    spaces._pictures.clear()
    made = scene(book, sheet(), word())
    flat = made.picture(30)
    assert (np.abs(rgb(flat) - srgb("#C0485A") * 255).max(axis=2) < 3).sum() > 2000
    (said,) = [note for note in made.notes() if "flat" in note]
    assert "Drawing solid letters failed twice (RuntimeError: context lost)" in said and "Start Avlet again" in said
    assert (made.picture(31) == flat).all(), "and is not tried again"


# Cameras in odd places


@pytest.mark.parametrize(
    "camera",
    [
        Camera(distance=10.0, to_z=-40.0), Camera(to_z=-9_000.0), Camera(round=90.0), Camera(up=89.0), Camera(round=180.0),
        Camera(distance=10.0, to_z=10.0 - 44.0), Camera(angle=120.0, distance=10.0), Camera(distance=1000.0, angle=5.0),
    ],
)  # fmt: skip
def test_a_camera_in_a_letter_behind_the_sheet_and_along_it(book, camera):
    made = scene(book, sheet(), word(solid=Solidity(depth=30.0), stand=Stand(before=5.0)), BALL, LAMP, camera=camera)
    picture = made.picture(30)
    assert picture.shape == (270, 480, 4) and (picture[..., :3] <= picture[..., 3:]).all(), "premultiplied, and no noise"
    measure(made, 30)
    made.notes()
    for part in made.rest.parts:
        made.pose(30).visible_box(part)


def test_outlines_that_cross_themselves(book):
    """A star drawn in one stroke, and one that runs both ways: filled where it winds round, watertight, drawn."""
    star = [(60 + 50 * math.sin(n * 4 * math.pi / 5), 60 - 50 * math.cos(n * 4 * math.pi / 5)) for n in range(5)]
    for ring in (star, star[::-1], [(0, 0), (50, 0), (50, 0), (0, 0)]):
        mesh = mesh_of([np.array(ring, float)], "rounded", 4.0)
        if not mesh.empty:
            solid = trimesh.Trimesh(**trimesh.triangles.to_kwargs(np.round(mesh.triangles(20.0), 4)))
            solid.merge_vertices()
            assert solid.is_watertight and solid.volume > 100
    bow = mesh_of([np.array([(0, 0), (100, 100), (100, 0), (0, 100)], float)], "square").triangles(20.0)
    assert trimesh.Trimesh(**trimesh.triangles.to_kwargs(bow)).volume == pytest.approx(2 * 2_500 * 20)


def test_shadow_maps_are_drawn_anew_only_when_something_moves(book, monkeypatch):
    """A camera that is carried round needs no new maps; a light, a place, a depth or an opacity does."""
    drawn = []
    into = shadow_maps.ShadowMaps._into
    monkeypatch.setattr(shadow_maps.ShadowMaps, "_into", lambda self, name, *given: (drawn.append(name), into(self, name, *given)))

    def maps(*parts, **space):
        drawn.clear()
        picture = scene(book, sheet(), *parts, **space).picture(30)
        return len(drawn), picture

    bar = sheet("bar", "#20435C", 60.0, 40.0, stand=Stand(before=61.5), solid=Solidity(depth=7.0))
    assert maps(bar, LAMP)[0] == 2
    assert maps(bar, LAMP, camera=Camera(round=13.0))[0] == 0
    changed = msgspec.structs.replace
    for other in (
        changed(bar, stand=Stand(before=62.5)), changed(bar, solid=Solidity(depth=8.0)), changed(bar, opacity=50.0),
    ):  # fmt: skip
        assert maps(other, LAMP)[0] >= 2
        assert maps(bar, LAMP, camera=Camera(round=14.0))[0] >= 2
        spaces._pictures.clear()
    assert maps(bar, changed(LAMP, before=90.0))[0] == 2
    assert maps(bar, LAMP, sun=Sun(round=10.0))[0] == 2
