"""Balls and lamps in a space: their outlines, light and shadows against sums worked out here, and what fades."""

import math

import msgspec
import numpy as np
import pytest
import skia
import trimesh
from conftest import DEMO
from scipy.ndimage import binary_dilation, binary_erosion, uniform_filter
from space_parts import MIDDLE, SMALL, rgb, scene, sheet, srgb, word

from avlet.document.looks.paints import Solid
from avlet.document.parts import BallPart, Camera, LampPart, Place, Sky, Sun
from avlet.document.solids import Solidity, Stand
from avlet.document.template import Template
from avlet.document.time.keys import Key, Keyed
from avlet.document.time.moves import Move, Sway
from avlet.light import from_linear, to_linear
from avlet.motion.camera import position
from avlet.paint.painter import canvas_over
from avlet.paint.scene import Scene
from avlet.paint.space_bodies import light_of, stage_of
from avlet.review.looked import Looked
from avlet.solid.balls import TOLERANCE, ball_mesh
from avlet.solid.sights import shadows_on
from avlet.storage.package import open_template

NO_SUN = {"sun": Sun(strength=0.0), "sky": Sky(strength=30.0)}


def ball(diameter=120.0, **more):
    given = {"fill": Solid("#4080C0"), "group": "space", "surface": "matt", **MIDDLE, **more}
    return BallPart(id="ball", name="Ball", diameter=diameter, **given)


def lamp(x=0.0, y=0.0, before=120.0, **more):
    places = {"across": Place("frame", "middle", "middle", x), "down": Place("frame", "middle", "middle", y)}
    given = {"strength": 100.0, "reach_of_light": 200.0, "soft": 0.0, "colour": "#FFFFFF", **places, **more}
    return LampPart(id="lamp", name="Lamp", before=before, group="space", **given)


# Balls


@pytest.mark.parametrize("diameter", [1.0, 20.0, 160.0, 3000.0])
def test_a_ball_is_watertight_and_as_large_as_a_ball(diameter):
    """trimesh, a general-purpose library, on the mesh: closed, wound one way, and its volume that of a ball, less what its facets cut."""
    triangles = ball_mesh(diameter).triangles(diameter)
    mesh = trimesh.Trimesh(**trimesh.triangles.to_kwargs(np.round(triangles, 6 if diameter < 100 else 3)))
    mesh.merge_vertices()
    assert mesh.is_watertight and mesh.is_winding_consistent
    whole = math.pi * diameter**3 / 6
    assert 0 < mesh.volume <= whole and mesh.volume > whole * max(0.8, 1 - 4 * max(2 * TOLERANCE / diameter, 1 - math.cos(math.pi / 128)))
    away = np.linalg.norm(mesh.vertices - diameter / 2, axis=1)
    assert np.allclose(away, diameter / 2, rtol=1e-3)
    assert not ball_mesh(diameter).flat


@pytest.mark.parametrize("camera", [Camera(), Camera(round=50, up=20), Camera(angle=80, to_x=-120, to_y=60), Camera(distance=60, up=-40)])
def test_a_balls_outline_is_the_cone_that_touches_it(book, camera):
    """A ray meets a ball where it runs nearer to its middle than its radius: the ellipse of a pinhole camera, px by px."""
    picture = scene(book, ball(100.0, stand=Stand(before=20.0)), camera=camera).picture(30)
    far = SMALL.height / 2 / math.tan(math.radians(camera.angle / 2))
    a, b = math.radians(camera.round), math.radians(camera.up)
    back = np.array([math.sin(a) * math.cos(b), -math.sin(b), math.cos(a) * math.cos(b)])
    right = np.cross([0.0, 1.0, 0.0], back) / np.linalg.norm(np.cross([0.0, 1.0, 0.0], back))
    down = np.cross(back, right)
    v, u = np.mgrid[0 : SMALL.height, 0 : SMALL.width] + 0.5
    rays = (u - SMALL.width / 2)[..., None] * right + (v - SMALL.height / 2)[..., None] * down - far * back
    middle = np.array([240.0, 135.0, 20.0 + 50.0]) - position(camera, SMALL)
    nearest = np.linalg.norm(np.cross(rays, middle), axis=2) / np.linalg.norm(rays, axis=2)
    inside = (nearest <= 50.0) & (rays @ middle > 0)
    there = picture[..., 3] > 127
    assert inside.sum() > 2000
    assert not (there & ~binary_dilation(inside, iterations=1)).any() and not (inside & ~binary_dilation(there, iterations=1)).any()


