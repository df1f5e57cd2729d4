"""Another frame, another rate, and parts that go from one template to another."""

from fractions import Fraction

import numpy as np
import pytest
from conftest import DEMO, TEMPLATES, plated

from avlet.document.cards.card import Card, Sample, Section
from avlet.document.cards.carding import put_on_card
from avlet.document.cards.wires import Formula, Range, Wire
from avlet.document.editing import edits
from avlet.document.editing.edits import replace
from avlet.document.editing.reframing import held_by, replaced_in, retimed_to, rounded_by, scaled_to
from avlet.document.faults.checking import check
from avlet.document.fields import LengthField, NumberField
from avlet.document.house import TextStyle
from avlet.document.looks.forms import SlantedBar
from avlet.document.looks.paints import Outline, Shadow
from avlet.document.parts import CounterPart, CreditsPart, Place
from avlet.document.parts.counter import Writing
from avlet.document.starts import STARTS, blank
from avlet.document.template import Frame
from avlet.layout.bind import bind
from avlet.paint.scene import Scene
from avlet.review.card_measure import trials
from avlet.storage.package import open_template
from avlet.text.fonts import bundled_fonts


@pytest.mark.parametrize("start", list(STARTS)[1:])
def test_a_template_scaled_to_twice_the_lines_is_the_same_picture(start):
    """The engine's own law: at 2160 lines everything is as at 1080, but for resolution."""
    template = STARTS[start](Frame(1920, 1080, "25/1"))
    large = scaled_to(template, Frame(3840, 2160, "25/1"))
    for frame in (12, 60):
        one = Scene(template, bundled_fonts()).picture(frame, 960, 540).astype(int)
        two = Scene(large, bundled_fonts()).picture(frame, 960, 540).astype(int)
        lit = any(part.has_depth for part in template.parts)  # shadows have soft edges of their own in either frame
        assert np.abs(one - two).mean() < (0.2 if lit else 0.08)  # a travel out of a matte ends one px beyond it in either frame


def test_every_px_scales_and_nothing_else():
    template = edits.put_struct(plated(), "plate", "outline", Outline(6))
    template = edits.put_struct(template, "plate", "shadows", (Shadow(2, 4, 8),))
    template = edits.put_struct(template, "plate", "form", SlantedBar(30))
    made = scaled_to(template, Frame(960, 540, "25/1"))
    plate, name = made.part("plate"), made.part("name")
    assert (plate.outline.width, plate.shadows[0].blur, plate.form.slant, plate.corner) == (3, 4, 15, 15)
    assert (plate.fit.left, name.size, name.across.gap, name.leading) == (25, 40, 100, 120)
    assert name.way_in[0].frames == 20


def test_corners_in_percent_and_slants_in_degrees_stay():
    template = edits.put_struct(plated(), "plate", "form", SlantedBar(20, "degrees"))
    template = edits.set_property(template, "plate/corner_unit", "percent")
    plate = scaled_to(template, Frame(3840, 2160)).part("plate")
    assert (plate.form.slant, plate.corner) == (20, 30)


def test_an_upright_frame_takes_the_smaller_ratio():
    assert scaled_to(plated(), Frame(1080, 1920)).part("name").size == pytest.approx(80 * 1080 / 1920)


def test_re_placing_keeps_sizes_and_goes_with_the_edges():
    template = edits.set_relations(plated(), "name", across=Place("title-safe", "end", "end"))
    made = replaced_in(template, Frame(1280, 720))
    box = Scene(made, bundled_fonts()).rest.parts["name"].box
    assert box.right == pytest.approx(1280 * 0.95)
    assert made.part("name").size == 80


@pytest.mark.parametrize("rate", ["24000/1001", "30000/1001", "50/1", "60/1"])
def test_another_rate_keeps_the_seconds(rate):
    made = retimed_to(plated(), rate)
    half_a_frame = float(1 / made.frame.fps) / 2 + 1e-9
    assert float(made.length / made.frame.fps) == pytest.approx(100 / 25, abs=half_a_frame)
    assert float(made.way_in / made.frame.fps) == pytest.approx(1, abs=half_a_frame)
    assert float(made.part("name").way_in[0].frames / made.frame.fps) == pytest.approx(20 / 25, abs=half_a_frame)
    assert made.frame.fps == Fraction(rate)


