"""The card's measure: labels, hints, idle fields, loose words, contrast, and what lets a design break."""

import pytest
from conftest import plated
from hypothesis import given, settings
from hypothesis import strategies as st

from avlet.document.cards import carding
from avlet.document.cards.card import Card, Sample, Section
from avlet.document.cards.wires import Formula, Range, Straight, Table, Wire
from avlet.document.editing import edits, sharing
from avlet.document.fields import ChoiceField, ColourField, LengthField, NumberField, Option, Swatch, SwitchField, TextField
from avlet.layout.holding import hold
from avlet.paint.scene import Scene
from avlet.review.card_measure import Bench, Trial, fullness, remarks, share, trials, tried_out
from avlet.review.samples import findings

replace = edits.replace


def words_about(template, part) -> list[str]:
    return [r.words for r in remarks(template) if part in r.words]


def carded(*fields, **changes):
    return replace(plated(), card=Card(sections=(Section("", fields),)), **changes)


@pytest.mark.parametrize(
    ("count", "words"),
    [(0, "Nothing to fill in yet"), (1, "1 field · a stranger can read it at a glance"), (7, "7 fields · a stranger can read it at a glance"),
     (8, "needs a moment"), (13, "needs patience"), (21, "too many")],
)  # fmt: skip
def test_how_much_a_card_holds_is_said_in_words(count, words):
    # Common practice, no source: editors get few controls; dozens of them are a fault.
    assert words in fullness(count)
    assert 0 <= share(count) <= 1


@given(st.integers(0, 60), st.integers(0, 60))
def test_more_fields_never_look_like_less(one, other):
    assert (share(one) <= share(other)) or one > other


@pytest.mark.parametrize(
    ("first", "second", "said"),
    [
        ("Name", "Name", "2 fields are called “Name”."), ("Line 1", "Line 2", "A stranger can hardly tell “Line 1” and “Line 2” apart."),
        ("Bar colour", "Bar colours", "hardly tell"), ("Name", "Role", ""), ("Side", "Size", ""), ("Left colour", "Right colour", ""),
    ],
)  # fmt: skip
def test_labels_that_are_alike(first, second, said):
    template = carded(SwitchField(id="a", label=first), SwitchField(id="b", label=second))
    found = [r.words for r in remarks(template) if "changes nothing" not in r.words and "No field reaches" not in r.words]
    assert any(said in words for words in found) if said else found == []


def test_hints_limits_and_idle_fields():
    template = carded(NumberField(id="n", label="N"), TextField(id="t", label="T", hint="Short"), SwitchField(id="s", label="S"))
    assert words_about(template, "“N”") == [
        "“N” has no hint.",
        "“N” has no limits; any number can be typed.",
        "“N” changes nothing: it has no wire.",
    ]
    assert words_about(template, "“T”") == ["“T” changes nothing: it has no wire."]
    named = carding.wire_up(template, "t", "name/text")
    named = carding.wire_up(named, "s", "plate/opacity", Formula("own if value else n"))
    assert words_about(named, "“N” changes") == []  # a formula names it
    assert words_about(named, "“S”") == []
    assert words_about(template, "No field reaches") == ["No field reaches the words of Name. Is that meant?"]
    assert words_about(named, "No field reaches") == []


def test_words_that_cannot_be_read_on_their_plate():
    # WCAG 2.2, SC 1.4.3: large words need a contrast of 3:1; #8C9AA3 on white has about 2.9:1.
    template = edits.set_property(edits.set_property(plated(), "plate/fill.colour", "#8C9AA3"), "name/fill.colour", "#FFFFFF")
    assert "Name is hard to read on Plate to start with: contrast 2.9, where 3 is wanted." in [r.words for r in remarks(template)]
    small = edits.set_property(edits.set_property(plated(), "plate/fill.colour", "#77858E"), "name/size", 20)
    assert any("where 4.5 is wanted" in r.words for r in remarks(edits.set_property(small, "name/fill.colour", "#FFFFFF")))
    through = edits.set_property(template, "plate/opacity", 40)
    assert not words_about(through, "hard to read")
    swatches = (Swatch("dark", "Dark", "#102030"), Swatch("light", "Light", "#F4F4F4"))
    field = ColourField(id="c", label="Bar", may_be="swatches", default="dark", swatches=swatches, hint="x")
    wired = carding.wire_up(carded(field), "c", "plate/fill.colour")
    assert words_about(wired, "hard to read") == ["Name is hard to read on Plate with Bar “Light”: contrast 1.1, where 3 is wanted."]
    house, _ = sharing.add_house_colour(wired, "Pale", "#FAFAFA")
    house = carding.change_field(house, "c", may_be="house palette", default="pale")
    assert any("to start with" in words for words in words_about(house, "hard to read"))


