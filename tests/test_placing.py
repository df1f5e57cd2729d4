"""Where titles lie on a cut: their editor's place and scale, cuts of another size, shape and rate; in picture, film and file."""

import json
from fractions import Fraction

import numpy as np
import opentimelineio as otio
import pytest
from conftest import DEMO
from hypothesis import given, settings
from hypothesis import strategies as st

from avlet.document.cut import (
    MOST_MOVED,
    Cut,
    PictureClip,
    Title,
    duplicate_titles,
    in_frame,
    in_shape,
    join_titles,
    numbered,
    place_title,
    put_title,
    remove_title,
    replace,
    split_title,
)
from avlet.document.template import Frame
from avlet.layout.areas import TITLE_SHARE
from avlet.media.cut_film import paint_cut
from avlet.media.drawing import Painter
from avlet.media.placing import anchor_of, placed, rest_box, view_of
from avlet.media.timeline import read_cut, write_cut
from avlet.media.titles import title_drawing, title_scene
from avlet.paint.painter import new_pixels
from avlet.roster.cut_render import CutRender, open_titles
from avlet.storage.package import open_template

STRAP = open_template(DEMO / "name-strap.avlet")
TITLE = open_template(DEMO / "episode-title.avlet")
ONE = Title("a", "name-strap.avlet", 0, 100, {"name": "Bo Li", "role": "Ringer"}, number=1)


def cut_of(title, width=1920, height=1080, rate="25/1"):
    return Cut("Short", Frame(width, height, rate), (), (title,))


def picture(cut, frame=50, opened=STRAP):
    pixels = new_pixels(cut.frame.width, cut.frame.height)
    assert paint_cut(cut, frame, pixels, lambda title: title_scene(title, opened, cut.frame)) == []
    return pixels


def ink(pixels):
    """The first and last column and row with anything but black."""
    seen = pixels[..., :3].max(2) > 8
    rows, columns = np.flatnonzero(seen.any(1)), np.flatnonzero(seen.any(0))
    return columns[0], rows[0], columns[-1] + 1, rows[-1] + 1


def test_a_title_that_nobody_placed_is_painted_as_ever():
    cut = cut_of(ONE)
    assert view_of(ONE, title_scene(ONE, STRAP, cut.frame), cut.frame) is None
    bare = title_scene(ONE, STRAP, cut.frame).picture(50)
    assert np.array_equal(picture(cut)[..., :3], bare[..., :3])


def test_a_title_is_moved_by_whole_px():
    usual, moved = picture(cut_of(ONE)), picture(cut_of(replace(ONE, x=180.0, y=-40.0)))
    assert np.abs(moved[:-40, 180:].astype(int) - usual[40:, :-180]).max() <= 2
    assert ink(moved) == tuple(np.add(ink(usual), (180, -40, 180, -40)))


@pytest.mark.parametrize(("opened", "shares"), [(STRAP, (0.0, 1.0)), (TITLE, (0.5, 0.5))])
def test_a_title_is_scaled_about_the_corner_in_which_it_stands(opened, shares):
    title = replace(ONE, template="x.avlet", answers={}, scale=50.0)
    cut = cut_of(title)
    scene = title_scene(title, opened, cut.frame)
    assert anchor_of(opened.template, opened.book).shares == shares
    before, after = rest_box(scene), placed(title, scene.template, scene.book, cut.frame).box(rest_box(scene))
    for axis in (0, 1):
        assert after.edge(shares[axis], axis) == pytest.approx(before.edge(shares[axis], axis)), "that point stays"
        assert after[axis + 2] == pytest.approx(before[axis + 2] / 2)


def test_longer_words_do_not_move_a_title_that_is_scaled():
    edges = []
    for name in ("Bo", "Ioana Crețu-Whitlock of the northern reaches"):
        title = replace(ONE, answers={"name": name}, scale=70.0, x=33.0)
        scene = title_scene(title, STRAP, Frame())
        edges.append(placed(title, scene.template, scene.book, Frame()).box(rest_box(scene)).x)
    assert edges[0] == pytest.approx(edges[1])


@pytest.mark.parametrize(("width", "height"), [(1080, 1920), (1080, 1080), (3840, 1600), (720, 1280)])
def test_a_title_of_another_shape_is_whole_in_the_same_corner_and_never_squashed(width, height):
    cut, usual = cut_of(ONE, width, height), ink(picture(cut_of(ONE)))
    share = min(width / 1920, height / 1080)
    left, top, right, bottom = ink(picture(cut))
    assert (
        (right - left) / (usual[2] - usual[0])
        == pytest.approx(share, abs=0.01)
        == pytest.approx((bottom - top) / (usual[3] - usual[1]), abs=0.02)
    )
    aside, under = (1 - TITLE_SHARE) / 2 * width, (1 - TITLE_SHARE) / 2 * height
    assert left == pytest.approx(aside + share * (usual[0] - 96), abs=1.5), "as far from the left of title-safe, to the cut's scale"
    assert height - bottom == pytest.approx(under + share * (1080 - usual[3] - 54), abs=1.5)


