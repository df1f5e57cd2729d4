"""A copied table becomes titles: what goes where is seen before anything is done, and what is there already stays."""

import itertools

import pytest
from hands import in_a_dialog, settle
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication, QDialogButtonBox, QMenu

from avlet.desktop.dialogs.table_titles_dialog import TableTitlesDialog
from avlet.document.cut import Title, put_title
from avlet.errors import AnswerError
from avlet.limits import MOST_PASTED
from avlet.roster.threads import LENGTH, Thread
from avlet.roster.titles_in_rows import has_heads, sheet_of, threads_of, titles_in, with_titles

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def desk(window):
    window.show_desk()
    settle()
    return window.desk


def template_of(window, title_id="odalys"):
    return window.cut_session.template_of(window.cut_session.cut.title(title_id)).template


def pasting(window, words, act, title="odalys"):
    """Choose the menu's entry with a table on the clipboard; ``act`` does something with the dialog that opens."""
    QApplication.clipboard().setText(words)
    if title is not None:
        window.cut_session.select(title)
    menu = window.desk.commands.menu()
    entry = next(a for a in menu.actions() if a.text().startswith("One title a row"))
    assert entry.isEnabled()
    seen = []

    def looked(dialog):
        seen.append(dialog)
        act(dialog)

    in_a_dialog(TableTitlesDialog, looked, entry.trigger)
    menu.deleteLater()
    return seen


def cells(dialog, row):
    return [dialog.list.item(row, column).text() for column in range(dialog.list.columnCount())]


def press(qtbot, dialog):
    qtbot.mouseClick(dialog.make, LEFT)


def lead(qtbot, dialog, column, words):
    """Choose where a column goes by keys, as one would in any list of choices."""
    box = dialog.combos[column]
    box.setFocus()
    for _ in range(box.count()):
        qtbot.keyClick(box, Qt.Key.Key_Home)
    wanted = next(n for n in range(box.count()) if box.itemText(n) == words)
    for _ in range(wanted):
        qtbot.keyClick(box, Qt.Key.Key_Down)
    assert box.currentText() == words


def tick(qtbot, dialog, row):
    area = dialog.list.visualItemRect(dialog.list.item(row, dialog.list.columnCount() - 1))
    qtbot.mouseClick(dialog.list.viewport(), LEFT, pos=QPoint(area.left() + 12, area.center().y()))


def test_a_table_with_heads_is_seen_and_made(window, desk, qtbot):
    session, before = window.cut_session, window.cut_session.cut

    def act(dialog):
        assert dialog.heads.isChecked(), "its first row means fields"
        assert [box.currentText() for box in dialog.combos] == ["→ Role", "→ Name", "goes nowhere"]
        assert cells(dialog, 1) == ["Ringer", "Bo Li", "7", "a new title"] and dialog.list.rowCount() == 3
        assert dialog.told.text() == "2 new." and dialog.make.text() == "Make 2 titles"
        assert session.cut is before, "nothing is done yet"
        press(qtbot, dialog)

    assert pasting(window, "Job\tGuest\tShelf\nRinger\tBo Li\t7\nBoat hand\tÍris Þórdal\t8", act)
    made = session.cut.titles[-2:]
    assert [(t.answers["name"], t.answers["role"]) for t in made] == [("Bo Li", "Ringer"), ("Íris Þórdal", "Boat hand")]
    assert list(session.selection) == [made[0].id] and all(a.end <= b.start for a, b in itertools.pairwise(made))
    window.undo()
    assert session.cut == before


def test_without_heads_columns_go_in_the_order_of_the_card_and_elsewhere_by_choice(window, desk, qtbot):
    def act(dialog):
        assert not dialog.heads.isChecked()
        assert [box.currentText() for box in dialog.combos] == ["→ Name", "→ Role"]
        assert cells(dialog, 1)[:2] == ["Ringer", "Bo Li"] and dialog.list.rowCount() == 3
        lead(qtbot, dialog, 0, "→ Role")
        assert [box.currentText() for box in dialog.combos] == ["→ Role", "goes nowhere"], "one field has one column"
        lead(qtbot, dialog, 1, "→ Name")
        press(qtbot, dialog)

    pasting(window, "Ringer\tBo Li\nBoat hand\tÍris Þórdal", act)
    made = window.cut_session.cut.titles[-2:]
    assert [(t.answers["name"], t.answers["role"]) for t in made] == [("Bo Li", "Ringer"), ("Íris Þórdal", "Boat hand")]


