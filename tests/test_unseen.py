"""What nobody sees in a list: signs, scripts by Unicode UTS #39, brackets, points, capitals, one name under two roles."""

import unicodedata

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from avlet.document.lists.blocks import Names, Role
from avlet.review.proofreading import mended, proofread
from avlet.review.unseen import in_line


def role(*names, does="Mixer"):
    return Role(role=does, names=names)


@pytest.mark.parametrize(
    ("words", "said", "mend"),
    [
        ("Bo\u00a0Li", "a no-break blank", "Bo Li"), ("Bo\u202fLi", "narrow no-break", "Bo Li"), ("Bo\u200bLi", "without width", "BoLi"),
        ("\ufeffBo Li", "without width", "Bo Li"), ("Bo\u00adLi", "a hyphen", "BoLi"), ("Bo\tLi", "a tab", "Bo Li"), ("Bo\u2028Li", "line separator", "Bo Li"),
        ("Bo\x0bLi", "line separator", "Bo Li"), ("Nkechi \u0410rundel", "is Cyrillic", "Nkechi Arundel"), ("B\u03bf Li", "is Greek", "Bo Li"),
        ("\u041f\u0451\u0442\u0440 C\u043c\u0438\u0440\u043d\u043e\u0432", "C is Latin", "\u041f\u0451\u0442\u0440 \u0421\u043c\u0438\u0440\u043d\u043e\u0432"),
        ("(Bo Li", "opens ( and does not close", None), ("Bo Li]", "closes ] that was not opened", None), ("\u201eBo Li", "opens \u201e", None), ("\u00abBo Li", "opens \u00ab", None),
        ("Bo Li , Ida", "a blank before", "Bo Li, Ida"), ("Bo Li,", "ends in a comma", "Bo Li"), ("Bo Li;", "ends in a semicolon", "Bo Li"), ("Bo Brandt.", "full stop", "Bo Brandt"),
    ],
)  # fmt: skip
def test_what_nobody_sees_is_told(words, said, mend):
    found = proofread((role(words),))
    assert len(found) == 1 and said in found[0].words and found[0].mend == mend, found
    if mend is not None:
        assert proofread(mended((role(words),), found[0])) == []


@pytest.mark.parametrize(
    "words",
    [
        "\u00ab\u00a0Bo Li\u00a0\u00bb", "Bo Li\u202f!", "10\u00a0000 km", "\u0646\u0631\u0645\u200c\u0627\u0641\u0632\u0627\u0631", "\U0001f469\u200d\U0001f52c Ada", "\u6e21\u8fba \u6c50", "T\u014dky\u014d",
        "a) Camera", "(Bo) Li", "\u201eBo\u201c Li", "Bo B.", "Sam Jr.", "Farrow Ltd.", "Trust e.V.", "Bo\u2026", "Bo ...", "O\u2019Neill", "\u0395\u03bb\u03bb\u03ac\u03b4\u03b1", "Bo Li 2.0",
    ],
)  # fmt: skip
def test_what_belongs_there_is_not_told(words):
    assert list(in_line(words, True)) == []


def test_a_sentence_ends_in_a_full_stop():
    assert list(in_line("Filmed on the marsh.", False)) == [] and list(in_line("Filmed on the marsh.", True))


def test_a_name_under_two_roles_is_told_at_the_later_one():
    (found,) = proofread((role("Ann Berg"), role("Bo Li", "Ann Berg", does="Cook")))
    assert (found.block, found.place) == (1, 2) and "under \u201cMixer\u201d as well" in found.words
    assert proofread((role("Ann Berg"), role("Ann Berg"))) == []


def test_capitals_that_differ_from_the_rest_are_told():
    names = ["Odalys Brandt", "Teodor V\u00e5ge", "Nkechi Arundel", "Ioana Whitlock", "Wren Farrow"]
    for other, said in (("HALLAM OSTROWE", "all in capitals"), ("hallam ostrowe", "has no capital")):
        (found,) = proofread((Names(names=(*names, other)),))
        assert found.place == 5 and said in found.words
    (found,) = proofread((Names(names=(*(n.upper() for n in names), "Hallam Ostrowe")),))
    assert "is not all in capitals" in found.words
    assert proofread((Names(names=(*names[:2], "HALLAM OSTROWE", "SEFA ULF")),)) == [], "neither is the rest"
    assert proofread((Names(names=(*names, "BBC")),)) == [], "a word of its own"


@settings(max_examples=400, deadline=None)
@given(st.text(st.characters(exclude_categories=["Cs"]), max_size=30), st.booleans())
def test_any_line_is_read_and_a_mend_is_another_line_without_that(words, is_name):
    for seen in in_line(words, is_name):
        if seen.mend is not None:
            again = [one for one in in_line(seen.mend, is_name) if one.sort == seen.sort]
            assert seen.mend != words and not again, (words, seen)


def test_names_of_this_demo_are_clean():
    """Made-up people in five scripts: nothing is told that a proofreader would leave."""
    people = (
        "Odalys Brandt",
        "Teodor V\u00e5ge",
        "Nkechi Arundel",
        "Ioana Cre\u021bu-Whitlock",
        "\u00cdris \u00de\u00f3rdal",
        "\u064a\u0627\u0633\u0645\u064a\u0646 \u0627\u0644\u062d\u062f\u0627\u062f",
        "\u6e21\u8fba \u6c50",
    )
    assert [unicodedata.is_normalized("NFC", name) for name in people] == [True] * 7
    assert proofread(tuple(Role(role=f"Role {chr(65 + n)}", names=(name,)) for n, name in enumerate(people))) == []
