"""The Proof bench in the real window: by mouse and keys, what is chosen, mended, meant so and written."""

import dataclasses
import json

import msgspec
import numpy as np
import pytest
from conftest import DEMO
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QFileDialog, QInputDialog, QPushButton

from avlet.desktop.window.shell import BENCHES, BUILD, PROOF
from avlet.desktop.window.window import Window
from avlet.document.editing import edits
from avlet.document.faults.checking import check
from avlet.document.looks.paints import Solid
from avlet.document.parts import Fit, Place, ShapePart, TextPart
from avlet.document.template import Frame, Template
from avlet.document.time.eases import CubicBezier
from avlet.document.time.moves import Move
from avlet.paint.scene import Scene
from avlet.review.awkward import rows_of
from avlet.review.checks import contrast, inside, jumps
from avlet.review.looked import Looked
from avlet.review.mends import mends
from avlet.review.proof_sheet import MOMENTS, moments_of
from avlet.review.proved_rows import ProvedRows
from avlet.review.traces import traces_of
from avlet.storage.package import open_template

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture(scope="module")
def strap():
    return open_template(DEMO / "name-strap.avlet")


@pytest.fixture
def window(qtbot, demo, tmp_path):
    made = Window(demo, tmp_path / "state")
    qtbot.addWidget(made, before_close_func=lambda w: w.session.mark_saved(tmp_path / "x"))
    made.files.open_path(demo / "name-strap.avlet")
    made.resize(1280, 800)
    made.show()
    return made


FEW = ("As designed", "Longest", "Two lines", "Nothing", "Widest letters")


@pytest.fixture(scope="module")
def known():
    """What was found of rows by the tests before: it counts for the same rows, in whatever window."""
    kept = ProvedRows()
    kept.use = lambda book: None  # the demo's own fonts, each time
    return kept


@pytest.fixture
def proof(window, qtbot, monkeypatch, known):
    """The bench with a proof of the name strap in it, of few rows."""
    monkeypatch.setattr("avlet.desktop.proof.proof_model.ProvedRows", lambda: known)

    def few(template):
        return [row for row in rows_of(template) if row.name in FEW]

    monkeypatch.setattr("avlet.review.proof.rows_of", few)
    monkeypatch.setattr("avlet.desktop.proof.proof_model.rows_of", few)
    qtbot.mouseClick(window.rail_buttons[BENCHES.index(PROOF)], LEFT)
    bench = window.proof
    qtbot.waitUntil(lambda: bench.model.proof is not None, timeout=120_000)
    return bench


def words_of(bench):
    return [told.finding.words for told in bench.model.told()]


def test_nothing_is_proved_before_it_is_looked_at(window):
    assert len(window.stack.made) == 1, "Build alone is made"


def test_what_was_found_leads_to_its_cell_and_part(window, proof, qtbot):
    assert proof.findings.head.text() == "1 break · 2 to look at" and proof.findings.list.count() == len(proof.model.told())
    assert "✓ No part jumps" in proof.findings.holds.text() and "Words stay inside" not in proof.findings.holds.text()
    assert proof.model.rows[proof.model.row].name == "Widest letters" and proof.model.moment == MOMENTS.index("arrived")
    assert proof.panel.head.text() == "Widest letters · frame 25" and not proof.panel.picture.pixmap().isNull()
    item = proof.findings.list.visualItemRect(proof.findings.list.item(2))
    qtbot.mouseClick(proof.findings.list.viewport(), LEFT, pos=item.center())
    assert proof.model.chosen.check == "reading" and "words" in proof.panel.words.text()
    proof.model.choose_finding(next(f for f in proof.model.findings if f.level == "breaks"))
    qtbot.mouseClick(proof.panel.build, LEFT)
    assert window.in_front(BUILD) and window.session.selected == "name"


