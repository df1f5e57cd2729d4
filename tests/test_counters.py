"""Counters: exact numbers in slots that never jitter, landing when they should, with wheels as a mechanical register has them."""

import io
import itertools
import math
from decimal import Decimal
from fractions import Fraction

import msgspec
import numpy as np
import pytest
import skia
from fontTools.ttLib import TTFont
from hypothesis import given, settings
from hypothesis import strategies as st

from avlet.desktop.card.wire_menus import _GROUPS
from avlet.document.cards.carding import add_field, put_on_card
from avlet.document.cards.wires import Wire
from avlet.document.editing.edits import set_property
from avlet.document.faults.checking import check
from avlet.document.fields import TextField
from avlet.document.looks.paints import Solid
from avlet.document.metadata import properties
from avlet.document.parts import (
    Accent,
    AnyPart,
    CounterPart,
    Counting,
    EchoPart,
    Fit,
    Matte,
    PictureFile,
    PicturePart,
    Place,
    Room,
    ShapePart,
    TextPart,
    Writing,
)
from avlet.document.template import Frame, MotionBlur, Template
from avlet.document.time.eases import READY_EASES, Along, Linear, Spring
from avlet.document.time.moves import Move, StaysToTheEnd, Tie
from avlet.errors import DocumentError, RelationError
from avlet.layout.arrange import arrange
from avlet.layout.bind import bind
from avlet.paint.outlines import turning_pieces, unit_paths
from avlet.paint.painter import canvas_over, new_pixels
from avlet.paint.posed_outlines import posed_outline
from avlet.paint.scene import Scene, first_alike
from avlet.review.samples import findings
from avlet.storage.template_json import decode, encode
from avlet.text.figures import Figures, figures_of
from avlet.text.fonts import bundled_fonts
from avlet.text.setting import Wheel
from avlet.text.wheels import Stretch

BOOK = bundled_fonts()
EVEN, PAST = READY_EASES["even"], READY_EASES["a little past"]
RATE = Fraction(25)
EXAMPLES = {
    PicturePart: lambda: PicturePart(id="x", name="X", picture=PictureFile("a.png")),
    EchoPart: lambda: EchoPart(id="x", name="X", of="y"),
}
replace = msgspec.structs.replace


def counter(**values) -> CounterPart:
    given = {"id": "c", "name": "Plugs", "size": 60.0, "across": Place(gap=40), "down": Place(gap=40), **values}
    return CounterPart(**given)


def titled(*parts, **values) -> Template:
    given = {"frame": Frame(960, 240, "25/1"), "length": 100, "way_in": 10, "way_out": 10, **values}
    return check(Template(parts=parts, **given))


def scene(*parts, length=None, **values) -> Scene:
    return Scene(titled(*parts, **values), BOOK, None, length)


def shown(made: Scene, frame: float, part="c") -> str:
    counted = made.choreography.movers[part]
    return counted.words_of(counted.moment(made.spans.since_begin(frame)))[1]


def figures(**values):
    return figures_of(counter(**values), RATE, BOOK)


# What is shown when


def test_it_begins_at_its_start_and_lands_exactly_on_its_frame():
    made = scene(counter(end="3250000", count=Counting(start=5, frames=20)))
    assert made.choreography.movers["c"].times == (5, 69)
    assert [shown(made, f) for f in (0, 4, 5)] == ["0", "0", "0"]
    assert shown(made, 68) != "3,250,000" and shown(made, 69) == shown(made, 98) == "3,250,000"


@pytest.mark.parametrize("length", [60, 100, 333, 2000])
def test_it_lands_as_long_before_the_way_out_at_any_length(length):
    made = scene(counter(end="1284"), length=length)
    land = length - 1 - 10 - 25
    assert made.choreography.movers["c"].times.land == land
    assert shown(made, land) == "1,284" and shown(made, land - 1) != "1,284"


def test_a_count_that_lands_after_its_begin_does_not_stretch():
    for length in (100, 500):
        made = scene(counter(count=Counting(start=10, lands="after", frames=30)), length=length)
        assert made.choreography.movers["c"].times == (10, 40)


def test_counting_down_and_below_zero():
    made = scene(counter(start="2", end="-2", count=Counting(lands="after", frames=40, ease=EVEN)))
    assert [shown(made, f) for f in (0, 9, 10, 11, 20, 30, 39, 40)] == ["2", "2", "1", "1", "0", "-1", "-1", "-2"]


