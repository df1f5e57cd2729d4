"""Motion blur: what a frame shows while it is exposed, and that no work is done on what stands still."""

import numpy as np
import pytest
from conftest import plated

from avlet.document.editing import edits
from avlet.document.faults.checking import check
from avlet.document.looks.paints import Solid
from avlet.document.parts import EchoPart, GroupPart, Matte, Place, ShapePart, TextPart
from avlet.document.template import Frame, MotionBlur, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import Move, StaysToTheEnd
from avlet.paint.exposure import MOST_SAMPLES, moments, moving
from avlet.paint.scene import Scene, first_alike
from avlet.text.fonts import bundled_fonts

EVEN = READY_EASES["even"]


def scene(template) -> Scene:
    return Scene(template, bundled_fonts())


def sliding(speed=40.0, shutter=180.0, phase=-90.0, *more, **values) -> Template:
    """A red bar of 80 px that goes right by ``speed`` px a frame, and ends at 200."""
    move = Move(x=-speed * 20, frames=20, ease=EVEN)
    part = ShapePart(
        id="a", name="A", across=Place(gap=200), down=Place(gap=60), width=80, height=40, fill=Solid("#FF0000"), way_in=(move,),
        way_out=StaysToTheEnd(), **values,
    )  # fmt: skip
    blur = MotionBlur(shutter, phase)
    return check(Template(parts=(part, *more), frame=Frame(600, 200), length=100, way_in=20, way_out=20, motion_blur=blur))


@pytest.mark.parametrize("shutter", [90.0, 180.0, 360.0])
@pytest.mark.parametrize("speed", [12.0, 40.0])
def test_a_bar_at_constant_speed_is_its_box_filter(shutter, speed):
    frame = 18
    row = scene(sliding(speed, shutter)).picture(frame)[80, :, 3].astype(float) / 255
    x = np.arange(600) + 0.5
    left = 200 - speed * 20 + speed * frame
    far = speed * shutter / 360
    begin = left - speed / 4
    fine = np.linspace(0, 1, 4001)
    wanted = np.mean([(x >= begin + far * s) & (x < begin + far * s + 80) for s in fine], axis=0)
    assert np.abs(row - wanted).max() < 0.04


def test_no_copies_show_at_any_speed():
    row = scene(sliding(150.0, 360.0)).picture(18)[80, :, 3].astype(int)
    assert np.abs(np.diff(row)).max() <= 12, "a copy would be a step of its own"


def test_what_stands_still_is_painted_once_and_to_the_bit():
    still = ShapePart(id="b", name="B", across=Place(gap=400), down=Place(gap=20), width=50, height=30, way_out=StaysToTheEnd())
    blurred, sharp = scene(sliding(20.0, 180.0, -90.0, still)), scene(sliding(20.0, 0.0, -90.0, still))
    assert set(moving(blurred.choreography, 10, MotionBlur(180))) == {"a"}
    assert np.array_equal(blurred.picture(10)[:55], sharp.picture(10)[:55])
    assert np.array_equal(blurred.picture(50), sharp.picture(50)) and not moving(blurred.choreography, 50, MotionBlur(180))


def test_samples_lie_evenly_in_the_exposure_and_follow_the_travel():
    assert moments(MotionBlur(180, -90), 4) == pytest.approx([-0.1875, -0.0625, 0.0625, 0.1875])
    assert moments(MotionBlur(360, 0), 2) == [0.25, 0.75]
    made = scene(sliding(40.0, 180.0))
    assert moving(made.choreography, 10, MotionBlur(180)) == {"a": pytest.approx(20)}
    assert MOST_SAMPLES >= 64


def test_the_total_of_light_is_kept():
    sharp, blurred = (scene(sliding(30.0, s)).picture(17)[..., 3].astype(float).sum() for s in (0.0, 180.0))
    assert blurred == pytest.approx(sharp, rel=0.01)


def test_a_letter_that_stands_still_in_a_moving_line_looks_as_ever():
    part = TextPart(
        id="t", name="T", text="ab", size=80, across=Place(gap=60), down=Place(gap=40), way_out=StaysToTheEnd(),
        way_in=(Move(y=-90, by="character", overlap=0, frames=20, ease=EVEN),),
    )  # fmt: skip
    template = check(Template(parts=(part,), frame=Frame(300, 200), length=100, way_in=20, way_out=20, motion_blur=MotionBlur(180)))
    made, sharp = scene(template), scene(edits.replace(template, motion_blur=MotionBlur(0)))
    left = round(made.rest.parts["t"].body.setting.unit_ink("character")[0, 2]) + 60
    moving_picture, still = made.picture(15)[:, :left].astype(int), sharp.picture(15)[:, :left].astype(int)
    assert np.abs(moving_picture - still).max() <= 1


def test_off_for_a_part():
    made = scene(sliding(40.0, 180.0, motion_blur=False))
    assert np.array_equal(made.picture(12), scene(sliding(40.0, 0.0)).picture(12))


def test_words_in_a_matte_members_of_a_group_and_echoes_are_blurred():
    template = edits.replace(plated(), motion_blur=MotionBlur(180))
    made = scene(template)
    assert not np.array_equal(made.picture(8, 480, 270), scene(plated()).picture(8, 480, 270))
    assert np.array_equal(made.picture(60, 480, 270), scene(plated()).picture(60, 480, 270))
    assert not made.picture(99, 480, 270).any() and not made.picture(0, 480, 270).any()
    group = GroupPart(id="g", name="G", way_in=(Move(x=-400, frames=20, ease=EVEN),), way_out=StaysToTheEnd())
    member = ShapePart(id="m", name="M", group="g", across=Place(gap=200), down=Place(gap=60), width=80, height=40)
    echo = EchoPart(id="e", name="E", of="m", across=Place(gap=400), down=Place(gap=120), mattes=(Matte("m"),))
    still = check(
        Template(parts=(member, group, echo), frame=Frame(600, 200), length=100, way_in=20, way_out=20, motion_blur=MotionBlur(180))
    )
    assert set(moving(scene(still).choreography, 10, still.motion_blur)) == {"g", "e"}


def test_moving_frames_are_drawn_each_and_still_ones_once():
    alike = first_alike(scene(sliding(10.0, 180.0)))
    assert alike[:20] == list(range(20)) and set(alike[21:]) == {21}