def test_a_reframed_title_stands_in_the_shape_of_the_cut():
    cut = cut_of(replace(ONE, reframed=True), 1080, 1920)
    scene = title_scene(cut.titles[0], STRAP, cut.frame)
    assert (scene.template.frame.width, scene.template.frame.height) == (1080, 1920) and view_of(cut.titles[0], scene, cut.frame) is None
    assert np.array_equal(picture(cut)[..., :3], scene.picture(50)[..., :3])
    assert ink(picture(cut))[2] - ink(picture(cut))[0] > 1.5 * (
        ink(picture(cut_of(ONE, 1080, 1920)))[2] - ink(picture(cut_of(ONE, 1080, 1920)))[0]
    )


def test_what_the_frame_of_a_title_hides_stays_hidden():
    """A title that comes from beyond the edge of its frame is not seen there when it is shown smaller."""
    roll = open_template(DEMO / "end-roll.avlet")
    title = replace(ONE, template="end-roll.avlet", answers={}, scale=40.0)
    cut = cut_of(title)
    scene = title_scene(title, roll, cut.frame)
    lies = placed(title, scene.template, scene.book, cut.frame)
    pixels = new_pixels(1920, 1080)
    scene.paint(scene.length // 2, pixels, view=lies.view(cut.frame))
    top, bottom = lies.y, lies.y + lies.scale * 1080
    rows = np.flatnonzero(pixels[..., 3].any(1))
    assert rows[0] >= top - 1 and rows[-1] <= bottom + 1 and bottom - top == pytest.approx(432)


@pytest.mark.parametrize("change", [{}, {"x": 90.0, "y": -30.0, "scale": 80.0}])
@pytest.mark.parametrize(("width", "height"), [(1920, 1080), (640, 360), (1080, 1920)])
def test_a_title_alone_is_the_picture_of_the_cut_at_its_size(change, width, height):
    cut = cut_of(replace(ONE, **change), width, height)
    title = cut.titles[0]
    alone = Painter(title_drawing(title, title_scene(title, STRAP, cut.frame), cut.frame)).paint(50)
    assert alone.shape == (height, width, 4) and np.array_equal(alone[..., :3], picture(cut)[..., :3])


def test_a_film_lies_where_its_title_does_and_a_moved_one_is_made_again(tmp_path):
    cut = Cut("Short", Frame(320, 180), (PictureClip("dusk", 20),), (replace(ONE, length=8),))
    opened = open_titles(cut, [DEMO])
    work = CutRender(cut, opened, tmp_path, "short", ".mov", "qtrle", 36, film=False)
    work.run(lambda done, words: True)
    assert work.run(lambda done, words: True).kept == 1
    listed = json.loads((tmp_path / "delivery.json").read_text())["files"]
    assert [(f["file"], f["width"], f["height"]) for f in listed] == [("T0001-name-strap.mov", 320, 180)]
    for changed in (place_title(cut, "a", 5, 0, 100), place_title(cut, "a", 0, 0, 90), replace(cut, frame=Frame(640, 360)), replace(
        cut, titles=(replace(cut.titles[0], reframed=True),)
    )):  # fmt: skip
        CutRender(cut, opened, tmp_path, "short", ".mov", "qtrle", 36, film=False).run(lambda done, words: True)
        done = CutRender(changed, opened, tmp_path, "short", ".mov", "qtrle", 36, film=False).run(lambda done, words: True)
        assert (done.kept, [p.name for p in done.written]) == (0, ["T0001-name-strap.mov", "short.otio"])


# Numbers


def test_a_number_is_a_titles_own_for_good():
    cut = put_title(
        put_title(Cut(), replace(ONE, id="a", start=0, length=10, number=0)), replace(ONE, id="b", start=20, length=10, number=0)
    )
    assert [t.number for t in cut.titles] == [1, 2]
    cut = put_title(remove_title(cut, "b"), replace(ONE, id="c", start=40, length=10, number=0))
    assert [(t.id, t.number) for t in cut.titles] == [("a", 1), ("c", 3)], "2 is not given again"
    cut, made = duplicate_titles(split_title(cut, "a", 4), ["a"])
    numbers = {t.id: t.number for t in cut.titles}
    assert numbers["a"] == 1 and len(set(numbers.values())) == len(numbers) == 4 and numbers[made[0]] == 5
    assert join_titles(cut, "a").title("a").number == 1
    assert numbered(cut) is cut


def test_numbers_places_and_times_come_through_the_file(tmp_path):
    cut = Cut("C", Frame(1080, 1920, "24000/1001"), (PictureClip("dusk", 60),), start_time=86_314)
    for number in range(3):
        cut = put_title(cut, replace(ONE, id=f"t{number}", start=20 * number, length=10, number=0, x=3.0 * number, scale=100.0 - number))
    cut = remove_title(replace(cut, titles=(replace(cut.titles[0], reframed=True), *cut.titles[1:])), "t2")
    write_cut(cut, tmp_path / "c.otio")
    assert read_cut(tmp_path / "c.otio") == cut and cut.numbers == 3
    timeline = otio.adapters.read_from_file(str(tmp_path / "c.otio"))
    assert timeline.global_start_time.to_timecode() == "01:00:00:00" or timeline.global_start_time.value == 86_314


@pytest.mark.parametrize("wrong", [float("1e300"), -1e300, "12", True, None, [1], {"a": 1}])
def test_a_damaged_place_is_held_within_what_is_possible(tmp_path, wrong):
    write_cut(cut_of(replace(ONE, x=5.0, y=5.0, scale=90.0, reframed=True)), tmp_path / "c.otio")
    told = json.loads((tmp_path / "c.otio").read_text())
    clip = told["tracks"]["children"][1]["children"][0]
    clip["media_references"]["DEFAULT_MEDIA"]["parameters"] |= dict.fromkeys(("x", "y", "scale", "number", "reframed"), wrong)
    (tmp_path / "c.otio").write_text(json.dumps(told))
    title = read_cut(tmp_path / "c.otio").titles[0]
    assert abs(title.x) <= MOST_MOVED and 5 <= title.scale <= 400 and title.number == 0 and title.reframed is (wrong is True)


def test_a_copy_that_another_program_made_of_a_title_gets_a_number_of_its_own(tmp_path):
    write_cut(cut_of(ONE), tmp_path / "c.otio")
    timeline = otio.adapters.read_from_file(str(tmp_path / "c.otio"))
    words = timeline.tracks[1]
    words.append(words[0].deepcopy())
    otio.adapters.write_to_file(timeline, str(tmp_path / "c.otio"))
    assert [t.number for t in numbered(read_cut(tmp_path / "c.otio")).titles] == [1, 2]


# Another size and rate

rates = st.sampled_from(["24000/1001", "24/1", "25/1", "30000/1001", "30/1", "50/1", "60000/1001", "120/1"])


@settings(max_examples=60)
@given(rates, rates, st.lists(st.tuples(st.integers(0, 40), st.integers(1, 200)), min_size=1, max_size=12))
def test_times_keep_their_seconds_and_what_met_still_meets(before, after, titles):
    at, found = 0, []
    for number, (gap, length) in enumerate(titles):
        found.append(replace(ONE, id=f"t{number}", start=at + gap, length=length, number=number + 1))
        at += gap + length
    cut = Cut("C", Frame(rate=before), tuple(PictureClip("dusk", t.length) for t in found), tuple(found))
    new = in_frame(cut, Frame(rate=after))
    half = Fraction(1, 2) / Fraction(after)
    for old, one in zip(cut.titles, new.titles, strict=True):
        slack = half + (Fraction(len(titles)) / Fraction(after) if Fraction(after) < Fraction(before) else 0)
        assert abs(old.start / Fraction(before) - one.start / Fraction(after)) <= slack and one.length >= 1
    for (a, b), (c, d) in zip(zip(cut.titles, cut.titles[1:], strict=False), zip(new.titles, new.titles[1:], strict=False), strict=True):
        assert d.start >= c.end and (d.start == c.end or b.start != a.end)
    assert abs(
        sum(c.length for c in new.pictures) / Fraction(after) - sum(c.length for c in cut.pictures) / Fraction(before)
    ) <= half + len(titles) / Fraction(after)


def test_pieces_of_a_split_title_still_fit_after_another_rate():
    cut = in_frame(split_title(cut_of(ONE), "a", 33), Frame(rate="24000/1001"))
    one, two = cut.titles
    assert one.end == two.start and one.whole == two.whole == one.length + two.length == round(100 * Fraction(24000, 1001) / 25)


def test_another_shape_brings_titles_to_it_and_another_size_takes_places_along():
    cut = cut_of(replace(ONE, x=180.0, y=-40.0))
    assert in_shape(cut, 960, 540).titles[0].x == 90.0 and not in_shape(cut, 960, 540).titles[0].reframed
    upright = in_shape(cut, 1080, 1920).titles[0]
    assert upright.reframed and (upright.x, upright.y) == (0.0, 0.0)