def test_a_step_that_does_not_divide_lands_on_the_end_all_the_same():
    made = scene(counter(end="10", step="4", count=Counting(lands="after", frames=20, ease=EVEN)))
    assert [shown(made, f) for f in range(0, 21, 2)] == ["0", "0", "0", "0", "4", "4", "4", "4", "8", "8", "10"]


def test_what_is_rounded_is_rounded_towards_the_start():
    made = scene(counter(end="2", step="0.01", count=Counting(lands="after", frames=20, ease=EVEN)))
    assert [shown(made, f) for f in (0, 9, 10, 15, 19, 20)] == ["0", "0", "1", "1", "1", "2"]
    down = scene(counter(start="2", end="0", step="0.01", count=Counting(lands="after", frames=20, ease=EVEN)))
    assert [shown(down, f) for f in (0, 1, 10, 11, 19, 20)] == ["2", "2", "1", "1", "1", "0"]


def test_start_equal_to_end_stands_there():
    made = scene(counter(start="7", end="7"))
    assert {shown(made, f) for f in range(100)} == {"7"} and not made.notes()


def test_an_ease_that_goes_past_shows_numbers_beyond_the_end_and_comes_back():
    made = scene(counter(end="99", count=Counting(lands="after", frames=40, ease=PAST)))
    numbers = [int(shown(made, f)) for f in range(41)]
    assert max(numbers) > 99 and numbers[-1] == 99
    widest = made.rest.parts["c"].body.figures
    assert all(widest.numeral(widest.words(Decimal(n), False)).width <= widest.slots.width + 1e-6 for n in numbers)


def test_an_ease_that_is_there_early_does_not_show_the_end_early():
    early = Linear((Along(0, 0), Along(0.5, 1), Along(1, 1)))
    made = scene(counter(end="5", count=Counting(lands="after", frames=40, ease=early)))
    assert [shown(made, f) for f in (10, 20, 39, 40)] == ["2", "4", "4", "5"]


def test_in_real_time_a_second_is_a_second():
    clock = counter(start="600", end="0", writing=Writing("clock"), count=Counting(pace="in real time"))
    made = scene(clock, length=400)
    assert [shown(made, f) for f in (0, 24, 25, 26, 250)] == ["10:00", "10:00", "9:59", "9:59", "9:50"]
    assert any("does not land: it needs 14601 more frames" in n for n in made.notes())
    drop = scene(clock, length=400, frame=Frame(960, 240, "30000/1001"))
    assert [shown(drop, f) for f in (29, 30, 59, 60)] == ["10:00", "9:59", "9:59", "9:58"]


@pytest.mark.parametrize(
    ("start", "end", "step", "decimals"),
    [
        ("2.15", "-229.80", "0.25", 2),
        ("0", "1000.5", "0.0625", 3),
        ("7", "300", "10.01", 1),
        ("-0.5", "120", "0.009", 2),
        ("99.98", "101", "0.003", 2),
    ],
)
def test_slots_are_as_wide_as_the_widest_of_all_numbers_that_come(start, end, step, decimals):
    """Against writing every one of them: decimals that come and go make a number in the middle the widest."""
    figures = figures_of(counter(start=start, end=end, step=step, writing=Writing(most_decimals=decimals)), RATE, BOOK)
    count = figures.count
    widths = [figures.numeral(figures.words(count.after(n), n == count.steps)).width for n in range(count.steps + 1)]
    assert figures.slots.width == pytest.approx(max(widths))


@settings(max_examples=40)
@given(
    st.decimals(-(10**6), 10**6, places=2), st.decimals(-(10**6), 10**6, places=2), st.sampled_from(["1", "0.01", "0.25", "7"]),
    st.integers(1, 80), st.sampled_from([READY_EASES["soft both"], EVEN, READY_EASES["quick, then soft"]]),
)  # fmt: skip
def test_any_count_is_monotone_and_exact_at_both_ends(start, end, step, frames, ease):
    part = counter(
        start=str(start), end=str(end), step=step, count=Counting(lands="after", frames=frames, ease=ease), writing=Writing(most_decimals=2)
    )
    made = scene(part)
    counted = made.choreography.movers["c"]
    values = [counted.value(counted.moment(f)) for f in range(frames + 3)]
    way = 1 if end >= start else -1
    assert values[0] in (start, end) and values[frames] == values[-1] == end
    assert all((b - a) * way >= 0 for a, b in itertools.pairwise(values))
    if start != end:
        assert values[0] == start and all(v != end for v in values[:frames])
    slots = made.rest.parts["c"].body.figures
    assert all(slots.numeral(slots.words(v, v == end)).width <= slots.slots.width + 1e-6 for v in values), "never wider than its slots"


