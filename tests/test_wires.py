"""Fields of every kind, and wires with maps: what an answer does to properties, and what is refused."""

import base64

import jsonschema
import pytest
from conftest import plated
from hypothesis import given
from hypothesis import strategies as st

from avlet.document.cards import carding
from avlet.document.cards.answers import shown_fields
from avlet.document.cards.card import Card, Sample, Section
from avlet.document.cards.wires import Formula, Range, Straight, Table, Wire
from avlet.document.editing import edits, sharing
from avlet.document.faults.checking import check, faults
from avlet.document.fields import (
    ChoiceField,
    ColourField,
    Condition,
    FontChoice,
    FontField,
    GradientField,
    LengthField,
    NoteField,
    NumberField,
    Option,
    PictureField,
    Swatch,
    SwitchField,
    TextField,
)  # fmt: skip
from avlet.document.house import TextStyle
from avlet.document.looks.paints import Linear, Radial, Solid, Stop, Sweep
from avlet.document.parts import Accent, PictureFile, PicturePart, Place, TextPart
from avlet.document.time.eases import READY_EASES
from avlet.easing import ease_progress
from avlet.errors import AnswerError, DocumentError, RelationError
from avlet.layout.arrange import arrange
from avlet.layout.bind import bind
from avlet.paint.scene import Scene
from avlet.storage.answer_files import NAMED_FILES
from avlet.storage.schemas import card_schema
from avlet.storage.template_json import decode, encode

replace = edits.replace
SIDE = ChoiceField(
    id="side", label="Side", default="left", options=(Option("left", "Left"), Option("middle", "Middle"), Option("right", "Right"))
)
SIZE = NumberField(id="size", label="Size", default=100, low=50, high=150, unit="%")
SWATCHES = (Swatch("deep", "Deep water", "#20435C"), Swatch("reed", "Reed", "#7A8B4A"))
STOPS = (Stop(0, "#000000"), Stop(100, "#FFFFFF"))
EVERY = (
    TextField(id="words", label="Words", default="Bo Li", several_lines=True, longest=40, may=("font", "size", "alignment")), SIZE,
    LengthField(id="time", label="Time", default=20, low=5, high=60), SwitchField(id="line", label="Line"), SIDE,
    ColourField(id="free", label="Free"), ColourField(id="swatch", label="Swatch", may_be="swatches", swatches=SWATCHES, default="reed"),
    ColourField(id="house", label="House", may_be="house palette", default="brand"),
    GradientField(id="fade", label="Fade", default=STOPS), GradientField(id="ends", label="Ends", default=STOPS, places_fixed=True),
    FontField(id="face", label="Face", default="Fira Sans Bold", fonts=(FontChoice("Fira Sans", "Bold"), FontChoice("Fira Sans", "Light"))),
    PictureField(id="photo", label="Photo"),
)  # fmt: skip


def typed(field, words):
    """An answer as the command line reads it."""
    return field.checked(field.read(words, (), NAMED_FILES))


def carded(*fields, **changes):
    """The plated name with fields on its card."""
    return replace(plated(), card=Card(sections=(Section("", fields),)), **changes)


def wired(field, target, how=None, answers=None):
    template = carding.wire_up(carded(field), field.id, target, how)
    return bind(template, answers or {})


def part(bound, part_id):
    return next(p for p in bound.parts if p.id == part_id)


def test_a_choice_moves_and_aligns_by_tables():
    template = carded(SIDE)
    for target, rows in (
        ("name/across.mine", {"left": "start", "middle": "middle", "right": "end"}),
        ("name/align", {"left": "start", "middle": "middle", "right": "end"}),
        ("name/across.gap", {"right": -100.0}),
    ):
        template = carding.wire_up(template, "side", target, Table(rows))
    left, right = (part(bind(template, {"side": s}), "name") for s in ("left", "right"))
    assert (right.across.mine, right.align, right.across.gap) == ("end", "end", -100)
    assert left.across.gap == plated().part("name").across.gap
    assert (left.across.mine, left.align) == ("start", "start")


def test_a_size_in_percent_scales_what_it_drives_by_its_own_value():
    bound = wired(SIZE, "name/size", answers={"size": 150})
    assert part(bound, "name").size == plated().part("name").size * 1.5


