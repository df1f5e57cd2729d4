"""The Card bench by mouse and keys: filling, choosing, ordering, wiring, recording, the house, the measure."""

import pytest
from conftest import DEMO
from hands import choose, type_into
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QApplication, QComboBox, QInputDialog, QLabel, QLineEdit, QMenu, QMessageBox, QPushButton, QWidget

from avlet.desktop.card.card_bench import driven_by, driven_words
from avlet.desktop.card.field_editors import FieldEditor
from avlet.desktop.card.wire_dialog import WireDialog
from avlet.desktop.card.wire_editor import WireEditor
from avlet.desktop.card.wire_menus import fill_sources, fill_targets
from avlet.desktop.recipe.dot import Dot
from avlet.desktop.widgets.gradients import GradientStrip
from avlet.desktop.widgets.numbers import NumberBox
from avlet.desktop.widgets.theme import PAPER, PAPER_TEXT
from avlet.document.cards import carding
from avlet.document.cards.wires import Formula, Range, Table
from avlet.document.editing import edits
from avlet.document.editing.edits import put_struct
from avlet.document.fields import (
    ChoiceField,
    ColourField,
    GradientField,
    LengthField,
    NoteField,
    NumberField,
    Option,
    PictureField,
    Swatch,
    TextField,
)
from avlet.document.looks.paints import Linear, Stop
from avlet.layout.bind import bind

LEFT = Qt.MouseButton.LeftButton


def settle(times: int = 6) -> None:
    for _ in range(times):
        QApplication.processEvents()


@pytest.fixture
def bench(window, qtbot):
    window.show_bench(2)
    window.session.show_answers("")
    settle()
    return window.card


def pick(bench, field_id) -> None:
    bench.choose(field_id)
    settle()


def inside(bench, kind, name):
    found = bench.panel.findChild(kind, name)
    assert found is not None, name
    return found


def entries(menu: QMenu) -> dict[str, QMenu]:
    """Submenus by name, filled as if they had been opened."""
    found = {}
    for action in menu.actions():
        under = action.menu()
        if under is not None:
            under.aboutToShow.emit()
            found[action.text()] = under
    return found


def test_the_designer_fills_the_card_and_the_stage_answers(bench, qtbot):
    line = bench.card.inputs["role"]
    type_into(qtbot, line, "Sluice keeper")
    settle()
    assert bench.session.bound("role").text == "Sluice keeper", "the stage answers"
    assert bench.session.template.card.field("role").default == "Marsh ecologist" and not bench.session.unsaved, "trying is trying"
    assert bench.card.inputs["role"] is line  # nothing is built anew under the fingers
    qtbot.mouseClick(bench.keep_tried, LEFT)
    settle()
    assert bench.session.template.card.field("role").default == "Sluice keeper" == bench.session.bound("role").text
    assert not bench.tried.isVisible() and bench.session.answers_from == ""
    bench.session.show_answers("longest")
    settle()
    type_into(qtbot, bench.card.inputs["role"], "Ringer")
    assert bench.session.template.samples[2].answers["role"] == "Ringer"


