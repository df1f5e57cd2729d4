"""Each from elsewhere: by chance, and the same everywhere; at rest nothing moves; what each span does; by hands."""

import msgspec
import numpy as np
import pytest
from conftest import plated
from hands import settle
from hypothesis import given, settings
from hypothesis import strategies as st
from PyQt6.QtCore import Qt

from avlet.document.editing.timing import shuffled_again
from avlet.document.parts import PatternPart, Place, TextPart
from avlet.document.template import Frame, Template
from avlet.document.time.moves import READY_MOVES, Elsewhere, Move, OwnWayOut, name_of_move
from avlet.layout.copies import own_copies
from avlet.layout.holding import hold
from avlet.media.drawing import Drawing, Painter
from avlet.motion.chances import chances, drawn
from avlet.motion.schedule import schedule
from avlet.paint.scene import Scene

replace = msgspec.structs.replace
SHAPES = ("anywhere in a box", "on a ring", "beyond the nearest edge", "a point", "away from a point")
FRAME = Frame(1920, 1080)
EDGES = np.array([[40.0, 400.0, 80.0, 460.0], [900.0, 500.0, 950.0, 560.0], [1800.0, 1000.0, 1850.0, 1040.0], [1000.0, 20.0, 1040.0, 60.0]])


def template(text="Tide", **named):
    move = replace(Move(by="character", frames=20, overlap=60.0, seed=3), **named)
    part = TextPart(id="word", name="Word", text=text, family="Inter", style="Bold", size=90.0, across=Place(gap=700.0), down=Place(gap=500.0),
                    way_in=(move,))  # fmt: skip
    return hold(Template(frame=FRAME, parts=(part,), length=100, way_in=40, way_out=40))


def shifts(template, frame, book):
    return Scene(template, book).pose(frame).parts["word"].shift


@pytest.mark.parametrize("shape", SHAPES)
def test_at_rest_nothing_moves_and_everywhere_it_is_the_same(shape, book):
    made = template(elsewhere=Elsewhere(shape, turn=40.0, tilt=20.0, size=50.0, opacity=30.0, delay=8.0), opacity=20.0)
    still = template()
    scene = Scene(made, book)
    assert np.array_equal(scene.picture(50, 480, 270), Scene(still, book).picture(50, 480, 270)), "px for px as if it had never moved"
    drawing = Drawing.of(scene, (480, 270))
    anew = Painter(Drawing(**{**drawing.__dict__, "_made": None})).paint(9)
    assert np.array_equal(scene.picture(9, 480, 270), anew), "in a worker as here"
    assert not np.array_equal(scene.picture(9, 480, 270), Scene(shuffled_again(made, ["word"]), book).picture(9, 480, 270))
    assert not scene.picture(99, 480, 270).any(), "gone on the last frame"


@settings(max_examples=60)
@given(st.integers(0, 999_999), st.integers(1, 60), st.integers(0, 60))
def test_what_a_unit_gets_does_not_hang_on_how_many_there_are(seed, few, more):
    assert np.array_equal(drawn(seed, few), drawn(seed, few + more)[:few]) and np.abs(drawn(seed, few)).max() <= 1


@settings(max_examples=40)
@given(st.sampled_from(SHAPES), st.floats(0, 2000), st.floats(0, 2000), st.integers(0, 10_000))
def test_each_place_lies_where_its_shape_says(shape, x, y, seed):
    own = chances(Move(by="character", seed=seed, elsewhere=Elsewhere(shape, x, y, 25.0, 75.0)), EDGES, FRAME)
    middles = (EDGES[:, :2] + EDGES[:, 2:]) / 2
    point, far = np.array([480.0, 810.0]), np.hypot(*own.shift.T)
    match shape:
        case "anywhere in a box":
            assert (np.abs(own.shift) <= [x + 1e-9, y + 1e-9]).all()
        case "on a ring":
            assert (np.abs(far - x) <= y + 1e-6).all() or y > x
        case "a point":
            assert (np.abs(middles + own.shift - point) <= [x + 1e-6, y + 1e-6]).all()
        case "away from a point":
            before, after = np.hypot(*(middles - point).T), np.hypot(*(middles + own.shift - point).T)
            assert (np.abs(after - before - x) <= y + 1e-6).all() or y > x
        case "beyond the nearest edge":
            moved = EDGES + np.tile(own.shift, 2)
            outside = (moved[:, 2] <= 0) | (moved[:, 3] <= 0) | (moved[:, 0] >= 1920) | (moved[:, 1] >= 1080)
            assert outside.all()


def test_units_leave_by_the_edge_that_is_nearest():
    own = chances(Move(elsewhere=Elsewhere("beyond the nearest edge", 0.0, 0.0)), EDGES, FRAME)
    assert np.sign(own.shift).tolist() == [[-1, 0], [0, -1], [0, 1], [0, -1]]


@pytest.mark.parametrize(("span", "channel"), [("turn", 0), ("tilt", 1)])
def test_turns_lie_within_their_span_and_one_span_changes_no_other(span, channel):
    bare = chances(Move(by="character", elsewhere=Elsewhere()), EDGES, FRAME)
    own = chances(Move(by="character", elsewhere=Elsewhere(**{span: 30.0})), EDGES, FRAME)
    assert 0 < np.abs(own.angles[:, channel]).max() <= 30 and np.array_equal(own.shift, bare.shift)
    assert not np.delete(own.angles, channel, 1).any() and not bare.angles.any() and not own.size.any()


