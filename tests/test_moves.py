"""What moves do: perspective, skew, blur, tracking, colour, wipes; orders, paces, ties, sways; spans that fit; skipped ends."""

import itertools
import math

import numpy as np
import pytest
from conftest import plated
from hypothesis import given, settings
from hypothesis import strategies as st

from avlet.document.cards import carding
from avlet.document.cards.card import Card, Section
from avlet.document.cards.wires import Wire
from avlet.document.editing import edits
from avlet.document.faults.checking import check
from avlet.document.fields import SwitchField
from avlet.document.looks.paints import Solid
from avlet.document.parts import EchoPart, GroupPart, Place, ShapePart, TextPart
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import READY_MOVES, Mirrored, Move, OwnWayOut, StaysToTheEnd, Sway, Tie, name_of_move
from avlet.errors import DocumentError, RelationError
from avlet.motion import transforms
from avlet.motion.schedule import ranked, schedule
from avlet.paint.scene import Scene
from avlet.text.fonts import bundled_fonts

EVEN = READY_EASES["even"]
FRAME = Frame(400, 200, "25/1")


def scene(template, length=None, **answers) -> Scene:
    return Scene(template, bundled_fonts(), answers, length)


def bar(part_id="a", x=100.0, **values) -> ShapePart:
    given = {"across": Place(gap=x), "down": Place(gap=60), "width": 80, "height": 40, "fill": Solid("#FF0000"), **values}
    return ShapePart(id=part_id, name=part_id.upper(), **given)


def titled(*parts, **values) -> Template:
    return check(Template(**{"parts": parts, "frame": FRAME, "length": 100, "way_in": 20, "way_out": 20, **values}))


def words(text="Odalys Brandt", **values) -> TextPart:
    return TextPart(id="t", name="T", text=text, size=50, across=Place(gap=20), down=Place(gap=40), **values)


# Looks


def test_perspective_is_the_homography_of_turned_points():
    turn, tilt, swing, depth = 20.0, -35.0, 50.0, 900.0
    a, b, c = map(math.radians, (turn, tilt, swing))
    plane = np.array([[math.cos(a), -math.sin(a), 0], [math.sin(a), math.cos(a), 0], [0, 0, 1]])
    upright = np.array([[math.cos(c), 0, math.sin(c)], [0, 1, 0], [-math.sin(c), 0, math.cos(c)]])
    level = np.array([[1, 0, 0], [0, math.cos(b), -math.sin(b)], [0, math.sin(b), math.cos(b)]])
    made = transforms.perspective(turn, tilt, swing, depth)
    for x, y in ((0, 0), (100, 0), (-40, 70), (250, -120)):
        px, py, pz = level @ upright @ plane @ np.array([x, y, 0.0])
        u, v, w = made @ np.array([x, y, 1.0])
        assert (u / w, v / w) == pytest.approx((px * depth / (depth + pz), py * depth / (depth + pz)))


def test_a_tilted_bar_is_nearer_on_one_side():
    made = scene(titled(bar(way_in=(Move(turn_y=60, depth=300, frames=20, ease=EVEN),), way_out=StaysToTheEnd())))
    alpha = made.picture(10)[..., 3] > 128
    columns = np.flatnonzero(alpha.any(axis=0))
    left, right = alpha[:, columns[2]].sum(), alpha[:, columns[-3]].sum()
    assert abs(int(left) - int(right)) >= 3
    assert made.pose(0).visible_box("a").w < 60 < made.pose(20).visible_box("a").w == 80


def test_skew_leans_the_top_to_the_right():
    made = scene(titled(bar(way_in=(Move(skew=45, frames=20, ease=EVEN),), way_out=StaysToTheEnd())))
    box = made.pose(0).visible_box("a")
    assert (box.x, box.w) == pytest.approx((80, 120))
    alpha = made.picture(0)[..., 3] > 128
    assert np.flatnonzero(alpha[62]).mean() > np.flatnonzero(alpha[98]).mean() + 30