def test_a_card_is_paper_with_dark_words(bench):
    view = bench.card
    ground = view.grab().toImage().pixelColor(view.width() // 2, view.height() - 20)
    assert ground.name().upper() == PAPER
    label = next(one for one in view.findChildren(QLabel) if one.isVisible() and one.text() == "Role line")
    assert label.palette().color(label.foregroundRole()).name().upper() == PAPER_TEXT
    assert next(iter(view.findChildren(QLineEdit))).palette().base().color().name() == "#ffffff"


def test_what_is_tried_on_the_card_is_kept_by_a_press_alone(bench, qtbot):
    """It shows on the stage of every bench, goes with *Back to the start*, with other answers, with the field, and with what is typed there."""
    session, window = bench.session, bench.window()
    role, bar = bench.card.inputs["role"], session.template.card.field("bar-colour").default
    type_into(qtbot, role, "Ringer")
    settle()
    assert bench.tried.isVisible() and "tried" in window.answers.text()
    session.edit("Length", lambda t: edits.replace(t, length=t.length + 10))
    settle()
    assert session.bound("role").text == "Ringer", "other edits leave it there"
    qtbot.mouseClick(bench.drop_tried, LEFT)
    settle()
    assert session.bound("role").text == "Marsh ecologist" == bench.card.inputs["role"].text() and not bench.tried.isVisible()
    session.answer("bar-colour", "#12AB34")
    assert session.template.card.field("bar-colour").default == bar
    session.show_answers("longest")
    session.show_answers("")
    assert session.tried == {}, "other answers take its place"
    session.try_answer("role", "Ringer")
    session.write({"role/text": "Typed on the stage"})
    assert session.template.card.field("role").default == "Typed on the stage" == session.bound("role").text, "what is typed there counts"
    session.try_answer("role", "Ringer")
    session.edit("Off", lambda t: carding.remove_field(t, "role"))
    assert session.answers_from == "" and session.tried == {}
    said = []
    session.refused.connect(said.append)
    assert not session.try_answer("bar-colour", "blue-ish") and said and session.answers_from == ""
    session.try_answer("bar-colour", "#12AB34")
    window.files.open_path(DEMO / "rising-word.avlet")
    assert session.tried == {} and session.answers_from == ""


def test_a_click_on_a_label_shows_the_field_and_lights_what_it_drives(bench, qtbot):
    qtbot.mouseClick(bench.card.rows["bar-colour"].label, LEFT)
    settle()
    assert bench.chosen == "bar-colour"
    assert bench.stage.lit == {"plate", "role"}
    assert {w.target for w in bench.panel.findChildren(WireEditor)} == {"plate/fill.colour", "role/fill.colour"}
    assert "Corners" in driven_words(bench.session, "plate").title()
    assert driven_words(bench.session, "rule") == "Rule: nothing on the card changes it"


def test_label_hint_and_limits_are_changed(bench, qtbot):
    pick(bench, "corners")
    label = inside(bench, QLineEdit, "field label")
    type_into(qtbot, label, "Round corners")
    label.editingFinished.emit()
    settle()
    assert bench.session.template.card.field("corners").label == "Round corners"
    high = inside(bench, NumberBox, "field high")
    type_into(qtbot, high, "45")
    qtbot.keyClick(high, Qt.Key.Key_Return)
    assert bench.session.template.card.field("corners").high == 45
    low = inside(bench, NumberBox, "field low")
    refused = []
    bench.session.refused.connect(refused.append)
    type_into(qtbot, low, "60")
    qtbot.keyClick(low, Qt.Key.Key_Return)
    assert "goes from 60 to 45" in refused[-1]


def test_fields_are_dragged_to_other_places(bench):
    row = bench.card.rows["name"]
    y = row.mapTo(bench.card, row.rect().topLeft()).y() + 1
    section, place, _ = bench.card.place_at(y)
    assert (section, place) == (0, 0)
    below = bench.card.rows["corners"]
    section, place, _ = bench.card.place_at(below.mapTo(bench.card, below.rect().bottomLeft()).y())
    bench.card.moved.emit("name", section, place)
    settle()
    assert [f.id for f in bench.session.template.card.sections[1].fields][-1] == "name"


def test_sections_are_dragged_and_single_stops_go_on_the_card(window, bench):
    bench.card.section_moved.emit(1, 0)
    assert [s.name for s in bench.session.template.card.sections] == ["Look", "Words"]
    session = window.session
    stops = (Stop(0, "#111111"), Stop(100, "#222222"))
    session.edit("Gradient", lambda t: put_struct(carding.unwired(t, "plate/fill.colour"), "plate", "fill", Linear(stops)))
    dot = Dot(session, "plate/fill.stops", "Gradient")
    menu = dot.menu()
    next(a for a in menu.actions() if a.text() == "Put only the colour of stop 2 on the card").trigger()
    field = session.template.card.fields[-1]
    assert (field.start, session.template.wires_from(field.id)[0].target) == ("#222222", "plate/fill.stops.1.colour")
    said = []
    session.refused.connect(said.append)
    dot = Dot(session, "plate/fill.stops.1.colour", "Colour")
    dot.menu().take_off()
    assert said == ["Off the card. Colour of Plate stays “#222222”."]


def test_new_fields_notes_and_sections(bench, monkeypatch):
    bench.add_field("Choice")
    settle()
    assert isinstance(bench.session.template.card.field(bench.chosen), ChoiceField)
    bench.add_field("Note to read")
    settle()
    assert isinstance(bench.session.template.card.field(bench.chosen), NoteField)
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("Timing", True))
    bench.add_section()
    assert bench.session.template.card.sections[-1].name == "Timing"
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("", True))
    count = len(bench.session.template.card.sections)
    bench.rename_section(count - 1)
    assert len(bench.session.template.card.sections) == count - 1


