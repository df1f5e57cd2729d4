"""Counters on the benches, by mouse and keys: added, made of words and back, timed on their curve, run with, answered, pasted."""

import itertools
import json

import pytest
from hands import chip, choose, drag, in_a_dialog, type_into
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication, QLineEdit, QMenu, QPushButton
from typer.testing import CliRunner

from avlet.command_line.main import app, load_verbs
from avlet.desktop.build.new_parts import add_shape, count_with
from avlet.desktop.card.wire_menus import fill_targets
from avlet.desktop.dialogs.languages_dialog import LanguagesDialog
from avlet.desktop.recipe.dot_menu import DotMenu
from avlet.desktop.recipe.sentences import Chip
from avlet.desktop.stage.count_view import CountView
from avlet.desktop.widgets.colour_button import ColourButton
from avlet.desktop.widgets.decimal_box import DecimalBox
from avlet.desktop.widgets.numbers import NumberBox
from avlet.document.cards import carding
from avlet.document.editing import counting, edits, keying
from avlet.document.faults.checking import check
from avlet.document.fields import NumberField
from avlet.document.parts import CounterPart, TextPart
from avlet.document.starts import blank
from avlet.document.time.eases import name_of_ease
from avlet.document.time.keys import RunsWith
from avlet.document.time.moves import Tie
from avlet.errors import AnswerError, DocumentError
from avlet.layout.bind import bind
from avlet.media.titles import film_name, words_of_title
from avlet.motion.ruler_rows import rows_of
from avlet.numbers.exact import plain
from avlet.numbers.languages import USUAL
from avlet.paint.scene import Scene
from avlet.review.samples import said_of
from avlet.storage.package import open_template
from avlet.storage.thumbnail import landed_frame

KEY, LEFT, NONE = Qt.Key, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier

load_verbs()


def settle():
    for _ in range(4):
        QApplication.processEvents()


@pytest.fixture
def fresh(window, qtbot):
    """An empty template on the Build bench, with a counter added by its key."""
    window.session.open(blank(), window.session.book, None, saved=True)
    window.show_bench(0)
    qtbot.waitUntil(window.isActiveWindow)
    qtbot.keyClick(window.windowHandle(), KEY.Key_C)
    settle()
    return window


def part(window) -> CounterPart:
    return window.session.template.part(window.session.selected)


def exact_box(window, name) -> DecimalBox:
    settle()
    return window.build.recipe.findChild(DecimalBox, name)


def enter(qtbot, box, words):
    type_into(qtbot, box, words)
    qtbot.keyClick(box, KEY.Key_Return)
    settle()


# Adding, and making one of words


def test_c_adds_a_counter_that_is_on_the_card_with_samples(fresh):
    made, template = part(fresh), fresh.session.template
    assert isinstance(made, CounterPart) and made.end == "1284"
    field = template.card.field(template.wire_to("count/end").source)
    assert isinstance(field, NumberField) and field.figure_only
    answers = [sample.answers[field.id] for sample in template.samples]
    assert answers == sorted(answers[:3]) + answers[3:] and answers[3] < 0 < answers[0]
    scenes = [fresh.session.scene(sample.id) for sample in template.samples]
    assert [s.choreography.movers["count"].figures.final.words for s in scenes] == ["7", "1,284", "1,000,000", "-75"]


def test_a_text_that_is_a_number_counts_and_becomes_words_again(window, qtbot):
    session = window.session
    session.edit("Words", lambda t: edits.set_property(carding.unwired(t, "name/text"), "name/text", "ca 1.284,50 ha"))
    session.select("name")
    count_with(session)
    made = session.template.part("name")
    assert (made.end, made.step, made.before, made.after) == ("1284.5", "0.1", "ca ", " ha")
    assert (made.family, made.size, made.mattes) == (session.template.part("name").family, 80, made.mattes) and made.mattes
    count_with(session)
    back = session.template.part("name")
    assert isinstance(back, TextPart) and back.text == "ca 1,284.5 ha"


