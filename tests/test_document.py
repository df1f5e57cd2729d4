"""The document as a value: properties, edits, checks, the card, history."""

import pytest
from conftest import plated
from hypothesis import given, settings
from hypothesis import strategies as st

from avlet.document.cards import carding
from avlet.document.cards.answers import find_field
from avlet.document.cards.card import Card, Section
from avlet.document.cards.wires import Wire
from avlet.document.editing import edits
from avlet.document.editing.history import History
from avlet.document.editing.naming import free_id, slug
from avlet.document.faults.checking import check, faults
from avlet.document.fields import ColourField, NumberField, SwitchField, TextField
from avlet.document.metadata import get_at, properties, type_at
from avlet.document.parts import FRAME_AREAS, Fit, Matte, Place, RulePart, ShapePart, TextPart
from avlet.document.template import Template
from avlet.errors import AnswerError, DocumentError
from avlet.layout.bind import bind
from avlet.numbers.typed import evaluate
from avlet.storage.answer_files import NAMED_FILES
from avlet.storage.template_json import decode, encode


def typed(field, words):
    """An answer as the command line reads it."""
    return field.checked(field.read(words, (), NAMED_FILES))


def test_every_property_has_a_label_a_kind_and_can_be_set_to_its_own_value():
    template = edits.add_part(plated(), RulePart(id="rule", name="Rule"))
    seen = 0
    for part in template.parts:
        for prop in properties(part):
            target = f"{part.id}/{prop.path}"
            assert prop.type.label
            assert get_at(part, prop.path) == prop.value
            assert edits.set_property(template, target, prop.value) == template
            seen += 1
    assert seen > 60


@pytest.mark.parametrize(
    ("target", "value", "words"),
    [
        ("plate/corner", -1, "must be at least 0"), ("plate/opacity", 101, "must be at most 100 %"), ("plate/corner", "round", "takes a number"),
        ("plate/fill.colour", "blue", "takes a colour"), ("plate/shown", "maybe", "takes yes or no"), ("name/align", "left", "one of start, middle, end"),
        ("plate/nothing", 1, "has no property"), ("nobody/corner", 1, "There is no part"), ("name/size", float("nan"), "takes a number"),
        ("name/way_in.3.frames", 1, "has no property"), ("name/way_in.0.frames", -2, "at least 0 frames"),
    ],
)  # fmt: skip
def test_a_value_that_does_not_fit_is_refused_in_words(target, value, words):
    template = plated()
    with pytest.raises(DocumentError, match=words):
        edits.set_property(template, target, value)
    assert template == plated()


def test_whole_numbers_are_rounded():
    assert edits.set_property(plated(), "name/way_in.0.frames", 12.6).part("name").way_in[0].frames == 13


def test_type_knows_limits():
    kind = type_at(plated().part("plate"), "fit.left")
    assert (kind.kind, kind.unit, kind.group) == ("number", "px", "size")


def test_put_on_card_and_off_again():
    template, field_id = carding.put_on_card(plated(), "plate/corner")
    field = template.card.field(field_id)
    assert isinstance(field, NumberField)
    assert (field.label, field.default, field.low, field.unit) == ("Plate corners", 30, 0, "")
    assert bind(template, {field_id: 12}).parts[0].corner == 12
    with pytest.raises(DocumentError, match="already"):
        carding.put_on_card(template, "plate/corner")
    changed = carding.set_starting_answer(template, field_id, 44.0)
    off = carding.take_off_card(changed, "plate/corner")
    assert off.card.fields == ()
    assert off.part("plate").corner == 44


@pytest.mark.parametrize(("target", "kind"), [("name/text", TextField), ("plate/fill.colour", ColourField), ("plate/shown", SwitchField)])
def test_fields_take_the_kind_of_their_property(target, kind):
    template, field_id = carding.put_on_card(plated(), target)
    assert isinstance(template.card.field(field_id), kind)


def test_a_whole_number_property_takes_a_number_field():
    template, field_id = carding.put_on_card(plated(), "name/way_in.0.frames")
    assert bind(template, {field_id: 10.0}).parts[1].way_in[0].frames == 10