@given(st.floats(-50, 250), st.sampled_from([None, *READY_EASES.values()]), st.booleans())
def test_a_range_leads_onto_a_range(value, ease, clamp):
    field = NumberField(id="n", label="N", low=-50, high=250)
    found = part(wired(field, "plate/corner", Range(0, 100, 10, 50, ease, clamp), {"n": value}), "plate").corner
    share = value / 100 if not clamp else min(1.0, max(0.0, value / 100))
    if ease is not None and 0 <= share <= 1:
        share = float(ease_progress(ease, share))
    assert found == pytest.approx(max(0.0, 10 + 40 * share))  # never below what corners may be


def test_brand_colour_drives_a_plate_and_a_darker_text():
    template = carded(ColourField(id="brand", label="Brand", default="#408060"))
    template = carding.wire_up(template, "brand", "plate/fill.colour")
    template = carding.wire_up(template, "brand", "name/fill.colour", Formula("darker(value, 50)"))
    bound = bind(template, {})
    assert (part(bound, "plate").fill.colour, part(bound, "name").fill.colour) == ("#408060", "#204030")


def test_house_colours_are_changed_at_one_place_and_can_be_answered():
    template, entry = sharing.add_house_colour(plated(), "Deep water", "#102030")
    for target in ("plate/fill.colour", "name/fill.colour"):
        template = sharing.use_house(template, target, entry)
    assert part(bind(template), "plate").fill.colour == "#102030"
    changed = edits.set_property(template, f"palette/{entry}", "#445566")
    assert {part(bind(changed), i).fill.colour for i in ("plate", "name")} == {"#445566"}
    template, field_id = carding.put_on_card(template, f"palette/{entry}", "Brand")
    assert part(bind(template, {field_id: "#778899"}), "name").fill.colour == "#778899"
    kept = sharing.remove_house(changed, entry)
    assert kept.part("plate").fill.colour == "#445566"
    assert kept.wires == ()


def test_a_field_of_the_house_palette_takes_its_colours():
    template, _ = sharing.add_house_colour(carded(), "Brand", "#102030")
    template = carding.add_field(template, ColourField(id="bar", label="Bar", may_be="house palette", default="brand"))
    template = carding.wire_up(template, "bar", "plate/fill.colour")
    assert part(bind(template), "plate").fill.colour == "#102030"
    with pytest.raises(AnswerError, match="takes one of brand, not “#102030”"):
        bind(template, {"bar": "#102030"})


def test_text_styles_are_shared_and_a_change_reaches_all():
    template, style = sharing.share_style(plated(), "name", "Heading")
    assert part(bind(template), "name") == replace(plated().part("name"), text_style=style)
    template = edits.set_property(template, "name/size", 44)
    assert template.text_style(style).size == 44
    assert part(bind(template), "name").size == 44
    own = sharing.remove_style(template, style)
    assert (own.part("name").text_style, own.part("name").size) == ("", 44)


def test_a_measure_drives_a_property(book):
    template = carding.wire_up(plated(), "name/rest.width", "plate/corner", Formula("value / 10"))
    scene = Scene(template, book)
    assert scene.rest.parts["plate"].part.corner == pytest.approx(scene.rest.parts["name"].box.w / 10)
    counted = Scene(carding.wire_up(plated(), "name/rest.letters", "name/way_in.0.frames", Formula("value * 2")), book)
    assert counted.rest.parts["name"].part.way_in[0].frames == 2 * len("OdalysBrandt")


def test_measures_follow_on_each_other(book):
    template = carding.wire_up(plated(), "name/rest.width", "plate/fit.left", Formula("value / 10"))
    template = carding.wire_up(template, "plate/rest.width", "plate/corner", Formula("value / 20"))
    scene = Scene(template, book)
    width = scene.rest.parts["name"].box.w
    assert scene.rest.parts["plate"].box.w == pytest.approx(width * 1.1 + 50)
    assert scene.rest.parts["plate"].part.corner == pytest.approx((width * 1.1 + 50) / 20)