def test_focus_blurs_each_letter_and_is_sharp_once_arrived():
    made = scene(titled(words(way_in=(Move(blur=20, by="character", overlap=0, frames=20, ease=EVEN),))))
    soft, sharp = made.pose(8).parts["t"], made.pose(40).parts["t"]
    assert soft.blur[0] == 0 and soft.blur[-1] == 20 and sharp.blur is None
    part = np.abs(np.diff(made.picture(0)[..., 3].astype(int), axis=1)).max()
    assert part < np.abs(np.diff(made.picture(40)[..., 3].astype(int), axis=1)).max() / 2


@pytest.mark.parametrize(("align", "held"), [("start", 0), ("end", -1)])
def test_tracking_spreads_letters_from_the_edge_they_are_aligned_by(align, held):
    made = scene(titled(words("abcd", align=align, way_in=(Move(tracking=200, frames=20, ease=EVEN),))))
    shift = made.pose(0).parts["t"].shift[:, 0]
    assert shift[held] == 0
    assert np.diff(shift) == pytest.approx([10.0] * 3), "200 thousandths of 50 px"


def test_a_colour_is_taken_on_and_left():
    made = scene(titled(bar(way_in=(Move(coloured=True, colour="#0000FF", frames=20, ease=EVEN),))))
    assert made.picture(0)[80, 140].tolist() == [0, 0, 255, 255]
    assert made.picture(10)[80, 140] == pytest.approx([128, 0, 128, 255], abs=2)
    assert made.picture(20)[80, 140].tolist() == [255, 0, 0, 255]


@pytest.mark.parametrize("side", ["left", "right", "above", "below", "the middle"])
def test_a_wipe_shows_its_share_from_its_side(side):
    made = scene(titled(bar(way_in=(Move(opened=0, opens_from=side, frames=20, ease=EVEN),))))
    alpha = made.picture(5)[..., 3].astype(float) / 255
    assert alpha.sum() == pytest.approx(80 * 40 / 4, rel=0.12)
    ys, xs = np.nonzero(alpha > 0.5)
    where = {
        "left": xs.max() < 125,
        "right": xs.min() > 155,
        "above": ys.max() < 75,
        "below": ys.min() > 85,
        "the middle": abs(xs.mean() - 139.5) < 1,
    }
    assert where[side]
    assert not made.picture(0).any() and made.picture(20)[..., 3].sum() == 80 * 40 * 255


@pytest.mark.parametrize("soft", [0, 30])
@pytest.mark.parametrize("side", ["left", "an angle", "the middle"])
def test_a_wipe_is_closed_at_first_and_open_at_last_soft_or_not(side, soft):
    move = Move(opened=0, opens_from=side, opens_angle=30, opens_soft=soft, frames=20, ease=EVEN)
    made = scene(titled(bar(way_in=(move,))))
    areas = [made.picture(f)[..., 3].sum() / 255 for f in (0, 4, 8, 12, 16, 20)]
    assert areas[0] == 0 and areas[-1] == 80 * 40 and areas == sorted(areas)


def test_lines_are_wiped_each_in_its_own_box():
    made = scene(titled(words("One\nTwo", way_in=(Move(opened=0, by="line", overlap=0, frames=20, ease=EVEN),))))
    alpha = made.picture(10)[..., 3]
    box = made.rest.parts["t"].box
    middle = round(box.y + box.h / 2)
    assert alpha[:middle].any() and not alpha[middle:].any()


@pytest.mark.parametrize("name", READY_MOVES)
def test_every_ready_move_has_its_name_comes_from_somewhere_and_arrives(name):
    assert name_of_move(READY_MOVES[name]) == name
    made = scene(edits.set_relations(plated(), "name", way_in=(READY_MOVES[name],)))
    if name not in ("rises", "drops", "draws on"):
        assert not np.array_equal(made.picture(2, 480, 270), made.picture(50, 480, 270))
    assert made.pose(30).parts["name"].still