def test_removing_a_part_leaves_followers_where_they_are():
    boxes = {"plate": (150.0, 275.0, 600.0, 138.0), "name": (200.0, 300.0, 500.0, 88.0)}
    after = edits.remove_part(plated(), "name", boxes)
    plate = after.part("plate")
    assert plate.fit is None
    assert (plate.width, plate.height, plate.across.gap, plate.down.gap) == (600, 138, 150, 275)
    without_plate = edits.remove_part(plated(), "plate", boxes)
    assert without_plate.part("name").mattes == ()


def test_removing_a_part_takes_its_wires_along():
    template, _ = carding.put_on_card(plated(), "plate/corner")
    boxes = {"plate": (0.0, 0.0, 1.0, 1.0), "name": (0.0, 0.0, 1.0, 1.0)}
    assert edits.remove_part(template, "plate", boxes).wires == ()


def test_duplicate_keeps_relations():
    template, (copy,) = edits.duplicate_parts(plated(), ["plate"])
    assert copy == "plate-2"
    assert template.part(copy).fit == Fit(("name",))
    assert [p.id for p in template.parts] == ["plate", "plate-2", "name"]


def test_duplicating_several_keeps_the_relations_among_the_copies():
    template, copies = edits.duplicate_parts(plated(), ["name", "plate"])
    assert copies == ["name-2", "plate-2"]
    assert template.part("plate-2").fit.around == ("name-2",)
    assert template.part("name-2").mattes[0].inside == "plate-2"
    assert template.part("plate").fit.around == ("name",)
    assert [p.id for p in template.parts] == ["plate", "name", "plate-2", "name-2"]


def test_removing_several_asks_for_nothing_among_them():
    boxes = dict.fromkeys(("plate", "name"), (1.0, 2.0, 3.0, 4.0))
    assert edits.remove_parts(plated(), ["plate", "name"], boxes).parts == ()


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda t: edits.replace(t, parts=(*t.parts, t.parts[0])), "two parts have the id"),
        (lambda t: edits.set_relations(t, "name", across=Place("gone")), "which is not in the template"),
        (lambda t: edits.set_relations(t, "name", across=None), "no place and fits around nothing"),
        (lambda t: edits.set_relations(t, "name", across=Place("name")), "on itself"),
        (lambda t: edits.set_relations(t, "name", mattes=(Matte("name"),)), "its own matte"),
        (lambda t: edits.set_relations(t, "name", mattes=(Matte("gone"),)), "not in the template"),
        (lambda t: edits.fit_around(t, "plate", ()), "fits around nothing"),
        (lambda t: edits.fit_around(t, "plate", ("plate",)), "around itself"),
        (lambda t: edits.add_part(t, ShapePart(id=FRAME_AREAS[0], name="X")), "area of the frame"),
    ],
)
def test_what_does_not_hold_together_is_said_with_its_place(change, words):
    with pytest.raises(DocumentError, match=words) as error:
        check(change(plated()))
    assert str(error.value).startswith("parts")


def test_wires_are_checked_for_type():
    template, field_id = carding.put_on_card(plated(), "plate/shown")
    wrong = edits.replace(template, wires=(Wire(field_id, "plate/corner"),))
    assert "is a switch, but Corners of Plate takes a number" in next(faults(wrong))


def test_fields_are_found_by_id_or_label():
    template, field_id = carding.put_on_card(plated(), "name/text", "Full name")
    assert find_field(template, "full NAME").id == field_id
    with pytest.raises(AnswerError, match=r"Its fields: full-name \(Full name\)"):
        find_field(template, "nme")


@pytest.mark.parametrize(
    ("field", "words", "value"),
    [
        (TextField(id="f", label="F", several_lines=True), "a\\nb", "a\nb"), (NumberField(id="f", label="F"), "1,5", 1.5),
        (SwitchField(id="f", label="F"), "No", False), (ColourField(id="f", label="F"), "#a1b2c3", "#a1b2c3"),
    ],
)  # fmt: skip
def test_answers_are_read_from_words(field, words, value):
    assert typed(field, words) == value