def test_frames_before_the_begin_and_after_the_landing_are_equal():
    made = scene(counter(end="5000", count=Counting(start=10, lands="after", frames=20)))
    alike = first_alike(made)
    assert alike[:11] == [0] * 11 and set(alike[30:]) == {30} and len(set(alike[11:30])) == 19


# Ties, and counts that come too late


def test_counts_follow_moves_and_each_other():
    bar = ShapePart(id="bar", name="Bar", way_in=(Move(opacity=0.0, frames=12, start=3),))
    first = counter(id="a", name="A", count=Counting(tie=Tie("bar", "after its end", 2), lands="after", frames=10))
    second = counter(id="b", name="B", count=Counting(tie=Tie("a", "after its end", 1), lands="after", frames=10))
    third = counter(id="c", name="C", count=Counting(tie=Tie("b", "ending with it"), lands="after", frames=4))
    assert {i: tuple(c.times) for i, c in scene(bar, first, second, third).choreography.movers.items()} == {
        "a": (17, 27),
        "b": (28, 38),
        "c": (34, 38),
    }


def test_counts_that_wait_for_each_other_are_refused_in_words():
    one = counter(id="a", name="A", count=Counting(tie=Tie("b")))
    other = counter(id="b", name="B", count=Counting(tie=Tie("a")))
    with pytest.raises(RelationError, match=r"These counts wait for each other: [AB] for [AB], [AB] for [AB]"):
        scene(one, other)


@pytest.mark.parametrize(
    ("count", "length", "words"),
    [
        (Counting(start=90, frames=25), 100, "lands before it begins"), (Counting(lands="after", frames=200), 100, "does not land: it needs 101 more"),
        (Counting(lands="after", frames=95), 100, "lands 6 frames after the way out has begun"), (Counting(lands="after", frames=0), 100, "lands at once"),
    ],
)  # fmt: skip
def test_a_count_that_does_not_fit_its_title_is_said(count, length, words):
    assert any(words in note for note in scene(counter(count=count), length=length).notes())


@pytest.mark.parametrize("count", [Counting(), Counting(lands="after", frames=50), Counting(start=5, frames=20), Counting(pace="in real time"), Counting(lands="after", start=3, frames=9)])  # fmt: skip
def test_a_single_frame_shows_the_end(count):
    assert shown(scene(counter(count=count), length=1), 0) == "100"
    waits = counter(id="d", name="D", count=Counting(lands="after", frames=30, tie=Tie("c")))
    assert shown(scene(counter(count=count), waits, length=1), 0, "d") == "100"


@pytest.mark.parametrize("count", [Counting(start=90, frames=25), Counting(lands="after", start=40, frames=0)])
def test_what_lands_before_it_begins_stands_at_its_end_from_the_first_frame_on(count):
    made = scene(counter(count=count))
    assert {shown(made, frame) for frame in (0, 10, 39, 41, 89, 99)} == {"100"} and any(
        "stands at its end" in note for note in made.notes()
    )


# Slots


def boxes(made, frame):
    """The ink of each unit by letter in a frame."""
    posed = made.pose(frame).parts["c"]
    return posed.rest.body.setting.unit_ink("character")


@pytest.mark.parametrize("family", ["Fira Sans", "Alegreya", "Inter"])
def test_every_figure_stands_in_the_middle_of_its_slot_and_the_next_ones_stay(family):
    figures_ = figures(end="9999", family=family, style="Bold", writing=Writing(grouping=False))
    ones, eights = (figures_.placed(figures_.words(Decimal(n), False)) for n in (1111, 8888))
    advance = figures_._slot_width
    for setting in (ones, eights):
        own = [figures_.ten[int(d)].advance for d in ("1" if setting is ones else "8") * 4]
        assert setting.x == pytest.approx([n * advance + (advance - a) / 2 for n, a in enumerate(own)])
    assert figures_.slots.width == pytest.approx(4 * advance)