def test_a_ball_is_lit_by_lamberts_law(book):
    """The middle of a ball faces the viewer; light from the side lights the side: against the cosine at each px of a row."""
    sun, sky = Sun(strength=70.0, round=40.0, up=0.0), Sky(strength=30.0)
    picture = scene(book, ball(160.0), sun=sun, sky=sky, camera=Camera(angle=5.0)).picture(30)
    to_sun = np.array([math.sin(math.radians(40)), math.cos(math.radians(40))])
    far = SMALL.height / 2 / math.tan(math.radians(2.5))
    for x in (-50, -20, 0, 30, 60):
        seen = x * (1 - 80 / far)
        z = math.sqrt(80**2 - seen**2)
        light = (0.3 + 0.7 * max(0.0, float(np.array([seen, z]) / 80 @ to_sun))) / (0.3 + 0.7 * to_sun[1])
        wanted = from_linear(np.clip(to_linear(srgb("#4080C0")) * light, 0, 1)) * 255
        assert np.abs(picture[135, 240 + x, :3] - wanted).max() <= 4.0, x


def test_gloss_mirrors_the_sun_and_matt_does_not(book):
    lights = {s: rgb(scene(book, ball(160.0, fill=Solid("#102030"), surface=s)).picture(30)).max() for s in ("matt", "satin", "gloss")}
    assert lights["matt"] < lights["satin"] < lights["gloss"]


def test_a_ball_out_of_a_space_is_a_disc(book):
    flat = Template(frame=SMALL, length=60, way_in=20, way_out=0, parts=(ball(100.0, group=None),))
    picture = Scene(flat, book).picture(30)
    v, u = np.mgrid[0:270, 0:480] + 0.5
    away = np.hypot(u - 240, v - 135)
    blue = srgb("#4080C0") * 255
    assert np.abs(rgb(picture)[away < 48.5] - blue).max() <= 1 and picture[away > 51.5].max() == 0


# What fades


@pytest.mark.parametrize("lit", [{}, NO_SUN])
def test_what_fades_is_drawn_once(book, lit):
    """A solid at half its opacity is half of the whole one: no inside, no far side, and no shadow of its own on itself."""
    for part in (ball(), word(), sheet("box", "#B07850", 90.0, 60.0, solid=Solidity(depth=50.0))):
        whole, half = (
            scene(book, msgspec.structs.replace(part, opacity=share), **lit).picture(30).astype(float) for share in (100.0, 50.0)
        )
        inner = (whole[..., 3] == 255) | (whole[..., 3] == 0)
        near = np.abs(half - whole / 2)[inner]
        assert np.percentile(near, 99) <= 1.5, part.name


@pytest.mark.parametrize("opacity", [25.0, 50.0, 99.0])
def test_what_fades_throws_as_much_less_shadow(book, opacity):
    """In linear light: what the shadow takes away goes with the opacity of what throws it."""
    sun = Sun(strength=60.0, round=-35.0, up=40.0, soft=0.0)

    def shaded(share):
        bar = sheet("bar", "#20435C", 60.0, 40.0, stand=Stand(before=60.0), opacity=share)
        picture = scene(book, sheet(), bar, sun=sun).picture(30)
        a, b = math.radians(-35.0), math.radians(40.0)
        to_sun = np.array([math.sin(a) * math.cos(b), -math.sin(b), math.cos(a) * math.cos(b)])
        x, y = (np.array([240.0, 135.0]) - to_sun[:2] / to_sun[2] * 60.0).round().astype(int)
        return to_linear(picture[y, x, :3] / 255)

    none, whole, part = shaded(0.0), shaded(100.0), shaded(opacity)
    assert np.allclose(part, none + (whole - none) * opacity / 100, atol=0.006)


# Lamps


