"""What attacks on the engine have found: traces instead of pictures, wrong pictures, and what went unsaid."""

import itertools
import math

import numpy as np
import pytest
from conftest import plated
from hypothesis import given, settings
from hypothesis import strategies as st
from test_moves import EVEN, bar, scene, titled, words

from avlet.document.cards.card import Card, Section
from avlet.document.cards.formulas import FormulaError, work_out
from avlet.document.editing import edits
from avlet.document.fields import NumberField
from avlet.document.looks.paints import Outline, Shadow, Solid
from avlet.document.parts import EchoPart, Fit, GroupPart, Matte, PatternPart, Place, RulePart, ShapePart
from avlet.document.template import MotionBlur
from avlet.document.time.eases import READY_EASES
from avlet.document.time.keys import Key, Keyed
from avlet.document.time.moves import Move, OwnWayOut, StaysToTheEnd, Sway, Tie
from avlet.errors import AnswerError
from avlet.paint.scene import Scene, first_alike
from avlet.storage.package import package_files
from avlet.text.fonts import bundled_fonts

replace = edits.replace
PAST = READY_EASES["a little past"]
GREY = ShapePart(id="behind", name="Behind", across=Place(), down=Place(), width=400, height=200, fill=Solid("#808080"))
HALF_OPEN = MotionBlur(shutter=180, phase=-90)


def leaving(**look) -> dict[str, object]:
    return {"way_in": (Move(frames=20, ease=EVEN, **look),), "way_out": StaysToTheEnd()}


# Traces instead of pictures


@pytest.mark.parametrize("kind", ["group", "echo"])
def test_the_last_breath_of_a_colour_on_something_made_of_parts(kind):
    """A tint so faint that its alpha is 0 of 255 makes no filter."""
    move = Move(coloured=True, colour="#FF0000", frames=20)
    if kind == "group":
        template = titled(bar(group="g"), GroupPart(id="g", name="G", way_in=(move,)))
    else:
        template = titled(bar(), EchoPart(id="e", name="E", of="a", way_in=(move,)))
    made = scene(template)
    for frame in (17, 18, 19, 80, 81, 82):
        assert made.picture(frame)[..., 0].max() == 255


@pytest.mark.parametrize("frames", [10, 15, 20, 25])
def test_a_line_drawn_with_an_ease_that_goes_past(frames):
    rule = bar(outline=Outline(4, "middle", fill=Solid("#FFFFFF")), way_in=(Move(drawn=0, frames=frames, ease=PAST),))
    made = scene(titled(rule, way_in=25, way_out=25))
    whole = made.picture(50)
    for frame in range(1, 26):
        made.picture(frame)
    assert np.array_equal(made.picture(26), whole)


@pytest.mark.parametrize("grow", [30, -10])
def test_a_grown_matte_of_any_outline_is_painted_and_saved(grow):
    """A union of outlines may fail; a line along the outline cannot. This text and this face made one fail."""
    source = words("What the Tide Keeps", family="Fira Sans", style="Bold")
    source = replace(source, size=120.0, shown=False)
    plate = ShapePart(id="a", name="A", across=Place(), down=Place(), width=1400, height=300, mattes=(Matte("t", hides=True, grow=grow),))
    template = titled(plate, source, frame=plated().frame)
    alpha = scene(template).picture(50)[..., 3]
    plain = scene(edits.set_property(template, "a/mattes.0.grow", 0)).picture(50)[..., 3]
    assert (alpha < 128).sum() > (plain < 128).sum() if grow > 0 else (alpha < 128).sum() < (plain < 128).sum()


def test_a_grown_matte_reaches_that_many_px_further():
    plate = bar(mattes=(Matte("m", grow=10),), x=20, width=300, height=100)
    hider = bar("m", x=100, width=60, height=40, shown=False)
    for grow, wanted in ((10, 80), (0, 60), (-10, 40)):
        alpha = scene(titled(edits.replace(plate, mattes=(Matte("m", grow=grow),)), hider)).picture(50)[..., 3]
        assert (alpha[80] == 255).sum() == wanted


def test_a_picture_that_fails_does_not_hinder_saving(monkeypatch):
    monkeypatch.setattr(Scene, "paint", lambda *_, **__: (_ for _ in ()).throw(RuntimeError("no picture")))
    files = package_files(plated(), bundled_fonts())
    assert files["template.json"] and files["thumbnail.png"].startswith(b"\x89PNG")