def test_figures_of_unequal_width_are_each_in_the_middle_of_their_slot(monkeypatch):
    monkeypatch.setattr(Figures, "_features", lambda self: ("-tnum",))
    own = Figures(counter(end="9999", family="Inter", style="Bold", writing=Writing(grouping=False)), RATE, BOOK)
    widths = [f.advance for f in own.ten]
    assert widths[1] < max(widths) == own._slot_width
    setting = own.placed(own.words(Decimal(1811), False))
    middles = [x + widths[int(d)] / 2 for x, d in zip(setting.x, "1811", strict=True)]
    assert middles == pytest.approx([(n + 0.5) * own._slot_width for n in range(4)])
    assert setting.ink[:, [0, 2]].mean(axis=1) == pytest.approx(middles, abs=own._slot_width * 0.12)


def test_the_font_s_own_figures_of_one_width_are_used_where_it_has_them():
    """fontTools: with ``tnum`` all ten figures of Fira Sans are equally wide, and as wide as the slots."""
    face = BOOK.find("Fira Sans", "Bold")[0]
    font = TTFont(io.BytesIO(face.data))
    tags = {record.FeatureTag for record in font["GSUB"].table.FeatureList.FeatureRecord}
    own = figures(end="9")
    assert "tnum" in tags and len({round(f.advance, 6) for f in own.ten}) == 1
    assert own._slot_width == pytest.approx(font["hmtx"][font.getGlyphName(own.ten[0].glyph)][0] / face.upem * 60)


@pytest.mark.parametrize(
    ("keeps", "stays"), [("right edge", "right"), ("left edge", "left"), ("middle", "middle"), ("decimal sign", "point")]
)
def test_what_it_keeps_stays_where_it_is(keeps, stays):
    own = figures(start="0", end="1284.5", step="0.1", keeps=keeps, writing=Writing(least_decimals=0, most_decimals=1))
    found = []
    for value in ("1", "7.5", "45.1", "1284.5"):
        numeral = own.numeral(own.words(Decimal(value), value == "1284.5"))
        left = own.shift(numeral)
        point = own.placed(numeral.written)
        at = point.x[(point.clusters - numeral.zone[0]) == numeral.written.point]
        found.append(
            {
                "left": left,
                "right": left + numeral.width,
                "middle": left + numeral.width / 2,
                "point": at[0] if len(at) else left + numeral.width,
            }[stays]
        )
    assert found == pytest.approx([found[-1]] * 4)


@pytest.mark.parametrize(
    ("keeps", "wanted"),
    [("decimal sign", [3, 3, 3, 3]), ("right edge", [3, 5, 3, 5]), ("left edge", [0, 0, 2, 3]), ("middle", [1, 2, 2, 4])],
)
def test_the_same_figure_is_the_same_unit_of_longer_and_shorter_numbers(keeps, wanted):
    """The slot of the ones, for 7.5, 7, 145.1 and 1284 in slots for 1284.5."""
    own = figures(start="0", end="1284.5", step="0.1", keeps=keeps, writing=Writing(most_decimals=1, grouping=False))
    found = []
    for value in ("7.5", "7", "145.1", "1284"):
        written = own.words(Decimal(value), False)
        found.append(own.slot_of(written, written.point - 1))
    assert found == wanted


def test_a_separator_comes_only_with_a_figure_before_it():
    own = figures(end="1000000")
    for value, words in ((999, "999"), (1000, "1,000"), (999_999, "999,999"), (1_000_000, "1,000,000")):
        assert own.words(Decimal(value), False).words == words
    nines, thousand = own.placed(own.words(Decimal(999), False)), own.placed(own.words(Decimal(1000), False))
    assert nines.unit_ink("character")[-3:, 0] == pytest.approx(thousand.unit_ink("character")[-3:, 0], abs=12)
    assert np.isnan(nines.unit_ink("character")[:-3]).all() and nines.counts == thousand.counts