@pytest.mark.parametrize(
    ("field", "value", "words"),
    [
        (TextField(id="f", label="F"), "a\nb", "one line"), (TextField(id="f", label="F", longest=3), "four", "at most 3"),
        (NumberField(id="f", label="F", low=1, high=2), 3, "from 1 to 2"), (NumberField(id="f", label="F"), True, "takes a number"),
        (ColourField(id="f", label="F"), "#12345", "takes a colour"), (SwitchField(id="f", label="F"), "yes", "yes or no"),
        (TextField(id="f", label="F"), 3, "takes words"),
    ],
)  # fmt: skip
def test_answers_that_do_not_fit_are_refused(field, value, words):
    with pytest.raises(AnswerError, match=words):
        field.checked(value)


def test_a_starting_answer_is_held_to_its_field_too():
    template, field_id = carding.put_on_card(plated(), "name/text")
    with pytest.raises(DocumentError, match="takes one line"):
        (carding.set_starting_answer(template, field_id, "two\nlines"))


@pytest.mark.parametrize("length", [0, -5, 2_000_000])
def test_lengths_that_make_no_sense_are_refused(length):
    with pytest.raises(AnswerError, match="A title lasts"):
        bind(plated(), {}, length)


def test_an_answer_beyond_the_property_is_held_at_its_limit_and_said():
    field = NumberField(id="see-through", label="See-through", default=50)
    template = edits.replace(plated(), card=Card(sections=(Section(fields=(field,)),)), wires=(Wire("see-through", "plate/opacity"),))
    bound = bind(check(template), {"see-through": 140})
    assert bound.parts[0].opacity == 100
    assert bound.notes == ("Opacity of Plate is held at 100 %: 140 is beyond its limits.",)
    assert bind(template, {"see-through": 40}).notes == ()


@given(st.lists(st.sampled_from(["corner", "opacity", "undo", "redo"]), max_size=30))
@settings(max_examples=40)
def test_any_sequence_of_edit_undo_redo_gives_the_same_bytes(steps):
    """Against a plain list of values and a position."""
    history = History(plated())
    values, at = [plated()], 0
    for number, step in enumerate(steps):
        if step == "undo":
            history.undo()
            at = max(0, at - 1)
        elif step == "redo":
            history.redo()
            at = min(len(values) - 1, at + 1)
        else:
            value = edits.set_property(values[at], f"plate/{step}", number)
            history.push(value, step)
            if value != values[at]:
                values, at = [*values[: at + 1], value], at + 1
        assert encode(history.value) == encode(values[at])


def test_a_gesture_undoes_as_one():
    history = History(0)
    for value in (1, 2, 3):
        history.push(value, "drag", "gesture")
    history.push(4, "other")
    assert history.undo() == 3
    assert history.undo() == 0
    assert history.redo() == 3
    history.close_gesture()
    history.push(9, "drag", "gesture")
    assert history.undo() == 3


def test_history_is_bounded():
    history = History(0, limit=5)
    for value in range(1, 50):
        history.push(value, "x")
    for _ in range(10):
        history.undo()
    assert history.value == 45


@given(st.text(max_size=60))
def test_slugs_are_ids(name):
    made = slug(name)
    assert made == slug(made)
    made = free_id(name, ())  # not what a place, a wire or a formula means otherwise
    assert decode(encode(Template(parts=(TextPart(id=made, name="x"),))), "t").parts[0].id == made


def test_free_ids():
    assert free_id("Role plate", ()) == "role-plate"
    assert (free_id("Frame", ()), free_id("palette", {"palette-2"}), free_id("Value", ())) == ("frame-2", "palette-3", "value-2")
    assert free_id("Plate", {"plate", "plate-2"}) == "plate-3"
    assert free_id("plate-2", {"plate-2"}) == "plate-3" or free_id("plate-2", {"plate-2"}) == "plate-2-2"


@pytest.mark.parametrize(("words", "value"), [("1920/2", 960), ("3*(40+10)", 150), ("-2,5", -2.5), ("1 − 3", -2), ("2×3", 6), (" 7 ", 7)])
def test_arithmetic(words, value):
    assert evaluate(words) == value


@pytest.mark.parametrize("words", ["", "a", "1/0", "9**9", "__import__('os')", "1+", "9" * 300, "(1", "1e400"])
def test_what_is_no_sum_is_refused(words):
    with pytest.raises(ValueError, match=r"is not|cannot|too long"):
        evaluate(words)