def test_a_choice_is_wired_by_a_table_and_its_cells_are_typed(bench, qtbot):
    bench.add_field("Choice")
    settle()
    menu = QMenu()
    chosen = []
    fill_targets(menu, bench.session.template, bench.chosen, chosen.append)
    look = entries(entries(menu)["Plate"])["Look"]
    next(a for a in look.actions() if a.text() == "Opacity").trigger()
    assert chosen == ["plate/opacity"]
    panel = bench.panel.widget().findChild(QPushButton, "add wire").parent()
    panel.wire_to("plate/opacity")
    settle()
    cell = inside(bench, NumberBox, "row right of plate/opacity")
    type_into(qtbot, cell, "40")
    qtbot.keyClick(cell, Qt.Key.Key_Return)
    field_id = bench.chosen
    assert [{p.id: p.opacity for p in bind(bench.session.template, {field_id: s}).parts}["plate"] for s in ("left", "right")] == [
        100,
        40,
    ]


def test_an_option_is_recorded_by_changing_things_on_the_stage(bench, qtbot):
    bench.add_field("Choice")
    settle()
    field_id = bench.chosen
    bench.session.answer(field_id, "right")
    settle()
    qtbot.mouseClick(inside(bench, QPushButton, "record option"), LEFT)
    assert bench.session.recording == field_id
    with qtbot.waitSignal(bench.session.refused) as said:  # on the card already, so that it would count for every option
        assert not bench.session.write({"plate/corner": 3})
    assert "follows" in said.args[0]
    bench.session.write({"name/align": "end"})
    assert bench.session.template.wire_to("name/align").map == Table({"left": "start", "middle": "start", "right": "end"})
    bench.session.answer(field_id, "left")
    bench.session.write({"name/align": "middle"})
    assert bench.session.template.wire_to("name/align").map.rows == {"left": "middle", "middle": "start", "right": "end"}
    pick(bench, "role")
    assert bench.session.recording is None


def test_a_map_becomes_a_range_and_a_formula(bench, qtbot):
    pick(bench, "corners")
    choose(qtbot, inside(bench, QWidget, "map of plate/corner"), "from a range to a range")
    settle()
    wire = bench.session.template.wire_to("plate/corner")
    assert isinstance(wire.map, Range)
    box = inside(bench, NumberBox, "to_high of plate/corner")
    type_into(qtbot, box, "20")
    qtbot.keyClick(box, Qt.Key.Key_Return)
    settle()
    assert bench.session.template.wire_to("plate/corner").map.to_high == 20
    choose(qtbot, inside(bench, QWidget, "map of plate/corner"), "by a formula")
    settle()
    editor = next(w for w in bench.panel.findChildren(WireEditor) if w.target == "plate/corner")
    type_into(qtbot, editor.line, "value + nothing")
    assert "There is no “nothing”" in editor.wrong.text()
    editor.line.clear()
    type_into(qtbot, editor.line, "value / 2")
    assert editor.wrong.isHidden()
    qtbot.keyClick(editor.line, Qt.Key.Key_Return)
    settle()
    assert bench.session.template.wire_to("plate/corner").map == Formula("value / 2")


