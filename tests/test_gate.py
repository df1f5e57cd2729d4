"""One gate for every change: by hand, by key, by sentence and by wire, what is changed goes to what drives it, or is refused in words."""

import pytest
from hands import box, chip, choose, drag, middle_of, type_into
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication, QLabel, QLineEdit, QMenu, QPushButton

from avlet.desktop.recipe.sentences import Chip
from avlet.desktop.time.time_facts import TimeFacts
from avlet.desktop.widgets.colour_button import ColourButton
from avlet.desktop.widgets.colour_panel import ColourPanel
from avlet.desktop.widgets.numbers import NumberBox
from avlet.document.cards import carding
from avlet.document.cards.card import Sample
from avlet.document.cards.wires import Formula, Range, Table, Wire
from avlet.document.editing import edits, keying
from avlet.document.faults.checking import faults
from avlet.document.fields import ChoiceField, Option
from avlet.document.house import HouseColour
from avlet.document.looks.paints import Linear, Stop
from avlet.document.parts import Fit, Matte, Place, Room, ShapePart
from avlet.document.template import Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.keys import Key, Keyed
from avlet.errors import DocumentError
from avlet.layout.bind import bind
from avlet.layout.holding import hold
from avlet.storage.package import open_template

LEFT = Qt.MouseButton.LeftButton


def settle(times: int = 6) -> None:
    for _ in range(times):
        QApplication.processEvents()


@pytest.fixture
def session(window):
    window.session.show_answers("")
    settle()
    return window.session


# What does not hold together


@pytest.mark.parametrize(("label", "change"), [
    ("above its most", lambda t: edits.put_part(t, edits.replace(t.part("plate"), fit=Fit(("name",), least_width=500, most_width=300)))),
    ("by a baseline sideways", lambda t: edits.put_part(t, edits.replace(t.part("name"), across=Place("frame", "baseline")))),
    ("expected", lambda t: edits.put_part(t, edits.replace(t.part("plate"), corner=-3.0))),
    ("expected", lambda t: edits.replace(t, length=0)),
])  # fmt: skip
def test_an_edit_that_could_not_be_opened_again_is_refused_in_words(session, qtbot, label, change, tmp_path):
    before = session.template
    with qtbot.waitSignal(session.refused) as said:
        assert not session.edit("Break it", change)
    assert label in said.args[0] and "parts[" not in said.args[0]
    assert session.template is before
    assert list(faults(session.template)) == []


def test_a_wired_number_is_held_to_its_limits_in_every_sample(window, session, qtbot, tmp_path):
    """A width straight on a blur: 500 px is the most there is, and all samples are painted and saved."""
    assert session.edit("Wire", lambda t: carding.wire_up(t, "name/rest.width", "plate/blur"))
    window.build.samples.repaint()
    for sample in session.template.samples:
        scene = session.scene(sample.id)
        assert scene.rest.parts["plate"].part.blur <= 500
        scene.picture(60, 192, 108)
    assert any("is held at 500 px" in note for note in session.scene("longest").notes())
    assert window.files._save_to(tmp_path / "wired.avlet")
    assert open_template(tmp_path / "wired.avlet").template == session.template


def test_every_sample_is_held_to_its_field(session):
    template = session.template
    broken = edits.replace(template, samples=(edits.replace(template.samples[0], answers={"name": 7}), *template.samples[1:]))
    with pytest.raises(DocumentError, match=r"samples\[0\].answers: “Name” takes words"):
        hold(broken)
    assert not session.edit("Break a sample", lambda _: broken)


def test_a_circle_that_only_one_sample_runs_in_is_refused():
    """An answer decides along which axes a shape follows another, which follows it along the other axis."""
    one = ShapePart(id="one", name="One", fit=Fit(("two",), axes="width"))
    two = ShapePart(id="two", name="Two", fit=Fit(("one",), axes="height"))
    template = Template(parts=(one, two))
    field = ChoiceField(id="way", label="Way", default="height", options=(Option("height", "Height"), Option("both ways", "Both")))
    template = edits.replace(carding.add_field(template, field), wires=(Wire("way", "two/fit.axes"),))
    assert hold(template) is template
    with pytest.raises(DocumentError, match="circle"):
        hold(edits.replace(template, samples=(Sample("a", "A", {"way": "both ways"}),)))


# Dragging what something drives


def pull(qtbot, window, part_id: str, by: QPoint) -> None:
    stage = window.build.stage
    drag(qtbot, stage, middle_of(stage, part_id), by, Qt.KeyboardModifier.AltModifier)
    settle()


