"""Wheels: what of rolling figures is seen while a frame is exposed, against many moments and against closed forms."""

from collections import Counter
from fractions import Fraction

import msgspec
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from avlet.document.faults.checking import check
from avlet.document.looks.paints import Linear, Outline, Shadow, Solid, Stop
from avlet.document.parts import CounterPart, Matte, Place, ShapePart
from avlet.document.parts.counter import Counting, Writing
from avlet.document.template import Frame, MotionBlur, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import Move, StaysToTheEnd
from avlet.geometry import Box
from avlet.motion.wheel_turns import At, stretches_over
from avlet.paint import wheels
from avlet.paint.exposure import moving
from avlet.paint.painter import canvas_over, new_pixels, paint_pose
from avlet.paint.scene import Scene
from avlet.text.fonts import bundled_fonts
from avlet.text.wheels import Stretch

FRAME = 30
SOFT = READY_EASES["soft both"]


def scene(*more, blur=None, **values) -> Scene:
    usual = {"size": 60.0, "change": "rolling up", "blurred": True, "count": Counting(lands="after", frames=60, ease=SOFT)}
    part = CounterPart(**{"id": "c", "name": "Plugs", "across": Place(gap=40), "down": Place(gap=40), **usual, **values})
    whole = {"frame": Frame(480, 160, "25/1"), "length": 100, "way_in": 10, "way_out": 10, "motion_blur": blur or MotionBlur(0)}
    return Scene(check(Template(parts=(*more, part), **whole)), bundled_fonts())


def seen_at_moments(made: Scene, frame: int, count: int) -> np.ndarray:
    """The mean of many pictures of one moment each, over an exposure of half a frame about it."""
    total = np.zeros((160, 480, 4))
    for n in range(count):
        pixels = new_pixels(480, 160)
        surface = canvas_over(pixels)
        paint_pose(surface.getCanvas(), made.choreography.pose_within(frame, -0.25 + 0.5 * (n + 0.5) / count))
        surface.flushAndSubmit()
        total += pixels
    return total / count


@pytest.mark.parametrize(
    "values",
    [
        {"end": "24"}, {"end": "400"}, {"end": "100", "turning": 2}, {"start": "500", "end": "-20"}, {"end": "24", "change": "rolling down"},
        {"end": "24", "figures": "as the font sets them"}, {"start": "90", "end": "110"}, {"end": "24", "soft_edges": False},
        {"end": "900", "writing": Writing("money")},
        {"end": "60", "fill": Linear((Stop(0, "#FF0000"), Stop(100, "#0000FF")), 90)},
    ],
)  # fmt: skip
def test_a_frame_shows_the_mean_of_many_moments(values):
    """Within what Skia's own edges differ from each other: one that is nearly upright is off by up to 5 of 255 in a column of px."""
    made = scene(**values)
    own, wanted = made.picture(FRAME).astype(float), seen_at_moments(made, FRAME, 300)
    off = np.abs(own - wanted)[wanted.max(axis=2) > 0]
    assert np.quantile(off, 0.95) <= 3 and np.quantile(off, 0.99) <= 6 and off.mean() < 0.9


def test_an_outline_rolls_with_its_figure():
    """Layers are laid over each other as means: where they overlap that is not the mean of what was laid over each other."""
    made = scene(end="24", outline=Outline(fill=Solid("#00FF00"), width=3))
    own, wanted = made.picture(FRAME).astype(float), seen_at_moments(made, FRAME, 200)
    assert np.abs(own - wanted)[wanted.max(axis=2) > 0].mean() < 8
    assert own[..., 1].sum() == pytest.approx(wanted[..., 1].sum(), rel=0.05)


def test_a_gradient_over_a_number_lies_still_while_it_counts():
    made = scene(start="11111", end="88888", change="at once", fill=Linear((Stop(0, "#FF0000"), Stop(100, "#0000FF")), 0))
    pictures = [made.picture(frame).astype(int) for frame in (20, 31, 40)]
    for one, other in ((0, 1), (1, 2)):
        both = (pictures[one][..., 3] == 255) & (pictures[other][..., 3] == 255)
        assert both.sum() > 400 and np.abs(pictures[one] - pictures[other])[both].max() <= 1