def every_answer(template):
    """The starting answers, every sample's, and every end of every field with each of them."""
    yield {}
    yield from (sample.answers for sample in template.samples)
    yield from (trial.answers for trial in trials(template))


@pytest.mark.parametrize("factor", [0.5, 2.0])
@pytest.mark.parametrize("name", TEMPLATES)
def test_scaled_to_k_every_resting_box_is_k_times_itself(name, factor):
    """With every option and sample; answers in px scale as well."""
    opened = open_template(DEMO / name)
    template, shape = opened.template, opened.template.frame
    made = scaled_to(template, Frame(round(shape.width * factor), round(shape.height * factor), shape.rate))
    for one, two in zip(every_answer(template), every_answer(made), strict=True):
        before, after = Scene(template, opened.book, one).rest, Scene(made, opened.book, two).rest
        for part_id, part in before.parts.items():
            wanted = [factor * edge for edge in part.box]
            assert list(after.parts[part_id].box) == pytest.approx(wanted, abs=0.01), (part_id, one)
            assert after.parts[part_id].present == part.present


def test_maps_of_wires_scale_with_what_they_lead_from_and_to():
    card = Card(sections=(Section(fields=(
        NumberField(id="room", label="Room", default=600, low=100, high=1000, unit="px"),
        NumberField(id="air", label="Air", default=20, low=0, high=100, unit="%"),
        NumberField(id="both", label="Both", default=10, low=0, high=50),
        LengthField(id="rest", label="Rest", default=50, low=10, high=100),
    )),))  # fmt: skip
    template = check(edits.replace(plated(), card=card, samples=(Sample("a", "A", {"room": 500, "air": 50, "rest": 40}),), wires=(
        Wire("room", "plate/fit.least_width"),
        Wire("air", "plate/fit.left", Range(0, 100, 10, 210)),
        Wire("air", "plate/fit.right", Formula("value / 100 * 40 + 12")),
        Wire("name/rest.width", "plate/opacity", Range(0, 1000, 20, 100)),
        Wire("name/rest.height", "plate/corner", Formula("value / 2")),
        Wire("both", "plate/fit.top"), Wire("both", "plate/turn"),
        Wire("rest", "template/length"),
    )))  # fmt: skip
    half = scaled_to(template, Frame(960, 540, "25/1"))
    assert (half.card.field("room").default, half.card.field("room").high, half.samples[0].answers["room"]) == (300, 500, 250)
    assert (half.card.field("air").default, half.samples[0].answers["air"]) == (20, 50)
    assert half.wire_to("plate/fit.left").map == Range(0, 100, 5, 105)
    assert half.wire_to("plate/opacity").map == Range(0, 500, 20, 100)
    assert half.wire_to("plate/corner").map == Formula("value / 2")
    for answers in ({}, template.samples[0].answers):
        one = bind(template, answers).parts[0]
        two = bind(half, {**answers, **({"room": 250} if answers else {})}).parts[0]
        assert two.fit.right == pytest.approx(one.fit.right / 2)
        assert two.fit.top == pytest.approx(one.fit.top / 2)
        assert two.turn == one.turn == 10
    slower = retimed_to(template, "50/1")
    assert (slower.card.field("rest").default, slower.card.field("rest").high, slower.samples[0].answers["rest"]) == (100, 200, 80)
    assert bind(slower).length == 100


def test_what_cannot_grow_as_far_is_held_and_said():
    template = edits.set_property(plated(), "name/size", 3000)
    frame = Frame(3840, 2160)
    assert scaled_to(template, frame).part("name").size == 4000
    assert held_by(template, frame) == ["Size of Name is held at 4000 px"]


