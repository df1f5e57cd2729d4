"""The Roster bench in the real window: by mouse and keys."""

import os

import msgspec
import pytest
from conftest import DEMO
from hands import settle
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QApplication, QFileDialog, QMessageBox
from test_interrupted import nobody

from avlet.desktop.window.shell import BENCHES, BUILD, ROSTER
from avlet.desktop.window.window import Window
from avlet.roster.delivery import read_delivery
from avlet.roster.time_left import TimeLeft

LEFT = Qt.MouseButton.LeftButton
TABLE = "Visitor,Role,Length,Bar colour\nBo Li,Ringer,26,\nÍris Þórdal,Reed cutter,60,#nothing\nIda,Keeper,28,#2F6A78\n"


@pytest.fixture
def window(qtbot, demo, tmp_path, monkeypatch):
    monkeypatch.setattr("avlet.desktop.window.window.demo_library", lambda: demo)
    made = Window(demo, tmp_path / "state")

    def before_close(closing):
        closing.session.mark_saved(tmp_path / "x")
        closing.roster_session.on_disk = closing.roster_session.roster.sheet if closing.roster_session.roster else None

    qtbot.addWidget(made, before_close_func=before_close)
    made.files.open_path(demo / "name-strap.avlet")
    made.resize(1280, 800)
    made.show()
    return made


@pytest.fixture
def bench(window, qtbot, tmp_path):
    """The bench with a small table in it, all rows looked at."""
    (tmp_path / "guests.csv").write_text(TABLE)
    qtbot.mouseClick(window.rail_buttons[BENCHES.index(ROSTER)], LEFT)
    window.roster.open_path(tmp_path / "guests.csv")
    window.roster.wanted.folder.line.setText(str(tmp_path / "films"))
    looked_at(window.roster, qtbot)
    return window.roster


def looked_at(bench, qtbot):
    qtbot.waitUntil(lambda: len(bench.session.said) == len(bench.session.roster.sheet.lines), timeout=20_000)


def drag(qtbot, widget, start, end):
    qtbot.mousePress(widget, LEFT, pos=start)
    qtbot.mouseMove(widget, (start + end) / 2)
    qtbot.mouseMove(widget, end)
    qtbot.mouseRelease(widget, LEFT, pos=end)


def middle(area):
    return area.center().toPoint()


def leads(bench):
    roster = bench.session.roster
    return {roster.sheet.heads[t.column].words: t.target for t in roster.threads}


def test_it_begins_with_a_table(window, qtbot, monkeypatch, tmp_path, demo):
    qtbot.mouseClick(window.rail_buttons[BENCHES.index(ROSTER)], LEFT)
    bench = window.roster
    assert bench.open_button.isVisible() and bench.open_button.hasFocus()
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(demo / "guests.xlsx"), ""))
    qtbot.mouseClick(bench.open_button, LEFT)
    assert bench.view.isVisible() and len(bench.view.rows) == 24 and "sheet Guests" in bench.kept_as.text()
    looked_at(bench, qtbot)
    assert bench.counts.text() == "24 rows · 23 hold · 1 cannot be rendered" and bench.render_button.text() == "Render 23"


def test_a_pasted_table_and_the_demos(window, qtbot):
    window.show_bench(BENCHES.index(ROSTER))
    bench = window.roster
    QApplication.clipboard().setText("nothing")
    qtbot.mouseClick(bench.paste_button, LEFT)
    assert bench.session.roster is None and "no rows below" in window.message.text()
    QApplication.clipboard().setText("Name\tRole\nBo\tRinger\n")
    qtbot.keyClick(bench.open_button, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert [line.cells for line in bench.session.roster.sheet.lines] == [("Bo", "Ringer")]
    bench.open_demo()
    assert len(bench.view.rows) == 24


def test_a_table_is_dropped_or_opened_from_anywhere(window, qtbot, tmp_path):
    (tmp_path / "a.csv").write_text("Name\nBo\n")
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(tmp_path / "a.csv"))])
    drop = QDropEvent(QPointF(20, 20), Qt.DropAction.CopyAction, data, LEFT, Qt.KeyboardModifier.NoModifier)
    window.dropEvent(drop)
    assert window.in_front(ROSTER) and window.roster_session.roster.sheet.name == "a.csv"
    (tmp_path / "b.csv").write_text("Name\nIda\n")
    data.setUrls([QUrl.fromLocalFile(str(tmp_path / "b.csv"))])
    window.roster.dropEvent(QDropEvent(QPointF(20, 20), Qt.DropAction.CopyAction, data, LEFT, Qt.KeyboardModifier.NoModifier))
    assert window.roster_session.roster.sheet.name == "b.csv"


