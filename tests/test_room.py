"""Room for words: wrapping against UAX #14, shrinking, squeezing, ellipsis; case, accents, features, justified lines."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from avlet.document.looks.paints import Solid
from avlet.document.parts import Accent, Room, TextPart
from avlet.document.template import Template
from avlet.paint.scene import Scene
from avlet.text.fonts import bundled_fonts
from avlet.text.marking import marked, marked_for
from avlet.text.room import break_places
from avlet.text.setting import set_text

LONG = "Head of volunteer programmes, northern reaches"


def setting(text: str, **changes):
    return set_text(TextPart(**{"id": "t", "name": "T", "text": text, "size": 50.0, **changes}), bundled_fonts())


# UAX #14: worked examples of its rules LB7, LB8a, LB13, LB14, LB19, LB21, LB25, LB28, LB30b (from memory), written with | at each break.
@pytest.mark.parametrize(
    "marked_breaks",
    [
        "The |quick |brown", "can’t |stop", "one-|two", "(well) |said", "“so” |it |is", "$(12.35) |paid", "3,250,000 |plugs", "a\u00a0b |c", "渡|辺 |汐",
        "e\u0301 |x", "👩\u200d👧|👦", "soft\u00ad|hyphen", "−1.35 |m",
    ],
)  # fmt: skip
def test_lines_break_where_unicode_allows(marked_breaks):
    pieces = marked_breaks.split("|")
    ends = np.cumsum([len(p) for p in pieces]).tolist()
    assert list(break_places("".join(pieces))) == ends


def test_a_long_text_wraps_and_says_so():
    made = setting(LONG, room=Room(width=500, remedies=("wrap",)))
    assert len(made.lines) == 3
    assert made.remarks == ("wraps onto 3 lines",)
    assert all(line.width <= 500 for line in made.lines)
    assert made.counts["line"] == 3
    assert not made.overflows


def test_even_lines_need_no_more_lines_and_are_narrower():
    full = setting(LONG, room=Room(width=760, remedies=("wrap",)))
    even = setting(LONG, room=Room(width=760, remedies=("wrap",), balanced=True))
    assert len(full.lines) == len(even.lines) == 2
    assert np.ptp([line.width for line in even.lines]) < np.ptp([line.width for line in full.lines])
    assert even.line_box.w < full.line_box.w


def test_a_long_text_shrinks_just_enough():
    made = setting(LONG, room=Room(width=700, remedies=("shrink",), smallest_size=30))
    assert made.line_box.w == pytest.approx(700, abs=0.01)
    assert made.remarks[0].startswith("shrinks to ")
    assert made.line_box.h == pytest.approx(made.size * 1.2)


def test_shrinking_stops_at_the_smallest_size_and_the_rest_is_said():
    made = setting(LONG, room=Room(width=300, remedies=("shrink",), smallest_size=80))
    assert made.size == 40
    assert made.overflows
    assert made.remarks == ("shrinks to 80 %", "is too long for its room")


def test_squeezing_makes_letters_narrower_not_lower():
    plain, made = setting(LONG), setting(LONG, room=Room(width=900, remedies=("squeeze",), smallest_width=50))
    assert made.line_box.w == pytest.approx(900, abs=0.01)
    assert made.line_box.h == plain.line_box.h
    assert made.ink_box.h == pytest.approx(plain.ink_box.h)
    assert made.ink_box.w < plain.ink_box.w


def test_an_ellipsis_ends_what_is_too_long():
    made = setting(LONG, room=Room(width=400, remedies=("ellipsis",)))
    assert made.line_box.w <= 400
    assert made.remarks == ("ends in an ellipsis",)
    assert len(made.lines) == 1


def test_remedies_come_in_their_order():
    wrap_first = setting(LONG, room=Room(width=500, lines=2, remedies=("wrap", "shrink"), smallest_size=40))
    assert wrap_first.remarks[0].startswith(("wraps", "shrinks"))
    assert len(wrap_first.lines) == 2
    assert 20 <= wrap_first.size < 50
    ends = setting(LONG, room=Room(width=400, lines=2, remedies=("wrap", "ellipsis")))
    assert len(ends.lines) == 2
    assert "ends in an ellipsis" in ends.remarks
    assert not ends.overflows


def test_height_and_lines_are_kept():
    made = setting("one\ntwo\nthree", room=Room(height=120, remedies=("shrink",), smallest_size=10))
    assert made.line_box.h == pytest.approx(120, abs=0.01)
    assert setting("one\ntwo\nthree", room=Room(lines=2, remedies=("ellipsis",))).counts["line"] == 2


def test_a_single_long_word_stays_whole_when_it_wraps():
    made = setting("Donaudampfschiffahrt", room=Room(width=100, remedies=("wrap",)))
    assert len(made.lines) == 1
    assert made.overflows


@given(
    st.text(alphabet="abc de-fg,\n", max_size=60),
    st.floats(60, 900),
    st.sampled_from([("wrap", "shrink"), ("shrink", "ellipsis"), ("squeeze", "wrap", "ellipsis")]),
)
@settings(max_examples=60, deadline=None)
def test_what_does_not_overflow_keeps_to_its_room(text, width, remedies):
    made = setting(text, room=Room(width=width, lines=3, height=400, remedies=remedies))
    if not made.overflows:
        assert made.line_box.w <= width + 0.01
        assert made.line_box.h <= 400.01
        assert len(made.lines) <= 3
    assert made.overflows == ("is too long for its room" in made.remarks)


def test_what_happened_is_in_the_notes_and_in_the_verdict():
    from avlet.review.samples import verdict

    part = TextPart(id="t", name="Role", text=LONG, size=50, room=Room(width=100, remedies=("shrink",)))
    scene = Scene(Template(parts=(part,)), bundled_fonts())
    assert "Role is too long for its room." in scene.notes()
    assert verdict(scene) == "too long"


def test_justified_lines_end_together_but_the_last():
    made = setting(LONG + ", and of the boats", align="justified", room=Room(width=640, remedies=("wrap",)))
    assert len(made.lines) == 3
    assert all(line.width == pytest.approx(640) for line in made.lines[:-1])
    assert made.lines[-1].width < 640


@pytest.mark.parametrize(("case", "same_as"), [("capitals", "BO LI"), ("lower case", "bo li")])
def test_case(case, same_as):
    assert setting("Bo Li", case=case).line_box == setting(same_as).line_box


def test_small_capitals_are_capitals_at_their_size():
    made = setting("Hh", case="small capitals", small_capitals=70, tracking=0)
    capital = made.ink[0]
    small = made.ink[1]
    assert (small[3] - small[1]) == pytest.approx(0.7 * (capital[3] - capital[1]))
    assert made.scale.tolist() == [50, 35]


def test_case_may_lengthen_a_text():
    assert setting("Straße", case="capitals").counts["character"] == 7


def test_the_baseline_shift_moves_ink_not_lines():
    plain, up = setting("Bo"), setting("Bo", baseline=10)
    assert up.ink_box.y == pytest.approx(plain.ink_box.y - 10)
    assert up.line_box == plain.line_box


def test_a_fixed_direction():
    assert setting("abc", direction="right to left", align="start").lines[0].left == 0
    made = setting("wide line here\nabc", direction="right to left")
    assert made.lines[1].left > 0


def test_marks_make_accents_and_mean_nothing_without():
    assert marked("Odalys {1:Brandt}", 1) == [("Odalys ", 0), ("Brandt", 1)]
    assert marked("a {{1:b}", 1) == [("a ", 0), ("{", 0), ("1:b}", 0)]
    assert marked("{2:b}", 1) == [("b", 0)]
    assert marked("{1:b}", 0) == [("{1:b}", 0)]
    assert setting("{1:b}").counts["character"] == 5


def test_an_accent_has_its_own_face_and_size():
    accents = (Accent("Alegreya", "Italic", 50.0),)
    made = setting("Bo {1:Li}", accents=accents)
    assert [f.full_name for f in made.faces] == ["Fira Sans Bold"] * 3 + ["Alegreya Italic"] * 2
    assert made.scale.tolist() == [50] * 3 + [25] * 2
    assert made.accent.tolist() == [0, 0, 0, 1, 1]
    alone = setting("Li", family="Alegreya", style="Italic", size=25.0)
    assert made.line_box.w == pytest.approx(setting("Bo ").line_box.w + alone.line_box.w, abs=0.01)


def test_an_accents_own_colour_is_painted():
    part = TextPart(
        id="t", name="T", text="Bo {1:Li}", size=200, fill=Solid("#FF0000"), accents=(Accent("Fira Sans", "Bold", 100.0, Solid("#0000FF")),)
    )
    scene = Scene(Template(parts=(part,)), bundled_fonts())
    picture = scene.picture(60)
    setting_ = scene.rest.parts["t"].body.setting
    split = round(setting_.x[3]) - 4
    assert picture[:, :split, 0].any()
    assert not picture[:, :split, 2].any()
    assert picture[:, split:, 2].any()
    assert not picture[:, split:, 0].any()


def test_tabular_figures_are_as_wide_as_each_other():
    """Against the font's own GSUB: with ``tnum`` 1 and 0 advance alike, without it they do not."""
    wide = [setting(digit, family="Fira Sans", features=("tnum",)).line_box.w for digit in "01"]
    free = [setting(digit, family="Fira Sans", features=("pnum",)).line_box.w for digit in "01"]
    assert wide[0] == pytest.approx(wide[1])
    assert free[0] != pytest.approx(free[1])


