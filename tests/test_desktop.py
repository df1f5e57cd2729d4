"""The real interface, driven by mouse and keys (Qt's offscreen platform)."""

import json
from fractions import Fraction
from pathlib import Path

import pytest
from hands import box, chip, choose, drag, middle_of, move_held, row_of, type_into
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QApplication, QFileDialog, QLineEdit, QMenu, QMessageBox, QPlainTextEdit, QPushButton, QToolButton

from avlet.desktop.build.part_commands import copy_selected, duplicate_selected, paste_piece, remove_selected
from avlet.desktop.desk.cut_view import MIME
from avlet.desktop.dialogs.handover_dialog import HandoverDialog
from avlet.desktop.dialogs.render_dialog import RenderDialog
from avlet.desktop.dialogs.start_dialog import StartDialog
from avlet.desktop.recipe.dot import Dot
from avlet.desktop.recipe.look_section import LookSection
from avlet.desktop.recipe.several_parts import SeveralParts
from avlet.desktop.recipe.template_facts import TemplateFacts
from avlet.desktop.widgets.colour_button import ColourButton
from avlet.desktop.widgets.gradients import GradientStrip
from avlet.desktop.widgets.numbers import NumberBox
from avlet.desktop.widgets.switch import Switch
from avlet.desktop.window.shell import BENCHES, DESK
from avlet.desktop.window.window import Window
from avlet.document.cards import carding
from avlet.document.cut import Title, put_title
from avlet.document.editing import edits
from avlet.document.metadata import get_at
from avlet.document.parts import Matte, Room
from avlet.document.starts import STARTS, blank
from avlet.document.template import Frame
from avlet.document.time.moves import StaysToTheEnd
from avlet.media.timeline import read_cut
from avlet.numbers.timecode import timecode
from avlet.storage.handing_over import hand_over
from avlet.storage.package import open_template
from avlet.storage.recovery import Recovery, lost_work
from avlet.storage.template_json import encode

# Build


def test_the_demo_opens_with_the_name_strap_on_the_stage(window):
    assert window.session.template.name == "Name strap"
    assert "1920×1080 · 25 fps · 5 s" in window.facts.text()
    assert len(window.cut_session.cut.titles) == 10
    assert not window.session.unsaved
    assert not window.grab().isNull()