def lamp_light(at, lamps, strength=1.0, reach=200.0):
    """What lamps bring to a point of the sheet: Lambert's cosine, and half of it at the reach, by 1 / (1 + (distance / reach)²)."""
    found = 0.0
    for place in lamps:
        to = np.array(place) - at
        away = np.linalg.norm(to)
        found += strength * max(0.0, to[2] / away) / (1 + (away / reach) ** 2)
    return found


def test_a_lamps_light_falls_off_as_it_says(book):
    picture = scene(book, sheet(colour="#B07850"), lamp(-60.0, 20.0, 90.0), **NO_SUN).picture(30)
    for x, y in ((180, 155), (240, 135), (60, 30), (400, 250)):
        light = (0.3 + lamp_light(np.array([x + 0.5, y + 0.5, 0.0]), [(180.0, 155.0, 90.0)])) / 1.3
        wanted = from_linear(np.clip(to_linear(srgb("#B07850")) * light, 0, 1)) * 255
        assert np.abs(picture[y, x, :3] - wanted).max() <= 1.5, (x, y)


def test_a_lamps_light_fades_without_rings(book):
    """Over blocks of 8 × 8 px the mean is what the light comes to, to a sixth of a step of 255; without being parted, steps lie in rings of it."""
    weak = lamp(0.0, 0.0, 300.0, strength=60.0, reach_of_light=500.0)
    picture = scene(book, sheet(colour="#20435C"), weak, **NO_SUN).picture(30)[:264].astype(float)
    y, x = np.mgrid[0:264, 0:480] + 0.5
    to = np.stack([240 - x, 135 - y, np.full(x.shape, 300.0)], axis=-1)
    away = np.linalg.norm(to, axis=-1)
    light = (0.3 + 0.6 * to[..., 2] / away / (1 + (away / 500) ** 2)) / 0.9
    wanted = from_linear(to_linear(srgb("#20435C")) * light[..., None]) * 255
    apart = (picture[..., :3] - wanted).reshape(33, 8, 60, 8, 3).mean(axis=(1, 3))
    assert np.abs(picture[..., :3] - wanted).max() <= 1.1
    assert np.abs(apart).max() < 0.17 and np.abs(apart).mean() < 0.06


def test_lamps_add_up_and_a_colour_is_a_colour(book):
    one, other = lamp(-80.0, 0.0, 100.0), msgspec.structs.replace(lamp(80.0, 0.0, 100.0, strength=50.0, colour="#FF0000"), id="second")
    picture = scene(book, sheet(colour="#808080"), one, other, **NO_SUN).picture(30)
    for x, y in ((160, 135), (240, 100), (330, 140)):
        at = np.array([x + 0.5, y + 0.5, 0.0])
        white, red = lamp_light(at, [(160.0, 135.0, 100.0)]), lamp_light(at, [(320.0, 135.0, 100.0)], 0.5)
        light = np.array([0.3 + white + red, 0.3 + white, 0.3 + white]) / np.array([0.3 + 1.5, 1.3, 1.3])
        wanted = from_linear(np.clip(to_linear(srgb("#808080")) * light, 0, 1)) * 255
        assert np.abs(picture[y, x, :3] - wanted).max() <= 1.5, (x, y)