@pytest.mark.parametrize(
    ("field", "ends"),
    [
        (NumberField(id="n", label="N", low=0, high=5), [0, 5]), (NumberField(id="n", label="N"), []), (SwitchField(id="s", label="S"), [True, False]),
        (LengthField(id="l", label="L", low=2, high=9, default=3), [2, 9]), (TextField(id="t", label="T"), []),
        (ChoiceField(id="c", label="C", default="a", options=(Option("a", "A"), Option("b", "B"))), ["a", "b"]),
    ],
)  # fmt: skip
def test_the_ends_of_what_a_field_takes(field, ends):
    assert [value for _, value in field.tried()] == ends


def test_every_end_is_tried_with_every_sample(book):
    samples = (Sample("a", "Short", {"t": "Bo"}), Sample("b", "Long", {"t": "Ioana Crețu-Whitlock"}))
    template = carded(TextField(id="t", label="T", default="x", hint="h"), NumberField(id="s", label="Size", low=20, high=200, default=80, hint="h"),
                      samples=samples)  # fmt: skip
    template = carding.wire_up(carding.wire_up(template, "t", "name/text"), "s", "name/size")
    assert [(t.words, t.sample) for t in trials(template)] == [
        (f"Size {v}", sample) for v in (20, 200) for sample in ("As designed", "Short", "Long")
    ]  # fmt: skip
    found = [r.words for r in tried_out(template, book)]
    assert all(w.startswith("With Size 200 and Long: ") for w in found)
    assert any("Name reaches beyond the frame by " in w for w in found)
    assert found
    bench = Bench(template, book)
    bench.work(60)
    assert (bench.done, bench.count) == (True, 6)
    assert isinstance(next(trials(template)), Trial)


def test_what_is_wrong_anyway_is_not_blamed_on_a_field(book):
    long = "Ioana Crețu-Whitlock of the northern reaches and all the tides that come and go"
    template = carded(NumberField(id="o", label="See-through", low=20, high=90, default=50, hint="h"), samples=(Sample("b", "Long", {}),))
    template = carding.wire_up(edits.set_property(template, "name/text", long), "o", "plate/opacity")
    assert findings(Scene(template, book))
    assert not [r for r in tried_out(template, book) if r.words.startswith("With")]


def test_a_field_whose_every_answer_gives_the_same_changes_nothing(book):
    template = carding.wire_up(carded(SwitchField(id="s", label="S")), "s", "plate/corner", Table({"yes": 30.0, "no": 30.0}))
    assert "“S” changes nothing, whatever it answers." in [r.words for r in tried_out(template, book)]
    template = carding.set_row(template, "plate/corner", False, 2.0)
    assert "“S” changes nothing, whatever it answers." not in [r.words for r in tried_out(template, book)]


@settings(max_examples=15)
@given(st.floats(0, 60), st.floats(0, 60))
def test_within_limits_that_hold_nothing_is_found(low, high):
    from avlet.text.fonts import bundled_fonts

    low, high = sorted((low, high))
    field = NumberField(id="c", label="Corners", low=low, high=high, default=low, hint="h")
    template = carding.wire_up(carded(field), "c", "plate/corner")
    assert not [r for r in tried_out(template, bundled_fonts()) if r.words.startswith("With")]


def with_range(**changes):
    field = NumberField(id="wide", label="Bar width", low=50.0, high=300.0, default=100.0, unit="%", step=5.0)
    wire = Wire("wide", "plate/fit.right", Range(**{"from_low": 75.0, "from_high": 175.0, "to_low": 10.0, "to_high": 90.0, **changes}))
    return hold(carded(field, wires=(wire,)))


def test_where_a_range_has_no_further_effect_is_told():
    """A bar's range on the card: above about 175 % nothing changed (common practice, no source)."""
    said = words_about(with_range(), "Bar width")
    assert [w for w in said if "nothing changes" in w] == [
        "“Bar width”: above 175 % nothing changes. Let its range end there.", "“Bar width”: below 75 % nothing changes. Let its range end there."
    ]  # fmt: skip
    assert not [w for w in words_about(with_range(from_low=50.0, from_high=300.0), "Bar width") if "nothing changes" in w]
    assert not [w for w in words_about(with_range(from_low=55.0, from_high=295.0), "Bar width") if "nothing changes" in w], (
        "a hair is not told"
    )
    assert len([w for w in words_about(with_range(from_low=50.0), "Bar width") if "nothing changes" in w]) == 1


def test_a_property_that_is_held_within_its_limits_has_no_further_effect_either():
    field = NumberField(id="seen", label="Seen", low=0.0, high=400.0, default=100.0, unit="%")
    template = hold(carded(field, wires=(Wire("seen", "plate/opacity", Straight()),)))
    assert any("above 100 % nothing changes" in words for words in words_about(template, "Seen"))
    idle = hold(carded(replace(field, id="idle", label="Idle")))
    assert not any("nothing changes" in words for words in words_about(idle, "Idle")), "that it changes nothing at all is told already"
