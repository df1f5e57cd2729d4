"""Edges in a space: each px is the mean of what is there. Against exact areas of polygons, and Skia's own coverage at sixteen times the size."""

import math
from concurrent.futures import ThreadPoolExecutor

import msgspec
import numpy as np
import pytest
from space_parts import FLAT_LIGHT, MIDDLE, SMALL, scene, sheet, word

from avlet.document.parts import Camera, RulePart, Sky, Sun
from avlet.document.solids import Solidity, Stand
from avlet.document.template import Template
from avlet.paint.scene import Scene
from avlet.paint.spaces import rough_edges
from avlet.solid import drawing
from avlet.solid.bodies import Body, Light, Stage, View
from avlet.solid.drawer import Drawer
from avlet.solid.edges import CELL, FINE, Lattice, Tile, edges_of, means, tiles_of
from avlet.solid.meshes import mesh_of
from avlet.solid.sights import Region


def area_within(corners, x, y):
    """How much of a px a convex polygon covers: cut by the px's four sides (Sutherland and Hodgman 1974)."""
    left = [tuple(point) for point in corners]
    for axis, at, sign in ((0, x, 1), (0, x + 1, -1), (1, y, 1), (1, y + 1, -1)):
        kept = []
        for one, other in zip(left, left[1:] + left[:1], strict=True):
            a, b = sign * (one[axis] - at), sign * (other[axis] - at)
            if a >= 0:
                kept.append(one)
            if a * b < 0:
                share = a / (a - b)
                kept.append(tuple(p + (q - p) * share for p, q in zip(one, other, strict=True)))
        left = kept
    pairs = zip(left, left[1:] + left[:1], strict=True)
    return abs(sum(p[0] * q[1] - q[0] * p[1] for p, q in pairs)) / 2


def coverage(corners, width, height):
    """The exact coverage of a convex polygon, (height, width)."""
    return np.array([[area_within(corners, x, y) for x in range(width)] for y in range(height)])


def drawn(corners, width, height, flat=True, side=None, depth=0.0):
    """The alpha of a white polygon, seen as it lies."""
    mesh = mesh_of([np.array(corners, float)], flat=flat)
    body = Body(mesh, np.eye(4), depth, (1.0,) * 3, (1.0,) * 3, (1.0,) * 3)
    far = 10_000.0  # from so far away nothing is seen nearer than it is
    seen = np.array([[1, 0, 0, 0], [0, 1, 0, 0], [0, 0, 1, 0], [0, 0, -1 / far, 1.0]])
    view = View(seen, np.array([width / 2, height / 2, far]))
    stage = Stage((body,), Light((1.0,) * 3, (0.0,) * 3, (0.0, 0.0, 1.0)), view)
    if side is None:
        return drawing.draw(stage, (0.0, 0.0, width, height), width, height)[..., 3]
    made = drawing._drawer()
    assert isinstance(made, Drawer)
    before, made.lattice = made.lattice, Lattice(side)
    try:
        return drawing.draw(stage, (0.0, 0.0, width, height), width, height)[..., 3]
    finally:
        made.lattice = before


