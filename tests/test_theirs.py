"""Two people and one file: what somebody else has written is never written over unasked, and nothing of one's own is lost."""

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest
from conftest import DEMO
from hands import settle
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QApplication, QFileDialog, QLabel, QMessageBox, QPushButton

from avlet.desktop.dialogs.theirs_dialog import TheirsDialog
from avlet.desktop.window.shell import BENCHES, ROSTER
from avlet.desktop.window.window import Window
from avlet.document.cut import change_titles
from avlet.document.editing.differences import of_cuts, of_rows, of_templates
from avlet.document.editing.edits import replace, set_property
from avlet.media.timeline import read_cut, write_cut
from avlet.storage.contents import GONE, content_of
from avlet.storage.open_files import OpenFiles
from avlet.storage.package import open_template, save_template
from avlet.storage.recovery import lost_work

WAITS = 5_000


@pytest.fixture
def work(window, tmp_path):
    """A working file that is open in the window: a copy of the name strap."""
    path = tmp_path / "work" / "mine.avlet"
    path.parent.mkdir()
    opened = open_template(DEMO / "side-rule.avlet")
    save_template(opened.template, path, opened.book)
    assert window.files.open_path(path)
    return path


def they_save(path, **changes):
    """Somebody else opens the file, changes it and saves it."""
    opened = open_template(path)
    save_template(replace(opened.template, **changes), path, opened.book)


def answering(words, seen):
    """Answers the question that comes up by pressing one of its buttons."""

    def press():
        box = next((w for w in QApplication.topLevelWidgets() if isinstance(w, TheirsDialog) and w.isVisible()), None)
        if box is None:
            QTimer.singleShot(30, press)
            return
        seen.append(
            (
                " ".join(label.text() for label in box.findChildren(QLabel)),
                sum(not label.pixmap().isNull() for label in box.findChildren(QLabel)),
            )
        )
        button = next(b for b in box.findChildren(QPushButton) if b.text() == words)
        button.click()

    QTimer.singleShot(30, press)


def name_in(path):
    return open_template(path).template.name


# Templates


def test_a_changed_file_is_taken_in_while_nothing_is_unsaved_and_undo_brings_ones_own_back(window, work, qtbot):
    before = window.session.template
    they_save(work, name="Theirs")
    qtbot.waitUntil(lambda: window.session.template.name == "Theirs", timeout=WAITS)
    assert "was changed outside and was read again" in window.message.text() and not window.session.unsaved
    window.undo()
    assert window.session.template == before and window.session.has_work


def test_what_is_unsaved_stays_and_it_is_told(window, work, qtbot):
    window.session.edit("Name", lambda t: replace(t, name="Mine"))
    they_save(work, name="Theirs")
    qtbot.waitUntil(lambda: "was changed by somebody else. What is here stays" in window.message.text(), timeout=WAITS)
    assert window.session.template.name == "Mine" and name_in(work) == "Theirs"


