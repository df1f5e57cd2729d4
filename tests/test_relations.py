"""Vanishing, closing up, riding along, limits of a fit, and mattes that hide, grow or soften."""

import itertools

import numpy as np
import pytest
from conftest import plated
from hypothesis import given, settings
from hypothesis import strategies as st

from avlet.desktop.recipe.place_sentences import re_place
from avlet.document.editing import edits
from avlet.document.faults.checking import check
from avlet.document.looks.paints import Linear, Solid
from avlet.document.parts import Fit, Matte, Place, ShapePart, TextPart
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import Move
from avlet.errors import DocumentError
from avlet.paint.scene import Scene
from avlet.text.fonts import bundled_fonts

FRAME = Frame(400, 200, "25/1")


def scene(template, **answers) -> Scene:
    return Scene(template, bundled_fonts(), answers)


def rest(template, **answers):
    return scene(template, **answers).rest.parts


def stacked(first="One", second="Two", third="Three", gap=12.0) -> Template:
    """Three texts, one under the other, each closing up when the one above it is empty."""
    below = [Place(i, "start", "end", gap, closes=True) for i in ("a", "b")]
    parts = (
        TextPart(id="a", name="A", text=first, size=40, across=Place(gap=50), down=Place(gap=100)),
        TextPart(id="b", name="B", text=second, size=40, across=Place("a"), down=below[0]),
        TextPart(id="c", name="C", text=third, size=40, across=Place("a"), down=below[1]),
    )
    return check(Template(parts=parts))


@pytest.mark.parametrize("empty", [(), ("b",), ("a",), ("a", "b")])
def test_a_column_closes_up_over_what_is_empty(empty):
    words = {i: "" if i in empty else i.upper() for i in "abc"}
    parts = rest(stacked(*words.values()))
    there = [i for i in "abc" if i not in empty]
    gaps = [parts[b].box.y - parts[a].box.bottom for a, b in itertools.pairwise(there)]
    assert gaps == pytest.approx([12.0] * len(gaps))
    assert parts["c"].box.y == pytest.approx(100 + sum(parts[i].box.h + 12 for i in there if i != "c"))


@given(st.floats(0, 60), st.text(alphabet="abc", min_size=1, max_size=8))
@settings(max_examples=25, deadline=None)
def test_gaps_of_a_stack_are_constant(gap, words):
    parts = rest(stacked(words, words * 2, words + "x", gap))
    assert parts["b"].box.y - parts["a"].box.bottom == pytest.approx(gap)
    assert parts["c"].box.y - parts["b"].box.bottom == pytest.approx(gap)


def test_without_the_switch_nothing_moves():
    template = edits.set_property(stacked(second=""), "c/down.closes", False)
    parts = rest(template)
    assert parts["c"].box.y == pytest.approx(parts["b"].box.bottom + 12)


def test_the_demo_closes_up_without_its_role_line(name_strap):
    with_role, without = rest(name_strap), rest(name_strap, **{"role-line": False})
    assert not without["role-plate"].present
    assert without["plate"].box.bottom > with_role["plate"].box.bottom + 50
    assert rest(name_strap, role="")["plate"].box == without["plate"].box


def test_a_plate_of_a_hidden_text_vanishes_too():
    parts = rest(edits.set_property(plated(), "name/shown", False))
    assert not parts["plate"].present
    assert not scene(edits.set_property(plated(), "name/shown", False)).picture(50, 192, 108).any()


def test_a_plate_that_fits_a_plate_vanishes_with_it():
    outer = ShapePart(id="outer", name="Outer", fit=Fit(("plate",)), across=None, down=None)
    assert not rest(edits.add_part(plated(""), outer))["outer"].present


@pytest.mark.parametrize(("least", "most", "wanted"), [(0, 0, None), (900, 0, 900), (0, 300, 300), (200, 5000, None)])
def test_a_fit_has_limits_and_keeps_its_middle(least, most, wanted):
    template = edits.set_property(plated(), "plate/fit.least_width", least)
    template = edits.set_property(template, "plate/fit.most_width", most)
    free, box = rest(plated())["plate"].box, rest(template)["plate"].box
    assert box.w == pytest.approx(wanted or free.w)
    assert box.middle == pytest.approx(free.middle)
    assert box.h == free.h


def test_limits_that_contradict_each_other_are_refused():
    with pytest.raises(DocumentError, match=r"parts\[0\]\.fit\.least_width: Plate has a least width of 500 px, above its most, 300 px"):
        check(edits.set_property(edits.set_property(plated(), "plate/fit.least_width", 500), "plate/fit.most_width", 300))


def test_a_fit_may_follow_one_way_only():
    template = edits.set_property(edits.set_property(plated(), "plate/fit.axes", "width"), "plate/height", 300)
    box = rest(template)["plate"].box
    assert box.h == 300
    assert box.w == pytest.approx(rest(plated())["plate"].box.w)


# Riding along


def riding(rides: bool) -> Template:
    parts = (
        ShapePart(id="s", name="S", width=100, height=50, across=Place(gap=40), down=Place(gap=40),
                  way_in=(Move(x=-60, frames=20, ease=READY_EASES["even"]),)),
        TextPart(id="t", name="T", text="Tag", size=30, across=Place("s", "start", "end", 10, rides=rides), down=Place("s")),
    )  # fmt: skip
    return Template(frame=FRAME, parts=parts)