def test_a_field_is_shown_only_if(bench, qtbot):
    pick(bench, "role")
    choose(qtbot, inside(bench, QWidget, "shown if"), "if Role line is …")
    settle()
    assert bench.session.template.card.field("role").shown_if.answers == (True,)
    bench.session.answer("role-line", False)
    settle(12)
    assert bench.card.rows["role"].label.text() == "Role (hidden)"
    choose(qtbot, inside(bench, QWidget, "shown if"), "always")
    assert bench.session.template.card.field("role").shown_if is None


def test_a_menu_that_is_older_than_the_card_says_what_is_gone(bench, qtbot):
    """A field goes, or is no choice any more, while the menu that offers it is open."""
    said = []
    bench.session.refused.connect(said.append)
    number = NumberField(id="role-line", label="Role line")
    for label, then, words in (
        ("Gone", lambda t: carding.remove_field(t, "role-line"), "There is no field “role-line” on the card."),
        (
            "A number",
            lambda t: carding.add_field(carding.remove_field(t, "role-line"), number),
            "“Role line” is no choice any more, so nothing can be shown by it.",
        ),
    ):
        pick(bench, "role")
        chip = inside(bench, QWidget, "shown if")
        qtbot.mouseClick(chip, Qt.MouseButton.LeftButton)
        menu = chip.findChildren(QMenu)[-1]
        bench.session.edit(label, then)
        settle()
        next(a for a in menu.actions() if a.text() == "if Role line is …").trigger()
        menu.close()
        assert said[-1:] == [words] and bench.session.template.card.field("role").shown_if is None
        bench.window().undo()
        settle()


def test_swatches_are_made_named_and_taken_away(bench, qtbot):
    pick(bench, "bar-colour")
    panel = inside(bench, QWidget, "field may be").parent().parent()
    while not hasattr(panel, "set_may_be"):
        panel = panel.parent()
    panel.set_may_be("swatches")
    settle()
    field = bench.session.template.card.field("bar-colour")
    assert (field.may_be, field.default, field.swatches[0].colour) == ("swatches", "first", "#20435C")
    name = inside(bench, QLineEdit, "swatch first")
    type_into(qtbot, name, "Deep water")
    name.editingFinished.emit()
    settle()
    assert bench.session.template.card.field("bar-colour").swatches[0].name == "Deep water"
    assert isinstance(bench.card.inputs["bar-colour"], QComboBox)
    refused = []
    bench.session.refused.connect(refused.append)
    assert not bench.session.write({"plate/fill.colour": "#123456"})
    assert "takes one of the colours of “Bar colour”: Deep water" in refused[-1]


def test_taking_off_is_asked_and_says_what_stays(bench, qtbot, monkeypatch):
    pick(bench, "corners")
    asked = []
    monkeypatch.setattr(QMessageBox, "question", lambda *a, **k: asked.append(a[2]) or QMessageBox.StandardButton.Ok)
    qtbot.mouseClick(inside(bench, QPushButton, "take off the card"), LEFT)
    settle()
    assert "Corners of Plate stays at 30." in asked[0]
    assert bench.session.template.card.field("corners") is None
    assert bench.chosen is None