def test_what_fits_around_it_goes_by_the_widest_or_the_last_number():
    plate = ShapePart(id="p", name="P", across=None, down=None, fit=Fit(("c",), left=5, right=5))
    for box, words in (("widest number", "1,000"), ("last number", "0")):
        made = scene(plate, counter(start="1000", end="0", box=box))
        alone = (
            made.rest.parts["c"].body.figures.numeral(made.rest.parts["c"].body.figures.words(Decimal(words.replace(",", "")), True)).width
        )
        assert made.rest.parts["p"].box.w == pytest.approx(alone + 10)
        assert {made.pose(f).parts["p"].outline_box.w for f in range(0, 100, 9)} == {made.pose(0).parts["p"].outline_box.w}


def test_laying_out_does_not_grow_with_the_count():
    few, many = figures(end="100"), figures(end="1000000000000")
    assert len(many._candidates()) < 6 * len(few._candidates()) < 2000


def test_figures_as_the_font_sets_them_keep_their_kerning():
    own = figures(end="1111", family="Alegreya", figures="as the font sets them")
    text = Scene(titled(TextPart(id="t", name="T", text="1,111", family="Alegreya", size=60.0)), BOOK).rest.parts["t"]
    assert own.last.width == pytest.approx(text.box.w)


def test_room_shrinks_all_numbers_alike():
    own = figures(end="1000000", room=Room(width=150.0, remedies=("shrink",), smallest_size=20.0))
    assert own.slots.width == pytest.approx(150, rel=0.01) and own.size < 60
    assert any(
        "shrinks to" in n for n in scene(counter(end="1000000", room=Room(width=150.0, remedies=("shrink",), smallest_size=20.0))).notes()
    )


@pytest.mark.parametrize(
    ("language", "family", "words"),
    [("ar_EG", "Noto Sans Arabic", "٣٬٢٥٠"), ("hi", "Noto Sans Devanagari", "3,250"), ("fr", "Fira Sans", "3\u202f250"), ("de", "Fira Sans", "3.250")],
)  # fmt: skip
def test_it_counts_in_any_language(language, family, words):
    made = scene(counter(end="3250", family=family, writing=Writing(language=language)))
    assert shown(made, 99) == words and made.picture(95).any() and made.picture(40).any()
    assert not [n for n in made.notes() if "glyph" in n]


# Words before and after, moves, mattes, wires: all that a text can


def test_words_before_and_after_are_accents_and_units_of_their_own():
    accents = (Accent("Fira Sans", "Light", 50.0, Solid("#FF0000"), 10.0), Accent("Fira Sans", "Light", 50.0))
    part = counter(end="12", before="ca ", after=" ha", accents=accents)
    made = scene(part)
    setting = made.rest.parts["c"].body.setting
    assert setting.counts["character"] == 2 + 2 + 2 and setting.counts["word"] == 3
    assert set(setting.accent.tolist()) == {0, 1, 2} and setting.scale[0] == 30
    lifted, plain_ = setting, figures(end="12", before="ca ", after=" ha", accents=(replace(accents[0], baseline=0.0), accents[1])).rest
    assert plain_.y[0] - lifted.y[0] == pytest.approx(10) and plain_.y[-1] == lifted.y[-1]
    assert (made.picture(95)[..., 0] > 200).any()


@pytest.mark.parametrize("text", ["{1:", "}", "{{", "a\nb", "{2:x}", "\u202e", "👩‍👩‍👧", "x" * 300])
def test_hostile_words_beside_it_are_set_as_they_are(text):
    made = scene(counter(before=text, after=text))
    assert made.picture(95) is not None and made.rest.parts["c"].box.w >= 0


def test_slots_arrive_one_by_one_however_many_figures_there_are():
    step = Move(opacity=0.0, by="character", frames=30, overlap=0.0, ease=EVEN)
    made = scene(counter(end="1000", way_in=(step,), count=Counting(start=0, lands="after", frames=60)), way_in=40)
    for frame in range(0, 45, 3):
        posed = made.pose(frame).parts["c"]
        assert len(posed.opacity) == 5 == posed.rest.body.setting.counts["character"]
        made.picture(frame, 96, 24)


def test_it_is_a_matte_and_has_one():
    bar = ShapePart(id="bar", name="Bar", width=960, height=240, fill=Solid("#00FF00"), mattes=(Matte("c"),))
    made = scene(counter(end="888", change="rolling up", opacity=0.0, count=Counting(lands="after", frames=40)), bar)
    outline = posed_outline(made.pose(23), "c").computeTightBounds()
    painted = np.argwhere(made.picture(23)[..., 1] > 127)
    assert [outline.top(), outline.bottom()] == pytest.approx([painted[:, 0].min(), painted[:, 0].max() + 1], abs=1.5)
    inside = scene(bar.__class__(id="bar", name="Bar", width=100, height=240), counter(end="888", mattes=(Matte("bar"),)))
    assert not inside.picture(95)[:, 101:].any()