def test_a_click_on_the_stage_selects_and_shows_the_recipe(window, qtbot):
    stage = window.build.stage
    qtbot.mouseClick(stage, Qt.MouseButton.LeftButton, pos=middle_of(stage, "role"))
    assert window.session.selected == "role"
    qtbot.mouseClick(stage, Qt.MouseButton.LeftButton, pos=QPoint(stage.width() // 2, 60))
    assert window.session.selected is None


def test_typing_on_the_stage_changes_the_bar(window, qtbot):
    stage, session = window.build.stage, window.session
    before = session.scene().rest.parts["plate"].box.w
    qtbot.mouseDClick(stage, Qt.MouseButton.LeftButton, pos=middle_of(stage, "name"))
    assert stage.typing is not None
    type_into(qtbot, stage.typing, "Ioana Crețu-Whitlock")
    assert session.scene().rest.parts["plate"].box.w > before + 100
    qtbot.keyClick(stage.typing, Qt.Key.Key_Escape)
    assert stage.typing is None
    typical = next(s for s in session.template.samples if s.id == "typical")
    assert typical.answers["name"] == "Ioana Crețu-Whitlock"
    window.undo()
    assert session.scene().rest.parts["plate"].box.w == before


def test_dragging_a_part_moves_what_leads_it_and_undoes_as_one(window, qtbot):
    stage, session = window.build.stage, window.session
    before = session.scene().rest.parts["plate"].box
    session.select(None)
    stage.repaint()
    start = stage.box_in_view(before).topLeft().toPoint() + QPoint(14, 6)
    drag(qtbot, stage, start, QPoint(70, -40), Qt.KeyboardModifier.AltModifier)
    after = session.scene().rest.parts["plate"].box
    assert session.selected == "plate"
    assert after.x - before.x == pytest.approx(70 / stage.scale, abs=1.5)
    assert after.y - before.y == pytest.approx(-40 / stage.scale, abs=1.5)
    assert (after.w, after.h) == (before.w, before.h)
    window.undo()
    assert session.scene().rest.parts["plate"].box == before
    assert session.history.undo_label is None


def test_a_padding_is_dragged_and_typed_on_the_drawing(window, qtbot):
    stage, session = window.build.stage, window.session
    session.select("plate")
    stage.repaint()
    label = next(area for area, d in stage.drafting.labels if d.target == "plate/fit.top")
    drag(qtbot, stage, label.center().toPoint(), QPoint(0, -20))
    assert session.template.part("plate").fit.top == pytest.approx(25 + 20 / stage.scale, abs=1.5)
    stage.repaint()
    label = next(area for area, d in stage.drafting.labels if d.target == "plate/fit.right")
    qtbot.mouseClick(stage, Qt.MouseButton.LeftButton, pos=label.center().toPoint())
    assert stage.number is not None
    type_into(qtbot, stage.number, "120/2")
    qtbot.keyClick(stage.number, Qt.Key.Key_Return)
    assert session.template.part("plate").fit.right == 60


def test_a_number_takes_sums_the_wheel_and_limits(qtbot, dressed):
    number = NumberBox(10, 0, 100, 2)
    qtbot.addWidget(number)
    told = []
    number.value_changed.connect(told.append)
    type_into(qtbot, number, "1920/40")
    qtbot.keyClick(number, Qt.Key.Key_Return)
    type_into(qtbot, number, "900")
    qtbot.keyClick(number, Qt.Key.Key_Return)
    type_into(qtbot, number, "what")
    qtbot.keyClick(number, Qt.Key.Key_Return)
    assert number.property("wrong")
    qtbot.keyClick(number, Qt.Key.Key_Escape)
    qtbot.keyClick(number, Qt.Key.Key_Down)
    assert told == [48, 100, 98]


def test_numbers_of_the_recipe_are_dragged_all_the_way(window, qtbot):
    """The box that is dragged stays while the document follows it."""
    session = window.session
    qtbot.waitUntil(window.isActiveWindow)
    session.select("name")
    QApplication.processEvents()
    for target, path in (("name/size", "size"), ("name/across.gap", "across.gap"), ("name/way_in.0.frames", "way_in.0.frames")):
        number = box(window, target)
        before = get_at(session.part, path)
        qtbot.mousePress(number, Qt.MouseButton.LeftButton, pos=QPoint(10, 10))
        for step in (10, 20, 30):
            move_held(number, QPointF(10 + step, 10))
            QApplication.processEvents()
        qtbot.mouseRelease(number, Qt.MouseButton.LeftButton, pos=QPoint(40, 10))
        assert get_at(session.part, path) == before + 15
        assert number.value == before + 15
        window.undo()
        assert get_at(session.part, path) == before
        QApplication.processEvents()
        assert box(window, target).value == before


def test_typing_in_the_recipe_is_not_interrupted_by_what_it_leads_to(window, qtbot):
    """A text that shrinks while it is typed changes its note with every key; the box keeps the focus."""
    session, recipe = window.session, window.build.recipe
    qtbot.waitUntil(window.isActiveWindow)
    session.edit("Room", lambda t: edits.put_struct(t, "name", "room", Room(width=400, remedies=("shrink",))))
    session.select("name")
    QApplication.processEvents()
    words = recipe.findChild(QPlainTextEdit, "name/text")
    words.setFocus()
    words.selectAll()
    for key in "Ioana Whitlock":
        qtbot.keyClicks(words, key)
        QApplication.processEvents()
    assert words.hasFocus()
    assert words.toPlainText() == "Ioana Whitlock"
    assert "shrinks to" in recipe.notes.text()
    assert session.scene().rest.parts["name"].box.w <= 400.01


def test_a_slider_and_a_number_of_the_card_are_dragged_all_the_way(window, desk, qtbot):
    session = window.cut_session
    session.select("odalys")
    number = desk.card.inputs["corners"]
    qtbot.mousePress(number, Qt.MouseButton.LeftButton, pos=QPoint(10, 10))
    for step in (-10, -20):
        move_held(number, QPointF(10 + step, 10))
        QApplication.processEvents()
    assert desk.card.inputs["corners"] is number
    assert session.title.answers["corners"] == 20
    qtbot.mouseRelease(number, Qt.MouseButton.LeftButton, pos=QPoint(0, 10))
    desk.setFocus()
    window.undo()
    assert "corners" not in session.title.answers
    assert desk.card.inputs["corners"].value == 30


def test_undo_is_seen_in_every_editor(window, qtbot):
    session, recipe = window.session, window.build.recipe
    session.select("rule")
    QApplication.processEvents()
    colour, switch = recipe.findChild(ColourButton, "rule/fill.colour"), recipe.findChild(Switch, "rule/shown")
    session.write({"rule/fill.colour": "#112233"})
    session.write({"rule/shown": False})
    QApplication.processEvents()
    assert (colour.colour, switch.isChecked()) == ("#112233", False)
    window.undo()
    window.undo()
    QApplication.processEvents()
    assert (colour.colour, switch.isChecked()) == ("#6CC7B0", True)


def test_sentences_change_relations_and_moves(window, qtbot):
    session = window.session
    session.select("plate")
    choose(qtbot, chip(window, "way_in kind"), "grows")
    assert session.template.part("plate").way_in[0].scale_y == 0
    choose(qtbot, chip(window, "way_in ease"), "soft both")
    choose(qtbot, chip(window, "way out"), "stays to the end")
    assert session.template.part("plate").way_out == StaysToTheEnd()
    choose(qtbot, chip(window, "fit box"), "ink")
    assert session.template.part("plate").fit.box == "ink"
    before = session.scene().rest.parts["plate"].box
    choose(qtbot, chip(window, "across on"), "title-safe")
    assert session.template.part("plate").across.on == "title-safe"
    assert session.scene().rest.parts["plate"].box.x == pytest.approx(before.x, abs=0.01)


def test_a_circle_is_refused_in_words_and_nothing_changes(window, qtbot):
    session = window.session
    session.select("name")
    before = session.template
    choose(qtbot, chip(window, "across on"), "Plate")
    assert session.template is before
    assert window.message.isVisible()
    assert "run in a circle" in window.message.text()


def test_a_matte_is_given_and_taken(window, qtbot):
    session = window.session
    session.select("name")
    qtbot.mouseClick(window.build.recipe.findChild(QPushButton, "matte remove"), Qt.MouseButton.LeftButton)
    QApplication.processEvents()
    assert session.template.part("name").mattes == ()
    choose(qtbot, chip(window, "add matte"), "Role plate")
    choose(qtbot, chip(window, "matte way"), "hidden inside")
    assert session.template.part("name").mattes == (Matte("role-plate", hides=True),)
    soft = box(window, "name/mattes.0.soft")
    type_into(qtbot, soft, "12")
    qtbot.keyClick(soft, Qt.Key.Key_Return)
    assert session.template.part("name").mattes[0].soft == 12


def test_words_get_room_and_a_way_to_fit(window, qtbot):
    session = window.session
    session.select("role")
    qtbot.mouseClick(window.build.recipe.findChild(QPushButton, "give room"), Qt.MouseButton.LeftButton)
    QApplication.processEvents()
    choose(qtbot, chip(window, "remedies"), "shrinks, then ends in …")
    width = box(window, "role/room.width")
    type_into(qtbot, width, "600")
    qtbot.keyClick(width, Qt.Key.Key_Return)
    assert session.template.part("role").room.remedies == ("shrink", "ellipsis")
    assert session.scene("longest").rest.parts["role"].box.w <= 600.01
    assert any("shrinks to" in note for note in session.scene("longest").notes())


def test_a_part_closes_up_and_rides_along(window, qtbot):
    session = window.session
    session.select("name")
    choose(qtbot, chip(window, "down options"), "rides along when Role plate moves")
    choose(qtbot, chip(window, "down options"), "stays when Role plate is empty")
    assert (session.template.part("name").down.rides, session.template.part("name").down.closes) == (True, False)


def test_fill_outline_shadow_and_form_are_given_in_the_recipe(window, qtbot):
    session, recipe = window.session, window.build.recipe
    session.select("plate")

    def press(name):
        recipe.findChild(QToolButton, name).click()
        QApplication.processEvents()

    choose(qtbot, chip(window, "form"), "slanted bar")
    choose(qtbot, chip(window, "fill kind"), "linear gradient")
    assert session.template.part("plate").fill.stops[0].colour == "#20435C"
    assert session.template.wire_to("plate/fill.colour") is None
    strip = recipe.findChild(GradientStrip, "plate/fill.stops")
    qtbot.mouseClick(strip, Qt.MouseButton.LeftButton, pos=QPoint(round(strip.x_of(50)), 10))
    assert len(session.template.part("plate").fill.stops) == 3
    strip.recolour("#FF0000")
    assert session.template.part("plate").fill.stops[2].colour == "#FF0000"
    drag(qtbot, strip, QPoint(round(strip.x_of(50)), 26), QPoint(round(strip.x_of(80) - strip.x_of(50)), 0))
    assert session.template.part("plate").fill.stops[2].at == pytest.approx(80, abs=2)
    strip.remove_chosen()
    assert len(session.template.part("plate").fill.stops) == 2
    press("Add an outline")
    press("Add a shadow")
    press("Add a glow")
    part = session.template.part("plate")
    assert part.outline and part.shadows and part.glow
    press("Remove the outline")
    press("Remove shadow 1")
    press("Remove the glow")
    part = session.template.part("plate")
    assert (part.outline, part.shadows, part.glow) == (None, (), None)
    for _ in range(12):
        window.undo()
    assert session.template.part("plate").fill.colour == "#20435C"


def test_several_parts_are_aligned_copied_and_removed_together(window, qtbot, monkeypatch):
    session, parts = window.session, window.build.parts
    for number, part in enumerate(("name", "role", "plate")):
        modifier = Qt.KeyboardModifier.ControlModifier if number else Qt.KeyboardModifier.NoModifier
        qtbot.mouseClick(parts.viewport(), Qt.MouseButton.LeftButton, modifier, row_of(parts, part))
    assert session.selection == ("name", "role", "plate")
    QApplication.processEvents()
    assert window.build.recipe.findChild(SeveralParts) is not None
    duplicate_selected(session)
    assert session.selection == ("name-2", "role-2", "plate-2")
    assert session.template.part("plate-2").fit.around == ("name-2",)
    monkeypatch.setattr(QMessageBox, "question", lambda *a, **k: pytest.fail("nothing outside follows them"))
    remove_selected(session, window)
    monkeypatch.setattr(QMessageBox, "question", lambda *a, **k: QMessageBox.StandardButton.Discard)
    assert session.selection == ()
    assert len(session.template.parts) == 5
    session.select_all(["name", "role"])
    QApplication.processEvents()
    window.build.recipe.findChild(QPushButton, "right edges").click()
    rest = session.scene().rest.parts
    assert rest["name"].box.right == pytest.approx(rest["role"].box.right, abs=0.01)


def test_a_picture_is_dropped_and_replaced(window, qtbot, tmp_path):
    from PIL import Image
    from PyQt6.QtCore import QUrl

    for name, colour in (("logo.png", "red"), ("other.png", "blue")):
        Image.new("RGB", (60, 30), colour).save(tmp_path / name)
    (tmp_path / "torn.png").write_bytes(b"nothing")
    session = window.session
    for name in ("logo.png", "torn.png"):
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(tmp_path / name))])
        window.dropEvent(
            QDropEvent(QPointF(50, 50), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
        )
    assert "is not a PNG" in window.message.text()
    part = session.part
    assert (part.name, part.width, part.height) == ("logo", 60, 30)
    QApplication.processEvents()
    window.build.recipe.findChild(LookSection).replace_picture(tmp_path / "other.png")
    assert session.part.picture.name == "other.png"
    window.undo()
    assert session.part.picture.name == "logo.png"


def test_parts_are_copied_pasted_and_nudged_by_keys(window, qtbot, demo):
    session = window.session
    window.build.stage.setFocus()
    session.select("rule")
    copy_selected(session)
    window.files.open_path(demo / "episode-title.avlet")
    paste_piece(session, window)
    assert session.selected == "rule-2"
    assert session.part.fit is None
    before = session.part.across.gap
    window.build.stage.nudge(1, 0)
    window.build.stage.nudge(10, 0)
    assert session.part.across.gap == before + 11
    window.undo()
    assert session.part.across.gap == before


def test_another_frame_and_rate_from_the_recipe(window, qtbot):
    session = window.session
    session.select(None)
    QApplication.processEvents()
    facts = window.build.recipe.findChild(TemplateFacts)
    facts.bring_to(Frame(3840, 2160, "25/1"), "scales as a whole", [])
    assert session.template.part("name").size == 160
    QApplication.processEvents()
    window.build.recipe.findChild(TemplateFacts)._rate("50/1")
    assert (session.template.length, session.template.part("plate").way_in[0].frames) == (250, 40)


def test_accents_and_features_are_chosen_in_the_recipe(window, qtbot):
    session, recipe = window.session, window.build.recipe
    session.select("name")
    recipe.findChild(QToolButton, "Add an accent").click()
    QApplication.processEvents()
    session.write({"name/text": "Odalys {1:Brandt}"})
    assert session.scene().rest.parts["name"].body.setting.accent.max() == 1
    choose(qtbot, chip(window, "features"), "tabular figures")
    assert session.template.part("name").features == ("tnum",)
    choose(qtbot, chip(window, "features"), "ligatures")
    assert set(session.template.part("name").features) == {"tnum", "-liga"}


def test_a_way_out_of_its_own(window, qtbot):
    session = window.session
    session.select("name")
    choose(qtbot, chip(window, "way out"), "goes its own way")
    own = session.template.part("name").way_out.moves
    assert own[0].order == "last to first"
    frames = box(window, "name/way_out.moves.0.frames")
    type_into(qtbot, frames, "12")
    qtbot.keyClick(frames, Qt.Key.Key_Return)
    assert session.template.part("name").way_out.moves[0].frames == 12


def test_the_dot_puts_on_the_card_and_takes_off(window, qtbot):
    session = window.session
    session.select("rule")
    dot = window.build.recipe.findChild(Dot, "dot rule/fill.colour")
    assert not dot.on_card
    next(a for a in dot.menu().actions() if a.text() == "Put on the card").trigger()
    assert session.template.wire_to("rule/fill.colour") is not None
    QApplication.processEvents()
    dot = window.build.recipe.findChild(Dot, "dot rule/fill.colour")
    assert dot.on_card
    assert any("Rule colour" in a.text() for a in dot.menu().actions())
    next(a for a in dot.menu().actions() if a.text() == "Take off the card").trigger()
    assert session.template.wire_to("rule/fill.colour") is None


def test_what_is_saved_can_be_opened_whatever_was_typed(window, qtbot, tmp_path):
    """A second line in a field of one line is refused when it is typed, not when the file is opened again."""
    session = window.session
    session.show_answers("")
    session.write({"role/text": "two\nlines"})
    assert "takes one line" in window.message.text()
    assert session.template.card.field("role").default == "Marsh ecologist"
    session.select("role")
    QApplication.processEvents()
    dot = window.build.recipe.findChild(Dot, "dot role/text")
    next(a for a in dot.menu().actions() if a.text() == "Let it have several lines").trigger()
    session.write({"role/text": "two\nlines"})
    assert session.template.card.field("role").default == "two\nlines"
    assert window.files._save_to(tmp_path / "x.avlet")
    assert open_template(tmp_path / "x.avlet").template == session.template


def test_an_edit_that_a_sample_would_not_survive_is_refused(window):
    """Name has two lines in one of the samples, so it cannot be kept to one line."""
    session = window.session
    before = session.template
    session.edit("One line", lambda t: carding.put_field(t, edits.replace(t.card.field("name"), several_lines=False)))
    assert session.template is before
    assert "takes one line" in window.message.text()


def test_a_wired_row_sets_the_answer_on_the_stage(window, qtbot):
    session = window.session
    session.select("plate")
    number = box(window, "plate/corner")
    type_into(qtbot, number, "12")
    qtbot.keyClick(number, Qt.Key.Key_Return)
    assert next(s for s in session.template.samples if s.id == "typical").answers["corners"] == 12
    assert session.template.part("plate").corner == 30
    assert session.scene().rest.parts["plate"].part.corner == 12


def test_samples_show_whether_they_hold(window, qtbot):
    from avlet.review.samples import verdict

    session = window.session
    assert verdict(session.scene("longest")) == "holds"
    session.edit("Larger", lambda t: edits.set_property(t, "name/size", 300))
    assert verdict(session.scene("longest")) in ("past title-safe", "past the frame")
    strip = window.build.samples
    strip.repaint()
    sample, _, area = strip.cells()[2]
    qtbot.mouseClick(strip, Qt.MouseButton.LeftButton, pos=area.center().toPoint())
    assert session.answers_from == sample == "longest"
    assert "Longest" in window.answers.text()


def test_from_an_empty_frame_to_a_lower_third_with_keys(window, qtbot):
    """T for words, which Esc leaves as they are; S for a shape round them, T for more words, and S."""
    window.session.open(blank(), window.session.book, None, saved=False)
    window.build.stage.setFocus()
    session = window.session
    handle = window.windowHandle()
    for key in (Qt.Key.Key_T, Qt.Key.Key_Escape, Qt.Key.Key_S) * 2:
        qtbot.keyClick(handle, key)
    assert [p.name for p in session.template.parts] == ["Name plate", "Name", "Role plate", "Role"]
    rest = session.scene("longest").rest.parts
    name, plate = rest["name"].box, rest["name-plate"].box
    assert (name.x - plate.x, plate.bottom - name.bottom) == (50, 25)
    assert session.template.part("name").mattes[0].inside == "name-plate"
    assert session.scene("shortest").rest.parts["name-plate"].box.w < plate.w
    assert [f.id for f in session.template.card.fields] == ["name", "role"]
    assert session.scene().picture(124, 192, 108).any() == False  # noqa: E712
    for _ in range(10):
        window.undo()
    assert session.template.parts == ()


def test_a_new_template_starts_in_its_frame_from_a_starting_point(window, qtbot):
    """Pressed with the keyboard, found with arrows, in a frame of one's own; Cancel and Esc leave what is open."""
    dialog = StartDialog(window)
    qtbot.addWidget(dialog)
    gallery = dialog.gallery
    assert len(gallery.tiles) == len(STARTS) == 39 and gallery.drawn is False
    gallery.size_box.setCurrentText("1080 × 1920")
    gallery.rate_box.setCurrentIndex(0)
    assert not gallery.width_box.isVisibleTo(dialog)
    gallery.size_box.setCurrentText("own size")
    assert gallery.width_box.isVisibleTo(dialog) and gallery.height_box.isVisibleTo(dialog)
    type_into(qtbot, gallery.width_box, "2048")
    qtbot.keyClick(gallery.width_box, Qt.Key.Key_Return)
    dialog.show()
    qtbot.waitExposed(dialog)
    assert dialog.focusWidget() is not None
    gallery.tiles[0].setFocus()
    for arrow, name in (
        (Qt.Key.Key_Right, "Saltmarsh title"),
        (Qt.Key.Key_Down, "Ledger title"),
        (Qt.Key.Key_Left, "Ledger name"),
        (Qt.Key.Key_Up, "Saltmarsh name"),
    ):
        qtbot.keyClick(dialog.focusWidget(), arrow)
        assert dialog.focusWidget().name == name
    qtbot.keyClick(dialog.focusWidget(), Qt.Key.Key_Up)
    assert dialog.focusWidget().name == "Saltmarsh name", "there is nothing above"
    qtbot.keyClick(dialog.focusWidget(), Qt.Key.Key_Return)
    assert dialog.result() == dialog.DialogCode.Accepted
    template = dialog.chosen.template
    assert (template.name, template.frame) == ("Saltmarsh name", Frame(2048, 1080, "24000/1001"))
    assert window.files.begin(dialog.chosen)
    assert window.session.template is template
    assert window.session.unsaved
    other = StartDialog(window)
    qtbot.addWidget(other)
    other.show()
    qtbot.keyClick(other, Qt.Key.Key_Escape)
    assert other.chosen is None and not other.isVisible()


def test_parts_are_reordered_hidden_renamed_duplicated_and_removed(window, qtbot, monkeypatch):
    session, parts = window.session, window.build.parts
    session.select("role")
    window.build.stage.setFocus()
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
    assert session.selected == "role-2"
    asked = []
    monkeypatch.setattr(QMessageBox, "question", lambda *a, **k: asked.append(a[2]) or QMessageBox.StandardButton.Yes)
    session.select("name")
    before = session.scene().rest.parts["plate"].box
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_Delete)
    assert "Plate" in asked[0]
    assert session.template.part("name") is None
    assert session.scene().rest.parts["plate"].box == pytest.approx(before)
    window.undo()
    start = row_of(parts, "rule")
    drag(qtbot, parts.viewport(), start, QPoint(0, -start.y() - 14))
    assert session.template.parts[-1].id == "rule"
    qtbot.mouseClick(parts.viewport(), Qt.MouseButton.LeftButton, pos=row_of(parts, "rule", x=parts.viewport().width() - 16))
    assert session.template.part("rule").shown is False
    parts.setFocus()
    session.select("rule")
    qtbot.keyClick(parts, Qt.Key.Key_F2)
    editor = parts.viewport().findChild(QLineEdit)
    type_into(qtbot, editor, "Side rule")
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    QApplication.processEvents()
    assert session.template.name_of("rule") == "Side rule"
    qtbot.keyClick(parts, Qt.Key.Key_Down)
    assert session.selected == parts.rows[1].id
    model = parts.model()
    told = model.data(model.index(model.row_of("plate")), Qt.ItemDataRole.AccessibleTextRole)
    assert told == "Plate, shape. Plate fits around Name"
    assert "Side rule, rule, hidden" in model.data(model.index(model.row_of("rule")), Qt.ItemDataRole.AccessibleTextRole)
    for part_id, keys in (("rule", Qt.KeyboardModifier.NoModifier), ("plate", Qt.KeyboardModifier.ControlModifier)):
        qtbot.mouseClick(parts.viewport(), Qt.MouseButton.LeftButton, keys, row_of(parts, part_id))
    others = [part.id for part in parts.rows if part.id not in ("rule", "plate")]
    qtbot.mouseClick(parts.viewport(), Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier, row_of(parts, others[0]))
    assert list(session.selection) == ["rule", "plate", others[0]]