@pytest.fixture
def free(window, session):
    """A shape by itself in the middle of the frame."""
    part = ShapePart(id="free", name="Free", width=300, height=200, across=Place(gap=800), down=Place(gap=300))
    session.edit("Add", lambda t: edits.add_part(t, part))
    session.go_to(60)
    session.select("free")
    settle()
    return window.build.stage


def test_a_part_whose_place_is_on_the_card_is_dragged_through_its_answer(window, session, qtbot, free):
    session.edit("Card", lambda t: carding.put_on_card(t, "free/across.gap")[0])
    field = session.template.wire_to("free/across.gap").source
    pull(qtbot, window, "free", QPoint(40, 0))
    answer = session.template.card.field(field).start
    assert answer == pytest.approx(800 + 40 / free.scale, abs=1.5)
    assert session.template.part("free").across.gap == 800  # its own hidden gap is not touched
    assert session.scene().rest.parts["free"].box.x == answer
    window.undo()
    assert session.template.card.field(field).start == 800


def test_a_sample_on_the_stage_takes_what_is_dragged(window, session, qtbot, free):
    session.edit("Card", lambda t: carding.put_on_card(t, "free/across.gap")[0])
    field = session.template.wire_to("free/across.gap").source
    session.show_answers("longest")
    settle()
    session.select("free")
    pull(qtbot, window, "free", QPoint(-30, 0))
    assert session.template.card.field(field).start == 800
    sample = next(s for s in session.template.samples if s.id == "longest")
    assert sample.answers[field] == pytest.approx(800 - 30 / free.scale, abs=1.5)


def test_a_range_is_followed_backwards_and_a_formula_refuses(window, session, qtbot, free):
    session.edit("Card", lambda t: carding.put_on_card(t, "free/across.gap")[0])
    field = session.template.wire_to("free/across.gap").source
    session.edit("Range", lambda t: carding.set_map(t, "free/across.gap", Range(0, 2000, 0, 1000)))
    settle()
    pull(qtbot, window, "free", QPoint(20, 0))
    assert session.template.card.field(field).start == pytest.approx(2 * (400 + 20 / free.scale), abs=3)
    session.edit("Formula", lambda t: carding.set_map(t, "free/across.gap", Formula("value + 10")))
    before = session.template
    with qtbot.waitSignal(session.refused) as said:
        pull(qtbot, window, "free", QPoint(20, 0))
    assert "is worked out from" in said.args[0]
    assert session.template == before


def test_a_keyed_part_is_dragged_by_a_key_at_the_frame(window, session, qtbot, free):
    session.edit("Key", lambda t: keying.set_key(t, "free", "across.gap", 10, 400.0))
    session.edit("Key", lambda t: keying.set_key(t, "free", "across.gap", 20, 800.0))
    session.go_to(15)
    settle()
    shown = session.shown("free/across.gap")
    assert 400 < shown < 800
    stage = window.build.stage
    at = stage.to_view(shown + 150, 400).toPoint()
    drag(qtbot, stage, at, QPoint(25, 0), Qt.KeyboardModifier.AltModifier)
    settle()
    keys = keying.keyed_of(session.template.part("free"), "across.gap").keys
    assert [(k.at, k.value) for k in keys if k.at == 15] == [(15, pytest.approx(shown + 25 / stage.scale, abs=1.5))]
    assert session.template.part("free").across.gap == 800


def test_keys_that_are_added_or_multiply_leave_the_own_value_to_the_hand(session, free):
    session.edit("Keys", lambda t: keying.put_keyed(t, "free", Keyed("across.gap", (Key(0, 50.0), Key(0, 50.0, "end")), "added")))
    assert session.write({"free/across.gap": 900})
    assert session.template.part("free").across.gap == 850 and session.shown("free/across.gap") == 900
    session.edit("Keys", lambda t: keying.put_keyed(t, "free", Keyed("opacity", (Key(0, 50.0),), "times")))
    assert session.write({"free/opacity": 40})
    assert session.template.part("free").opacity == 80
    session.edit("Keys", lambda t: keying.put_keyed(t, "free", Keyed("turn", (Key(0, 0.0),), "times")))
    assert not session.write({"free/turn": 40})


