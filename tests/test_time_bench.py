"""The Time bench driven by mouse and keys: the folded ruler, eases, ties, several moves, keys and their graph, marks, loops."""

import pytest
from hands import chip as chip_of_recipe
from hands import choose, drag, move_held, type_into
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtWidgets import QApplication, QInputDialog, QLabel, QLineEdit, QPushButton

from avlet.desktop.recipe.dot import Dot
from avlet.desktop.recipe.sentences import Chip
from avlet.desktop.time.ease_view import EaseCurve, SmallCurve
from avlet.desktop.time.key_graph import KeyGraph
from avlet.desktop.time.ruler_picture import HEAD
from avlet.desktop.widgets.numbers import NumberBox
from avlet.desktop.widgets.switch import Switch
from avlet.document.editing import edits
from avlet.document.editing.timing import MoveAt, shifted, staggered, stretched
from avlet.document.template import Mark, MotionBlur
from avlet.document.time.eases import Bounce, CubicBezier, Spring
from avlet.document.time.keys import Key, Keyed
from avlet.document.time.moves import Move, Tie
from avlet.motion.folded_time import FOLD, FoldedTime
from avlet.motion.spans import Spans

LEFT, NONE, CTRL = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ControlModifier


@pytest.fixture
def bench(window, qtbot, monkeypatch, tmp_path):
    """The Time bench with the name strap, its starts its own."""
    monkeypatch.setattr("avlet.storage.kept.kept_file", lambda: tmp_path / "kept.json")
    template = window.session.template
    parts = tuple(edits.replace(p, way_in=tuple(edits.replace(m, tie=None) for m in p.way_in)) for p in template.parts)
    window.session.edit("Untie", lambda t: edits.replace(t, parts=parts))
    window.show_bench(1)
    settle()
    return window.time


def settle():
    for _ in range(3):
        QApplication.processEvents()


def bar(bench, part, where="way_in", mirrored=False):
    return next(
        (row, b) for row in bench.ruler.rows for b in row.bars if b.at.part == part and b.mirrored == mirrored and b.at.where == where
    )


def area(bench, part, mirrored=False):
    row, found = bar(bench, part, mirrored=mirrored)
    return bench.ruler.bar_area(bench.ruler.time, row, found)


def move(bench, part, number=0) -> Move:
    return bench.session.template.part(part).way_in[number]


def chip(bench, name) -> Chip:
    settle()
    return bench.panel.findChild(Chip, name)


# The ruler


@given(st.integers(2, 600), st.integers(0, 80), st.integers(0, 80), st.booleans(), st.integers(0, 700), st.integers(0, 700))
def test_folded_time_goes_there_and_back(length, way_in, way_out, folded, early, late):
    if way_in + way_out > length - 1:
        return
    time = FoldedTime(Spans(length, way_in, way_out, way_in, way_out, 1.0), 100, 1000, folded, early, late)
    for frame in (0, way_in / 2, way_in, (length - 1) / 2, length - 1 - way_out, length - 1):
        assert time.frame_at(time.x_of(frame)) == pytest.approx(frame, abs=1e-6)
    assert time.x_of(length - 1) == pytest.approx(1000)
    if time.is_folded:
        assert time.fold_end - time.fold_begin == pytest.approx(FOLD) and time.x_of(way_in) == pytest.approx(time.hold_begin)
        assert time.x_of(length - 1) - time.x_of(length - 1 - max(late, way_out)) == pytest.approx(max(late, way_out) * time.scale)


def test_a_bar_is_chosen_moved_stretched_and_undone(bench, qtbot):
    session, ruler = bench.session, bench.ruler
    where = area(bench, "name")
    drag(qtbot, ruler, where.center().toPoint(), QPoint(round(4 * ruler.time.scale), 0))
    assert ruler.chosen == (MoveAt("name", "way_in", 0),) and session.selected == "name"
    assert move(bench, "name").start == 9
    where = area(bench, "name")
    by = ruler.time.x_of(22) - where.right()
    drag(qtbot, ruler, QPoint(round(where.right()) - 2, round(where.center().y())), QPoint(round(by), 0))
    assert move(bench, "name").frames == 13
    session.undo()
    session.undo()
    assert (move(bench, "name").start, move(bench, "name").frames) == (5, 20)