def test_sizes_and_opacities_differ_by_no_more_than_they_may(book):
    made = template("Harbour", elsewhere=Elsewhere(x=0.0, y=0.0, size=40.0, opacity=30.0), opacity=50.0, scale_x=100.0)
    posed = Scene(made, book).pose(0).parts["word"]
    assert (np.abs(posed.scale - 1) <= 0.4 + 1e-9).all() and len(set(posed.scale[:, 0].round(6))) == 7
    assert ((posed.opacity >= 0.2 - 1e-9) & (posed.opacity <= 0.8 + 1e-9)).all() and len(set(posed.opacity.round(6))) == 7


def test_delays_make_units_later_and_the_whole_longer_by_no_more_than_they_say():
    move = Move(by="character", frames=20, overlap=50.0, elsewhere=Elsewhere(delay=10.0))
    plain, late = schedule(replace(move, elsewhere=None), 8), schedule(move, 8)
    added = late.begins - plain.begins
    assert (added >= 0).all() and (added <= 10).all() and len(set(added.round(6))) == 8
    assert late.unit_frames == plain.unit_frames and plain.total < late.total <= plain.total + 10
    assert late.end == pytest.approx(late.begins.max() + late.unit_frames)


def test_the_way_out_has_a_seed_of_its_own(book):
    made = template(elsewhere=Elsewhere())
    mirrored = shifts(made, 99 - 8, book)
    assert mirrored == pytest.approx(shifts(made, 8, book))
    move = made.parts[0].way_in[0]
    out = hold(replace(made, parts=(replace(made.parts[0], way_out=OwnWayOut((replace(move, seed=9),))),)))
    assert shifts(out, 90, book) != pytest.approx(mirrored)


def test_what_comes_out_of_a_matte_by_chance_is_outside_while_it_waits(book):
    """Chance offsets must not bring a unit back into its window before its turn."""
    base = plated("Odalys Brandt")
    name = base.part("name")
    move = replace(name.way_in[0], by="character", overlap=90.0, frames=40, elsewhere=Elsewhere(x=300.0, y=300.0, turn=90.0))
    made = hold(replace(base, parts=tuple(replace(p, way_in=(move,)) if p.id == "name" else p for p in base.parts)))
    scene = Scene(made, book)
    pose, still = scene.pose(1), scene.pose(scene.length // 2)
    window = still.parts["plate"].rest.box
    posed = pose.parts["name"]
    corners = posed.corners
    outside = (corners[..., 1].min(1) >= window.bottom) | (corners[..., 1].max(1) <= window.y) | (
        corners[..., 0].min(1) >= window.right) | (corners[..., 0].max(1) <= window.x)  # fmt: skip
    assert outside.mean() > 0.9


def test_copies_have_sizes_and_widths_by_chance_and_others_stay_as_they_were():
    part = PatternPart(id="bars", name="Bars", count=20, width=100.0, height=10.0, step_x=0.0, step_y=20.0, seed=4)
    plain = own_copies(part)
    wide = own_copies(replace(part, scatter_width=50.0))
    assert np.array_equal(wide.scale[:, 1], plain.scale[:, 1]) and len(set(wide.scale[:, 0].round(6))) == 20
    assert (np.abs(wide.scale[:, 0] - 1) <= 0.5).all()
    sized = own_copies(replace(part, scatter_size=30.0))
    assert np.array_equal(sized.scale[:, 0], sized.scale[:, 1]) and 0.7 <= sized.scale.min() < sized.scale.max() <= 1.3
    scattered = replace(part, scatter=12.0, scatter_turn=30.0)
    more = own_copies(replace(scattered, scatter_width=50.0))
    assert np.array_equal(own_copies(scattered).turn, more.turn), "one more chance changes no other"
    edges = wide.edges
    assert edges[:, 2] - edges[:, 0] == pytest.approx(100 * wide.scale[:, 0])


def test_it_is_ready_made_and_named():
    assert name_of_move(READY_MOVES["gathers"]) == "gathers" and name_of_move(Move(elsewhere=Elsewhere())) == "gathers"


# Hands


def test_it_is_chosen_in_the_sentence_and_shuffled_by_a_key(window, qtbot):
    from hands import chip, choose

    def key(pressed):
        window.build.stage.setFocus()
        qtbot.keyClick(window.windowHandle(), pressed)
        settle()

    session, at = window.session, "elsewhere"
    session.select("name")
    session.edit("By letters", lambda t: replace(t, parts=tuple(
        replace(p, way_in=(replace(p.way_in[0], by="character"),)) if p.id == "name" else p for p in t.parts)))  # fmt: skip
    settle()
    choose(qtbot, chip(window, at), "on a ring")
    settle()
    move = session.template.part("name").way_in[0]
    assert move.elsewhere.shape == "on a ring"
    key(Qt.Key.Key_U)
    assert session.template.part("name").way_in[0].seed == move.seed + 1
    window.undo()
    assert session.template.part("name").way_in[0] == move
    choose(qtbot, chip(window, at), "from one place")
    settle()
    assert session.template.part("name").way_in[0].elsewhere is None
    said = []
    session.refused.connect(said.append)
    key(Qt.Key.Key_U)
    assert "Nothing of that comes by chance" in said[-1]