def test_nudging_aligning_and_resizing_go_the_same_way(window, session, qtbot, free):
    session.edit("Card", lambda t: carding.put_on_card(t, "free/across.gap")[0])
    session.edit("Card", lambda t: carding.put_on_card(t, "free/width")[0])
    gap, width = (session.template.wire_to(f"free/{name}").source for name in ("across.gap", "width"))
    settle()
    qtbot.keyClick(window.build.stage, Qt.Key.Key_Right, Qt.KeyboardModifier.AltModifier)
    assert session.template.card.field(gap).start == 801
    stage = window.build.stage
    stage.repaint()
    grip = next(area for area, side in stage.drafting.grips if side == (-1, 0)).center().toPoint()
    drag(qtbot, stage, grip, QPoint(-30, 0))
    settle()
    left = session.template.card.field(gap).start
    assert left == pytest.approx(801 - 30 / stage.scale, abs=1.5)
    assert session.template.card.field(width).start == pytest.approx(300 + 30 / stage.scale, abs=1.5)
    assert left + session.template.card.field(width).start == pytest.approx(1101, abs=0.1)  # the right edge stays
    session.select_all(["name", "free"])
    settle()
    qtbot.mouseClick(window.build.recipe.findChild(QPushButton, "left edges"), LEFT)
    settle()
    name, moved = (session.scene().rest.parts[i].box for i in ("name", "free"))
    assert moved.x == pytest.approx(name.x, abs=0.01) and session.template.card.field(gap).start == pytest.approx(name.x, abs=1)


def test_pulling_an_edge_far_and_back_leaves_what_was_there(window, session, qtbot, free):
    """The gap is reckoned from where the edge was taken hold of, not from move to move."""
    stage = window.build.stage
    stage.repaint()
    grip = next(area for area, side in stage.drafting.grips if side == (-1, 0)).center().toPoint()
    qtbot.mousePress(stage, LEFT, pos=grip)
    from hands import move_held
    from PyQt6.QtCore import QPointF

    for by in (-20, -60, -100, -40, 0):
        move_held(stage, QPointF(grip + QPoint(by, 0)))
    qtbot.mouseRelease(stage, LEFT, pos=grip)
    settle()
    assert tuple(session.scene().rest.parts["free"].box) == pytest.approx((800, 300, 300, 200), abs=0.6)


def test_a_pair_of_paddings_on_the_card_goes_through_both_answers(window, session, qtbot):
    for side in ("left", "right"):
        session.edit("Card", lambda t, s=side: carding.put_on_card(t, f"plate/fit.{s}")[0])
    session.select("plate")
    settle()
    field = box(window, "plate/fit.left")
    type_into(qtbot, field, "70")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    settle()
    assert [session.template.card.field(session.template.wire_to(f"plate/fit.{s}").source).start for s in ("left", "right")] == [70, 70]
    plate, name = (session.scene().rest.parts[i].box for i in ("plate", "name"))
    assert name.x - plate.x == 70


def test_a_gradient_on_the_card_is_aimed_on_the_stage_through_its_answer(window, session, qtbot, free):
    session.edit("Fill", lambda t: edits.put_struct(t, "free", "fill", Linear((Stop(0, "#102030"), Stop(100, "#405060")), 0.0)))
    session.edit("Card", lambda t: carding.put_on_card(t, "free/fill.stops")[0])
    session.edit("Card", lambda t: carding.put_on_card(t, "free/fill.angle")[0])
    settle()
    stage = window.build.stage
    stage.repaint()
    stop = next(h for h in stage.handles if h.name == "gradient stop 0")
    start = stage.to_view(*stop.at).toPoint()
    drag(qtbot, stage, start, QPoint(round(75 * stage.scale), 0))
    settle()
    field = session.template.wire_to("free/fill.stops").source
    assert session.template.card.field(field).start[0]["at"] == pytest.approx(25, abs=2)
    stage.repaint()
    end = next(h for h in stage.handles if h.name == "gradient end")
    session.write(end.change((950, 900), False), None, "Aim", end.frame)
    angle = session.template.wire_to("free/fill.angle").source
    assert session.template.card.field(angle).start == pytest.approx(90, abs=0.1)


def test_a_house_colour_takes_what_is_given_to_what_follows_it(session):
    session.edit("House", lambda t: edits.replace(t, palette=(HouseColour("sea", "Sea", "#102030"),)))
    session.edit(
        "Follow",
        lambda t: edits.replace(
            t, wires=(*(w for w in t.wires if w.target != "plate/fill.colour"), Wire("palette/sea", "plate/fill.colour"))
        ),
    )
    assert session.write({"plate/fill.colour": "#405060"})
    assert session.template.palette[0].colour == "#405060"
    assert session.shown("plate/fill.colour") == "#405060"