def test_several_moves_add_up():
    moves = (Move(y=40, frames=20, ease=EVEN), Move(opacity=0, frames=20, ease=EVEN), Move(blur=10, turn=90, frames=10, ease=EVEN))
    posed = scene(titled(bar(way_in=moves))).pose(5).parts["a"]
    assert posed.shift[0].tolist() == [0, 30] and posed.opacity[0] == 0.25 and posed.blur[0] == 5
    assert math.degrees(math.atan2(posed.matrix[0][1, 0], posed.matrix[0][0, 0])) == pytest.approx(45)


def test_moves_of_a_group_blur_tint_and_wipe_it_as_one():
    group = GroupPart(id="g", name="G", way_in=(Move(blur=30, coloured=True, colour="#0000FF", opened=0, frames=20, ease=EVEN),))
    made = scene(titled(bar("a", group="g"), bar("b", 190, group="g"), group))
    early = made.picture(10).astype(int)
    assert early[80, 120, 2] > early[80, 120, 0] * 0.6 and not early[80, 250, 3]
    assert made.picture(40)[80, 140].tolist() == [255, 0, 0, 255]


def test_what_travels_out_of_the_frame_is_wholly_out():
    for side, look in itertools.product(("below", "above", "left", "right"), ({}, {"turn": 40.0}, {"scale_x": 200.0}, {"blur": 30.0})):
        move = Move(travel="out of the frame", side=side, frames=20, **look)
        made = scene(titled(bar(way_in=(move,))))
        assert not made.picture(0).any(), (side, look)


# Orders and paces


@pytest.mark.parametrize(
    ("order", "count", "wanted"),
    [
        ("middle out", 5, [2, 1, 0, 1, 2]), ("middle out", 4, [1, 0, 0, 1]), ("ends in", 5, [0, 1, 2, 1, 0]), ("ends in", 4, [0, 1, 1, 0]),
        ("last to first", 3, [2, 1, 0]), ("middle out", 1, [0]), ("ends in", 0, []),
    ],
)  # fmt: skip
def test_orders(order, count, wanted):
    assert ranked(order, count).tolist() == wanted


def test_a_shuffle_comes_from_its_seed_and_has_each_rank_once():
    one, same, other = (ranked("shuffled", 30, seed).tolist() for seed in (4, 4, 5))
    assert one == same != other and sorted(one) == list(range(30))


@settings(max_examples=60)
@given(
    st.integers(1, 60),
    st.floats(0, 100),
    st.sampled_from(["first to last", "last to first", "middle out", "ends in", "shuffled"]),
    st.integers(1, 90),
)
def test_in_all_the_whole_takes_its_frames_in_any_order(units, overlap, order, frames):
    plan = schedule(Move(frames=frames, overlap=overlap, order=order), units)
    assert plan.total == pytest.approx(frames) and (plan.begins + plan.unit_frames).max() == pytest.approx(frames)


def test_by_step_each_begins_after_the_one_before_but_not_beyond_the_longest():
    move = Move(pace="by step", frames=10, step=3)
    assert schedule(move, 4).begins.tolist() == [0, 3, 6, 9] and schedule(move, 4).total == 19
    tight = schedule(edits.replace(move, longest=16.0), 4)
    assert tight.begins.tolist() == [0, 2, 4, 6] and tight.total == 16
    assert schedule(edits.replace(move, longest=6.0), 4).total == 6


