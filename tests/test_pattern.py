"""Patterns: rows, grids and rings, running from first to last, scattered, filling a box, drifting."""

import itertools
import math

import numpy as np
import pytest

from avlet.document.faults.checking import check
from avlet.document.looks.paints import Solid
from avlet.document.parts import Fit, Matte, PatternPart, PictureFile, Place, ShapePart
from avlet.document.starts import MARK
from avlet.document.template import Frame, Template
from avlet.document.time.moves import Move
from avlet.geometry import Box
from avlet.layout.copies import filling_copies, own_copies
from avlet.limits import MOST_COPIES
from avlet.paint.scene import Scene
from avlet.text.fonts import bundled_fonts

FRAME = Frame(400, 200, "25/1")


def scene(*parts) -> Scene:
    return Scene(check(Template(parts=parts, frame=FRAME, length=100, way_in=20, way_out=20)), bundled_fonts())


def stripes(**values) -> PatternPart:
    given = {"count": 5, "width": 10, "height": 40, "step_x": 20, "across": Place(gap=40), "down": Place(gap=60)}
    return PatternPart(id="p", name="Stripes", **{**given, **values})


def test_a_row_is_as_long_as_its_copies_and_paints_each():
    made = scene(stripes())
    assert made.rest.parts["p"].box == Box(40, 60, 90, 40)
    row = made.picture(50)[80, :, 3]
    for n in range(5):
        assert row[40 + 20 * n : 50 + 20 * n].min() == 255 and not row[50 + 20 * n : 60 + 20 * n].any()


def test_size_turn_opacity_and_colour_run_from_first_to_last():
    part = stripes(size_last=50, turn_last=90, opacity_last=20, colour_runs=True, colour_last="#0000FF", fill=Solid("#FF0000"))
    copies = own_copies(part)
    assert copies.scale == pytest.approx(np.repeat(np.linspace(1, 0.5, 5)[:, None], 2, 1))
    assert copies.turn.tolist() == pytest.approx(np.linspace(0, 90, 5).tolist())
    assert copies.opacity.tolist() == pytest.approx(np.linspace(1, 0.2, 5).tolist())
    picture = scene(part).picture(50).astype(int)
    seen = [picture[round(c[1]) + 60, round(c[0]) + 40] for c in copies.centres]
    assert seen[0].tolist() == [255, 0, 0, 255]
    assert seen[2] == pytest.approx(np.array([128, 0, 128, 255]) * 0.6, abs=3), "half way between both colours, at 60 %"
    assert seen[4] == pytest.approx(np.array([0, 0, 51, 51]), abs=2)


def test_a_grid_and_a_ring_lie_where_their_numbers_say():
    grid = own_copies(stripes(lies="in a grid", rows=3, step_y=50))
    assert len(grid.centres) == 15 and grid.counts == {"whole": 1, "line": 3, "word": 15, "character": 15}
    assert grid.centres[5] - grid.centres[0] == pytest.approx([0, 50])
    ring = own_copies(stripes(lies="in a ring", count=8, radius=60, width=10, height=10))
    middle = ring.centres.mean(axis=0)
    assert np.hypot(*(ring.centres - middle).T) == pytest.approx([60] * 8)
    assert ring.turn.tolist() == pytest.approx([45.0 * n for n in range(8)])
    assert ring.ink_box.w == pytest.approx(2 * (60 + 5))


def test_scatter_comes_from_its_seed_and_stays_within_reach():
    same, again, other = (own_copies(stripes(count=50, scatter=7, scatter_turn=20, seed=s)).centres for s in (3, 3, 4))
    assert np.array_equal(same, again) and not np.array_equal(same, other)
    steps = np.diff(same[:, 0])
    assert np.abs(steps - 20).max() <= 14


@pytest.mark.parametrize("width", [1.0, 37.0, 200.0, 1234.5])
@pytest.mark.parametrize("lies", ["in a row", "in a grid"])
def test_what_fills_a_box_covers_it_at_any_width(width, lies):
    part = stripes(lies=lies, step_x=20, step_y=30, height=20, width=20, fit=Fit(("x",)))
    copies = filling_copies(part, width, 90.0)
    edges = copies.edges
    assert edges[:, 0].min() <= 0 and edges[:, 2].max() >= width
    assert edges[:, 1].min() <= 0 and edges[:, 3].max() >= 90


def test_stripes_that_fill_a_plate_end_at_its_edges():
    plate = ShapePart(id="plate", name="Plate", width=203, height=50, across=Place(gap=50), down=Place(gap=60), fill=Solid("#FFFFFF00"))
    fit = Fit(("plate",), left=0, right=0, top=0, bottom=0)
    made = scene(plate, stripes(fit=fit, across=None, down=None))
    alpha = made.picture(50)[..., 3]
    assert not alpha[:, :50].any() and not alpha[:, 253:].any() and not alpha[:60].any() and not alpha[110:].any()
    assert alpha[85, 50:253].sum() / 255 == pytest.approx(203 / 2, abs=10)
    assert made.pose(50).visible_box("p") == Box(50, 60, 203, 50)


def test_drift_moves_on_without_a_jump_and_without_running_out():
    plate = ShapePart(id="plate", name="Plate", width=200, height=50, across=Place(gap=50), down=Place(gap=60), fill=Solid("#FFFFFF00"))
    fit = Fit(("plate",), left=0, right=0, top=0, bottom=0)
    made = scene(plate, stripes(fit=fit, across=None, down=None, drift_x=100.0))
    rows = [made.picture(f)[85, 50:250, 3].astype(int) for f in range(12)]
    for before, after in itertools.pairwise(rows):
        assert np.abs(after[4:] - before[:-4]).max() <= 2, "100 px a second are 4 px a frame at 25 fps"
    assert all(abs(r.sum() / 255 - 100) <= 10 for r in rows)
    assert np.array_equal(rows[0], rows[5]), "after one step of 20 px it looks the same"


def test_copies_arrive_one_by_one():
    made = scene(stripes(way_in=(Move(opacity=0, by="character", overlap=0, frames=20),)))
    alpha = made.picture(8)[80, [45 + 20 * n for n in range(5)], 3]
    assert alpha[0] == alpha[1] == 255 and not alpha[3:].any()


def test_a_pattern_can_be_of_pictures_and_be_a_matte():
    made = scene(stripes(picture=PictureFile("mark.svg", MARK), width=40, step_x=50, count=3))
    picture = made.picture(50)
    assert np.array_equal(picture[60:100, 40:80], picture[60:100, 90:130]) and picture.any()
    wide = ShapePart(id="wide", name="Wide", width=400, height=200, fill=Solid("#00FF00"), mattes=(Matte("p"),))
    row = scene(stripes(shown=False), wide).picture(50)[80, :, 1]
    assert row[45] == 255 and row[55] == 0


def test_far_too_many_copies_are_cut_and_said():
    plate = ShapePart(id="plate", name="Plate", width=20_000, height=50, across=Place(gap=50), down=Place(gap=60))
    made = scene(plate, stripes(fit=Fit(("plate",)), across=None, down=None, step_x=1, width=1))
    assert len(made.rest.parts["p"].body.copies.centres) == MOST_COPIES
    assert any("the most there can be" in note for note in made.notes())


def test_a_turned_copy_reaches_as_far_as_its_corners():
    box = own_copies(stripes(count=1, turn_first=30, turn_last=30, width=80, height=40)).ink_box
    angle = math.radians(30)
    assert box.w == pytest.approx(80 * math.cos(angle) + 40 * math.sin(angle))