@pytest.mark.parametrize("text", ["\u200b", "\u200b\u200b\n\u200b", "\u2060", "\u200d", "", " ", "\u00ad"])
def test_a_text_of_nothing_that_shows_moves_by_line_and_by_letter(text):
    moves = (Move(by="line", y=20), Move(by="character", opacity=0, tracking=200))
    made = scene(titled(words(text, way_in=moves)))
    for frame in (0, 5, 50, 95):
        assert not made.picture(frame).any()


def test_whole_numbers_larger_than_any_float():
    large = 10**400
    with pytest.raises(FormulaError, match="finite"):
        work_out("n * n", {"n": 10**300})
    with pytest.raises(ValueError, match="takes a number, not “a number of about 400 digits”"):
        edits.type_of(plated(), "name/size").check(large)
    with pytest.raises(AnswerError, match="number"):
        answered = titled(words(), card=Card(sections=(Section(fields=(NumberField(id="n", label="N", default=1),)),)))
        scene(answered, n=large)


# Wrong pictures


@pytest.mark.parametrize("by", ["character", "word"])
def test_eased_as_a_whole_every_letter_stays_once_it_is_there(by):
    move = Move(
        by=by,
        scale_x=0,
        scale_y=0,
        frames=20,
        overlap=50,
        ease=PAST,
        ease_over="the whole",
    )
    made = scene(titled(words(way_in=(move,))))
    largest = max(float(made.pose(f).parts["t"].scale.max()) for f in range(25))
    assert largest < 1.5
    ends = [made.pose(f).parts["t"].scale[0, 0] for f in range(12, 25)]
    assert min(ends) > 0.9


def test_equal_frames_are_equal_in_all_that_is_painted():
    """Of a wipe in from the left and out from the right no frame is like another one's mirror; nor of two colours."""
    wipes = bar(
        way_in=(Move(opened=0, opens_from="left", frames=20, ease=EVEN),),
        way_out=OwnWayOut((Move(opened=0, opens_from="right", frames=20, ease=EVEN),)),
    )
    colours = bar("b", way_in=(Move(coloured=True, colour="#00FF00", frames=20, ease=EVEN),),
                  way_out=OwnWayOut((Move(coloured=True, colour="#0000FF", frames=20, ease=EVEN),)))  # fmt: skip
    for part in (wipes, colours):
        made = scene(titled(part))
        for frame, first in enumerate(first_alike(made)):
            assert frame == first or np.array_equal(made.picture(frame), made.picture(first))


@pytest.mark.parametrize("blend", ["multiply", "screen", "difference", "darken", "lighten"])
@pytest.mark.parametrize("grouped", [False, True])
def test_motion_blur_keeps_the_blend(blend, grouped):
    part = bar(fill=Solid("#E0A060"), way_in=(Move(x=-60, frames=20, ease=EVEN),), way_out=StaysToTheEnd())
    parts = (
        (bar(fill=part.fill, way_in=part.way_in, group="g"), GroupPart(id="g", name="G", blend=blend))
        if grouped
        else (replace(part, blend=blend),)
    )
    template = titled(GREY, *parts)
    sharp, soft = scene(template).picture(10), scene(replace(template, motion_blur=HALF_OPEN)).picture(10)
    x, y = 110, 80  # well inside of the bar through the whole exposure
    assert np.abs(sharp[y, x].astype(int) - soft[y, x]).max() <= 1
    assert not np.array_equal(sharp, soft)
    assert (soft[5, 5] == sharp[5, 5]).all() and (soft[..., 3] == 255).all()


@pytest.mark.parametrize(("degrees", "frames"), [(360.0, 20), (1440.0, 20), (3600.0, 20), (3600.0, 10)])
def test_a_spin_is_blurred_however_far_it_turns_in_one_frame(degrees, frames):
    """The last one turns once round in each frame: the moments at both ends of the exposure are alike."""
    part = bar(width=80, height=80, corner=0, way_in=(Move(turn=degrees, frames=frames, ease=EVEN),), way_out=StaysToTheEnd())
    made = scene(titled(part, motion_blur=MotionBlur(shutter=360, phase=0)))
    assert made.moves_while_exposed(5)
    levels = made.picture(5)[..., 3]
    assert ((levels > 10) & (levels < 245)).sum() > 400