def test_the_heading_row_is_switched_off_and_on(window, desk, qtbot):
    def act(dialog):
        qtbot.mouseClick(dialog.heads, LEFT, pos=QPoint(8, dialog.heads.height() // 2))
        assert not dialog.heads.isChecked() and cells(dialog, 1)[:2] == ["Name", "Role"] and dialog.make.text() == "Make 2 titles"
        qtbot.mouseClick(dialog.heads, LEFT, pos=QPoint(8, dialog.heads.height() // 2))
        assert dialog.list.rowCount() == 2 and dialog.make.text() == "Make 1 title"

    pasting(window, "Name\tRole\nBo Li\tRinger", act)


def test_rows_that_are_there_already_stay_unless_ticked(window, desk, qtbot):
    session = window.cut_session
    there = session.cut.title("odalys").answers
    words = f"Name\tRole\n{there['name']}\t{there['role']}\nBo Li\tBell ringer"

    def look(dialog):
        assert cells(dialog, 1)[2] == "there already, stays as it is" and cells(dialog, 2)[2] == "a new title"
        assert dialog.told.text() == "1 new, 1 already on the cut." and dialog.make.text() == "Make 1 title"
        press(qtbot, dialog)

    before = len(session.cut.titles)
    pasting(window, words, look)
    assert len(session.cut.titles) == before + 1

    def again(dialog):
        assert dialog.told.text() == "0 new, 2 already on the cut." and not dialog.make.isEnabled()
        tick(qtbot, dialog, 1)
        assert dialog.make.isEnabled() and dialog.make.text() == "Make 1 title"
        tick(qtbot, dialog, 2)
        tick(qtbot, dialog, 1)
        press(qtbot, dialog)

    pasting(window, words, again)
    assert len(session.cut.titles) == before + 2 and session.cut.titles[-1].answers["name"] == "Bo Li"


def test_what_cannot_be_read_is_told_and_left_out(window, desk, qtbot):
    session = window.cut_session

    def act(dialog):
        assert "many" in cells(dialog, 2)[0] and "takes a number, not “many”" in cells(dialog, 2)[-1]
        assert dialog.told.text().startswith("1 new, 1 cannot be read and is left out.")
        tick(qtbot, dialog, 2)
        assert dialog.make.text() == "Make 1 title", "it cannot be ticked"
        press(qtbot, dialog)

    pasting(window, "7\t ha\tnew\nmany\t ha\told", act, "hectares")
    assert session.title.answers["number"] == 7


def test_numbers_are_read_in_every_writing(window, desk, qtbot):
    pasting(window, "1.284,5\t ha\tnew\n3,250,000\t ha\told", lambda dialog: press(qtbot, dialog), "hectares")
    cut, first = window.cut_session.cut, window.cut_session.title
    following = next(t for t in cut.titles if t.track == first.track and t.start > first.start)
    assert [t.answers["number"] for t in (first, following)] == [1284.5, 3_250_000]


def test_a_column_of_lengths_is_taken_at_the_cuts_rate(window, desk, qtbot):
    pasting(window, "Name\tLength\nBo Li\t4 s\nÍris Þórdal\t", lambda dialog: press(qtbot, dialog))
    cut = window.cut_session.cut
    first, second = cut.titles[-2:]
    assert (first.length, second.length) == (round(4 * cut.frame.fps), cut.title("odalys").length)
    assert "length" not in first.answers


def test_when_no_column_goes_anywhere_nothing_can_be_made(window, desk, qtbot):
    def act(dialog):
        lead(qtbot, dialog, 0, "goes nowhere")
        assert dialog.told.text() == "No column goes anywhere yet: choose where in the first row." and not dialog.make.isEnabled()

    pasting(window, "Bo Li\nÍris Þórdal", act)


def test_what_is_no_table_is_said(window, desk):
    refused = []
    window.cut_session.refused.connect(refused.append)
    for words in ("", "\n".join(f"A {n}" for n in range(MOST_PASTED + 1))):
        with pytest.raises(AssertionError, match="no such dialog"):
            pasting(window, words, lambda dialog: None)
    assert len(refused) == 2 and "no table on the clipboard" in refused[0] and f"at most {MOST_PASTED}" in refused[1]
    QApplication.clipboard().setText("Bo Li\tRinger")
    window.cut_session.select(None)
    desk.commands.paste_table()
    assert "Select a title first" in refused[-1]


def test_titles_stand_where_the_one_they_are_like_stands(window, desk, qtbot):
    session = window.cut_session
    session.edit("Place", lambda cut: with_place(cut, "odalys"))
    pasting(window, "Bo Li\tRinger", lambda dialog: press(qtbot, dialog))
    made = session.cut.titles[-1]
    assert (made.x, made.y, made.scale, made.marked, made.before, made.after) == (40, -30, 80, {}, 0, 0)
    assert made.number not in {t.number for t in session.cut.titles[:-1] if t.number}


def with_place(cut, title_id):
    from avlet.document.cut import change_titles

    return change_titles(cut, [title_id], x=40, y=-30, scale=80)


@pytest.mark.parametrize(("rows", "heads"), [
    ([["Name", "Role"], ["a", "b"]], True), ([["Guest", "Job", "Bar"], ["a", "b", "c"]], True), ([["Name", "Shelf"], ["a", "b"]], True),
    ([["Name", "Shelf", "Row"], ["a", "b", "c"]], False), ([["Bo Li", "Ringer"], ["a", "b"]], False), ([["Name", "Role"]], False),
    ([["", ""], ["a", "b"]], False),
])  # fmt: skip
def test_heads_are_known_by_what_they_say(window, rows, heads):
    assert has_heads(rows, template_of(window)) is heads


def test_rows_by_themselves(window):
    template, cut = template_of(window), window.cut_session.cut
    like = cut.title("odalys")
    sheet = sheet_of([["Bo Li"], ["", ""], ["Ioana", "Head"]], False)
    threads = threads_of(sheet, template, False)
    assert threads == (Thread(0, "name"), Thread(1, "role"))
    rows = titles_in(sheet, template, threads, like, cut)
    assert [(r.number, r.answers) for r in rows] == [(1, {"name": "Bo Li"}), (3, {"name": "Ioana", "role": "Head"})]
    made, ids = with_titles(cut, template, like, rows)
    assert made.title(ids[0]).answers == {**like.answers, "name": "Bo Li"}, "an empty cell leaves what the title has"
    with pytest.raises(AnswerError, match="has no rows below its heads"):
        sheet_of([["Name"]], True)
    long = titles_in(sheet_of([["Name", "Length"], ["Bo", "999999999"]], True), template, (Thread(0, "name"), Thread(1, LENGTH)), like, cut)
    assert long[0].becomes == "cannot be read" and "no length" in long[0].said
    said = Title("said", like.template, 9_000, 50, {**like.answers, "name": "Bo Li"})
    again = titles_in(sheet, template, threads, like, put_title(cut, said))
    assert (again[0].becomes, again[0].title) == ("there already", "said"), "an empty cell says what the title that it is like says"
    other = titles_in(sheet, template, threads, Title("x", "other.avlet", 0, 10), cut)
    assert {row.becomes for row in other} == {"new"}


def test_the_dialog_is_left_by_escape_and_its_buttons_are_there(window, desk, qtbot):
    before = window.cut_session.cut

    def act(dialog):
        assert dialog.findChild(QDialogButtonBox) is not None and all(box.accessibleName() for box in dialog.combos)
        qtbot.keyClick(dialog, Qt.Key.Key_Escape)

    pasting(window, "Bo Li\tRinger", act)
    assert window.cut_session.cut is before
    assert not window.findChildren(QMenu, "left open")