def test_an_edge_catches_on_another_bar(bench, qtbot):
    ruler = bench.ruler
    where, rule_end = area(bench, "name"), ruler.time.x_of(10)
    drag(qtbot, ruler, where.center().toPoint(), QPoint(round(rule_end - where.left()) + 5, 0))
    assert move(bench, "name").start == 10, "where the rule is done"


def test_spans_are_dragged_and_the_hold_opens(bench, qtbot):
    session, ruler = bench.session, bench.ruler
    time = ruler.time
    assert time.is_folded
    drag(qtbot, ruler, QPoint(round(time.hold_begin), 28), QPoint(round(5 * time.scale), 0))
    assert session.template.way_in == 30 and session.template.way_out == 25
    time = ruler.time
    qtbot.mouseClick(ruler, LEFT, NONE, QPoint(round((time.hold_begin + time.hold_end) / 2), 30))
    assert not ruler.time.is_folded and ruler.time.hold_end - ruler.time.hold_begin > 300


def test_the_playhead_is_dragged_and_mirrored_bars_are_not(bench, qtbot):
    session, ruler = bench.session, bench.ruler
    drag(qtbot, ruler, QPoint(round(ruler.time.x_of(2)), 8), QPoint(round(10 * ruler.time.scale), 0))
    assert session.frame == 12
    before = session.template
    drag(qtbot, ruler, area(bench, "name", mirrored=True).center().toPoint(), QPoint(40, 0))
    assert session.template is before and ruler.chosen == (MoveAt("name", "way_in", 0),)


def test_a_tie_is_made_shown_and_followed(bench, qtbot):
    session, ruler = bench.session, bench.ruler
    qtbot.mouseClick(ruler, LEFT, NONE, area(bench, "name").center().toPoint())
    settle()
    choose(qtbot, chip(bench, "way_in tie"), "Plate is done")
    assert move(bench, "name").tie == Tie("plate", "after its end") and bar(bench, "name")[1].start == 20
    where = area(bench, "plate")
    drag(qtbot, ruler, QPoint(round(where.right()) - 2, round(where.center().y())), QPoint(round(-3 * ruler.time.scale), 0))
    assert bar(bench, "name")[1].start == pytest.approx(move(bench, "plate").frames)
    drag(qtbot, ruler, area(bench, "name").center().toPoint(), QPoint(round(2 * ruler.time.scale), 0))
    assert move(bench, "name").tie.frames == 2
    ruler.grab()
    assert not session.edit("Circle", lambda t: edits.set_relations(t, "plate", way_in=(Move(tie=Tie("name")),)))


def test_a_start_counts_back_from_the_end_and_is_dragged_there(bench, qtbot):
    session, ruler = bench.session, bench.ruler
    qtbot.mouseClick(ruler, LEFT, NONE, area(bench, "name").center().toPoint())
    settle()
    choose(qtbot, chip(bench, "way_in tie"), "some frames before the end")
    last, late = session.template.length - 1, move(bench, "name")
    assert late.counts_from == "the end" and session.template.way_out < late.start < last - session.template.way_in
    assert bar(bench, "name")[1].start == last - late.start
    where = area(bench, "name")
    assert where.width() == pytest.approx(late.frames * ruler.time.scale, abs=1), "what arrives late is not folded away"
    settle()
    assert bench.panel.warning is None or "later than its span" not in bench.panel.warning.text()
    drag(qtbot, ruler, where.center().toPoint(), QPoint(round(4 * ruler.time.scale), 0))
    assert move(bench, "name").start == late.start - 4
    settle()
    box = bench.panel.findChild(NumberBox, "name/way_in.0.start")
    type_into(qtbot, box, "60")
    qtbot.keyClick(box, Qt.Key.Key_Return)
    assert bar(bench, "name")[1].start == last - 60
    settle()
    choose(qtbot, chip(bench, "way_in tie"), "the beginning")
    assert (move(bench, "name").counts_from, move(bench, "name").start) == ("the beginning", 0)