def test_the_house_is_shown_without_a_field(bench, qtbot, monkeypatch):
    bench.session.select("plate")
    pick(bench, None)
    qtbot.mouseClick(inside(bench, QPushButton, "+ colour"), LEFT)
    settle()
    assert bench.session.template.palette[0].colour == "#20435C"
    name = inside(bench, QLineEdit, "name of colour-1")
    type_into(qtbot, name, "Deep water")
    name.editingFinished.emit()
    settle()
    assert bench.session.template.palette[0].name == "Deep water"
    qtbot.mouseClick(inside(bench, QPushButton, "+ gradient"), LEFT)
    settle()
    assert inside(bench, GradientStrip, "palette/gradient-1")
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("Heading", True))
    bench.session.select("name")
    settle()
    qtbot.mouseClick(inside(bench, QPushButton, "+ of the selected text"), LEFT)
    assert bench.session.template.part("name").text_style == "heading"


def test_the_dot_wires_from_the_house_and_from_a_measure(window, qtbot):
    session = window.session
    session.select("rule")
    settle()
    dot = window.build.recipe.findChild(Dot, "dot rule/fill.colour")
    dot.menu().share("Sea")
    settle()
    assert session.template.wire_to("rule/fill.colour").source == "palette/sea"
    dot = window.build.recipe.findChild(Dot, "dot rule/fill.colour")
    assert (dot.on_card, dot.wired) == (False, True)
    assert dot.toolTip() == "Wired to Sea"
    session.write({"rule/fill.colour": "#112233"})
    assert session.template.palette[0].colour == "#112233"
    menu = QMenu()
    chosen = []
    fill_sources(menu, session.template, "rule/opacity", chosen.append)
    measures = entries(menu)["A measure"]
    next(a for a in entries(measures)["Name"].actions() if a.text() == "Number of lines").trigger()
    assert chosen == ["name/rest.lines"]
    dot = window.build.recipe.findChild(Dot, "dot rule/opacity")
    menu = dot.menu()
    menu.wire_from("name/rest.lines")
    assert session.bound("rule").opacity == 1
    menu.open_wire()
    choose(qtbot, window.findChild(WireDialog).findChild(QWidget, "map of rule/opacity"), "by a formula")
    settle()
    assert session.template.wire_to("rule/opacity").map == Formula("own")
    session.edit("off", lambda t: carding.unwired(t, "rule/opacity"))
    settle()


def test_one_field_for_several_selected_parts(window, qtbot):
    session = window.session
    session.select_all(["name", "role"])
    settle()
    button = window.build.recipe.findChild(QPushButton, "one field for opacity")
    qtbot.mouseClick(button, LEFT)
    field = session.template.card.fields[-1]
    assert {w.target for w in session.template.wires_from(field.id)} == {"name/opacity", "role/opacity"}


def test_the_measure_says_what_a_stranger_would_and_leads_there(bench, qtbot):
    qtbot.waitUntil(lambda: bench.measure.trying.text().endswith("tried out."), timeout=60_000)
    assert bench.measure.words.text() == "5 fields · a stranger can read it at a glance"
    assert bench.measure.found == []
    bench.session.edit("Loose", lambda t: carding.put_on_card(t, "name/tracking", "Corner")[0])
    settle()
    qtbot.waitUntil(lambda: bench.measure.trying.text().endswith("tried out."), timeout=8000)
    words = [r.words for r in bench.measure.found]
    assert "A stranger can hardly tell “Corners” and “Corner” apart." in words
    assert "“Corner” has no hint." in words
    assert any(w.startswith("With Corner 5000 and As designed: Name reaches beyond the frame") for w in words)
    bench.go_to(next(r for r in bench.measure.found if "hint" in r.words))
    settle()
    assert bench.chosen == "corner"


def test_pointing_at_a_part_tells_what_drives_it(bench, qtbot):
    rest = bench.session.scene().rest.parts["plate"].box
    at = bench.stage.to_view(rest.x + 4, rest.y + rest.h / 2)
    none = Qt.MouseButton.NoButton
    event = QMouseEvent(QMouseEvent.Type.MouseMove, at, bench.stage.mapToGlobal(at), none, none, Qt.KeyboardModifier.NoModifier)
    QApplication.sendEvent(bench.stage, event)
    assert "← Bar colour" in bench.stage.toolTip()
    assert driven_by(bench.session, "role-line") == {"role", "role-plate"}


