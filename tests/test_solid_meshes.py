"""Meshes of solid letters against trimesh: watertight, of the right volume, edges as wide as there is room for."""

import math

import numpy as np
import pytest
import skia
import trimesh
from conftest import DEMO

from avlet.paint.contours import TOLERANCE, contours_of
from avlet.paint.outlines import unit_paths
from avlet.paint.painter import canvas_over, new_pixels
from avlet.paint.scene import Scene
from avlet.solid.meshes import EDGE, FRONT, SIDE, edge_share, mesh_of
from avlet.storage.package import open_template

WORDS = ("Odalys ß&@8", "ياسمين الحداد", "渡辺 汐 鬱", "नर्मदा क्षत्रिय", "иди ЁЖ")
BOX = np.array([[0, 0], [100, 0], [100, 60], [0, 60]], float)
HOLE = np.array([[20, 20], [20, 40], [80, 40], [80, 20]], float)


def solid(mesh, depth):
    return trimesh.Trimesh(**trimesh.triangles.to_kwargs(mesh.triangles(depth)))


@pytest.fixture(scope="module")
def strap():
    return open_template(DEMO / "name-strap.avlet")


def paths_of(strap, words):
    scene = Scene(strap.template, strap.book, {"name": words})
    return [path for path in unit_paths(scene.rest.parts["name"].body.setting, "character") if not path.isEmpty()]


def filled(path):
    """The area that Skia fills, in px²: how much it covers at eight times the size."""
    bounds = path.getBounds()
    wide, high = math.ceil(bounds.width() * 8) + 8, math.ceil(bounds.height() * 8) + 8
    pixels = new_pixels(wide, high)
    canvas = canvas_over(pixels).getCanvas()
    canvas.scale(8, 8)
    canvas.translate(-bounds.left() + 0.5, -bounds.top() + 0.5)
    canvas.drawPath(path, skia.Paint(AntiAlias=True, Color=0xFFFFFFFF))
    return float(pixels[..., 3].sum()) / 255 / 64


@pytest.mark.parametrize("words", WORDS)
def test_letters_are_watertight_and_their_volume_is_area_times_depth(strap, words):
    for path in paths_of(strap, words):
        mesh = mesh_of(contours_of(path))
        made = solid(mesh, 70.0)
        assert made.is_watertight and made.is_winding_consistent and made.volume > 0, words
        assert abs(made.volume) / 70 == pytest.approx(filled(path), rel=4e-3, abs=1.0)
        assert mesh.vertices[:, 7].max() == SIDE and set(np.unique(mesh.vertices[:, 2])) <= {0.0, 1.0}


@pytest.mark.parametrize("words", WORDS)
@pytest.mark.parametrize(("edging", "width"), [("chamfered", 3.0), ("rounded", 2.0), ("rounded", 60.0), ("chamfered", 500.0)])
def test_letters_with_edges_are_watertight_and_smaller(strap, words, edging, width):
    for path in paths_of(strap, words):
        mesh, square = mesh_of(contours_of(path), edging, width), mesh_of(contours_of(path))
        made, whole = solid(mesh, 70.0), solid(square, 70.0)
        assert made.is_watertight and made.is_winding_consistent
        assert abs(made.volume) < abs(whole.volume)
        assert mesh.narrowed == (mesh.edge < width - 1e-3) and (EDGE in mesh.vertices[:, 7]) == (mesh.edge > 0)
        assert made.bounds[1, 2] == pytest.approx(70.0, abs=1e-4) and made.bounds[0, 2] == 0.0


def test_a_chamfered_box_is_as_the_sum_has_it():
    """A frustum on a box: volume by the prismatoid formula (Simpson's rule)."""
    made = solid(mesh_of([BOX], "chamfered", 5.0), 40.0)
    top, middle, bottom = 90 * 50, 95 * 55, 100 * 60
    assert abs(made.volume) == pytest.approx(bottom * 35 + 5 / 6 * (bottom + 4 * middle + top), rel=1e-4)


def test_holes_stay_holes():
    assert abs(solid(mesh_of([BOX, HOLE]), 10.0).volume) == pytest.approx((6000 - 60 * 20) * 10, rel=1e-4)
    assert abs(solid(mesh_of([BOX, HOLE[::-1]]), 10.0).volume) == pytest.approx(6000 * 10, rel=1e-4), "what winds the same way joins"