def test_saving_a_handed_over_package_asks_for_a_working_file(window, qtbot, monkeypatch, tmp_path):
    session, asked = window.session, []
    package = session.path
    before = {path: path.read_bytes() for path in package.rglob("*") if path.is_file()}
    assert before

    def ask(_parent, _title, suggestion, _kinds):
        asked.append(suggestion)
        return (str(tmp_path / "mine"), "") if len(asked) > 1 else ("", "")

    monkeypatch.setattr(QFileDialog, "getSaveFileName", ask)
    session.select("plate")
    session.write({"plate/opacity": 90.0})
    qtbot.waitUntil(window.isActiveWindow)
    qtbot.keyClick(window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    assert "was handed over as version" in window.message.text() and session.unsaved
    assert not asked[0].startswith(str(package.parent))
    qtbot.keyClick(window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    assert session.path == tmp_path / "mine.avlet" and not session.unsaved
    session.write({"plate/opacity": 80.0})
    qtbot.keyClick(window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    assert len(asked) == 2 and open_template(session.path).template.part("plate").opacity == 80.0
    assert {path: path.read_bytes() for path in package.rglob("*") if path.is_file()} == before


def test_playing_and_stepping(window, qtbot):
    session, handle = window.session, window.windowHandle()
    window.build.stage.setFocus()
    for key, frame in (
        (Qt.Key.Key_Home, 0), (Qt.Key.Key_Right, 1), (Qt.Key.Key_PageDown, 5), (Qt.Key.Key_PageDown, 10), (Qt.Key.Key_End, 124), (Qt.Key.Key_Left, 123),
    ):  # fmt: skip
        qtbot.keyClick(handle, key)
        assert session.frame == frame
    qtbot.keyClick(handle, Qt.Key.Key_Home)
    qtbot.keyClick(handle, Qt.Key.Key_Space)
    assert window.build.transport.player.playing
    qtbot.waitUntil(lambda: session.frame > 4, timeout=3000)
    qtbot.keyClick(handle, Qt.Key.Key_Space)
    assert not window.build.transport.player.playing
    assert window.build.transport.time.text() == timecode(session.frame, Fraction(25))


def test_spans_are_dragged_on_the_time_bar(window, qtbot):
    bar, session = window.build.transport.bar, window.session
    session.go_to(60)
    start = QPoint(round(bar.x_of(25)), 17)
    drag(qtbot, bar, start, QPoint(round(bar.x_of(40) - bar.x_of(25)), 0))
    assert session.template.way_in == 40
    window.undo()
    assert session.template.way_in == 25


def test_zoom_and_backgrounds(window, qtbot):
    stage = window.build.stage
    fitting = stage.scale
    stage.zoom_to(2.0, QPointF(100, 100))
    held = stage.to_frame(QPointF(100, 100))
    stage.zoom_to(3.0, QPointF(100, 100))
    assert stage.to_frame(QPointF(100, 100)).x() == pytest.approx(held.x())
    assert window.build.zoom.text() == "300%"
    stage.repaint()
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_0, Qt.KeyboardModifier.ControlModifier)
    stage.zoom_to(None)
    assert stage.scale == fitting
    for button in window.build.backgrounds.buttons():
        qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
        assert stage.background.name == button.text().lower()
        assert not stage.grab().isNull()


def test_the_stage_shows_what_is_rendered(window):
    """The picture on the stage against the engine's own picture at the same size."""
    import numpy as np

    stage, session = window.build.stage, window.session
    session.select(None)
    stage.safe_areas = False
    window.build.set_background("black")
    session.go_to(17)
    area = stage.picture_area()
    stage.resize(stage.width(), stage.height())
    grabbed = stage.grab().toImage().convertToFormat(stage.grab().toImage().Format.Format_RGBA8888)
    pointer = grabbed.constBits()
    pointer.setsize(grabbed.sizeInBytes())
    shown = np.frombuffer(pointer, np.uint8).reshape(grabbed.height(), grabbed.width(), 4)
    width, height = round(area.width()), round(area.height())
    wanted = session.scene().picture(17, width, height)[..., :3].astype(int)
    left, top = round(area.x()), round(area.y())
    found = shown[top : top + height, left : left + width, :3].astype(int)
    assert np.abs(found - wanted).mean() < 1.5


# Files


def test_save_open_and_recent(window, qtbot, tmp_path):
    session = window.session
    session.edit("Rename", lambda t: edits.replace(t, name="Mine"))
    assert session.unsaved
    assert window.title.text().endswith("•")
    assert window.files._save_to(tmp_path / "mine.avlet")
    assert not session.unsaved
    window.files.start(blank())
    assert session.template.parts == ()
    assert window.files.open_path(tmp_path / "mine.avlet")
    assert session.template.name == "Mine"
    menu = QMenu()
    window.files.fill_menu(menu)
    recent = next(a for a in menu.actions() if a.text() == "Open recent").menu()
    assert recent.actions()[0].text() == "mine.avlet"
    window.files.start(blank())
    recent.actions()[0].trigger()
    assert session.template.name == "Mine"


def test_a_broken_file_is_said_and_nothing_is_lost(window, tmp_path):
    before = window.session.template
    (tmp_path / "torn.avlet").write_bytes(b"PK broken")
    assert not window.files.open_path(tmp_path / "torn.avlet")
    assert "not a template or is damaged" in window.message.text()
    assert window.session.template is before


def test_files_are_dropped_on_the_window(window, demo, qtbot):
    from PyQt6.QtCore import QUrl

    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(demo / "episode-title.avlet"))])
    event = QDropEvent(QPointF(50, 50), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
    window.dropEvent(event)
    assert window.session.template.name == "Episode title"


def test_recovered_work_is_asked_about_until_it_is_saved_and_nothing_is_kept_of_no_work(window, monkeypatch, tmp_path):
    asked = []
    monkeypatch.setattr(QMessageBox, "question", lambda *_, **__: asked.append(1) or QMessageBox.StandardButton.Cancel)
    window.session.open(blank(), window.session.book, None, saved=False)
    window.keep_unsaved()
    assert not window.recovery.file.exists() and window.may_leave() and not asked, "an empty template is no work"
    window.session.open(blank(), window.session.book, None, saved=False)
    window.session.recovered = True
    window.keep_unsaved()
    assert window.recovery.file.exists() and not window.may_leave() and asked
    window.session.edit("Rename", lambda t: edits.replace(t, name="Found"))
    window.session.undo()
    assert not window.may_leave(), "taking back what came after does not save it"
    assert window.files._save_to(tmp_path / "found.avlet") and window.may_leave()
    window.keep_unsaved()
    assert not window.recovery.file.exists()
    monkeypatch.chdir(tmp_path)
    Recovery.of_templates(tmp_path / "r").keep(window.session.template, Path("found.avlet"))
    assert str(tmp_path / "found.avlet") in next((tmp_path / "r").iterdir()).read_text()


def test_unsaved_work_survives_a_crash(window, monkeypatch, tmp_path, dressed, qtbot):
    window.session.edit("Rename", lambda t: edits.replace(t, name="Half done"))
    window.keep_unsaved()
    kept = window.recovery.file
    document = json.loads(kept.read_text())
    kept.write_text(json.dumps({**document, "process": 999_999_999}))
    assert [lost.document.name for lost in lost_work(window.recovery.folder)] == ["Half done"]
    other = Window(window.cut_session.library, tmp_path / "state")
    qtbot.addWidget(other)
    monkeypatch.setattr(QMessageBox, "question", lambda *a, **k: QMessageBox.StandardButton.Open)
    other.show_welcome()
    other.files.lost.offer()
    assert other.session.template.name == "Half done"
    assert other.session.unsaved and other.in_front("Build"), "it comes to the front"
    assert not kept.exists()
    assert other.recovery.file.exists()
    monkeypatch.setattr(QMessageBox, "question", lambda *a, **k: QMessageBox.StandardButton.Discard)


@pytest.mark.parametrize("answer", ["Save", "Discard", "Ignore"])
def test_unsaved_work_that_cannot_be_opened_is_offered_as_a_file(window, monkeypatch, tmp_path, answer):
    """Nobody passes over it in silence: it is kept where one says, thrown away, or asked about again."""
    window.keep_unsaved()
    broken = window.recovery.folder / "other.json"
    broken.parent.mkdir(parents=True, exist_ok=True)
    inside = encode(window.session.template).replace(b'"corner": 30', b'"corner": -30')
    kept = {"process": 999_999_999, "begun": 1.0, "saved_at": 1.0, "path": "strap.avlet", "template": json.loads(inside)}
    broken.write_text(json.dumps(kept))
    asked, before = [], window.session.template

    def question(_parent, _title, words, *_):
        asked.append(words)
        return getattr(QMessageBox.StandardButton, answer)

    monkeypatch.setattr(QMessageBox, "question", question)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "rescued.json"), ""))
    window.files.lost.offer()
    assert "strap.avlet" in asked[0] and "corner" in asked[0] and "Keep it as a file?" in asked[0]
    assert window.session.template is before
    assert broken.exists() == (answer == "Ignore")
    assert (tmp_path / "rescued.json").exists() == (answer == "Save")
    if answer == "Save":
        assert b"-30" in (tmp_path / "rescued.json").read_bytes() and "rescued.json" in window.message.text()
    broken.unlink(missing_ok=True)