def test_threads_are_drawn_by_hand(bench, qtbot):
    view = bench.threads
    assert leads(bench) == {"Role": "role", "Length": "@length", "Bar colour": "bar-colour"}
    drag(qtbot, view, middle(view.column_area(0)), middle(view.target_area(0)))
    assert leads(bench)["Visitor"] == "name" and bench.session.plan.answered(0, "").answers["name"] == "Bo Li"
    drag(qtbot, view, middle(view.column_area(1)), QPoint(view.width() // 2, view.height() - 3))
    assert "Role" not in leads(bench)
    drag(qtbot, view, middle(view.column_area(1)), middle(view.column_area(1)))
    assert "Role" not in leads(bench), "a click draws nothing"
    drag(qtbot, view, middle(view.target_area(0)), middle(view.target_area(1)))
    assert leads(bench)["Visitor"] == "role", "an end is taken elsewhere"
    qtbot.mouseClick(bench.window().undo_button, LEFT)
    assert leads(bench)["Visitor"] == "name"


def test_another_table_asks_before_cells_go_and_finds_its_threads_again(bench, qtbot, monkeypatch, tmp_path):
    """Cells that were put right are in no file; threads that were drawn come back with a table of the same heads."""
    session, window = bench.session, bench.window()
    drag(qtbot, bench.threads, middle(bench.threads.column_area(0)), middle(bench.threads.target_area(0)))
    drawn = leads(bench)
    session.put_cell(0, 1, "Weaver")
    (tmp_path / "b.csv").write_text("Name\nIda\n")
    asked = []
    monkeypatch.setattr(QMessageBox, "question", lambda *words: asked.append(words[2]) or QMessageBox.StandardButton.Cancel)
    assert not window.files.open_path(tmp_path / "b.csv") and "guests.csv" in asked[0]
    assert session.roster.sheet.name == "guests.csv" and session.roster.sheet.lines[0].cells[1] == "Weaver"
    QApplication.clipboard().setText("Name\tRole\nBo\tRinger\n")
    bench.paste()
    assert len(asked) == 2 and session.roster.sheet.lines[0].cells[1] == "Weaver"
    monkeypatch.setattr(QMessageBox, "question", lambda *_: QMessageBox.StandardButton.Discard)
    assert window.files.open_path(tmp_path / "b.csv") and session.roster.sheet.name == "b.csv"
    monkeypatch.setattr(QMessageBox, "question", lambda *_: asked.append("unasked") or QMessageBox.StandardButton.Cancel)
    assert window.files.open_path(tmp_path / "guests.csv") and "unasked" not in asked, "nothing of the other would be lost"
    assert leads(bench) == drawn


def test_threads_by_keys(bench, qtbot):
    view = bench.threads
    view.setFocus()
    qtbot.keyClick(view, Qt.Key.Key_Down)
    assert view.accessibleDescription() == "Role leads to Role"
    qtbot.keyClick(view, Qt.Key.Key_Delete)
    assert "Role" not in leads(bench) and view.accessibleDescription() == "Role leads to nothing"
    qtbot.keyClick(view, Qt.Key.Key_Up)
    names = {action.text(): action for action in view.menu().actions()}
    assert list(names)[-1] == "Nothing" and names["Nothing"].isChecked()
    names["Name"].trigger()
    assert leads(bench)["Visitor"] == "name" and view.accessibleDescription() == "Visitor leads to Name"


def test_a_cell_is_put_right(bench, qtbot, tmp_path):
    assert bench.session.said[1].verdict == "cannot be rendered"
    bench.view.setFocus()
    qtbot.keyClick(bench.view, Qt.Key.Key_Down)
    assert bench.session.row == 1 and "cannot be rendered" in bench.view.accessibleDescription()
    qtbot.keyClick(bench.view, Qt.Key.Key_Return)
    box = QApplication.focusWidget()
    assert box.accessibleName() == "Bar colour" and box.property("wrong") == "true" and "#nothing" in box.toolTip()
    qtbot.keyClicks(box, "#2f6a78")
    qtbot.keyClick(box, Qt.Key.Key_Return)
    looked_at(bench, qtbot)
    assert bench.session.said[1].verdict == "holds" and box.property("wrong") == "false"
    assert "#nothing" in (tmp_path / "guests.csv").read_text(), "its file is only written when asked"
    assert bench.table.text().startswith("guests.csv •")
    qtbot.keyClick(box, Qt.Key.Key_Escape)
    assert bench.view.hasFocus()
    qtbot.keyClick(bench.view, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    assert "#2f6a78" in (tmp_path / "guests.csv").read_text() and not bench.session.cells_unwritten
    qtbot.keyClick(bench.view, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    qtbot.keyClick(bench.view, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert bench.session.roster.sheet.lines[1].cells[3] == "#nothing"


def test_line_breaks_are_typed(bench, qtbot):
    box = bench.cells.boxes[1]
    box.setFocus()
    box.selectAll()
    qtbot.keyClicks(box, "Ringer\\nand more")
    qtbot.keyClick(box, Qt.Key.Key_Return)
    assert bench.session.roster.sheet.lines[0].cells[1] == "Ringer\nand more" and box.text() == "Ringer\\nand more"


def test_leaving_with_cells_that_no_file_has_is_asked_about(bench, qtbot, monkeypatch, tmp_path):
    bench.session.put_cell(0, 1, "Weaver")
    asked = []
    monkeypatch.setattr(QMessageBox, "question", lambda *words: asked.append(words[2]) or QMessageBox.StandardButton.Cancel)
    bench.window().close()
    assert bench.window().isVisible() and "guests.csv" in asked[0]
    monkeypatch.setattr(QMessageBox, "question", lambda *_: QMessageBox.StandardButton.Save)
    bench.window().close()
    assert not bench.window().isVisible() and "Weaver" in (tmp_path / "guests.csv").read_text()


def test_the_file_is_watched(bench, qtbot, tmp_path):
    bench.session.put_cell(2, 1, "Weaver")
    (tmp_path / "guests.csv").write_text(TABLE.replace("Bo Li", "Bo Lindqvist") + "New,Visitor,26,\n")
    qtbot.waitUntil(lambda: len(bench.session.roster.sheet.lines) == 4, timeout=10_000)
    cells = [line.cells for line in bench.session.roster.sheet.lines]
    assert cells[0][0] == "Bo Lindqvist" and cells[2][1] == "Weaver", "what was put right here is kept"
    (tmp_path / "guests.csv").write_text("Bar colour,Visitor\n#20435C,Bo\n")
    qtbot.waitUntil(lambda: len(bench.session.roster.sheet.lines) == 1, timeout=10_000)
    assert leads(bench) == {"Bar colour": "bar-colour"}
    (tmp_path / "guests.csv").write_text("")
    qtbot.waitUntil(lambda: "cannot be read now" in bench.window().message.text(), timeout=10_000)
    assert len(bench.session.roster.sheet.lines) == 1
    bench.window().undo()
    assert len(bench.session.roster.sheet.lines) == 4


def test_only_rows_that_changed_are_looked_at_again(bench, qtbot, monkeypatch):
    looked = []
    from avlet.desktop.roster import roster_session

    real = roster_session.look_at
    monkeypatch.setattr(roster_session, "look_at", lambda plan, book, line: looked.append(line) or real(plan, book, line))
    bench.session.put_cell(2, 1, "Weaver")
    looked_at(bench, qtbot)
    assert looked == [2]
    bench.session.session.edit("Longer", lambda t: msgspec.structs.replace(t, length=t.length + 1))
    looked_at(bench, qtbot)
    assert sorted(looked) == [0, 1, 2, 2], "another template: all"


def test_rows_are_filtered_and_sorted(bench, qtbot):
    bench.rows_bar.only.setCurrentText("those that cannot be rendered")
    bench.rows_bar.only.activated.emit(bench.rows_bar.only.currentIndex())
    assert bench.view.rows == [1] and bench.session.row == 1
    bench.rows_bar.only.setCurrentIndex(0)
    bench.rows_bar.only.activated.emit(0)
    bench.rows_bar.sort.setCurrentText("worst first")
    bench.rows_bar.sort.activated.emit(1)
    assert bench.view.rows == [1, 0, 2]
    for key, row in ((Qt.Key.Key_Home, 1), (Qt.Key.Key_End, 2), (Qt.Key.Key_Up, 0), (Qt.Key.Key_PageDown, 2)):
        qtbot.keyClick(bench.view, key)
        assert bench.session.row == row


def test_a_row_is_chosen_by_a_click_and_shown_at_any_moment(bench, qtbot):
    qtbot.mouseClick(bench.view.viewport(), LEFT, pos=middle(bench.view.area(2)))
    assert bench.session.row == 2 and bench.cells.boxes[0].text() == "Ida"
    rest = bench.view.drawn(0)
    bench.rows_bar.moment.setFocus()
    qtbot.keyClick(bench.rows_bar.moment, Qt.Key.Key_Home)
    assert bench.rows_bar.moment_words.text() == "at 0 % of their time" and bench.session.frame_of(bench.session.scene(0)) == 0
    first = bench.view.drawn(0)
    assert first != rest and first.pixelColor(30, 40) == first.pixelColor(2, 2), "nothing is there yet"
    qtbot.keyClick(bench.rows_bar.moment, Qt.Key.Key_0)
    assert bench.rows_bar.moment_words.text() == "at rest" and bench.view.drawn(0) == rest


def test_what_is_wanted(bench, qtbot):
    wanted = bench.wanted
    qtbot.mouseClick(wanted.kinds["still"], LEFT)
    qtbot.mouseClick(wanted.kinds["prores"], LEFT)
    assert [kind.id for kind in bench.session.roster.wanted.kinds] == ["still"]
    qtbot.mouseClick(wanted.kinds["still"], LEFT)
    assert wanted.kinds["still"].isChecked() and "at least" in bench.window().message.text()
    qtbot.mouseClick(wanted.frames[1080, 1080], LEFT)
    assert bench.session.roster.wanted.frames == ((1920, 1080), (1080, 1080)) and "and 1 more" in wanted.example.text()
    qtbot.mouseClick(wanted.frames[1920, 1080], LEFT)
    qtbot.mouseClick(wanted.frames[1080, 1080], LEFT)
    assert wanted.frames[1080, 1080].isChecked() and bench.session.roster.wanted.frames == ((1080, 1080),)
    wanted.pattern.setFocus()
    wanted.pattern.selectAll()
    qtbot.keyClicks(wanted.pattern, "{Visitor}-{Nobody}")
    qtbot.keyClick(wanted.pattern, Qt.Key.Key_Return)
    assert "no column “Nobody”" in bench.window().message.text() and wanted.pattern.text() == "{row}-{Role}"
    wanted.pattern.selectAll()
    qtbot.keyClicks(wanted.pattern, "{Visitor}")
    qtbot.keyClick(wanted.pattern, Qt.Key.Key_Return)
    assert wanted.example.text() == "bo-li.png"
    qtbot.mouseClick(wanted.kinds["over"], LEFT)
    assert wanted.plate.isVisible()
    wanted.plate.setCurrentIndex(2)
    wanted.plate.activated.emit(2)
    assert bench.session.roster.wanted.plate == "dusk"
    qtbot.mouseClick(wanted.empty, LEFT)
    assert bench.session.roster.wanted.empty


def test_languages(window, qtbot):
    window.show_bench(BENCHES.index(ROSTER))
    bench = window.roster
    bench.open_demo()
    assert list(bench.wanted.languages) == ["en", "cy"] and bench.view.words_of(0) == ["Bo Li", "Ringer"]
    qtbot.mouseClick(bench.wanted.languages["cy"], LEFT)
    assert len(bench.session.plan.items) == 46
    qtbot.mouseClick(bench.wanted.languages["en"], LEFT)
    assert bench.session.roster.languages == ("cy",) and bench.view.words_of(0) == ["Bo Li", "Modrwywr adar"]
    qtbot.mouseClick(bench.wanted.languages["cy"], LEFT)
    assert bench.wanted.languages["cy"].isChecked() and bench.session.roster.languages == ("cy",)


def rendered(bench, qtbot):
    qtbot.waitUntil(lambda: bench.runner is None, timeout=60_000)


def test_rendering_stopping_and_going_on(bench, qtbot, tmp_path):
    bench.session.tie(0, "name")
    qtbot.mouseClick(bench.wanted.kinds["still"], LEFT)
    qtbot.mouseClick(bench.wanted.kinds["prores"], LEFT)
    looked_at(bench, qtbot)
    qtbot.mouseClick(bench.render_button, LEFT)
    assert bench.render_button.text() == "Stop" and bench.bar.isVisible()
    rendered(bench, qtbot)
    assert sorted(f.file for f in read_delivery(tmp_path / "films").files) == ["01-bo-li.png", "03-ida.png"]
    assert bench.session.progress_of()[0] == (1.0, True, "") and "2 files" in bench.window().message.text()
    qtbot.mouseClick(bench.render_button, LEFT)
    rendered(bench, qtbot)
    assert "2 of them were there" in bench.window().message.text()


def test_a_render_is_stopped(bench, qtbot, tmp_path):
    bench.session.put_cell(0, 2, "900")
    bench.session.put_cell(2, 2, "901")
    looked_at(bench, qtbot)
    qtbot.mouseClick(bench.render_button, LEFT)
    qtbot.waitUntil(lambda: any(state.share > 0 for state in bench.session.states.values()), timeout=60_000)
    qtbot.mouseClick(bench.render_button, LEFT)
    rendered(bench, qtbot)
    assert "Stopped. 0 of 2 files" in bench.window().message.text() and bench.render_button.text() == "Render 2"
    assert sorted(p.name for p in (tmp_path / "films").iterdir()) == ["delivery.csv", "delivery.json"]


def test_a_cluster_that_is_not_there_is_said(bench, qtbot, monkeypatch):
    monkeypatch.setattr("avlet.roster.cluster._REACHING", 0.5)
    wanted = bench.wanted
    wanted.where.setCurrentText("a cluster")
    assert wanted.address.isVisible()
    qtbot.keyClicks(wanted.address, "tcp://127.0.0.1:9")
    qtbot.mouseClick(bench.render_button, LEFT)
    rendered(bench, qtbot)
    assert "No scheduler answers" in bench.window().message.text() and bench.render_button.isEnabled()


def test_closing_the_window_while_films_are_made(bench, qtbot, monkeypatch, tmp_path):
    bench.session.put_cell(0, 2, "900")
    bench.write()
    qtbot.mouseClick(bench.render_button, LEFT)
    qtbot.waitUntil(lambda: bool(bench.session.states), timeout=60_000)
    answers = [QMessageBox.StandardButton.Cancel, QMessageBox.StandardButton.Yes]
    monkeypatch.setattr(QMessageBox, "question", lambda *_: answers.pop(0))
    bench.window().session.mark_saved(tmp_path / "x")
    bench.window().close()
    assert bench.window().isVisible()
    bench.window().close()
    assert not bench.window().isVisible() and not answers
    assert not [p.name for p in (tmp_path / "films").iterdir() if p.name.startswith(".")]


def test_a_template_that_has_no_such_field_says_so(bench, qtbot):
    window = bench.window()
    window.session.mark_saved(window.state / "x")
    window.files.open_path(DEMO / "hectares.avlet")
    window.show_bench(BENCHES.index(ROSTER))
    assert "leads to a field" in bench.counts.text() and not bench.render_button.isEnabled() and bench.view.rows == []
    qtbot.keyClick(bench.view, Qt.Key.Key_Down)
    qtbot.keyClick(bench.view, Qt.Key.Key_Return)
    window.files.open_path(DEMO / "side-rule.avlet")
    labels = {f.label for f in window.session.template.card.fields}
    window.show_bench(BENCHES.index(ROSTER))
    assert "Role" in labels and leads(bench)["Role"] == "role", "threads suggest themselves for another template"
    window.show_bench(BENCHES.index(BUILD))


def test_ten_thousand_rows_are_opened_at_once_and_looked_at_where_one_looks(window, qtbot, tmp_path):
    (tmp_path / "many.csv").write_text("Name,Role\n" + "".join(f"Visitor {n},Role {n}\n" for n in range(10_000)))
    window.show_bench(BENCHES.index(ROSTER))
    bench = window.roster
    bench.open_path(tmp_path / "many.csv")
    assert bench.session.plan is None and "Working out 10,000 rows" in bench.counts.text(), "not in the window's thread"
    assert bench.wanted.example.text() == "", "said once"
    qtbot.waitUntil(lambda: len(bench.view.rows) == 10_000, timeout=20_000)
    bench.session.put_cell(3, 0, "Bo Li")
    bench.session.put_cell(3, 0, "Ann Li")
    qtbot.waitUntil(lambda: len(bench.view.rows) == 10_000 and bench.session.plan.rows[3].cells[0] == "Ann Li", timeout=20_000)
    bench.session.put_cell(4, 0, "First")
    bench.session._planner.wait()
    bench.session.put_cell(4, 0, "Second")
    settle()
    assert bench.session.plan is None or bench.session.plan.rows[4].cells[0] == "Second", (
        "what was worked out for the table as it was is let go"
    )
    qtbot.waitUntil(lambda: len(bench.view.rows) == 10_000 and bench.session.plan.rows[4].cells[0] == "Second", timeout=20_000)
    qtbot.keyClick(bench.view, Qt.Key.Key_End)
    qtbot.waitUntil(lambda: 9_999 in bench.session.said and 9_999 in bench.view._kept, timeout=20_000)
    assert len(bench.session.said) < 5_000 and "looked at …" in bench.counts.text()


def test_time_left_is_told_when_it_is_known():
    now = [0.0]
    left = TimeLeft(lambda: now[0])
    left.tell(0.0)
    assert left.words == ""
    for seconds, share, words in (
        (1.0, 0.01, ""), (10.0, 0.1, "about 2 minutes left"), (30.0, 0.5, "about 30 seconds left"), (34.0, 0.9, "a few seconds left"),
    ):  # fmt: skip
        now[0] = seconds
        left.tell(share)
        assert left.words == words, seconds
    slow = TimeLeft(lambda: now[0])
    slow.tell(0.0)
    now[0] += 100
    slow.tell(0.01)
    assert slow.words == "about 2.8 hours left"
    now[0] += 4
    slow.tell(0.011)
    assert slow.seconds is None or slow.seconds > 3600, "only what was done lately counts"


def test_cells_that_no_file_has_survive_a_crash(bench, qtbot, tmp_path, demo, monkeypatch):
    window = bench.window()
    window.keep_unsaved()
    assert not window.table_recovery.file.exists(), "nothing was changed"
    bench.session.put_cell(0, 1, "Weaver\nand more")
    window.keep_unsaved()
    kept = window.table_recovery.file.read_text().replace(f'"process":{os.getpid()}', f'"process":{nobody()}')
    (tmp_path / "later" / "recovery").mkdir(parents=True)
    (tmp_path / "later" / "recovery" / "x.json").write_text(kept)
    (tmp_path / "later" / "recovery" / "y.json").write_text(kept.replace('"rows":[[', '"rows":[[[],'))
    asked = []
    monkeypatch.setattr(
        QMessageBox,
        "question",
        lambda *w: asked.append(w[2]) or (QMessageBox.StandardButton.Open if "table" in w[2] else QMessageBox.StandardButton.Ignore),
    )
    later = Window(demo, tmp_path / "later")
    qtbot.addWidget(later, before_close_func=lambda w: setattr(w.roster_session, "on_disk", w.roster_session.roster.sheet))
    later.files.lost.offer()
    assert any("the table “guests.csv”" in words for words in asked) and any("cannot be read" in words for words in asked)
    assert later.in_front(ROSTER) and later.roster_session.roster.sheet.lines[0].cells[1] == "Weaver\nand more"
    assert later.roster_session.has_work and later.roster_session.path == tmp_path / "guests.csv"
    monkeypatch.setattr(QMessageBox, "question", lambda *_: QMessageBox.StandardButton.Save)
    assert later.roster.write() and not later.roster_session.has_work and "Weaver" in (tmp_path / "guests.csv").read_text()


def test_verdicts_follow_the_frames_that_are_wanted(bench, qtbot):
    """A line that fits the template's own frame does not fit an upright one: what is said of rows is said anew, and again when it is taken back."""
    session = bench.session
    session.put_cell(0, 0, "Ioana Crețu-Whitlock of the northern reaches and the southern marshes")
    looked_at(bench, qtbot)
    before, words = dict(session.said), {line: one.words for line, one in session.said.items()}
    upright = (360, 1920)
    session.want("Frames", frames=(upright,))
    assert session.said != before, "what was said of another frame is not left standing"
    looked_at(bench, qtbot)
    assert {line: one.words for line, one in session.said.items()} != words
    picture = bench.view.drawn(0)
    session.want("Frames", frames=())
    looked_at(bench, qtbot)
    assert {line: one.words for line, one in session.said.items()} == words and bench.view.drawn(0) != picture
