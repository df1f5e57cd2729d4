"""Moves: what holds for every text, unit and length."""

import numpy as np
import pytest
from conftest import plated
from hypothesis import given, settings
from hypothesis import strategies as st

from avlet.document.editing import edits
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import Mirrored, Move, OwnWayOut, StaysToTheEnd
from avlet.motion.schedule import schedule
from avlet.motion.travel import HAIR, out_of
from avlet.paint.scene import Scene
from avlet.text.fonts import bundled_fonts

units = st.sampled_from(["whole", "line", "word", "character"])
orders = st.sampled_from(["first to last", "last to first"])
words = st.text(min_size=0, max_size=40)
sides = st.sampled_from(["below", "above", "left", "right"])


def scene(template, length=None, **answers) -> Scene:
    return Scene(template, bundled_fonts(), answers, length)


def moving(text: str, **move) -> Scene:
    return scene(edits.set_relations(plated(text), "name", way_in=(Move(**move),)))


@given(st.integers(1, 200), st.integers(1, 60), st.floats(0, 99.9))
def test_the_whole_takes_its_frames_whatever_the_text(count, frames, overlap):
    plan = schedule(Move(frames=frames, overlap=overlap, start=5), count)
    assert plan.begins.min() == pytest.approx(5)
    assert plan.begins.max() + plan.unit_frames == pytest.approx(5 + frames)


def test_total_overlap_moves_all_at_once():
    plan = schedule(Move(frames=20, overlap=100), 7)
    assert plan.begins.tolist() == [0] * 7
    assert plan.unit_frames == 20


def test_high_overlap_gives_each_line_longer_and_the_same_total():
    # Line by line with many lines, a high overlap reads smoother: common practice, no source.
    low, high = schedule(Move(frames=30, overlap=10), 8), schedule(Move(frames=30, overlap=80), 8)
    assert high.unit_frames > 2 * low.unit_frames


@settings(max_examples=40, deadline=None)
@given(words, units, orders, st.floats(0, 100), st.sampled_from(list(READY_EASES.values())))
def test_at_progress_one_every_unit_is_exactly_at_rest(text, by, order, overlap, ease):
    made = moving(text, y=70, scale_x=30, opacity=0, by=by, order=order, overlap=overlap, frames=18, start=4, ease=ease)
    pose = made.pose(22).parts["name"]
    assert pose.still
    assert not pose.shift.any()
    assert (pose.scale == 1).all()
    assert (pose.opacity == 1).all()


@settings(max_examples=60, deadline=None)
@given(words, units, sides, st.floats(10, 200), st.floats(0, 120))
def test_nothing_of_an_out_of_matte_move_shows_on_the_first_frame(text, by, side, size, pad):
    template = edits.set_property(plated(text), "name/size", size)
    for edge in ("left", "right", "top", "bottom"):
        template = edits.set_property(template, f"plate/fit.{edge}", pad)
    move = Move(travel="out of the matte", side=side, by=by, frames=10)
    template = edits.set_relations(template, "name", way_in=(move,))
    template = edits.set_relations(template, "plate", way_in=())
    made = scene(template)
    assert made.pose(0).visible_box("name") is None
    assert not painted_text(made, 0)


def painted_text(made: Scene, frame: int) -> bool:
    """Whether a pixel of the text (white) differs from the plate alone."""
    picture = made.picture(frame, 480, 270)
    hidden = scene(edits.set_property(made.template, "name/opacity", 0)).picture(frame, 480, 270)
    return bool((picture != hidden).any())


def test_travel_is_just_more_than_the_window():
    # 105 px for a window of 100 px: common practice, no source. Ours is the shortest that clears, plus a hair.
    from avlet.geometry import Box

    shift = out_of(Box(0, 0, 400, 100), np.array([[10.0, 0.0, 60.0, 80.0]]), "below")
    assert shift.tolist() == [[0.0, 100.0 + HAIR]]
    assert out_of(Box(0, 0, 400, 100), np.array([[10.0, 20.0, 60.0, 80.0]]), "left").tolist() == [[-60.0 - HAIR, 0.0]]


def test_each_line_travels_as_far_as_it_must():
    made = moving("One\nTwo", travel="out of the matte", side="below", by="line")
    shift = made.pose(0).parts["name"].shift[:, 1]
    assert shift[0] > shift[1] > 0


@settings(max_examples=30, deadline=None)
@given(words, units, st.integers(50, 400))
def test_mirrored_way_out_is_the_way_in_backwards(text, by, length):
    template = edits.set_relations(plated(text), "name", way_in=(Move(y=70, opacity=0, by=by, start=5),))
    made = scene(template, length)
    for k in (1, 3, 8, 14, 24):
        into, out = made.pose(k).parts, made.pose(length - 1 - k).parts
        for part in into:
            assert np.array_equal(into[part].shift, out[part].shift)
            assert np.array_equal(into[part].scale, out[part].scale)
            assert np.array_equal(into[part].opacity, out[part].opacity)