def test_a_pattern_that_fills_its_box_blurs_as_it_drifts():
    filled = PatternPart(id="p", name="P", fit=Fit(("a",)), lies="in a grid", width=10, height=10, step_x=40, step_y=40, drift_x=1000)
    made = scene(titled(bar(), filled, motion_blur=HALF_OPEN))
    assert made.moves_while_exposed(50)
    assert not scene(titled(bar(), replace(filled, drift_x=0.0), motion_blur=HALF_OPEN)).moves_while_exposed(50)


@pytest.mark.parametrize("around", ["opacity", "blend", "soft matte", "wipe", "motion blur", "group"])
def test_a_moving_blur_is_never_cut_to_a_box(around):
    """Wherever a layer is begun for a part, it has room for the blur of its moves: no hard step where the softness ends."""
    values: dict[str, object] = {"opacity": 90.0, "shadows": (Shadow(0, 0, 1),)} if around == "opacity" else {}
    moves = [Move(blur=60, frames=20, ease=EVEN)]
    more, changes = [], {}
    if around == "blend":
        values["blend"] = "screen"
    if around == "soft matte":
        more, values["mattes"] = [bar("m", x=-200, width=800, height=600, down=Place(gap=-200), shown=False)], (Matte("m", soft=2),)
    if around == "wipe":
        moves.append(Move(opened=0, opens_soft=5, frames=12))
    if around == "motion blur":
        changes["motion_blur"] = HALF_OPEN
        moves.append(Move(x=4, frames=20, ease=EVEN))
    if around == "group":
        values["group"] = "g"
        more = [GroupPart(id="g", name="G", opacity=90)]
    part = bar(x=160, way_in=tuple(moves), way_out=StaysToTheEnd(), **values)
    alpha = scene(titled(part, *more, **changes)).picture(3)[..., 3].astype(int)
    assert alpha.max() > 20
    assert np.abs(np.diff(alpha, axis=0)).max() < 16 and np.abs(np.diff(alpha, axis=1)).max() < 16


@pytest.mark.parametrize("grouped", [False, True])
def test_the_edge_of_a_soft_matte_stays_soft_under_motion_blur(grouped):
    matte = bar("m", x=160, shown=False)
    group = {"group": "g"} if grouped else {}
    moving = bar(x=60, width=260, height=120, mattes=(Matte("m", soft=40),), way_in=(Move(x=-60, frames=20, ease=EVEN),), **group)
    parts = (matte, replace(moving, down=Place(gap=20)), *((GroupPart(id="g", name="G"),) if grouped else ()))
    sharp, soft = (scene(titled(*parts, motion_blur=blur)).picture(10)[..., 3].astype(int) for blur in (MotionBlur(), HALF_OPEN))
    assert np.abs(np.diff(soft, axis=1)).max() <= np.abs(np.diff(sharp, axis=1)).max() + 4
    assert (soft > 2).sum() >= (sharp > 2).sum() * 0.97


@pytest.mark.parametrize("length", [40, 41, 60, 100])
def test_a_drift_does_not_jump_where_there_is_no_hold(length):
    made = scene(titled(bar(sways=(Sway("drifts", x=60),), way_out=StaysToTheEnd())), length)
    ways = [made.pose(f).parts["a"].shift[0, 0] for f in range(length)]
    assert max(abs(b - a) for a, b in itertools.pairwise(ways)) < 3


def test_keys_never_run_backwards_however_short_a_title_is():
    part = bar(keys=(Keyed("turn", (Key(20, 0.0), Key(20, 100.0, "end"))),))
    held = bar("b", keys=(Keyed("turn", (Key(0, 0.0, "hold"), Key(100, 100.0, "hold"))),))
    for length in (30, 40, 41, 45, 60):
        made = scene(titled(part, held), length)
        for part_id in ("a", "b"):
            turns = [made.pose(f).parts[part_id].rest.part.turn for f in range(length)]
            assert all(b >= a - 1e-9 for a, b in itertools.pairwise(turns))


def test_keys_that_meet_change_places_at_no_length():
    part = bar(keys=(Keyed("turn", (Key(30, 0.0), Key(30, 90.0, "end"), Key(10, 180.0, "end"))),))
    for length in range(41, 100):
        made = scene(titled(part), length)
        turns = [made.pose(f).parts["a"].rest.part.turn for f in range(length)]
        assert all(b >= a - 1e-9 for a, b in itertools.pairwise(turns)), length
        assert turns[0] == 0 and turns[-1] == 180


