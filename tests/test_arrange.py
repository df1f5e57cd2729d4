"""Sizes and places at rest: laws for any text and padding, circles in words, safe areas."""

import pytest
from conftest import plated
from hypothesis import given, settings
from hypothesis import strategies as st

from avlet.document.editing import edits
from avlet.document.parts import Fit, Place, RulePart, ShapePart, TextPart
from avlet.document.template import Frame, Template
from avlet.errors import RelationError
from avlet.geometry import Box
from avlet.layout.areas import frame_area
from avlet.layout.arrange import arrange
from avlet.layout.bind import bind
from avlet.text.fonts import bundled_fonts

padding = st.floats(-20, 300)


def rest(template, **answers):
    return arrange(bind(template, answers), bundled_fonts()).parts


@settings(max_examples=80, deadline=None)
@given(st.text(max_size=30), st.text(max_size=30), padding, padding, padding, padding, st.sampled_from(["line box", "capitals", "ink"]))
def test_plate_is_the_union_of_the_boxes_plus_the_padding(one, two, left, right, top, bottom, box):
    template = Template(
        parts=(
            TextPart(id="a", name="A", text=one, across=Place(gap=300), down=Place(gap=200)),
            TextPart(id="b", name="B", text=two, size=40, across=Place("a", "start", "end", 25), down=Place("a", "start", "end")),
            ShapePart(id="plate", name="Plate", fit=Fit(("a", "b"), box, left, right, top, bottom), across=None, down=None),
        )
    )
    parts = rest(template)
    filled = [i for i in "ab" if parts[i].ink] or list("ab")  # an empty text takes no room
    inner = Box.union(parts[i].fitted(box) for i in filled)
    wanted = inner.grown(left, top, right, bottom)
    assert parts["plate"].box.w == pytest.approx(max(0, wanted.w), abs=0.01)
    assert parts["plate"].box.h == pytest.approx(max(0, wanted.h), abs=0.01)
    assert parts["plate"].box[:2] == pytest.approx(wanted[:2], abs=0.01)


def test_usual_buffer_round_a_title():
    # 50 px at the sides, 25 px above and below: common practice, no source.
    parts = rest(plated())
    name, plate = parts["name"].box, parts["plate"].box
    assert (name.x - plate.x, plate.right - name.right) == pytest.approx((50, 50))
    assert (name.y - plate.y, plate.bottom - name.bottom) == pytest.approx((25, 25))


def test_type_size_doubles_with_the_lines_of_the_picture(name_strap):
    # 100 px at 1080 lines, 200 px at 2160: common practice, no source.
    small = rest(plated())["name"].words.line_box.w
    template = edits.set_property(plated(), "name/size", 160)
    assert rest(template)["name"].words.line_box.w == pytest.approx(2 * small)


@pytest.mark.parametrize("frame", [Frame(1920, 1080), Frame(3840, 2160), Frame(1080, 1920)])
def test_safe_areas(frame):
    # SMPTE ST 2046-1: safe action 93 %, safe title 90 % of width and height.
    action, title = frame_area("action-safe", frame), frame_area("title-safe", frame)
    assert (action.w / frame.width, action.h / frame.height) == pytest.approx((0.93, 0.93))
    assert (title.w / frame.width, title.h / frame.height) == pytest.approx((0.9, 0.9))
    assert title.middle == pytest.approx((frame.width / 2, frame.height / 2))


@given(st.sampled_from(["start", "middle", "end"]), st.sampled_from(["start", "middle", "end"]), st.floats(-200, 200))
def test_a_placed_edge_stands_on_the_other(mine, theirs, gap):
    share = {"start": 0, "middle": 0.5, "end": 1}
    shape = ShapePart(id="s", name="S", width=120, height=60, across=Place("title-safe", mine, theirs, gap))
    box = rest(Template(parts=(shape,)))["s"].box
    area = frame_area("title-safe", Frame())
    assert box.x + box.w * share[mine] == pytest.approx(area.x + area.w * share[theirs] + gap)