@pytest.mark.parametrize("words", ["Odalys Brandt", "1 and 2", "12\n13", "", "1.2.3"])
def test_what_is_not_one_number_is_not_made_to_count(window, words):
    said = []
    window.session.refused.connect(said.append)
    window.session.edit("Words", lambda t: edits.set_property(carding.unwired(t, "name/text"), "name/text", words))
    window.session.select("name")
    count_with(window.session)
    assert isinstance(window.session.template.part("name"), TextPart) and "is not one number" in said[-1]


def test_a_text_on_the_card_is_taken_off_it_when_it_counts(window):
    window.session.show_answers("")
    window.session.write({"name/text": "12"})
    assert window.session.template.wire_to("name/text") is not None
    window.session.edit("Count", lambda t: counting.counter_from(t, "name"))
    template = window.session.template
    assert isinstance(template.part("name"), CounterPart) and template.wire_to("name/text") is None


def test_a_counter_that_goes_takes_what_runs_with_it_along(fresh):
    session = fresh.session
    session.edit("Run", lambda t: counting.run_with(t, "count", "opacity", "count"))
    other = edits.replace(
        part(fresh),
        id="other",
        name="Other",
        runs=(RunsWith("turn", "count", 0.0, 90.0),),
        count=edits.replace(part(fresh).count, tie=Tie("count")),
    )
    session.edit("Add", lambda t: edits.add_part(t, other))
    boxes = {i: tuple(r.box) for i, r in session.scene().rest.parts.items()}
    session.edit("Remove", lambda t: edits.remove_part(t, "count", boxes))
    left = session.template.part("other")
    assert left.runs == () and left.count.tie is None


# The recipe


def test_numbers_are_typed_exactly_and_as_people_write_them(fresh, qtbot):
    enter(qtbot, exact_box(fresh, "count/start"), "-1.000.000.000.000,5")
    assert part(fresh).start == "-1000000000000.5"
    enter(qtbot, exact_box(fresh, "count/step"), "0.000000001")
    assert part(fresh).step == "0.000000001"
    enter(qtbot, exact_box(fresh, "count/start"), "1920/2")
    assert part(fresh).start == "960"
    enter(qtbot, exact_box(fresh, "count/start"), "nothing")
    box = exact_box(fresh, "count/start")
    assert part(fresh).start == "960" and box.property("wrong") and "is not a number" in box.toolTip()


def test_what_reads_as_two_numbers_is_asked(fresh, qtbot):
    fresh.session.write({"count/writing.language": "de"})
    settle()
    box = exact_box(fresh, "count/start")
    type_into(qtbot, box, "1,284")
    qtbot.keyClick(box, KEY.Key_Return)
    assert box.menu is not None and [a.text() for a in box.menu.actions()] == ["1284", "1.284"] and part(fresh).start == "0"
    box.menu.actions()[1].trigger()
    assert part(fresh).start == "1.284"
    box.menu.close()


def test_the_wheel_and_the_arrows_go_by_steps(fresh, qtbot):
    fresh.session.write({"count/step": "0.25"})
    box = exact_box(fresh, "count/start")
    qtbot.keyClick(box, KEY.Key_Up)
    qtbot.keyClick(box, KEY.Key_Up)
    qtbot.keyClick(box, KEY.Key_Down)
    assert part(fresh).start == "0.25"


def test_an_exact_number_is_dragged_by_its_steps(fresh, qtbot):
    fresh.session.write({"count/step": "0.5"})
    box = exact_box(fresh, "count/start")
    drag(qtbot, box, QPoint(8, 8), QPoint(20, 0))
    assert part(fresh).start == "5" and not box.hasFocus()
    qtbot.mouseClick(exact_box(fresh, "count/start"), LEFT)
    assert exact_box(fresh, "count/start").hasFocus(), "a click lets it be typed"


