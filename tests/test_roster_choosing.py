"""Rows of a roster are chosen by clicks and keys, played, copied, and rendered alone; the list keeps the others."""

import pytest
from hands import settle
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtWidgets import QApplication
from test_roster_bench import LEFT, bench, looked_at, middle, window  # noqa: F401
from test_roster_rendering import HereCrew, plan, strap  # noqa: F401

from avlet.errors import AnswerError
from avlet.roster.delivery import read_delivery
from avlet.roster.rendering import in_the_way, render_roster
from avlet.roster.roster import rows_named

CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
TABLE = "Name,Role,Length\nBo Li,Ringer,26\nÍris,Cutter,28\nIda,Keeper,27\nAda,Pilot,26\n"


# Rendering some rows


def listed(folder):
    return [one.file for one in read_delivery(folder).files]


def test_chosen_rows_are_made_and_the_list_keeps_the_others(strap, tmp_path):  # noqa: F811
    first = HereCrew()
    outcome = render_roster(plan(strap, TABLE), strap.book, tmp_path, first, only={1, 3})
    assert first.made == ["02-íris.mov", "04-ada.mov"] or len(first.made) == 2
    assert (outcome.made, outcome.kept, outcome.stopped) == (2, 0, False) and not read_delivery(tmp_path).complete
    two = listed(tmp_path)
    second = HereCrew()
    outcome = render_roster(plan(strap, TABLE), strap.book, tmp_path, second, only={0})
    assert len(second.made) == 1 and listed(tmp_path) == [second.made[0], *two], "in the table's order"
    third = HereCrew()
    outcome = render_roster(plan(strap, TABLE), strap.book, tmp_path, third)
    assert len(third.made) == 1 and outcome.kept == 3 and read_delivery(tmp_path).complete


def test_a_row_that_changed_and_is_not_asked_for_stays_as_it_was_and_the_list_is_not_complete(strap, tmp_path):  # noqa: F811
    render_roster(plan(strap, TABLE), strap.book, tmp_path, HereCrew())
    assert read_delivery(tmp_path).complete
    films = {name: (tmp_path / name).read_bytes() for name in listed(tmp_path)}
    changed = TABLE.replace("Keeper", "Weaver").replace("Pilot", "Sailor")
    crew = HereCrew()
    outcome = render_roster(plan(strap, changed), strap.book, tmp_path, crew, only={3})
    delivery = read_delivery(tmp_path)
    assert crew.made == ["04-ada.mov"] and len(delivery.files) == 4 and not delivery.complete and not outcome.superseded
    assert next(one for one in delivery.files if one.file == "03-ida.mov").answers["role"] == "Keeper", "told as it was made"
    assert [name for name in films if (tmp_path / name).read_bytes() != films[name]] == ["04-ada.mov"]
    last = HereCrew()
    render_roster(plan(strap, changed), strap.book, tmp_path, last)
    assert last.made == ["03-ida.mov"] and read_delivery(tmp_path).complete
    unchanged = HereCrew()
    render_roster(plan(strap, changed), strap.book, tmp_path, unchanged, only={2})
    assert not unchanged.made and read_delivery(tmp_path).complete, "all is there as it is"


def test_what_a_stopped_run_did_not_come_to_stays_on_the_list(strap, tmp_path):  # noqa: F811
    render_roster(plan(strap, TABLE), strap.book, tmp_path, HereCrew())
    changed = plan(strap, TABLE.replace("Ringer", "Bell ringer"))
    outcome = render_roster(changed, strap.book, tmp_path, HereCrew(), told=lambda state: False)
    assert outcome.stopped and len(listed(tmp_path)) == 4 and not read_delivery(tmp_path).complete
    again = HereCrew()
    outcome = render_roster(changed, strap.book, tmp_path, again)
    assert len(again.made) <= 1 and outcome.kept >= 3, "films that are as they should be are not made again"


def test_only_rows_that_are_asked_for_are_left_out_or_in_the_way(strap, tmp_path):  # noqa: F811
    words = "Name,Role,Length\nBo Li,Ringer,26\nÍris,Cutter,never\nIda,Keeper,27\n"
    outcome = render_roster(plan(strap, words), strap.book, tmp_path, HereCrew(), only={0})
    assert not outcome.delivery.left_out
    outcome = render_roster(plan(strap, words), strap.book, tmp_path, HereCrew(), only={1, 2})
    assert [one.row for one in outcome.delivery.left_out] == [2]
    strange = tmp_path / "other"
    strange.mkdir()
    (strange / "03-ida.mov").write_bytes(b"theirs")
    assert in_the_way(plan(strap, words), strange) == ["03-ida.mov"]
    assert in_the_way(plan(strap, words), strange, {0}) == []