def test_a_block_that_goes_at_one_speed_is_its_box():
    """The closed form of a box: how long a row is covered by a block of 10 px that goes by 7.3 px."""
    sums = wheels._Sums(np.ones((40, 1)), 0, 20, 4)
    found = np.zeros((60, 1))
    wheels._add_moving(found, [wheels.Passing((), 1.0, -1.15, 6.15)], sums, 1.0, 0)
    fine = np.linspace(-1.15, 6.15, 20_001)[:, None]
    rows = np.arange(60)[None, :]
    wanted = np.clip(np.minimum(rows + 1, 30 + fine) - np.maximum(rows, 20 + fine), 0, 1).mean(axis=0)
    assert np.abs(found[:, 0] - wanted).max() < 1e-4


def test_no_copies_are_seen_however_fast_it_turns():
    """From row to row what is seen of a wheel that turns fast changes by a few levels at most, and towards its edges evenly."""
    made = scene(end="3250000")
    box = made.rest.parts["c"].box
    wheel = made.picture(FRAME)[..., 3].astype(int)[:, round(box.right - made.rest.parts["c"].body.figures.slot) : round(box.right)]
    inner = wheel[int(box.y) + 18 : int(box.y) + 52]
    assert inner.max() > 60 and np.abs(np.diff(inner, axis=0)).max() <= 3