@pytest.mark.parametrize(
    ("name", "entry", "holds"),
    [
        ("count pace", "in real time", lambda p: p.count.pace == "in real time"), ("count lands", "after that", lambda p: p.count.lands == "after"),
        ("count ease", "even", lambda p: name_of_ease(p.count.ease) == "even"), ("writing style", "money", lambda p: p.writing.style == "money"),
        ("writing language", "Welsh", lambda p: p.writing.language == "cy"), ("writing grouping", "without groups", lambda p: not p.writing.grouping),
        ("writing sign", "always", lambda p: p.writing.sign == "always"), ("writing digits", "thai", lambda p: p.writing.digits == "thai"),
        ("figures", "as the font sets them", lambda p: p.figures == "as the font sets them"), ("keeps", "middle", lambda p: p.keeps == "middle"),
        ("figures change", "rolling up", lambda p: p.change == "rolling up"), ("count box", "last number", lambda p: p.box == "last number"),
    ],
)  # fmt: skip
def test_every_word_of_its_sentences_can_be_changed(fresh, qtbot, name, entry, holds):
    settle()
    choose(qtbot, chip(fresh, name), entry)
    settle()
    assert holds(part(fresh))
    fresh.build.recipe.grab()


def test_wheels_have_soft_edges_or_hard_ones(fresh, qtbot):
    settle()
    choose(qtbot, chip(fresh, "figures change"), "rolling up")
    settle()
    for name, entry, now in (
        ("soft-edged wheels", "hard edges", "soft edges"),
        ("blurred wheels", "blurred by their speed", "always sharp"),
    ):
        assert now in chip(fresh, name).text()
        choose(qtbot, chip(fresh, name), entry)
        settle()
        assert entry in chip(fresh, name).text()
    assert not part(fresh).soft_edges and part(fresh).blurred


def test_a_pattern_is_typed_and_a_wrong_one_refused(fresh, qtbot):
    said = []
    fresh.session.refused.connect(said.append)
    choose(qtbot, chip(fresh, "writing style"), "a pattern of its own")
    settle()
    line = fresh.build.recipe.findChild(QLineEdit, "count/writing.pattern")
    enter(qtbot, line, "0.00 'ha'")
    assert part(fresh).writing.pattern == "0.00 'ha'"
    line = fresh.build.recipe.findChild(QLineEdit, "count/writing.pattern")
    enter(qtbot, line, "no pattern")
    assert part(fresh).writing.pattern == "0.00 'ha'" and "no place for a digit" in said[-1]


def test_a_count_is_tied_to_another_part(fresh, qtbot):
    add_shape(fresh.session)
    fresh.session.select("count")
    settle()
    choose(qtbot, chip(fresh, "count tie"), "Count plate is done")
    assert part(fresh).count.tie == Tie("count-plate", "after its end")
    assert fresh.session.scene().choreography.movers["count"].times.begin == 20


def test_a_property_runs_with_the_count_and_stops(fresh, qtbot):
    add_shape(fresh.session)
    fresh.session.select("count")
    settle()
    word = fresh.build.recipe.findChild(Chip, "run with")
    qtbot.mouseClick(word, LEFT)
    menu = word.findChildren(QMenu)[0]
    under = next(a.menu() for a in menu.actions() if a.text() == "Count plate")
    next(a for a in under.actions() if a.text() == "Opacity").trigger()
    menu.close()
    settle()
    assert fresh.session.template.part("count-plate").runs == (RunsWith("opacity", "count", 0.0, 100.0),)
    box = fresh.build.recipe.findChild(NumberBox, "count-plate/runs.0.first")
    enter(qtbot, box, "20")
    made = fresh.session.scene()
    times = made.choreography.movers["count"].times
    now = [made.pose(round(f)).parts["count-plate"].rest.part.opacity for f in (times.begin, times.land, times.land + 5)]
    assert now == [20, 100, 100]
    assert "runs" in fresh.build.parts.parts.sentence(
        fresh.session.template.part("count-plate")
    ) or "run with Count" in fresh.build.parts.parts.sentence(fresh.session.template.part("count-plate"))
    lanes = [run.label for row in rows_of(fresh.session.template, made.choreography) for run in row.runs]
    assert sorted(lanes) == ["Opacity with Count", "counts to 1284"]
    first = fresh.build.recipe.findChild(NumberBox, "count-plate/runs.0.first")
    first.customContextMenuRequested.emit(QPoint(2, 2))
    assert "Back to usual" not in {a.text() for a in first.findChildren(DotMenu)[-1].actions()}, "a run's end has nothing usual"
    first.findChildren(DotMenu)[-1].close()
    last = fresh.build.recipe.findChild(NumberBox, "count-plate/runs.0.last")
    last.customContextMenuRequested.emit(QPoint(2, 2))
    menu = last.findChildren(DotMenu)[-1]
    assert not {"Key it at this frame", "Back to usual"} & {a.text() for a in menu.actions()}
    next(a for a in menu.actions() if a.text() == "Put on the card").trigger()
    menu.close()
    settle()
    field = fresh.session.template.card.fields[-1]
    assert field.label == "Count plate opacity where it lands" and (field.default, field.high) == (100.0, 100.0)
    assert fresh.build.recipe.findChild(NumberBox, "count-plate/runs.0.last").property("chip") == "card"
    fresh.build.recipe.findChild(QPushButton, "run off count-plate/opacity").click()
    assert fresh.session.template.wires_from(field.id) == ()
    assert fresh.session.template.part("count-plate").runs == ()


