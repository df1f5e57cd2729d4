"""Light in spaces, against laws and geometry that are worked out here."""

import functools
import math

import numpy as np
import pytest
import skia
from scipy.ndimage import binary_dilation
from space_parts import rgb, scene, sheet, srgb, word

from avlet.document.parts import Camera, Sky, Sun
from avlet.document.solids import Solidity, Stand
from avlet.light import from_linear, to_linear

# Light


@pytest.mark.parametrize("swing", [0.0, 30.0, -50.0, 70.0])
def test_a_turned_sheet_is_as_bright_as_lambert_says(book, swing):
    """Lambert's cosine law in linear light, by IEC 61966-2-1."""
    sun, sky = Sun(strength=60.0, round=-30.0, up=35.0), Sky(strength=40.0)
    made = scene(book, sheet(colour="#B07850", width=200.0, height=160.0, stand=Stand(swing=swing)), sun=sun, sky=sky)
    a, b, turn = math.radians(sun.round), math.radians(sun.up), math.radians(swing)
    to_sun = np.array([math.sin(a) * math.cos(b), -math.sin(b), math.cos(a) * math.cos(b)])
    normal = np.array([math.sin(turn), 0.0, math.cos(turn)])
    light = (0.4 + 0.6 * max(0.0, float(normal @ to_sun))) / (0.4 + 0.6 * to_sun[2])
    wanted = from_linear(np.clip(to_linear(srgb("#B07850")) * light, 0, 1)) * 255
    assert np.abs(made.picture(30)[135, 240, :3] - wanted).max() <= 1.0


def test_linear_light_and_back():
    values = np.linspace(0, 1, 256)
    assert np.allclose(from_linear(to_linear(values)), values, atol=1e-6)
    assert to_linear(np.array([0.5]))[0] == pytest.approx(0.21404, abs=1e-5), "IEC 61966-2-1, from memory"


def test_a_boxs_shadow_is_where_the_sum_has_it(book):
    """Corners of a box carried along the sun's direction to the sheet: the shadow's outline, to 1.5 px."""
    from scipy.spatial import ConvexHull

    from avlet.paint.painter import canvas_over

    sun = Sun(strength=60.0, round=-35.0, up=40.0, soft=0.0)
    box = sheet("box", "#C0485A", 90.0, 60.0, solid=Solidity(depth=50.0, sides="as the front"))
    picture = scene(book, sheet(), box, sun=sun, camera=Camera(angle=5.0)).picture(30)
    a, b = math.radians(sun.round), math.radians(sun.up)
    to_sun = np.array([math.sin(a) * math.cos(b), -math.sin(b), math.cos(a) * math.cos(b)])
    corners = np.array([(240 + x, 135 + y, z) for x in (-45, 45) for y in (-30, 30) for z in (0, 50)], float)
    on_sheet = corners[:, :2] - to_sun[:2] / to_sun[2] * corners[:, 2:]
    path = skia.Path()
    path.addPoly([skia.Point(*map(float, p)) for p in on_sheet[ConvexHull(on_sheet).vertices]], True)
    wanted = np.zeros((270, 480, 4), np.uint8)
    canvas_over(wanted).getCanvas().drawPath(path, skia.Paint(Color=0xFFFFFFFF))
    dark = (np.abs(rgb(picture) - (srgb("#D9D5C8") * 255)).max(axis=2) > 20) & (np.abs(rgb(picture)[..., 0] - rgb(picture)[..., 1]) < 40)
    box_there = np.abs(rgb(picture)[..., 0] - rgb(picture)[..., 1]) >= 40
    shadow = wanted[..., 3] > 0
    near = functools.partial(binary_dilation, iterations=2)
    assert not (dark & ~near(shadow | box_there)).any() and not (shadow & ~near(dark | box_there)).any()
    assert dark.sum() > 800


def test_nothing_shades_itself(book):
    made = scene(book, sheet(), sheet("bar", "#20435C", 60.0, 40.0, stand=Stand(before=30.0)), sun=Sun(soft=8.0)).picture(30)
    assert (made[20:60, 20:460, :3] == (srgb("#D9D5C8") * 255).round()).all()


def test_shadows_fall_and_are_soft(book):
    sharp, soft = (scene(book, sheet(), word(), sun=Sun(soft=amount)).picture(30) for amount in (0.0, 24.0))
    plain = scene(book, sheet(), word(), sun=Sun(strength=0.0), sky=Sky(100.0)).picture(30)
    assert (np.abs(rgb(sharp) - rgb(plain)).max(axis=2) > 20).sum() > 1500
    cloth = (rgb(plain) == rgb(plain)[5, 5]).all(axis=2)
    between = [((on := picture[..., 0][cloth].astype(int)) > on.min() + 8) & (on < on.max() - 8) for picture in (sharp, soft)]
    assert between[1].sum() > 3 * between[0].sum()


def test_a_sheet_only_for_shadows_composites_over_anything(book):
    """Shadows on footage: the same as shadows on a sheet of the footage's colour, to a few levels."""
    light = {"sun": Sun(soft=0.0)}
    on_sheet = scene(book, sheet(colour="#808080"), word(), **light).picture(30).astype(float)
    alone = scene(book, sheet(stand=Stand(only_shadows=True)), word(), **light).picture(30).astype(float)
    over = alone[..., :3] + 128.0 * (1 - alone[..., 3:] / 255)
    assert np.abs(over - on_sheet[..., :3]).mean() < 1.0 and alone[5, 5, 3] == 0
    assert (alone[..., 3] > 0).sum() > 3000
