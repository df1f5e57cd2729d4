"""Proofreading a list: what is told, what is not, and the mends with one right answer."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from lists import BOOK
from rapidfuzz.distance import Levenshtein

from avlet.document.lists.blocks import Heading, Names, Role, Words, words_in
from avlet.review.proofreading import curled, meant, mended, proofread


def said(*blocks):
    return [r.words for r in proofread(blocks, BOOK)]


def role(*names, does="Mixer"):
    return Role(role=does, names=names)


@pytest.mark.parametrize(
    ("blocks", "words"),
    [
        ([role("Ann  Berg")], "two blanks"),
        ([role("Ann Berg ")], "a blank at an end"),
        ([Heading(text=" Sound")], "a blank at an end"),
        ([role("")], "“Mixer” has no name"),
        ([role("Ann Berg", does="")], "has no role"),
        ([role("Ann Berg", "")], "empty line among"),
        ([Heading(text=" ")], "heading is empty"),
        ([Words(text="")], "words are empty"),
        ([role("Ann Berg", "ann berg")], "stands twice under “Mixer”"),
        ([Names(names=("Ann Berg", "Ann Berg"))], "stands twice here"),
        ([role("Odalys Brandt"), role("Odalis Brandt", does="Cook")], "One name, spelled two ways?"),
        ([role("Ann-Marie Berg"), role("Ann Marie Berg", does="Cook")], "One name, spelled two ways?"),
        ([role("Ioana Cretu"), role("Ioana Crețu", does="Cook")], "One name, spelled two ways?"),
        ([Heading(text="“The Marsh”"), Words(text='and "more"')], "straight quotes; elsewhere they are curly"),
        ([Heading(text="It's"), Words(text="It's"), Words(text="Ann’s")], "curly quotes; elsewhere they are straight"),
        ([role("Ann \U000f0001")], "No font here has glyphs"),
    ],
)
def test_what_is_told(blocks, words):
    found = said(*blocks)
    assert any(words in one for one in found), found


@pytest.mark.parametrize(
    "blocks",
    [
        [role("Ann Berg"), role("Ann Berg")],
        [role("Take 1 Berg"), role("Take 2 Berg", does="Cook")],
        [role("Ann Li"), role("Ann Le", does="Cook")],
        [role("Wren Farrow", "Íris Þórdal", "نادية", "林小雨")],
        [Heading(text="It's"), Words(text="Ann's")],
        [Words(text="one\ntwo")],
        [],
    ],
)
def test_what_is_not_told(blocks):
    assert said(*blocks) == []


def test_alike_is_a_matter_of_edits():
    """Levenshtein's distance, by rapidfuzz itself: one letter of twelve is told, four are not."""
    one, other = "odalys brandt", "odalis brandt"
    assert Levenshtein.distance(one, other) == 1
    assert said(role("Odalys Brandt"), role("Odette Brandl", does="Cook")) == []


def test_a_long_list_is_compared_within_its_letters():
    import time

    given_names = ["Odalys", "Teodor", "Nkechi", "Wren", "Ioana", "Hallam", "Sefa", "Ulf", "Bao", "Íris"]
    blocks = tuple(Names(names=tuple(f"{a}{n // 7} {b}{n % 7}rst" for a in given_names for b in given_names)) for n in range(60))
    blocks = (*blocks, role("Wilhelmina Ostrowe"), role("Wilhelmena Ostrowe", does="Cook"))
    begun = time.process_time()
    found = proofread(blocks)
    assert any("Wilhelmena" in r.words for r in found) and time.process_time() - begun < 30


def test_what_is_meant_so_is_not_told_again_until_it_changes():
    blocks = (role("Ann  Berg"), role("", does="Cook"))
    first = proofread(blocks)
    blocks = meant(blocks, first[0])
    assert [r.block for r in proofread(blocks)] == [1]
    changed = (Role(role="Mixer", names=("Bo  Li",), meant=blocks[0].meant), blocks[1])
    assert [r.block for r in proofread(changed)] == [0, 1]
    assert {r.block for r in proofread(changed)} == {0, 1}


@pytest.mark.parametrize(
    ("before", "after"),
    [
        (role("Ann  Berg "), role("Ann Berg")),
        (Words(text=" one  two \n three"), Words(text="one two\nthree")),
        (role("Ann\u00a0\u00a0Berg"), role("Ann Berg")),
    ],
)
def test_mends_have_one_right_answer(before, after):
    (remark,) = proofread((before,))
    assert mended((before,), remark) == (after,) and proofread((after,)) == []


def test_quotes_are_mended_into_those_of_the_others():
    blocks = (Heading(text="“A” ‘b’ “c” “d” “e”"), Words(text="the \"Marsh\", Ann's 'own' '90s"))
    (remark,) = proofread(blocks)
    assert words_in(mended(blocks, remark)[1])[0].startswith("the “Marsh”, Ann’s ‘own’")
    assert curled("rock 'n' roll") == "rock ‘n’ roll" or curled("rock 'n' roll") == "rock ’n’ roll"


def test_what_has_no_one_answer_is_left():
    blocks = (role(""),)
    (remark,) = proofread(blocks)
    assert mended(blocks, remark) is blocks


@given(st.lists(st.text("abA ’'\"“\u00a0é\n", max_size=12), max_size=6))
def test_any_mend_mends(names):
    blocks = (Names(names=tuple(names) or ("",)),)
    for _ in range(30):
        remarks = [r for r in proofread(blocks) if r.mend is not None]
        if not remarks:
            return
        blocks = mended(blocks, remarks[0])
    raise AssertionError(f"never done: {blocks}")


@pytest.mark.parametrize(("name", "parts"), [
    ("Wren Farrow, Ulf Tidd", 2), ("Wren Farrow; Ulf", 2), ("Wren\nUlf\nBo", 3), ("Bo Li, Odalys Brandt, Ida Vik", 3), ("Bo Li;", 0), ("Bo Li, PhD", 0),
    ("Bo Li, BSC MSC", 0), ("Brandt, Odalys", 0), ("Bo Li, Jr.", 0), ("Bo Li", 0), ("Farrow, Tidd and Sons", 0), ("", 0), ("Bo Li, jr. of Farrow", 0),
])  # fmt: skip
def test_names_that_stand_in_one_cell(name, parts):
    from avlet.review.proofreading import SEVERAL

    blocks = (Role(role="Camera", names=("Ida Vik", name)),)
    found = [r for r in proofread(blocks) if r.sort.startswith(SEVERAL)]
    assert len(found) == (1 if parts else 0)
    if parts:
        made = mended(blocks, found[0])[0]
        assert len(made.names) == parts + 1 and made.names[0] == "Ida Vik" and all(n == n.strip() and n for n in made.names)
        assert not [r for r in proofread((made,)) if r.sort.startswith(SEVERAL)]