def test_a_colour_runs_from_one_to_another_and_both_can_be_wired(fresh):
    session = fresh.session
    session.edit("Run", lambda t: counting.run_with(t, "count", "fill.colour", "count"))
    session.select("count")
    settle()
    last = fresh.build.recipe.findChild(ColourButton, "count/runs.0.last")
    assert last is not None and fresh.build.recipe.findChild(NumberBox, "count/runs.0.last") is None
    last.changed.emit("#00FF00")
    assert session.template.part("count").runs[0].last == "#00FF00"
    last.changed.emit("no colour")
    assert session.template.part("count").runs[0].last == "#00FF00" and last.colour == "#00FF00"
    menu = QMenu()
    fill_targets(menu, session.template, "count/fill.colour", lambda _: None)
    under = next(a.menu() for a in menu.actions() if a.text() == "Count")
    under.aboutToShow.emit()
    (runs,) = [a.menu() for a in under.actions() if a.text() == "What runs with a count"]
    assert [a.text() for a in runs.actions()] == ["Run 1: colour where the count begins", "Run 1: colour where it lands"]


@pytest.mark.parametrize(
    ("run", "words"),
    [
        (RunsWith("opacity", "nobody", 0, 100), "is no counter"), (RunsWith("text", "count", 0, 1), "has no property|cannot change"),
        (RunsWith("family", "count", "a", "b"), "cannot change over time"), (RunsWith("opacity", "count", 0, 500), "at most 100"),
        (RunsWith("opacity", "count", "red", "blue"), "takes a number"), (RunsWith("fill.colour", "count", "#000000", "soon"), "takes a colour"),
    ],
)  # fmt: skip
def test_what_cannot_run_is_refused_in_words(fresh, run, words):
    template = fresh.session.template
    with pytest.raises(DocumentError, match=words):
        check(edits.put_part(template, edits.replace(template.part("count"), runs=(run,))))


def test_keys_that_stand_instead_do_not_run_and_added_ones_do(fresh):
    session = fresh.session
    session.edit("Keys", lambda t: keying.set_key(keying.set_key(t, "count", "turn", 0, 10.0), "count", "turn", 100, 10.0))
    with pytest.raises(DocumentError, match="keys that stand instead"):
        counting.run_with(session.template, "count", "turn", "count")
    assert "turn" not in dict(counting.may_run(session.template, "count"))
    added = counting.run_with(keying.combined(session.template, "count", "turn", "added"), "count", "turn", "count")
    added = edits.set_property(edits.set_property(added, "count/runs.0.first", 0.0), "count/runs.0.last", 90.0)
    session.edit("Run", lambda _: added)
    scene = session.scene()
    land = round(scene.choreography.movers["count"].times.land)
    assert scene.pose(land).parts["count"].rest.part.turn == 100 and scene.pose(0).parts["count"].rest.part.turn == 10