@pytest.mark.parametrize(
    ("field", "value"),
    [
        (ChoiceField(id="f", label="F", default="a", options=(Option("a", "A"), Option("b", "B"))), "b"),
        (
            ColourField(
                id="f", label="F", may_be="swatches", default="a", swatches=(Swatch("a", "A", "#111111"), Swatch("b", "B", "#222222"))
            ),
            "b",
        ),
    ],
)
def test_choices_are_answered_from_a_list(qtbot, dressed, field, value):
    editor = FieldEditor(field, field.start)
    qtbot.addWidget(editor)
    told = []
    editor.answered.connect(told.append)
    editor.main.setCurrentIndex(1)
    editor.main.activated.emit(1)
    assert told == [value]


def test_lengths_say_their_seconds(qtbot, dressed):
    editor = FieldEditor(LengthField(id="f", label="F", default=50), 50)
    qtbot.addWidget(editor)
    told = []
    editor.answered.connect(told.append)
    editor.main._take(75)
    assert told == [75]
    assert "frames, 3.00 s" in [label.text() for label in editor.findChildren(QLabel)]


def test_pictures_and_gradients_are_answered(qtbot, dressed, tmp_path):
    file = tmp_path / "boat.png"
    file.write_bytes(b"png")
    photo = FieldEditor(PictureField(id="p", label="P"), {"name": "", "data": ""})
    qtbot.addWidget(photo)
    told = []
    photo.answered.connect(told.append)
    photo.take_picture(file)
    assert told[0]["name"] == "boat.png"
    refused = []
    photo.refused.connect(refused.append)
    photo.take_picture(tmp_path / "gone.png")
    assert "cannot be read" in refused[0]
    field = GradientField(id="g", label="G", default=(Stop(0, "#000000"), Stop(100, "#FFFFFF")), places_fixed=True)
    fade = FieldEditor(field, field.start)
    qtbot.addWidget(fade)
    fade.answered.connect(told.append)
    fade.main.recolour("#123456")
    assert told[-1][0] == {"at": 0, "colour": "#123456"}
    fade.main.resize(200, 36)
    qtbot.mousePress(fade.main, LEFT, pos=QPointF(100, 10).toPoint())
    assert len(fade.main.stops) == 2


def test_words_are_formatted_where_that_is_allowed(qtbot, dressed):
    field = TextField(id="t", label="T", default="Bo Li", may=("size", "alignment", "font"))
    editor = FieldEditor(field, field.start)
    qtbot.addWidget(editor)
    told = []
    editor.answered.connect(told.append)
    editor._format("align", "end")
    editor._say("Íris")
    editor._format("align", None)
    assert told == [{"text": "Bo Li", "align": "end"}, {"text": "Íris", "align": "end"}, "Íris"]


def test_undo_on_this_bench_undoes_the_template(window, bench):
    bench.session.answer("corners", 10.0)
    window.undo()
    assert bench.session.template.card.field("corners").default == 30


def test_what_happens_on_air_when_answers_change_is_chosen_with_the_house_and_goes_on_the_card(bench, window, qtbot):
    bench.choose(None)
    settle()
    choice = inside(bench, QComboBox, "template/updates")
    assert choice.currentText() == "in place" and choice.accessibleName() == "When answers change"
    choice.setFocus()
    qtbot.keyClick(choice, Qt.Key.Key_Down)
    settle()
    assert window.session.template.updates == "out and in"
    window.undo()
    qtbot.waitUntil(lambda: window.session.template.updates == "in place")
    settle()
    qtbot.wait(200)
    assert inside(bench, QComboBox, "template/updates").currentText() == "in place", "undo shows"
    assert inside(bench, Dot, "dot template/updates") is not None