@pytest.mark.parametrize("at", [(-90.0, -40.0, 140.0), (40.0, 60.0, 200.0), (150.0, -100.0, 90.0)])
def test_a_lamps_shadow_is_where_lines_from_it_say(book, at):
    """The corners of a plate, carried from the lamp past them to the sheet: the shadow's outline, to 1.5 px."""
    plate = sheet("plate", "#20435C", 60.0, 40.0, stand=Stand(before=40.0))
    picture = scene(book, sheet(colour="#FFFFFF"), plate, lamp(*at), camera=Camera(angle=5.0), **NO_SUN).picture(30)
    place = np.array([240 + at[0], 135 + at[1], at[2]])
    corners = np.array([(240 + x, 135 + y, 40.0) for x, y in ((-30, -20), (30, -20), (30, 20), (-30, 20))])
    on_sheet = place + (corners - place) * (place[2] / (place[2] - 40.0))
    path = skia.Path()
    path.addPoly([skia.Point(*map(float, p[:2])) for p in on_sheet], True)
    wanted = np.zeros((270, 480, 4), np.uint8)
    canvas_over(wanted).getCanvas().drawPath(path, skia.Paint(Color=0xFFFFFFFF))
    shadow = wanted[..., 3] > 0
    v, u = np.mgrid[0:270, 0:480] + 0.5
    to = np.stack([place[0] - u, place[1] - v, np.full_like(u, place[2])])
    away = np.linalg.norm(to, axis=0)
    lit = 0.3 + to[2] / away / (1 + (away / 200.0) ** 2)
    found = to_linear(picture[..., 1] / 255) * 1.3
    dark = (found < (lit + 0.3) / 2) & (rgb(picture)[..., 0] - rgb(picture)[..., 2] > -30)
    plate_there = binary_dilation(rgb(picture)[..., 0] - rgb(picture)[..., 2] <= -30, iterations=2)
    clear = ~plate_there & (lit > 0.36)
    assert shadow.sum() > 2000
    assert not (dark & ~binary_dilation(shadow, iterations=2) & clear).any()
    assert not (shadow & ~binary_dilation(dark | plate_there, iterations=2) & clear).any()


def test_a_lamps_shadows_are_as_soft_as_it_says(book):
    plate = sheet("plate", "#20435C", 60.0, 40.0, stand=Stand(before=40.0))
    levels = []
    for soft in (0.0, 30.0):
        picture = scene(book, sheet(colour="#FFFFFF"), plate, lamp(-60.0, 0.0, 160.0, soft=soft), **NO_SUN).picture(30)
        row = picture[135, 276:330, 1].astype(int)
        levels.append(len(np.unique(row)))
    assert levels[1] > levels[0] + 3


def test_a_fading_solid_fades_in_lamplight_too(book):
    def at(share):
        plate = sheet("plate", "#20435C", 60.0, 40.0, stand=Stand(before=40.0), opacity=share)
        return to_linear(scene(book, sheet(), plate, lamp(-60.0, 0.0, 160.0), **NO_SUN).picture(30)[135, 285, :3] / 255)

    none, half, whole = at(0.0), at(50.0), at(100.0)
    assert (none - whole).min() > 0.1 and np.allclose(half, (none + whole) / 2, atol=0.006)


def test_a_lamp_moves_fades_and_is_hidden(book):
    sway = lamp(-100.0, sways=(Sway("drifts", x=200.0),), way_in=(Move(opacity=0.0, frames=10),))
    made = scene(book, sheet(), sway, **NO_SUN)
    frames = [rgb(made.picture(frame))[135].sum(axis=1) for frame in (0, 21, 40, 58)]
    brightest = [int(np.argmax(row)) for row in frames[1:]]
    assert brightest[0] < 170 and 200 < brightest[1] < 280 and brightest[2] > 300
    assert frames[0].max() < frames[1].max() and len(np.unique(frames[0])) == 1, "dark before it has come"
    hidden = scene(book, sheet(), lamp(shown=False), **NO_SUN).picture(30)
    none = scene(book, sheet(), **NO_SUN).picture(30)
    assert (hidden == none).all()
    keyed = lamp(keys=(Keyed("before", (Key(0, 20.0), Key(40, 400.0))),))
    lights = [light_of(made.pose(f), made.rest.parts["space"].part).lamps[0].at[2] for made in [scene(book, keyed)] for f in (0, 40)]
    assert lights == pytest.approx([20.0, 400.0])


def test_a_sun_that_comes_up_makes_it_lighter(book):
    """What is white is told by the light as designed, not by that of each frame."""
    space = {"keys": (Keyed("sun.strength", (Key(0, 0.0), Key(40, 65.0))),)}
    made = scene(book, sheet(), **space)
    lights = [int(made.picture(frame)[135, 240, 0]) for frame in (0, 20, 40)]
    assert lights[0] < lights[1] < lights[2]
    assert lights[2] == round(srgb("#D9D5C8")[0] * 255)
    wanted = from_linear(to_linear(srgb("#D9D5C8")) * 0.35 / (0.35 + 0.65 * math.cos(math.radians(40)) * math.cos(math.radians(50)))) * 255
    assert np.abs(made.picture(0)[135, 240, :3] - wanted).max() <= 1.0