def test_saving_over_theirs_shows_both_and_asks(window, work, tmp_path, monkeypatch, key):
    own, seen = tmp_path / "work" / "other.avlet", []
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(own), ""))
    window.session.edit("Name", lambda t: replace(t, name="Mine", length=t.length + 5))
    for number, (words, in_file, here) in enumerate(
        [
            ("Cancel", "Theirs 0", "Mine"),
            ("Keep mine as another file…", "Theirs 1", "Mine"),
            ("Take theirs", "Theirs 2", "Theirs 2"),
            ("Write over theirs", "Mine", "Mine"),
        ]
    ):
        they_save(work, name=f"Theirs {number}")
        answering(words, seen)
        window.activateWindow()
        key(Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
        assert len(seen) == number + 1 and name_in(work) == in_file and window.session.template.name == here, words
        if words.startswith("Keep"):
            assert name_in(own) == "Mine" and window.session.path == own and not window.session.unsaved
            assert window.files.open_path(work)
            window.session.edit("Name", lambda t: replace(t, name="Mine"))
        if words.startswith("Take"):
            assert not window.session.unsaved
            window.undo()
            assert window.session.template.name == "Mine", "one's own is an undo away"
    told, pictures = seen[0]
    assert (
        "“mine.avlet” was changed by somebody else" in told
        and "the name differs" in told
        and "the length differs" in told
        and pictures == 2
    )
    assert window.files.save() and len(seen) == 4, "what was written last is one's own"


def test_an_own_save_is_nobody_elses(window, work, key, qtbot):
    for number in range(3):
        window.session.edit("Name", lambda t, n=number: replace(t, name=f"Mine {n}"))
        key(Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
        assert name_in(work) == f"Mine {number}" and not window.session.unsaved
    qtbot.wait(600)
    assert "changed" not in window.message.text()


def test_the_same_content_is_no_change_whatever_its_time(window, work, qtbot):
    window.say("quiet")
    data = work.read_bytes()
    work.unlink()
    work.write_bytes(data)
    qtbot.wait(700)
    assert window.message.text() == "quiet"


def test_a_damaged_file_is_told_and_what_is_here_stays(window, work, qtbot):
    before = window.session.template
    work.write_bytes(b"no zip")
    qtbot.waitUntil(lambda: "cannot be read now" in window.message.text(), timeout=WAITS)
    assert window.session.template == before
    seen = []
    window.session.edit("Name", lambda t: replace(t, name="Mine"))
    answering("Write over theirs", seen)
    assert window.files.save() and name_in(work) == "Mine" and "Theirs cannot be opened" in seen[0][0]


def test_a_file_that_is_gone_is_told_and_saved_again(window, work, qtbot):
    work.unlink()
    qtbot.waitUntil(lambda: "is not where it was any more" in window.message.text(), timeout=WAITS)
    window.session.edit("Name", lambda t: replace(t, name="Mine"))
    assert window.files.save() and name_in(work) == "Mine"


def test_a_folder_package_is_followed_as_well(window, work, tmp_path, qtbot):
    folder = tmp_path / "work" / "tree.avlet"
    folder.mkdir()
    opened = open_template(work)
    save_template(opened.template, folder, opened.book)
    assert window.files.open_path(folder)
    they_save(folder, name="Theirs")
    qtbot.waitUntil(lambda: window.session.template.name == "Theirs", timeout=WAITS)
    (folder / ".git").mkdir()
    (folder / ".git" / "index").write_text("x")
    window.say("quiet")
    qtbot.wait(600)
    assert window.message.text() == "quiet", "hidden files are none of it"


@pytest.mark.parametrize(("answer", "made", "elsewhere"), [("Yes", True, False), ("No", False, True), ("Cancel", False, False)])
def test_a_folder_that_vanished_is_asked_about(window, work, tmp_path, monkeypatch, answer, made, elsewhere):
    asked = []
    monkeypatch.setattr(
        QMessageBox, "question", lambda p, title, words, *a: asked.append(words) or getattr(QMessageBox.StandardButton, answer)
    )
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "b.avlet"), ""))
    window.session.edit("Name", lambda t: replace(t, name="Mine"))
    shutil.rmtree(work.parent)
    assert window.files.save() == (made or elsewhere)
    assert len(asked) == 1 and "is not there any more" in asked[0] and str(work.parent) in asked[0]
    assert work.exists() == made and (tmp_path / "b.avlet").exists() == elsewhere
    assert window.session.unsaved == (answer == "Cancel")