def test_the_sheet_is_walked_by_keys_and_by_mouse(proof, qtbot):
    proof.model.choose(0, 0)
    proof.sheet.setFocus()
    for key in (Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Up, Qt.Key.Key_Up):
        qtbot.keyClick(proof.sheet, key)
    assert (proof.model.row, proof.model.moment) == (0, 1) and "As designed, early" in proof.sheet.accessibleDescription()
    for _ in range(60):
        qtbot.keyClick(proof.sheet, Qt.Key.Key_Down)
    assert proof.model.row == len(proof.model.rows) - 1
    area = proof.sheet.cell_area(proof.model.row, 1)
    assert area.top() > 0 and area.bottom() <= proof.sheet.viewport().height(), "it is brought into sight"
    above = proof.sheet.cell_area(proof.model.row - 1, 3).center().toPoint()
    qtbot.mouseClick(proof.sheet.viewport(), LEFT, pos=above)
    assert (proof.model.row, proof.model.moment) == (len(proof.model.rows) - 2, 3)
    assert proof.sheet.cell_at(QPointF(2, 2)) is None


def test_keys_of_the_window_go_to_the_sheet(window, proof, qtbot):
    qtbot.waitUntil(window.isActiveWindow)
    proof.model.choose(0, 0)
    frame, handle = window.session.frame, window.windowHandle()
    for key in (Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_Space):
        qtbot.keyClick(handle, key)
    assert (proof.model.row, proof.model.moment) == (1, 1) and window.session.frame == frame
    qtbot.keyClick(handle, Qt.Key.Key_End)
    assert proof.model.moment == 5
    qtbot.keyClick(handle, Qt.Key.Key_Home)
    assert proof.model.moment == 0
    proof.model.choose_finding(next(f for f in proof.model.findings if f.level == "breaks"))
    qtbot.keyClick(handle, Qt.Key.Key_Return)
    assert window.in_front(BUILD) and window.session.selected == "name"


def test_cells_are_drawn_marked_and_show_the_whole_frame_if_wanted(proof, qtbot):
    row = next(n for n, one in enumerate(proof.model.rows) if one.name == "Widest letters")
    proof.model.choose(row, 2)
    qtbot.waitUntil(lambda: (row, 2) in proof.sheet._kept and not proof.sheet._painting.isActive(), timeout=20_000)
    assert [f.part_id for f in proof.sheet.cell(row, 2).marked if f.level == "breaks"] == ["name"]
    assert proof.sheet.cell(row, 0).marked == () and proof.sheet.cell(0, 2).marked == ()
    near = proof.sheet.cell(0, 2).view
    qtbot.mouseClick(proof.whole, LEFT)
    assert proof.sheet.cell(0, 2).view.w > near.w and tuple(proof.sheet.cell(0, 2).view) == (0, 0, 1920, 1080)


def test_a_row_over_time_and_a_click_on_it(proof, qtbot):
    proof.model.choose(0, 2)
    qtbot.waitUntil(lambda: proof.model.traces is not None, timeout=20_000)
    time = proof.traces._time(proof.model.traces)
    last = moments_of(proof.model.scene(0))[5]
    qtbot.mouseClick(proof.traces, LEFT, pos=QPoint(round(time.x_of(last)), 100))
    assert proof.model.moment == 5
    proof.traces.grab()


def test_a_mend_is_one_click_one_undo_and_is_proved_anew(window, proof, qtbot):
    before = window.session.template
    buttons = {b.text(): b for b in proof.panel.findChildren(QPushButton)}
    assert {"let Name wrap in 2 lines", "let Name shrink to 80 %"} <= set(buttons) and any(b.startswith("limit “Name” to") for b in buttons)
    qtbot.mouseClick(buttons["let Name shrink to 80 %"], LEFT)
    assert window.session.template.part("name").room is not None
    qtbot.waitUntil(lambda: proof.model.of is window.session.template, timeout=120_000)
    assert not any(f.level == "breaks" for f in proof.model.findings) and "0 break" in proof.findings.head.text()
    window.undo()
    assert window.session.template == before
    qtbot.waitUntil(lambda: proof.model.of is window.session.template, timeout=120_000)
    assert "1 break" in proof.findings.head.text()