def still_showing(template) -> int:
    """px of the name that show on the first frame, its plate unseen."""
    return int((scene(edits.set_property(template, "plate/opacity", 0)).picture(0)[..., 3] > 0).sum())


OTHERS = {
    "tracking in the move": {"tracking": 900},
    "a second move that scales": Move(scale_x=300, scale_y=300),
    "one that turns": Move(turn=90),
    "one that tracks": Move(tracking=1000),
    "perspective": Move(turn_x=60, turn_y=80, depth=200),
    "nothing": Move(y=1),
}


@pytest.mark.parametrize("side", ["below", "above", "left", "right"])
@pytest.mark.parametrize("other", OTHERS)
@pytest.mark.parametrize("by", ["whole", "character"])
def test_just_out_of_the_matte_is_out_whatever_else_moves(side, other, by):
    own = OTHERS[other]
    moves = [Move(travel="out of the matte", side=side, by=by, start=5, **(own if isinstance(own, dict) else {}))]
    moves += [own] if isinstance(own, Move) else []
    assert still_showing(edits.set_relations(plated(), "name", way_in=tuple(moves))) == 0


@pytest.mark.parametrize("side", ["below", "above", "left", "right"])
@pytest.mark.parametrize("turn", [0, 15, 90])
@pytest.mark.parametrize("slides", [Move(x=-300, y=-150), Move(x=200, y=90, turn=12), Move(scale_x=150)])
def test_just_out_of_the_matte_with_a_plate_that_moves_in_a_group_that_is_turned(side, turn, slides):
    template = edits.set_relations(plated(), "name", way_in=(Move(travel="out of the matte", side=side, by="line", start=9),))
    template = edits.set_relations(template, "plate", way_in=(slides,))
    parts = tuple(replace(part, group="g") for part in template.parts)
    assert still_showing(replace(template, parts=(*parts, GroupPart(id="g", name="G", turn=turn)))) == 0


@settings(max_examples=40)
@given(
    st.sampled_from(["Odalys Brandt", "What the Tide\nKeeps", "Ay"]), st.sampled_from(["below", "above", "left", "right"]),
    st.floats(50, 200), st.floats(-40, 40), st.sampled_from([-10, 0, 25]), st.floats(-60, 60),
)  # fmt: skip
def test_just_out_of_a_grown_matte_by_a_text_that_is_scaled_and_turned(text, side, scale, turn, grow, lean):
    move = Move(travel="out of the matte", side=side, by="word", turn=lean)
    template = edits.set_relations(plated(text), "name", way_in=(move,), mattes=(Matte("plate", grow=grow),))
    for target, value in (("name/scale_x", scale), ("name/turn", turn)):
        template = edits.set_property(template, target, value)
    assert still_showing(template) == 0


def test_what_must_end_with_another_begins_at_the_start_at_the_earliest_and_says_so():
    long = words(
        "A long line that takes its time", way_in=(Move(by="character", pace="by step", step=3, frames=10, tie=Tie("a", "ending with it")),)
    )
    made = scene(titled(bar(way_in=(Move(frames=20),)), long))
    assert made.choreography.timings["t"].way_in[0].start == 0
    assert any("too many to end with A" in note for note in made.notes())


def test_a_later_echo_takes_its_keys_along():
    part = bar(keys=(Keyed("turn", (Key(0, 0.0), Key(10, 100.0))),))
    made = scene(titled(part, EchoPart(id="e", name="E", of="a", later=5, across=Place(gap=10), down=Place(gap=10))))
    assert made.pose(10).echoes["e"].parts["a"].rest.part.turn == pytest.approx(made.pose(5).parts["a"].rest.part.turn)


@pytest.mark.parametrize("dash", [0, 20])
def test_a_rule_with_round_ends_stays_in_its_box_as_it_unfolds(dash):
    rule = RulePart(
        id="a", name="A", across=Place(gap=50), down=Place(gap=60), length=200, width=60, caps="round", dash=dash, **leaving(scale_x=0)
    )
    made = scene(titled(rule))
    for frame in range(1, 20):
        columns = np.flatnonzero(made.picture(frame)[..., 3].any(axis=0))
        box = made.pose(frame).parts["a"].outline_box
        assert not len(columns) or (columns[0] >= math.floor(box.x) and columns[-1] <= math.ceil(box.right))