# Recording an option


@pytest.fixture
def recorded(window, session, free):
    """A choice of sides whose *right* is recorded."""
    field = ChoiceField(id="side", label="Side", default="right", options=(Option("left", "Left"), Option("right", "Right")))
    session.edit("Add a field", lambda t: carding.add_field(t, field))
    session.record("side")
    session.select("free")
    settle()
    return session


def per_option(session, target: str):
    part, _, path = target.partition("/")
    found = {}
    for answer in ("left", "right"):
        bound = {p.id: p for p in bind(session.template, {"side": answer}).parts}[part]
        for key in path.split("."):
            bound = getattr(bound, key)
        found[answer] = bound
    return found


def test_what_is_dragged_on_build_counts_for_the_option_alone(window, recorded, qtbot):
    window.show_bench(2)
    window.show_bench(0)  # going from bench to bench switches nothing off
    settle()
    assert recorded.recording == "side"
    sign = window.recording
    assert sign.isVisible() and sign.words.text() == "● Recording Side:" and sign.options.currentText() == "Right"
    pull(qtbot, window, "free", QPoint(60, 0))
    gaps = per_option(recorded, "free/across.gap")
    assert gaps["left"] == 800 and gaps["right"] == pytest.approx(800 + 60 / window.build.stage.scale, abs=1.5)
    sign.options.setFocus()
    qtbot.keyClick(sign.options, Qt.Key.Key_Up)
    settle()
    assert sign.options.currentText() == "Left" and recorded.scene().bound.answers["side"] == "left"
    assert recorded.template.card.field("side").default == "right", "what is recorded is only tried"
    qtbot.keyClick(window.build.stage, Qt.Key.Key_Left, Qt.KeyboardModifier.AltModifier)
    assert per_option(recorded, "free/across.gap") == {"left": 799, "right": gaps["right"]}
    qtbot.mouseClick(window.recording.stop, LEFT)
    settle()
    assert recorded.recording is None and not window.recording.isVisible()


def test_equal_rows_make_no_wire(window, recorded, qtbot):
    """What ends the same for all options is a plain value again; what was recorded for one is undone by the same value."""
    assert recorded.write({"free/across.gap": 900.0}) and recorded.template.wire_to("free/across.gap") is not None
    window.recording.options.setFocus()
    qtbot.keyClick(window.recording.options, Qt.Key.Key_Up)
    settle()
    assert recorded.write({"free/across.gap": 900.0})
    assert recorded.template.wire_to("free/across.gap") is None and recorded.template.part("free").across.gap == 900.0
    assert recorded.write({"free/across.gap": 900.0}) and recorded.template.wire_to("free/across.gap") is None
    assert recorded.write({"free/fill.colour": "#102030"}) and recorded.template.wire_to("free/fill.colour") is not None
    before = recorded.template.part("free").fill.colour
    assert recorded.write({"free/fill.colour": before}) and recorded.template.wire_to("free/fill.colour") is None
    window.undo()
    assert recorded.template.wire_to("free/fill.colour") is not None


def test_what_is_dragged_on_card_counts_for_the_option_alone(window, recorded, qtbot):
    window.show_bench(2)
    settle()
    stage = window.card.stage
    drag(qtbot, stage, middle_of(stage, "free"), QPoint(0, 30), Qt.KeyboardModifier.AltModifier)
    settle()
    gaps = per_option(recorded, "free/down.gap")
    assert gaps["left"] == 300 and gaps["right"] > 300
    assert window.recording.isVisible()
    window.show_desk()
    assert not window.recording.isVisible()


def test_numbers_words_and_looks_are_recorded_from_the_recipe(window, recorded, qtbot):
    field = box(window, "free/width")
    type_into(qtbot, field, "640")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    settle()
    assert per_option(recorded, "free/width") == {"left": 300, "right": 640}
    recorded.select("name")
    settle()
    recorded.write({"name/align": "middle", "name/size": 60})
    assert per_option(recorded, "name/align") == {"left": "start", "right": "middle"}
    assert per_option(recorded, "name/size")["right"] == 60