@pytest.mark.parametrize(("words", "places"), [("1", {0}), ("2-3", {1, 2}), (" 1 , 3–4", {0, 2, 3}), ("3-99", {2, 3}), ("2,2", {1})])
def test_rows_are_named_by_numbers(strap, words, places):  # noqa: F811
    assert rows_named(plan(strap, TABLE), words) == places


@pytest.mark.parametrize("words", ["", "x", "1,", "1-", "-3", "3-2", "99", "0", "1 2", "9" * 4000])
def test_what_names_no_rows_is_said(strap, words):  # noqa: F811
    with pytest.raises(AnswerError, match=r"names no rows|has no row"):
        rows_named(plan(strap, TABLE), words)


def test_rows_are_named_by_the_tables_numbers_with_empty_ones_counted(strap):  # noqa: F811
    assert rows_named(plan(strap, "Name,Role\nBo,Ringer\n,\nIda,Keeper\n"), "3") == {1}


# By hands


@pytest.fixture
def rows(bench, qtbot, tmp_path):  # noqa: F811
    (tmp_path / "four.csv").write_text(TABLE.replace(",26", ",76").replace(",27", ",77").replace(",28", ",78"))
    bench.open_path(tmp_path / "four.csv")
    looked_at(bench, qtbot)
    bench.view.setFocus()
    settle()
    return bench


def click(qtbot, bench, place, keys=Qt.KeyboardModifier.NoModifier, button=LEFT):  # noqa: F811
    qtbot.mouseClick(bench.view.viewport(), button, keys, middle(bench.view.area(place)))


def press(qtbot, bench, key, keys=Qt.KeyboardModifier.NoModifier):  # noqa: F811
    qtbot.keyClick(bench.view, key, keys)


def test_rows_are_chosen_by_clicks(rows, qtbot):
    session = rows.session
    click(qtbot, rows, 1)
    assert session.taken == (1,) and rows.render_button.text() == "Render 4"
    click(qtbot, rows, 3, CTRL)
    assert session.taken == (1, 3) and session.row == 3 and rows.render_button.text() == "Render 2 chosen"
    click(qtbot, rows, 1, CTRL)
    assert session.taken == (3,) and rows.render_button.text() == "Render 4"
    click(qtbot, rows, 3, CTRL)
    assert session.taken == (3,), "one is always chosen"
    click(qtbot, rows, 0)
    click(qtbot, rows, 2, SHIFT)
    assert session.taken == (0, 1, 2) and session.row == 2
    click(qtbot, rows, 1, SHIFT)
    assert session.taken == (0, 1), "from where choosing began"
    click(qtbot, rows, 2)
    assert session.taken == (2,) and not session.chosen


def test_rows_are_chosen_by_keys(rows, qtbot):
    session = rows.session
    press(qtbot, rows, Qt.Key.Key_Home)
    press(qtbot, rows, Qt.Key.Key_Down, SHIFT)
    press(qtbot, rows, Qt.Key.Key_Down, SHIFT)
    assert session.taken == (0, 1, 2) and "one of 3 chosen" in rows.view.accessibleDescription()
    assert rows.cells.words.text().startswith("Row 3 · one of 3 chosen")
    press(qtbot, rows, Qt.Key.Key_Up, SHIFT)
    assert session.taken == (0, 1)
    press(qtbot, rows, Qt.Key.Key_A, CTRL)
    assert session.taken == (0, 1, 2, 3) and rows.render_button.text() == "Render 4 chosen"
    press(qtbot, rows, Qt.Key.Key_Escape)
    assert session.taken == (session.row,) and not session.chosen
    press(qtbot, rows, Qt.Key.Key_C, CTRL)
    assert QApplication.clipboard().text() == "Name\tRole\tLength\nÍris\tCutter\t78\n"


def test_only_rows_that_are_shown_are_chosen_at_once(rows, qtbot):
    rows.rows_bar.search.setFocus()
    qtbot.keyClicks(rows.rows_bar.search, "er")
    settle()
    rows.view.setFocus()
    press(qtbot, rows, Qt.Key.Key_A, CTRL)
    assert rows.session.taken == (0, 1, 2), "Ringer, Cutter, Keeper"


