"""Rows in another order, looked for, and told twice: as values, on the bench by hands, and on the command line."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from test_roster_bench import bench, looked_at  # noqa: F401 - the fixture

from avlet.roster.ordering import found_in, in_order_of, said_before
from avlet.roster.sheet import Line


def lines(*rows):
    return [Line(n + 1, tuple(row)) for n, row in enumerate(rows)]


@pytest.mark.parametrize(
    ("words", "language", "order"),
    [
        (("b", "a", "", "c"), "", ["a", "b", "c", ""]), (("Row 10", "Row 9", "Row 100"), "", ["Row 9", "Row 10", "Row 100"]),
        (("Zoë", "Åsa", "Ada"), "sv", ["Ada", "Zoë", "Åsa"]), (("Zoë", "Åsa", "Ada"), "de", ["Ada", "Åsa", "Zoë"]), (("b", "B", "a"), "", ["a", "b", "B"]),
    ],
)  # fmt: skip
def test_rows_are_sorted_as_a_language_does(words, language, order):
    """CLDR's collation, by ICU: å is a letter of its own in Swedish and an a in German; figures by value."""
    table = lines(*((w,) for w in words))
    assert [words[row] for row in in_order_of(table, range(len(words)), 0, language)] == order


@given(st.lists(st.text(max_size=4), max_size=20))
def test_sorting_keeps_all_rows_and_equal_ones_in_their_order(cells):
    table = lines(*((cell,) for cell in cells))
    rows = in_order_of(table, range(len(cells)), 0)
    assert sorted(rows) == list(range(len(cells)))
    assert [r for r in rows if cells[r] == "a"] == [n for n, cell in enumerate(cells) if cell == "a"]


def test_every_word_has_to_stand_somewhere():
    table = lines(("Bo Li", "Ringer"), ("Ida", "Sluice keeper"), ("Bo Berg", "Keeper"))
    assert (
        found_in(table, range(3), "bo") == [0, 2]
        and found_in(table, range(3), " KEEPER  bo") == [2]
        and found_in(table, [1, 2], "") == [1, 2]
    )
    assert found_in(table, range(3), "x") == []


def test_rows_that_say_the_same_are_known_whatever_their_case_and_blanks():
    table = lines(("Bo Li", "Ringer"), ("bo  li ", "RINGER"), ("Bo Li", "Keeper"), ("Bo Li", "Ringer"))
    assert said_before(table) == {1: 0, 3: 0}


def test_rows_are_sorted_and_looked_for_on_the_bench(bench, qtbot):  # noqa: F811
    names = [row.cells[0] for row in bench.session.plan.rows]
    at = bench.rows_bar.sort.findText(f"by {bench.session.roster.sheet.heads[0].words}")
    bench.rows_bar.sort.setCurrentIndex(at)
    bench.rows_bar.sort.activated.emit(at)
    assert [names[row] for row in bench.view.rows] == sorted(names)
    bench.rows_bar.search.setFocus()
    QTest.keyClicks(bench.rows_bar.search, names[2][:3].upper())
    assert bench.view.rows == [2] and bench.session.row == 2 and "1 with" in bench.counts.text()
    qtbot.keyClick(bench.rows_bar.search, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    qtbot.keyClick(bench.rows_bar.search, Qt.Key.Key_Delete)
    assert len(bench.view.rows) == len(names) and "with “" not in bench.counts.text()
    bench.session.put_cell(1, 0, names[0])
    for column in range(1, len(bench.session.roster.sheet.heads)):
        bench.session.put_cell(1, column, bench.session.plan.rows[0].cells[column])
    looked_at(bench, qtbot)
    assert "1 twice" in bench.counts.text()


def test_one_fault_is_told_once_with_its_rows_and_duplicates_are_told(avlet, tmp_path):
    from test_command_grammar import STRAP

    (tmp_path / "t.csv").write_text("Name,Length\n" + "".join(f"Guest {n % 15},none\n" for n in range(16)) + "Bo Li,0\nIda,50\n")
    status, out, err = avlet("roster", "check", STRAP, tmp_path / "t.csv")
    assert (
        status == 1
        and out.count("cannot be rendered. ") == 2
        and "Rows 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12 and 4 more: cannot be rendered" in out
    )
    assert "Row 17, Bo Li: cannot be rendered" in out and "Row 16 says the same as row 1." in err
    told = json.loads(avlet("roster", "check", STRAP, tmp_path / "t.csv", "--json")[1])
    assert len(told["rows"]) == 18 and any("says the same" in note for note in told["notes"])


def test_what_no_row_wants_any_more_is_told_with_how_many(tmp_path):
    from avlet.roster.delivery import Delivery
    from avlet.roster.rendering import Outcome

    def said(superseded, removed=()):
        return Outcome(Delivery(), 0, 0, 0, (), superseded=superseded, removed=removed).superseded_words

    assert said(()) == "" and said(("a.mov",), ("a.mov",)) == ""
    assert (
        said(("a.mov",)) == "No row wants “a.mov” any more."
        and said(("a.mov", "b.mov", "c.mov"), ("c.mov",)) == "No row wants “a.mov” and 1 more files any more."
    )