# Eases and looks


def test_an_ease_is_bent_picked_typed_and_refused(bench, qtbot):
    ruler = bench.ruler
    qtbot.mouseClick(ruler, LEFT, NONE, area(bench, "name").center().toPoint())
    settle()
    curve = bench.panel.findChild(EaseCurve)
    start = curve.handles()[0]
    drag(qtbot, curve, start.toPoint(), QPoint(60, 0))
    settle()
    ease = move(bench, "name").ease
    assert isinstance(ease, CubicBezier) and ease.x1 > 0.3
    qtbot.mouseClick(bench.panel.findChild(SmallCurve, "ease springy"), LEFT)
    assert move(bench, "name").ease == Spring()
    settle()
    typed = bench.panel.findChild(QLineEdit, "ease notation")
    type_into(qtbot, typed, "bounce(2, 40%)")
    qtbot.keyClick(typed, Qt.Key.Key_Return)
    assert move(bench, "name").ease == Bounce(2, 40)
    type_into(qtbot, typed, "wobble(3)")
    qtbot.keyClick(typed, Qt.Key.Key_Return)
    assert move(bench, "name").ease == Bounce(2, 40) and "there is no wobble" in typed.toolTip()
    curve = bench.panel.findChild(EaseCurve)
    qtbot.mouseClick(curve, LEFT, NONE, QPoint(60, 60))
    assert isinstance(move(bench, "name").ease, CubicBezier), "pulling at another ease makes it one that can be bent"


def test_too_quick_a_travel_is_pointed_out(bench, qtbot):
    qtbot.mouseClick(bench.ruler, LEFT, NONE, area(bench, "name").center().toPoint())
    settle()
    assert "more than a third of the letters" in bench.panel.warning.text()
    bench.session.write({"name/way_in.0.frames": 90})
    settle()
    assert "third" not in bench.panel.warning.text() and "later than its span" in bench.panel.warning.text()


def test_the_displaced_look_has_rows_that_can_go_on_the_card(bench, qtbot):
    qtbot.mouseClick(bench.ruler, LEFT, NONE, area(bench, "name").center().toPoint())
    settle()
    box = bench.panel.findChild(NumberBox, "name/way_in.0.blur")
    type_into(qtbot, box, "18")
    qtbot.keyClick(box, Qt.Key.Key_Return)
    assert move(bench, "name").blur == 18
    bench.panel.findChild(Dot, "dot name/way_in.0.blur").menu().put_on_card()
    assert any(w.target.startswith("name/way_in.0.") for w in bench.session.template.wires)


def test_orders_paces_and_shuffles_are_words(bench, qtbot):
    qtbot.mouseClick(bench.ruler, LEFT, NONE, area(bench, "name").center().toPoint())
    settle()
    choose(qtbot, chip(bench, "way_in by"), "letter by letter")
    choose(qtbot, chip(bench, "way_in order"), "shuffled")
    settle()
    qtbot.mouseClick(bench.panel.findChild(QPushButton, "way_in shuffle"), LEFT)
    assert move(bench, "name").seed == 2
    choose(qtbot, chip(bench, "way_in pace"), "by a step")
    assert move(bench, "name").pace == "by step"
    assert len(bar(bench, "name")[1].lines) == 12, "a line for each letter"


def test_eases_and_moves_are_kept_for_other_templates(bench, qtbot, monkeypatch):
    qtbot.mouseClick(bench.ruler, LEFT, NONE, area(bench, "name").center().toPoint())
    settle()
    bench.session.write({"name/way_in.0.blur": 7.0})
    settle()
    for name, what in (("marsh", "keep ease"), ("from the reeds", "keep move")):
        monkeypatch.setattr(QInputDialog, "getText", lambda *a, n=name, **k: (n, True))
        qtbot.mouseClick(bench.panel.findChild(QPushButton, what), LEFT)
        settle()
    assert bench.panel.findChild(SmallCurve, "ease marsh") is not None
    bench.session.select("role")
    settle()
    choose(qtbot, chip(bench, "way_in kind"), "from the reeds")
    assert move(bench, "role").blur == 7 and move(bench, "role").frames == 15, "its own length stays"