def test_an_ease_over_the_whole_slows_the_last_units():
    move = Move(opacity=0, by="character", overlap=0, frames=20, ease=READY_EASES["soft end"])
    each, whole = (
        scene(titled(words("abcdefghij", way_in=(edits.replace(move, ease_over=over),)))).pose(10).parts["t"].opacity
        for over in ("each unit", "the whole")
    )
    assert (whole > 0.99).sum() > (each > 0.99).sum()
    made = scene(titled(words("abc", way_in=(edits.replace(move, ease_over="the whole"),))))
    assert made.pose(20).parts["t"].still and made.pose(0).parts["t"].opacity.tolist() == [0, 0, 0]


# Ties


def tied(*ties: Tie | None, **changes) -> Template:
    names = "abcd"
    parts = tuple(
        bar(n, 20 + 90 * i, way_in=(Move(x=-30, frames=10 + i, tie=tie),)) for i, (n, tie) in enumerate(zip(names, ties, strict=False))
    )
    return titled(*parts, **changes)


def test_starts_follow_the_moves_they_are_tied_to():
    template = tied(None, Tie("a", "after its start", 5), Tie("b", "after its end"), Tie("b", "ending with it"))
    times = scene(template).choreography.timings
    assert [times[n].arrives for n in "abcd"] == [(0, 10), (5, 16), (16, 28), (3, 16)]
    longer = edits.set_property(template, "b/way_in.0.frames", 30)
    assert scene(longer).choreography.timings["c"].arrives == (35, 47)


def test_a_way_out_waits_for_another_way_out():
    leaves = OwnWayOut((Move(x=-30, frames=8, tie=Tie("a", "after its end")),))
    made = scene(titled(bar("a", way_in=(Move(x=-30, frames=12),)), bar("b", 200, way_out=leaves)))
    assert made.choreography.timings["b"].leaves == (20, 28), "the mirrored way out of A ends with the title"


def test_circles_and_ties_to_nothing_are_refused_in_words():
    with pytest.raises(RelationError, match="wait for each other"):
        scene(tied(Tie("b"), Tie("a")))
    with pytest.raises(DocumentError, match="which is not in the template"):
        tied(Tie("x"))
    with pytest.raises(DocumentError, match="wait for A itself"):
        tied(Tie("a"))


def test_ties_are_copied_among_copies_and_let_go_with_what_they_wait_for():
    template, copies = edits.duplicate_parts(tied(None, Tie("a")), ["a", "b"])
    assert template.part(copies[1]).way_in[0].tie.on == copies[0]
    boxes = {p.id: (0.0, 0.0, 1.0, 1.0) for p in template.parts}
    assert edits.remove_parts(template, ["a"], boxes).part("b").way_in[0].tie is None


# Spans and sways


def test_ends_are_as_long_as_the_moves_need_with_any_text():
    move = Move(opacity=0, by="character", pace="by step", frames=6, step=2)
    template = titled(words("abcd", way_in=(move,)), fits_in=True, fits_out=True)
    assert (scene(template).spans.way_in, scene(template).spans.way_out) == (12, 12)
    longer = edits.set_property(template, "t/text", "abcdefgh")
    made = scene(longer)
    assert made.spans.way_in == 20 and made.pose(20).parts["t"].still and not made.picture(99).any()


def test_ends_that_do_not_play_stand_from_the_first_frame_to_the_last_and_can_be_on_the_card():
    field = SwitchField(id="in", label="Comes in", default=True)
    other = SwitchField(id="out", label="Leaves", default=True)
    template = titled(
        bar(way_in=(Move(opacity=0, frames=20),)), card=Card(sections=(Section(fields=(field, other)),)),
        wires=(Wire("in", "template/plays_in"), Wire("out", "template/plays_out")),
    )  # fmt: skip
    assert not scene(template).picture(0).any() and not scene(template).picture(99).any()
    stands = scene(template, **{"in": False, "out": False})
    assert stands.pose(0).parts["a"].still and stands.picture(99).any() and stands.spans.hold == 100
    made, field_id = carding.put_on_card(titled(bar()), "template/plays_in")
    assert made.wires[0].target == "template/plays_in" and made.card.field(field_id).label == "Way in plays"
    assert edits.set_property(titled(bar()), "template/motion_blur.shutter", 180).motion_blur.shutter == 180