def test_hand_over_says_what_goes_and_writes_it(window, tmp_path):
    dialog = HandoverDialog(window.session, tmp_path / "library", window)
    words = " ".join(label.text() for label in dialog.findChildren(type(dialog.exists)))
    assert "Name, Role, Bar colour, Role line, Corners" in words
    assert "Fira Sans Bold" in words
    path = window.files.hand_over_to(dialog.library)
    assert open_template(path).template == window.session.template
    assert "is in the library" in window.message.text()


# Desk


@pytest.fixture
def desk(window, qtbot):
    window.show_desk()
    QApplication.processEvents()
    return window.desk


def test_filling_the_card_changes_the_picture_and_the_cut(window, desk, qtbot):
    session = window.cut_session
    session.select("odalys")
    line = desk.card.inputs["role"]
    assert isinstance(line, QLineEdit)
    type_into(qtbot, line, "Keeper of the north sluice")
    assert session.title.answers["role"] == "Keeper of the north sluice"
    name = desk.card.inputs["name"]
    assert isinstance(name, QPlainTextEdit)
    before = session.scene_of(session.title).rest.parts["plate"].box.w
    type_into(qtbot, name, "Bo")
    assert session.scene_of(session.title).rest.parts["plate"].box.w < before
    qtbot.mouseClick(desk.card.inputs["role-line"], Qt.MouseButton.LeftButton, pos=QPoint(12, 10))
    assert session.title.answers["role-line"] is False
    desk.setFocus()
    window.undo()
    assert "role-line" not in session.title.answers