# Several moves


def test_several_moves_are_shifted_stretched_and_staggered(bench, qtbot):
    ruler, session = bench.ruler, bench.session
    qtbot.mouseClick(ruler, LEFT, NONE, area(bench, "rule").center().toPoint())
    qtbot.mouseClick(ruler, LEFT, CTRL, area(bench, "plate").center().toPoint())
    assert len(ruler.chosen) == 2
    drag(qtbot, ruler, area(bench, "rule").center().toPoint(), QPoint(round(3 * ruler.time.scale), 0))
    assert (move(bench, "rule").start, move(bench, "plate").start) == (3, 3)
    settle()
    field = bench.panel.findChild(QLineEdit, "stagger several")
    type_into(qtbot, field, "6")
    qtbot.mouseClick(bench.panel.findChild(QPushButton, "do stagger"), LEFT)
    assert (move(bench, "rule").start, move(bench, "plate").start) == (3, 9)
    type_into(qtbot, bench.panel.findChild(QLineEdit, "stretch several"), "50")
    qtbot.mouseClick(bench.panel.findChild(QPushButton, "do stretch"), LEFT)
    assert (move(bench, "rule").frames, move(bench, "plate").frames, move(bench, "plate").start) == (5, 10, 6)
    type_into(qtbot, bench.panel.findChild(QLineEdit, "shift several"), "often")
    refused = []
    session.refused.connect(refused.append)
    qtbot.mouseClick(bench.panel.findChild(QPushButton, "do shift"), LEFT)
    assert "not a number" in refused[0]


def test_edits_of_several_moves_in_the_document(bench):
    template = bench.session.template
    chosen = [MoveAt(i, "way_in", 0) for i in ("rule", "plate", "name")]
    later = shifted(template, chosen, 4)
    assert [later.part(at.part).way_in[0].start for at in chosen] == [4, 4, 9]
    assert shifted(template, chosen, -50).part("name").way_in[0].start == 0
    assert [staggered(template, chosen, 2).part(at.part).way_in[0].start for at in chosen] == [0, 2, 4]
    slow = stretched(template, chosen, 200)
    assert (slow.part("name").way_in[0].start, slow.part("name").way_in[0].frames) == (10, 40)


# Keys


@pytest.fixture
def keyed(bench):
    keys = (Key(0, 0.0), Key(10, 30.0), Key(50, 10.0, "hold"))
    bench.session.edit("Keys", lambda t: edits.set_relations(t, "plate", keys=(Keyed("turn", keys),)))
    bench.session.select("plate")
    settle()
    return bench


def key_point(bench, number) -> QPoint:
    ruler = bench.ruler
    row = next(r for r in ruler.rows if r.part.id == "plate")
    return QPoint(round(ruler.time.x_of(row.keys[0].times[number])), round(HEAD + row.key_top(0) + 8))


def turns(bench):
    return bench.session.template.part("plate").keys[0].keys


def test_keys_are_dragged_removed_and_added_on_the_ruler(keyed, qtbot):
    ruler = keyed.ruler
    drag(qtbot, ruler, key_point(keyed, 1), QPoint(round(4 * ruler.time.scale), 0))
    assert turns(keyed)[1] == Key(14, 30.0)
    qtbot.mouseDClick(ruler, LEFT, NONE, key_point(keyed, 0) + QPoint(round(6 * ruler.time.scale), 0))
    assert len(turns(keyed)) == 4 and turns(keyed)[3].at == 6 and 0 < turns(keyed)[3].value < 30
    qtbot.mouseClick(ruler, LEFT, NONE, key_point(keyed, 3))
    qtbot.mouseClick(ruler, LEFT, CTRL, key_point(keyed, 0))
    assert len(ruler.keys) == 2
    qtbot.keyClick(ruler.window().windowHandle(), Qt.Key.Key_Delete)
    assert [k.value for k in turns(keyed)] == [30.0, 10.0]


