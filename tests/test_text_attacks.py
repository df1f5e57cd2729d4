"""What attacks on the setting of text have found, against Unicode's own rules and ICU's reading of them."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from icu import Bidi, UnicodeString
from test_moves import scene, titled, words
from test_shaping import text

from avlet.document.cards.card import Card, Section
from avlet.document.fields import TextField
from avlet.document.parts import Room
from avlet.document.time.moves import Move
from avlet.errors import AnswerError
from avlet.text.fonts import bundled_fonts
from avlet.text.marking import plain
from avlet.text.runs import split_runs
from avlet.text.setting import set_text

BOOK = bundled_fonts()


def shown(setting) -> list[int]:
    """The glyphs that have ink."""
    return setting.glyphs[~np.isnan(setting.ink[:, 0])].tolist()


def test_a_variation_sequence_chooses_a_form_and_is_no_letter_of_its_own():
    """葛 with U+E0100, as Japanese names have it (Unicode's Ideographic Variation Database)."""
    with_form, bare = set_text(text("葛\U000e0100"), BOOK), set_text(text("葛"), BOOK)
    assert len(shown(with_form)) == len(shown(bare)) == 1
    assert {f.family for f in with_form.faces} == {f.family for f in bare.faces}
    assert 0 not in with_form.glyphs and not with_form.lacking


@pytest.mark.parametrize("unseen", ["\u034f", "\u2060", "\u200b", "\ufe0e", "\u00ad", "\u180b"])
def test_what_is_ignorable_moves_no_letter_to_another_face_and_is_not_missed(unseen):
    """Default_Ignorable_Code_Point of the Unicode Character Database."""
    made = set_text(text(f"Ta{unseen}g", family="Fira Sans", style="Bold"), BOOK)
    assert {face.family for face in made.faces} == {"Fira Sans"}
    assert not made.lacking


def test_decomposed_accents_become_small_capitals_with_their_letter():
    one, two = (set_text(text(words, case="small capitals"), BOOK) for words in ("e\u0301te\u0301", "\u00e9t\u00e9"))
    assert one.line_box.w == pytest.approx(two.line_box.w) and one.scale.tolist() == two.scale.tolist()


def directions(words: str, begin: int, rtl: bool) -> list[tuple[int, bool]]:
    """The runs of a line that begins at a place of a paragraph, from left to right: where each starts, and whether it runs to the left."""
    line = plain(words, BOOK.find("Fira Sans", "Bold")[0]).cut(begin, len(words))
    runs = split_runs(line, list(range(len(words) - begin + 1)), BOOK, rtl).runs
    return [(run.start + begin, run.rtl) for run in runs]


def test_figures_at_the_begin_of_a_line_go_with_the_words_before_them():
    """UAX #9, rules W7 and L1: 123 follows Hebrew in its paragraph, so it stands to the right of what follows; by itself it would not."""
    words = "car \u05d0\u05d1 123 \u05d2\u05d3"
    found = directions(words, 7, rtl=False)
    assert found[0][1] and found[-1] == (7, False)
    assert directions(words[7:], 0, rtl=False)[0] == (0, False)


@settings(max_examples=60)
@given(st.text(alphabet="abc 123 אבגדה مرحبا.-()", min_size=6, max_size=40), st.booleans())
def test_every_line_of_a_paragraph_runs_as_icu_has_it(words, rtl):
    whole, paragraph = Bidi(), UnicodeString(words)
    whole.setPara(paragraph, int(rtl))
    for begin in range(2, len(words) - 2, 3):
        line = whole.setLine(begin, len(words))
        for start, to_the_left in directions(words, begin, rtl):
            assert bool(line.getLevelAt(start - begin) % 2) == to_the_left


def test_tracking_leaves_arabic_joined():
    plain_, tracked = (set_text(text("مرحبا", tracking=t), BOOK) for t in (0, 200))
    assert tracked.glyphs.tolist() == plain_.glyphs.tolist()
    assert tracked.line_box.w == pytest.approx(plain_.line_box.w)


def test_lower_case_ends_a_greek_word_with_a_final_sigma():
    """Unicode's SpecialCasing: Final_Sigma."""
    made = set_text(text("ΟΔΟΣ ΣΑΣ", case="lower case"), BOOK)
    wanted = set_text(text("οδος σας"), BOOK)
    assert made.glyphs.tolist() == wanted.glyphs.tolist()


def test_tracking_of_right_to_left_words_spreads_from_the_edge_that_they_begin_at():
    made = scene(titled(words("שלום", way_in=(Move(tracking=500, frames=20),))))
    pose = made.pose(0).parts["t"]
    rests = made.pose(50).parts["t"]
    assert pose.outline_box.right == pytest.approx(rests.outline_box.right, abs=1)
    assert pose.outline_box.x < rests.outline_box.x - 20


@pytest.mark.parametrize("end", ["\u2028", "\u2029", "\u0085", "\x0b", "\x0c", "\r", "\n"])
def test_no_end_of_line_of_any_kind_passes_into_a_field_of_one_line(end):
    template = titled(words(), card=Card(sections=(Section(fields=(TextField(id="w", label="Words"),)),)))
    with pytest.raises(AnswerError, match="one line"):
        scene(template, w=f"Odalys{end}Brandt")


def test_a_soft_hyphen_shows_a_hyphen_where_the_line_breaks_and_nothing_else():
    whole = set_text(text("Landschafts\u00adplanung"), BOOK)
    broken = set_text(text("Landschafts\u00adplanung", room=Room(width=700, remedies=("wrap",))), BOOK)
    written = set_text(text("Landschafts-\nplanung"), BOOK)
    assert len(broken.lines) == 2 and broken.glyphs.tolist() == written.glyphs.tolist()
    assert shown(whole) == shown(set_text(text("Landschaftsplanung"), BOOK))


def test_a_leading_blank_before_a_word_too_wide_adds_no_line():
    room = Room(width=300, remedies=("wrap",))
    made = set_text(text(" Landschaftsplanung", room=room), BOOK)
    assert len(made.lines) == len(set_text(text("Landschaftsplanung", room=room), BOOK).lines) == 1