def test_an_echo_counts_later():
    echo = EchoPart(id="e", name="E", of="c", later=10, across=Place(gap=40), down=Place("c", "start", "end", 10))
    made = scene(counter(end="100", count=Counting(lands="after", frames=50, ease=EVEN)), echo)
    copy = made.pose(40).echoes["e"].parts["c"].rest.body.setting
    assert copy.glyphs.tolist() == made.pose(30).parts["c"].rest.body.setting.glyphs.tolist()


def test_measures_of_a_counter_lead_wires():
    rule = ShapePart(id="r", name="R", width=10.0, height=4.0)
    bar = ShapePart(id="b", name="B", width=10.0, height=4.0)
    template = check(
        replace(
            titled(counter(end="284.5", writing=Writing(most_decimals=1)), rule, bar),
            wires=(Wire("c/rest.slots", "r/width"), Wire("c/rest.final", "b/width")),
        )
    )
    rest = arrange(bind(template), BOOK)
    assert rest.parts["r"].box.w == pytest.approx(rest.parts["c"].body.figures.slots.width) and rest.parts["b"].box.w == 284.5


def test_it_comes_back_from_its_file():
    part = counter(
        start="-1000000000000000",
        end="999999999999999.123456789",
        step="0.000000001",
        before="≈ ",
        writing=Writing("money", "de", currency="GBP"),
    )
    template = titled(part)
    assert decode(encode(template), "x") == template
    assert shown(Scene(template, BOOK), 99) == "999.999.999.999.999\u00a0£"


# Wheels, flaps, fading


def register(value: Fraction, wheels: int) -> list[float]:
    """A mechanical register by brute force: turned in small steps, each wheel carried on by the one below in its last tenth."""
    places, before = [0.0] * wheels, 0
    steps = int(value * 20)
    for n in range(1, steps + 1):
        now = Fraction(n, 20)
        places[0] = float(now % 10)
        for wheel in range(1, wheels):
            below_before, below = _below(before, wheel), _below(now, wheel)
            places[wheel] = (places[wheel] + below - below_before) % 10 if below >= below_before else places[wheel]
        before = now
    return places


def _below(value, wheel) -> float:
    """How far a wheel has been carried on, in all: a figure for each turn of the one below, during the last tenth of that."""
    turn = Fraction(value) / 10**wheel
    whole, rest = divmod(turn, 1)
    unit = Fraction(1, 10**wheel)
    return float(whole + max(Fraction(0), (rest - (1 - unit)) / unit))


def rolled(own, low: int, share: float, change="rolling up"):
    """The setting of a count some of its way from one number to the next."""
    if change.startswith("rolling"):
        return own.rolling((Stretch(low, 1.0, share, share),), change == "rolling up")
    return own.turned(*(own.words(own.count.after(n), n == own.count.steps) for n in (low, low + 1)), share, change)


def turned(wheel: Wheel, passing: int) -> float:
    """How far up a wheel's figure is from where it rests, in turns."""
    return -wheel.passing[passing].begin / (wheel.bottom - wheel.top)


@pytest.mark.parametrize(
    "value",
    [Fraction(0), Fraction(7, 2), Fraction(19, 2), Fraction(199, 20), Fraction(1993, 20), Fraction(9995, 10), Fraction(129_975, 100)],
)
def test_wheels_turn_as_those_of_a_register(value):
    """Every wheel stands where the register's does: those that are carried move together, all others are at rest."""
    own = figures(end="9999", change="rolling up", writing=Writing(grouping=False, least_digits=4))
    low = math.floor(value)
    turns = {wheel.units["character"]: turned(wheel, 0) for wheel in rolled(own, low, float(value - low)).turning}
    wanted = register(value, 4)
    for wheel in range(4):
        unit, digit = 3 - wheel, low // 10**wheel % 10
        assert (digit + turns.get(unit, 0.0)) % 10 == pytest.approx(wanted[wheel], abs=1e-3)