def test_a_property_drives_another_after_its_own_wire():
    template = carding.wire_up(carded(NumberField(id="n", label="N", default=7)), "n", "plate/corner")
    template = carding.wire_up(template, "plate/corner", "plate/opacity", Formula("value / plate.width * frame.width * 0 + 50"))
    assert template.wires[1].source == "plate/corner"
    first = replace(template, wires=template.wires[::-1])
    assert part(bind(check(first)), "plate").corner == 7


@pytest.mark.parametrize(
    ("source", "target", "how", "words"),
    [
        ("name/rest.width", "name/size", Straight(), "Name is wired to a measure of Name"),
        ("plate/rest.width", "name/size", Straight(), "run in a circle: .*Plate fits around Name"),
    ],
)
def test_circles_through_measures_are_refused_in_words(source, target, how, words, book):
    template = carding.wire_up(plated(), source, target, how)
    with pytest.raises(RelationError, match=words):
        arrange(bind(template), book)


def test_circles_of_wires_are_refused_in_words():
    template = carding.wire_up(plated(), "plate/corner", "plate/opacity")
    with pytest.raises(DocumentError, match="run in a circle: Plate: "):
        carding.wire_up(template, "plate/opacity", "plate/corner")


def test_a_place_may_hang_on_its_own_parts_size(book):
    template = carding.wire_up(plated(), "name/rest.width", "name/across.gap", Formula("960 - value / 2"))
    box = Scene(template, book).rest.parts["name"].box
    assert box.x + box.w / 2 == pytest.approx(960)


@pytest.mark.parametrize(
    ("wire", "words"),
    [
        (Wire("nope", "plate/corner"), "there is no field “nope”"), (Wire("side", "plate/corner"), "“Side” is a choice, but Corners of Plate takes a number"),
        (Wire("side", "name/align"), "Align of Name has no “left”. Use a table"), (Wire("size", "plate/corner", Table({"a": 1})), "a table needs a source with options"),
        (Wire("side", "plate/corner", Table({"up": 1})), "has no option “up”"), (Wire("side", "plate/corner", Table({"left": "x"})), "takes a number, not “x”"),
        (Wire("side", "plate/corner", Range()), "a range leads from number to number"), (Wire("size", "plate/corner", Range(5, 5)), "begins and ends at 5"),
        (Wire("size", "plate/corner", Formula("value +")), "not a formula yet"), (Wire("size", "plate/corner", Formula("")), "formula"),
        (Wire("size", "plate/fit.left", Formula("own + template.length")), "px and frames do not go together"),
        (Wire("gone/rest.width", "plate/corner"), "there is no source “gone/rest.width”"), (Wire("size", "palette/none"), "“none” is not in the house palette"),
        (Wire("side", "plate/fill.colour", Formula("1")), "gives a plain number, where a colour is wanted"),
    ],
)  # fmt: skip
def test_wires_that_do_not_suit_are_named(wire, words):
    with pytest.raises(DocumentError, match=words):
        check(carded(SIDE, SIZE, wires=(wire,)))


def test_a_target_takes_one_wire_and_pieces_count_as_it():
    template = carding.wire_up(carded(SIZE), "size", "plate/corner")
    with pytest.raises(DocumentError, match="Corners of Plate has a wire from Size already"):
        carding.wire_up(template, "size", "plate/corner")
    fade = replace(plated(), parts=tuple(replace(p, fill=Linear(STOPS)) if p.id == "plate" else p for p in plated().parts))
    fade = replace(
        fade,
        card=Card(sections=(Section("", (EVERY[8], EVERY[5])),)),
        wires=(Wire("fade", "plate/fill.stops"), Wire("free", "plate/fill.stops.0.colour")),
    )
    assert "lie within each other" in next(faults(fade))


def test_a_formula_that_divides_by_zero_leaves_the_property_and_is_noted(book):
    template = carding.wire_up(carded(replace(SIZE, low=0, default=50)), "size", "plate/corner", Formula("1000 / value"))
    assert Scene(template, book, {"size": 20}).rest.parts["plate"].part.corner == 50
    scene = Scene(template, book, {"size": 0})
    assert scene.rest.parts["plate"].part.corner == plated().part("plate").corner
    assert "Corners of Plate stays as it is: It divides by zero." in scene.notes()