def test_an_answer_the_field_refuses_is_said_on_the_card(window, desk, qtbot):
    window.cut_session.select("odalys")
    line = desk.card.inputs["role"]
    line.setText("two\nlines")
    line.textEdited.emit("two\nlines")
    wrong = desk.card.rows["role"].wrong
    assert "one line" in wrong.text()


def test_a_template_is_dropped_moved_and_trimmed(window, desk, qtbot):
    view, session = desk.view, window.cut_session
    view.resize(1200, view.height())
    data = QMimeData()
    data.setData(MIME, b"episode-title.avlet")
    where = QPointF(view.x_of(1170), 50)
    view.dropEvent(QDropEvent(where, Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier))
    title = session.title
    assert (title.template, title.length) == ("episode-title.avlet", 125)
    assert title.start == pytest.approx(1170, abs=2)
    area = view.title_area(title)
    drag(qtbot, view, area.center().toPoint(), QPoint(-8, 0))
    assert session.title.start < title.start
    area = view.title_area(session.title)
    drag(qtbot, view, QPoint(round(area.right()) - 2, round(area.center().y())), QPoint(40, 0))
    assert session.title.length > 140
    assert session.scene_of(session.title).spans.way_in == 36
    view.setFocus()
    qtbot.keyClick(view, Qt.Key.Key_Delete)
    assert session.title is None
    assert len(session.cut.titles) == 10


