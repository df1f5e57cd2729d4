"""What one part lends to others: looks, settings, moves, chosen one by one."""

import pytest
from conftest import plated
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QDialog

from avlet.desktop.dialogs.tick_dialog import TickDialog
from avlet.document.editing import edits
from avlet.document.editing.lending import LENT, differs, lendable, lent
from avlet.document.looks.paints import Outline, Solid
from avlet.document.metadata import properties
from avlet.document.parts import EchoPart, GroupPart, PatternPart, Place, RulePart, ShapePart, TextPart
from avlet.document.time.moves import Move, OwnWayOut, Tie
from avlet.layout.holding import hold

replace = edits.replace
CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


def kinds():
    """A template with a part of each kind that takes no file."""
    more = (
        RulePart(id="rule", name="Rule", across=Place(), down=Place()), PatternPart(id="dots", name="Dots", across=Place(), down=Place()),
        TextPart(id="t", name="T", across=Place(), down=Place()), GroupPart(id="g", name="G"), EchoPart(id="e", name="E", of="t"),
        ShapePart(id="s", name="S", across=Place(), down=Place(), fill=Solid("#FF0000"), outline=Outline(7), opacity=40.0, corner=3.0,
                  way_in=(Move(opacity=0, tie=Tie("name", "after its end", 3)),), way_out=OwnWayOut((Move(y=40, tie=Tie("s2", "after its end")),))),
    )  # fmt: skip
    s2 = ShapePart(id="s2", name="S2", across=Place(), down=Place(), way_in=(Move(opacity=0),), way_out=OwnWayOut((Move(opacity=0),)))
    return replace(plated(), parts=(*plated().parts, *more, s2))


@pytest.mark.parametrize("lender", ["name", "s", "rule", "dots", "g", "e"])
def test_whatever_is_lent_to_whatever_holds(lender):
    template = kinds()
    one = template.part(lender)
    for taker in template.parts:
        for name in lendable(one, taker):
            assert hold(lent(template, one, [taker.id], [name])).parts


def test_only_what_is_chosen_is_taken_on():
    template = kinds()
    made = lent(template, template.part("s"), ["plate", "rule"], ["Fill", "Opacity, blur, blend"])
    for taker in ("plate", "rule"):
        assert (made.part(taker).fill, made.part(taker).opacity) == (Solid("#FF0000"), 40.0)
    assert made.part("plate").outline == template.part("plate").outline
    assert made.part("plate").corner == template.part("plate").corner and made.part("plate").fit == template.part("plate").fit
    assert differs(template.part("s"), template.part("plate"), "Fill") and not differs(template.part("s"), made.part("plate"), "Fill")
    assert "Form" not in lendable(template.part("s"), template.part("name"))


def test_a_move_is_not_tied_to_the_part_that_has_it_nor_to_one_that_is_not_here():
    template = kinds()
    assert lent(template, template.part("s"), ["name"], ["Way in"]).part("name").way_in[0].tie is None
    assert lent(template, template.part("s"), ["plate"], ["Way in"]).part("plate").way_in[0].tie == Tie("name", "after its end", 3)
    alone = lent(plated(), template.part("s"), ["name"], ["Way out"])
    assert alone.part("name").way_out.moves[0].tie is None


def test_a_shape_takes_moves_of_letters_as_a_whole():
    letters = replace(plated().part("name"), way_in=(Move(by="character", tracking=200),))
    made = lent(plated(), letters, ["plate"], ["Way in"])
    assert (made.part("plate").way_in[0].by, made.part("plate").way_in[0].tracking) == ("whole", 0.0)


def test_every_property_of_a_look_can_be_lent():
    """What is added to the looks of parts later shows here until it is lent, too."""
    names = {name for group in LENT.values() for name in group}
    for part in kinds().parts:
        looks = {p.path.partition(".")[0] for p in properties(part) if p.type.group == "look"}
        assert looks - names <= {"shown", "direction"}, part.kind


def test_it_is_asked_by_key_and_done_in_one_step(window, qtbot, monkeypatch):
    session = window.session
    session.edit("Free", lambda t: replace(edits.put_struct(t, "plate", "outline", Outline(9)), wires=()))
    asked = []

    def answer(dialog):
        dialog.show()
        asked.append([label for label, box in dialog.boxes.items() if box.isChecked()])
        for label, box in dialog.boxes.items():
            if box.isChecked() != (label == "Outline"):
                qtbot.keyClick(box, Qt.Key.Key_Space)
        return QDialog.DialogCode.Accepted

    monkeypatch.setattr(TickDialog, "exec", answer)
    window.show_bench(0)
    qtbot.waitUntil(window.isActiveWindow)
    session.select("plate")
    qtbot.keyClick(window, Qt.Key.Key_C, CTRL)
    session.select_all(["name", "role-plate"])
    before = session.template
    qtbot.keyClick(window, Qt.Key.Key_V, CTRL | SHIFT)
    QApplication.processEvents()
    assert "Outline" in asked[0]
    assert [session.template.part(i).outline for i in ("name", "role-plate")] == [Outline(9)] * 2
    assert session.template.part("name").fill == before.part("name").fill
    window.undo()
    assert session.template == before
