"""Whose film is it: files of another template, another table, or of nobody that is known are never written over unasked."""

import json
from pathlib import Path

import msgspec
import pytest
from conftest import DEMO
from hands import settle
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMessageBox
from test_roster_rendering import HereCrew, plan, strap  # noqa: F401

from avlet.desktop.window.shell import BENCHES, ROSTER
from avlet.limits import MOST_ROWS
from avlet.roster.delivery import LIST, read_delivery, still_there, table_of
from avlet.roster.kinds import kind_named
from avlet.roster.names import unlike
from avlet.roster.rendering import in_the_way, in_the_way_words, render_roster
from avlet.roster.roster import Roster, Wanted, plan_of
from avlet.roster.sheet import open_sheet
from avlet.storage.bounded import bounded

STILL = (kind_named("still"),)


def from_table(strap, folder, words, **wanted):  # noqa: F811
    folder.mkdir(exist_ok=True, parents=True)
    (folder / "guests.csv").write_text(words)
    return plan_of(Roster.of(open_sheet(folder / "guests.csv"), strap.template, Wanted(kinds=STILL, **wanted)), strap.template)


def of_other(made):
    """The same plan for a template of another name."""
    return plan_of(made.roster, msgspec.structs.replace(made.templates[0], name="Other strap"))


def bytes_in(folder):
    return {path.name: path.read_bytes() for path in Path(folder).glob("*.png")}


def test_another_table_of_the_same_name_does_not_write_over_the_films_of_the_first(strap, tmp_path):  # noqa: F811
    films = tmp_path / "films"
    one = from_table(strap, tmp_path / "one", "Name,Role\nBo Li,Ringer\nAnn,Cook\n")
    two = from_table(strap, tmp_path / "two", "Name,Role\nBo Li,Singer\nIda,Cook\n")
    render_roster(one, strap.book, films, HereCrew())
    before = bytes_in(films)
    assert in_the_way(one, films) == [] and in_the_way(two, films) == ["01-bo-li.png"]
    outcome = render_roster(two, strap.book, films, HereCrew())
    assert bytes_in(films)["01-bo-li.png"] == before["01-bo-li.png"] and set(bytes_in(films)) == {*before, "02-ida.png"}
    assert [(o.row, "none of this roster's" in o.why) for o in outcome.delivery.left_out] == [(1, True)]
    again = HereCrew()
    render_roster(one, strap.book, films, again)
    assert again.made == [], "its own films are still known as its own"
    replaced = render_roster(two, strap.book, films, HereCrew(), replace=True)
    assert bytes_in(films)["01-bo-li.png"] != before["01-bo-li.png"] and not replaced.delivery.left_out
    assert in_the_way(two, films) == [] and in_the_way(one, films) == ["01-bo-li.png"]


def test_films_of_another_template_are_in_the_way_and_those_of_a_newer_one_of_the_name_are_not(strap, tmp_path):  # noqa: F811
    one = from_table(strap, tmp_path, "Name\nBo\n")
    render_roster(one, strap.book, tmp_path / "f", HereCrew())
    newer = plan_of(one.roster, msgspec.structs.replace(one.templates[0], length=one.templates[0].length + 1))
    assert in_the_way(newer, tmp_path / "f") == [] and in_the_way(of_other(one), tmp_path / "f") == ["01-bo.png"]


def test_the_list_keeps_what_belongs_to_others_until_that_is_gone(strap, tmp_path):  # noqa: F811
    films = tmp_path / "films"
    one, two = (from_table(strap, tmp_path / n, f"Name\n{n}\n") for n in ("one", "two"))
    for made in (one, two):
        render_roster(made, strap.book, films, HereCrew())
    found = read_delivery(films)
    assert [f.file for f in found.files] == ["01-two.png"] and [f.file for f in found.others] == ["01-one.png"]
    assert all(still_there(films, f) for f in (*found.files, *found.others)) and len({f.source for f in (*found.files, *found.others)}) == 2
    (films / "01-one.png").unlink()
    render_roster(two, strap.book, films, HereCrew())
    assert read_delivery(films).others == ()


def test_what_was_planned_and_not_finished_is_ones_own(strap, tmp_path):  # noqa: F811
    one = from_table(strap, tmp_path, "Name\nBo\nAnn\n")
    films = tmp_path / "films"
    render_roster(one, strap.book, films, HereCrew(), told=lambda state: not state.done)
    assert read_delivery(films).planned == ("01-bo.png", "02-ann.png")
    (films / "02-ann.png").write_bytes(b"half")
    assert in_the_way(one, films) == [] and in_the_way(of_other(one), films) == ["01-bo.png", "02-ann.png"]


def test_what_nobody_knows_is_in_the_way_as_well(strap, tmp_path):  # noqa: F811
    one = from_table(strap, tmp_path, "Name\nBo\n")
    (tmp_path / "f").mkdir()
    (tmp_path / "f" / "01-bo.png").write_bytes(b"mine")
    assert in_the_way(one, tmp_path / "f") == ["01-bo.png"]
    render_roster(one, strap.book, tmp_path / "f", HereCrew())
    assert (tmp_path / "f" / "01-bo.png").read_bytes() == b"mine"
    assert "“01-bo.png” is in “f”" in in_the_way_words(
        ["01-bo.png"], Path("f")
    ) and "2 files, the first of them “a”, are" in in_the_way_words(["a", "b"], Path("f"))