def test_the_library_follows_its_folder(window, desk, qtbot, book, name_strap):
    library = desk.library
    before = len(list(window.cut_session.library.glob("*.avlet")))
    assert library.list.count() == before == 28
    hand_over(edits.replace(name_strap, name="Chapter card", category="Titles"), book, window.cut_session.library)
    qtbot.waitUntil(lambda: library.list.count() == before + 1, timeout=6000)
    library.search.setText("chapter")
    assert library.list.count() == 1
    library.search.clear()
    library.show_category("Lower thirds")
    assert library.list.words() == ["Guest strap", "Name strap", "Saltmarsh name", "Shadow strap", "Side rule", "Strip change"]


def test_a_new_hand_over_is_noticed_and_taken_by_titles_with_their_answers(window, desk, qtbot):
    session = window.cut_session
    title = session.cut.title("odalys")
    session.select("odalys")
    before = session.scene_of(title).rest.parts["plate"].box.h
    assert not desk.take.isVisible()
    window.session.edit("Taller", lambda t: edits.set_property(t, "plate/fit.top", 80))
    window.files.hand_over_to(session.library, "A taller bar")
    assert session.scene_of(title).rest.parts["plate"].box.h == before
    assert desk.news.text() == "Version 2 is in the library.\nA taller bar\nIts design has changed."
    qtbot.mouseClick(desk.take, Qt.MouseButton.LeftButton)
    title = session.cut.title("odalys")
    assert title.version == 2
    assert session.scene_of(title).rest.parts["plate"].box.h == pytest.approx(before + 55)
    assert title.answers["name"] == "Odalys Brandt"
    assert not desk.take.isVisible()
    window.undo()
    assert session.scene_of(session.cut.title("odalys")).rest.parts["plate"].box.h == before