def test_wheels_stand_at_rest_at_both_ends_and_when_a_number_has_come():
    made = scene(counter(end="20", change="rolling up", count=Counting(lands="after", frames=40, ease=EVEN)))
    assert not made.pose(0).parts["c"].rest.body.setting.turning and not made.pose(40).parts["c"].rest.body.setting.turning
    assert not made.pose(2).parts["c"].rest.body.setting.turning and made.pose(3).parts["c"].rest.body.setting.turning


def test_a_change_takes_no_longer_than_it_may():
    made = scene(counter(end="4", change="turning over", turning=4, count=Counting(lands="after", frames=80, ease=EVEN)))
    moving = [f for f in range(80) if made.pose(f).parts["c"].rest.body.setting.turning]
    assert moving == [17, 18, 19, 37, 38, 39, 57, 58, 59, 77, 78, 79]


@pytest.mark.parametrize("change", ["rolling up", "rolling down", "turning over", "fading"])
def test_halfway_both_figures_are_to_be_seen_and_nothing_leaves_the_wheel(change):
    own = figures(end="99", change=change, writing=Writing(least_digits=2))
    setting = rolled(own, 1, 0.3, change)
    assert [t.units["character"] for t in setting.turning] == [1]
    made = scene(counter(end="3", change=change, count=Counting(lands="after", frames=30, ease=EVEN)))
    picture, turn = made.picture(14)[..., 3], made.pose(14).parts["c"].rest.body.setting.turning[0]
    assert picture.any()
    rows = np.argwhere(picture)[:, 0]
    top = made.rest.parts["c"].box.y
    assert rows.min() >= top + turn.top - 1 and rows.max() <= top + turn.bottom + 1


def test_rolling_up_and_down_go_different_ways():
    tops = {}
    for change in ("rolling up", "rolling down"):
        made = scene(counter(start="1", end="2", change=change, count=Counting(lands="after", frames=20, ease=EVEN)))
        early = turning_pieces(made.pose(3).parts["c"].rest.body.setting, "character")[0][0][0].getBounds()
        rest = unit_paths(made.pose(0).parts["c"].rest.body.setting, "character")[0].getBounds()
        tops[change] = early.top() - rest.top(), early.bottom() - rest.bottom()
    assert tops["rolling up"][1] < 0 and tops["rolling down"][0] > 0


@pytest.mark.parametrize(("change", "share"), [("rolling up", 0.9), ("rolling down", 0.2), ("turning over", 0.9)])
def test_figures_keep_their_holes_on_the_way(change, share):
    """The inside of a nought is not painted, wherever the wheel cuts it."""
    own = figures(end="9", step="9", change=change)
    setting = rolled(own, 0, share if change != "rolling up" else 0.1, change)
    pieces = [p for several in turning_pieces(setting, "line").values() for p, _ in several]
    whole = unit_paths(own.placed(own.words(Decimal(0), False)), "line")[0]
    drawn = sum(_area(p) for p in pieces)
    assert drawn < 1.25 * _area(whole)


def _area(path) -> int:
    pixels = new_pixels(200, 200)
    surface = canvas_over(pixels)
    surface.getCanvas().drawPath(path, skia.Paint())
    return int((pixels[..., 3] > 127).sum())


def test_fading_figures_add_up():
    made = scene(counter(start="1", end="2", change="fading", count=Counting(lands="after", frames=20, ease=EVEN)))
    alone = made.picture(0)[..., 3].astype(int)
    most = made.picture(15)[..., 3].astype(int)
    where = alone == 255
    assert most[where].max() < 210 and (most[where] == 64).sum() > 30, "a quarter of the 1 is left where the 2 is not"


def test_wheels_are_blurred_where_that_is_asked_for_also_without_motion_blur():
    count = Counting(lands="after", frames=60, ease=EVEN)
    sharp = scene(counter(end="30000", change="rolling up", count=count))
    blurred = scene(counter(end="30000", change="rolling up", count=count, blurred=True))
    grey = lambda made: ((made.picture(30)[..., 3] > 20) & (made.picture(30)[..., 3] < 200)).sum()  # noqa: E731
    assert grey(blurred) > 3 * grey(sharp)
    assert np.array_equal(blurred.picture(60), sharp.picture(60)) and np.array_equal(blurred.picture(0), sharp.picture(0))
    off = scene(counter(end="30000", change="at once", count=count, blurred=True))
    assert np.array_equal(off.picture(30), scene(counter(end="30000", count=count)).picture(30))