def test_the_command_line_asks_for_replace(avlet, tmp_path):
    for folder, role in (("one", "Ringer"), ("two", "Singer")):
        (tmp_path / folder).mkdir()
        (tmp_path / folder / "guests.csv").write_text(f"Name,Role\nBo Li,{role}\n")
    words = ("--codec", "still", "-o", tmp_path / "films")
    assert avlet("roster", "render", DEMO / "name-strap.avlet", tmp_path / "one" / "guests.csv", *words)[0] == 0
    before = bytes_in(tmp_path / "films")
    listed = (tmp_path / "films" / LIST).read_bytes()
    status, _, err = avlet("roster", "render", DEMO / "name-strap.avlet", tmp_path / "two" / "guests.csv", *words)
    assert status == 2 and "made of another template or table" in err and "--replace" in err
    assert bytes_in(tmp_path / "films") == before and (tmp_path / "films" / LIST).read_bytes() == listed, "nothing was touched"
    assert avlet("roster", "render", DEMO / "name-strap.avlet", tmp_path / "two" / "guests.csv", *words, "--replace")[0] == 0
    assert bytes_in(tmp_path / "films") != before


@pytest.mark.parametrize("answer", ["Yes", "Cancel"])
def test_the_window_asks_before_it_writes_over(window, qtbot, tmp_path, monkeypatch, answer):
    folder = tmp_path / "films"
    folder.mkdir()
    (tmp_path / "t.csv").write_text("Name\nBo\n")
    (folder / "01-bo.mov").write_bytes(b"mine")
    asked = []
    monkeypatch.setattr(
        QMessageBox,
        "question",
        lambda parent, title, words, *a: asked.append((parent, words)) or getattr(QMessageBox.StandardButton, answer),
    )
    window.show_bench(BENCHES.index(ROSTER))
    window.roster.open_path(tmp_path / "t.csv")
    window.roster.wanted.folder.line.setText(str(folder))
    settle()
    qtbot.mouseClick(window.roster.render_button, Qt.MouseButton.LeftButton)
    if answer == "Yes":
        qtbot.waitUntil(lambda: not window.roster.renders and (folder / LIST).exists() and read_delivery(folder).complete, timeout=60_000)
        qtbot.waitUntil(lambda: window.roster.runner is None)
    assert [(parent is window, "“01-bo.mov” is in" in words) for parent, words in asked] == [(True, True)]
    assert ((folder / "01-bo.mov").read_bytes() == b"mine") == (answer == "Cancel") and window.roster.runner is None


# Names


@given(st.lists(st.sampled_from(["a", "b", "a-2", "a-2-2", "b-3"]), max_size=30))
def test_names_are_unlike_each_other_as_counting_up_from_two_makes_them(names):
    taken, wanted = set(), []
    for name in names:
        unique, number = name, 2
        while unique in taken:
            unique, number = f"{name}-{number}", number + 1
        taken.add(unique)
        wanted.append(unique)
    made, changed = unlike(names)
    assert made == wanted and len(set(made)) == len(made)
    assert [place for place, _ in changed] == [n for n, (a, b) in enumerate(zip(names, made, strict=True)) if a != b]
    assert all(made[before] == names[place] for place, before in changed)


def test_as_many_equal_names_as_a_table_may_have_take_no_time_to_speak_of():
    made, changed = bounded(lambda: unlike(["ann"] * MOST_ROWS), "names", seconds=4)
    assert made[-1] == f"ann-{MOST_ROWS}" and len(changed) == MOST_ROWS - 1


# What a spreadsheet would work out


@pytest.mark.parametrize("sign", ["=", "+", "-", "@", "\t", "\r", "\n", "＝", "＋", "－", "＠"])
def test_cells_that_begin_a_formula_are_kept_from_it(strap, tmp_path, sign):  # noqa: F811
    """The signs of OWASP's page on CSV injection, full width ones among them."""
    made = render_roster(from_table(strap, tmp_path, "Name\nBo\n"), strap.book, tmp_path / "f", HereCrew()).delivery
    said = msgspec.structs.replace(made.files[0], said=(f"{sign}SUM(A1)",), kind=f"{sign}1+1|x", language="-5", codec="+4.5")
    words = table_of(msgspec.structs.replace(made, files=(said,))).decode()
    assert f"'{sign}SUM(A1)" in words and f"'{sign}1+1|x" in words and ",-5," in words and ",+4.5," in words


def test_the_list_is_what_its_schema_says(strap, tmp_path):  # noqa: F811
    import jsonschema

    from avlet.roster.delivery import schema

    for folder in ("one", "two"):
        render_roster(from_table(strap, tmp_path / folder, f"Name\n{folder}\n"), strap.book, tmp_path / "f", HereCrew())
    jsonschema.validate(json.loads((tmp_path / "f" / LIST).read_text()), schema())