@settings(max_examples=30, deadline=None)
@given(words, st.integers(50, 600))
def test_the_ends_are_the_same_frames_at_any_length(text, length):
    designed, made = scene(plated(text)), scene(plated(text), length)
    for frame in (0, 7, 13, 24):
        for a, b in ((designed.pose(frame), made.pose(frame)), (designed.pose(99 - frame), made.pose(length - 1 - frame))):
            assert a.key == b.key
    assert all(p.still for p in made.pose(length // 2).parts.values()) or length == 50


@settings(max_examples=30, deadline=None)
@given(words, st.integers(2, 300))
def test_the_last_frame_is_empty(text, length):
    assert not scene(plated(text), length).picture(length - 1, 192, 108).any()


@settings(max_examples=20, deadline=None)
@given(words, st.integers(2, 300))
def test_rest_is_the_same_in_every_frame(text, length):
    made = scene(plated(text), length)
    for frame in (0, length // 3, length - 1):
        assert all(p.rest is made.rest.parts[i] for i, p in made.pose(frame).parts.items())


def test_a_single_frame_shows_the_title_at_rest():
    pose = scene(plated(), 1).pose(0)
    assert all(p.still and p.shown for p in pose.parts.values())


def test_short_titles_say_that_their_ends_were_shortened():
    made = scene(plated(), 20)
    assert made.spans.shortened
    assert "shortened in proportion" in made.notes()[0]
    assert made.pose(0).visible_box("plate") is None
    assert made.pose(10).visible_box("plate") is not None


def test_plate_opens_text_follows_text_leaves_plate_follows():
    # Plate over 20 frames, text 5 later; on the way out the text first, the plate 5 after: common practice, no source.
    made = scene(plated())
    still = {i: [f for f in range(100) if made.pose(f).parts[i].still] for i in ("plate", "name")}
    assert still["plate"][0] == 20
    assert still["name"][0] == 25
    assert still["name"][-1] == 99 - 25
    assert still["plate"][-1] == 99 - 20


def test_with_several_lines_the_last_in_is_the_first_out():
    # Common practice, no source.
    made = moving("One\nTwo\nThree", y=50, by="line", overlap=0, frames=20)
    entering = [np.count_nonzero(made.pose(f).parts["name"].shift[:, 1]) for f in range(21)]
    assert entering == sorted(entering, reverse=True)
    leaving = made.pose(99 - 17).parts["name"].shift[:, 1]
    assert leaving[2] > 0
    assert leaving[0] == leaving[1] == 0


def test_each_unit_eases_by_itself():
    # Common practice, no source: a letter's path is the whole ease, not a slice of the group's.
    ease = READY_EASES["soft both"]
    alone, group = (
        moving("A", y=100, by="character", frames=6, ease=ease),
        moving("AB", y=100, by="character", overlap=0, frames=12, ease=ease),
    )
    one = [alone.pose(f).parts["name"].shift[0, 1] for f in range(7)]
    assert [group.pose(f).parts["name"].shift[0, 1] for f in range(7)] == pytest.approx(one)
    assert [group.pose(f + 6).parts["name"].shift[1, 1] for f in range(7)] == pytest.approx(one)


def test_arriving_slows_down_and_leaving_speeds_up():
    # Common practice, no source.
    made = moving("A", y=100, frames=20)
    y = [made.pose(f).parts["name"].shift[0, 1] for f in range(21)]
    assert abs(y[1] - y[0]) > abs(y[20] - y[19])
    out = [made.pose(99 - 20 + f).parts["name"].shift[0, 1] for f in range(21)]
    assert abs(out[1] - out[0]) < abs(out[20] - out[19])


def test_order_last_to_first_starts_at_the_end():
    made = moving("ABC", y=50, by="character", order="last to first", overlap=0, frames=30)
    shift = made.pose(12).parts["name"].shift[:, 1]
    assert shift[2] == 0
    assert shift[0] == 50


def test_own_way_out_ends_on_the_last_frame():
    own = OwnWayOut((Move(opacity=0, frames=25, ease=READY_EASES["even"]),))
    made = scene(edits.set_relations(plated(), "name", way_out=own))
    assert made.pose(74).parts["name"].opacity[0] == 1
    assert made.pose(98).parts["name"].opacity[0] == pytest.approx(1 / 25)
    assert not made.pose(99).parts["name"].shown


def test_a_part_that_stays_is_there_on_the_last_frame():
    template = edits.set_relations(plated(), "plate", way_out=StaysToTheEnd(), way_in=())
    assert scene(template).pose(99).visible_box("plate") is not None


def test_several_moves_add_up():
    template = edits.set_relations(plated(), "name", way_in=(Move(y=50, frames=10), Move(opacity=0, by="character", frames=20)))
    pose = scene(template).pose(5).parts["name"]
    assert pose.unit == "character"
    assert len(set(pose.shift[:, 1].tolist())) == 1
    assert len(set(pose.opacity.tolist())) > 1


def test_a_mirrored_part_without_a_way_in_does_not_leave():
    template = edits.set_relations(plated(), "plate", way_in=(), way_out=Mirrored())
    assert scene(template).pose(99).parts["plate"].shown


def test_demo_templates_are_empty_at_both_ends(name_strap, episode_title):
    for template in (name_strap, episode_title):
        for length in (template.length, template.length * 3, 80):
            made = scene(template, length)
            assert not made.picture(0, 480, 270).any()
            assert not made.picture(length - 1, 480, 270).any()
            assert made.picture(length // 2, 480, 270).any()