def test_motion_blur_of_the_template_keeps_the_number_of_its_frame():
    count = Counting(lands="after", frames=60, ease=EVEN)
    made = scene(counter(end="30000", count=count), motion_blur=MotionBlur(180.0))
    assert np.array_equal(made.picture(30), scene(counter(end="30000", count=count)).picture(30))


# Refused in words


@pytest.mark.parametrize(
    ("values", "words"),
    [
        ({"step": "0"}, "A step is larger than 0"), ({"step": "-1"}, "A step is larger than 0"), ({"end": "9999999999999999"}, "must lie between"),
        ({"writing": Writing("pattern", pattern="nothing")}, "no place for a digit"), ({"writing": Writing(language="tlh")}, "no rules for the language"),
        ({"writing": Writing("money", currency="€")}, "no currency"), ({"writing": Writing("timecode", drop=True)}, "Drop-frame"),
        ({"count": Counting(tie=Tie("nobody"))}, "waits for “nobody”"), ({"count": Counting(tie=Tie("c"))}, "waits for itself"),
    ],
)  # fmt: skip
def test_what_cannot_count_is_refused_in_words(values, words):
    with pytest.raises(DocumentError, match=words):
        titled(counter(**values))


@pytest.mark.parametrize("value", ["", "ten", "1,5", "1e3x", "1" * 30, None, [], float("nan"), True])
def test_what_is_no_number_is_refused_as_an_end(value):
    with pytest.raises(DocumentError, match=r"takes|must lie"):
        set_property(titled(counter()), "c/end", value)


def test_ends_are_set_exactly_from_numbers_and_words():
    template = titled(counter())
    assert set_property(template, "c/end", "999999999999999.123456789").part("c").end == "999999999999999.123456789"
    assert set_property(template, "c/end", 1284.5).part("c").end == "1284.5" and set_property(template, "c/end", 7).part("c").end == "7"


@pytest.mark.parametrize(
    ("target", "answer", "words"),
    [
        ("writing.language", "nowhere", "no rules for the language “nowhere”"), ("writing.pattern", "none", "no place for a digit"),
        ("writing.currency", "euro", "no currency"), ("writing.unit", "'); x", "no unit"), ("step", -4.0, "A step of -4 is none; it counts by ones"),
        ("step", 0.0, "A step of 0 is none"),
    ],
)  # fmt: skip
def test_an_answer_that_makes_no_sense_is_said_and_it_counts_on(target, answer, words):
    style = {"writing.pattern": "pattern", "writing.currency": "money", "writing.unit": "unit"}.get(target, "number")
    template = titled(counter(writing=Writing(style)))
    if target == "writing.language":
        field = "language"
        asked = TextField(id=field, label="Language", default="en")
        template = check(replace(add_field(template, asked), wires=(Wire(field, f"c/{target}"),)))
    else:
        template, field = put_on_card(template, f"c/{target}")
    made = Scene(template, BOOK, {field: answer})
    assert any(words in note for note in made.notes()) and shown(made, 99) == "100" and made.picture(50).any()


def test_numbers_that_reach_beyond_the_frame_on_the_way_are_found():
    down = counter(start="1000000000", end="0", box="last number", across=Place("frame", "end", "end", -700))
    assert [f.verdict for f in findings(scene(down))] == ["past the frame"]
    assert findings(scene(counter(end="0", across=Place("frame", "end", "end", -700)))) == []


def test_every_property_can_be_found_in_the_menus_of_the_card():
    groups = {p.type.group for kind in AnyPart.__args__ for p in properties(EXAMPLES.get(kind, lambda: None)() or kind(id="x", name="X"))}
    assert groups <= set(_GROUPS)


def test_a_font_without_figures_is_said_and_counts_on():
    made = scene(counter(end="100", family="Nowhere Sans", writing=Writing(digits="tamil")))
    assert made.picture(95) is not None and any("Nowhere Sans" in n for n in made.notes()) and any("glyphs for" in n for n in made.notes())


def test_a_spring_settles_on_the_number():
    made = scene(counter(end="50", way_out=StaysToTheEnd(), count=Counting(lands="after", frames=60, ease=Spring())))
    assert shown(made, 60) == "50" and max(int(shown(made, f)) for f in range(60)) > 50