def test_gradients_fonts_pictures_and_formatted_words_are_answered():
    png = base64.b64encode(b"\x89PNG").decode()
    parts = (*plated().parts, PicturePart(id="photo", name="Photo", picture=PictureFile("a.png")))
    parts = tuple(replace(p, fill=Linear(STOPS)) if p.id == "plate" else p for p in parts)
    template = replace(carded(*EVERY[:1], *EVERY[8:9], *EVERY[10:]), parts=parts)
    for source, target in (("words", "name/text"), ("fade", "plate/fill.stops"), ("face", "name/family"), ("photo", "photo/picture")):
        template = carding.wire_up(template, source, target)
    answers = {"fade": [{"at": 0, "colour": "#111111"}, {"at": 50, "colour": "#222222"}], "face": "Fira Sans Light", "photo": {"name": "b.png", "data": png},
               "words": {"text": "Íris", "size": 33, "align": "end"}}  # fmt: skip
    bound = bind(template, answers)
    name = part(bound, "name")
    assert isinstance(name, TextPart)
    assert (name.text, name.size, name.align, name.family, name.style) == ("Íris", 33, "end", "Fira Sans", "Light")
    assert part(bound, "plate").fill.stops == (Stop(0, "#111111"), Stop(50, "#222222"))
    assert part(bound, "photo").picture == PictureFile("b.png", b"\x89PNG")
    assert decode(encode(template), "x") == template


@pytest.mark.parametrize(
    ("target", "kind", "start"),
    [
        ("name/align", ChoiceField, "start"), ("name/way_in.0.frames", LengthField, 20), ("name/family", FontField, "Fira Sans Bold"),
        ("name/style", FontField, "Fira Sans Bold"), ("template/pace", NumberField, 100.0), ("template/plays_in", SwitchField, True),
        ("template/way_in", LengthField, 25), ("plate/fill.colour", ColourField, "#20435C"), ("name/text", TextField, "Odalys Brandt"),
    ],
)  # fmt: skip
def test_any_property_goes_on_the_card_as_its_kind_and_off_again(target, kind, start):
    template, field_id = carding.put_on_card(plated(), target)
    field = template.card.field(field_id)
    assert isinstance(field, kind)
    assert field.start == start
    assert bind(template).parts == plated().parts
    off = carding.remove_field(template, field_id)
    assert (off.wires, off.card.fields, off.parts) == ((), (), plated().parts)


def test_one_field_drives_several_parts():
    template, field_id = carding.put_all_on_card(plated(), ["plate/opacity", "name/opacity"])
    assert template.card.field(field_id).label == "Opacity"
    assert {p.opacity for p in bind(template, {field_id: 40}).parts} == {40}
    with pytest.raises(DocumentError, match="has a wire already"):
        carding.put_all_on_card(template, ["plate/opacity"])
    with pytest.raises(DocumentError, match="different kinds"):
        carding.put_all_on_card(plated(), ["plate/opacity", "name/text"])


def test_taking_off_says_what_it_leaves_behind():
    template, field_id = carding.put_on_card(plated(), "plate/corner", "Corners")
    template = replace(template, samples=(Sample("s", "Longest", {field_id: 3}),))
    said = carding.left_behind(template, field_id)
    assert said == ["Corners of Plate stays at 30.", "Samples lose their answer to it: Longest."]
    named = carding.wire_up(carding.add_field(template, SIZE), "size", "plate/opacity", Formula("value * corners / corners"))
    with pytest.raises(DocumentError, match="The formula for Opacity of Plate uses “corners”"):
        carding.remove_field(named, field_id)


def test_options_are_written_by_changing_things():
    template = carding.write_option(carded(SIDE), "side", "right", "plate/corner", 3)
    assert [part(bind(template, {"side": s}), "plate").corner for s in ("left", "middle", "right")] == [30, 30, 3]
    template = carding.write_option(template, "side", "left", "plate/corner", 9)
    assert [part(bind(template, {"side": s}), "plate").corner for s in ("left", "middle", "right")] == [9, 30, 3]