@pytest.mark.parametrize("frame", [0, 5, 13, 20, 60, 110])
def test_what_rides_keeps_its_gap_in_every_frame(frame):
    pose = scene(riding(True)).pose(frame)
    shape, text = pose.parts["s"], pose.parts["t"]
    resting = scene(riding(True)).pose(60)
    gap = resting.parts["t"].outline_box.x - resting.parts["s"].outline_box.right
    assert text.outline_box.x - shape.outline_box.right == pytest.approx(gap)


def test_what_does_not_ride_stays_at_rest():
    pose = scene(riding(False)).pose(5)
    assert pose.parts["t"].still
    assert not pose.parts["s"].still


def test_riding_follows_an_edge_that_grows():
    template = edits.set_relations(riding(True), "s", way_in=(Move(scale_x=0, hinge_x=0, frames=20),))
    made = scene(template)
    start = made.pose(0).parts["t"].outline_box.x
    assert start == pytest.approx(made.pose(60).parts["t"].outline_box.x - 100)


# Mattes


def barred(**matte) -> Template:
    parts = (
        ShapePart(id="hole", name="Hole", width=100, height=100, across=Place(gap=150), down=Place(gap=50), shown=False),
        ShapePart(id="bar", name="Bar", width=300, height=160, fill=Solid("#FFFFFF"), across=Place(gap=50), down=Place(gap=20),
                  mattes=(Matte("hole", **matte),)),
    )  # fmt: skip
    return Template(frame=FRAME, parts=parts)


def alpha(template) -> np.ndarray:
    return scene(template).picture(60)[..., 3]


def test_hidden_inside_is_the_rest_of_shown_inside():
    inside, outside = alpha(barred()), alpha(barred(hides=True))
    assert inside[100, 200] == 255
    assert outside[100, 200] == 0
    whole = alpha(edits.set_relations(barred(), "bar", mattes=()))
    assert np.array_equal(inside.astype(int) + outside, whole.astype(int))


@pytest.mark.parametrize("grow", [20, -20])
def test_a_matte_grows_and_shrinks(grow):
    row = alpha(barred(grow=grow))[100]
    assert np.flatnonzero(row)[[0, -1]].tolist() == [150 - grow, 249 + grow]


def test_a_soft_matte_fades_as_a_gaussian():
    from scipy.stats import norm

    row = alpha(barred(soft=20))[100, 120:180] / 255
    assert np.abs(row - norm.cdf(np.arange(120, 180) + 0.5, loc=150, scale=10)).max() < 0.03
    both = alpha(barred(soft=20))[100].astype(int) + alpha(barred(soft=20, hides=True))[100]
    assert np.abs(both[60:340] - 255).max() <= 2


def test_words_are_cut_out_of_a_bar():
    text = TextPart(id="t", name="T", text="TIDE", size=90, across=Place(gap=80), down=Place(gap=50), opacity=0.0)
    bar = ShapePart(id="bar", name="Bar", fit=Fit(("t",)), across=None, down=None, fill=Linear(), mattes=(Matte("t", hides=True),))
    made = scene(Template(frame=FRAME, parts=(text, bar)))
    picture = made.picture(60)
    stem = made.rest.parts["t"].body.setting.unit_ink("character")[0] + np.array([80, 50, 80, 50])
    x, y = round((stem[0] + stem[2]) / 2), round((stem[1] + stem[3]) / 2)
    assert picture[y, x, 3] == 0
    assert picture[y, round(made.rest.parts["bar"].box.x) + 10, 3] == 255


def test_a_letter_shows_through_several_mattes():
    parts = (
        ShapePart(id="a", name="A", width=200, height=100, across=Place(gap=20), down=Place(gap=20), shown=False),
        ShapePart(id="b", name="B", width=200, height=100, across=Place(gap=120), down=Place(gap=60), shown=False),
        ShapePart(id="c", name="C", width=400, height=200, mattes=(Matte("a"), Matte("b"))),
    )
    seen = alpha(Template(frame=FRAME, parts=parts)) > 0
    rows, columns = np.flatnonzero(seen.any(axis=1)), np.flatnonzero(seen.any(axis=0))
    assert (columns[0], columns[-1], rows[0], rows[-1]) == (120, 219, 60, 119)


@given(st.floats(0, 40), st.floats(-30, 30), st.booleans())
@settings(max_examples=25, deadline=None)
def test_a_mattes_look_never_matters(soft, grow, hides):
    template = barred(soft=soft, grow=grow, hides=hides)
    changed = edits.set_property(edits.set_property(template, "hole/opacity", 13), "hole/fill.colour", "#12345600")
    assert np.array_equal(alpha(template), alpha(changed))


def test_a_sentence_on_a_place_that_is_gone_changes_nothing(window):
    session = window.session
    assert session.template.part("plate").across is None, "it has its place from the words that it fits round"
    before = session.template
    re_place(session, "plate", "across", mine="end")
    assert session.template is before
