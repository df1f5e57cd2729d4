"""Resizing: the opposite edge stays, whatever a part is placed by."""

import pytest
from conftest import plated, put
from hypothesis import given
from hypothesis import strategies as st

from avlet.document.editing import edits
from avlet.document.editing.resizing import ALL_SIDES, LEAST, handles, own_sizes, resized
from avlet.document.parts import Fit, PictureFile, PicturePart, Place, RulePart, ShapePart, TextPart
from avlet.document.template import Template
from avlet.layout.arrange import arrange
from avlet.layout.bind import bind
from avlet.text.fonts import bundled_fonts

edges = st.sampled_from(["start", "middle", "end"])
pulls = st.integers(-150, 300).map(float)


def box_of(template, part_id="s"):
    return arrange(bind(template), bundled_fonts()).parts[part_id].box


def shape(mine_x="start", mine_y="start", **changes) -> Template:
    values = {
        "width": 200.0,
        "height": 100.0,
        "across": Place("frame", mine_x, "middle", 12),
        "down": Place("title-safe", mine_y, "end", -40),
    }
    return Template(parts=(ShapePart(id="s", name="S", **{**values, **changes}),))


@given(st.sampled_from(ALL_SIDES), edges, edges, pulls, pulls)
def test_what_is_held_moves_and_the_opposite_edge_stays(sides, mine_x, mine_y, dx, dy):
    template = shape(mine_x, mine_y)
    before = box_of(template)
    after = box_of(put(template, resized(template.part("s"), before, sides, dx, dy)))
    for low, size, held, pull in ((0, 2, sides[0], dx), (1, 3, sides[1], dy)):
        wanted = max(LEAST, before[size] + pull * held)
        assert after[size] == pytest.approx(wanted, abs=0.02)
        if held == 0 or held > 0:
            assert after[low] == pytest.approx(before[low], abs=0.02)
        else:
            assert after[low] + after[size] == pytest.approx(before[low] + before[size], abs=0.02)


@given(pulls, pulls)
def test_a_shape_is_kept(dx, dy):
    template = shape()
    before = box_of(template)
    after = box_of(put(template, resized(template.part("s"), before, (1, 1), dx, dy, keep_shape=True)))
    assert after.w / after.h == pytest.approx(2, rel=0.01)


def test_what_a_fit_decides_cannot_be_pulled():
    assert handles(plated().part("plate")) == []
    assert handles(plated().part("name")) == []
    width_only = edits.set_property(plated(), "plate/fit.axes", "width").part("plate")
    assert handles(width_only) == [(0, -1), (0, 1)]


@pytest.mark.parametrize(("direction", "wanted"), [("across", ("length", "width")), ("down", ("width", "length"))])
def test_a_rule_is_pulled_along_and_across_itself(direction, wanted):
    rule = RulePart(id="r", name="R", direction=direction)
    assert own_sizes(rule) == wanted
    fitted = edits.replace(rule, fit=Fit(("x",)))
    assert own_sizes(fitted) == ((None, "width") if direction == "across" else ("width", None))


def test_pictures_have_all_handles_and_texts_none():
    assert handles(PicturePart(id="p", name="P", picture=PictureFile("a"))) == list(ALL_SIDES)
    assert handles(TextPart(id="t", name="T")) == []


def test_a_part_that_follows_another_keeps_following_when_it_is_resized():
    template = edits.add_part(plated(), ShapePart(id="s", name="S", across=Place("name", "start", "end", 20), down=Place("name")))
    made = put(template, resized(template.part("s"), box_of(template), (1, 0), 50, 0))
    assert made.part("s").across == template.part("s").across
    assert made.part("s").width == 450