def test_sections_and_fields_are_ordered():
    template = carding.add_section(carded(SIDE, SIZE, EVERY[3]), "Look")
    template = carding.move_field(template, "side", 1, 0)
    template = carding.move_field(template, "line", 1, 0)
    assert [[f.id for f in s.fields] for s in template.card.sections] == [["size"], ["line", "side"]]
    template = carding.move_field(template, "line", 1, 2)
    assert [f.id for f in template.card.sections[1].fields] == ["side", "line"]
    template = carding.move_section(template, 1, 0)
    assert [s.name for s in template.card.sections] == ["Look", ""]
    assert [f.id for f in carding.remove_section(template, 0).card.fields] == ["side", "line", "size"]


def test_a_field_is_shown_only_if_another_answers_so():
    hidden = replace(SIZE, shown_if=Condition("line", (True,)))
    deeper = replace(EVERY[2], shown_if=Condition("size", (100,)))
    template = check(carded(EVERY[3], hidden, deeper, NoteField(id="hint", label="Hint", words="Keep it short")))
    assert shown_fields(template, {}) == {"line", "size", "time", "hint"}
    assert shown_fields(template, {"line": False}) == {"line", "hint"}
    assert shown_fields(template, {"size": 60}) == {"line", "size", "hint"}
    with pytest.raises(DocumentError, match="cannot decide itself"):
        check(carded(replace(SIZE, shown_if=Condition("size", (1,)))))
    assert carding.remove_field(template, "line").card.field("size").shown_if is None


@pytest.mark.parametrize(
    ("field", "words"),
    [
        (replace(SIZE, low=200), "goes from 200 to 150"), (replace(SIDE, default="up"), "takes one of left, middle, right"),
        (replace(SIDE, options=(Option("a", "A"), Option("a", "B")), default="a"), "has “a” twice"),
        (ColourField(id="c", label="C", may_be="swatches", default="x"), "has no swatches"),
        (ColourField(id="c", label="C", may_be="house palette", default="x"), "house palette, which is empty"),
    ],
)  # fmt: skip
def test_fields_that_contradict_themselves_are_named(field, words):
    with pytest.raises(DocumentError, match=words):
        check(carded(field))


PLAIN_VALUES = st.none() | st.booleans() | st.integers(-300, 300) | st.floats(-300, 300) | st.sampled_from(
    ["left", "right", "#20435C", "#20435CFF", "#20435", "deep", "reed", "brand", "one\ntwo", "x" * 41, "Fira Sans Bold", "Fira Sans Light", ""]
)  # fmt: skip
STOP_VALUES = st.fixed_dictionaries({"at": st.sampled_from([0, 50, 100, 101, "0"]), "colour": st.sampled_from(["#000000", "red"])})
OBJECTS = st.dictionaries(
    st.sampled_from(["text", "size", "align", "family", "name", "data", "extra"]),
    PLAIN_VALUES | st.sampled_from(["end", "aGk=", "no!"]),
    max_size=4,
)


@given(st.sampled_from(EVERY), PLAIN_VALUES | st.lists(STOP_VALUES, max_size=4) | OBJECTS)
def test_the_cards_schema_accepts_exactly_what_the_card_accepts(field, value):
    # jsonschema is the reference for JSON Schema 2020-12.
    palette = sharing.add_house_colour(plated(), "Brand", "#102030")[0].palette
    schema = card_schema(Card(sections=(Section("", EVERY),)), "T", palette)
    jsonschema.Draft202012Validator.check_schema(schema)
    accepted = jsonschema.Draft202012Validator(schema).is_valid({field.id: value})
    assert accepted == (not field.fault(value, palette))


@pytest.mark.parametrize("field", EVERY, ids=lambda f: f.id)
def test_every_starting_answer_is_one_that_the_schema_takes(field):
    palette = sharing.add_house_colour(plated(), "Brand", "#102030")[0].palette
    schema = card_schema(Card(sections=(Section("", EVERY),)), "T", palette)
    assert jsonschema.Draft202012Validator(schema).is_valid({field.id: field.start})