def test_a_template_that_is_gone_is_said_on_the_cut(window, desk):
    session = window.cut_session
    session.edit("Add", lambda c: put_title(c, Title("lost", "gone.avlet", 1300, 50)))
    session.select("lost")
    assert "There is no file" in session.scene_of(session.title)
    assert not desk.render_one.isEnabled()
    assert not window.grab().isNull()


def test_the_cut_is_saved_and_opened_again(window, desk, tmp_path):
    session = window.cut_session
    session.path = tmp_path / "mine.otio"
    session.edit("Add", lambda c: put_title(c, Title("extra", "name-strap.avlet", 1180, 80, {"name": "Bo Li"})))
    assert window.files.save_cut()
    assert read_cut(tmp_path / "mine.otio") == session.cut
    assert not session.unsaved


def test_space_plays_as_soon_as_a_bench_is_in_front(window, qtbot):
    qtbot.waitUntil(window.isActiveWindow)
    for bench, player in (
        (BENCHES.index(DESK), window.desk.player),
        (2, window.card.transport.player),
        (1, window.time.transport.player),
        (0, window.build.transport.player),
    ):
        window.show_bench(bench)
        QApplication.processEvents()
        qtbot.keyClick(window.windowHandle(), Qt.Key.Key_Space)
        assert player.playing
        qtbot.keyClick(window.windowHandle(), Qt.Key.Key_Space)
        assert not player.playing