def test_what_is_meant_so_says_why(window, proof, qtbot, monkeypatch):
    monkeypatch.setattr(QInputDialog, "getText", lambda *a: ("A test card runs off on purpose.", True))
    qtbot.mouseClick(proof.panel.meant, LEFT)
    assert window.session.template.proofing.meant[0].reason == "A test card runs off on purpose."
    qtbot.waitUntil(lambda: proof.model.of is window.session.template, timeout=120_000)
    assert "0 break" in proof.findings.head.text() and "on purpose" in proof.findings.holds.text()
    monkeypatch.setattr(QInputDialog, "getText", lambda *a: ("  ", True))
    kept = window.session.template
    proof.panel.mean_it()
    assert window.session.template is kept, "a reason is needed"


def test_reports_are_written_and_what_cannot_be_written_is_said(window, proof, tmp_path, monkeypatch):
    for suffix in (".html", ".pdf", ".json"):
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, s=suffix: (str(tmp_path / f"report{s}"), ""))
        proof.write_report(suffix)
        assert (tmp_path / f"report{suffix}").stat().st_size > 1_000
    assert json.loads((tmp_path / "report.json").read_text())["template"] == "Name strap"
    said = []
    window.session.refused.connect(said.append)
    proof.write_to(tmp_path / "no\0file.json", ".json")
    assert len(said) == 1 and "report is in" not in said[0]


def test_leaving_the_bench_stops_its_work(window, proof, qtbot):
    window.session.write({"name/size": 90.0})
    assert proof.model._timer.isActive()
    window.show_bench(0)
    assert not proof.model._timer.isActive() and proof.model._runner is None
    window.show_bench(BENCHES.index(PROOF))
    qtbot.waitUntil(lambda: proof.model.of is window.session.template, timeout=120_000)


# Mends and traces by themselves


def offered(template, book, check, answers=None, part_id=None):
    """The worst finding of a check, and what is offered to mend it."""
    looked = Looked(Scene(template, book, answers or {}), "x")
    found = [f for f in check.run(looked) if f.level != "told" and part_id in (None, f.part_id)]
    assert found
    return found[0], {mend.words: mend for mend in mends(found[0], looked)}


def holds_then(mend, finding, template, book, check, answers=None):
    """Whether the check finds nothing of the part once that was done."""
    answers = dict(answers or {})
    if mend.longest is not None:
        answers[mend.longest[0]] = answers[mend.longest[0]][: mend.longest[1]]
    made = mend.change(template)
    assert msgspec.json.decode(msgspec.json.encode(made), type=type(made)) == made
    return not [f for f in check.run(Looked(Scene(made, book, answers), "x")) if f.part_id == finding.part_id and f.level != "told"]


def test_each_mend_mends(strap):
    answers = {"name": "WM " * 13}
    worst, found = offered(strap.template, strap.book, inside, answers, "name")
    assert [words.rpartition(" ")[0] for words in found][:1] == ["let Name wrap in 2"] and len(found) == 3
    for mend in found.values():
        assert holds_then(mend, worst, strap.template, strap.book, inside, answers), mend.words


def lone(text, *behind, **values):
    given = {"text": text, "size": 60.0, "across": Place(gap=200), "down": Place(gap=400), "fill": Solid("#FFFFFF"), **values}
    return check(Template(parts=(*behind, TextPart(id="words", name="Words", **given)), frame=Frame(1920, 1080, "25/1")))


def plated(most=500.0):
    fit = Fit(("words",), left=30, right=30, top=20, bottom=20, most_width=most)
    return ShapePart(id="plate", name="Plate", fit=fit, across=None, down=None)


def test_shrinking_is_offered_as_little_as_it_takes_within_the_plate_that_was_left(strap):
    """A plate of 500 px at most: a room as wide as title-safe would leave the words out of it."""
    template = lone("Head of all programmes", plated(), size=80.0)
    worst, found = offered(template, strap.book, inside)
    assert worst.verdict == "out of its plate"
    (shrink,) = [mend for words, mend in found.items() if "shrink" in words]
    assert holds_then(shrink, worst, template, strap.book, inside)
    room = shrink.change(template).part("words").room
    assert room.width == 440 and room.smallest_size == 45
    words = template.part("words")
    less = msgspec.structs.replace(words, room=msgspec.structs.replace(room, smallest_size=60.0))
    made = edits.replace(template, parts=(plated(), less))
    assert [f for f in inside.run(Looked(Scene(made, strap.book), "x")) if f.part_id == "words"], "less does not do"