def test_a_sheet_only_for_shadows_catches_those_of_lamps(book):
    plate = sheet("plate", "#20435C", 60.0, 40.0, stand=Stand(before=40.0))
    ground = sheet(stand=Stand(only_shadows=True))
    picture = scene(book, ground, plate, lamp(-60.0, 0.0, 160.0), **NO_SUN).picture(30)
    assert picture[135, 285, 3] > 60 and picture[135, 285, :3].max() == 0 and picture[20, 20, 3] == 0


@pytest.mark.parametrize("place", [(0.0, 0.0, 30.0), (0.0, 0.0, 60.0), (0.0, 0.0, 0.0), (0.0, 0.0, -200.0), (9_000.0, 0.0, 10.0)])
def test_lamps_in_odd_places(book, place):
    """Inside a solid, on a surface, in the sheet, behind it, far away: a picture, and none of it is nothing but noise."""
    box = sheet("box", "#B07850", 90.0, 60.0, solid=Solidity(depth=60.0))
    made = scene(book, sheet(), box, ball(40.0, stand=Stand(before=80.0)), lamp(*place), word(stand=Stand(before=20.0)))
    picture = made.picture(30)
    assert (picture[..., 3] == 255).all() and picture[..., :3].max() > 20
    assert scene(book, sheet(), lamp(*place, strength=1000.0, reach_of_light=10.0), **NO_SUN).picture(30)[..., 3].min() == 255


@pytest.mark.parametrize("at", [(-90.0, -40.0, 140.0), (150.0, -100.0, 90.0)])
def test_where_a_lamps_shadows_are_looked_for(book, at):
    """All of where lines from the lamp past the corners of a plate meet the sheet, and little more."""
    plate = sheet("plate", "#20435C", 60.0, 40.0, stand=Stand(before=40.0))
    made = scene(book, sheet(colour="#FFFFFF"), plate, lamp(*at), **NO_SUN)
    stage = stage_of(made.pose(30), made.rest.parts["space"].part)
    (area,) = shadows_on(stage, stage.bodies[0])
    place = np.array([240 + at[0], 135 + at[1], at[2]])
    corners = np.array([(240 + x, 135 + y, 40.0) for x, y in ((-30, -20), (30, -20), (30, 20), (-30, 20))])
    on_sheet = (place + (corners - place) * (place[2] / (place[2] - 40.0)))[:, :2]
    low, high = on_sheet.min(axis=0), on_sheet.max(axis=0)
    assert (np.array(area[:2]) <= low).all() and (np.array(area[2:]) >= high).all()
    assert (np.array(area[:2]) > low - 40).all() and (np.array(area[2:]) < high + 40).all()
    over_it = scene(book, sheet(), plate, lamp(0.0, 0.0, 42.0), **NO_SUN)
    stage = stage_of(over_it.pose(30), over_it.rest.parts["space"].part)
    assert shadows_on(stage, stage.bodies[0]) is None, "close to the lamp it may fall anywhere"


def border(book, soft, before=40.0, **light):
    """How much light passes beside the right edge of a plate's shadow, along a row: 0 in full shadow, 1 in full light."""
    sheets = [sheet(colour="#FFFFFF"), sheet("plate", "#20435C", 60.0, 40.0, stand=Stand(before=before))]
    lamps = [] if light else [lamp(-60.0, 0.0, 160.0, soft=soft)]
    rows = [to_linear(scene(book, *some, *lamps, **(light or NO_SUN)).picture(30)[135, :, 1] / 255) for some in (sheets[:1], sheets)]
    return (rows[1] / rows[0])[276 if before < 100 else 284 : 400]  # where the plate itself is not seen any more


def width_of(passes):
    """Px from a tenth to nine tenths of what a border goes through."""
    share = (passes - passes.min()) / (1 - passes.min())
    return np.count_nonzero((share > 0.1) & (share < 0.9))