def test_playing_the_cut(window, desk, qtbot):
    session = window.cut_session
    session.go_to(270)
    desk.view.setFocus()
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_Space)
    qtbot.waitUntil(lambda: session.frame > 274, timeout=4000)
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_Space)
    assert not desk.player.playing
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_PageDown)
    assert session.frame in (400, 430)


def render_dialog(window, qtbot, tmp_path, all_titles: bool) -> RenderDialog:
    session = window.cut_session
    for title in [t for t in session.cut.titles if t.id not in ("the-long-tide", "odalys")]:
        session.edit("Fewer", lambda c, i=title.id: edits.replace(c, titles=tuple(t for t in c.titles if t.id != i)))
    session.edit("Small", lambda c: edits.replace(c, frame=edits.replace(c.frame, width=192, height=108)))
    window.files.render(all_titles)
    dialog = window.files.dialog
    qtbot.addWidget(dialog)
    dialog.folder.line.setText(str(tmp_path / "films"))
    dialog.kind.setCurrentText("A folder of PNGs")
    return dialog


def test_all_titles_are_rendered_with_progress(window, desk, qtbot, tmp_path):
    dialog = render_dialog(window, qtbot, tmp_path, True)
    assert dialog.names == ["T0001-episode-title", "T0003-name-strap"]
    dialog.film.setChecked(False)  # the film has a test of its own
    dialog.start()
    qtbot.waitUntil(lambda: dialog.words.text().startswith("Wrote"), timeout=60_000)
    folders = sorted(p.name for p in (tmp_path / "films").iterdir())
    assert folders == ["T0001-episode-title", "T0003-name-strap", "delivery.csv", "delivery.json", "the-long-tide-first-cut.otio"]
    assert len(list((tmp_path / "films" / "T0003-name-strap").iterdir())) == 125
    assert len(list((tmp_path / "films" / "T0001-episode-title").iterdir())) == 144


def test_rendering_is_stopped_and_leaves_nothing(window, desk, qtbot, tmp_path):
    window.cut_session.select("odalys")
    dialog = render_dialog(window, qtbot, tmp_path, False)
    dialog.start()
    dialog.reject()
    qtbot.waitUntil(lambda: dialog.words.text().startswith("Stopped"), timeout=60_000)
    qtbot.waitUntil(lambda: dialog.thread_ is None, timeout=10_000)
    assert list((tmp_path / "films").iterdir()) == []


def test_every_control_has_a_name_for_those_who_cannot_see_it(window, desk):
    from PyQt6.QtWidgets import QAbstractButton

    for button in window.findChildren(QAbstractButton):
        if button.isVisible():
            assert button.text().strip() or button.accessibleName() or button.toolTip(), button


def test_paths_with_spaces_and_letters(window, tmp_path):
    path = Path(tmp_path) / "Тест папка" / "mine ñ.avlet"
    assert window.files._save_to(path)
    assert window.files.open_path(path)


def test_unsaved_work_is_asked_about_before_it_is_lost(window, desk, monkeypatch):
    asked = []

    def ask(*words):
        asked.append(words[2])
        return QMessageBox.StandardButton.Cancel

    monkeypatch.setattr(QMessageBox, "question", ask)
    session = window.cut_session
    session.edit("Add", lambda c: put_title(c, Title("extra", "name-strap.avlet", 1180, 80)))
    cut = session.cut
    window.files.new_cut()
    assert session.cut is cut
    window.session.edit("Rename", lambda t: edits.replace(t, name="Mine"))
    window.files.start(blank())
    assert window.session.template.name == "Mine"
    assert [words.split(" has ")[0] for words in asked] == ["The Long Tide, first cut", "Mine"]
    monkeypatch.setattr(QMessageBox, "question", lambda *a: QMessageBox.StandardButton.Discard)
    window.files.new_cut()
    assert session.cut.titles == ()
    assert len(session.cut.pictures) == 3


@pytest.mark.parametrize(("answer", "kept"), [(QMessageBox.StandardButton.No, True), (QMessageBox.StandardButton.Yes, False)])
def test_a_file_that_is_meant_only_with_its_ending_is_asked_about(window, tmp_path, monkeypatch, answer, kept):
    other, asked = tmp_path / "other.avlet", []
    other.write_bytes(b"somebody else's")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(tmp_path / "other"), ""))
    monkeypatch.setattr(QMessageBox, "question", lambda *a: (asked.append(a[2]), answer)[1])
    assert window.files.save_as() is not kept
    assert (other.read_bytes() == b"somebody else's") == kept and "“other.avlet” is there already" in asked[0]
    cut, asked[:] = tmp_path / "ep.2.otio", []
    cut.write_bytes(b"a cut")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(tmp_path / "ep.2"), ""))
    assert window.files.save_cut(ask=True) is not kept
    assert (cut.read_bytes() == b"a cut") == kept and not (tmp_path / "ep.otio").exists() and asked