# The curve


def curve_of(window) -> CountView:
    settle()
    return window.build.findChild(CountView)


def test_the_curve_shows_while_a_counter_is_selected(fresh):
    view = curve_of(fresh)
    assert view.isVisible() and "lands at 74" in view.facts.text() and "25 frames" in view.facts.text()
    fresh.session.select(None)
    assert not view.isVisible()
    view.grab()


def test_its_ends_are_dragged_and_anything_else_moves_the_playhead(fresh, qtbot):
    view = curve_of(fresh)
    curve = view.curve
    land = fresh.session.scene().choreography.movers["count"].times.land
    drag(qtbot, curve, QPoint(round(curve.x_of(land)), 20), QPoint(round(curve.x_of(10) - curve.x_of(0)), 0))
    assert part(fresh).count.frames == pytest.approx(15, abs=1)
    drag(qtbot, curve, QPoint(round(curve.x_of(0)), 60), QPoint(round(curve.x_of(12) - curve.x_of(0)), 0))
    assert part(fresh).count.start == pytest.approx(12, abs=1)
    fresh.session.undo()
    assert part(fresh).count.start == 0
    qtbot.mouseClick(curve, LEFT, NONE, QPoint(round(curve.x_of(40)), 50))
    assert fresh.session.frame == 40


def test_a_number_is_gone_to(fresh, qtbot):
    view = curve_of(fresh)
    fresh.session.go_to(0)
    enter(qtbot, view.now, "642")
    counted = fresh.session.scene().choreography.movers["count"]
    values = [counted.value(counted.moment(f)) for f in (fresh.session.frame - 1, fresh.session.frame)]
    assert values[0] < 642 <= values[1]
    enter(qtbot, view.now, "99999")
    assert fresh.session.frame == fresh.session.template.length - 1


def test_the_time_bench_has_the_curve_too(fresh):
    fresh.show_bench(1)
    settle()
    assert fresh.time.findChild(CountView).isVisible()
    fresh.time.ruler.grab()


# The card, the desk, tables


def test_an_editor_types_a_number_their_way(fresh, qtbot):
    fresh.show_bench(2)
    settle()
    session = fresh.session
    field = session.template.wire_to("count/end").source
    box = next(b for b in fresh.card.findChildren(DecimalBox) if b.objectName() == f"field {field}")
    enter(qtbot, box, "3.250,5")
    assert session.tried == {field: 3250.5} and session.scene().choreography.movers["count"].part.end == "3250.5"
    qtbot.mouseClick(fresh.card.keep_tried, LEFT)
    assert session.template.card.field(field).default == 3250.5 and session.scene().choreography.movers["count"].part.end == "3250.5"


def test_numbers_that_no_float_holds_are_answered_exactly(fresh):
    field = fresh.session.template.wire_to("count/end").source
    template = carding.change_field(fresh.session.template, field, low=None, high=None, default="999999999999999.123456789")
    assert next(p for p in bind(template).parts if p.id == "count").end == "999999999999999.123456789"
    assert bind(template, {field: 5.0}).answers[field] == 5.0 and bind(template, {field: "5"}).answers[field] == 5.0


@pytest.mark.parametrize("answer", ["", "many", None, True, [], float("inf"), "1e400", 1_000_001.0, "1000001", "-100001"])
def test_answers_that_are_no_number_within_the_limits_are_refused(fresh, answer):
    field = fresh.session.template.wire_to("count/end").source
    with pytest.raises(AnswerError, match=r"takes a number|must lie"):
        bind(fresh.session.template, {field: answer})


def test_its_language_is_put_on_the_card_as_a_choice_by_name(fresh):
    template, field = carding.put_on_card(fresh.session.template, "count/writing.language")
    asked = template.card.field(field)
    assert asked.kind == "choice" and asked.default == "en" and asked.options_with(()) == [("en", "English")]
    german, _ = carding.put_on_card(edits.set_property(fresh.session.template, "count/writing.language", "de"), "count/writing.language")
    assert german.card.field(field).options_with(()) == [("de", "German"), ("en", "English")]
    template = counting.with_languages(template, field, ("en", "de", "de_CH"))
    assert next(p for p in bind(template, {field: "de_CH"}).parts if p.id == "count").writing.language == "de_CH"
    scene = Scene(template, fresh.session.book, {field: "de"})
    assert scene.choreography.movers["count"].figures.final.words == "1.284"