def test_overlapping_and_self_crossing_contours():
    over = mesh_of([BOX, BOX + 30])
    assert solid(over, 10.0).is_watertight and abs(solid(over, 10.0).volume) == pytest.approx((12_000 - 70 * 30) * 10, rel=1e-3)
    bow = np.array([[0, 0], [100, 60], [100, 0], [0, 60]], float)
    assert abs(solid(mesh_of([bow]), 10.0).volume) == pytest.approx(3000 * 10, rel=1e-3)


@pytest.mark.parametrize(
    "contours",
    [[], [np.zeros((0, 2))], [np.zeros((5, 2))], [np.array([[0, 0], [1, 1]])], [np.array([[0, 0], [5, 0], [9, 0]])], [np.full((4, 2), 1e30)]],
)  # fmt: skip
def test_what_has_no_area_has_no_mesh(contours):
    assert mesh_of(contours, "rounded", 3.0).empty


def test_flat_ones_are_their_front():
    mesh = mesh_of([BOX, HOLE], flat=True)
    assert set(mesh.vertices[:, 7]) == {FRONT} and (mesh.vertices[:, 6] == 1).all() and (mesh.vertices[:, 2] == 1).all()


def test_normals_point_outwards():
    mesh = mesh_of([BOX, HOLE], "chamfered", 4.0)
    v = mesh.vertices
    sides = v[(v[:, 7] == SIDE) & (v[:, 6] == 0)]
    outside = sides[:, :2] + sides[:, 4:6] * 0.5
    inside_box = (outside > 0).all(axis=1) & (outside[:, 0] < 100) & (outside[:, 1] < 60)
    in_hole = (outside[:, 0] >= 20) & (outside[:, 0] <= 80) & (outside[:, 1] >= 20) & (outside[:, 1] <= 40)
    assert (~inside_box | in_hole).all()
    edges = v[v[:, 7] == EDGE]
    assert np.allclose(edges[:, 6], math.sin(math.pi / 4)) and np.allclose(np.linalg.norm(v[:, 4:7], axis=1), 1, atol=1e-5)


def test_an_edge_is_no_deeper_than_its_body():
    mesh = mesh_of([BOX], "rounded", 10.0)
    assert (edge_share(10, 4), edge_share(10, 40), edge_share(0, 0), edge_share(10, 0)) == (0.4, 1.0, 1.0, 0.0)
    for depth in (0.0, 1.0, 4.0, 10.0):
        made = solid(mesh, depth)
        assert made.bounds[0, 2] >= -1e-6 and made.bounds[1, 2] <= depth + 1e-6


def test_a_narrow_edge_leaves_something_of_every_region():
    bar = np.array([[0, 0], [100, 0], [100, 8], [0, 8]], float)
    mesh = mesh_of([bar, BOX + 200], "chamfered", 10.0)
    assert mesh.narrowed and 3.5 < mesh.edge < 4.0


def test_curves_are_flattened_within_the_tolerance():
    path = skia.Path()
    path.addCircle(0, 0, 200)
    (contour,) = contours_of(path)
    middles = (contour + np.roll(contour, -1, axis=0)) / 2
    assert 200 - np.linalg.norm(middles, axis=1).min() <= TOLERANCE + 1e-3
    cubic = skia.Path()
    cubic.moveTo(0, 0)
    cubic.cubicTo(0, 300, 400, -300, 400, 100)
    cubic.close()
    (flat,) = contours_of(cubic)
    t = np.linspace(0, 1, 4000)[:, None]
    curve = 3 * (1 - t) ** 2 * t * [0, 300] + 3 * (1 - t) * t**2 * [400, -300] + t**3 * [400, 100]
    ends = flat[:-1] if np.allclose(flat[0], flat[-1]) else flat
    begins, ways = ends[:-1], np.diff(ends, axis=0)
    share = np.clip(((curve[:, None] - begins) * ways).sum(axis=2) / (ways**2).sum(axis=1), 0, 1)
    away = np.linalg.norm(curve[:, None] - begins - share[..., None] * ways, axis=2).min(axis=1)
    assert away.max() <= TOLERANCE * 1.05