@pytest.mark.parametrize(
    ("index", "words", "answer"),
    [
        (2, "30", 30), (4, "Right", "right"), (6, "Deep water", "deep"), (8, "#111111 0, #222222 100", [{"at": 0.0, "colour": "#111111"}, {"at": 100.0, "colour": "#222222"}]),
        (10, "fira sans light", "Fira Sans Light"), (0, "a\\nb", "a\nb"),
    ],
)  # fmt: skip
def test_answers_of_all_kinds_are_read_from_words(index, words, answer):
    assert typed(EVERY[index], words) == answer


def test_a_picture_is_answered_by_its_file(tmp_path):
    file = tmp_path / "p.png"
    file.write_bytes(b"abc")
    assert typed(EVERY[11], str(file)) == {"name": "p.png", "data": "YWJj"}
    with pytest.raises(AnswerError, match="cannot be read"):
        typed(EVERY[11], str(tmp_path / "none.png"))


@pytest.mark.parametrize(
    ("value", "words"),
    [({"text": 3}, "takes words, not “3”"), ({"size": 3}, "takes words, not “None”"), ({"text": "x", "size": 0}, "is 1 to 4000 px"),
     ({"text": "x", "align": "left"}, "is aligned to one of"), ({"text": "x", "colour": 1}, "does not let its colour be changed"),
     ({"text": "x", "family": 4}, "is given by its name"), ({"text": "x" * 41}, "at most 40 characters")],
)  # fmt: skip
def test_formatted_words_are_held_to_their_field(value, words):
    assert words in EVERY[0].fault(value)


@pytest.mark.parametrize("value", [12.5, 61, "20", True])
def test_lengths_are_whole_frames_between_limits(value):
    with pytest.raises(AnswerError):
        EVERY[2].checked(value)


def test_the_pace_of_the_ends_shortens_them_and_all_moves(book):
    quick = Scene(edits.set_property(plated(), "template/pace", 200), book)
    usual = Scene(plated(), book)
    assert (quick.spans.way_in, quick.spans.way_out) == (13, 13)  # 25 frames at twice the speed, never cut short
    assert not quick.spans.shortened
    for frame in (2, 6, 11):
        assert quick.pose(frame).parts["name"].shift == pytest.approx(usual.pose(2 * frame).parts["name"].shift)


def test_a_table_of_gradients_is_the_same_after_saving():
    parts = tuple(replace(p, fill=Linear(STOPS)) if p.id == "plate" else p for p in plated().parts)
    template = carding.wire_up(replace(carded(SIDE), parts=parts), "side", "plate/fill.stops")
    assert decode(encode(template), "x") == template
    template = carding.write_option(template, "side", "right", "plate/fill.stops", (Stop(0, "#111111"), Stop(50, "#222222")))
    assert decode(encode(template), "x") == template
    assert part(bind(template, {"side": "right"}), "plate").fill.stops[1] == Stop(50, "#222222")


def test_what_a_part_has_across_may_follow_what_it_has_down(book):
    """Padding wired to the part's own height, and a width to its own height, are no circles; its own width is one."""
    padded = carding.wire_up(plated(), "plate/rest.height", "plate/fit.left", Formula("value / 10"))
    plate = arrange(bind(padded), book).parts["plate"]
    assert plate.part.fit.left == pytest.approx(plate.box.h / 10)
    with pytest.raises((DocumentError, RelationError), match="circle"):
        arrange(bind(carding.wire_up(plated(), "plate/rest.width", "plate/fit.left", Formula("value / 10"))), book)
    bare = edits.put_part(plated(), replace(plated().part("plate"), fit=None, across=Place(), down=Place(), height=90))
    square = carding.wire_up(bare, "plate/rest.height", "plate/width", Straight())
    assert arrange(bind(square), book).parts["plate"].box.w == 90


def test_an_answer_that_follows_a_value_keeps_what_else_it_says():
    words = EVERY[0]
    assert words.answer_to("Ay", {"text": "Bo", "size": 80}, "Words", ()) == {"text": "Ay", "size": 80}
    assert words.answer_to("Ay", "Bo", "Words", ()) == "Ay"
    swatches = EVERY[6]
    assert swatches.answer_to("#7a8b4a", "deep", "Swatch", ()) == "reed"