def test_a_face_lists_the_features_of_its_gsub():
    face, _ = bundled_fonts().find("Fira Sans", "Bold")
    assert {"tnum", "smcp", "liga", "onum"} <= set(face.features)
    assert "ccmp" not in face.features
    assert all(type(tag) is str for tag in face.features)


def test_looks_do_not_set_words_again():
    assert setting("Bo", fill=Solid("#123456")) is setting("Bo", fill=Solid("#654321"), blur=3.0)


def test_paragraphs_stand_further_apart_than_lines():
    text = "One two three four\nFive"
    plain = setting(text, room=Room(width=300, remedies=("wrap",)), size=60)
    apart = setting(text, room=Room(width=300, remedies=("wrap",)), size=60, paragraph=25)
    steps = np.diff([line.baseline for line in apart.lines])
    assert steps == pytest.approx([72.0] * (len(steps) - 1) + [97.0])
    assert apart.line_box.h == pytest.approx(plain.line_box.h + 25)
    assert setting("A\nB\nC", size=60, paragraph=25, room=Room(height=240, remedies=("ellipsis",))).counts["line"] == 2
    assert setting("A\nB\nC", size=60, room=Room(height=240, remedies=("ellipsis",))).counts["line"] == 3


@given(st.text(alphabet="ab {}12:", max_size=14), st.integers(0, 14), st.integers(0, 14), st.integers(0, 2))
def test_marking_words_changes_only_their_style(text, one, other, accent):
    start, end = sorted((min(one, len(text)), min(other, len(text))))
    made = marked_for(text, start, end, accent)
    assert words_of(made) == words_of(text)


def words_of(text: str) -> str:
    return "".join(words for words, _ in marked(text, 2))


def test_marking_again_takes_the_other_accents_place():
    assert marked_for("Odalys Brandt", 7, 13, 1) == "Odalys {1:Brandt}"
    assert marked_for("Odalys {1:Brandt}", 10, 16, 2) == "Odalys {2:Brandt}"
    assert marked_for("Odalys {1:Brandt}", 0, 17, 0) == "Odalys Brandt"