def test_the_edges_of_a_wheel_are_soft_and_a_figure_at_rest_is_not_touched():
    soft, hard = scene(end="30000"), scene(end="30000", soft_edges=False)
    top, bottom = (round(v + soft.rest.parts["c"].box.y) for v in soft.rest.parts["c"].body.figures.window)
    last = slice(200, 222)
    rows = [made.picture(FRAME)[..., 3][:, last].astype(int).max(axis=1) for made in (soft, hard)]
    assert rows[0][top + 1] < 0.2 * rows[1][top + 1] and rows[0][bottom - 2] < 0.2 * rows[1][bottom - 2]
    assert rows[1][top + 1] > 40 and abs(rows[0][(top + bottom) // 2] - rows[1][(top + bottom) // 2]) <= 1
    assert not rows[1][: top - 1].any() and not rows[1][bottom + 1 :].any()
    for frame in (0, 60, 80):
        assert np.array_equal(soft.picture(frame), hard.picture(frame))


def test_wheels_are_worked_out_once_a_frame_and_travel_takes_moments():
    made = scene(end="24")
    assert moving(made.choreography, FRAME, made.motion_blur) == {"c": pytest.approx(0.0, abs=1e-9)}
    assert not moving(made.choreography, 70, made.motion_blur), "landed: as sharp as ever"
    slides = scene(end="24", way_in=(Move(x=-400, frames=50, ease=READY_EASES["even"]),), blur=MotionBlur(180))
    assert moving(slides.choreography, FRAME, slides.motion_blur)["c"] == pytest.approx(4.0, rel=0.01)
    picture = slides.picture(FRAME)[..., 3].astype(float)
    assert picture.sum() == pytest.approx(seen_at_moments(slides, FRAME, 400)[..., 3].sum(), rel=0.01)


def test_a_wheel_that_is_a_matte_is_seen_at_many_moments():
    plate = ShapePart(id="p", name="Plate", width=480, height=160, mattes=(Matte("c"),), way_out=StaysToTheEnd())
    made = scene(plate, end="24", shown=False)
    wheel = made.choreography.pose_within(FRAME, 0.0, None, 0.5).parts["c"].rest.body.setting.turning
    assert all(one.begin == one.end for turning in wheel for one in turning.passing)
    assert made.choreography.rolled("c", FRAME, -0.25, 0.25, True) > 0


def test_a_wheel_on_a_turned_canvas_and_with_a_shadow_is_there():
    shadow = Shadow(colour="#000000", x=6, y=6, blur=6)
    turned = scene(end="24", turn=20.0, shadows=(shadow,))
    picture = turned.picture(FRAME)
    wanted = seen_at_moments(turned, FRAME, 200)
    assert np.abs(picture[..., 3].astype(float) - wanted[..., 3]).mean() < 1.5
    assert picture[..., 3].sum() == pytest.approx(wanted[..., 3].sum(), rel=0.03)


# What is passed, and for how long


def at(*places, turns_for=1.0):
    return [At(Fraction(place), turns_for) for place in places]


@given(
    st.lists(st.fractions(min_value=-3, max_value=5_000_000, max_denominator=1000), min_size=2, max_size=7),
    st.floats(0.01, 1.0), st.sampled_from([None, 100, 10_000_000]),
)  # fmt: skip
def test_all_stretches_together_are_the_whole_time(places, turns_for, last):
    found = stretches_over(at(*places, turns_for=turns_for), last)
    assert sum(one.weight for one in found) == pytest.approx(1.0)
    assert all(one.weight >= 0 and 0 <= one.begin <= 1 and 0 <= one.end <= 1 and one.step >= 0 for one in found)
    highest = max(0, *places) if last is None else min(last, max(0, *places))
    assert all(one.step <= highest for one in found), "no number is shown that is not passed"
    assert len(found) <= 2 * 240 + 20


def test_a_slow_count_passes_exactly_what_lies_between():
    (one,) = stretches_over(at("3.25", "3.75"), 10)
    assert one == Stretch(3, 1.0, 0.25, 0.75)
    found = stretches_over(at("3.5", "4.5"), 10)
    assert found == (Stretch(3, 0.5, 0.5, 1.0), Stretch(4, 0.5, 0.0, 0.5))
    assert stretches_over(at("4.5", "3.5"), 10) == found, "down is the same the other way"
    stands = stretches_over(at(3, 4, turns_for=0.25), 10)
    assert stands == (Stretch(3, 0.75, 0.0, 0.0), Stretch(3, 0.25, 0.0, 1.0))
    assert stretches_over(at("9.5", 12), 10) == (Stretch(9, 1.0, 0.5, 1.0),)
    assert stretches_over(at(10, 10), 10) == (Stretch(10, 1.0, 0.0, 0.0),), "landed it stands at its last"


@pytest.mark.parametrize(("first", "last"), [(1_000, 1_900), (17, 43_017), (2_000_000, 2_400_000), (10**12, 10**12 + 10**9)])
def test_of_a_fast_count_each_figure_is_seen_as_long_as_any(first, last):
    found = stretches_over(at(first, last), None)
    for place in (1, 10):
        seen = Counter()
        for one in found:
            seen[one.step // place % 10] += one.weight
        assert set(seen) == set(range(10)) and max(seen.values()) == pytest.approx(0.1) == min(seen.values())
    assert min(one.step for one in found) >= first and max(one.step for one in found) < last
    assert len({one.step for one in found}) <= 240


def test_a_number_that_grows_by_a_figure_keeps_the_others_in_their_slots():
    own = scene(start="90", end="110").rest.parts["c"].body.figures
    setting = own.rolling((Stretch(9, 0.5, 0.0, 1.0), Stretch(10, 0.5, 0.0, 1.0)), True)
    wheels_, pitch = {wheel.units["character"]: wheel for wheel in setting.turning}, own.pitch
    assert set(wheels_) == {0, 1, 2}, "99, 100, 101: all three turn"
    new = wheels_[0].passing
    assert [(round(p.weight, 6), round(p.begin / pitch, 6), round(p.end / pitch, 6)) for p in new] == [(0.5, 1.0, 0.0), (0.5, 0.0, 0.0)]
    ten = {one.glyphs[0].x for one in wheels_[2].passing}
    assert max(ten) - min(ten) < own.slot, "each in its slot"


def test_a_wheel_that_is_looked_at_very_closely_is_painted_in_coarser_px():
    """900 px high and forty times as large: of some 48,000 px a few are in sight."""
    small = scene(end="24", size=900.0)
    made = Scene(msgspec.structs.replace(small.template, frame=Frame(2400, 1600, "25/1")), small.book)
    box, (top, bottom) = made.rest.parts["c"].box, made.rest.parts["c"].body.figures.window
    view = Box(round(box.right - 300), round(box.y + (top + bottom) / 2), 16, 12)
    close = new_pixels(640, 480)
    made.paint(FRAME, close, view=view)
    wanted = made.picture(FRAME)[view.y : view.y + 12, view.x : view.x + 16, 3].astype(float)
    assert wanted.any() and abs(close[..., 3].mean() - wanted.mean()) < 4


def test_what_is_kept_of_figures_stays_within_its_bounds(monkeypatch):
    monkeypatch.setattr(wheels._kept, "most", wheels._MOST_KEPT // 4)
    for size in (120.0, 170.0, 260.0):
        for end in ("30000", "24"):
            scene(end=end, size=size).picture(FRAME, 1920, 640)
    assert wheels._kept.most / 3 < wheels._kept.weight <= wheels._kept.most
