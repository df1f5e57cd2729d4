"""The form of a shape as a property: chosen by an option, wired, on the card, with its sides written where they belong."""

import pytest
from conftest import plated
from hands import choose
from PyQt6.QtWidgets import QApplication, QComboBox

from avlet.desktop.card.wire_editor import WireEditor
from avlet.desktop.recipe.sentences import Chip
from avlet.document.cards import carding
from avlet.document.cards.wires import Table
from avlet.document.editing import edits, keying
from avlet.document.looks.forms import Ellipse, Polygon, Rectangle, SlantedBar, Star
from avlet.errors import DocumentError
from avlet.layout.arrange import arrange
from avlet.layout.bind import bind
from avlet.paint.scene import Scene
from avlet.text.fonts import bundled_fonts

BOOK = bundled_fonts()


def on_card(**values):
    return carding.put_on_card(plated(**values), "plate/form")


def form_of(template, **answers):
    return arrange(bind(template, answers), BOOK).parts["plate"].part.form


def test_on_the_card_it_is_a_choice_of_all_forms_that_starts_as_it_is():
    template, field = on_card()
    assert form_of(template) == Rectangle()
    assert form_of(template, **{field: "star"}) == Star() and form_of(template, **{field: "ellipse"}) == Ellipse()


def test_the_present_form_keeps_its_own_sides_among_the_options():
    template = edits.set_property(plated(), "plate/form", Polygon(8))
    template, field = carding.put_on_card(template, "plate/form")
    assert form_of(template) == Polygon(8) and form_of(template, **{field: "star"}) == Star()


@pytest.mark.parametrize("wrong", ["star", 3, {"kind": "star", "points": 2}, {"kind": "cloud"}, Star(points=1)])
def test_what_is_no_form_is_refused_in_words(wrong):
    with pytest.raises(DocumentError, match="takes a form"):
        edits.set_property(plated(), "plate/form", wrong)


def test_another_form_takes_wires_of_its_sides_away():
    template = edits.set_property(plated(), "plate/form", Polygon())
    template, _ = carding.put_on_card(template, "plate/form.sides")
    assert template.wire_to("plate/form.sides") is not None
    assert edits.set_property(template, "plate/form", Star()).wire_to("plate/form.sides") is None


def test_the_form_and_a_side_of_it_are_not_wired_both():
    template = edits.set_property(plated(), "plate/form", Polygon())
    template, _ = carding.put_on_card(template, "plate/form.sides")
    with pytest.raises(DocumentError, match="lie within each other"):
        carding.put_on_card(template, "plate/form")


def test_what_follows_a_side_that_the_chosen_form_has_not_stays_and_says_so():
    template = edits.set_property(plated(), "plate/form", SlantedBar())
    template = carding.wire_up(template, "plate/form.slant", "name/opacity")
    template, form = carding.put_on_card(template, "plate/form")
    assert arrange(bind(template), BOOK).parts["name"].part.opacity == 40
    bound = bind(template, {form: "star"})
    assert [p.opacity for p in bound.parts if p.id == "name"] == [100]
    assert any("Opacity of Name stays as it is: what it follows has another form now" in note for note in bound.notes)


def test_keys_of_a_side_rest_while_another_form_is_chosen():
    template = edits.set_property(plated(), "plate/form", SlantedBar())
    template = keying.set_key(template, "plate", "form.slant", 5, 10.0)
    template = keying.set_key(template, "plate", "form.slant", 40, 60.0)
    template, form = carding.put_on_card(template, "plate/form")
    assert Scene(template, BOOK).pose(20).parts["plate"].rest.part.form.slant != 40
    assert Scene(template, BOOK, {form: "star"}).picture(20).any()


def test_an_option_that_is_recorded_chooses_the_form_and_then_its_sides(window, qtbot):
    session = window.session
    session.edit("Form", lambda t: carding.put_on_card(t, "plate/form")[0])
    session.select("plate")
    QApplication.processEvents()
    field = session.template.wire_to("plate/form").source
    session.record(field)
    choose(qtbot, window.build.recipe.findChild(Chip, "form"), "star")
    row = session.template.wire_to("plate/form").map.rows[session.template.card.field(field).default]
    assert row["kind"] == "star"
    session.write({"plate/form.points": 9})
    assert form_of(session.template) == Star(9)
    assert session.template.part("plate").form == Rectangle(), "the part's own form stays"


def test_a_table_shows_each_option_s_form_by_name_and_takes_another(window, qtbot):
    session = window.session
    session.edit("Form", lambda t: carding.put_on_card(t, "plate/form")[0])
    editor = WireEditor(session, "plate/form")
    qtbot.addWidget(editor)
    cell = editor.findChild(QComboBox, "row star of plate/form")
    assert cell.currentText() == "star"
    cell.textActivated.emit("tag")
    found = session.template.wire_to("plate/form").map
    assert isinstance(found, Table) and found.rows["star"]["kind"] == "tag"