def test_a_table_that_changes_keeps_what_is_chosen_as_far_as_it_is_there(rows, qtbot):
    rows.session.choose_all([1, 3], 3)
    rows.session.put_cell(0, 1, "Bell ringer")
    assert rows.session.taken == (1, 3)
    rows.session.choose_all([])
    assert rows.session.taken == (1, 3)
    rows.session.choose_all([99, -1])
    assert rows.session.taken == (1, 3)


def test_a_menu_on_rows(rows, qtbot):
    click(qtbot, rows, 0)
    click(qtbot, rows, 2, CTRL)
    click(qtbot, rows, 2, button=Qt.MouseButton.RightButton)
    assert rows.session.taken == (0, 2), "a menu on chosen rows leaves them chosen"
    menu = rows.menu_of_rows()
    words = [action.text() for action in menu.actions() if action.text()]
    assert words == ["Render these 2 rows", "Play it", "Put its cells right", "Copy these 2 rows", "Choose all that hold (4)",
                     "Choose all that are shown (4)", "Choose this one alone"]  # fmt: skip
    next(a for a in menu.actions() if a.text().startswith("Choose all that hold")).trigger()
    assert rows.session.taken == (0, 1, 2, 3)
    next(a for a in menu.actions() if a.text() == "Choose this one alone").trigger()
    assert not rows.session.chosen
    menu.deleteLater()
    click(qtbot, rows, 3, button=Qt.MouseButton.RightButton)
    assert rows.session.taken == (3,), "a menu on another row chooses that"
    told = []
    rows.view.asked.connect(told.append)
    rows.view.asked.disconnect(rows.ask)
    press(qtbot, rows, Qt.Key.Key_Menu)
    assert told == [rows.view.mapToGlobal(rows.view.area(3).center().toPoint())]


def test_chosen_rows_are_rendered_by_the_button_and_one_by_the_menu(rows, qtbot, tmp_path):
    click(qtbot, rows, 0)
    click(qtbot, rows, 3, CTRL)
    qtbot.mouseClick(rows.render_button, LEFT)
    assert rows.render_button.text() == "Stop"
    qtbot.waitUntil(lambda: rows.runner is None, timeout=60_000)
    assert listed(tmp_path / "films") == ["01-bo-li.mov", "04-ada.mov"]
    assert "2 files of 2 rows are made; 2 of 4 files are in" in rows.window().message.text()
    click(qtbot, rows, 1)
    menu = rows.menu_of_rows()
    menu.actions()[0].trigger()
    menu.deleteLater()
    qtbot.waitUntil(lambda: rows.runner is None, timeout=60_000)
    assert len(listed(tmp_path / "films")) == 3 and "files of one row are made" in rows.window().message.text()


def test_a_row_is_played_by_space_and_rests_when_another_is_chosen(rows, qtbot):
    picture = rows.cells.picture
    before = rows.window().session.frame
    press(qtbot, rows, Qt.Key.Key_Home)
    press(qtbot, rows, Qt.Key.Key_Space)
    assert picture.player.playing and picture.accessibleName() == "The chosen row, playing"
    qtbot.waitUntil(lambda: (picture.frame or 0) > 3, timeout=10_000)
    assert rows.window().session.frame == before, "the stage stays where it is"
    picture.grab()
    press(qtbot, rows, Qt.Key.Key_Space)
    assert not picture.player.playing and picture.frame is None
    qtbot.mouseClick(picture, LEFT)
    assert picture.player.playing
    press(qtbot, rows, Qt.Key.Key_Down)
    assert not picture.player.playing
    qtbot.mouseClick(picture, LEFT)
    rows.window().show_bench(0)
    assert not picture.player.playing, "nobody sees it any more"


def test_a_row_that_cannot_be_rendered_does_not_play(bench, qtbot):  # noqa: F811
    bench.view.setFocus()
    press(qtbot, bench, Qt.Key.Key_Home)
    press(qtbot, bench, Qt.Key.Key_Down)
    assert bench.session.row in bench.session.plan.faulty
    press(qtbot, bench, Qt.Key.Key_Space)
    assert not bench.cells.picture.player.playing
    menu = bench.menu_of_rows()
    assert {a.text(): a.isEnabled() for a in menu.actions() if a.text() in ("Render this row", "Play it")} == {
        "Render this row": False,
        "Play it": False,
    }
    menu.deleteLater()
    assert bench.view.place_at(QPointF(5, 5000)) is None
