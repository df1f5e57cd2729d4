"""Typing in place: by mouse and keys on the words as they are set, with the plate following."""

import pytest
from hands import type_into
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QInputMethodEvent
from PyQt6.QtWidgets import QApplication

from avlet.desktop.stage.typing_box import when_at_rest
from avlet.document.cards import carding
from avlet.document.cards.wires import Formula
from avlet.document.editing import edits

KEY, NONE, SHIFT, LEFT = Qt.Key, Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier, Qt.MouseButton.LeftButton


@pytest.fixture
def stage(window):
    window.session.show_answers("")
    window.session.edit("Words", lambda t: edits.set_property(carding.unwired(t, "name/text"), "name/text", "Odalys Brandt"))
    window.build.stage.type_on("name")
    QApplication.processEvents()
    return window.build.stage


def words(stage) -> str:
    return stage.session.template.part("name").text


def at(stage) -> int:
    return stage.typing.textCursor().position()


def place_of(stage, index) -> QPoint:
    """Where the caret before a letter stands, in px of the typing box."""
    shown = stage.typing.shown
    box = shown.carets.box(index)
    point = shown.to_view.map(QPointF(box.x + 0.5, box.y + box.h / 2))
    return QPoint(round(point.x() - stage.typing.x()), round(point.y() - stage.typing.y()))


def press(qtbot, stage, key, modifiers=NONE, times=1):
    for _ in range(times):
        qtbot.keyClick(stage.typing, key, modifiers)
    QApplication.processEvents()


def test_the_box_lies_over_the_words_and_paints_only_caret_and_selection(stage, qtbot):
    rest = stage.session.scene().rest.parts["name"].box
    view, box = stage.box_in_view(rest), stage.typing.geometry()
    assert stage.typing.in_place and abs(box.left() + 6 - view.left()) <= 1 and abs(box.width() - 12 - view.width()) <= 2
    assert abs(stage.typing.caret().height() - view.height()) <= 1
    press(qtbot, stage, KEY.Key_Right)
    grabbed = stage.grab().toImage()
    inside = [grabbed.pixelColor(round(view.left() + n), round(view.center().y())).lightness() for n in range(round(view.width()))]
    assert max(inside) > 200 and min(inside) < 120, "the title's own letters on its own plate are to be seen"


def test_the_plate_follows_each_letter(stage, qtbot):
    before = stage.session.scene().rest.parts["plate"].box.w
    press(qtbot, stage, KEY.Key_End)
    qtbot.keyClicks(stage.typing, "er")
    QApplication.processEvents()
    assert words(stage) == "Odalys Brandter" and stage.session.scene().rest.parts["plate"].box.w > before
    assert stage.typing.in_place and stage.typing.caret().center().x() == pytest.approx(place_of(stage, 15).x(), abs=1)


def test_clicks_drags_and_double_clicks_choose_letters(stage, qtbot):
    qtbot.mouseClick(stage.typing.viewport(), LEFT, NONE, place_of(stage, 4))
    assert at(stage) == 4 and not stage.typing.textCursor().hasSelection()
    qtbot.mouseClick(stage.typing.viewport(), LEFT, SHIFT, place_of(stage, 9))
    assert stage.typing.textCursor().selectedText() == "ys Br"
    qtbot.mouseDClick(stage.typing.viewport(), LEFT, NONE, place_of(stage, 9))
    assert stage.typing.textCursor().selectedText() == "Brandt"
    qtbot.keyClicks(stage.typing, "B")
    assert words(stage) == "Odalys B"


def test_arrows_home_and_end_go_along_what_is_set(stage, qtbot):
    stage.session.write({"name/text": "One\nThree"})
    stage.type_on("name")
    press(qtbot, stage, KEY.Key_Home)
    assert at(stage) == 4
    press(qtbot, stage, KEY.Key_Up)
    press(qtbot, stage, KEY.Key_End)
    assert at(stage) == 3
    press(qtbot, stage, KEY.Key_Right)
    press(qtbot, stage, KEY.Key_End)
    assert at(stage) == 9
    press(qtbot, stage, KEY.Key_Up)
    press(qtbot, stage, KEY.Key_Down)
    assert at(stage) == 9, "the column is kept over a shorter line"
    press(qtbot, stage, KEY.Key_Up, times=2)
    assert at(stage) == 0
    press(qtbot, stage, KEY.Key_Right, SHIFT, times=2)
    assert stage.typing.textCursor().selectedText() == "On"
    press(qtbot, stage, KEY.Key_Left)
    assert at(stage) == 0, "an arrow ends a selection at its side"


def test_backspace_and_delete_take_what_is_seen(stage, qtbot):
    press(qtbot, stage, KEY.Key_Home)
    press(qtbot, stage, KEY.Key_Backspace)
    assert words(stage) == "Odalys Brandt"
    press(qtbot, stage, KEY.Key_Delete)
    press(qtbot, stage, KEY.Key_End)
    press(qtbot, stage, KEY.Key_Backspace, times=2)
    press(qtbot, stage, KEY.Key_Delete)
    assert words(stage) == "dalys Bran"