@pytest.mark.parametrize("answer", ["Yes", "No", "Cancel"])
def test_a_library_that_vanished_is_asked_about_before_handing_over(window, demo, tmp_path, monkeypatch, answer):
    asked = []
    monkeypatch.setattr(
        QMessageBox, "question", lambda p, title, words, *a: asked.append(words) or getattr(QMessageBox.StandardButton, answer)
    )
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *a, **k: str(tmp_path / "elsewhere"))
    library = tmp_path / "library"
    first = window.files.hand_over_to(library)
    assert first is not None and not asked, "a new library is made"
    shutil.rmtree(library)
    again = window.files.hand_over_to(library)
    assert len(asked) == 1 and (again is not None) == (answer == "Yes") and library.exists() == (answer == "Yes")
    assert (tmp_path / "elsewhere").exists() == (answer == "No")


# Cuts and tables


def test_a_cut_that_somebody_else_wrote_is_taken_in_or_asked_about(window, demo, qtbot):
    path, session = window.cut_session.path, window.cut_session
    window.show_desk()

    def they(words):
        write_cut(change_titles(read_cut(path), ["odalys"], answers={"name": words}), path)

    they("Theirs")
    qtbot.waitUntil(lambda: session.cut.title("odalys").answers["name"] == "Theirs", timeout=WAITS)
    session.edit("x", lambda cut: change_titles(cut, ["odalys"], answers={"name": "Mine"}))
    they("Theirs again")
    seen = []
    answering("Take theirs", seen)
    assert window.files.save_cut() and session.cut.title("odalys").answers["name"] == "Theirs again"
    assert "the title “Mine” differs" in seen[0][0] and "titles," in seen[0][0]
    window.undo()
    assert session.cut.title("odalys").answers["name"] == "Mine"
    answering("Write over theirs", seen)
    they("Third")
    assert window.files.save_cut() and read_cut(path).title("odalys").answers["name"] == "Mine"


@pytest.mark.parametrize(("words", "in_file"), [("Write over theirs", "Ann Li"), ("Take theirs", "Theirs"), ("Cancel", "Theirs")])
def test_a_table_that_somebody_else_wrote_is_asked_about(window, tmp_path, words, in_file):
    path = tmp_path / "t.csv"
    path.write_text("Name,Role\nBo,x\nIda,y\n")
    window.show_bench(BENCHES.index(ROSTER))
    session = window.roster_session
    assert session.open_table(path)
    session.watch(None)  # a shared folder that tells of nothing
    session.put_cell(0, 0, "Ann Li")
    path.write_text("Name,Role\nTheirs,x\nIda,y\n")
    seen = []
    answering(words, seen)
    assert window.files.save() == (words != "Cancel")
    assert path.read_text().splitlines()[1].split(",")[0] == in_file
    assert "row 2: “Ann Li” here, “Theirs” in the file" in seen[0][0]
    assert session.roster.sheet.lines[0].cells[0] == {"Take theirs": "Theirs"}.get(words, "Ann Li")
    assert session.has_work == (words == "Cancel")


# Recovered work, and the same file twice


def test_work_that_was_found_again_knows_whether_its_file_has_changed_since(window, work, tmp_path, qtbot, dressed, monkeypatch):
    window.session.edit("Name", lambda t: replace(t, name="Mine"))
    window.keep_unsaved()
    kept = window.recovery.file.read_text().replace(f'"process":{os.getpid()}', f'"process":{_nobody()}')
    state = tmp_path / "other"
    (state / "recovery").mkdir(parents=True)
    (state / "recovery" / "a.json").write_text(kept)
    they_save(work, name="Theirs")
    monkeypatch.setattr(QMessageBox, "question", lambda *a, **k: QMessageBox.StandardButton.Open)
    (lost,) = lost_work(state / "recovery")
    assert lost.content and lost.content != content_of(work)
    made = Window(tmp_path / "library", state)
    qtbot.addWidget(made, before_close_func=lambda w: w.session.mark_saved(tmp_path / "x"))
    made.files.lost.offer()
    assert made.session.template.name == "Mine" and made.session.path == work
    seen = []
    answering("Cancel", seen)
    assert not made.files.save() and name_in(work) == "Theirs" and len(seen) == 1