def test_a_keys_words_and_its_graph(keyed, qtbot):
    ruler = keyed.ruler
    qtbot.mouseClick(ruler, LEFT, NONE, key_point(keyed, 1))
    settle()
    choose(qtbot, chip(keyed, "key to next"), "held")
    assert turns(keyed)[1].to_next == "held"
    choose(qtbot, chip(keyed, "key tied"), "frames before the end")
    assert turns(keyed)[1].tied == "end" and turns(keyed)[1].at == 114
    keyed.session.undo()
    settle()
    graph = keyed.panel.findChild(KeyGraph)
    at = graph.place(10, 30.0)
    drag(qtbot, graph, at.toPoint(), QPoint(0, 20))
    assert turns(keyed)[1].value < 30 and turns(keyed)[1].at == 10
    arm = graph._arms(1, turns(keyed)[1])[1]
    qtbot.mousePress(graph, LEFT, NONE, arm.toPoint())
    move_held(graph, arm + QPointF(4, -20))
    qtbot.mouseRelease(graph, LEFT, NONE, (arm + QPointF(4, -20)).toPoint())
    assert turns(keyed)[1].slope_out == turns(keyed)[1].slope_in is not None
    settle()
    qtbot.mouseClick(keyed.panel.findChild(QPushButton, "speed graph"), LEFT)
    assert not keyed.panel.findChild(KeyGraph).grab().isNull() and keyed.panel.findChild(KeyGraph).shows == "speed"
    qtbot.mouseClick(keyed.panel.findChild(QPushButton, "reverse keys"), LEFT)
    assert turns(keyed)[0].tied == "hold" and turns(keyed)[2].tied == "end"


def test_a_dot_keys_a_property_and_a_change_makes_a_key_at_the_frame(window, qtbot):
    session = window.session
    session.select("plate")
    session.go_to(4)
    window.build.recipe.refresh()
    dot = window.build.recipe.findChild(Dot, "dot plate/opacity")
    next(a for a in dot.menu().actions() if a.text() == "Key it at this frame").trigger()
    settle()
    session.go_to(20)
    session.write({"plate/opacity": 40.0})
    (keyed,) = session.part.keys
    assert [(k.at, k.value) for k in keyed.keys] == [(4, 100), (20, 40)] and session.part.opacity == 100
    session.go_to(12)
    settle()
    window.build.recipe.refresh()
    shown = window.build.recipe.findChild(NumberBox, "plate/opacity").value
    assert 40 < shown < 100 and window.build.recipe.findChild(Dot, "dot plate/opacity").keyed
    assert chip_of_recipe(window, "add sway") is not None


# Spans, marks, blur, playing


def test_time_facts_marks_and_motion_blur(bench, qtbot, monkeypatch):
    session = bench.session
    session.select(None)
    settle()
    qtbot.mouseClick(bench.panel.findChild(Switch, "time fits_in"), LEFT)
    assert session.template.fits_in and session.scene().spans.way_in == 25
    shutter = bench.panel.findChild(NumberBox, "template/motion_blur.shutter")
    type_into(qtbot, shutter, "180")
    qtbot.keyClick(shutter, Qt.Key.Key_Return)
    assert session.template.motion_blur == MotionBlur(180)
    session.go_to(7)
    soft = bench.stage.grab().toImage()
    bench.blur_switch.click()
    assert bench.stage.grab().toImage() != soft
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("bell", True))
    settle()
    qtbot.mouseClick(bench.panel.findChild(QPushButton, "add mark"), LEFT)
    assert session.template.marks == (Mark(7, "bell"),)