def test_a_face_chosen_for_an_accent_leaves_the_words_in_theirs(book):
    template = edits.put_part(plated(), replace(plated().part("name"), accents=(Accent("Alegreya", "Italic"),)))
    field = FontField(id="face", label="Face", default="Fira Sans Light", fonts=(FontChoice("Fira Sans", "Light"),))
    template = replace(template, card=Card(sections=(Section(fields=(field,)),)), wires=(Wire("face", "name/accents.0.family"),))
    name = next(part for part in bind(template).parts if part.id == "name")
    assert (name.accents[0].family, name.accents[0].style) == ("Fira Sans", "Light")
    assert name.style == plated().part("name").style


def test_a_note_of_a_formula_on_a_measure_is_kept(book):
    """The layout settles at once, as the formula changes nothing: what it could not do is said all the same."""
    template = carding.wire_up(plated(), "name/rest.width", "plate/fit.left", Formula("value * value / (value - value)"))
    assert any("divides by zero" in note for note in Scene(template, book).notes())


@pytest.mark.parametrize("kind", [Linear, Radial, Sweep])
def test_a_fill_that_becomes_a_gradient_keeps_its_wire_and_has_it_back(kind):
    field = ColourField(id="c", label="Colour", default="#AA3355")
    template = replace(plated(), card=Card(sections=(Section(fields=(field,)),)), wires=(Wire("c", "plate/fill.colour"),))
    turned = edits.turn_paint(template, "plate", "fill", kind)
    assert [w.target for w in turned.wires] == ["plate/fill.stops.0.colour"]
    assert next(p for p in bind(turned).parts if p.id == "plate").fill.stops[0].colour == "#AA3355"
    back = edits.turn_paint(turned, "plate", "fill", Solid)
    assert back.wires == template.wires and back.part("plate").fill == template.part("plate").fill


def test_a_font_chosen_beside_a_text_style_is_obeyed_whole():
    fonts = (FontChoice("Fira Sans", "Light"), FontChoice("Inter", "Regular"))
    field = FontField(id="face", label="Face", default="Fira Sans Light", fonts=fonts)
    style = TextStyle(id="big", name="Big", family="Alegreya", style="ExtraBold", size=64.0)
    template = replace(
        plated(), card=Card(sections=(Section(fields=(field,)),)), wires=(Wire("face", "name/family"),), text_styles=(style,)
    )
    template = edits.put_part(template, replace(template.part("name"), text_style="big"))
    name = next(p for p in bind(template, {"face": "Inter Regular"}).parts if p.id == "name")
    assert (name.family, name.style, name.size) == ("Inter", "Regular", 64.0)


@pytest.mark.parametrize("turned", [False, True])
def test_a_size_given_by_hand_is_that_size_whatever_a_slider_says(turned):
    """The slider multiplies what the designer made; what an editor types is obeyed, in whatever order the wires stand."""
    words = TextField(id="words", label="Words", default="Ay", may=("size",))
    slider = NumberField(id="scale", label="Scale", default=100, low=50, high=200, unit="%")
    wires = (Wire("words", "name/text"), Wire("scale", "name/size", Formula("own * value / 100")))
    template = replace(plated(), card=Card(sections=(Section(fields=(words, slider)),)), wires=wires[::-1] if turned else wires)

    def size(**answers):
        return next(p for p in bind(template, answers).parts if p.id == "name").size

    assert size(scale=150) == 120 and size() == 80
    assert size(scale=150, words={"text": "Ay", "size": 60}) == 60
    assert size(words={"text": "Ay", "size": 60}) == 60


def test_a_property_that_is_not_there_is_refused_with_whose_it_is():
    """As a panel may offer what an edit has taken away in the meantime: a fit, or the whole part."""
    template = plated()
    for target, words in (
        ("name/fit.left", "Name has no “fit.left”"),
        ("gone/width", "has no “width”"),
        ("plate/nothing", "Plate has no “nothing”"),
    ):
        for targets in ([target], ["plate/fit.left", target]):
            with pytest.raises(DocumentError, match=words):
                carding.put_all_on_card(template, targets)