def _nobody():
    done = subprocess.Popen([sys.executable, "-c", ""])
    done.wait()
    return done.pid


def test_the_same_file_in_two_windows_is_told_at_once(window, work, tmp_path):
    words = f"""
from pathlib import Path
from avlet.storage.open_files import OpenFiles
files = OpenFiles(Path({str(window.state / "open")!r}))
print(len(files.are([Path({str(work)!r})])), flush=True)
input()
"""
    other = subprocess.Popen(
        [sys.executable, "-c", words],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
        env={**os.environ, "PYTHONPATH": str(DEMO.parent)},
    )
    try:
        assert other.stdout.readline() == "1\n", "the other one is told that it is open here"
        window.files.open_path(DEMO / "side-rule.avlet")
        window.say("quiet")
        link = work.with_name("link.avlet")
        link.symlink_to(work)
        window.files.open_path(link)
        assert "“link.avlet” is open in another window of Avlet as well" in window.message.text()
        window.say("quiet")
        window.session.changed.emit()
        assert window.message.text() == "quiet", "told once"
    finally:
        other.communicate("\n")
    other = OpenFiles(window.state / "open")
    assert other.are([Path("/nowhere/a")]) == [] and len(list((window.state / "open").glob("*.json"))) == 2, "who is gone is forgotten"
    window.close()
    settle()
    assert list((window.state / "open").glob("*.json")) == [other.file]


# Contents and differences


def test_contents_are_told_by_what_is_in_a_file_or_a_folder(tmp_path):
    one, two = tmp_path / "one", tmp_path / "two"
    for folder in (one, two):
        (folder / "fonts").mkdir(parents=True)
        (folder / "template.json").write_text("{}")
        (folder / "fonts" / "a.ttf").write_bytes(b"a")
    assert content_of(one) == content_of(two) != GONE
    (two / ".hidden").write_text("x")
    assert content_of(one) == content_of(two)
    (two / "fonts" / "a.ttf").rename(two / "fonts" / "b.ttf")
    assert content_of(one) != content_of(two)
    assert content_of(tmp_path / "none") == GONE == content_of(Path("\0")) == content_of(Path("/dev/null"))
    (tmp_path / "f").write_bytes(b"abc")
    # FIPS 180-4: the example of one block.
    assert content_of(tmp_path / "f") == "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad"


def test_differences_name_what_differs():
    template = open_template(DEMO / "name-strap.avlet").template
    assert of_templates(template, template) == []
    part = template.parts[0]
    other = set_property(template, f"{part.id}/opacity", 50.0)
    assert of_templates(template, other) == [f"the part “{part.name}” differs"]
    fewer = replace(template, samples=template.samples[1:], way_in=template.way_in + 1)
    said = of_templates(template, fewer)
    assert f"the sample “{template.samples[0].name}” is only in yours" in said and "the way in differs" in said
    assert f"the sample “{template.samples[0].name}” is only in theirs" in of_templates(fewer, template)
    turned = replace(template, parts=(*template.parts[:-2], template.parts[-1], template.parts[-2]))
    assert of_templates(template, turned) == ["the order of parts differs"]
    cut = read_cut(DEMO / "the-long-tide.otio")
    assert of_cuts(cut, change_titles(cut, ["odalys"], answers={"name": "Bo"})) == ["the title “Odalys Brandt” differs"]
    assert of_rows([("a", "b")], [("a", "c")]) == ["row 1: “b” here, “c” in the file"]
    assert of_rows([("a",)] * 3, [("a",)]) == ["3 rows here, 1 in the file"] and of_rows([("a",)], [("a", "b")]) == [
        "row 1: another number of cells"
    ]
    assert of_rows([(str(n),) for n in range(20)], [("x",)] * 20)[-1] == "and 13 more" and len(of_rows([("a",)] * 20, [("b",)] * 20)) == 8
