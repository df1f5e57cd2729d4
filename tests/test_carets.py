"""Carets: between which letters a place of a set text is, for wrapped, marked, joined and right-to-left words."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from avlet.document.parts import Accent, Room, TextPart
from avlet.text.carets import carets_of
from avlet.text.fonts import bundled_fonts
from avlet.text.setting import set_text

BOOK = bundled_fonts()


def carets(text: str, **values):
    part = TextPart(id="t", name="T", text=text, size=100.0, **values)
    setting = set_text(part, BOOK)
    return carets_of(part, setting), setting


def width(text: str, **values) -> float:
    return carets(text, **values)[1].line_box.w


def test_a_caret_stands_where_the_words_before_it_end():
    found, setting = carets("Odalys Brandt")
    assert [found.at(i).typed for i in range(14)] == list(range(14))
    assert found.box(0).x == 0 and found.box(13).x == pytest.approx(setting.line_box.w)
    assert found.box(6).x == pytest.approx(width("Odalys"), abs=2)  # kerning to the blank aside
    assert found.box(3).h == pytest.approx(setting.line_box.h)


def test_each_line_has_its_begin_and_its_end():
    found, setting = carets("One\n\nThree", align="end")
    assert found.box(3).y == 0 and found.box(4).y == pytest.approx(120) and found.box(5).y == pytest.approx(240)
    assert found.box(4).x == pytest.approx(setting.line_box.w), "an empty line at its aligned edge"
    assert found.ends_of_line(7) == (5, 10) and found.ends_of_line(1) == (0, 3) and found.ends_of_line(4) == (4, 4)


def test_a_wrapped_line_goes_on_in_the_next():
    text = "The sluice keeper of the northern reaches"
    found, setting = carets(text, room=Room(width=900.0, remedies=("wrap",)))
    assert len(setting.lines) > 1
    second = next(i for i in range(len(text)) if found.at(i).line == 1)
    assert text[second - 1] == " " and found.at(second).caret == pytest.approx(0, abs=1)
    assert found.above(second, 1) == 0 and found.above(0, 1) is None
    assert found.above(0, -1) == second


def test_marks_take_no_room_and_are_stepped_over():
    accents = (Accent("Fira Sans", "Light"),)
    found, _ = carets("a{1:bc}d", accents=accents)
    assert [p.typed for p in found.places] == [0, 4, 5, 7, 8]
    assert [p.after for p in found.places] == [1, 5, 6, 8, 8]
    assert (found.beside(0, 1), found.beside(4, -1), found.beside(7, 1), found.beside(8, 1)) == (4, 0, 8, 8)


def test_letters_that_become_two_and_ligatures_are_one_each():
    found, _ = carets("Maß", case="capitals")
    assert [p.typed for p in found.places] == [0, 1, 2, 3] and found.box(3).x == pytest.approx(width("MASS"))
    found, setting = carets("office", family="Alegreya", style="Bold")
    assert [p.typed for p in found.places] == list(range(7))
    xs = [p.caret for p in found.places]
    assert xs == sorted(xs) and xs[-1] == pytest.approx(setting.line_box.w)


def test_accents_typed_by_themselves_belong_to_their_letter():
    found, _ = carets("e\u0301a")
    assert [p.typed for p in found.places] == [0, 2, 3] and found.places[0].after == 2
    found, _ = carets("e\u0301a", case="capitals")
    assert [p.typed for p in found.places] == [0, 2, 3]


def test_right_to_left_words_begin_at_the_right():
    found, setting = carets("ياسمين الحداد", family="Noto Sans Arabic", style="Bold")
    assert found.box(0).x == pytest.approx(setting.line_box.w, abs=1) and found.box(13).x == pytest.approx(0, abs=1)
    xs = [found.box(i).x for i in range(14)]
    assert xs == sorted(xs, reverse=True)
    assert found.nearest(setting.line_box.w, 10) == 0 and found.nearest(0, 10) == 13


def test_a_latin_word_within_hebrew_runs_the_other_way():
    found, _ = carets("אב ABC גד", family="Noto Sans Hebrew", style="Bold")
    assert found.at(3).caret < found.at(4).caret < found.at(5).caret, "ABC"
    assert found.at(0).caret > found.at(1).caret > found.at(4).caret > found.at(8).caret


def test_what_is_selected_is_boxed_line_by_line():
    found, _ = carets("One\nTwo")
    boxes = found.stretch(1, 6)
    assert [b.y for b in boxes] == [0, pytest.approx(120)]
    assert boxes[0].x == pytest.approx(found.box(1).x) and boxes[1].right == pytest.approx(found.box(6).x)
    assert found.stretch(2, 2) == []


def test_words_that_are_left_out_have_no_place():
    found, setting = carets("Odalys Brandt", room=Room(width=300.0, remedies=("ellipsis",)))
    assert setting.remarks and found.places[-1].typed < 13
    assert found.box(13).x == found.box(found.places[-1].typed).x, "the caret stays at the end of what shows"


@given(
    st.text(st.sampled_from("ab {}1:\n\t\r éßאبग한😀👩\u200d"), max_size=24),
    st.sampled_from(["as typed", "capitals", "small capitals"]),
    st.booleans(),
)
def test_every_place_leads_back_to_itself(text, case, narrow):
    """For any text: places are in order, within its lines, and a click on a caret finds it, or one at the same spot."""
    room = Room(width=200.0, remedies=("wrap",)) if narrow else None
    found, setting = carets(text, case=case, room=room, accents=(Accent(),))
    typed = [p.typed for p in found.places]
    assert typed == sorted(typed) and found.places[0].typed <= len(text) and typed[-1] <= len(text)
    for place in found.places:
        assert 0 <= place.line < len(setting.lines) and -1 <= place.caret <= max(line.left + line.width for line in setting.lines) + 1
        again = found.at(found.nearest(place.caret, found.tops[place.line] + 1))
        assert again.typed == place.typed or abs(again.caret - place.caret) < 1e-6