@settings(max_examples=40)
@given(st.integers(60, 400), st.sampled_from(["breathes", "loops", "drifts"]), st.integers(2, 120))
def test_sways_fit_any_hold_and_join_both_ends(length, way, period):
    made = scene(titled(bar(sways=(Sway(way, x=30, scale=110, period=period),), way_out=StaysToTheEnd())), length)
    first, last = made.spans.way_in, length - 1 - made.spans.way_out
    assert made.pose(first).parts["a"].shift[0, 0] == pytest.approx(0, abs=1e-9)
    designed = made.template.length - 1 - made.spans.designed_in - made.spans.designed_out
    wanted = 30 * min(1.0, (last - first) / designed) if way == "drifts" else 0
    assert made.pose(last).parts["a"].shift[0, 0] == pytest.approx(wanted, abs=1e-9)
    assert made.pose(length - 1).parts["a"].shift[0, 0] == pytest.approx(wanted, abs=1e-9)


def test_a_sway_breathes_as_often_as_whole_periods_fit():
    made = scene(titled(bar(sways=(Sway("breathes", scale=120, period=20),)), length=101))
    sizes = [made.pose(f).parts["a"].scale[0, 0] for f in range(20, 81)]
    assert max(sizes) == pytest.approx(1.2) and sum(abs(s - 1.2) < 1e-6 for s in sizes) == 3


# Laws


@settings(max_examples=30)
@given(st.sampled_from(list(READY_MOVES)), st.text(alphabet="abc مرحبا漢 ", min_size=1, max_size=12), st.integers(41, 160))
def test_a_mirrored_way_out_is_the_way_in_backwards_and_the_last_frame_is_empty(name, text, length):
    move = edits.replace(READY_MOVES[name], frames=18)
    template = edits.set_relations(edits.set_property(plated(text, way_in=20, way_out=20), "name/text", text), "name", way_in=(move,))
    made = scene(template, length)
    for frame in (0, 3, 9, 17):
        there, back = made.pose(frame).parts["name"], made.pose(length - 1 - frame).parts["name"]
        assert np.array_equal(there.shift, back.shift) and np.array_equal(there.opacity, back.opacity)
        assert (there.matrix is None) == (back.matrix is None)
    assert not made.picture(length - 1, 96, 54).any()


@pytest.mark.parametrize("length", [45, 80, 200])
def test_at_every_length_the_ends_are_the_same_frames(length):
    made, other = scene(plated()), scene(plated(), length + 60)
    short = scene(plated(), length) if length >= 50 else made
    for frame in range(0, 25, 4):
        assert np.array_equal(short.picture(frame, 192, 108), other.picture(frame, 192, 108))
        ends = (short.length - 1 - frame, other.length - 1 - frame)
        assert np.array_equal(short.picture(ends[0], 192, 108), other.picture(ends[1], 192, 108))


def test_the_trades_order_plate_first_text_after_and_the_other_way_round_out():
    # Plate over 20 frames, text 5 later and also 20; on the way out the text leaves first: common practice, no source.
    made = scene(plated())
    times = made.choreography.timings
    assert times["plate"].arrives == (0, 20) and times["name"].arrives == (5, 25)
    gone = next(f for f in range(60, 100) if made.pose(f).visible_box("name") is None)
    assert made.pose(gone).visible_box("plate") is not None and isinstance(made.template.part("plate").way_out, Mirrored)


def test_echoes_move_on_their_own():
    echo = EchoPart(id="e", name="E", of="a", across=Place(gap=250), down=Place("a"), way_in=(Move(y=50, frames=20, ease=EVEN),))
    made = scene(titled(bar(), echo))
    assert made.pose(10).visible_box("e").y == 60 + 25 and made.pose(10).visible_box("a").y == 60