def test_what_is_played_over_and_over_can_be_chosen(bench):
    session, transport = bench.session, bench.transport
    session.edit("Marks", lambda t: edits.replace(t, marks=(Mark(30, "a"), Mark(50, "b"))))
    assert transport.loops()["all"] == (0, 125) and transport.loops()["way in"] == (0, 37)
    assert transport.loops()["way out"] == (88, 125) and transport.loops()["a to b"] == (30, 51)
    transport.looped = "a to b"
    player = transport.player
    player.play(0)
    assert player._begin == 30
    player.stop()
    # At 30 frames a second that loop is looked at over 1 s 15 f from the start: common practice, no source.
    session.edit("Rate", lambda t: edits.replace(t, way_in=30, frame=edits.replace(t.frame, rate="30/1")))
    assert transport.loops()["way in"] == (0, 45)


def test_the_strip_shows_eight_moments_of_the_move(bench, qtbot):
    bench.ruler.choose((MoveAt("plate", "way_in", 0),))
    bench.session.select("plate")
    frames = bench.moments.frames()
    assert frames[0] == 0 and frames[-1] == 20 and len(frames) == 8
    picture = bench.moments.grab().toImage()
    assert not picture.isNull()
    qtbot.mouseClick(bench.moments, LEFT, NONE, bench.moments._cell(5).center().toPoint())
    assert bench.session.frame == frames[5]


def test_a_way_out_of_its_own_has_bars_of_its_own(bench, qtbot):
    session = bench.session
    session.select("name")
    settle()
    choose(qtbot, chip(bench, "way out"), "goes its own way")
    row, own = bar(bench, "name", "way_out.moves")
    assert own.start == pytest.approx(99) and not any(b.mirrored for b in row.bars)
    where = bench.ruler.bar_area(bench.ruler.time, row, own)
    drag(qtbot, bench.ruler, where.center().toPoint(), QPoint(round(3 * bench.ruler.time.scale), 0))
    assert session.template.part("name").way_out.moves[0].start == 3
    settle()
    assert "way out" in " ".join(label.text() for label in bench.panel.findChildren(QLabel))


def test_beside_the_notice_of_a_late_move_the_span_is_made_as_long_as_it_needs(bench, qtbot):
    session, ruler = bench.session, bench.ruler
    qtbot.mouseClick(ruler, LEFT, NONE, area(bench, "name").center().toPoint())
    settle()
    assert not bench.panel.as_needed.isVisible(), "it is done within its span"
    session.write({"name/way_in.0.start": 30})
    settle()
    assert (
        "later than its span" in bench.panel.warning.text() and bench.panel.as_needed.text() == "Make the way in as long as the moves need"
    )
    qtbot.mouseClick(bench.panel.as_needed, LEFT)
    settle()
    assert session.template.fits_in and not session.template.fits_out and session.scene().spans.way_in == 50
    assert not bench.panel.as_needed.isVisible() and "later than its span" not in bench.panel.warning.text()