@given(st.text(min_size=1, max_size=40))
def test_growth_keeps_the_placed_edge(words):
    template = plated()
    for mine in ("start", "middle", "end"):
        placed = edits.set_relations(template, "name", across=Place("frame", mine, "middle"))
        box = rest(edits.set_property(placed, "name/text", words))["name"].box
        share = {"start": 0, "middle": 0.5, "end": 1}[mine]
        assert box.x + box.w * share == pytest.approx(960)


def test_a_text_may_sit_on_the_plate_that_fits_round_it_when_the_plate_is_placed():
    fit = Fit(("name",), left=50, right=50)
    parts = (
        ShapePart(id="plate", name="Plate", fit=fit, across=Place("title-safe"), down=Place("title-safe", "end", "end")),
        TextPart(id="name", name="Name", across=Place("plate", gap=50), down=Place("plate", gap=25)),
    )
    found = rest(Template(parts=parts))
    assert found["plate"].box.x == pytest.approx(96)
    assert found["name"].box.x == pytest.approx(146)


def test_a_circle_is_refused_in_words():
    template = edits.set_relations(plated(), "name", across=Place("plate"))
    with pytest.raises(RelationError, match=r"Plate fits around Name") as error:
        rest(template)
    assert "Name is placed on Plate" in str(error.value)


def test_a_circle_of_three_names_each():
    parts = [ShapePart(id=i, name=i.upper(), across=Place(on)) for i, on in (("a", "b"), ("b", "c"), ("c", "a"))]
    with pytest.raises(RelationError) as error:
        rest(Template(parts=tuple(parts)))
    for words in ("A is placed on B", "B is placed on C", "C is placed on A"):
        assert words in str(error.value)


def test_a_rule_follows_along_its_own_direction_only():
    rule = RulePart(id="r", name="R", fit=Fit(("name",), left=0, right=0), width=6, across=None, down=Place("name", "start", "end", 10))
    found = rest(edits.add_part(plated(), rule))
    assert found["r"].box.w == pytest.approx(found["name"].box.w)
    assert found["r"].box.h == 6
    assert found["r"].box.y == pytest.approx(found["name"].box.bottom + 10)


def test_a_part_that_is_off_does_not_count_in_a_joint_box(name_strap):
    both = rest(name_strap)["rule"].box
    alone = rest(name_strap, **{"role-line": False})
    assert alone["rule"].box.h < both.h
    assert alone["rule"].box.h == pytest.approx(alone["plate"].box.h)


def test_same_answers_same_rest(name_strap):
    one, two = rest(name_strap, name="Bo Li"), rest(name_strap, name="Bo Li")
    assert [p.box for p in one.values()] == [p.box for p in two.values()]


def test_the_plate_of_an_empty_text_vanishes_unless_it_is_told_to_stay():
    assert not rest(plated(""))["plate"].present
    assert rest(plated("x"))["plate"].present
    stays = rest(edits.set_property(plated(""), "plate/fit.vanishes", False))["plate"]
    assert stays.present
    assert stays.box.w == pytest.approx(100)
    assert stays.box.h > 50


def test_notes_name_what_is_missing():
    template = edits.set_property(plated("Rune \u16a0"), "name/family", "Nowhere Grotesk")
    notes = rest(template)["name"].notes
    assert any("Nowhere Grotesk" in n for n in notes)
    assert any("\u16a0" in n for n in notes)


@given(st.text(max_size=20), st.floats(0, 200), st.sampled_from(["start", "middle", "end"]))
def test_measures_are_plain_numbers_that_a_document_can_hold(words, tracking, align):
    """What is read off a layout goes back into documents, e.g. when a part gets a size of its own."""
    template = edits.set_property(edits.set_property(plated(words), "name/tracking", tracking), "name/align", align)
    for part in rest(template).values():
        boxes = [part.box, part.ink, part.fitted("line box"), part.fitted("capitals"), part.fitted("ink")]
        assert all(type(value) is float for box in boxes if box for value in box)