@pytest.mark.parametrize(("behind", "ways"), [("#5B8DB8", {"darker"}), ("#20435C", {"lighter"}), ("#F3EFE7", {"darker"})])
def test_a_colour_is_only_offered_where_it_was_measured_to_be_read(strap, behind, ways):
    plate = ShapePart(id="plate", name="Plate", width=900, height=200, across=Place(gap=180), down=Place(gap=360), fill=Solid(behind))
    template = lone("Odalys Brandt", plate, fill=Solid(behind), size=20.0)
    worst, found = offered(template, strap.book, contrast)
    assert {words.rpartition(" ")[2] for words in found} == ways
    for mend in found.values():
        assert holds_then(mend, worst, template, strap.book, contrast)


def test_a_mend_that_would_not_do_is_not_offered(strap):
    """Nothing makes one word of forty letters fit into a plate of 200 px."""
    template = lone("W" * 40, plated(200.0), size=80.0)
    _, found = offered(template, strap.book, inside)
    assert found == {}


def test_a_jump_is_mended_by_a_softer_a_longer_or_an_earlier_move(strap):
    quick = Move(x=-900.0, frames=9, ease=CubicBezier(1.0, 0.0, 0.98, 0.02))
    template = lone("Odalys", way_in=(quick,))
    worst, found = offered(template, strap.book, jumps)
    assert worst.verdict == "jumps" and "let Words move with a soft both" in found
    for mend in found.values():
        assert holds_then(mend, worst, template, strap.book, jumps), mend.words
    looked = Looked(Scene(template, strap.book), "x")
    leaving = dataclasses.replace(worst, first=template.length - 10, last=template.length - 10)
    assert [m.words for m in mends(leaving, looked)] == list(found), "the way back is that of the way in"
    held = dataclasses.replace(worst, first=60, last=60)
    assert mends(held, looked) == [], "while it is held nothing runs that could be softer"


def test_the_part_is_shown_with_the_row_and_at_the_frame(window, proof, qtbot):
    """From a made-up row to Build: its answers are tried there, and the frame is the one in which it is so."""
    model = proof.model
    qtbot.waitUntil(lambda: model.proof is not None, timeout=60_000)
    finding = next(f for f in model.findings if f.part_id and f.sample not in [s.name for s in window.session.template.samples])
    row = next(n for n, one in enumerate(model.rows) if one.name == finding.sample)
    model.choose(row, 0)
    model.chosen = finding
    proof.panel.show_cell()
    before = window.session.template
    qtbot.mouseClick(proof.panel.build, Qt.MouseButton.LeftButton)
    assert window.stack.currentIndex() == 0 and window.session.selected == finding.part_id
    shown = window.session.scene().bound.answers
    assert all(shown[name] == value for name, value in model.rows[row].answers.items())
    assert finding.first is None or model.rows[row].length is not None or window.session.frame == finding.first
    assert window.session.template is before, "trying changes nothing"


def test_traces_are_those_of_the_title(strap):
    looked = Looked(Scene(strap.template, strap.book, {"name": "WM " * 13}), "x")
    traces = traces_of(looked)
    assert traces.shows[0] == traces.shows[-1] == 0 < traces.shows.max() < 1
    assert traces.fastest[60] == 0 and traces.fastest.max() > 10
    ink = looked.scene.rest.parts["name"].ink
    assert traces.outside.max() == pytest.approx(ink.right - 1824, abs=1.0) and traces.outside[3] == 0
    assert 4 < traces.contrast.min() < 21 and len(traces.contrast) == len(traces.contrast_at)


def menu_of(bench):
    bench.choosing.menu().aboutToShow.emit()
    return {action.text(): action for action in bench.choosing.menu().actions() if action.text()}


def again(bench, qtbot):
    qtbot.waitUntil(lambda: bench.model.of is bench.session.template and bench.model._runner is None, timeout=60_000)