def test_a_field_without_a_unit_is_scaled_only_where_all_that_it_leads_to_is_in_px():
    field = NumberField(id="n", label="N", default=20, high=100)
    card = Card(sections=(Section(fields=(field,)),))
    template = edits.replace(plated(), card=card, wires=(Wire("n", "plate/corner"), Wire("n", "plate/turn")))
    twice = Frame(3840, 2160, "25/1")
    assert scaled_to(template, twice).card.field("n").default == 20
    assert scaled_to(edits.replace(template, wires=template.wires[:1]), twice).card.field("n").default == 40


def test_text_styles_are_scaled_with_the_texts():
    template = edits.replace(plated(), text_styles=(TextStyle(id="big", name="Big", size=90.0),))
    assert scaled_to(template, Frame(3840, 2160, "25/1")).text_styles[0].size == 180


# Rates


@pytest.mark.parametrize("rate", ["24000/1001", "24/1", "30/1", "50/1", "60/1", "120/1"])
def test_a_roll_whose_speed_leads_lasts_as_long_at_another_rate(rate):
    """px a second are kept, so that what its list needs at that speed is as many seconds as before."""
    opened = open_template(DEMO / "end-roll.avlet")
    roll = next(p for p in opened.template.parts if isinstance(p, CreditsPart))
    led = edits.set_property(opened.template, f"{roll.id}/movement.leads", "speed")
    before = Scene(led, opened.book)
    made = retimed_to(led, rate)
    after = Scene(made, opened.book)
    fps, new = led.frame.fps, made.frame.fps
    assert made.part(roll.id).movement.speed * float(new) == pytest.approx(roll.movement.speed * float(fps), rel=1e-4)
    assert after.length / float(new) == pytest.approx(before.length / float(fps), abs=1.5 / float(min(fps, new)))


def test_a_card_and_its_wires_keep_the_speed_of_a_roll_too():
    opened = open_template(DEMO / "end-roll.avlet")
    roll = next(p for p in opened.template.parts if isinstance(p, CreditsPart))
    carded, field_id = put_on_card(edits.set_property(opened.template, f"{roll.id}/movement.leads", "speed"), f"{roll.id}/movement.speed")
    made = retimed_to(carded, "50/1")
    for template, fps in ((carded, 25.0), (made, 50.0)):
        start = template.card.field(field_id).start
        speed = next(p for p in bind(template).parts if p.id == roll.id).movement.speed
        assert speed * fps == pytest.approx(roll.movement.speed * 25, rel=1e-4), (start, speed)


@pytest.mark.parametrize(
    ("rate", "end", "told"), [("50/1", "500", False), ("30/1", "300", False), ("24/1", "240", False), ("24000/1001", "240", True)]
)
def test_a_count_of_timecode_ends_at_the_same_second_at_another_rate(rate, end, told):
    """10 s at 25 frames a second are 250 frames; what has to be rounded is said with its exact value, by fractions."""
    counter = CounterPart(id="c", name="Clock", start="0", end="250", writing=Writing(style="timecode"))
    template = edits.add_part(blank(), counter)
    made = retimed_to(template, rate).part("c")
    assert (made.start, made.end, made.step) == ("0", end, "1")
    exact = Fraction(250) * Fraction(rate) / 25
    said = [words for words in rounded_by(template, rate) if words.startswith("Clock, to")]
    assert bool(said) == told == (exact.denominator > 1)
    assert not said or f"{float(exact):.2f}" in said[0]
    plain = edits.add_part(blank(), replace(counter, writing=Writing()))
    assert retimed_to(plain, rate).part("c").end == "250", "a number is no time"


def test_a_field_for_the_end_of_a_timecode_count_goes_along():
    counter = CounterPart(id="c", name="Clock", start="0", end="250", writing=Writing(style="timecode"))
    carded, field_id = put_on_card(edits.add_part(blank(), counter), "c/end")
    made = retimed_to(carded, "50/1")
    assert float(bind(made).parts[-1].end) == 500 and float(made.card.field(field_id).start) == 500
    assert float(bind(made, {field_id: 100}).parts[-1].end) == 100