@pytest.mark.parametrize("side", [2, 3, 4, 8])
def test_no_two_samples_of_a_px_lie_in_one_row_or_column(side):
    lattice = Lattice(side)
    tile = Tile(0, 0, np.repeat(np.arange(lattice.tile), lattice.tile), np.tile(np.arange(lattice.tile), lattice.tile))
    places = lattice.places(tile, 0, 0, CELL)
    assert places.shape == (lattice.tile**2, side * side + 1) and np.unique(places).size == places.size, "no sample is two px's"
    assert places.min() >= 0 and places.max() < CELL * CELL and (places % CELL).max() < CELL
    turned = lattice.to_cell(tile)
    there = np.stack([places % CELL, places // CELL], axis=-1) + 0.5
    px = (there - turned[:, 2]) @ np.linalg.inv(turned[:, :2]).T
    assert (np.floor(px[..., 0]).astype(int) == tile.columns[:, None]).all() and (
        np.floor(px[..., 1]).astype(int) == tile.rows[:, None]
    ).all()
    within = px[0]
    for axis in (0, 1):
        assert np.diff(np.sort(within[:, axis])) == pytest.approx(np.full(side * side, 1 / (side * side + 1)))


@pytest.mark.parametrize("turn", [0.0, 3.0, 17.0, 45.0, 90.0, 133.0])
@pytest.mark.parametrize("side", [None, 3])
def test_each_px_is_as_full_as_what_covers_it(turn, side):
    """A bar at any angle, at a place between px: 65 samples where all is flat, ten about solids, are within a sample or so of the area."""
    a, middle = math.radians(turn), np.array([30.37, 24.81])
    around = np.array([[math.cos(a), math.sin(a)], [-math.sin(a), math.cos(a)]])
    corners = middle + np.array([(-17.3, -6.2), (17.3, -6.2), (17.3, 6.2), (-17.3, 6.2)]) @ around
    made = drawn(corners, 60, 50, flat=side is None, side=side, depth=0.0 if side is None else 0.01) / 255
    wanted = coverage(corners, 60, 50)
    samples = 65 if side is None else side * side + 1
    assert np.abs(made - wanted).max() < 2.3 / samples and np.abs(made - wanted).mean() < 0.25 / samples
    edge = (wanted > 0.02) & (wanted < 0.98)
    assert len(np.unique(made[edge])) > samples / 3 or turn % 45 == 0


def test_a_finer_lattice_about_solids_where_there_is_a_card_for_it():
    corners = np.array([(10.2, 8.1), (51.7, 14.6), (44.4, 41.3)])
    wanted = coverage(corners, 60, 50)
    fine, coarse = (np.abs(drawn(corners, 60, 50, False, side, 0.01) / 255 - wanted).max() for side in (8, 4))
    assert fine < 0.05 < coarse < 0.14


@pytest.mark.parametrize(("words", "side"), [
    ("llvmpipe (LLVM 15.0.6, 256 bits)", 3), ("softpipe", 3), ("Software Rasterizer (swrast)", 3), ("AMD Radeon RX 6600 (navi23)", 8),
    ("Mesa Intel(R) UHD Graphics 620", 8), ("", 8),
])  # fmt: skip
def test_as_fine_as_what_draws_allows(words, side):
    assert drawing.lattice_for(words) == side
    assert drawing._drawer().lattice.side == drawing.lattice_for(drawing.drawn_with())


def test_a_line_thinner_than_a_px_has_no_gaps():
    """A hair of 0.3 px that falls slowly: each column has 0.3 of a px of it."""
    corners = np.array([(4.0, 10.0), (116.0, 17.0), (116.0, 17.3), (4.0, 10.3)])
    made = drawn(corners, 120, 30).astype(float).sum(axis=0) / 255
    assert made[5:115] == pytest.approx(np.full(110, 0.3), abs=0.07)
    solid = drawn(corners, 120, 30, False, 4, 0.01).astype(float).sum(axis=0) / 255
    assert solid[5:115].min() > 0.15 and solid[5:115].mean() == pytest.approx(0.3, abs=0.02)


def test_a_tip_that_covers_no_middle_of_a_px_is_seen():
    corners = np.array([(10.0, 4.0), (15.2, 20.6), (4.8, 20.6)])  # its corners below lie in a row whose middles it does not reach
    made, wanted = drawn(corners, 20, 25) / 255, coverage(corners, 20, 25)
    assert np.abs(made - wanted).max() < 0.03 and wanted[20, 14] > 0.05


def test_flat_members_at_rest_are_as_full_as_their_outlines(book):
    """Letters, round corners and a rule, against the same without a space, painted sixteen times as large and made smaller.

    In its own size Skia sets outlines on quarters of a px, which is up to 90 of 255 from a circle's true coverage.
    """
    parts = (sheet(width=400.4, height=200.6, corner=30.0), word(solid=None, size=40.0),
             RulePart(id="rule", name="Rule", group="space", length=200.0, width=5.0, **MIDDLE))  # fmt: skip
    k = 16
    for several in (parts[:1], parts[1:2], parts[2:]):
        made = scene(book, *several).picture(30).astype(float)
        bare = tuple(msgspec.structs.replace(part, group=None) for part in several)
        flat = Scene(Template(frame=SMALL, length=60, way_in=20, way_out=0, parts=bare), book)
        true = (
            flat.picture(30, SMALL.width * k, SMALL.height * k)
            .astype(np.float32)
            .reshape(SMALL.height, k, SMALL.width, k, 4)
            .mean(axis=(1, 3))
        )
        apart = np.abs(made - true).max(axis=2)
        assert apart.max() < 18 and (apart > 6).sum() < 60, (several[0].id, apart.max(), (apart > 6).sum())


def test_edges_are_found_in_any_channel_and_on_both_sides():
    picture = np.zeros((8, 9, 4), np.uint8)
    picture[:, 4:, 2] = 40
    wanted = np.zeros((8, 9), bool)
    wanted[:, 3:5] = True
    assert (edges_of(picture, [Region(0, 0, 9, 8)]) == wanted).all()
    assert (edges_of(picture.transpose(1, 0, 2), [Region(0, 0, 8, 9)]) == wanted.T).all()
    assert edges_of(picture, [Region(0, 0, 9, 3)])[:3].sum() == 6 and not edges_of(picture, [Region(0, 0, 9, 3)])[3:].any()
    picture[:, 4:, 2] = 15
    assert not edges_of(picture, [Region(0, 0, 9, 8)]).any(), "that nobody sees"


def test_tiles_hold_all_marked_px_once():
    marks = np.random.default_rng(4).random((130, 170)) > 0.97
    found = np.zeros_like(marks, dtype=int)
    for tile in tiles_of(marks, FINE.tile):
        found[tile.top + tile.rows, tile.left + tile.columns] += 1
    assert (found == marks).all()


def test_the_mean_of_samples_is_each_channels_own():
    samples = np.random.default_rng(1).integers(0, 256, (50, 65, 4), dtype=np.uint8)
    samples[0] = 255
    wanted = np.floor(samples.astype(float).mean(axis=1) + 0.5)
    assert (means(samples.reshape(50, -1).view(np.uint32)) == wanted).all()


def test_edges_of_letters_turned_away_change_in_many_steps(book):
    made = scene(book, word(solid=Solidity(depth=20.0), stand=Stand(swing=30.0)), camera=Camera(round=12.0), **FLAT_LIGHT).picture(30)
    assert len(np.unique(made[..., 3])) >= 11


def test_a_narrow_edge_of_a_solid_letter_is_an_even_line(book):
    """A chamfer of half a px along a bar that falls slowly, darker than its front: no dashes."""
    bar = sheet("bar", "#FFFFFF", 300.0, 80.0, turn=3.0, solid=Solidity(depth=20.0, edging="chamfered", edge=0.5, sides="darker"))
    made = scene(book, bar, sun=Sun(strength=100.0, round=0.0, up=-60.0), sky=Sky(strength=20.0)).picture(30).astype(float)
    front = made[135, 240, 1]
    missing = (made[:135, 140:340, 3] / 255 * front - made[:135, 140:340, 1]).sum(axis=0)  # how much the chamfer darkens each column
    assert missing.min() > 10 and missing.max() / missing.min() < 2.5, (missing.min(), missing.max())


def test_while_a_hand_moves_edges_are_those_of_the_middles_of_px(book):
    made = scene(book, word(solid=None))
    fine = made.picture(30)
    with rough_edges():
        rough = made.picture(30)
        with ThreadPoolExecutor(1) as other:
            beside = other.submit(made.picture, 30).result()
    assert set(np.unique(rough[..., 3])) == {0, 255} and len(np.unique(fine[..., 3])) > 40
    assert (beside == fine).all(), "another thread may draw finely meanwhile"
    assert (made.picture(30) == fine).all(), "what was rough is not kept for what is fine"


@pytest.mark.parametrize("longest", [None, 100.0])
def test_edges_of_a_sheet_that_is_not_followed_all_round_are_smooth(book, monkeypatch, longest):
    """One that reaches behind the eye, or whose outline is endless: its edges are found by what is seen."""
    if longest is not None:
        monkeypatch.setattr("avlet.solid.edges._LONGEST", longest)
    wide = sheet(width=4_000.0 if longest is None else 400.0, height=150.0)
    made = scene(book, wide, camera=Camera(round=80.0 if longest is None else 8.0, up=6.0), **FLAT_LIGHT).picture(30)
    assert len(np.unique(made[..., 3])) >= 8