def test_moments_are_chosen(proof, qtbot):
    proof.session.go_to(33)
    menu_of(proof)["Early"].trigger()
    menu_of(proof)["Frame 33, which is on the stage"].trigger()
    assert proof.model.moments == ("first", "arrived", "middle", "leaving", "last", 33)
    proof.sheet.setFocus()
    qtbot.keyClick(proof.sheet, Qt.Key.Key_End)
    assert (proof.model.frame == 33 and "33" in proof.sheet.accessibleDescription()) or proof.model.moment == 5
    for name in ("First", "Arrived", "Middle", "Leaving", "Last", "Frame 33"):
        menu_of(proof)[name].trigger()
    assert proof.model.moments == (33,), "one stays"


def test_rows_are_chosen_and_what_is_known_is_not_proved_again(proof, qtbot, monkeypatch):
    looked = []
    monkeypatch.setitem(globals(), "FEW", (*FEW, "Longest 2"))
    from avlet.review import proof as proving

    real = proving._worked
    monkeypatch.setattr(proving, "_worked", lambda t, b, rows, *more: looked.append([r.name for r in rows]) or real(t, b, rows, *more))
    menu_of(proof)["Made-up answers"].trigger()
    again(proof, qtbot)
    assert {row.kind for row in proof.model.proof.rows} == {"as designed", "sample"} and looked[-1] == []
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("Longest", True))
    proof.session.show_answers("two-lines")
    menu_of(proof)["Keep the answers on the stage as a row…"].trigger()
    again(proof, qtbot)
    (own,) = proof.session.template.proofing.rows
    assert own.name == "Longest 2" and own.answers["name"] == "Teodor Våge and\nNkechi Arundel"
    assert [names for names in looked if names] == [["Longest 2"]]
    proof.model.choose([row.name for row in proof.model.rows].index("Longest 2"), 0)
    menu_of(proof)["Remove “Longest 2”"].trigger()
    again(proof, qtbot)
    assert not proof.session.template.proofing.rows and [names for names in looked if names] == [["Longest 2"]]


def test_rows_from_a_table_are_kept(proof, qtbot, monkeypatch, tmp_path):
    (tmp_path / "rows.csv").write_text("Who,Name\nHer,Ida\nHim,Bo\n")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(tmp_path / "rows.csv"), ""))
    menu_of(proof)["Rows from a table…"].trigger()
    assert [row.answers for row in proof.session.template.proofing.rows] == [{"name": "Ida"}, {"name": "Bo"}]
    (tmp_path / "rows.csv").write_text("Who\nHer\n")
    menu_of(proof)["Rows from a table…"].trigger()
    assert "no column that is a field" in proof.window().message.text() and len(proof.session.template.proofing.rows) == 2


def test_the_sheet_follows_the_template(proof, qtbot):
    """A colour that is changed while the bench is in front is in every cell of the sheet, and its findings are of the new one."""
    sheet, session = proof.sheet, proof.session

    def painted(*colour):
        """Px of the sheet in a colour of the plate: cells are drawn one after another."""
        image = sheet.viewport().grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
        pixels = np.frombuffer(image.constBits().asarray(image.sizeInBytes()), np.uint8).reshape(image.height(), -1, 4)[..., :3].astype(int)
        return int((np.abs(pixels[..., ::-1] - colour).max(axis=2) < 8).sum())

    qtbot.waitUntil(lambda: proof.model.of is session.template, timeout=120_000)
    of, designed, light = proof.model.proof, (0x20, 0x43, 0x5C), (0xE8, 0xF0, 0xC0)
    qtbot.waitUntil(lambda: painted(*designed) > 2_000, timeout=30_000)
    session.write({"plate/fill.colour": "#E8F0C0"})
    qtbot.waitUntil(lambda: proof.model.proof is not of and proof.model.of is session.template, timeout=120_000)
    qtbot.waitUntil(lambda: painted(*light) > 2_000 > painted(*designed), timeout=30_000)
    assert any(f.check == "contrast" for f in proof.model.proof.open), "white on a light plate"
    window = proof.window()
    window.undo()
    qtbot.waitUntil(
        lambda: proof.model.of is session.template and not any(f.check == "contrast" for f in proof.model.proof.open), timeout=120_000
    )
    qtbot.waitUntil(lambda: painted(*designed) > 2_000 and painted(*light) < 100, timeout=30_000)