def test_what_no_option_can_choose_is_said(window, recorded, qtbot):
    with qtbot.waitSignal(recorded.refused) as said:
        recorded.edit("Add a shadow", lambda t: edits.put_struct(t, "free", "mattes", (Matte("plate"),)))
    assert "counts for every option" in said.args[0]
    recorded.edit("Key", lambda t: keying.set_key(t, "free", "turn", 10, 20.0))
    with qtbot.waitSignal(recorded.refused) as said:
        assert not recorded.write({"free/turn": 40})
    assert "count for every option" in said.args[0]
    with qtbot.waitSignal(recorded.refused) as said:
        assert not recorded.write({"name/text": "Somebody"})
    assert "follows Name already" in said.args[0]


def test_a_choice_that_is_wired_straight_becomes_a_table_when_it_is_recorded(session):
    field = ChoiceField(id="side", label="Side", default="end", options=(Option("start", "Left"), Option("end", "Right")))
    session.edit("Add", lambda t: carding.wire_up(carding.add_field(t, field), "side", "name/align"))
    session.record("side")
    assert session.write({"name/align": "middle"})
    assert session.template.wire_to("name/align").map == Table({"start": "start", "end": "middle"})


# Sentences read the document when they act


def typed(qtbot, window, target: str, words: str) -> None:
    field = box(window, target)
    type_into(qtbot, field, words)
    qtbot.keyClick(field, Qt.Key.Key_Return)


def test_a_word_chosen_after_a_number_keeps_the_number(window, session, qtbot):
    session.edit("Room", lambda t: edits.put_struct(t, "role", "room", Room(width=1152.0)))
    session.select("role")
    settle()
    typed(qtbot, window, "role/room.width", "900")
    remedies = chip(window, "remedies")
    choose(qtbot, remedies, "wraps")
    room = session.template.part("role").room
    assert (room.width, room.remedies) == (900, ("wrap",))


@pytest.mark.parametrize(("name", "words", "check"), [
    ("way_in ease", "springy", lambda m: m.ease == READY_EASES["springy"]),
    ("way_in order", "last to first", lambda m: m.order == "last to first"),
    ("way_in by", "word by word", lambda m: m.by == "word"),
    ("way_in pace", "by a step", lambda m: m.pace == "by step"),
    ("way_in kind", "fades", lambda m: m.opacity == 0 and m.named == "fades"),
    ("way_in tie", "when Plate starts", lambda m: m.tie is not None and m.tie.on == "plate"),
])  # fmt: skip
def test_a_move_keeps_what_was_typed_or_dragged_before(window, session, qtbot, name, words, check):
    session.edit(
        "Move",
        lambda t: edits.set_relations(
            t, "name", way_in=(edits.replace(t.part("name").way_in[0], start=9, tie=None, by="character", order="first to last"),)
        ),
    )
    session.select("name")
    settle()
    typed(qtbot, window, "name/way_in.0.frames", "37")
    settle(1)
    button = chip(window, name)
    session.write({"name/way_in.0.start": 0 if "tie" in name else 9, "name/way_in.0.overlap": 33})
    settle()
    choose(qtbot, chip(window, name) or button, words)
    move = session.template.part("name").way_in[0]
    assert check(move)
    assert (move.frames, move.overlap) == (37, 33)
    if "tie" not in name:
        assert move.start == 9


def test_a_stale_sentence_acts_on_the_document_as_it_is(window, session, qtbot):
    """The menu was opened before the number was changed: choosing from it does not bring the old number back."""
    session.select("name")
    settle()
    button = chip(window, "way_in ease")
    qtbot.mouseClick(button, LEFT)
    menu = button.findChildren(QMenu)[-1]
    session.write({"name/way_in.0.frames": 37})
    next(a for a in menu.actions() if a.text() == "springy").trigger()
    menu.close()
    assert session.template.part("name").way_in[0].frames == 37


def test_paddings_and_mattes_keep_numbers_through_their_menus(window, session, qtbot):
    session.select("plate")
    settle()
    typed(qtbot, window, "plate/fit.left", "77")
    choose(qtbot, chip(window, "fit options"), "a least and a most width")
    fit = session.template.part("plate").fit
    assert (fit.left, fit.right) == (77, 77) and fit.least_width == 100
    session.select("name")
    settle()
    typed(qtbot, window, "name/mattes.0.soft", "12")
    choose(qtbot, chip(window, "matte by"), "coverage")
    matte = session.template.part("name").mattes[0]
    assert (matte.soft, matte.by) == (12, "coverage")