@pytest.mark.parametrize("soft", [10.0, 20.0, 30.0, 60.0])
def test_a_soft_border_is_as_wide_as_it_says_and_even(book, soft):
    """Light that falls evenly off across a border of so many px has eight tenths of it between a tenth and nine tenths."""
    passes = border(book, soft)
    assert width_of(passes) == pytest.approx(0.8 * soft, rel=0.2, abs=2)
    assert len(np.unique(passes.round(2))) > min(soft, 16) / 2, "in many steps"
    assert np.abs(np.diff(passes)).max() < 2.5 / soft + 0.06, "and none of them an edge"


@pytest.mark.parametrize("soft", [10.0, 30.0])
def test_a_suns_border_is_as_wide_as_it_says_and_even(book, soft):
    """Its width is measured across the way of the light: on the sheet it is wider by one over the cosine of its slant."""
    passes = border(book, soft, 100.0, sun=Sun(round=-20.0, up=0.0, soft=soft), sky=Sky(40.0))
    assert (
        width_of(passes) == pytest.approx(0.8 * soft / math.cos(math.radians(20)), rel=0.2, abs=2)
        and len(np.unique(passes.round(2))) > min(soft, 16) / 2
    )


@pytest.mark.parametrize(
    "at",
    [(-220.0, 0.0, 60.0), (-100.0, 60.0, 30.0), (0.0, 0.0, 120.0), (-900.0, -300.0, 90.0), (-1500.0, 0.0, 150.0), (230.0, 100.0, 400.0)],
)
@pytest.mark.parametrize("soft", [0.0, 12.0])
def test_a_front_in_full_lamplight_is_free_of_stripes(book, at, soft):
    """From px to px the light on a plain front changes by no more than one of 255, and one by which steps are parted, however flat it falls."""
    bar = sheet("bar", "#D9D5C8", 300.0, 150.0, stand=Stand(before=12.0))
    picture = scene(book, sheet(), bar, lamp(*at, soft=soft, strength=300.0, reach_of_light=900.0), **NO_SUN).picture(30)
    front = picture[80:190, 110:370, :3].astype(int)
    near = np.hypot(*np.meshgrid(np.arange(110, 370) - 240 - at[0], np.arange(80, 190) - 135 - at[1])) < 60  # there it really changes
    for axis, far in ((1, ~near[:, 1:]), (0, ~near[1:])):
        assert np.abs(np.diff(front, axis=axis))[far].max(initial=0) <= 2
        even = uniform_filter(front.astype(float), (7, 7, 0))
        assert np.abs(np.diff(even, axis=axis))[far].max(initial=0) <= 1


@pytest.mark.parametrize("up", [70.0, 80.0, 84.0, 86.0, 88.0, 89.0])
@pytest.mark.parametrize(("round_it", "soft"), [(0.0, 0.0), (-60.0, 10.0)])
def test_a_front_in_full_sunlight_is_free_of_stripes_however_flat_it_falls(book, up, round_it, soft):
    """Where no shadow of another falls, light that is the same all over makes one colour."""
    part = word("I", solid=Solidity(depth=60.0), size=60.0)
    made = scene(book, sheet(), part, sun=Sun(strength=150.0, up=up, round=round_it, soft=soft), sky=Sky(strength=20.0))
    wall = made.picture(30)[..., :3].astype(int)
    for beside in (wall[:, :200], wall[:, 320:]):
        assert np.ptp(beside.reshape(-1, 3), axis=0).max() <= 1
    assert np.ptp(wall[200:, 200:320].reshape(-1, 3), axis=0).max() > 2, "the letter's shadow is there"


def test_the_letters_of_the_demo_are_free_of_stripes():
    """Light that falls flat on fronts, in the title's own size: stripes of shadow that a front threw on itself stood there once."""
    opened = open_template(DEMO / "harbour-depths.avlet")
    one = Looked(Scene(opened.template, opened.book), "Harbour")
    word = next(i for i, rest in one.texts if getattr(rest.part, "text", "").casefold() == "harbour")
    inner = binary_erosion(one.fronts(word, 62), iterations=9)
    light = one.picture(62)[..., :3].astype(int)
    steps = np.abs(np.diff(light, axis=1)).max(axis=2)
    assert inner.sum() > 20_000 and np.quantile(steps[inner[:, 1:] & inner[:, :-1]], 0.99) <= 1
