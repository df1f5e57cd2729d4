"""One font in place of another, everywhere that a template names it."""

import pytest
from conftest import DEMO, TEMPLATES, plated
from hands import type_into
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from avlet.desktop.widgets.families import FamilyBox
from avlet.document.cards.card import Card, Sample, Section
from avlet.document.cards.wires import Table, Wire
from avlet.document.editing import edits
from avlet.document.editing.refont import families_in, with_family
from avlet.document.faults.checking import check
from avlet.document.fields import FontChoice, FontField, TextField
from avlet.document.house import TextStyle
from avlet.document.parts import Accent
from avlet.layout.holding import hold
from avlet.storage.package import open_template
from avlet.storage.template_json import encode

replace = edits.replace


def everywhere():
    """A template that names a family in each of the ways there are."""
    face = FontField(
        id="face", label="Face", default="Fira Sans Light", fonts=(FontChoice("Fira Sans", "Light"), FontChoice("Inter", "Bold"))
    )
    words = TextField(id="words", label="Words", default="Ay", may=("font",))
    template = replace(
        plated(), card=Card(sections=(Section(fields=(face, words)),)),
        wires=(Wire("face", "name/family", Table({"Fira Sans Light": "Fira Sans", "Inter Bold": "Inter"})), Wire("words", "name/text")),
        text_styles=(TextStyle(id="big", name="Big"),),
        samples=(Sample("s", "S", {"face": "Fira Sans Light", "words": {"text": "Ay", "family": "Fira Sans", "style": "Bold"}}),),
    )  # fmt: skip
    return check(edits.put_part(template, replace(template.part("name"), accents=(Accent("Fira Sans", "Italic"),))))


def test_no_trace_of_the_old_family_is_left(book):
    made = with_family(everywhere(), "Fira Sans", "Alegreya", lambda family, style: book.find(family, style)[0].style)
    assert b"Fira Sans" not in encode(made) and b"Alegreya" in encode(made)
    assert families_in(made) == tuple(dict.fromkeys(f.replace("Fira Sans", "Alegreya") for f in families_in(everywhere())))
    assert hold(made) == made
    name = made.part("name")
    for family, style in ((name.family, name.style), (name.accents[0].family, name.accents[0].style)):
        assert book.find(family, style)[1], "only styles that the new family has"
    assert made.samples[0].answers["face"] == made.card.field("face").default == made.card.field("face").fonts[0].name


@pytest.mark.parametrize("name", TEMPLATES)
def test_every_demo_template_takes_another_family_and_back(name, book):
    template = open_template(DEMO / name).template
    old = families_in(template)[0]
    nearest = lambda family, style: book.find(family, style)[0].style  # noqa: E731
    made = with_family(template, old, "Inter", nearest)
    assert old not in families_in(made) and hold(made) == made
    assert families_in(with_family(template, "No such family", "Inter", nearest)) == families_in(template)


def test_a_family_is_replaced_from_the_recipe_of_the_template(window, qtbot):
    session = window.session
    session.select(None)
    QApplication.processEvents()
    box = next(b for b in window.build.recipe.findChildren(FamilyBox) if "in place of Fira Sans," in b.accessibleName())
    type_into(qtbot, box.lineEdit(), "Alegreya")
    qtbot.keyClick(box.lineEdit(), Qt.Key.Key_Return)
    QApplication.processEvents()
    assert "Fira Sans" not in families_in(session.template) and "Alegreya" in families_in(session.template)
    window.undo()
    assert "Fira Sans" in families_in(session.template)