def test_a_bar_that_was_dragged_stays_when_an_ease_is_chosen(window, session, qtbot):
    window.show_bench(1)
    session.select("name")
    settle()
    ruler = window.time.ruler
    bar = next(b for row in ruler.rows for b in row.bars if b.at.part == "name" and not b.mirrored)
    ruler.choose((bar.at,))
    settle()
    start, frames = (getattr(session.template.part("name").way_in[0], n) for n in ("start", "frames"))
    session.write({f"{bar.at.path}.start": start + 4})
    button = window.time.panel.findChild(Chip, "way_in ease")
    choose(qtbot, button, "springy")
    move = session.template.part("name").way_in[0]
    assert (move.start, move.frames) == (start + 4, frames) and move.ease == READY_EASES["springy"]


# Panels keep themselves


def test_the_time_panel_follows_length_and_undo_with_nothing_selected(window, session, qtbot):
    window.show_bench(1)
    session.select(None)
    settle()
    panel = window.time.panel
    length = panel.findChild(NumberBox, "time length")
    assert panel.findChild(TimeFacts) is not None and length.value == session.template.length
    session.write({"template/length": 200})
    settle()
    assert panel.findChild(NumberBox, "time length").value == 200
    assert "8.00 s" in panel.findChild(QLabel, "seconds of length").text()
    window.undo()
    settle()
    assert panel.findChild(NumberBox, "time length").value == session.template.length == 125


def test_a_label_that_was_typed_does_not_swallow_the_click_on_a_wire(window, session, qtbot):
    window.show_bench(2)
    window.card.choose("name")
    settle()
    panel = window.card.panel
    label = panel.findChild(QLineEdit, "field label")
    type_into(qtbot, label, "Their name")
    add = panel.findChild(QPushButton, "add wire")
    opened = []
    menu = add.menu()
    menu.aboutToShow.connect(lambda: opened.append(True))
    menu.exec = lambda *a: None
    add.setFocus(Qt.FocusReason.MouseFocusReason)  # what a press does first: the label is taken
    assert session.template.card.field("name").label == "Their name"
    menu.popup(add.mapToGlobal(QPoint(0, add.height())))
    settle(10)
    assert opened and panel.findChild(QPushButton, "add wire") is add  # the menu's button is still there
    target = next(a for a in menu.actions() if a.menu() is not None)
    assert target is not None
    menu.close()
    qtbot.waitUntil(lambda: panel.findChild(QPushButton, "add wire") is not add, timeout=2000)
    assert panel.findChild(QLineEdit, "field label").text() == "Their name"


def test_a_colour_popup_in_a_table_row_lives_through_its_changes(window, session, qtbot):
    field = ChoiceField(id="side", label="Side", default="left", options=(Option("left", "Left"), Option("right", "Right")))
    session.edit("Add", lambda t: carding.wire_up(carding.add_field(t, field), "side", "rule/fill.colour"))
    window.show_bench(2)
    window.card.choose("side")
    settle()
    button = window.card.panel.findChild(ColourButton, "row left of rule/fill.colour")
    qtbot.mouseClick(button, LEFT)
    popup = button.findChild(ColourPanel)
    popup.choose("#112233")
    settle()
    popup.choose("#445566")
    settle()
    assert popup.isVisible() and window.card.panel.findChild(ColourButton, "row left of rule/fill.colour") is button
    assert session.template.wire_to("rule/fill.colour").map.rows["left"] == "#445566"
    popup.close()


def test_the_keyboard_stays_where_it_was_after_a_choice(window, session, qtbot):
    session.edit("Room", lambda t: edits.put_struct(t, "role", "room", Room(width=1152.0)))
    session.select("role")
    settle()
    button = chip(window, "remedies")
    button.setFocus()
    qtbot.keyClick(button, Qt.Key.Key_Space)
    menu = button.findChildren(QMenu)[-1]
    next(a for a in menu.actions() if a.text() == "shrinks").trigger()
    menu.close()
    settle()
    after = window.focusWidget()
    assert isinstance(after, Chip) and after.objectName() == "remedies" and after is not button


def test_painting_never_fails_over_a_sample(window, session, monkeypatch):
    """Whatever a sample's scene says, the strip shows it in words."""
    from avlet.errors import FontError

    real = session.scene

    def failing(source=None):
        if source == "longest":
            raise FontError("The font went away.")
        return real(source)

    monkeypatch.setattr(session, "scene", failing)
    said = []
    monkeypatch.setattr("avlet.desktop.stage.samples_strip.QPainter.drawText", lambda self, *words: said.append(words[-1]), raising=False)
    window.build.samples.repaint()
    assert "Longest: The font went away." in said