def test_a_part_leaves_while_others_hold(bench, qtbot):
    """Its own way out waits for another part to come, for the end, or is dragged before the template's way out."""
    session, ruler = bench.session, bench.ruler
    session.select("name")
    settle()
    choose(qtbot, chip(bench, "way out"), "goes its own way")
    qtbot.mouseClick(ruler, LEFT, NONE, ruler.bar_area(ruler.time, *bar(bench, "name", "way_out.moves")).center().toPoint())
    settle()
    choose(qtbot, chip(bench, "way_out.moves tie"), "when Plate comes")
    out = session.template.part("name").way_out.moves[0]
    assert out.tie == Tie("plate", "after its start", 0, "its way in") and chip(bench, "way_out.moves tie").text().startswith(
        "when Plate comes"
    )
    assert bar(bench, "name", "way_out.moves")[1].start == pytest.approx(bar(bench, "plate")[1].start)
    ruler.grab()
    choose(qtbot, chip(bench, "way_out.moves tie"), "when it has come")
    assert bar(bench, "name", "way_out.moves")[1].start == pytest.approx(bar(bench, "name")[1].end)
    where = ruler.bar_area(ruler.time, *bar(bench, "name", "way_out.moves"))
    assert where.width() == pytest.approx(out.frames * ruler.time.scale, abs=1), "it is not folded away"
    drag(qtbot, ruler, where.center().toPoint(), QPoint(round(4 * ruler.time.scale), 0))
    assert session.template.part("name").way_out.moves[0].tie == Tie("name", "after its end", 4, "its way in")
    settle()
    choose(qtbot, chip(bench, "way_out.moves tie"), "some frames before the end")
    assert session.template.part("name").way_out.moves[0].counts_from == "the end"
    box = bench.panel.findChild(NumberBox, "name/way_out.moves.0.start")
    type_into(qtbot, box, "50")
    qtbot.keyClick(box, Qt.Key.Key_Return)
    assert bar(bench, "name", "way_out.moves")[1].start == session.template.length - 1 - 50
    settle()
    choose(qtbot, chip(bench, "way_out.moves tie"), "the beginning of the way out")
    drag(qtbot, ruler, ruler.bar_area(ruler.time, *bar(bench, "name", "way_out.moves")).center().toPoint(), QPoint(-30, 0))
    early = session.template.part("name").way_out.moves[0]
    assert early.counts_from == "the end" and early.start > session.template.way_out


def test_keys_are_copied_pasted_aligned_and_stretched(keyed, qtbot):
    ruler, session = keyed.ruler, keyed.session
    ruler.choose((), (("plate", "turn", 0), ("plate", "turn", 1)))
    handle = keyed.window().windowHandle()
    qtbot.keyClick(handle, Qt.Key.Key_C, CTRL)
    session.select("role-plate")
    qtbot.keyClick(handle, Qt.Key.Key_V, CTRL)
    pasted = session.template.part("role-plate").keys[0]
    assert pasted.path == "turn" and [k.value for k in pasted.keys] == [0, 30]
    session.select("plate")
    ruler.choose((), (("plate", "turn", 1),))
    settle()
    qtbot.mouseClick(keyed.panel.findChild(QPushButton, "further keys"), LEFT)
    assert turns(keyed)[1].at == 20
    session.go_to(12)
    qtbot.mouseClick(keyed.panel.findChild(QPushButton, "align keys"), LEFT)
    assert turns(keyed)[1].at == 12


def test_delete_on_the_time_bench_removes_moves_not_parts(bench, qtbot):
    qtbot.mouseClick(bench.ruler, LEFT, NONE, area(bench, "rule").center().toPoint())
    qtbot.keyClick(bench.window().windowHandle(), Qt.Key.Key_Delete)
    assert bench.session.template.part("rule").way_in == ()
    qtbot.keyClick(bench.window().windowHandle(), Qt.Key.Key_Delete)
    assert bench.session.template.part("rule") is not None
    qtbot.keyClick(bench.window().windowHandle(), Qt.Key.Key_T)
    assert len(bench.session.template.parts) == 5, "parts are added on the Build bench"


def test_a_keyed_place_is_a_path_on_the_stage_whose_keys_are_dragged(bench, qtbot):
    session, stage = bench.session, bench.stage
    keys = (Keyed("across.gap", (Key(0, 0.0), Key(20, 100.0))), Keyed("down.gap", (Key(0, 0.0), Key(20, -100.0))))
    session.edit("Path", lambda t: edits.set_relations(t, "role", keys=keys))
    session.select("role")
    stage.repaint()
    first = next(h for h in stage.handles if h.name == "place at frame 20")
    start = stage.to_view(*first.at)
    drag(qtbot, stage, start.toPoint(), (stage.to_view(first.at[0] + 200, first.at[1] - 60) - start).toPoint())
    across, down = session.template.part("role").keys
    assert across.keys[1].value == pytest.approx(300, abs=4) and down.keys[1].value == pytest.approx(-160, abs=4)
    moved = session.scene().pose(30).outline_box("role").x - session.scene().rest.parts["role"].box.x
    assert moved > 250