def test_an_accent_is_stepped_into_and_goes_when_it_is_empty(stage, qtbot):
    press(qtbot, stage, KEY.Key_Home)
    press(qtbot, stage, KEY.Key_Right, SHIFT, times=2)
    press(qtbot, stage, KEY.Key_1, Qt.KeyboardModifier.AltModifier)
    assert words(stage) == "{1:Od}alys Brandt" and stage.typing.in_place
    press(qtbot, stage, KEY.Key_Home)
    press(qtbot, stage, KEY.Key_Right)
    assert at(stage) == 4, "one press, one letter"
    press(qtbot, stage, KEY.Key_Backspace)
    assert words(stage) == "{1:d}alys Brandt"
    press(qtbot, stage, KEY.Key_Delete)
    assert words(stage) == "alys Brandt", "no empty mark is left"


def test_right_to_left_words_are_typed_where_they_read(stage, qtbot):
    stage.session.write({"name/text": "ياسمين", "name/family": "Noto Sans Arabic"})
    stage.type_on("name")
    press(qtbot, stage, KEY.Key_Home)
    right = stage.typing.caret().center().x()
    press(qtbot, stage, KEY.Key_Left)
    assert at(stage) == 1 and stage.typing.caret().center().x() < right
    press(qtbot, stage, KEY.Key_Right)
    assert at(stage) == 0


def test_turned_words_are_typed_as_they_stand(stage, qtbot):
    stage.session.write({"name/turn": 90.0})
    QApplication.processEvents()
    box = stage.typing.geometry()
    assert box.height() > box.width() and stage.typing.in_place
    qtbot.mouseClick(stage.typing.viewport(), LEFT, NONE, place_of(stage, 7))
    assert at(stage) == 7


def test_typing_begins_where_the_words_stand_still(window, stage):
    stage.finish_typing()
    window.session.go_to(0)
    stage.type_on("name")
    scene = window.session.scene()
    assert window.session.frame == scene.spans.way_in and scene.pose(window.session.frame).parts["name"].still
    assert when_at_rest(scene, "name", 60) == 60, "where they rest already, the playhead stays"


def test_words_that_are_made_into_others_are_typed_in_a_box_beside(stage, qtbot):
    session = stage.session
    stage.finish_typing()
    session.edit("On the card", lambda t: carding.put_on_card(t, "name/text")[0])
    wire = session.template.wire_to("name/text")
    stage.type_on("name")
    session.edit("Formula", lambda t: carding.set_map(t, "name/text", Formula('"Odalys Brandt!" if value != "x" else value')))
    QApplication.processEvents()
    assert wire is not None and stage.session.scene().rest.parts["name"].part.text == "Odalys Brandt!"
    assert (
        not stage.typing.in_place
        and stage.typing.geometry().bottom() <= stage.box_in_view(stage.session.scene().rest.parts["name"].box).top() + 8
    )


def test_what_an_input_method_composes_is_shown_at_the_caret(stage, qtbot):
    QApplication.sendEvent(stage.typing, QInputMethodEvent("みお", []))
    assert stage.typing._preedit == "みお" and not stage.grab().isNull()
    caret = stage.typing.inputMethodQuery(Qt.InputMethodQuery.ImCursorRectangle)
    assert (caret.value() if hasattr(caret, "value") else caret) == stage.typing.caret()
    event = QInputMethodEvent()
    event.setCommitString("汐")
    QApplication.sendEvent(stage.typing, event)
    assert "汐" in words(stage) and stage.typing._preedit == ""


def test_the_drafting_numbers_are_out_of_the_way_while_typing(stage, qtbot):
    stage.repaint()
    assert stage.drafting.labels == [] and stage.handles == []
    press(qtbot, stage, KEY.Key_Escape)
    stage.repaint()
    assert stage.typing is None and stage.drafting.labels


def test_nothing_at_all_can_be_typed_on(stage, qtbot):
    type_into(qtbot, stage.typing, "")
    press(qtbot, stage, KEY.Key_Delete)
    assert words(stage) == "" and stage.typing.in_place
    press(qtbot, stage, KEY.Key_Left)
    press(qtbot, stage, KEY.Key_Up)
    press(qtbot, stage, KEY.Key_Backspace)
    qtbot.keyClicks(stage.typing, "Bo")
    assert words(stage) == "Bo"


def test_t_begins_to_type_and_what_is_typed_is_all_there_is(window, qtbot, key):
    """The words that stand there at first are marked: nothing of them is left after the first letter. Single keys are letters now."""
    before = len(window.session.template.parts)
    key(Qt.Key.Key_T)
    box = QApplication.focusWidget()
    assert box is window.build.stage.typing and box.textCursor().hasSelection()
    qtbot.keyClicks(box, "Tess Rode")
    qtbot.keyClick(box, Qt.Key.Key_Escape)
    part = window.session.part
    assert window.session.bound(part.id).text == "Tess Rode" and len(window.session.template.parts) == before + 1
    assert window.build.stage.typing is None and window.build.stage.hasFocus()
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_S)
    assert window.session.part.fitted.around == (part.id,), "and single keys are keys again"


def test_t_types_over_nothing_where_no_words_could_be_added(window, key, monkeypatch):
    monkeypatch.setattr("avlet.document.faults.crowding.MOST_PARTS", len(window.session.template.parts))
    window.session.select("name")
    before = window.session.template
    key(Qt.Key.Key_T)
    assert window.session.template is before and window.build.stage.typing is None and window.session.selected == "name"