def test_languages_of_a_card_are_chosen_in_one_place(fresh, qtbot):
    """Ticked, searched, typed by name or code; what is not known is said, and one at least is offered."""
    session = fresh.session
    session.edit("On the card", lambda t: carding.put_on_card(t, "count/writing.language")[0])
    field = session.template.wire_to("count/writing.language").source
    fresh.show_bench(2)
    fresh.card.choose(field)
    settle()
    button = fresh.card.panel.findChild(QPushButton, "choose languages")
    assert button.text() == "Languages…" and fresh.card.panel.findChild(QPushButton, "add option") is None

    def act(dialog):
        assert dialog.taken == ("en",) and dialog.list.count() == len(USUAL)
        dialog.search.setFocus()
        for typed in ("welsh", "de", "Klingon", "Faroese"):
            dialog.search.clear()
            qtbot.keyClicks(dialog.search, typed)
            qtbot.keyClick(dialog.search, Qt.Key.Key_Return)
            if typed == "Klingon":
                assert dialog.told.text() == "“Klingon” is no language that is known here." and dialog.isVisible()
        assert dialog.search.text() == "" and dialog.told.text() == "English, German, Welsh, Faroese"
        english = dialog.list.item(0)
        area = dialog.list.visualItemRect(english)
        dialog.list.scrollToItem(english)
        qtbot.mouseClick(
            dialog.list.viewport(),
            Qt.MouseButton.LeftButton,
            pos=dialog.list.visualItemRect(english).topLeft() + QPoint(10, area.height() // 2),
        )
        assert "en" not in dialog.taken
        qtbot.mouseClick(dialog.ok, Qt.MouseButton.LeftButton)

    in_a_dialog(LanguagesDialog, act, lambda: qtbot.mouseClick(button, Qt.MouseButton.LeftButton))
    asked = session.template.card.field(field)
    assert [o.id for o in asked.options] == ["de", "cy", "fo"] and asked.default == "de", "what it starts with is offered"
    assert next(p for p in bind(session.template, {field: "fo"}).parts if p.id == "count").writing.language == "fo"

    def none_left(dialog):
        for number in range(3):
            dialog.list.item(number).setCheckState(Qt.CheckState.Unchecked)
        assert not dialog.ok.isEnabled() and dialog.told.text() == "Tick one at least."

    settle()
    button = fresh.card.panel.findChild(QPushButton, "choose languages")
    in_a_dialog(LanguagesDialog, none_left, lambda: qtbot.mouseClick(button, Qt.MouseButton.LeftButton))
    assert session.template.card.field(field) == asked, "left by Cancel nothing changes"


def test_a_title_that_counts_is_called_by_its_number(window):
    session = window.cut_session
    title = session.cut.title("hectares")
    opened = session.template_of(title)
    assert words_of_title(title, opened) == "Hectares 1,284" and film_name(title) == f"T{title.number:04}-hectares" and title.number


def test_the_picture_of_a_counter_shows_its_last_number(demo):
    opened = open_template(demo / "reed-plugs.avlet")
    scene = Scene(opened.template, opened.book)
    counted, frame = scene.choreography.movers["plugs"], landed_frame(scene)
    assert counted.moment(frame).landed and frame < scene.length - scene.spans.way_out
    late = Scene(edits.set_property(opened.template, "plugs/count.frames", 0), opened.book, None, 60)
    assert landed_frame(late) <= 60 and landed_frame(Scene(open_template(demo / "name-strap.avlet").template, opened.book)) == 62


# The command line


def run(*words: str):
    return CliRunner().invoke(app, list(words))


def test_counts_lists_what_every_counter_shows(demo):
    found = run("counts", str(demo / "hectares.avlet"), "--every", "50", "--json")
    facts = json.loads(found.stdout)
    counter = facts["counters"][0]
    assert found.exit_code == 0 and [row["frame"] for row in counter["frames"]] == [0, 50, 100, 149]
    assert counter["frames"][-1] == {"frame": 149, "value": 1284, "words": "1,284", "share": 1.0}
    assert counter["frames"][0]["words"] == "0" and counter["lands"] == 94
    table = run("counts", str(demo / "four-counts.avlet"), "--every", "100")
    assert table.exit_code == 0 and "1,250,000" in table.stdout and table.stdout.count("lands at") == 4
    assert "has no counter" in run("counts", str(demo / "name-strap.avlet")).stdout


def test_measure_says_what_a_counter_shows_and_its_slots(demo):
    facts = json.loads(run("measure", str(demo / "water-level.avlet"), "--at", "140", "--json").stdout)
    level = next(p for p in facts["parts"] if p["id"] == "level")
    assert (level["value"], level["words"], level["share"]) == (-1.35, "-1.35", 1.0) and level["slots"]["width"] > 0


@pytest.mark.parametrize(
    ("answer", "words"), [("1.284,5", "1,284"), ("1,284.5", "1,284"), ("1 284", "1,284"), ("-3", "refused"), ("much", "refused")]
)
def test_a_number_is_set_on_the_command_line_as_people_write_it(demo, answer, words):
    found = run("counts", str(demo / "hectares.avlet"), "--set", f"number={answer}", "--every", "200", "--json")
    if words == "refused":
        assert found.exit_code != 0
    else:
        assert json.loads(found.stdout)["counters"][0]["frames"][-1]["words"] == words


@pytest.mark.parametrize("name", ["hectares", "reed-plugs", "water-level", "four-counts"])
def test_the_demo_s_counters_hold_for_every_sample(demo, name):
    opened = open_template(demo / f"{name}.avlet")
    for sample in opened.template.samples:
        scene = Scene(opened.template, opened.book, sample.answers)
        assert said_of(scene) == [] and not scene.picture(scene.length - 1, 192, 108).any()


def test_the_curve_follows_the_answers_on_the_stage(fresh, qtbot):
    """Another sample counts to another number: its curve, its number and what is said of it are shown at once, on Build and on Time."""
    session = fresh.session
    session.select("count")
    settle()
    seen = []
    for bench, view in ((0, fresh.build.count), (1, None)):
        fresh.show_bench(bench)
        settle()
        view = view or fresh.time.count
        for sample in ("", *(s.id for s in session.template.samples)):
            session.show_answers(sample)
            session.go_to(session.length() // 2)
            settle()
            seen.append((view.now.text(), view.curve.grab().toImage()))
            assert view.now.text().replace(",", "") == plain(view.counted.value(view.counted.moment(view.time_now())))
        assert len({words for words, _ in seen}) >= 3 and all(one[1] != other[1] for one, other in itertools.pairwise(seen[-3:]))


def test_limits_follow_the_count(fresh, qtbot):
    """A number beyond the field's limits, typed by the designer, widens them; an editor's answer, and what is tried on the card, does not."""
    session = fresh.session
    session.select("count")
    settle()
    field = session.template.wire_to("count/end").source
    box = next(b for b in fresh.build.recipe.findChildren(DecimalBox) if b.objectName() == "count/end")
    enter(qtbot, box, "3250000")
    made = session.template.card.field(field)
    assert (float(made.default), made.high, made.low) == (3_250_000.0, 3_250_000.0, -100_000.0)
    assert session.scene().choreography.movers["count"].figures.final.words == "3,250,000"
    assert not session.try_answer(field, 4_000_000.0) and session.template.card.field(field).high == 3_250_000.0
    session.write({"count/end": "-200000.5"})
    made = session.template.card.field(field)
    assert (made.low, made.high) == (-200_000.5, 3_250_000.0)
    session.write({"count/end": "10"})
    assert (session.template.card.field(field).low, session.template.card.field(field).high) == (-200_000.5, 3_250_000.0), "never narrower"
